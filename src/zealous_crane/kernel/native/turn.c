/* First contact of an outline that turns with one that rests, in closed form: every corner runs on a circle. */
#include "geometry.h"

/* Least angle at which a corner that turns about a pole meets a side; HUGE_VAL where it does not. */
static double hit(Point corner, Point pole, Point start, Point end, double limit, int backwards) {
    Point arm = point_less(corner, pole), along = point_less(end, start), offset = point_less(start, pole);
    /* |offset + t · along|² = |arm|²  →  a t² + 2 b t + c = 0 */
    double a = point_dot(along, along), b = point_dot(offset, along), c = point_dot(offset, offset) - point_dot(arm, arm);
    double disc = b * b - a * c, least = HUGE_VAL;
    if (disc < 0 || a == 0.0) return least;
    double root = sqrt(disc);
    for (int k = 0; k < 2; k++) {
        double t = (-b + (k ? root : -root)) / a;
        /* A corner that passes exactly through the end of a side belongs to both sides there. */
        if (!(t >= -1e-12 && t <= 1 + 1e-12)) continue;
        Point met = {offset.y + t * along.y, offset.z + t * along.z};
        double cross = point_cross(arm, met);
        double turn = atan2(backwards ? cross : -cross, point_dot(arm, met));
        if (turn < 0) turn += TWO_PI;
        /* Rounding may put a contact at the very start just below a whole turn. */
        if (turn > TWO_PI - 1e-12) turn = 0.0;
        if (turn <= limit && turn < least) least = turn;
    }
    return least;
}

/* Least distance of some corners to some sides while the corners turn about a pole from nought to `limit`: it is least at the ends of
 * the turn, across from a side's line, or nearest to one of its ends. */
double least_apart(Ring corners, Point pole, Ring sides, double limit, int backwards, const char *counted_corners,
                   const char *counted_sides) {
    double least = HUGE_VAL, sense = backwards ? 1.0 : -1.0;
    for (ptrdiff_t i = 0; i < corners.size; i++) {
        if (counted_corners != NULL && !counted_corners[i]) continue;
        Point arm = point_less(corners.at[i], pole);
        double radius = point_size(arm), begin = atan2(arm.z, arm.y);
        for (ptrdiff_t j = 0; j < sides.size; j++) {
            if (counted_sides != NULL && !counted_sides[j]) continue;
            Point start = sides.at[j], end = next_of(sides, j), along = point_less(end, start);
            Point to_start = point_less(start, pole), to_end = point_less(end, pole);
            double normal = atan2(along.y, -along.z);
            double directions[] = {normal, normal + PI, atan2(to_start.z, to_start.y), atan2(to_end.z, to_end.y)};
            for (int k = -2; k < 4; k++) {
                double turned = k == -2 ? 0.0 : limit;
                if (k >= 0) {
                    turned = fmod(sense * (directions[k] - begin), TWO_PI);
                    if (turned < 0) turned += TWO_PI;
                    if (turned > limit) continue;
                }
                double angle = begin + sense * turned;
                Point at = {pole.y + radius * cos(angle), pole.z + radius * sin(angle)};
                least = lesser(least, from_segment(at, start, end));
            }
        }
    }
    return least;
}

static Point pole_of(Poles poles, ptrdiff_t i) { return poles.at[poles.count == 1 ? 0 : i]; }

/* True, and the touch, when a moving outline meets a resting one.
 *
 * sides, corners: which resting sides and corners count; NULL counts all. back_about: what resting corners turn about as the moving
 * outline sees it, and which way. */
int first_touch(Ring moving, Ring resting, double limit, Poles about, Poles back_about, int backwards, int back_backwards,
                const char *sides, const char *corners, Touch *found) {
    double ahead = HUGE_VAL, back = HUGE_VAL;
    ptrdiff_t mover = 0, side = 0, rester = 0;
    for (ptrdiff_t i = 0; i < moving.size; i++) {
        Point pole = pole_of(about, i);
        for (ptrdiff_t j = 0; j < resting.size; j++) {
            if (sides != NULL && !sides[j]) continue;
            double at = hit(moving.at[i], pole, resting.at[j], next_of(resting, j), limit, backwards);
            if (at < ahead) ahead = at, mover = i, side = j;
        }
    }
    for (ptrdiff_t i = 0; i < moving.size; i++)
        for (ptrdiff_t j = 0; j < resting.size; j++) {
            if (corners != NULL && !corners[j]) continue;
            double at = hit(resting.at[j], pole_of(back_about, j), moving.at[i], next_of(moving, i), limit, back_backwards);
            if (at < back) back = at, rester = j;
        }
    if (ahead == HUGE_VAL && back == HUGE_VAL) return 0;
    if (back < ahead) {
        *found = (Touch){back, resting.at[rester], rester, 1};
    } else {
        double turn = backwards ? -ahead : ahead;
        *found = (Touch){ahead, point_turned(moving.at[mover], pole_of(about, mover), cos(turn), sin(turn)), side, 0};
    }
    return 1;
}
