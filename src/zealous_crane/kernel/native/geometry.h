/* Plane and solid geometry of the contact search, as the NumPy code beside this folder has it, one piece a call.
 *
 * Lengths in mm, angles in radians. Points are (y, z) in the plane across the fold and (x, y, z) in solids. A turn by an angle
 * carries a point clockwise, as the leaf lifts metal from negative y.
 */
#ifndef ZEALOUS_CRANE_GEOMETRY_H
#define ZEALOUS_CRANE_GEOMETRY_H

#include <math.h>
#include <stddef.h>

#define PI 3.14159265358979323846
#define TWO_PI (2.0 * PI)

typedef struct {
    double y, z;
} Point;

typedef struct {
    double x, y, z;
} Vector;

/* A closed outline, counter-clockwise, or a cloud of points. */
typedef struct {
    Point *at;
    ptrdiff_t size;
} Ring;

/* Inlined, where fmin and fmax are calls: no number here is not one. */
static inline double lesser(double a, double b) { return a < b ? a : b; }
static inline double greater(double a, double b) { return a > b ? a : b; }

static inline Point point_less(Point a, Point b) { return (Point){a.y - b.y, a.z - b.z}; }
static inline Point point_plus(Point a, Point b) { return (Point){a.y + b.y, a.z + b.z}; }
static inline double point_dot(Point a, Point b) { return a.y * b.y + a.z * b.z; }
static inline double point_cross(Point a, Point b) { return a.y * b.z - a.z * b.y; }
static inline double point_size(Point a) { return hypot(a.y, a.z); }
static inline Point next_of(Ring ring, ptrdiff_t i) { return ring.at[i + 1 < ring.size ? i + 1 : 0]; }

static inline Vector vector_less(Vector a, Vector b) { return (Vector){a.x - b.x, a.y - b.y, a.z - b.z}; }
static inline Vector vector_plus(Vector a, Vector b) { return (Vector){a.x + b.x, a.y + b.y, a.z + b.z}; }
static inline Vector vector_by(Vector a, double s) { return (Vector){a.x * s, a.y * s, a.z * s}; }
static inline double vector_dot(Vector a, Vector b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
static inline Vector vector_cross(Vector a, Vector b) {
    return (Vector){a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}

/* A point after a turn about another, given by the cosine and sine of the angle. */
static inline Point point_turned(Point a, Point about, double c, double s) {
    Point arm = point_less(a, about);
    return (Point){about.y + arm.y * c + arm.z * s, about.z - arm.y * s + arm.z * c};
}

static inline Vector vector_turned(Vector a, double c, double s) { return (Vector){a.x, a.y * c + a.z * s, a.z * c - a.y * s}; }

/* plane.c */
ptrdiff_t hull_of(const Point *points, ptrdiff_t count, Point *into);
int ring_holds(Ring ring, Point point);
int rings_meet(Ring convex, Ring outline);
double from_segment(Point point, Point start, Point end);
double ring_distance(Ring ring, Point point);
int sweep_meets(Ring points, Point move, Ring outline, Point *room);

/* turn.c */
typedef struct {
    double angle;
    Point place;
    ptrdiff_t index;
    int corner;
} Touch;

typedef struct {
    const Point *at;
    ptrdiff_t count; /* one for all, or one each */
} Poles;

double least_apart(Ring corners, Point pole, Ring sides, double limit, int backwards, const char *counted_corners,
                   const char *counted_sides);
int first_touch(Ring moving, Ring resting, double limit, Poles about, Poles back_about, int backwards, int back_backwards,
                const char *sides, const char *corners, Touch *found);

/* advance.c */
typedef struct {
    double half, whole, radius, drop, pole;
} Rise;

typedef struct {
    Point pole;
    double sense, offset;
} Turn;

double risen(Rise rise, double angle);
int first_advance(Ring moving, Turn turn, Ring resting, Rise rise, double begin, double limit, double settled, double widest,
                  ptrdiff_t parts, Touch *found);

/* solid.c */
typedef struct {
    const Vector *corners;
    ptrdiff_t ring;         /* corners of one face; the other's follow */
    const Vector *normals;  /* ring + 2 */
    const double *offsets;
} Prism;

int same_along(const Vector *corners, ptrdiff_t count, double low, double high);
int first_meeting(Prism moving, Prism resting, Vector about, double start, double limit, Touch *found);
ptrdiff_t points_within(Prism prism, double low, double high, double from, double to, Point *into);
int reached_along(Prism stood, Ring room, const Point *normals, const double *offsets, Point by, double *low, double *high);

#endif
