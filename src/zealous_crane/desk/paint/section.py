"""A part cut through: what lies before a plane is taken away, and the metal in the plane is shown."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

import numpy as np

from ...measure.dataclass import dataclass
from .depth import Face

ON = 1e-6
"""mm within which a corner lies in the plane."""


@dataclass(frozen=True)
class Section:
    """A plane across the folded part.

    Attributes:
        axis: 0 where it stands across the part's length, 1 where across its width.
        at: where along that axis, mm.
        keeps: 1 where what is beyond is kept, −1 where what is before.
    """

    axis: int
    at: float
    keeps: int


def cut_away(faces: Sequence[Face], section: Section) -> list[Face]:
    """The faces of convex bodies on one side of a plane, and the metal that the plane cuts as faces of the kind ``cut``.

    Args:
        faces: of bodies, each of which is told apart by ``body``; others are cut off, and show no metal.
        section: the plane.
    """
    kept: list[Face] = []
    cuts: dict[int, list[np.ndarray]] = defaultdict(list)
    normal = np.zeros(3)
    normal[section.axis] = -float(section.keeps)
    for face in faces:
        side = (face.points[:, section.axis] - section.at) * section.keeps
        if side.max() <= ON:
            continue
        if side.min() >= -ON:
            kept.append(face)
            continue
        points, outlined, on = _beyond(face, side.tolist())
        kept.append(Face(points, face.kind, face.panel, face.normal, outlined, face.body, face.seen_through))
        if face.body >= 0:
            cuts[face.body] += on
    for body, on in cuts.items():
        ring = _ring(np.array(on), section.axis)
        if len(ring) >= 3:
            panel = next(face.panel for face in faces if face.body == body)
            kept.append(Face(ring, "cut", max(panel, 0), normal, (True,) * len(ring), body))
    return kept


def _beyond(face: Face, side: list[float]) -> tuple[np.ndarray, tuple[bool, ...], list[np.ndarray]]:
    """The part of a face beyond the plane, which of its edges are the metal's, and where its rim meets the plane."""
    points: list[np.ndarray] = []
    outlined: list[bool] = []
    on: list[np.ndarray] = []
    n = len(face.points)
    for i, real in enumerate(face.outlines):
        p, q, a, b = face.points[i], face.points[(i + 1) % n], side[i], side[(i + 1) % n]
        if a >= 0:
            points.append(p)
            outlined.append(real)
        if a * b < 0:
            cut = p + (q - p) * (a / (a - b))
            points.append(cut)
            outlined.append(real and b > 0)
            on.append(cut)
        elif abs(a) <= ON:
            on.append(p)
    return np.array(points), tuple(outlined), on


def _ring(points: np.ndarray, axis: int) -> np.ndarray:
    """Points (n, 3) of a convex polygon in a plane across an axis, in order and each once."""
    flat = np.delete(points, axis, axis=1)
    _, first = np.unique(np.round(flat, 6), axis=0, return_index=True)
    points, flat = points[first], flat[first]
    out = flat - flat.mean(axis=0)
    return points[np.argsort(np.arctan2(out[:, 1], out[:, 0]))]
