/* What Python asks: arrays are taken as they lie, answers are plain numbers. */
#include "asked.h"

static PyObject *hull(PyObject *self, PyObject *args) {
    PyObject *points, *into;
    Taken in = {NULL, 0};
    Py_buffer out;
    (void)self;
    if (!PyArg_ParseTuple(args, "OO", &points, &into) || !taken(points, 2, &in)) return NULL;
    if (PyObject_GetBuffer(into, &out, PyBUF_CONTIG) < 0) {
        dropped(&in, 1);
        return NULL;
    }
    Py_ssize_t size = -1;
    if (out.len < (Py_ssize_t)sizeof(Point) * 2 * in.rows)
        PyErr_SetString(PyExc_ValueError, "no room for the hull");
    else if ((size = hull_of((Point *)in.at, in.rows, out.buf)) < 0)
        PyErr_NoMemory();
    PyBuffer_Release(&out);
    dropped(&in, 1);
    return size < 0 ? NULL : PyLong_FromSsize_t(size);
}

static PyObject *meets(PyObject *self, PyObject *args) {
    PyObject *one, *other;
    Taken in[2] = {{NULL, 0}, {NULL, 0}};
    (void)self;
    if (!PyArg_ParseTuple(args, "OO", &one, &other)) return NULL;
    if (!taken(one, 2, &in[0]) || !taken(other, 2, &in[1])) {
        dropped(in, 2);
        return NULL;
    }
    int met = rings_meet(ring_of(in[0]), ring_of(in[1]));
    dropped(in, 2);
    return PyBool_FromLong(met);
}

static PyObject *touches(PyObject *self, PyObject *args) {
    PyObject *outlines, *resting, *about, *back_about, *sides, *corners;
    double limit;
    int backwards, back_backwards;
    Taken in[4] = {{NULL, 0}, {NULL, 0}, {NULL, 0}, {NULL, 0}};
    PyObject *found = NULL;
    const char *side_counts, *corner_counts;
    (void)self;
    if (!PyArg_ParseTuple(args, "O!Od(OO)(pp)(OO)", &PyList_Type, &outlines, &resting, &limit, &about, &back_about, &backwards,
                          &back_backwards, &sides, &corners))
        return NULL;
    if (!taken(resting, 2, &in[0]) || !taken(about, 2, &in[1]) || !taken(back_about, 2, &in[2])) goto done;
    if (!counted(sides, in[0].rows, &side_counts) || !counted(corners, in[0].rows, &corner_counts)) goto done;
    if (in[2].rows != 1 && in[2].rows != in[0].rows) {
        PyErr_SetString(PyExc_ValueError, "wanted one pole, or one for each resting corner");
        goto done;
    }
    found = PyList_New(0);
    Py_ssize_t before = 0;
    for (Py_ssize_t k = 0; found != NULL && k < PyList_GET_SIZE(outlines); k++) {
        Touch touch;
        PyObject *each = NULL;
        PyMem_Free(in[3].at);
        in[3].at = NULL;
        if (!taken(PyList_GET_ITEM(outlines, k), 2, &in[3])) {
            Py_CLEAR(found);
            break;
        }
        if (in[1].rows != 1 && in[1].rows < before + in[3].rows) {
            PyErr_SetString(PyExc_ValueError, "wanted one pole, or one for each moving corner");
            Py_CLEAR(found);
            break;
        }
        Poles own = {(Point *)in[1].at + (in[1].rows == 1 ? 0 : before), in[1].rows == 1 ? 1 : in[3].rows};
        Poles back = {(Point *)in[2].at, in[2].rows};
        if (first_touch(ring_of(in[3]), ring_of(in[0]), limit, own, back, backwards, back_backwards, side_counts, corner_counts, &touch))
            each = said(touch);
        else
            each = Py_NewRef(Py_None);
        if (each == NULL || PyList_Append(found, each) < 0) Py_CLEAR(found);
        Py_XDECREF(each);
        before += in[3].rows;
    }
done:
    dropped(in, 4);
    return found;
}

static PyObject *advances(PyObject *self, PyObject *args) {
    PyObject *outlines, *turns, *resting;
    Rise rise;
    double begin, limit, settled, widest;
    Py_ssize_t parts;
    Taken in[3] = {{NULL, 0}, {NULL, 0}, {NULL, 0}};
    PyObject *found = NULL;
    (void)self;
    if (!PyArg_ParseTuple(args, "O!OO(ddddd)(dd)(ddn)", &PyList_Type, &outlines, &turns, &resting, &rise.half, &rise.whole, &rise.radius,
                          &rise.drop, &rise.pole, &begin, &limit, &settled, &widest, &parts))
        return NULL;
    if (!taken(turns, 4, &in[0]) || !taken(resting, 2, &in[1])) goto done;
    if (in[0].rows != PyList_GET_SIZE(outlines) || parts < 2) {
        PyErr_SetString(PyExc_ValueError, "wanted a turn for each outline");
        goto done;
    }
    found = PyList_New(0);
    for (Py_ssize_t k = 0; found != NULL && k < PyList_GET_SIZE(outlines); k++) {
        Touch touch;
        PyObject *each = NULL;
        const double *turn = in[0].at + 4 * k;
        PyMem_Free(in[2].at);
        in[2].at = NULL;
        if (!taken(PyList_GET_ITEM(outlines, k), 2, &in[2])) {
            Py_CLEAR(found);
            break;
        }
        int met = first_advance(ring_of(in[2]), (Turn){{turn[0], turn[1]}, turn[2], turn[3]}, ring_of(in[1]), rise, begin, limit, settled,
                                widest, parts, &touch);
        if (met < 0)
            PyErr_NoMemory();
        else
            each = met ? said(touch) : Py_NewRef(Py_None);
        if (each == NULL || PyList_Append(found, each) < 0) Py_CLEAR(found);
        Py_XDECREF(each);
    }
done:
    dropped(in, 3);
    return found;
}

static PyObject *within(PyObject *self, PyObject *args) {
    PyObject *corners, *into;
    double low, high, from, to;
    Taken in = {NULL, 0};
    Py_buffer out;
    (void)self;
    if (!PyArg_ParseTuple(args, "OddddO", &corners, &low, &high, &from, &to, &into) || !taken(corners, 3, &in)) return NULL;
    if (PyObject_GetBuffer(into, &out, PyBUF_CONTIG) < 0) {
        dropped(&in, 1);
        return NULL;
    }
    Py_ssize_t size = -1;
    if (in.rows < 6 || in.rows % 2 || out.len < (Py_ssize_t)sizeof(Point) * 4 * in.rows)
        PyErr_SetString(PyExc_ValueError, "wanted 2k corners, and room for the points");
    else
        size = points_within((Prism){(Vector *)in.at, in.rows / 2, NULL, NULL}, low, high, from, to, out.buf);
    PyBuffer_Release(&out);
    dropped(&in, 1);
    return size < 0 ? NULL : PyLong_FromSsize_t(size);
}

static PyObject *distance(PyObject *self, PyObject *args) {
    PyObject *outline;
    Point at;
    Taken in = {NULL, 0};
    (void)self;
    if (!PyArg_ParseTuple(args, "O(dd)", &outline, &at.y, &at.z) || !taken(outline, 2, &in)) return NULL;
    double found = ring_distance(ring_of(in), at);
    dropped(&in, 1);
    return PyFloat_FromDouble(found);
}

/* Least and greatest distance of an outline from a point, and first and last direction from the front backwards, counted from `below` it. */
static PyObject *ring(PyObject *self, PyObject *args) {
    PyObject *outline;
    Point pole;
    double below;
    Taken in = {NULL, 0};
    (void)self;
    if (!PyArg_ParseTuple(args, "O(dd)d", &outline, &pole.y, &pole.z, &below) || !taken(outline, 2, &in)) return NULL;
    double far = 0.0, low = HUGE_VAL, high = -HUGE_VAL;
    for (Py_ssize_t k = 0; k < in.rows; k++) {
        Point arm = point_less(ring_of(in).at[k], pole);
        double turn = fmod(atan2(arm.z, -arm.y) + below, TWO_PI);
        if (turn < 0) turn += TWO_PI;
        far = greater(far, point_size(arm)), low = lesser(low, turn), high = greater(high, turn);
    }
    double least = ring_distance(ring_of(in), pole);
    dropped(&in, 1);
    return Py_BuildValue("(dddd)", least, far, low, high);
}

/* Lowest and highest corner of a prism, and whether it is the same all along x. */
static PyObject *extent(PyObject *self, PyObject *corners) {
    Taken in = {NULL, 0};
    (void)self;
    if (!taken(corners, 3, &in)) return NULL;
    const Vector *at = (Vector *)in.at;
    Vector low = {HUGE_VAL, HUGE_VAL, HUGE_VAL}, high = {-HUGE_VAL, -HUGE_VAL, -HUGE_VAL};
    for (Py_ssize_t k = 0; k < in.rows; k++) {
        low = (Vector){lesser(low.x, at[k].x), lesser(low.y, at[k].y), lesser(low.z, at[k].z)};
        high = (Vector){greater(high.x, at[k].x), greater(high.y, at[k].y), greater(high.z, at[k].z)};
    }
    int uniform = same_along(at, in.rows, low.x, high.x);
    dropped(&in, 1);
    return Py_BuildValue("((ddd)(ddd)O)", low.x, low.y, low.z, high.x, high.y, high.z, uniform ? Py_True : Py_False);
}

static PyObject *apart(PyObject *self, PyObject *args) {
    PyObject *corners, *sides, *counted_corners, *counted_sides;
    Point pole;
    double limit;
    int backwards;
    Taken in[2] = {{NULL, 0}, {NULL, 0}};
    const char *corner_counts, *side_counts;
    PyObject *found = NULL;
    (void)self;
    if (!PyArg_ParseTuple(args, "O(dd)Odp(OO)", &corners, &pole.y, &pole.z, &sides, &limit, &backwards, &counted_corners, &counted_sides))
        return NULL;
    if (taken(corners, 2, &in[0]) && taken(sides, 2, &in[1]) && counted(counted_corners, in[0].rows, &corner_counts) &&
        counted(counted_sides, in[1].rows, &side_counts))
        found = PyFloat_FromDouble(least_apart(ring_of(in[0]), pole, ring_of(in[1]), limit, backwards, corner_counts, side_counts));
    dropped(in, 2);
    return found;
}

/* A prism of three arrays: corners, normals, offsets. */
static int prism(PyObject *corners, PyObject *normals, PyObject *offsets, Taken *in, Prism *into) {
    if (!taken(corners, 3, &in[0]) || !taken(normals, 3, &in[1]) || !taken(offsets, 1, &in[2])) return 0;
    if (in[0].rows < 6 || in[0].rows % 2 || in[1].rows != in[0].rows / 2 + 2 || in[2].rows != in[1].rows) {
        PyErr_SetString(PyExc_ValueError, "wanted 2k corners and k + 2 faces");
        return 0;
    }
    *into = (Prism){(Vector *)in[0].at, in[0].rows / 2, (Vector *)in[1].at, in[2].at};
    return 1;
}

static PyObject *meeting(PyObject *self, PyObject *args) {
    PyObject *one[3], *other[3];
    Vector about = {0, 0, 0};
    double start, limit;
    Taken in[6] = {{NULL, 0}, {NULL, 0}, {NULL, 0}, {NULL, 0}, {NULL, 0}, {NULL, 0}};
    Prism moving, resting;
    Touch touch;
    PyObject *found = NULL;
    (void)self;
    if (!PyArg_ParseTuple(args, "(OOO)(OOO)(dd)dd", &one[0], &one[1], &one[2], &other[0], &other[1], &other[2], &about.y, &about.z, &start,
                          &limit))
        return NULL;
    if (prism(one[0], one[1], one[2], &in[0], &moving) && prism(other[0], other[1], other[2], &in[3], &resting))
        found = first_meeting(moving, resting, about, start, limit, &touch) ? said(touch) : Py_NewRef(Py_None);
    dropped(in, 6);
    return found;
}

static PyObject *reach(PyObject *self, PyObject *args) {
    PyObject *solid[3], *corners, *normals, *offsets;
    Point by;
    Taken in[6] = {{NULL, 0}, {NULL, 0}, {NULL, 0}, {NULL, 0}, {NULL, 0}, {NULL, 0}};
    Prism stood;
    PyObject *found = NULL;
    (void)self;
    if (!PyArg_ParseTuple(args, "(OOO)(OOO)(dd)", &solid[0], &solid[1], &solid[2], &corners, &normals, &offsets, &by.y, &by.z)) return NULL;
    if (!prism(solid[0], solid[1], solid[2], &in[0], &stood)) goto done;
    if (!taken(corners, 2, &in[3]) || !taken(normals, 2, &in[4]) || !taken(offsets, 1, &in[5])) goto done;
    if (in[4].rows != in[3].rows || in[5].rows != in[3].rows) {
        PyErr_SetString(PyExc_ValueError, "wanted a normal and an offset for each side");
        goto done;
    }
    double low, high;
    if (reached_along(stood, ring_of(in[3]), (Point *)in[4].at, in[5].at, by, &low, &high))
        found = Py_BuildValue("(dd)", low, high);
    else
        found = Py_NewRef(Py_None);
done:
    dropped(in, 6);
    return found;
}

static PyMethodDef methods[] = {
    {"hull", hull, METH_VARARGS, "hull(points, into) -> corners of the hull, the first rows of into"},
    {"meets", meets, METH_VARARGS, "meets(convex, outline) -> True when they share anything"},
    {"touches", touches, METH_VARARGS, "touches(outlines, resting, limit, (about, back), (backwards, back), (sides, corners))"},
    {"advances", advances, METH_VARARGS, "advances(outlines, turns, resting, rise, (begin, limit), (settled, widest, parts))"},
    {"within", within, METH_VARARGS, "within(corners, low, high, from, to, into) -> how many points, the first rows of into"},
    {"distance", distance, METH_VARARGS, "distance(outline, point) -> mm, 0 inside"},
    {"ring", ring, METH_VARARGS, "ring(outline, pole, below) -> least and greatest distance, first and last direction"},
    {"extent", extent, METH_O, "extent(corners) -> lowest, highest, the same all along x"},
    {"apart", apart, METH_VARARGS, "apart(corners, pole, sides, limit, backwards, (counted corners, counted sides)) -> mm"},
    {"meeting", meeting, METH_VARARGS, "meeting(moving, resting, about, start, limit) -> touch or None"},
    {"reach", reach, METH_VARARGS, "reach(solid, room, by) -> (low, high) or None"},
    {NULL, NULL, 0, NULL},
};

static struct PyModuleDef definition = {PyModuleDef_HEAD_INIT, "_exact", "The contact search, compiled.", -1, methods, NULL, NULL, NULL, NULL};

PyMODINIT_FUNC PyInit__exact(void) {
    PyObject *module = PyModule_Create(&definition);
    if (module != NULL && PyModule_AddFunctions(module, way_methods) < 0) Py_CLEAR(module);
    return module;
}
