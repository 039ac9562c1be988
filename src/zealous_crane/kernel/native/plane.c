/* Outlines in the plane: hulls, what they hold, whether they meet, how far they are apart. */
#include "geometry.h"

#include <stdlib.h>

static int by_place(const void *a, const void *b) {
    const Point *p = a, *q = b;
    if (p->y != q->y) return p->y < q->y ? -1 : 1;
    if (p->z != q->z) return p->z < q->z ? -1 : 1;
    return 0;
}

static ptrdiff_t chain(const Point *ordered, ptrdiff_t count, ptrdiff_t step, Point *into) {
    ptrdiff_t size = 0;
    for (ptrdiff_t k = 0; k < count; k++) {
        Point p = ordered[step > 0 ? k : count - 1 - k];
        while (size >= 2 && point_cross(point_less(into[size - 1], into[size - 2]), point_less(p, into[size - 2])) <= 1e-12) size--;
        into[size++] = p;
    }
    return size - 1;
}

/* Convex hull, counter-clockwise, of points rounded to 1e-9 mm; `into` takes 2 · count points and the hull comes first in it. */
ptrdiff_t hull_of(const Point *points, ptrdiff_t count, Point *into) {
    Point *ordered = into + count;
    for (ptrdiff_t k = 0; k < count; k++) {
        /* Adding nought makes one of both zeros. */
        ordered[k].y = rint(points[k].y * 1e9) / 1e9 + 0.0;
        ordered[k].z = rint(points[k].z * 1e9) / 1e9 + 0.0;
    }
    if (count < 24) {
        for (ptrdiff_t k = 1; k < count; k++) {
            Point p = ordered[k];
            ptrdiff_t at = k;
            for (; at > 0 && by_place(&p, &ordered[at - 1]) < 0; at--) ordered[at] = ordered[at - 1];
            ordered[at] = p;
        }
    } else {
        qsort(ordered, (size_t)count, sizeof(Point), by_place);
    }
    ptrdiff_t size = 0;
    for (ptrdiff_t k = 0; k < count; k++)
        if (size == 0 || by_place(&ordered[k], &ordered[size - 1]) != 0) ordered[size++] = ordered[k];
    if (size < 3) {
        for (ptrdiff_t k = 0; k < size; k++) into[k] = ordered[k];
        return size;
    }
    /* The two chains need no more room than the points and two more: both ends are in either. */
    Point *room = malloc(sizeof(Point) * (size_t)(2 * size + 2));
    if (room == NULL) return -1;
    ptrdiff_t below = chain(ordered, size, 1, room);
    ptrdiff_t above = chain(ordered, size, -1, room + below);
    for (ptrdiff_t k = 0; k < below + above; k++) into[k] = room[k];
    free(room);
    return below + above;
}

/* True when a point lies in an outline, which need not be convex. */
int ring_holds(Ring ring, Point p) {
    int inside = 0;
    for (ptrdiff_t i = 0; i < ring.size; i++) {
        Point a = ring.at[i], b = next_of(ring, i);
        if ((a.z > p.z) != (b.z > p.z) && p.y < a.y + (p.z - a.z) / (b.z - a.z) * (b.y - a.y)) inside = !inside;
    }
    return inside;
}

static int segments_meet(Point a, Point b, Point c, Point d) {
    Point u = point_less(b, a), v = point_less(d, c);
    double one = point_cross(u, point_less(c, a)), other = point_cross(u, point_less(d, a));
    if ((one > 0 && other > 0) || (one < 0 && other < 0)) return 0;
    double third = point_cross(v, point_less(a, c)), fourth = point_cross(v, point_less(b, c));
    if ((third > 0 && fourth > 0) || (third < 0 && fourth < 0)) return 0;
    return greater(a.y, b.y) >= lesser(c.y, d.y) && lesser(a.y, b.y) <= greater(c.y, d.y) && greater(a.z, b.z) >= lesser(c.z, d.z) &&
           lesser(a.z, b.z) <= greater(c.z, d.z);
}

/* True when some of a segment lies in a convex outline of three corners or more. */
static int segment_enters(Ring convex, Point a, Point b) {
    double first = 0.0, last = 1.0;
    Point run = point_less(b, a);
    for (ptrdiff_t i = 0; i < convex.size; i++) {
        Point side = point_less(next_of(convex, i), convex.at[i]);
        double left = point_cross(side, point_less(a, convex.at[i])), gain = point_cross(side, run);
        if (gain == 0.0) {
            if (left < 0) return 0;
        } else if (gain > 0) {
            first = greater(first, -left / gain);
        } else {
            last = lesser(last, -left / gain);
        }
        if (first > last) return 0;
    }
    return 1;
}

/* True when a convex outline, counter-clockwise, or a segment or point, shares anything with another outline. */
int rings_meet(Ring convex, Ring outline) {
    if (convex.size == 0 || outline.size == 0) return 0;
    double low_y = HUGE_VAL, low_z = HUGE_VAL, high_y = -HUGE_VAL, high_z = -HUGE_VAL;
    for (ptrdiff_t i = 0; i < convex.size; i++) {
        low_y = lesser(low_y, convex.at[i].y), high_y = greater(high_y, convex.at[i].y);
        low_z = lesser(low_z, convex.at[i].z), high_z = greater(high_z, convex.at[i].z);
    }
    for (ptrdiff_t i = 0; i < outline.size; i++) {
        Point a = outline.at[i], b = next_of(outline, i);
        if ((a.y < low_y && b.y < low_y) || (a.y > high_y && b.y > high_y) || (a.z < low_z && b.z < low_z) ||
            (a.z > high_z && b.z > high_z))
            continue;
        if (convex.size >= 3 ? segment_enters(convex, a, b) : segments_meet(a, b, convex.at[0], convex.at[convex.size - 1])) return 1;
    }
    return ring_holds(outline, convex.at[0]);
}

double from_segment(Point p, Point start, Point end) {
    Point along = point_less(end, start), away = point_less(p, start);
    double share = point_dot(away, along) / greater(point_dot(along, along), 1e-30);
    share = lesser(greater(share, 0.0), 1.0);
    return hypot(away.y - share * along.y, away.z - share * along.z);
}

/* Distance from a point to an outline; nought inside. */
double ring_distance(Ring ring, Point p) {
    if (ring_holds(ring, p)) return 0.0;
    double least = HUGE_VAL;
    for (ptrdiff_t i = 0; i < ring.size; i++) least = lesser(least, from_segment(p, ring.at[i], next_of(ring, i)));
    return least;
}

/* True when the hull of points, moved along a straight line, meets an outline; `room` takes 6 · points. -1 without memory. */
int sweep_meets(Ring points, Point move, Ring outline, Point *room) {
    double low_y = HUGE_VAL, low_z = HUGE_VAL, high_y = -HUGE_VAL, high_z = -HUGE_VAL;
    double first_y = HUGE_VAL, first_z = HUGE_VAL, last_y = -HUGE_VAL, last_z = -HUGE_VAL;
    for (ptrdiff_t i = 0; i < outline.size; i++) {
        low_y = lesser(low_y, outline.at[i].y), high_y = greater(high_y, outline.at[i].y);
        low_z = lesser(low_z, outline.at[i].z), high_z = greater(high_z, outline.at[i].z);
    }
    for (ptrdiff_t i = 0; i < points.size; i++) {
        first_y = lesser(first_y, points.at[i].y), last_y = greater(last_y, points.at[i].y);
        first_z = lesser(first_z, points.at[i].z), last_z = greater(last_z, points.at[i].z);
    }
    if (last_z + greater(move.z, 0.0) <= low_z || first_z + lesser(move.z, 0.0) >= high_z || last_y + greater(move.y, 0.0) <= low_y ||
        first_y + lesser(move.y, 0.0) >= high_y)
        return 0;
    for (ptrdiff_t i = 0; i < points.size; i++) {
        room[i] = points.at[i];
        room[points.size + i] = point_plus(points.at[i], move);
    }
    Ring swept = {room + 2 * points.size, 0};
    swept.size = hull_of(room, 2 * points.size, swept.at);
    return swept.size < 0 ? -1 : rings_meet(swept, outline);
}
