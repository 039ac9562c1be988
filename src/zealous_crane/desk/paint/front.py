"""The brake from where the operator stands: fingers under the beam, the part's footprint, what room is left."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QPainter, QPen

from ...measure import Units, show_length
from ...measure.words import tr
from ...plan.geometry.contact import hull
from ...plan.result.plan import PlannedStroke
from ...plan.stroke.piece import PieceKind
from ...plan.stroke.scene import scene
from ..theme import Look, pixels
from .frame import Scale


def paint_front(p: QPainter, rect: QRectF, stroke: PlannedStroke, units: Units, look: Look, *, text: float = 13.0) -> None:
    """Draw the front view of one stroke with its fingers; walls that stand are seen behind or beside them."""
    engine = stroke.verdict.stroke
    setting = engine.setting
    standing = scene(engine, 0.0)
    high_tool = max(float(piece.outline[:, 1].max()) for piece in standing if piece.kind is PieceKind.SECTION)
    low, high = setting.x_range
    first, last = stroke.sections[0][0], stroke.sections[-1][1]
    low, high = min(low, first), max(high, last)
    spare = max((high - low) * 0.08, 20.0)
    t = setting.blank.thickness
    top = high_tool
    drop = engine.tooling.head
    p.save()
    p.setClipRect(rect)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    room = rect.adjusted(10, 8, -10, -8 - text * 4.2)
    scale = Scale.fitting((low - spare, -top * 0.3), (high + spare, top * 1.3), room)
    left, right = scale.back(rect.topLeft())[0], scale.back(rect.topRight())[0]

    def box(x0: float, z0: float, x1: float, z1: float) -> QRectF:
        return QRectF(scale.point(x0, z1), scale.point(x1, z0))

    p.setPen(QPen(look.color("tool_edge"), 1))
    p.setBrush(look.color("tool"))
    if any(piece.kind is PieceKind.TOOL and piece.outline[:, 1].max() > top + 1e-6 for piece in standing):
        p.drawRect(box(left - 9, top, right + 9, top * 2))
    p.drawRect(box(left - 9, -top * 0.3, right + 9, 0))
    # Walls that stand: seen whole, fingers drawn over those behind them.
    for solid in setting.solids[0]:
        outline = hull(solid.corners[:, [0, 2]])
        if len(outline) < 3:
            continue
        resting = solid.panel == setting.clamped
        p.setPen(QPen(look.color("metal_edge"), 1))
        p.setBrush(look.color("metal", 255 if resting else 150))
        p.drawPolygon(scale.polygon(outline))
    for a, b in stroke.sections:
        p.setPen(QPen(look.color("tool_edge"), 1.2))
        p.setBrush(look.color("field", 235))
        p.drawRect(box(a, t, b, top))
        if drop > 0:
            p.setBrush(look.color("tool", 255))
            p.drawRect(box(a, top - drop, b, top))
    _walls(p, stroke, scale, look)
    p.setFont(pixels(text * 1.15, bold=True))
    p.setPen(look.color("ink"))
    for a, b in stroke.sections:
        label, r = show_length(b - a, engine.tooling.marked_in, mark=False, pretty=True), box(a, t, b, top)
        if p.fontMetrics().horizontalAdvance(label) < r.width() - 4:
            # On a ground of its own: the wall's outline may run behind it.
            ground = QRectF(p.fontMetrics().boundingRect(label)).adjusted(-3, -1, 3, 1)
            ground.moveCenter(r.center())
            p.fillRect(ground, look.color("field", 220))
            p.drawText(r, Qt.AlignmentFlag.AlignCenter, label)
    _rule(p, stroke, scale, rect, units, look, text)
    p.restore()


def _walls(p: QPainter, stroke: PlannedStroke, scale: Scale, look: Look) -> None:
    """What is being folded, each wall as an outline where it will stand in front of everything."""
    setting = stroke.verdict.stroke.setting
    t = setting.blank.thickness
    pen = QPen(look.color("moving"), 2)
    pen.setStyle(Qt.PenStyle.DashLine)
    p.setPen(pen)
    p.setBrush(QBrush(look.color("moving", 40)))
    for panel in sorted(setting.folding_panels):
        pieces = [solid for solid in setting.solids[1] if solid.panel == panel]
        length = float(np.ptp(np.concatenate([solid.shadow[:, 0] for solid in pieces])))
        low, high = min(solid.x_range[0] for solid in pieces), max(solid.x_range[1] for solid in pieces)
        outline = np.array([(low, 0.0), (high, 0.0), (high, t + length), (low, t + length)])
        p.drawPolygon(scale.polygon(outline))


def rule_words(stroke: PlannedStroke, units: Units) -> str:
    """What is folded in one stroke, from end to end, and how far the sections stop short of its ends."""
    setting, pieces = stroke.verdict.stroke.setting, stroke.verdict.stroke.tooling.sections.kind.many
    a, b = setting.span
    count, length = len(setting.folds), show_length(b - a, units, pretty=True)
    said = (
        tr("fold {length}").format(length=length)
        if count == 1
        else tr("{count} folds in one, {length} from end to end").format(count=count, length=length)
    )
    ends = [stroke.sections[0][0] - a, b - stroke.sections[-1][1]]
    if max(map(abs, ends)) < 0.5:
        said += tr("   ·   {pieces} cover it from end to end").format(pieces=pieces)
    elif min(ends) >= 0:
        shown = tr(" and ").join(dict.fromkeys(show_length(e, units, pretty=True) for e in ends))
        said += tr("   ·   {pieces} stop {shown} short of its ends").format(pieces=pieces, shown=shown)
    else:
        said += tr("   ·   {pieces} reach past its ends").format(pieces=pieces)
    return said


def _rule(p: QPainter, stroke: PlannedStroke, scale: Scale, rect: QRectF, units: Units, look: Look, text: float) -> None:
    """Under the view: where fingers may stand, the fold, and how far the fingers stop short of its ends."""
    engine = stroke.verdict.stroke
    a, b = engine.setting.span
    y = rect.bottom() - text * 1.9
    p.setFont(pixels(text))
    band = y - text * 1.0
    left, right = scale.back(rect.topLeft())[0], scale.back(rect.topRight())[0]
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(look.color("works"))
    for low, high in stroke.verdict.free:
        x0, x1 = scale.point(max(low, left), 0).x(), scale.point(min(high, right), 0).x()
        if x1 > x0:
            p.drawRect(QRectF(x0, band, x1 - x0, text * 0.3))
    p.setPen(look.color("works"))
    p.drawText(
        QPointF(rect.left() + 4, band - text * 0.25), tr("{pieces} may stand").format(pieces=engine.tooling.sections.kind.many)
    )
    p.setPen(QPen(look.color("ink"), 1.2))
    p.drawLine(QPointF(scale.point(a, 0).x(), y), QPointF(scale.point(b, 0).x(), y))
    for x in (a, b):
        p.drawLine(QPointF(scale.point(x, 0).x(), y - text * 0.35), QPointF(scale.point(x, 0).x(), y + text * 0.2))
    p.drawText(
        QRectF(rect.left(), y + text * 0.3, rect.width(), text * 1.5),
        Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop,
        rule_words(stroke, units),
    )
