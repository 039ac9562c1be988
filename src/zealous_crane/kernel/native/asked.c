/* Arrays of numbers taken from Python, and touches given back. */
#include "asked.h"

void dropped(Taken *taken, int count) {
    for (int k = 0; k < count; k++) PyMem_Free(taken[k].at);
}

int taken(PyObject *array, Py_ssize_t columns, Taken *into) {
    Py_buffer view;
    if (PyObject_GetBuffer(array, &view, PyBUF_STRIDED_RO | PyBUF_FORMAT) < 0) return 0;
    const Py_ssize_t wide = columns == 1 ? 1 : 2;
    if (view.format == NULL || view.format[0] != 'd' || view.format[1] != 0 || view.ndim != wide ||
        (wide == 2 && view.shape[1] != columns)) {
        PyBuffer_Release(&view);
        PyErr_Format(PyExc_TypeError, "wanted float64 in rows of %zd", columns);
        return 0;
    }
    Py_ssize_t rows = view.shape[0];
    double *at = PyMem_Malloc(sizeof(double) * (size_t)(rows * columns + 1));
    if (at == NULL) {
        PyBuffer_Release(&view);
        PyErr_NoMemory();
        return 0;
    }
    Py_ssize_t across = wide == 2 ? view.strides[1] : 0;
    for (Py_ssize_t i = 0; i < rows; i++)
        for (Py_ssize_t j = 0; j < columns; j++) at[i * columns + j] = *(const double *)((const char *)view.buf + i * view.strides[0] + j * across);
    PyBuffer_Release(&view);
    *into = (Taken){at, rows};
    return 1;
}

/* Which sides count: bytes, one a side, or None. */
int counted(PyObject *given, Py_ssize_t wanted, const char **sides) {
    *sides = NULL;
    if (given == Py_None) return 1;
    if (!PyBytes_Check(given) || PyBytes_GET_SIZE(given) != wanted) {
        PyErr_SetString(PyExc_TypeError, "wanted bytes, one for each");
        return 0;
    }
    *sides = PyBytes_AS_STRING(given);
    return 1;
}

PyObject *said(Touch touch) {
    return Py_BuildValue("(d(dd)nO)", touch.angle, touch.place.y, touch.place.z, (Py_ssize_t)touch.index, touch.corner ? Py_True : Py_False);
}
