/* Faces parted by each other's planes, so that they can be painted in order for an eye anywhere. */
#include <stdlib.h>
#include <string.h>

#include "depth.h"

static double before_plane(const double *plane_point, const double *normal, const double *corner) {
    return (corner[0] - plane_point[0]) * normal[0] + (corner[1] - plane_point[1]) * normal[1] + (corner[2] - plane_point[2]) * normal[2];
}

static int pushed(Numbers *into, int number) {
    if (into->size == into->room) {
        int room = into->room ? 2 * into->room : 8;
        int *at = realloc(into->at, sizeof(int) * (size_t)room);
        if (at == NULL) return 0;
        into->at = at;
        into->room = room;
    }
    into->at[into->size++] = number;
    return 1;
}

/* A new face with room for so many corners; its number, or -1. */
static int added(Parted *parted, int corners, int source) {
    if (parted->faces == parted->room) {
        int room = 2 * parted->room;
        Facet *at = realloc(parted->face, sizeof(Facet) * (size_t)room);
        if (at == NULL) return -1;
        parted->face = at;
        parted->room = room;
    }
    Facet *face = &parted->face[parted->faces];
    *face = (Facet){malloc(sizeof(double) * 3 * (size_t)corners), malloc((size_t)corners), 0, source};
    parted->faces++;
    return face->points != NULL && face->outlined != NULL ? parted->faces - 1 : -1;
}

static void cornered(Facet *face, const double *point, int outlined) {
    memcpy(face->points + 3 * face->corners, point, sizeof(double) * 3);
    face->outlined[face->corners++] = (char)outlined;
}

/* The parts of a face before and behind a plane, by its corners' distances from it. An edge belongs to the side it starts on; where it
   leaves that side, the new edge along the plane follows. */
static int split(Parted *parted, int number, const double *side, int *near, int *far) {
    int corners = parted->face[number].corners, source = parted->face[number].source;
    if ((*near = added(parted, corners + 2, source)) < 0 || (*far = added(parted, corners + 2, source)) < 0) return 0;
    const Facet *face = &parted->face[number];
    Facet *ahead = &parted->face[*near], *back = &parted->face[*far];
    for (int i = 0; i < corners; i++) {
        const double *p = face->points + 3 * i, *q = face->points + 3 * ((i + 1) % corners);
        double a = side[i], b = side[(i + 1) % corners];
        int outlined = face->outlined[i];
        if (a >= 0) cornered(ahead, p, outlined && (a > 0 || b >= 0));
        if (a <= 0) cornered(back, p, outlined && (a < 0 || b <= 0));
        if (a * b < 0) {
            double cut[3];
            for (int k = 0; k < 3; k++) cut[k] = p[k] + (q[k] - p[k]) * (a / (a - b));
            cornered(ahead, cut, outlined && b > 0);
            cornered(back, cut, outlined && b < 0);
        }
    }
    return 1;
}

typedef struct {
    Numbers item;
    int parent, side;
} Waiting;

static int sorted_out(Parted *parted, const double *normals, double near, Waiting mine, Numbers *front, Numbers *back, Numbers *level) {
    const int pivot = mine.item.at[0];
    if (!pushed(level, pivot)) return 0;
    Numbers straddling = {NULL, 0, 0};
    int good = 1;
    for (int k = 1; good && k < mine.item.size; k++) {
        const int number = mine.item.at[k];
        const Facet *face = &parted->face[number], *plane = &parted->face[pivot];
        double least = 1e300, most = -1e300;
        for (int i = 0; i < face->corners; i++) {
            double at = before_plane(plane->points, normals + 3 * plane->source, face->points + 3 * i);
            if (at < least) least = at;
            if (at > most) most = at;
        }
        const int ahead = least >= -near, behind = most <= near;
        good = pushed(ahead && behind ? level : ahead ? front : behind ? back : &straddling, number);
    }
    /* What is split comes after what is not, as whoever asks with NumPy has it. */
    for (int k = 0; good && k < straddling.size; k++) {
        const int number = straddling.at[k];
        int one, other;
        const Facet *face = &parted->face[number], *plane = &parted->face[pivot];
        double *side = malloc(sizeof(double) * (size_t)face->corners);
        for (int i = 0; side != NULL && i < face->corners; i++) {
            side[i] = before_plane(plane->points, normals + 3 * plane->source, face->points + 3 * i);
            if (side[i] <= near && side[i] >= -near) side[i] = 0; /* what lies in the plane lies on neither side */
        }
        good = side != NULL && split(parted, number, side, &one, &other) && pushed(front, one) && pushed(back, other);
        free(side);
    }
    free(straddling.at);
    return good;
}

static int hung(Parted *parted, int parent, int side) {
    if (parted->nodes == parted->node_room) {
        int room = parted->node_room ? 2 * parted->node_room : 64;
        Node *at = realloc(parted->node, sizeof(Node) * (size_t)room);
        if (at == NULL) return 0;
        parted->node = at;
        parted->node_room = room;
    }
    parted->node[parted->nodes] = (Node){{NULL, 0, 0}, {-1, -1}};
    if (parent >= 0) parted->node[parent].next[side] = parted->nodes;
    parted->nodes++;
    return 1;
}

int part_faces(Parted *parted, const double *normals, double near) {
    int waiting = 0, room = 64, good = 1;
    Waiting *stack = malloc(sizeof(Waiting) * (size_t)room);
    Numbers all = {NULL, 0, 0};
    for (int i = 0; good && i < parted->faces; i++) good = pushed(&all, i);
    if (stack == NULL || !good) {
        free(stack);
        free(all.at);
        return 0;
    }
    stack[waiting++] = (Waiting){all, -1, 0};
    while (waiting && good) {
        Waiting mine = stack[--waiting];
        if (mine.item.size) {
            Numbers front = {NULL, 0, 0}, back = {NULL, 0, 0};
            good = hung(parted, mine.parent, mine.side);
            const int number = parted->nodes - 1;
            if (good) good = sorted_out(parted, normals, near, mine, &front, &back, &parted->node[number].level);
            if (good && waiting + 2 > room) {
                Waiting *at = realloc(stack, sizeof(Waiting) * (size_t)(2 * room));
                if ((good = at != NULL)) {
                    stack = at;
                    room *= 2;
                }
            }
            if (good) {
                stack[waiting++] = (Waiting){front, number, 0};
                stack[waiting++] = (Waiting){back, number, 1};
            } else {
                free(front.at);
                free(back.at);
            }
        }
        free(mine.item.at);
    }
    while (waiting) free(stack[--waiting].item.at);
    free(stack);
    return good;
}

void forget_parted(Parted *parted) {
    for (int i = 0; i < parted->faces; i++) {
        free(parted->face[i].points);
        free(parted->face[i].outlined);
    }
    for (int i = 0; i < parted->nodes; i++) free(parted->node[i].level.at);
    free(parted->face);
    free(parted->node);
}
