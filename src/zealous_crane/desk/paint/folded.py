"""The part folded up, turned to be looked at; inside and outside face told apart."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QPen, QPolygonF

from ...blank import Blank, Pose, panel_poses, strip_prisms
from ...blank.crossing import cross
from ..theme import Look
from .depth import Face, back_to_front
from .frame import Scale

FINE = 1.4
"""Painter units; bends and edges smaller than this are left to the outlines."""


def _prism(ring: np.ndarray, other: np.ndarray, kinds: tuple[str, str], panel: int, pose: Pose) -> list[Face]:
    """Faces of a convex prism between two copies of a ring (n, 3)."""
    a, b = pose.apply(ring), pose.apply(other)
    inner = (a.mean(axis=0) + b.mean(axis=0)) / 2
    n = len(ring)
    on = np.arange(1, n + 1) % n
    sides = np.stack([a, b, b[on], a[on]], axis=1)
    normals = cross(sides[:, 1] - sides[:, 0], sides[:, 2] - sides[:, 0])
    ends = cross(np.broadcast_to(a[1] - a[0], (n - 2, 3)), a[2:] - a[0])
    # The first three corners may lie on a line; the widest spread gives the plane.
    end = ends[np.argmax(np.einsum("ij,ij->i", ends, ends))]
    normals = np.vstack([end, end, normals])
    faces = [(a, kinds[0]), (b[::-1], kinds[1]), *((side, "edge") for side in sides)]
    middles = np.vstack([a.mean(axis=0), b.mean(axis=0), sides.mean(axis=1)])
    lengths = np.linalg.norm(normals, axis=1)
    outward = np.einsum("ij,ij->i", normals, middles - inner)
    signs = np.where(outward < 0, -1.0, 1.0)
    return [
        Face(points, kind, panel, normals[i] * (signs[i] / lengths[i]))
        for i, (points, kind) in enumerate(faces)
        if lengths[i] > 1e-9
    ]


@lru_cache(maxsize=8)
def folded_faces(blank: Blank, share: float, *, thin: bool = False) -> tuple[Face, ...]:
    """Faces of the part with every fold at ``share`` (0 to 1) of its angle.

    Kept for the last few shapes, which are painted again and again. With ``thin`` only the two faces of every panel: their edges
    and the bent strips would be finer than a line.
    """
    angles = [fold.angle * share for fold in blank.folds]
    poses = panel_poses(blank, angles)
    t = blank.thickness
    faces: list[Face] = []
    for i, panel in enumerate(blank.panels):
        for flat in panel.pieces:
            low = np.column_stack([flat, np.zeros(len(flat))])
            high = np.column_stack([flat, np.full(len(flat), t)])
            if thin:
                up = poses[i].turn[:, 2]
                faces += [Face(poses[i].apply(low), "outside", i, -up), Face(poses[i].apply(high), "inside", i, up)]
            else:
                faces += _prism(low, high, ("outside", "inside"), i, poses[i])
    if thin:
        return tuple(faces)
    for fold, angle in zip(blank.folds, angles, strict=True):
        for prism in strip_prisms(fold, angle, t):
            start, end = np.split(prism, 2)
            faces += _prism(start, end, ("edge", "edge"), -1, poses[fold.parent])
    return tuple(faces)


def view_axes(turn: float, tilt: float) -> np.ndarray:
    """(3, 3) rows: right, up and towards the eye, for a turn about the upright and a tilt, degrees."""
    a, b = math.radians(turn), math.radians(tilt)
    right = np.array([math.cos(a), math.sin(a), 0.0])
    eye = np.array([math.sin(a) * math.cos(b), -math.cos(a) * math.cos(b), math.sin(b)])
    return np.array([right, np.cross(eye, right), eye])


@lru_cache(maxsize=8)
def faces_seen(blank: Blank, share: float, turn: float, tilt: float, *, thin: bool = False) -> tuple[Face, ...]:
    """The faces that are turned to the eye, each before those nearer to it."""
    eye = view_axes(turn, tilt)[2]
    return tuple(back_to_front([f for f in folded_faces(blank, share, thin=thin) if f.normal @ eye > 1e-9], eye))


def fitted(rect: QRectF, corners: np.ndarray, axes: np.ndarray) -> Scale:
    """The scale at which a part with these corners (n, 3) is shown whole, whichever way it is turned.

    The frame is a ball round the part, so that turning it never changes its size.
    """
    seen = corners @ axes.T
    centre = (corners.min(axis=0) + corners.max(axis=0)) / 2
    half = float(np.linalg.norm(corners - centre, axis=1).max()) * 0.86
    middle = (axes @ centre)[:2]
    # What sticks out of a slightly smaller ball may need a little more room.
    out = np.abs(seen[:, :2] - middle).max(axis=0) * 1.02
    room = rect.adjusted(8, 8, -8, -8)
    wide, tall = max(half, float(out[0])), max(half * 0.8, float(out[1]))
    return Scale.fitting((middle[0] - wide, middle[1] - tall), (middle[0] + wide, middle[1] + tall), room)


def paint_folded(
    p: QPainter, rect: QRectF, blank: Blank, look: Look, *, share: float = 1.0, turn: float = 28.0, tilt: float = 35.0,
    marked: int | None = None,
) -> None:  # fmt: skip
    """Draw the part folded to ``share`` of its angles, seen from a turn and a tilt; one panel may be marked."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    axes = view_axes(turn, tilt)
    span = float(np.hypot(*blank.size))
    thin = (blank.thickness + max((f.bend.radius for f in blank.folds), default=0.0)) * min(
        rect.width(), rect.height()
    ) < FINE * span
    faces = folded_faces(blank, share, thin=thin)
    scale = fitted(rect, np.concatenate([face.points for face in faces]), axes)
    light = np.array([-0.35, -0.5, 0.79])
    for face in faces_seen(blank, share, turn, tilt, thin=thin):
        color = look.color("moving" if marked is not None and face.panel == marked else
                           {"inside": "inside", "outside": "outside"}.get(face.kind, "metal"))  # fmt: skip
        shade = 0.72 + 0.34 * abs(float(face.normal @ light))
        p.setBrush(color.lighter(round(100 * shade)) if shade >= 1 else color.darker(round(100 / shade)))
        strip = face.panel == -1
        p.setPen(QPen(p.brush().color() if strip else look.color("metal_edge"), 0.8 if strip else 1.1))
        flat = face.points @ axes.T
        p.drawPolygon(QPolygonF([scale.point(x, y) for x, y, _ in flat]))
    p.restore()
