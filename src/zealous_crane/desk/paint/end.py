"""The brake from its end with the part in it: exactly the sections the engine judged."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QPainter, QPen

from ...blank import strip_section
from ...measure import show_angle
from ...plan import PlannedStroke, State, swung
from ..theme import Look, pixels
from .frame import Scale
from .sign import paint_state


def end_scale(stroke: PlannedStroke, rect: QRectF) -> Scale:
    """The scale of the end view: fold line in the middle, fingers and the swing of the wall in sight."""
    tools = stroke.verdict.stroke.tools
    top = float(tools.finger.outline[:, 1].max())
    reach = min(max(tip_radius(stroke), top * 0.7), top * 2.2) * 1.12
    back = max(float(tools.finger.outline[:, 0].max()) * 1.35, reach * 0.75)
    high = max(top * 1.22, reach * 1.06)
    return Scale.fitting((-reach, -0.42 * top), (back, high), rect.adjusted(6, 6, -6, -6))


def tip_radius(stroke: PlannedStroke) -> float:
    """Pole to the farthest corner of the panel being folded, mm."""
    setting = stroke.verdict.stroke.setting
    shadow = _folding_shadow(stroke)
    return float(np.hypot(*(shadow - setting.pole).T).max())


def _folding_shadow(stroke: PlannedStroke) -> np.ndarray:
    setting = stroke.verdict.stroke.setting
    return next(s.shadow for s in setting.solids[1] if s.panel == setting.folding)


def handle_place(stroke: PlannedStroke, degrees: float, scale: Scale) -> QPointF:
    """Where the angle's handle is drawn: a little way out along the panel being folded."""
    setting = stroke.verdict.stroke.setting
    out = min(tip_radius(stroke), float(stroke.verdict.stroke.tools.finger.outline[:, 1].max()) * 1.2) * 0.86
    y, z = swung(np.array([[-out, setting.blank.thickness / 2]]), setting.pole, degrees)[0]
    return scale.point(y, z)


def angle_at(stroke: PlannedStroke, place: QPointF, scale: Scale) -> float:
    """The angle (degrees) whose panel points at a place of the painter."""
    y, z = scale.back(place)
    pole = stroke.verdict.stroke.setting.pole
    return math.degrees(math.atan2(z - pole[1], -(y - pole[0])))


def paint_end(p: QPainter, rect: QRectF, stroke: PlannedStroke, degrees: float, look: Look, *, plain: bool = False) -> Scale:
    """Draw the end view with the leaf at ``degrees``.

    Args:
        plain: leave out words and handle (for cards).
    """
    engine = stroke.verdict.stroke
    setting, tools = engine.setting, engine.tools
    scale = end_scale(stroke, rect)
    p.save()
    p.setClipRect(rect)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    thin = max(0.8, rect.height() / 420)

    def fill(outline: np.ndarray, color: str, edge: str, *, alpha: int = 255, style: Qt.BrushStyle | None = None) -> None:
        p.setPen(QPen(look.color(edge, max(alpha, 110)), thin))
        p.setBrush(QBrush(look.color(color, alpha), style or Qt.BrushStyle.SolidPattern))
        p.drawPolygon(scale.polygon(outline))

    # What stands beside the section is a silhouette; what is cut by it is solid.
    for solid in setting.solids[0]:
        if solid.panel != setting.clamped:
            fill(solid.shadow, "metal", "metal_edge", alpha=70)
    for profile in (tools.bed, tools.beam):
        fill(profile.outline, "tool", "tool_edge")
    fill(tools.finger.outline, "tool", "tool_edge", alpha=215)
    fill(swung(tools.leaf.outline, tools.hinge, degrees), "tool", "tool_edge")
    for solid in setting.solids[1]:
        if solid.panel != setting.folding:
            fill(swung(solid.shadow, setting.pole, degrees), "moving", "metal_edge", alpha=90)
    clamped = next(s.shadow for s in setting.solids[0] if s.panel == setting.clamped)
    fill(clamped, "metal", "metal_edge")
    fill(swung(_folding_shadow(stroke), setting.pole, degrees), "moving", "metal_edge")
    for piece in strip_section(setting.line.bend, max(degrees, 0.0)):
        fill(np.column_stack([-piece[:, 0], piece[:, 1]]), "moving", "moving")
    limit = stroke.verdict.limit
    if limit is not None and limit.obstacle.phase != "swing":
        # What will not go in or be clamped is drawn over the tool it meets.
        for solid in (*setting.solids[0], *setting.solids[1]):
            if solid.name == limit.obstacle.body:
                fill(solid.shadow, "stop", "stop", alpha=60)
    elif not plain:
        _angles(p, rect, stroke, degrees, scale, look)
    p.restore()
    return scale


def _ray(stroke: PlannedStroke, degrees: float, reach: float) -> tuple[float, float]:
    pole = stroke.verdict.stroke.setting.pole
    a = math.radians(degrees)
    return float(pole[0] - reach * math.cos(a)), float(pole[1] + reach * math.sin(a))


def _angles(p: QPainter, rect: QRectF, stroke: PlannedStroke, degrees: float, scale: Scale, look: Look) -> None:
    verdict = stroke.verdict
    setting = verdict.stroke.setting
    pole = scale.point(*setting.pole)
    reach = tip_radius(stroke)
    text = max(11.0, min(15.0, rect.height() / 30))
    p.setFont(pixels(text, strong=True))
    marks = [(verdict.wanted, "wanted", "accent", Qt.PenStyle.DashLine)]
    if stroke.contact is not None:
        marks.append((stroke.contact.angle, "touches", "stop", Qt.PenStyle.SolidLine))
    arc = reach * scale.factor * 1.03
    for angle, word, color, style in marks:
        pen = QPen(look.color(color), 1.6)
        pen.setStyle(style)
        p.setPen(pen)
        tip = scale.point(*_ray(stroke, angle, reach * 1.06))
        p.drawLine(scale.point(*_ray(stroke, angle, reach * 0.93)), tip)
        lift = -text * 1.35 if word == "touches" else -text * 0.1
        label = f"{word} {show_angle(angle)}"
        wide = p.fontMetrics().horizontalAdvance(label)
        x = min(max(tip.x() + text * 0.5 if word == "touches" else tip.x() - wide - text * 0.5, rect.left() + 4),
                rect.right() - wide - 4)  # fmt: skip
        y = min(max(tip.y() + lift, rect.top() + text * 1.2), rect.bottom() - 4)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(look.color("bench", 215))
        p.drawRoundedRect(QRectF(x - 3, y - text, wide + 6, text * 1.35), 3, 3)
        p.setPen(look.color(color))
        p.drawText(QPointF(x, y), label)
    p.setPen(QPen(look.color("accent"), 1.2))
    p.drawArc(QRectF(pole.x() - arc, pole.y() - arc, 2 * arc, 2 * arc), 180 * 16, -round(degrees * 16))
    touching = stroke.contact is not None and degrees >= stroke.contact.angle - 1e-6
    if touching and stroke.contact is not None and stroke.contact.obstacle.at is not None:
        at = scale.point(*stroke.contact.obstacle.at)
        p.setPen(QPen(look.color("stop"), 2.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(at, 9, 9)
        paint_state(p, at + QPointF(18, -12), 13, State.STOP, look)
    grip = handle_place(stroke, degrees, scale)
    p.setPen(QPen(look.color("field"), 2))
    p.setBrush(look.color("stop" if touching else "accent"))
    p.drawEllipse(grip, 8, 8)
    label = show_angle(degrees)
    p.setFont(pixels(text * 1.35, bold=True))
    wide = p.fontMetrics().horizontalAdvance(label)
    spot = grip + QPointF(-wide - 16, text * 0.5)
    spot.setX(max(rect.left() + 4, spot.x()))
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(look.color("bench", 225))
    p.drawRoundedRect(QRectF(spot.x() - 4, spot.y() - text * 1.35, wide + 8, text * 1.75), 3, 3)
    p.setPen(look.color("ink"))
    p.drawText(spot, label)
