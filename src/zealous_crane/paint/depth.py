"""Depth order of flat faces by splitting space: works without a graphics card and prints as
vectors."""

from __future__ import annotations

import itertools
import os
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..flat.crossing import cross

try:
    if os.environ.get("CRANE_ENGINE") == "numpy":
        raise ImportError
    from .native._depth import depth as compiled
except ImportError:
    # Where no compiler was at hand.
    compiled = None  # type: ignore[assignment]

NEAR = 1e-6


@dataclass(frozen=True)
class Face:
    """One flat convex face.

    Attributes:
        points: (n, 3) float, mm, in order.
        kind: ``inside``, ``outside`` or ``edge`` of the metal.
        panel: index of the panel, −1 for a bent strip.
        normal: (3,) unit vector out of the metal.
        outlined: for the edge from each corner to the next, whether it is an edge of the metal;
            None where all are. Seams between the convex pieces of a panel are not, nor are cuts
            made to order the faces.
        body: number of the convex body it bounds; −1 for none.
        seen_through: drawn so that what lies behind it shows.
    """

    points: np.ndarray
    kind: str
    panel: int
    normal: np.ndarray
    outlined: tuple[bool, ...] | None = None
    body: int = -1
    seen_through: bool = False

    @property
    def outlines(self) -> tuple[bool, ...]:
        """Whether each edge is one of the metal."""
        return self.outlined if self.outlined is not None else (True,) * len(self.points)


def _areas(faces: Sequence[Face]) -> list[float]:
    """mm² of each."""
    points = np.concatenate([face.points for face in faces])
    ends = np.cumsum([len(face.points) for face in faces])
    begins = np.concatenate([[0], ends[:-1]])
    on = np.arange(1, len(points) + 1)
    on[ends - 1] = begins
    first = np.repeat(points[begins], ends - begins, axis=0)
    spread = np.add.reduceat(cross(points - first, points[on] - first), begins)
    areas: list[float] = (np.sqrt((spread**2).sum(axis=1)) / 2).tolist()
    return areas


class _Corners:
    """Corners of many faces in one array, (n, k, 3), so that all of them are set against a plane at
    once.

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
        result: np.ndarray = (self._room[numbers] - plane.points[0]) @ plane.normal
        return result


class DepthTree:
    """Faces parted by each other's planes, once; from there they are ordered for an eye anywhere.

    Attributes:
        faces: those given, and what came of those that were split.
        normals: (n, 3) float, theirs.

    The largest faces part the others first: a panel's plane seldom cuts anything, that of a small
    rim cuts much.

    Args:
        faces: any faces; those that straddle a plane are split.
    """

    def __init__(self, faces: Sequence[Face]) -> None:
        self.faces: list[Face] = []
        self.normals = np.zeros((0, 3))
        # For each node the plane's normal, the faces in it, and the nodes before and behind it (−1:
        # none).
        self._planes = np.zeros((0, 3))
        self._levels: list[list[int]] = []
        self._hung: list[list[int]] = []
        if not faces:
            return
        first = sorted(
            zip(faces, _areas(faces), strict=True), key=lambda each: (each[0].panel < 0, -each[1])
        )
        mine = [face for face, _ in first]
        planes = self._parted(mine) if compiled is None else self._compiled(mine)
        self.normals = np.array([face.normal for face in self.faces])
        self._planes = self.normals[planes]

    def _compiled(self, faces: list[Face]) -> list[int]:
        """Part them; the faces whose planes part."""
        points = np.concatenate([face.points for face in faces])
        outlined = bytes(itertools.chain.from_iterable(face.outlines for face in faces))
        counts, normals = (
            [len(face.points) for face in faces],
            np.array([face.normal for face in faces]),
        )
        pieces, nodes = compiled(points, counts, normals, outlined, NEAR)
        self.faces = faces
        for source, corners, outlines in pieces:
            face = faces[source]
            self.faces.append(
                Face(
                    np.frombuffer(corners).reshape(-1, 3),
                    face.kind,
                    face.panel,
                    face.normal,
                    tuple(map(bool, outlines)),
                    face.body,
                    face.seen_through,
                )
            )
        self._levels = [level for level, _, _ in nodes]
        self._hung = [[front, back] for _, front, back in nodes]
        return [level[0] for level in self._levels]

    def _parted(self, faces: list[Face]) -> list[int]:
        """The same with NumPy, where nothing is compiled."""
        corners = _Corners(faces)
        # What is to be parted, and the node and side it hangs on; an explicit stack, as long strips
        # go deep.
        stack: list[tuple[np.ndarray, int, int]] = [(np.arange(len(faces)), -1, 0)]
        while stack:
            item, parent, side = stack.pop()
            if not len(item):
                continue
            number = len(self._hung)
            if parent >= 0:
                self._hung[parent][side] = number
            pivot, rest = corners.faces[item[0]], item[1:]
            sides = corners.sides(rest, pivot)
            ahead, behind = sides.min(axis=1) >= -NEAR, sides.max(axis=1) <= NEAR
            front, back = rest[ahead & ~behind], rest[behind & ~ahead]
            for straddling, at in zip(rest[~ahead & ~behind], sides[~ahead & ~behind], strict=True):
                near, far = _split(corners.faces[straddling], at)
                front, back = np.append(front, corners.add(near)), np.append(back, corners.add(far))
            self._hung.append([-1, -1])
            self._levels.append([int(item[0]), *rest[ahead & behind].tolist()])
            stack += [(front, number, 0), (back, number, 1)]
        self.faces = corners.faces
        return [level[0] for level in self._levels]

    def ordered(self, towards: np.ndarray, *, turned_away: bool = False) -> list[int]:
        """Numbers of the faces turned to the eye, each before those nearer to it.

        Args:
            towards: (3,) direction from the part to the eye.
            turned_away: those turned away from it too.
        """
        if not self._levels:
            return []
        faces = (self.normals @ towards > 1e-9) | turned_away
        nearer = self._planes @ towards > 0
        result: list[int] = []
        # A node's far side, its own faces, its near side; ~n is the turn of node n's own.
        stack = [0]
        while stack:
            n = stack.pop()
            if n < 0:
                result += [i for i in self._levels[~n] if faces[i]]
                continue
            front, back = self._hung[n]
            far, near = (back, front) if nearer[n] else (front, back)
            stack += [*((near,) if near >= 0 else ()), ~n, *((far,) if far >= 0 else ())]
        return result


def _split(face: Face, distances: np.ndarray) -> tuple[Face, Face]:
    """The parts of a face before and behind a plane, by its corners' distances from it."""
    ahead: list[np.ndarray] = []
    back: list[np.ndarray] = []
    of_ahead: list[bool] = []
    of_back: list[bool] = []
    n = len(face.points)
    side = np.where(
        np.abs(distances) <= NEAR, 0.0, distances
    ).tolist()  # what lies in the plane lies on neither side
    for i, outlined in enumerate(face.outlines):
        p, q = face.points[i], face.points[(i + 1) % n]
        a, b = side[i], side[(i + 1) % n]
        # An edge belongs to the side it starts on; where it leaves that side, the new edge along
        # the plane follows.
        if a >= 0:
            ahead.append(p)
            of_ahead.append(outlined and (a > 0 or b >= 0))
        if a <= 0:
            back.append(p)
            of_back.append(outlined and (a < 0 or b <= 0))
        if a * b < 0:
            cut = p + (q - p) * (a / (a - b))
            ahead.append(cut)
            back.append(cut)
            of_ahead.append(outlined and b > 0)
            of_back.append(outlined and b < 0)
    return (
        Face(
            np.array(ahead),
            face.kind,
            face.panel,
            face.normal,
            tuple(of_ahead),
            face.body,
            face.seen_through,
        ),
        Face(
            np.array(back),
            face.kind,
            face.panel,
            face.normal,
            tuple(of_back),
            face.body,
            face.seen_through,
        ),
    )
