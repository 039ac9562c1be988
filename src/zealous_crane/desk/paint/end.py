"""The brake from its end with the part in it: exactly the sections the engine judged."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPen

from ...measure import show_angle
from ...measure.words import tr
from ...plan.geometry.obstacle import Phase
from ...plan.result.plan import PlannedStroke
from ...plan.result.state import State
from ...plan.stroke.piece import PieceKind
from ...plan.stroke.scene import angle_of, direction, scene
from ..theme import Look, pixels
from .frame import Scale, first_free
from .sign import paint_state

LEAST_SEEN = 120.0
"""mm of a wall that are seen beside tools however low these are."""


def end_scale(stroke: PlannedStroke, rect: QRectF) -> Scale:
    """The scale of the end view: fold line in the middle, tools and the swing of the wall in sight."""
    engine = stroke.verdict.stroke
    if engine.tall_tools:
        # Tools are tall beside the metal: what is looked at is the part and where it comes near them.
        setting = engine.setting
        far = max(float(np.hypot(*(s.shadow - setting.pole).T).max()) for group in setting.solids for s in group)
        near = min(max(far * 1.15, 45.0), 260.0)
        return Scale.fitting((-near, -0.45 * near), (near, 0.95 * near), rect.adjusted(6, 6, -6, -6))
    tools = [piece.outline for piece in scene(engine, 0.0) if piece.kind is PieceKind.SECTION]
    top = max(float(outline[:, 1].max()) for outline in tools)
    behind = max(float(outline[:, 0].max()) for outline in tools)
    reach = min(max(tip_radius(stroke), top * 0.7), max(top * 2.2, LEAST_SEEN)) * 1.12
    back = max(behind * 1.35, reach * 0.75)
    low = max(0.42 * top, 0.2 * reach)
    high = max(top * 1.22, reach * 1.06)
    return Scale.fitting((-reach, -low), (back, high), rect.adjusted(6, 6, -6, -6))


def tip_radius(stroke: PlannedStroke) -> float:
    """Pole to the farthest corner of the panel being folded, mm."""
    setting = stroke.verdict.stroke.setting
    shadow = next(s.shadow for s in setting.solids[1] if s.panel == setting.folding)
    return float(np.hypot(*(shadow - setting.pole).T).max())


def handle_place(stroke: PlannedStroke, degrees: float, scale: Scale) -> QPointF:
    """Where the angle's handle is drawn: a little way out along the panel being folded."""
    engine = stroke.verdict.stroke
    top = max(float(p.outline[:, 1].max()) for p in scene(engine, 0.0) if p.kind is PieceKind.SECTION)
    out = min(tip_radius(stroke), 200.0 if engine.tall_tools else max(top * 1.2, LEAST_SEEN)) * 0.86
    y, z = _ray(stroke, degrees, out)
    return scale.point(y, z)


def angle_at(stroke: PlannedStroke, place: QPointF, scale: Scale) -> float:
    """The angle (degrees) whose panel points at a place of the painter."""
    y, z = scale.back(place)
    pole = stroke.verdict.stroke.setting.pole
    return angle_of(stroke.verdict.stroke, math.atan2(z - pole[1], -(y - pole[0])))


FILLS = {
    PieceKind.RESTING: ("metal", "metal_edge", 70),
    PieceKind.TOOL: ("tool", "tool_edge", 255),
    PieceKind.SECTION: ("tool", "tool_edge", 215),
    PieceKind.SWINGING: ("moving", "metal_edge", 90),
    PieceKind.CLAMPED: ("metal", "metal_edge", 255),
    PieceKind.FOLDING: ("moving", "metal_edge", 255),
    PieceKind.BEND: ("moving", "moving", 255),
}
"""Fill, edge and how dense, by what a piece of the scene is: what is cut by the section is solid, what stands beside it a
silhouette."""


def paint_end(p: QPainter, rect: QRectF, stroke: PlannedStroke, degrees: float, look: Look, *, plain: bool = False) -> Scale:
    """Draw the end view with the fold at ``degrees``.

    Args:
        plain: leave out words and handle (for cards).
    """
    engine = stroke.verdict.stroke
    scale = end_scale(stroke, rect)
    p.save()
    p.setClipRect(rect)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    thin = max(0.8, rect.height() / 420)

    def fill(outline: np.ndarray, color: str, edge: str, alpha: int) -> None:
        p.setPen(QPen(look.color(edge, max(alpha, 110)), thin))
        p.setBrush(look.color(color, alpha))
        p.drawPolygon(scale.polygon(outline))

    for piece in scene(engine, degrees):
        fill(piece.outline, *FILLS[piece.kind])
    limit = stroke.verdict.limit
    if limit is not None and limit.obstacle.phase is not Phase.SWING:
        # What will not go in or be clamped is drawn over the tool it meets.
        struck = limit.obstacle.body._replace(across=False)
        for piece in scene(engine, degrees):
            if piece.body == struck:
                fill(piece.outline, "stop", "stop", 60)
    elif not plain:
        _angles(p, rect, stroke, degrees, scale, look)
    p.restore()
    return scale


def _ray(stroke: PlannedStroke, degrees: float, reach: float) -> tuple[float, float]:
    pole = stroke.verdict.stroke.setting.pole
    a = direction(stroke.verdict.stroke, degrees)
    return float(pole[0] - reach * math.cos(a)), float(pole[1] + reach * math.sin(a))


def _angles(p: QPainter, rect: QRectF, stroke: PlannedStroke, degrees: float, scale: Scale, look: Look) -> None:
    """The angle it stands at, beside the handle, and those that are wanted and at which it touches: each where it covers no other."""
    verdict = stroke.verdict
    setting = verdict.stroke.setting
    pole = scale.point(*setting.pole)
    reach = tip_radius(stroke)
    text = max(11.0, min(15.0, rect.height() / 30))
    grip = handle_place(stroke, degrees, scale)
    stands, letters = show_angle(degrees), pixels(text * 1.35, bold=True)
    wide = QFontMetricsF(letters).horizontalAdvance(stands)
    spot = QPointF(max(rect.left() + 4, grip.x() - wide - 16), grip.y() + text * 0.5)
    ground = QRectF(spot.x() - 4, spot.y() - text * 1.35, wide + 8, text * 1.75)
    taken = [ground, QRectF(grip.x() - 9, grip.y() - 9, 18, 18)]
    arc = reach * scale.factor * 1.03
    for angle, label, color, style in _marks(stroke):
        tip = scale.point(*_ray(stroke, angle, reach * 1.06))
        p.setFont(pixels(text, strong=True))
        pen = QPen(look.color(color), 1.6)
        pen.setStyle(style)
        p.setPen(pen)
        p.drawLine(scale.point(*_ray(stroke, angle, reach * 0.93)), tip)
        across = p.fontMetrics().horizontalAdvance(label)
        beyond = color == "stop"
        place = QRectF(
            tip.x() + text * 0.5 if beyond else tip.x() - across - text * 0.5,
            tip.y() - text * (2.35 if beyond else 1.1), across, text * 1.35,
        ).adjusted(-3, 0, 3, 0)  # fmt: skip
        place = free_place(place, rect, taken)
        taken.append(place)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(look.color("bench", 215))
        p.drawRoundedRect(place, 3, 3)
        p.setPen(look.color(color))
        p.drawText(QPointF(place.left() + 3, place.top() + text), label)
    p.setPen(QPen(look.color("accent"), 1.2))
    p.drawArc(QRectF(pole.x() - arc, pole.y() - arc, 2 * arc, 2 * arc), 180 * 16,
              -round(math.degrees(direction(stroke.verdict.stroke, degrees)) * 16))  # fmt: skip
    touching = stroke.contact is not None and degrees >= stroke.contact.angle - 1e-6
    if touching and stroke.contact is not None and stroke.contact.obstacle.at is not None:
        at = scale.point(*stroke.contact.obstacle.at)
        p.setPen(QPen(look.color("stop"), 2.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(at, 9, 9)
        paint_state(p, at + QPointF(18, -12), 13, State.STOP, look)
    p.setPen(QPen(look.color("field"), 2))
    p.setBrush(look.color("stop" if touching else "accent"))
    p.drawEllipse(grip, 8, 8)
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(look.color("bench", 225))
    p.drawRoundedRect(ground, 3, 3)
    p.setFont(letters)
    p.setPen(look.color("ink"))
    p.drawText(spot, stands)


def _marks(stroke: PlannedStroke) -> list[tuple[float, str, str, Qt.PenStyle]]:
    """Angles that are marked on the swing: degrees, what is said of each, in which colour and how drawn."""
    wanted = stroke.verdict.wanted
    marks = [(wanted, tr("wanted {angle}").format(angle=show_angle(wanted)), "accent", Qt.PenStyle.DashLine)]
    if stroke.contact is not None:
        touches = stroke.contact.angle
        marks.append((touches, tr("touches {angle}").format(angle=show_angle(touches)), "stop", Qt.PenStyle.SolidLine))
    return marks


MOST_MOVED = 40
"""Quarters of its height by which a label is moved at most."""


def free_place(place: QRectF, room: QRectF, taken: Sequence[QRectF]) -> QRectF:
    """A label's place within a room, moved up or down to the nearest where it covers none of those taken; left where there is none."""
    within = QRectF(place)
    within.moveLeft(min(max(place.left(), room.left() + 4), room.right() - place.width() - 4))
    within.moveTop(min(max(place.top(), room.top() + 2), room.bottom() - place.height() - 2))
    step = place.height() / 4
    moves = (move for k in range(1, MOST_MOVED) for move in (step * k, -step * k))
    return first_free((within.translated(0, move) for move in (0.0, *moves)), room, taken) or within
