"""Two folded parts in one picture: the one that follows where it goes, the other about it."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from ...blank import Blank, Pose
from ...measure.dataclass import dataclass
from ..theme import Look
from .depth import DepthTree, Face
from .folded import LIGHT, folded_faces, view_axes
from .frame import Scale


@dataclass(frozen=True, eq=False)
class Pair:
    """Two blanks and where the second stands in the frame of the first.

    Attributes:
        master, follower: the blanks.
        pose: of the follower.
        marked: names of panels of follower and master that meet.
    """

    master: Blank
    follower: Blank
    pose: Pose
    marked: tuple[tuple[str, str], ...] = ()


def pair_faces(pair: Pair) -> list[Face]:
    """Faces of both parts in the frame of the master, which is seen through."""
    meets = {name for name, _ in pair.marked}, {name for _, name in pair.marked}
    faces = []
    for face in folded_faces(pair.follower, 1.0):
        points, normal = pair.pose.apply(face.points), pair.pose.turn @ face.normal
        hit = face.panel >= 0 and pair.follower.panels[face.panel].name in meets[0]
        faces.append(Face(points, "stop" if hit else "moving", face.panel, normal))
    for face in folded_faces(pair.master, 1.0):
        hit = face.panel >= 0 and pair.master.panels[face.panel].name in meets[1]
        faces.append(Face(face.points, "stop" if hit else face.kind, face.panel, face.normal, seen_through=True))
    return faces


def paint_pair(p: QPainter, rect: QRectF, pair: Pair, look: Look, *, turn: float, tilt: float, reach: float) -> None:
    """Draw both parts; the master is seen through.

    Args:
        p, rect, pair, look: what is painted where and how.
        turn, tilt: how it is looked at, degrees.
        reach: mm about the master's middle that the picture shows, so that it stays the same size while a part moves.
    """
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    axes = view_axes(turn, tilt)
    corners = np.concatenate([face.points for face in folded_faces(pair.master, 1.0)])
    middle = (axes @ ((corners.min(axis=0) + corners.max(axis=0)) / 2))[:2]
    scale = Scale.fitting(
        (middle[0] - reach, middle[1] - reach), (middle[0] + reach, middle[1] + reach), rect.adjusted(8, 8, -8, -8)
    )
    tree = DepthTree([face for face in pair_faces(pair) if face.normal @ axes[2] > 1e-9 or face.seen_through])
    for number in tree.ordered(axes[2], turned_away=True):
        face = tree.faces[number]
        color = QColor(look.color(face.kind if face.kind in ("stop", "moving", "inside", "outside") else "metal"))
        shade = 0.72 + 0.34 * abs(float(face.normal @ LIGHT))
        color = color.lighter(round(100 * shade)) if shade >= 1 else color.darker(round(100 / shade))
        if face.seen_through:
            color.setAlpha(70)
        p.setBrush(color)
        p.setPen(Qt.PenStyle.NoPen if face.panel == -1 else QPen(look.color("metal_edge"), 1.0))
        flat = face.points @ axes.T
        p.drawPolygon(QPolygonF([scale.point(x, y) for x, y, _ in flat]))
    p.restore()
