/* What painting asks: faces in space, parted by each other's planes. Arrays are taken as they lie. */
#include <string.h>

#include "asked.h"
#include "depth.h"

/* Numbers as a list. */
static PyObject *listed(const int *numbers, int size) {
    PyObject *found = PyList_New(size);
    for (int i = 0; found != NULL && i < size; i++) {
        PyObject *number = PyLong_FromLong(numbers[i]);
        if (number == NULL)
            Py_CLEAR(found);
        else
            PyList_SET_ITEM(found, i, number);
    }
    return found;
}

/* The faces given, as they are to be parted. */
static int faced(Parted *parted, Taken points, PyObject *counts, PyObject *outlined) {
    const char *real;
    Py_ssize_t at = 0;
    if (!counted(outlined, points.rows, &real) || real == NULL) return 0;
    parted->room = (int)PyList_GET_SIZE(counts) * 2 + 2;
    parted->face = calloc((size_t)parted->room, sizeof(Facet));
    if (parted->face == NULL) return 0;
    for (Py_ssize_t i = 0; i < PyList_GET_SIZE(counts); i++) {
        Py_ssize_t corners = PyLong_AsSsize_t(PyList_GET_ITEM(counts, i));
        if (corners < 1 || at + corners > points.rows) return 0;
        Facet *face = &parted->face[parted->faces++];
        *face = (Facet){malloc(sizeof(double) * 3 * (size_t)corners), malloc((size_t)corners), (int)corners, (int)i};
        if (face->points == NULL || face->outlined == NULL) return 0;
        memcpy(face->points, points.at + 3 * at, sizeof(double) * 3 * (size_t)corners);
        memcpy(face->outlined, real + at, (size_t)corners);
        at += corners;
    }
    return at == points.rows;
}

static PyObject *depth(PyObject *self, PyObject *args) {
    PyObject *points, *counts, *normals, *outlined, *pieces = NULL, *nodes = NULL;
    double near;
    Taken in[2] = {{NULL, 0}, {NULL, 0}};
    Parted parted = {NULL, 0, 0, NULL, 0, 0};
    int good = 0;
    (void)self;
    if (!PyArg_ParseTuple(args, "OO!OOd", &points, &PyList_Type, &counts, &normals, &outlined, &near)) return NULL;
    if (!taken(points, 3, &in[0]) || !taken(normals, 3, &in[1])) goto done;
    const int given = (int)PyList_GET_SIZE(counts);
    if (in[1].rows != given || !faced(&parted, in[0], counts, outlined)) {
        if (!PyErr_Occurred()) PyErr_SetString(PyExc_ValueError, "wanted the corners of every face, one after the other, and its normal");
        goto done;
    }
    if (!part_faces(&parted, in[1].at, near)) {
        PyErr_NoMemory();
        goto done;
    }
    pieces = PyList_New(0);
    nodes = PyList_New(0);
    good = pieces != NULL && nodes != NULL;
    for (int i = given; good && i < parted.faces; i++) {
        const Facet *face = &parted.face[i];
        PyObject *piece = Py_BuildValue("(iy#y#)", face->source, (const char *)face->points, (Py_ssize_t)(sizeof(double) * 3 * (size_t)face->corners),
                                        face->outlined, (Py_ssize_t)face->corners);
        good = piece != NULL && PyList_Append(pieces, piece) == 0;
        Py_XDECREF(piece);
    }
    for (int i = 0; good && i < parted.nodes; i++) {
        const Node *node = &parted.node[i];
        PyObject *level = listed(node->level.at, node->level.size);
        PyObject *each = level == NULL ? NULL : Py_BuildValue("(Nii)", level, node->next[0], node->next[1]);
        good = each != NULL && PyList_Append(nodes, each) == 0;
        Py_XDECREF(each);
    }
done:
    forget_parted(&parted);
    dropped(in, 2);
    PyObject *found = good ? Py_BuildValue("(OO)", pieces, nodes) : NULL;
    Py_XDECREF(pieces);
    Py_XDECREF(nodes);
    return found;
}

static PyMethodDef methods[] = {
    {"depth", depth, METH_VARARGS, "depth(points, counts, normals, outlined, near) -> (pieces, nodes)"},
    {NULL, NULL, 0, NULL},
};

static struct PyModuleDef definition = {PyModuleDef_HEAD_INIT, "_depth", "Depth order, compiled.", -1, methods, NULL, NULL, NULL, NULL};

PyMODINIT_FUNC PyInit__depth(void) { return PyModule_Create(&definition); }
