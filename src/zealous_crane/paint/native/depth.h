/* Faces in space, and what they are parted into. */
#ifndef DEPTH_H
#define DEPTH_H

typedef struct {
    int *at;
    int size, room;
} Numbers;

/* A flat convex face: corners, whether the edge from each is one of the metal, the face given that it is (part of). */
typedef struct {
    double *points;
    char *outlined;
    int corners, source;
} Facet;

/* A plane: the faces in it, the first of which gave it, and the nodes before and behind it (-1: none). */
typedef struct {
    Numbers level;
    int next[2];
} Node;

typedef struct {
    Facet *face;
    int faces, room;
    Node *node;
    int nodes, node_room;
} Parted;

/* Part the faces there are by each other's planes, in their order; 0 when there is no memory. `normals` are those of the faces given. */
int part_faces(Parted *parted, const double *normals, double near);

void forget_parted(Parted *parted);

#endif
