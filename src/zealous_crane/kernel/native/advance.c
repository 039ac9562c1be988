/* First contact of an outline that turns with one that rises as it does, by shorter and shorter turns: see advance.py. */
#include "geometry.h"

#include <stdlib.h>
#include <string.h>

/* How much higher the resting outline stands at an angle: a·tan(φ/2) + b·tan φ + (what a rounder tip rides − h)·(1/cos φ − 1). */
double risen(Rise rise, double angle) {
    double rounder = 0.0;
    if (rise.radius > 0.0) {
        double arc = rise.half / tan(greater(angle, 1e-9)) + rise.drop;
        rounder = lesser(greater(rise.radius - arc, 0.0), rise.radius);
    }
    double found = (rounder - rise.pole) * (1.0 / cos(angle) - 1.0);
    if (rise.half != 0.0) found += rise.half * tan(angle / 2.0);
    if (rise.whole != 0.0) found += rise.whole * tan(angle);
    return found;
}

/* A corner against a side: which of the two moves, and what bounds how far its distance may stray. */
typedef struct {
    ptrdiff_t i, j;
    int back;
    double size, radius;
} Pair;

typedef struct {
    double cos, sin, rise;
    Point drift;
} Moment;

typedef struct {
    double from, to;
    ptrdiff_t first, count; /* of the indices kept */
} Span;

typedef struct {
    Ring moving, resting;
    Turn turn;
} Look;

static Moment moment_at(Rise rise, Turn turn, double angle) {
    double c = cos(angle), s = sin(angle);
    return (Moment){c, s, risen(rise, angle), {-turn.offset * (1.0 - c), turn.offset * s}};
}

static Point place_at(Look look, ptrdiff_t i, Moment m) {
    Point arm = point_less(look.moving.at[i], look.turn.pole);
    double lift = look.turn.sense * m.sin;
    return (Point){look.turn.pole.y + arm.y * m.cos + arm.z * lift + m.drift.y,
                   look.turn.pole.z + arm.z * m.cos - arm.y * lift + m.drift.z};
}

/* How far the corner is outside the side's line, and its place along it. */
static void measured(Look look, Pair pair, Moment m, double *off, double *along) {
    Point at = place_at(look, pair.i, m), side, away;
    Point rest = {look.resting.at[pair.j].y, look.resting.at[pair.j].z + m.rise};
    if (pair.back) {
        Point own = point_less(next_of(look.moving, pair.i), look.moving.at[pair.i]);
        double lift = look.turn.sense * m.sin;
        side = (Point){(own.y * m.cos + own.z * lift) / pair.size, (own.z * m.cos - own.y * lift) / pair.size};
        away = point_less(rest, at);
    } else {
        Point own = point_less(next_of(look.resting, pair.j), look.resting.at[pair.j]);
        side = (Point){own.y / pair.size, own.z / pair.size};
        away = point_less(at, rest);
    }
    *off = away.y * side.z - away.z * side.y;
    *along = point_dot(away, side);
}

/* True when a pair may meet between two angles; `unsure`: by how much that is uncertain, mm. */
static int near_between(Pair pair, const double *off, const double *along, double step, double climb, double high, double *unsure) {
    double by = (pair.back ? pair.radius + high : pair.radius) * step * step / 8.0 + climb * (1.0 + step);
    *unsure = by;
    return lesser(off[0], off[1]) <= by && greater(off[0], off[1]) >= -by && greater(along[0], along[1]) >= -by &&
           lesser(along[0], along[1]) <= pair.size + by;
}

static ptrdiff_t gathered(Look look, double begin, double limit, Rise rise, double settled, Pair *pairs) {
    double high = greater(fabs(risen(rise, begin)), fabs(risen(rise, limit)));
    double slack = high + 2.0 * fabs(look.turn.offset) + settled;
    Point pole = look.turn.pole;
    ptrdiff_t count = 0;
    for (ptrdiff_t i = 0; i < look.moving.size; i++) {
        Point a = look.moving.at[i], b = next_of(look.moving, i);
        double radius = point_size(point_less(a, pole)), far = greater(radius, point_size(point_less(b, pole)));
        double near = from_segment(pole, a, b), length = point_size(point_less(b, a));
        for (ptrdiff_t j = 0; j < look.resting.size; j++) {
            Point c = look.resting.at[j], d = next_of(look.resting, j);
            double apart = point_size(point_less(c, pole));
            int ahead = radius >= from_segment(pole, c, d) - slack && radius <= greater(apart, point_size(point_less(d, pole))) + slack;
            int back = apart >= near - slack && apart <= far + slack;
            if (ahead) pairs[count++] = (Pair){i, j, 0, greater(point_size(point_less(d, c)), 1e-30), radius + fabs(look.turn.offset)};
            if (back) pairs[count++] = (Pair){i, j, 1, greater(length, 1e-30), apart + fabs(look.turn.offset)};
        }
    }
    return count;
}

/* True, and the touch, when a moving outline meets the rising one between two angles; -1 without memory.
 *
 * The turns in which pairs may meet are kept in order and the earliest is looked at next, cut into `parts`. */
int first_advance(Ring moving, Turn turn, Ring resting, Rise rise, double begin, double limit, double settled, double widest,
                  ptrdiff_t parts, Touch *found) {
    Look look = {moving, resting, turn};
    size_t most = (size_t)(2 * moving.size * resting.size);
    Pair *pairs = malloc(sizeof(Pair) * (most ? most : 1));
    if (pairs == NULL) return -1;
    ptrdiff_t count = gathered(look, begin, limit, rise, settled, pairs), spans = 0, room = 64, kept = 0, kept_room = 4 * count + 64;
    Span *open = malloc(sizeof(Span) * (size_t)room);
    ptrdiff_t *held = malloc(sizeof(ptrdiff_t) * (size_t)kept_room), *some = malloc(sizeof(ptrdiff_t) * (size_t)(count + 1));
    double steps = greater(1.0, ceil((limit - begin) / widest));
    ptrdiff_t cells = (ptrdiff_t)steps > parts ? (ptrdiff_t)steps : parts;
    Moment *moments = malloc(sizeof(Moment) * (size_t)(cells + 1));
    char *near = malloc((size_t)(count * cells + 1)), *sure = malloc((size_t)(count * cells + 1));
    int answer = -1;
    if (open == NULL || held == NULL || some == NULL || moments == NULL || near == NULL || sure == NULL) goto done;
    answer = 0;
    double from = begin, to = limit;
    ptrdiff_t cut = (ptrdiff_t)steps, asked = count;
    for (ptrdiff_t k = 0; k < count; k++) some[k] = k;
    for (int at_first = 1;; at_first = 0) {
        double step = (to - from) / (double)cut;
        for (ptrdiff_t k = 0; k <= cut; k++) moments[k] = moment_at(rise, turn, k == cut ? to : from + step * (double)k);
        double high = 0.0;
        for (ptrdiff_t k = 0; k <= cut; k++) high = greater(high, fabs(moments[k].rise));
        for (ptrdiff_t p = 0; p < asked; p++) {
            Pair pair = pairs[some[p]];
            double off[2], along[2], unsure;
            measured(look, pair, moments[0], &off[0], &along[0]);
            for (ptrdiff_t k = 0; k < cut; k++) {
                measured(look, pair, moments[k + 1], &off[1], &along[1]);
                double climb = fabs(moments[k + 1].rise - moments[k].rise);
                near[p * cut + k] = (char)near_between(pair, off, along, step, climb, high, &unsure);
                sure[p * cut + k] = (char)(near[p * cut + k] && unsure <= settled);
                off[0] = off[1], along[0] = along[1];
            }
        }
        if (!at_first)
            for (ptrdiff_t k = 0; k < cut; k++) {
                int any = 0;
                for (ptrdiff_t p = 0; p < asked; p++) {
                    if (sure[p * cut + k]) {
                        Pair pair = pairs[some[p]];
                        double angle = from + step * (double)k;
                        Point place = pair.back ? (Point){resting.at[pair.j].y, resting.at[pair.j].z + moments[k].rise}
                                                : place_at(look, pair.i, moments[k]);
                        *found = (Touch){angle, place, pair.j, pair.back};
                        answer = 1;
                        goto done;
                    }
                    any |= near[p * cut + k];
                }
                if (any) break;
            }
        for (ptrdiff_t k = 0; k < cut; k++) {
            ptrdiff_t first = kept;
            if (kept + asked > kept_room) {
                kept_room = 2 * (kept + asked);
                ptrdiff_t *more = realloc(held, sizeof(ptrdiff_t) * (size_t)kept_room);
                if (more == NULL) { answer = -1; goto done; }
                held = more;
            }
            for (ptrdiff_t p = 0; p < asked; p++)
                if (near[p * cut + k]) held[kept++] = some[p];
            if (kept == first) continue;
            if (spans == room) {
                room *= 2;
                Span *more = realloc(open, sizeof(Span) * (size_t)room);
                if (more == NULL) { answer = -1; goto done; }
                open = more;
            }
            open[spans++] = (Span){from + step * (double)k, k + 1 == cut ? to : from + step * (double)(k + 1), first, kept - first};
        }
        if (spans == 0) goto done;
        ptrdiff_t next = 0;
        for (ptrdiff_t k = 1; k < spans; k++)
            if (open[k].from < open[next].from) next = k;
        from = open[next].from, to = open[next].to, asked = open[next].count, cut = parts;
        memcpy(some, held + open[next].first, sizeof(ptrdiff_t) * (size_t)asked);
        memmove(open + next, open + next + 1, sizeof(Span) * (size_t)(spans - next - 1));
        spans--;
    }
done:
    free(pairs), free(open), free(held), free(some), free(moments), free(near), free(sure);
    return answer;
}
