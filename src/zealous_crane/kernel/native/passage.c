/* A piece of the part on its way past the tools: along straight legs, and in and out of a press. */
#include "passage.h"

#include <stdlib.h>

static Ring shifted(Ring points, Point by, Point *into) {
    for (ptrdiff_t k = 0; k < points.size; k++) into[k] = point_plus(points.at[k], by);
    return (Ring){into, points.size};
}

/* Number, from 1, of the first leg on which the hull of points meets an outline; nought when none does. -1 without memory. */
int first_leg(Ring points, const Point *path, ptrdiff_t legs, Ring outline) {
    Point *room = malloc(sizeof(Point) * (size_t)(7 * points.size + 1));
    if (room == NULL) return -1;
    Ring at = {room + 6 * points.size, points.size};
    Point from = path[0];
    int answer = 0;
    for (ptrdiff_t leg = 1; answer == 0 && leg <= legs; leg++) {
        for (ptrdiff_t k = 0; k < points.size; k++) at.at[k] = point_plus(points.at[k], from);
        int met = sweep_meets(at, path[leg], outline, room);
        if (met) answer = met < 0 ? -1 : (int)leg;
        from = point_plus(from, path[leg]);
    }
    free(room);
    return answer;
}

/* Number of the leg on which a piece strikes a tool when the part is tipped: straight to where it is turned, turned, and off. */
static int tipped(Ring points, Ring outline, Ring bare, NoseWay way) {
    int leg = first_leg(points, way.path, way.legs - 2, bare);
    if (leg) return leg;
    Point *room = malloc(sizeof(Point) * (size_t)(3 * points.size + 1));
    if (room == NULL) return -1;
    Point moved = {0.0, 0.0}, path[] = {{0.0, 0.0}, way.path[way.legs]};
    for (ptrdiff_t k = 0; k < way.legs - 1; k++) moved = point_plus(moved, way.path[k]);
    Point about = point_plus(way.about, moved);
    Ring stood = shifted(points, moved, room), hull = {room + points.size, 0};
    double far = 0.0;
    for (ptrdiff_t k = 0; k < stood.size; k++) far = greater(far, point_size(point_less(stood.at[k], about)));
    if (far > ring_distance(outline, about)) {
        Touch touch;
        Poles poles = {&about, 1};
        hull.size = hull_of(stood.at, stood.size, hull.at);
        if (hull.size < 0)
            leg = -1;
        else if (first_touch(hull, outline, way.tip, poles, poles, 0, 1, NULL, NULL, &touch))
            leg = (int)way.legs - 1;
    }
    if (leg == 0) {
        double c = cos(way.tip), s = sin(way.tip);
        for (ptrdiff_t k = 0; k < stood.size; k++) stood.at[k] = point_turned(stood.at[k], about, c, s);
        leg = first_leg(stood, path, 1, outline);
        if (leg > 0) leg = (int)way.legs;
    }
    free(room);
    return leg;
}

/* True when the box of points, carried along a path, comes nowhere near the box of an outline. */
static int passes_by(Ring points, const Point *path, ptrdiff_t legs, Ring outline) {
    Point at = path[0], low = at, high = at, first = {HUGE_VAL, HUGE_VAL}, last = {-HUGE_VAL, -HUGE_VAL};
    for (ptrdiff_t leg = 1; leg <= legs; leg++) {
        at = point_plus(at, path[leg]);
        low = (Point){lesser(low.y, at.y), lesser(low.z, at.z)}, high = (Point){greater(high.y, at.y), greater(high.z, at.z)};
    }
    for (ptrdiff_t k = 0; k < points.size; k++) {
        first = (Point){lesser(first.y, points.at[k].y), lesser(first.z, points.at[k].z)};
        last = (Point){greater(last.y, points.at[k].y), greater(last.z, points.at[k].z)};
    }
    int behind = 1, before = 1, over = 1, under = 1;
    for (ptrdiff_t k = 0; k < outline.size; k++) {
        behind &= outline.at[k].y <= first.y + low.y, before &= outline.at[k].y >= last.y + high.y;
        over &= outline.at[k].z <= first.z + low.z, under &= outline.at[k].z >= last.z + high.z;
    }
    return behind || before || over || under;
}

/* Number, from 1, of the leg on which a piece strikes a tool on a way under a nose; nought when on none. -1 without memory. */
int nose_passage(Ring points, Ring outline, Ring bare, NoseWay way) {
    if (way.tip) return tipped(points, outline, bare, way);
    return passes_by(points, way.path, way.legs, bare) ? 0 : first_leg(points, way.path, way.legs, bare);
}

/* Drawn forward, tipped level about the fold's own pole, lifted, and drawn out to the front, the ram up. */
static int taken_out(Ring out, Point raised, Ring outline, PressWay way, Point *room) {
    Point about = point_plus(way.middle, raised);
    if (way.kind == DRAWN) {
        Point forward = {-way.forward, 0.0};
        int met = sweep_meets(out, forward, outline, room);
        if (met) return met;
        shifted(out, forward, out.at);
        about = point_plus(about, forward);
    }
    if (way.half > 0) {
        Ring hull = {room, 0};
        hull.size = hull_of(out.at, out.size, hull.at);
        if (hull.size < 0) return -1;
        if (rings_meet(hull, outline)) return 1;
        double far = 0.0;
        for (ptrdiff_t k = 0; k < out.size; k++) far = greater(far, point_size(point_less(out.at[k], about)));
        if (far > ring_distance(outline, about)) {
            Touch touch;
            Poles poles = {&about, 1};
            if (first_touch(hull, outline, way.half, poles, poles, 0, 1, NULL, NULL, &touch)) return 1;
        }
        double c = cos(way.half), s = sin(way.half);
        for (ptrdiff_t k = 0; k < out.size; k++) out.at[k] = point_turned(out.at[k], about, c, s);
    }
    if (way.kind == LIFTED) {
        Point lift = {0.0, way.lift};
        int met = sweep_meets(out, lift, outline, room);
        if (met) return met;
        shifted(out, lift, out.at);
    }
    return sweep_meets(out, (Point){-way.away, 0.0}, outline, room);
}

/* What a piece strikes a tool on, in or out of a press: nought, MOVING or CLOSING; -1 without memory. */
int press_passage(Ring points, Ring outline, Ring bare, PressWay way) {
    if (way.folded && !way.above) return 0;
    Point *room = malloc(sizeof(Point) * (size_t)(8 * points.size + 1));
    if (room == NULL) return -1;
    Ring stood = {room, points.size}, out = {room + points.size, points.size};
    Point *scratch = room + 2 * points.size;
    double turn = way.sense * way.half, c = cos(turn), s = sin(turn);
    Point drift = {way.offset * (cos(way.half) - 1.0), way.offset * sin(way.half)};
    for (ptrdiff_t k = 0; k < points.size; k++) stood.at[k] = point_plus(point_turned(points.at[k], way.pole, c, s), drift);
    int met = 0;
    if (way.kind == ALONG) {
        /* Slid along the punch, which only just lets go. */
        shifted(stood, (Point){0.0, -(way.above ? way.punch + way.eased : way.die)}, out.at);
        met = sweep_meets(out, (Point){0, 0}, way.folded && way.above ? bare : outline, scratch);
        if (met > 0) met = MOVING;
        goto done;
    }
    Point raised = {0.0, way.above ? -way.opening : 0.0};
    shifted(stood, raised, out.at);
    if (way.kind == SIDE) {
        met = sweep_meets(out, (Point){0, 0}, outline, scratch);
        if (met) {
            if (met > 0) met = MOVING;
            goto done;
        }
    }
    /* Seen from the part, which sinks into the V with the die, the ram goes higher than its opening and back. */
    double sunk = way.above ? way.punch : way.die;
    Point move = {0.0, way.above ? way.punch - way.opening - greater(way.die, 0.0) : way.die};
    shifted(stood, (Point){0.0, -sunk}, stood.at);
    met = sweep_meets(stood, move, way.above && way.folded ? bare : outline, scratch);
    if (met) {
        if (met > 0) met = CLOSING;
        goto done;
    }
    if (way.kind != SIDE) {
        met = taken_out(out, raised, outline, way, scratch);
        if (met > 0) met = MOVING;
    }
done:
    free(room);
    return met;
}
