/* What every question from Python begins and ends with: arrays are taken as they lie, answers are plain numbers. */
#ifndef ASKED_H
#define ASKED_H

#define PY_SSIZE_T_CLEAN
#include <Python.h>

#include "geometry.h"

/* Numbers of an array copied out, row by row; `at` is freed by dropped(). */
typedef struct {
    double *at;
    Py_ssize_t rows;
} Taken;

int taken(PyObject *array, Py_ssize_t columns, Taken *into);
void dropped(Taken *taken, int count);
int counted(PyObject *given, Py_ssize_t wanted, const char **sides);
PyObject *said(Touch touch);

static inline Ring ring_of(Taken taken) { return (Ring){(Point *)taken.at, taken.rows}; }

/* ways.c: questions about pieces on their way past tools. */
extern PyMethodDef way_methods[];

#endif
