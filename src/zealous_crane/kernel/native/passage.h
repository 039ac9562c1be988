/* See passage.c. */
#ifndef ZEALOUS_CRANE_PASSAGE_H
#define ZEALOUS_CRANE_PASSAGE_H

#include "geometry.h"

enum { MOVING = 1, CLOSING = 2 };
enum { FRONT, LIFTED, SIDE, ALONG, DRAWN };

/* A piece on its way in or out of a press: the fields of passage.py's PressPassage. */
typedef struct {
    int kind, above, folded;
    double half, sense, offset;
    Point pole, middle;
    double opening, punch, die, lift, forward, eased, away;
} PressWay;

/* A way in or out under a nose, as `legs` straight movements from where it begins. Where the part is tipped, it is tipped by an angle on
 * the last leg but one, about a point as it lies clamped; 0: not at all. */
typedef struct {
    const Point *path;
    ptrdiff_t legs;
    double tip;
    Point about;
} NoseWay;

int nose_passage(Ring points, Ring outline, Ring bare, NoseWay way);
int first_leg(Ring points, const Point *path, ptrdiff_t legs, Ring outline);
int press_passage(Ring points, Ring outline, Ring bare, PressWay way);

#endif
