/* Pieces on their way past tools: one piece, or all of a part in one question. */
#include "asked.h"
#include "passage.h"

#include <stdlib.h>

static PyObject *leg(PyObject *self, PyObject *args) {
    PyObject *points, *path, *outline;
    Taken in[3] = {{NULL, 0}, {NULL, 0}, {NULL, 0}};
    PyObject *found = NULL;
    (void)self;
    if (!PyArg_ParseTuple(args, "OOO", &points, &path, &outline)) return NULL;
    if (!taken(points, 2, &in[0]) || !taken(path, 2, &in[1]) || !taken(outline, 2, &in[2])) goto done;
    int met = in[1].rows ? first_leg(ring_of(in[0]), (Point *)in[1].at, in[1].rows - 1, ring_of(in[2])) : 0;
    found = met < 0 ? PyErr_NoMemory() : PyLong_FromLong(met);
done:
    dropped(in, 3);
    return found;
}

static PyObject *passed(PyObject *self, PyObject *args) {
    PyObject *points, *outline, *bare;
    PressWay way;
    Taken in[3] = {{NULL, 0}, {NULL, 0}, {NULL, 0}};
    PyObject *found = NULL;
    (void)self;
    if (!PyArg_ParseTuple(args, "O(OO)(ipp)(ddd)((dd)(dd))(ddddddd)", &points, &outline, &bare, &way.kind, &way.above, &way.folded, &way.half,
                          &way.sense, &way.offset, &way.pole.y, &way.pole.z, &way.middle.y, &way.middle.z, &way.opening, &way.punch,
                          &way.die, &way.lift, &way.forward, &way.eased, &way.away))
        return NULL;
    if (!taken(points, 2, &in[0]) || !taken(outline, 2, &in[1]) || !taken(bare, 2, &in[2])) goto done;
    int met = press_passage(ring_of(in[0]), ring_of(in[1]), ring_of(in[2]), way);
    found = met < 0 ? PyErr_NoMemory() : PyLong_FromLong(met);
done:
    dropped(in, 3);
    return found;
}

/* Pieces one after another: a row for each of how many points it has and how it turns. */
typedef struct {
    const Point *at;
    Py_ssize_t left, rows, wide, next;
    const double *row;
} Walk;

/* True, and the next piece, while there is one; -1 when there are fewer points than the rows say. */
static int walk(Walk *w, Ring *piece, const double **row) {
    if (w->next == w->rows) return 0;
    *row = w->row + w->wide * w->next++;
    const Py_ssize_t size = (Py_ssize_t)(*row)[0];
    if (size < 0 || size > w->left) {
        PyErr_SetString(PyExc_ValueError, "wanted as many points as the rows say");
        return -1;
    }
    *piece = (Ring){(Point *)w->at, size};
    w->at += size, w->left -= size;
    return 1;
}

static Py_ssize_t largest(Walk w) {
    Ring piece;
    const double *row;
    Py_ssize_t most = 0;
    int more;
    while ((more = walk(&w, &piece, &row)) > 0)
        if (piece.size > most) most = piece.size;
    return more < 0 ? -1 : most;
}

/* Rows of (points, pole y, pole z, swings, folded): a piece that swings stands at an angle. */
enum { POLE_Y = 1, POLE_Z, SWINGS, FOLDED, NOSE_ROW };

static Ring standing(Ring piece, const double *row, double angle, Point *into) {
    if (!row[SWINGS] || angle == 0.0) return piece;
    const double c = cos(angle), s = sin(angle);
    for (ptrdiff_t k = 0; k < piece.size; k++) into[k] = point_turned(piece.at[k], (Point){row[POLE_Y], row[POLE_Z]}, c, s);
    return (Ring){into, piece.size};
}

static PyObject *legs(PyObject *self, PyObject *args) {
    PyObject *points, *rows, *path, *outline, *bare, *found = NULL;
    double angle;
    NoseWay way;
    Taken in[5] = {{NULL, 0}, {NULL, 0}, {NULL, 0}, {NULL, 0}, {NULL, 0}};
    Point *room = NULL;
    (void)self;
    if (!PyArg_ParseTuple(args, "OOdO(OO)(d(dd))", &points, &rows, &angle, &path, &outline, &bare, &way.tip, &way.about.y, &way.about.z))
        return NULL;
    if (!taken(points, 2, &in[0]) || !taken(rows, NOSE_ROW, &in[1]) || !taken(path, 2, &in[2]) || !taken(outline, 2, &in[3]) ||
        !taken(bare, 2, &in[4]))
        goto done;
    if (in[2].rows < (way.tip ? 4 : 1)) {
        PyErr_SetString(PyExc_ValueError, "wanted where the way begins and its legs");
        goto done;
    }
    way.path = (Point *)in[2].at, way.legs = in[2].rows - 1;
    Walk w = {(Point *)in[0].at, in[0].rows, in[1].rows, NOSE_ROW, 0, in[1].at};
    const Py_ssize_t most = largest(w);
    if (most < 0) goto done;
    room = malloc(sizeof(Point) * (size_t)(most + 1));
    found = room == NULL ? PyErr_NoMemory() : PyBytes_FromStringAndSize(NULL, in[1].rows);
    if (found == NULL) goto done;
    Ring piece;
    const double *row;
    while (walk(&w, &piece, &row) > 0) {
        int leg = 0;
        if (piece.size >= 3)
            leg = nose_passage(standing(piece, row, angle, room), ring_of(in[3]), ring_of(in[row[FOLDED] ? 4 : 3]), way);
        if (leg < 0) {
            Py_CLEAR(found);
            PyErr_NoMemory();
            goto done;
        }
        PyBytes_AS_STRING(found)[w.next - 1] = (char)leg;
    }
done:
    free(room);
    dropped(in, 5);
    return found;
}

/* Rows of (points, sense, offset, pole y, pole z, folded): see PressSwing. */
enum { SENSE = 1, OFFSET, SIDE_Y, SIDE_Z, ON_DIE, PRESS_ROW };

#define MOST_TOOLS 8

static PyObject *passages(PyObject *self, PyObject *args) {
    PyObject *points, *rows, *tools, *found = NULL;
    PressWay way;
    Taken in[2 + 2 * MOST_TOOLS] = {{NULL, 0}};
    int above[MOST_TOOLS];
    (void)self;
    if (!PyArg_ParseTuple(args, "OOO!i(d(dd))(ddddddd)", &points, &rows, &PyTuple_Type, &tools, &way.kind, &way.half, &way.middle.y,
                          &way.middle.z, &way.opening, &way.punch, &way.die, &way.lift, &way.forward, &way.eased, &way.away))
        return NULL;
    const Py_ssize_t many = PyTuple_GET_SIZE(tools);
    if (many > MOST_TOOLS) {
        PyErr_SetString(PyExc_ValueError, "too many tools");
        return NULL;
    }
    if (!taken(points, 2, &in[0]) || !taken(rows, PRESS_ROW, &in[1])) goto done;
    for (Py_ssize_t t = 0; t < many; t++) {
        PyObject *outline, *bare;
        if (!PyArg_ParseTuple(PyTuple_GET_ITEM(tools, t), "OOp", &outline, &bare, &above[t])) goto done;
        if (!taken(outline, 2, &in[2 + 2 * t]) || !taken(bare, 2, &in[3 + 2 * t])) goto done;
    }
    Walk w = {(Point *)in[0].at, in[0].rows, in[1].rows, PRESS_ROW, 0, in[1].at};
    if (largest(w) < 0) goto done;
    found = PyBytes_FromStringAndSize(NULL, in[1].rows * many);
    if (found == NULL) goto done;
    char *answer = PyBytes_AS_STRING(found);
    Ring piece;
    const double *row;
    while (walk(&w, &piece, &row) > 0) {
        way.sense = row[SENSE], way.offset = row[OFFSET], way.pole = (Point){row[SIDE_Y], row[SIDE_Z]}, way.folded = row[ON_DIE] != 0.0;
        for (Py_ssize_t t = 0; t < many; t++) {
            way.above = above[t];
            const int met = piece.size < 3 ? 0 : press_passage(piece, ring_of(in[2 + 2 * t]), ring_of(in[3 + 2 * t]), way);
            if (met < 0) {
                Py_CLEAR(found);
                PyErr_NoMemory();
                goto done;
            }
            *answer++ = (char)met;
        }
    }
done:
    dropped(in, 2 + 2 * MOST_TOOLS);
    return found;
}

/* How far back and how high every piece reaches, and how low, written into rows of three. */
static PyObject *reaches(PyObject *self, PyObject *args) {
    PyObject *points, *rows, *into, *found = NULL;
    double angle;
    Taken in[2] = {{NULL, 0}, {NULL, 0}};
    Py_buffer out;
    (void)self;
    if (!PyArg_ParseTuple(args, "OOdO", &points, &rows, &angle, &into)) return NULL;
    if (!taken(points, 2, &in[0]) || !taken(rows, NOSE_ROW, &in[1]) || PyObject_GetBuffer(into, &out, PyBUF_CONTIG) < 0) goto done;
    Walk w = {(Point *)in[0].at, in[0].rows, in[1].rows, NOSE_ROW, 0, in[1].at};
    const Py_ssize_t most = largest(w);
    Point *room = most < 0 ? NULL : malloc(sizeof(Point) * (size_t)(most + 1));
    if (out.len < (Py_ssize_t)sizeof(double) * 3 * in[1].rows)
        PyErr_SetString(PyExc_ValueError, "no room for what they reach");
    else if (room == NULL && most >= 0)
        PyErr_NoMemory();
    else if (most >= 0) {
        double *at = out.buf;
        Ring piece;
        const double *row;
        for (; walk(&w, &piece, &row) > 0; at += 3) {
            Ring stood = standing(piece, row, angle, room);
            at[0] = at[1] = -HUGE_VAL, at[2] = HUGE_VAL;
            for (ptrdiff_t k = 0; k < stood.size; k++) {
                at[0] = greater(at[0], stood.at[k].y), at[1] = greater(at[1], stood.at[k].z);
                at[2] = lesser(at[2], stood.at[k].z);
            }
        }
        found = Py_NewRef(Py_None);
    }
    free(room);
    PyBuffer_Release(&out);
done:
    dropped(in, 2);
    return found;
}

PyMethodDef way_methods[] = {
    {"leg", leg, METH_VARARGS, "leg(points, path, outline) -> first leg on which they meet, 0 when on none"},
    {"legs", legs, METH_VARARGS, "legs(points, rows, angle, path, (outline, bare), (tip, about)) -> the same of every piece, a byte each"},
    {"passed", passed, METH_VARARGS, "passed(points, (outline, bare), way, ...) -> 0, 1 moving, 2 closing"},
    {"passages", passages, METH_VARARGS, "passages(points, rows, tools, way, (half, middle), moves) -> the same of every piece and tool"},
    {"reaches", reaches, METH_VARARGS, "reaches(points, rows, angle, into) -> how far back, how high and how low each goes"},
    {NULL, NULL, 0, NULL},
};
