"""The brake from its end with the part in it: exactly the sections the engine judged."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QFontMetricsF, QPainter, QPen

from ..bending.drawing import Drawn, OutlineKind
from ..bending.scene import angle_of, direction, scene
from ..brake.tools import Segment
from ..i18n import tr
from ..kernel.contact import hull
from ..kernel.obstacle import Phase
from ..planning.outcome import Outcome
from ..planning.plan import PlannedStroke
from ..units.length import Units, show_length
from ..units.quantities import show_angle
from .frame import Scale, first_free, paint_state
from .theme import Theme, pixels

LEAST_SEEN = 120.0
"""mm of a wall that are seen beside tools however low these are."""


def end_scale(stroke: PlannedStroke, rect: QRectF) -> Scale:
    """The scale of the end view: fold line in the middle, tools and the swing of the wall in
    sight."""
    engine = stroke.verdict.stroke
    if engine.tall_tools:
        # Tools are tall beside the metal: what is looked at is the part and where it comes near
        # them.
        setting = engine.setting
        far = max(
            float(np.hypot(*(s.shadow - setting.pole).T).max())
            for group in setting.solids
            for s in group
        )
        near = min(max(far * 1.15, 45.0), 260.0)
        return Scale.fitting(
            (-near, -0.45 * near), (near, 0.95 * near), rect.adjusted(6, 6, -6, -6)
        )
    tools = [piece.outline for piece in scene(engine, 0.0) if piece.kind is OutlineKind.SECTION]
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
    """Where the angle's handle is drawn: a little way out along the panel being folded.

    Args:
        stroke: the stroke.
        degrees: the angle the bend stands at.
        scale: millimetres to units of the painter.
    """
    engine = stroke.verdict.stroke
    top = max(
        float(p.outline[:, 1].max()) for p in scene(engine, 0.0) if p.kind is OutlineKind.SECTION
    )
    out = min(tip_radius(stroke), 200.0 if engine.tall_tools else max(top * 1.2, LEAST_SEEN)) * 0.86
    y, z = _ray(stroke, degrees, out)
    return scale.point(y, z)


def angle_at(stroke: PlannedStroke, place: QPointF, scale: Scale) -> float:
    """The angle (degrees) whose panel points at a place of the painter.

    Args:
        stroke: the stroke.
        place: a place of the painter.
        scale: millimetres to units of the painter.
    """
    y, z = scale.back(place)
    pole = stroke.verdict.stroke.setting.pole
    return angle_of(stroke.verdict.stroke, math.atan2(z - pole[1], -(y - pole[0])))


FILLS = {
    OutlineKind.RESTING: ("metal", "metal_edge", 70),
    OutlineKind.TOOL: ("tool", "tool_edge", 255),
    OutlineKind.SECTION: ("tool", "tool_edge", 215),
    OutlineKind.SWINGING: ("moving", "metal_edge", 90),
    OutlineKind.CLAMPED: ("metal", "metal_edge", 255),
    OutlineKind.FOLDING: ("moving", "metal_edge", 255),
    OutlineKind.BEND: ("moving", "moving", 255),
}
"""Fill, edge and how dense, by what a piece of the scene is: what is cut by the section is solid,
what stands beside it a silhouette."""


CUT = (OutlineKind.TOOL, OutlineKind.SECTION)
"""What is cut by the plane one looks at, and hatched as a section is."""

HATCHED = 70
"""Of 255: how much of the hatching is seen."""


def _setback(p: QPainter, rect: QRectF, stroke: PlannedStroke, scale: Scale, look: Theme) -> None:
    """How far the nose stands behind the bed's edge, with its two ends below the sheet."""
    engine = stroke.verdict.stroke
    setback, at = engine.setback, engine.nose_place or 0.0
    text = max(11.0, min(14.0, rect.height() / 32))
    edge, nose = scale.point(at - setback, 0.0), scale.point(at, 0.0)
    low = edge.y() + text * 1.2
    p.setPen(QPen(look.color("ink"), 1.2))
    for x in (edge.x(), nose.x()):
        p.drawLine(QPointF(x, edge.y() + 3), QPointF(x, low + 4))
    p.drawLine(QPointF(edge.x(), low), QPointF(nose.x(), low))
    words = tr("nose {setback} back").format(
        setback=show_length(setback, stroke.units.fine, pretty=True)
    )
    p.setFont(pixels(text))
    place = QRectF(
        nose.x() + 8, low - text * 0.8, p.fontMetrics().horizontalAdvance(words) + 8, text * 1.6
    )
    if place.right() > rect.right():
        place.moveRight(edge.x() - 8)
    p.setBrush(look.color("bench", 215))
    p.setPen(Qt.PenStyle.NoPen)
    p.drawRoundedRect(place, 3, 3)
    p.setPen(look.color("ink"))
    p.drawText(place, Qt.AlignmentFlag.AlignCenter, words)


def paint_end(
    p: QPainter,
    rect: QRectF,
    stroke: PlannedStroke,
    degrees: float,
    look: Theme,
    *,
    plain: bool = False,
) -> Scale:
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
        if piece.kind in CUT and not plain:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QBrush(look.color("tool_edge", HATCHED), Qt.BrushStyle.BDiagPattern))
            p.drawPolygon(scale.polygon(piece.outline))
    if engine.nose_place is not None and engine.setback > 0 and not plain:
        _setback(p, rect, stroke, scale, look)
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


def _angles(
    p: QPainter, rect: QRectF, stroke: PlannedStroke, degrees: float, scale: Scale, look: Theme
) -> None:
    """The angle it stands at, beside the handle, and those that are wanted and at which it touches:
    each where it covers no other."""
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
            tip.y() - text * (2.35 if beyond else 1.1),
            across,
            text * 1.35,
        ).adjusted(-3, 0, 3, 0)
        place = free_place(place, rect, taken)
        taken.append(place)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(look.color("bench", 215))
        p.drawRoundedRect(place, 3, 3)
        p.setPen(look.color(color))
        p.drawText(QPointF(place.left() + 3, place.top() + text), label)
    p.setPen(QPen(look.color("accent"), 1.2))
    p.drawArc(
        QRectF(pole.x() - arc, pole.y() - arc, 2 * arc, 2 * arc),
        180 * 16,
        -round(math.degrees(direction(stroke.verdict.stroke, degrees)) * 16),
    )
    touching = stroke.contact is not None and degrees >= stroke.contact.angle - 1e-6
    if touching and stroke.contact is not None and stroke.contact.obstacle.at is not None:
        at = scale.point(*stroke.contact.obstacle.at)
        p.setPen(QPen(look.color("stop"), 2.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(at, 9, 9)
        paint_state(p, at + QPointF(18, -12), 13, Outcome.STOP, look)
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
    """Angles that are marked on the swing: degrees, what is said of each, in which colour and how
    drawn."""
    wanted = stroke.verdict.wanted
    marks = [
        (
            wanted,
            tr("wanted {angle}").format(angle=show_angle(wanted)),
            "accent",
            Qt.PenStyle.DashLine,
        )
    ]
    if stroke.contact is not None:
        touches = stroke.contact.angle
        marks.append(
            (
                touches,
                tr("touches {angle}").format(angle=show_angle(touches)),
                "stop",
                Qt.PenStyle.SolidLine,
            )
        )
    return marks


MOST_MOVED = 40
"""Quarters of its height by which a label is moved at most."""


def free_place(place: QRectF, room: QRectF, taken: Sequence[QRectF]) -> QRectF:
    """A label's place within a room, moved up or down to the nearest where it covers none of those
    taken; left where there is none.

    Args:
        place: a place of the painter.
        room: the rectangle it must stay in.
        taken: rectangles that are taken.
    """
    within = QRectF(place)
    within.moveLeft(min(max(place.left(), room.left() + 4), room.right() - place.width() - 4))
    within.moveTop(min(max(place.top(), room.top() + 2), room.bottom() - place.height() - 2))
    step = place.height() / 4
    moves = (move for k in range(1, MOST_MOVED) for move in (step * k, -step * k))
    return first_free((within.translated(0, move) for move in (0.0, *moves)), room, taken) or within


def beside(label: QRectF, room: QRectF, lines: Sequence[float]) -> float:
    """Middle of a label in its room, off upright lines: in the widest part of the room that a line
    through the label leaves, where it fits there.

    Args:
        label: as wide as it is, in the middle of its room.
        room: where it may stand.
        lines: x of the lines.
    """
    struck = [x for x in lines if label.left() - 2 <= x <= label.right() + 2]
    if not struck:
        return label.center().x()
    cuts = sorted(
        [room.left(), *(x for x in lines if room.left() < x < room.right()), room.right()]
    )
    low, high = max(itertools.pairwise(cuts), key=lambda part: part[1] - part[0])
    return (low + high) / 2 if high - low > label.width() + 4 else label.center().x()


def paint_front(
    p: QPainter,
    rect: QRectF,
    stroke: PlannedStroke,
    units: Units,
    look: Theme,
    *,
    text: float = 13.0,
) -> None:
    """Draw the front view of one stroke with its fingers; walls that stand are seen behind or
    beside them.

    Args:
        p: the painter.
        rect: where it is drawn.
        stroke: the stroke.
        units: what lengths are shown in.
        look: the colours.
        text: height of letters, points.
    """
    engine = stroke.verdict.stroke
    setting = engine.setting
    standing = scene(engine, 0.0)
    high_tool = max(
        float(piece.outline[:, 1].max()) for piece in standing if piece.kind is OutlineKind.SECTION
    )
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
    if any(
        piece.kind is OutlineKind.TOOL and piece.outline[:, 1].max() > top + 1e-6
        for piece in standing
    ):
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
        label, r = (
            show_length(b - a, engine.tooling.marked_in, mark=False, pretty=True),
            box(a, t, b, top),
        )
        if p.fontMetrics().horizontalAdvance(label) < r.width() - 4:
            # On a ground of its own: the wall's outline may run behind it.
            ground = QRectF(p.fontMetrics().boundingRect(label)).adjusted(-3, -1, 3, 1)
            ground.moveCenter(r.center())
            ends = [scale.point(end, 0.0).x() for end in engine.setting.span]
            ground.moveCenter(QPointF(beside(ground, r, ends), r.center().y()))
            p.fillRect(ground, look.color("field", 220))
            p.drawText(ground, Qt.AlignmentFlag.AlignCenter, label)
    _rule(p, stroke, scale, rect, units, look, text)
    p.restore()


def _walls(p: QPainter, stroke: PlannedStroke, scale: Scale, look: Theme) -> None:
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
        low, high = (
            min(solid.x_range[0] for solid in pieces),
            max(solid.x_range[1] for solid in pieces),
        )
        outline = np.array([(low, 0.0), (high, 0.0), (high, t + length), (low, t + length)])
        p.drawPolygon(scale.polygon(outline))


def rule_words(stroke: PlannedStroke, units: Units) -> str:
    """What is folded in one stroke, from end to end, and how far the sections stop short of its
    ends."""
    setting, pieces = (
        stroke.verdict.stroke.setting,
        stroke.verdict.stroke.tooling.sections.kind.many,
    )
    a, b = setting.span
    count, length = len(setting.folds), show_length(b - a, units, pretty=True)
    text = (
        tr("fold {length}").format(length=length)
        if count == 1
        else tr("{count} folds in one, {length} from end to end").format(count=count, length=length)
    )
    ends = [stroke.sections[0][0] - a, b - stroke.sections[-1][1]]
    if max(map(abs, ends)) < 0.5:
        text += tr("   ·   {pieces} cover it from end to end").format(pieces=pieces)
    elif min(ends) >= 0:
        shown = tr(" and ").join(dict.fromkeys(show_length(e, units, pretty=True) for e in ends))
        text += tr("   ·   {pieces} stop {shown} short of its ends").format(
            pieces=pieces, shown=shown
        )
    else:
        text += tr("   ·   {pieces} reach past its ends").format(pieces=pieces)
    return text


def _rule(  # noqa: PLR0913
    p: QPainter,
    stroke: PlannedStroke,
    scale: Scale,
    rect: QRectF,
    units: Units,
    look: Theme,
    text: float,
) -> None:
    """Under the view: where fingers may stand, the fold, and how far the fingers stop short of its
    ends."""
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
        QPointF(rect.left() + 4, band - text * 0.25),
        tr("{pieces} may stand").format(pieces=engine.tooling.sections.kind.many),
    )
    p.setPen(QPen(look.color("ink"), 1.2))
    p.drawLine(QPointF(scale.point(a, 0).x(), y), QPointF(scale.point(b, 0).x(), y))
    for x in (a, b):
        p.drawLine(
            QPointF(scale.point(x, 0).x(), y - text * 0.35),
            QPointF(scale.point(x, 0).x(), y + text * 0.2),
        )
    p.drawText(
        QRectF(rect.left(), y + text * 0.3, rect.width(), text * 1.5),
        Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop,
        rule_words(stroke, units),
    )


HEAD = 7.0
"""Length of an arrow's head, in pixels."""


def paint_machine(
    p: QPainter, rect: QRectF, drawn: Drawn, lit: str | None, units: Units, look: Theme
) -> None:
    """The section to scale; every size as a thin line, the lit one as an arrow with its length; no
    sizes where lit is None.

    Args:
        p: the painter.
        rect: where it is drawn.
        drawn: the section and its sizes.
        lit: name of the size that is lit; None lights none.
        units: what lengths are shown in.
        look: the colours.
    """
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    low, high = drawn.box
    scale = Scale.fitting(low, high, rect.adjusted(16, 26, -16, -26))
    p.setPen(QPen(look.color("tool_edge"), 1.2))
    p.setBrush(look.color("tool"))
    for _, outline in drawn.outlines:
        p.drawPolygon(scale.polygon(outline))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(look.color("faint"), 1, Qt.PenStyle.DotLine))
    for name, (a, b) in drawn.sizes.items():
        if lit is not None and name != lit:
            p.drawLine(scale.point(*a), scale.point(*b))
    if lit is not None and lit in drawn.sizes:
        start, end = drawn.sizes[lit]
        _arrow(p, scale.point(*start), scale.point(*end), look)
        length = math.dist(start, end)
        text = show_length(length, units, pretty=True)
        p.setFont(pixels(15, strong=True))
        middle = (scale.point(*start) + scale.point(*end)) * 0.5
        wide = p.fontMetrics().horizontalAdvance(text) + 10
        box = QRectF(middle.x() + 8, middle.y() - 24, wide, 20)
        # It stays on the picture, and on a ground of its own.
        box.moveLeft(max(rect.left() + 2, min(box.left(), rect.right() - wide - 2)))
        box.moveTop(max(rect.top() + 2, box.top()))
        p.fillRect(box, look.color("field"))
        p.setPen(look.color("accent"))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def paint_pieces(
    p: QPainter, rect: QRectF, pieces: tuple[Segment, ...], bed: float, units: Units, look: Theme
) -> None:
    """The pieces of a rack side by side over the bed, to scale, each width named once.

    Args:
        p: the painter.
        rect: where it is drawn.
        pieces: of the rack.
        bed: length of the bed, mm.
        units: what lengths are shown in.
        look: the colours.
    """
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    total = sum(piece.width * piece.count for piece in pieces)
    left, per_mm = rect.left() + 8, (rect.width() - 16) / max(bed, total, 1.0)
    top, high = rect.top() + 22, rect.height() - 46
    p.setPen(QPen(look.color("ink"), 2))
    p.drawLine(QPointF(left, top + high + 6), QPointF(left + bed * per_mm, top + high + 6))
    x, free = left, rect.left()
    p.setFont(pixels(12))
    for piece in pieces:
        for number in range(piece.count):
            p.setPen(QPen(look.color("tool_edge"), 1))
            p.setBrush(look.color("tool"))
            p.drawRect(QRectF(x, top, piece.width * per_mm, high))
            text = show_length(piece.width, units, pretty=True)
            wide = p.fontMetrics().horizontalAdvance(text) + 6
            if number == 0 and x >= free:
                p.setPen(look.color("ink"))
                p.drawText(QRectF(x, rect.top(), wide, 20), Qt.AlignmentFlag.AlignVCenter, text)
                free = x + wide
            x += piece.width * per_mm
    p.setPen(look.color("faint"))
    text = tr("bed {bed}").format(bed=show_length(bed, units, pretty=True))
    p.drawText(
        QRectF(left, rect.bottom() - 17, rect.width(), 17), Qt.AlignmentFlag.AlignVCenter, text
    )


def _arrow(p: QPainter, start: QPointF, end: QPointF, look: Theme) -> None:
    p.setPen(QPen(look.color("accent"), 2.4))
    p.drawLine(start, end)
    along = end - start
    length = math.hypot(along.x(), along.y())
    if length < 1e-6:
        p.drawEllipse(start, 4, 4)
        return
    u = along * (1.0 / length)
    across = QPointF(-u.y(), u.x())
    for tip, way in ((start, 1.0), (end, -1.0)):
        for side in (0.45, -0.45):
            p.drawLine(tip, tip + u * way * HEAD + across * side * HEAD)
