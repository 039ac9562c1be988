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


class _Corners:
    """Corners of many faces in one array, (n, k, 3), so that all of them are set against a plane at once.

    Faces with fewer corners than ``k`` repeat their last.
    """

    def __init__(self, faces: list[Face]) -> None:
        self.faces = list(faces)
        most = max(len(face.points) for face in faces)
        self._room = np.empty((2 * len(faces), most + 2, 3))
        for i, face in enumerate(faces):
            self._put(i, face)

    def _put(self, i: int, face: Face) -> None:
        n = len(face.points)
        self._room[i, :n] = face.points
        self._room[i, n:] = face.points[-1]

    def add(self, face: Face) -> int:
        """Put a further face in; its number."""
        i = len(self.faces)
        count, most, _ = self._room.shape
        if i == count or len(face.points) > most:
            grown = np.empty((max(count, 2 * i), max(most, len(face.points) + 2), 3))
            grown[:i, :most] = self._room[:i]
            grown[:i, most:] = self._room[:i, most - 1 : most]
            self._room = grown
        self.faces.append(face)
        self._put(i, face)
        return i

    def sides(self, numbers: np.ndarray, plane: Face) -> np.ndarray:
        """(m, k) how far before a face's plane the corners of others lie, mm."""
        found: np.ndarray = (self._room[numbers] - plane.points[0]) @ plane.normal
        return found


def back_to_front(faces: list[Face], towards: np.ndarray) -> list[Face]:
    """Faces ordered so that each is drawn before those nearer to the eye; faces that straddle are split.

    Args:
        faces: any faces.
        towards: (3,) direction from the part to the eye.
    """
    if not faces:
        return []
    corners, ordered = _Corners(faces), []
    # An explicit stack: (faces to sort) or (a face whose turn it is).
    stack: list[np.ndarray | int] = [np.arange(len(faces))]
    while stack:
        item = stack.pop()
        if isinstance(item, int):
            ordered.append(corners.faces[item])
            continue
        if len(item) < 2:
            stack += [int(i) for i in item]
            continue
        pivot, rest = corners.faces[item[0]], item[1:]
        sides = corners.sides(rest, pivot)
        ahead, behind = sides.min(axis=1) >= -NEAR, sides.max(axis=1) <= NEAR
        front, back = rest[ahead & ~behind], rest[behind & ~ahead]
        cut = [_split(corners.faces[i], side) for i, side in zip(rest[~ahead & ~behind], sides[~ahead & ~behind], strict=True)]
        if cut:
            front = np.append(front, [corners.add(near) for near, _ in cut])
            back = np.append(back, [corners.add(far) for _, far in cut])
        far, near = (back, front) if float(pivot.normal @ towards) > 0 else (front, back)
        # Last in, first out: the far side comes first.
        level = [int(item[0]), *(int(i) for i in rest[ahead & behind])]
        stack += [near, *reversed(level), far]
    return ordered


def _split(face: Face, side: np.ndarray) -> tuple[Face, Face]:
    ahead: list[np.ndarray] = []
    back: list[np.ndarray] = []
    n = len(face.points)
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
