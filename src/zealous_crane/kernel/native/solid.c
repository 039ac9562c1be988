/* Prisms against each other as one turns, and along the fold: see meeting.py and clearway.py. */
#include "geometry.h"

#define ON 1e-9       /* mm; a point this near a face is on it */
#define ON_SIDE 1e-7  /* mm; a point this near a side of a room is on it */

typedef struct {
    Vector start, along;
} Edge;

static Edge edge_of(const Vector *corners, ptrdiff_t ring, ptrdiff_t k) {
    ptrdiff_t level = k / ring, i = k % ring, j = (i + 1) % ring;
    Vector a = corners[level == 1 ? i + ring : i], b = corners[level == 0 ? j : level == 1 ? j + ring : i + ring];
    return (Edge){a, vector_less(b, a)};
}

/* The angles of the turn at which a·cos φ + b·sin φ = c; how many there are. */
static int crossings(double a, double b, double c, double start, double limit, double *angles) {
    double size = hypot(a, b);
    if (!(size > fabs(c))) return 0;
    double away = acos(c / size), middle = atan2(b, a);
    int count = 0;
    for (int k = 0; k < 2; k++) {
        double angle = middle + (k ? away : -away);
        /* Counted from the start, so that what is met there at once is not a whole turn later. */
        double rest = fmod(angle - start + ON, TWO_PI);
        if (rest < 0) rest += TWO_PI;
        angle = rest - ON + start;
        if (angle < limit) angles[count++] = greater(angle, start);
    }
    return count;
}

static void corner_on_face(Prism corners, Prism faces, Vector about, double start, double limit, int backwards, Touch *found,
                           int *any) {
    double sense = backwards ? -1.0 : 1.0;
    ptrdiff_t many = faces.ring + 2;
    Touch best = {HUGE_VAL, {0, 0}, 0, backwards};
    for (ptrdiff_t i = 0; i < 2 * corners.ring; i++) {
        Vector p = vector_less(corners.corners[i], about);
        for (ptrdiff_t j = 0; j < many; j++) {
            Vector n = faces.normals[j];
            double offset = faces.offsets[j] - vector_dot(n, about), angles[2];
            double a = p.y * n.y + p.z * n.z, b = sense * (p.z * n.y - p.y * n.z);
            int count = crossings(a, b, offset - p.x * n.x, start, limit, angles);
            for (int k = 0; k < count; k++) {
                if (!(angles[k] < best.angle)) continue;
                Vector there = vector_turned(p, cos(angles[k]), sense * sin(angles[k]));
                int inside = 1;
                for (ptrdiff_t m = 0; inside && m < many; m++)
                    inside = vector_dot(there, faces.normals[m]) <= faces.offsets[m] - vector_dot(faces.normals[m], about) + ON;
                if (inside) {
                    Vector place = vector_plus(backwards ? p : there, about);
                    best = (Touch){angles[k], {place.y, place.z}, i, backwards};
                }
            }
        }
    }
    if (best.angle < HUGE_VAL && (!*any || best.angle < found->angle)) *found = best, *any = 1;
}

static void edge_on_edge(Prism moving, Prism resting, Vector about, double start, double limit, Touch *found, int *any) {
    Touch best = {HUGE_VAL, {0, 0}, 0, 0};
    for (ptrdiff_t i = 0; i < 3 * moving.ring; i++) {
        Edge one = edge_of(moving.corners, moving.ring, i);
        Vector p = vector_less(one.start, about), d = one.along, moment = vector_cross(p, d);
        for (ptrdiff_t j = 0; j < 3 * resting.ring; j++) {
            Edge other = edge_of(resting.corners, resting.ring, j);
            Vector r = vector_less(other.start, about), e = other.along, arm = vector_cross(e, r);
            double c = d.x * arm.x - moment.x * e.x;
            double a = moment.y * e.y + moment.z * e.z - (d.y * arm.y + d.z * arm.z);
            double b = (moment.z * e.y - moment.y * e.z) - (d.z * arm.y - d.y * arm.z);
            double angles[2];
            int count = crossings(a, b, c, start, limit, angles);
            for (int k = 0; k < count; k++) {
                if (!(angles[k] < best.angle)) continue;
                double cosine = cos(angles[k]), sine = sin(angles[k]);
                Vector along = vector_turned(d, cosine, sine), apart = vector_less(r, vector_turned(p, cosine, sine));
                Vector normal = vector_cross(along, e);
                double square = vector_dot(normal, normal);
                /* Edges that lie along each other touch with a corner as well. */
                if (!(square > 1e-18 * vector_dot(along, along) * vector_dot(e, e))) continue;
                double on_one = vector_dot(vector_cross(apart, e), normal) / square;
                double on_other = vector_dot(vector_cross(apart, along), normal) / square;
                if (on_one < -1e-12 || on_one > 1 + 1e-12 || on_other < -1e-12 || on_other > 1 + 1e-12) continue;
                Vector place = vector_plus(other.start, vector_by(e, on_other));
                best = (Touch){angles[k], {place.y, place.z}, j, 0};
            }
        }
    }
    if (best.angle < HUGE_VAL && (!*any || best.angle < found->angle)) *found = best, *any = 1;
}

static Vector begun(Vector corner, Vector about, double c, double s) {
    return vector_plus(vector_turned(vector_less(corner, about), c, s), about);
}

static int parted(Prism moving, Prism resting, Vector about, double c, double s, Vector axis) {
    double low = HUGE_VAL, high = -HUGE_VAL, first = HUGE_VAL, last = -HUGE_VAL;
    for (ptrdiff_t i = 0; i < 2 * moving.ring; i++) {
        double at = vector_dot(begun(moving.corners[i], about, c, s), axis);
        low = lesser(low, at), high = greater(high, at);
    }
    for (ptrdiff_t i = 0; i < 2 * resting.ring; i++) {
        double at = vector_dot(resting.corners[i], axis);
        first = lesser(first, at), last = greater(last, at);
    }
    return low > last || first > high;
}

/* Direction k of a prism's edges, each once: round one face, then across. */
static Vector direction(Prism prism, ptrdiff_t k) { return edge_of(prism.corners, prism.ring, k < prism.ring ? k : 2 * prism.ring).along; }

static int overlap(Prism moving, Prism resting, Vector about, double start) {
    double c = cos(start), s = sin(start);
    static const Vector axes[] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
    for (int k = 0; k < 3; k++)
        if (parted(moving, resting, about, c, s, axes[k])) return 0;
    for (ptrdiff_t k = 0; k < resting.ring + 2; k++)
        if (parted(moving, resting, about, c, s, resting.normals[k])) return 0;
    for (ptrdiff_t k = 0; k < moving.ring + 2; k++)
        if (parted(moving, resting, about, c, s, vector_turned(moving.normals[k], c, s))) return 0;
    for (ptrdiff_t i = 0; i <= moving.ring; i++) {
        Vector one = vector_turned(direction(moving, i), c, s);
        for (ptrdiff_t j = 0; j <= resting.ring; j++) {
            Vector axis = vector_cross(one, direction(resting, j));
            double size = sqrt(vector_dot(axis, axis));
            if (size > 1e-9 && parted(moving, resting, about, c, s, vector_by(axis, 1.0 / size))) return 0;
        }
    }
    return 1;
}

/* True, and the touch, when a piece that turns meets one that rests; 2 when they share room to begin with. */
int first_meeting(Prism moving, Prism resting, Vector about, double start, double limit, Touch *found) {
    if (overlap(moving, resting, about, start)) {
        *found = (Touch){start, {resting.corners[0].y, resting.corners[0].z}, 0, 1};
        return 2;
    }
    int any = 0;
    corner_on_face(moving, resting, about, start, limit, 0, found, &any);
    corner_on_face(resting, moving, about, start, limit, 1, found, &any);
    edge_on_edge(moving, resting, about, start, limit, found, &any);
    return any;
}

#define SAME 1e-7 /* mm; corners this near are one */

static int has_twin(const Vector *corners, ptrdiff_t count, double x, Vector p) {
    for (ptrdiff_t k = 0; k < count; k++)
        if (fabs(corners[k].x - x) < SAME && fabs(corners[k].y - p.y) < SAME && fabs(corners[k].z - p.z) < SAME) return 1;
    return 0;
}

/* True when all corners lie at either end of x and those at one end are those at the other: a prism along x. */
int same_along(const Vector *corners, ptrdiff_t count, double low, double high) {
    ptrdiff_t at_low = 0, at_high = 0;
    if (high - low < SAME) return 0;
    for (ptrdiff_t k = 0; k < count; k++) {
        int first = fabs(corners[k].x - low) < SAME, last = fabs(corners[k].x - high) < SAME;
        if (!first && !last) return 0;
        at_low += first, at_high += last;
    }
    if (at_low != at_high) return 0;
    for (ptrdiff_t k = 0; k < count; k++)
        if (!has_twin(corners, count, fabs(corners[k].x - low) < SAME ? high : low, corners[k])) return 0;
    return 1;
}

/* Points whose hull is the shadow of what lies from x = low to x = high, of a solid that goes from `from` to `to`; how many: at most
 * 2 · ring and 6 · ring more. */
ptrdiff_t points_within(Prism prism, double low, double high, double from, double to, Point *into) {
    ptrdiff_t count = 0;
    for (ptrdiff_t i = 0; i < 2 * prism.ring; i++) {
        Vector p = prism.corners[i];
        if (p.x >= low && p.x <= high) into[count++] = (Point){p.y, p.z};
    }
    const double cuts[] = {low, high};
    for (int k = 0; k < 2; k++) {
        if (!(from < cuts[k] && cuts[k] < to)) continue;
        for (ptrdiff_t i = 0; i < 3 * prism.ring; i++) {
            Edge edge = edge_of(prism.corners, prism.ring, i);
            if (fabs(edge.along.x) <= 1e-12) continue;
            double share = (cuts[k] - edge.start.x) / edge.along.x;
            if (share > 0 && share < 1) into[count++] = (Point){edge.start.y + share * edge.along.y, edge.start.z + share * edge.along.z};
        }
    }
    return count;
}

static int in_room(Point p, const Point *normals, const double *offsets, ptrdiff_t many, Point by) {
    for (ptrdiff_t j = 0; j < many; j++)
        if (point_dot(p, normals[j]) > offsets[j] + point_dot(normals[j], by) + ON_SIDE) return 0;
    return 1;
}

/* True, and the least interval of x, when some of a solid is inside a room shifted by `by`. */
int reached_along(Prism stood, Ring room, const Point *normals, const double *offsets, Point by, double *low, double *high) {
    *low = HUGE_VAL, *high = -HUGE_VAL;
    for (ptrdiff_t i = 0; i < 2 * stood.ring; i++) {
        Vector p = stood.corners[i];
        if (in_room((Point){p.y, p.z}, normals, offsets, room.size, by)) *low = lesser(*low, p.x), *high = greater(*high, p.x);
    }
    for (ptrdiff_t i = 0; i < 3 * stood.ring; i++) {
        Edge edge = edge_of(stood.corners, stood.ring, i);
        for (ptrdiff_t j = 0; j < room.size; j++) {
            double across = edge.along.y * normals[j].y + edge.along.z * normals[j].z;
            if (fabs(across) <= 1e-12) continue;
            double left = offsets[j] + point_dot(normals[j], by) - (edge.start.y * normals[j].y + edge.start.z * normals[j].z);
            double share = left / across;
            if (!(share > 0 && share < 1)) continue;
            Vector p = vector_plus(edge.start, vector_by(edge.along, share));
            if (in_room((Point){p.y, p.z}, normals, offsets, room.size, by)) *low = lesser(*low, p.x), *high = greater(*high, p.x);
        }
    }
    for (ptrdiff_t j = 0; j < room.size; j++) {
        Point p = point_plus(room.at[j], by);
        double first = -HUGE_VAL, last = HUGE_VAL;
        int through = 1;
        for (ptrdiff_t k = 0; through && k < stood.ring + 2; k++) {
            Vector n = stood.normals[k];
            double left = stood.offsets[k] - (n.y * p.y + n.z * p.z);
            if (fabs(n.x) < 1e-9)
                through = left >= -ON_SIDE;
            else if (n.x > 0)
                last = lesser(last, left / n.x);
            else
                first = greater(first, left / n.x);
        }
        if (through && first <= last) *low = lesser(*low, first), *high = greater(*high, last);
    }
    return *low <= *high;
}
