"""Depth order of flat faces by splitting space: works without a graphics card and prints as vectors."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

NEAR = 1e-6


@dataclass(frozen=True)
class Face:
    """One flat convex face.

    Attributes:
        points: (n, 3) float, mm, in order.
        kind: ``inside``, ``outside`` or ``edge`` of the metal.
        panel: index of the panel, −1 for a bent strip.
        normal: (3,) unit vector out of the metal.
    """

    points: np.ndarray
    kind: str
    panel: int
    normal: np.ndarray


def back_to_front(faces: list[Face], towards: np.ndarray) -> list[Face]:
    """Faces ordered so that each is drawn before those nearer to the eye; faces that straddle are split.

    Args:
        faces: any faces.
        towards: (3,) direction from the part to the eye.
    """
    ordered: list[Face] = []
    # An explicit stack: (faces to sort) or (a face whose turn it is).
    stack: list[list[Face] | Face] = [faces]
    while stack:
        item = stack.pop()
        if isinstance(item, Face):
            ordered.append(item)
            continue
        if not item:
            continue
        pivot = item[0]
        level = float(pivot.normal @ pivot.points[0])
        front: list[Face] = []
        behind: list[Face] = []
        same: list[Face] = [pivot]
        for face in item[1:]:
            side = face.points @ pivot.normal - level
            if side.min() >= -NEAR and side.max() <= NEAR:
                same.append(face)
            elif side.min() >= -NEAR:
                front.append(face)
            elif side.max() <= NEAR:
                behind.append(face)
            else:
                ahead, back = _split(face, side)
                front.append(ahead)
                behind.append(back)
        far, near = (behind, front) if float(pivot.normal @ towards) > 0 else (front, behind)
        # Last in, first out: the far side comes first.
        stack += [near, *reversed(same), far]
    return ordered


def _split(face: Face, side: np.ndarray) -> tuple[Face, Face]:
    ahead: list[np.ndarray] = []
    back: list[np.ndarray] = []
    n = len(side)
    for i in range(n):
        p, q = face.points[i], face.points[(i + 1) % n]
        a, b = side[i], side[(i + 1) % n]
        if a >= 0:
            ahead.append(p)
        if a <= 0:
            back.append(p)
        if a * b < 0:
            cut = p + (q - p) * (a / (a - b))
            ahead.append(cut)
            back.append(cut)
    return (
        Face(np.array(ahead), face.kind, face.panel, face.normal),
        Face(np.array(back), face.kind, face.panel, face.normal),
    )
