"""A sheet as it is cut: blanks in layout blue with their numbers and sizes, off-cuts worth keeping
dashed, waste in amber."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Self

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen

from ..cutting.layout import CutLine, PlacedBlank, SheetCut
from ..i18n import tr
from ..shop.book.record import BendRecord, StripRecord
from ..shop.springback import Learnt
from ..units.length import Units, show_length
from ..units.quantities import show_angle
from .frame import Scale, paint_arrow
from .theme import Theme, pixels

INSET = 4
"""Painter units between a blank's edge and its name."""


@dataclass(frozen=True)
class SheetPicture:
    """What a picture of a sheet shows.

    Attributes:
        sheet: as it is cut.
        title: what stands above it.
        units: what lengths are shown in.
        cuts: where its cuts run, by the number of their setting.
        chosen: the setting whose cuts stand out; 0 for none.
    """

    sheet: SheetCut
    title: str
    units: Units
    cuts: Mapping[int, Sequence[CutLine]] = field(default_factory=dict)
    chosen: int = 0


def sheet_scale(rect: QRectF, sheet: SheetCut, text: float) -> Scale:
    """How a sheet lies in its picture: below its title, with room for the numbers of its cuts.

    Args:
        rect: where it is drawn.
        sheet: as it is cut.
        text: height of letters, painter units.
    """
    room, numbers = rect.adjusted(10, text * 2, -10, -10), 2 * text
    return Scale.fitting(
        (0, 0), (sheet.stock.length, sheet.stock.width), room.adjusted(numbers, numbers, 0, 0)
    )


def paint_sheet_cut(
    p: QPainter, rect: QRectF, picture: SheetPicture, look: Theme, text: float = 12
) -> None:
    """One sheet under its title, its datum corner below on the left, with the numbers of its cuts.

    Args:
        p: the painter.
        rect: where it is drawn.
        picture: what it shows.
        look: the colours.
        text: height of letters, painter units.
    """
    sheet, units, title = picture.sheet, picture.units, picture.title
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    stock = sheet.stock
    scale = sheet_scale(rect, sheet, text)

    def box(x: float, y: float, length: float, width: float) -> QRectF:
        return QRectF(scale.point(x, y + width), scale.point(x + length, y))

    whole = box(0, 0, stock.length, stock.width)
    p.setPen(QPen(look.color("metal_edge"), 1.4))
    p.setBrush(look.color("metal"))
    p.drawRect(whole)
    p.setBrush(QBrush(look.color("waste", 170), Qt.BrushStyle.BDiagPattern))
    p.drawRect(whole)
    p.setFont(pixels(text * 1.1, strong=True))
    p.setPen(look.color("ink"))
    head = QRectF(whole.left(), rect.top() + 2, rect.right() - whole.left(), text * 1.7)
    p.drawText(head, Qt.AlignmentFlag.AlignVCenter, title)
    key = head.adjusted(p.fontMetrics().horizontalAdvance(title) + 16, 0, 0, 0)
    for left in sheet.offcuts:
        p.setPen(QPen(look.color("ink"), 1.2, Qt.PenStyle.DashLine))
        p.setBrush(look.color("field"))
        p.drawRect(box(left.x, left.y, left.length, left.width))
        _named(
            p,
            box(left.x, left.y, left.length, left.width),
            str(left.name),
            left,
            units,
            look.color("ink"),
            text,
        )
    lettered: dict[int, str] = {}
    for place in sheet.placed:
        p.setPen(QPen(look.color("scribe"), 1.4))
        p.setBrush(look.color("layout"))
        at = box(place.x, place.y, place.length, place.width)
        p.drawRect(at)
        p.setFont(pixels(text))
        if p.fontMetrics().horizontalAdvance(str(place.name)) > at.width() - 2 * INSET:
            lettered[place.blank] = str(place.name)
            _named(p, at, letter(place.blank), place, units, look.color("scribe"), text)
        else:
            _named(p, at, str(place.name), place, units, look.color("scribe"), text)
    _paint_cuts(p, scale, picture, look, text)
    p.setFont(pixels(text))
    p.setPen(look.color("ink"))
    names = "   ".join(f"{letter(k)}  {name}" for k, name in sorted(lettered.items()))
    p.drawText(
        key,
        Qt.AlignmentFlag.AlignVCenter,
        p.fontMetrics().elidedText(names, Qt.TextElideMode.ElideRight, int(key.width())),
    )


def _paint_cuts(p: QPainter, scale: Scale, picture: SheetPicture, look: Theme, text: float) -> None:
    """The numbers of the cuts where they come out at the edge of the sheet; those of the chosen
    setting with their lines."""
    taken: list[QPointF] = []
    chosen = picture.chosen
    for number in sorted(picture.cuts, key=lambda number: number != chosen):
        for a, b, c, d in picture.cuts[number]:
            start, end = scale.point(a, b), scale.point(c, d)
            if number == chosen:
                for colour, wide in (("field", 6.0), ("ink", 3.0)):
                    p.setPen(
                        QPen(
                            look.color(colour), wide, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap
                        )
                    )
                    p.drawLine(start, end)
            lies, stands = abs(d - b) < EDGE and a < EDGE, abs(c - a) < EDGE
            if lies:
                at = QPointF(start.x() - text, start.y())
            elif stands and max(b, d) > picture.sheet.stock.width - EDGE_SHARE * (d - b):
                at = QPointF(end.x(), end.y() - text)
            elif number == chosen:
                at = QLineF(start, end).center()
            else:
                continue
            if all(math.hypot(at.x() - t.x(), at.y() - t.y()) > 1.8 * text for t in taken):
                taken.append(at)
                _number(p, at, number, look, text, chosen=number == chosen)


EDGE = 0.5
"""mm; a cut this near the edge of the sheet begins there."""

EDGE_SHARE = 0.02
"""Share of a cut's own length by which it may end short of the sheet's far edge."""


def _number(
    p: QPainter, at: QPointF, number: int, look: Theme, text: float, *, chosen: bool
) -> None:
    """The number of a setting in a disc."""
    p.setPen(QPen(look.color("ink"), 1.2))
    p.setBrush(look.color("ink" if chosen else "field"))
    p.drawEllipse(at, 0.85 * text, 0.85 * text)
    p.setFont(pixels(text, strong=True))
    p.setPen(look.color("field" if chosen else "ink"))
    disc = QRectF(at.x() - text, at.y() - text, 2 * text, 2 * text)
    p.drawText(disc, Qt.AlignmentFlag.AlignCenter, str(number))


def letter(number: int) -> str:
    """What a blank is called where its name has no room: A, B, … Z, AA."""
    return (letter(number // 26 - 1) if number >= 26 else "") + chr(ord("A") + number % 26)


def _named(  # noqa: PLR0913
    p: QPainter,
    box: QRectF,
    name: str,
    place: PlacedBlank,
    units: Units,
    colour: QColor,
    text: float,
) -> None:
    """The name and the sizes, as far as there is room for them."""
    size = f"{show_length(place.length, units, pretty=True)} × {show_length(place.width, units, pretty=True)}"  # noqa: E501
    p.setPen(colour)
    p.setFont(pixels(text))
    inner = box.adjusted(INSET, 2, -INSET, -2)
    metrics = p.fontMetrics()
    lines = [metrics.elidedText(name, Qt.TextElideMode.ElideRight, int(inner.width()))]
    if metrics.horizontalAdvance(size) <= inner.width() and inner.height() >= 2 * metrics.height():
        lines.append(size)
    if inner.height() >= metrics.height() * 0.8:
        p.drawText(inner, Qt.AlignmentFlag.AlignCenter, "\n".join(lines))


HEAD = 6.0
"""Painter units of an arrow's head."""

APART = 24.0
"""Painter units between an edge and the arrow along it."""


def paint_strip(p: QPainter, rect: QRectF, strip: StripRecord, units: Units, look: Theme) -> None:
    """The flat with its line above, the bent strip below: first leg lying, second leg up.

    Args:
        p: the painter.
        rect: where it is drawn.
        strip: the test strip.
        units: what lengths are shown in.
        look: the colours.
    """
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    upper = QRectF(rect.left(), rect.top(), rect.width(), rect.height() * 0.4).adjusted(
        12, APART + 8, -12, -8
    )
    flat = Scale.fitting((0, 0), (strip.flat, strip.width), upper)
    p.setPen(QPen(look.color("scribe"), 1.4))
    p.setBrush(look.color("layout"))
    p.drawRect(QRectF(flat.point(0, strip.width), flat.point(strip.flat, 0)))
    p.drawLine(flat.point(strip.line, 0), flat.point(strip.line, strip.width))
    _arrow(
        p,
        flat.point(0, strip.width),
        flat.point(strip.line, strip.width),
        show_length(strip.line, units, pretty=True),
        look,
    )

    bend = math.radians(strip.angle)
    short = strip.thickness * math.tan(min(bend, 3.0) / 2)
    inside = strip.legs != "outside"
    more, marked = short if inside else 0.0, strip.line if strip.legs == "to the mark" else 0.0
    along, up = (
        np.array([math.cos(bend), math.sin(bend)]),
        np.array([-math.sin(bend), math.cos(bend)]),
    )
    first, second = max(marked + strip.leg_one, 0.0) + more, strip.leg_two + more
    end = along * second
    outline = np.array(
        [
            (-first, 0.0),
            (0.0, 0.0),
            end,
            end + up * strip.thickness,
            (-short, strip.thickness),
            (-first, strip.thickness),
        ]
    )
    lower = QRectF(rect.left(), rect.top() + rect.height() * 0.4, rect.width(), rect.height() * 0.6)
    bent = Scale.fitting(
        (float(outline[:, 0].min()), float(outline[:, 1].min())),
        (float(outline[:, 0].max()), float(outline[:, 1].max())),
        lower.adjusted(12, 12, -80, -APART - 12),
    )
    p.setPen(QPen(look.color("metal_edge"), 1.2))
    p.setBrush(look.color("metal"))
    p.drawPolygon(bent.polygon(outline))
    corner = bent.point(0, 0)
    measured = bent.point(-short, 0) if inside else corner
    text = show_length(strip.leg_one, units, pretty=True)
    text = tr("{past} past the mark").format(past=text) if strip.legs == "to the mark" else text
    _arrow(p, measured, bent.point(-first, 0), text, look)
    begin = bent.point(*(along * more)) if inside else corner
    _arrow(p, bent.point(*end), begin, show_length(strip.leg_two, units, pretty=True), look)


def _arrow(p: QPainter, start: QPointF, end: QPointF, text: str, look: Theme) -> None:
    """A size beside the edge from start to end, on its left as one walks along."""
    along = end - start
    length = math.hypot(along.x(), along.y())
    if length < 1e-6:
        return
    u = along * (1 / length)
    side = QPointF(u.y(), -u.x())
    a, b = start + side * (APART * 0.5), end + side * (APART * 0.5)
    p.setPen(QPen(look.color("ink"), 1.2))
    p.setBrush(look.color("ink"))
    p.drawLine(a, b)
    paint_arrow(p, a, u * -1, HEAD)
    paint_arrow(p, b, u, HEAD)
    p.setFont(pixels(13, strong=True))
    box = QRectF(0, 0, p.fontMetrics().horizontalAdvance(text) + 8, p.fontMetrics().height())
    box.moveCenter(
        (a + b) * 0.5
        + side * (box.height() * 0.5 + abs(side.x()) * (box.width() - box.height()) * 0.5 + 2)
    )
    p.setPen(look.color("ink"))
    p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


LEFT, BOTTOM, TOP, RIGHT = 44.0, 26.0, 10.0, 12.0
"""Margins, in pixels."""


@dataclass(frozen=True)
class LearntPlot:
    """Where the springback at 90° of bends stands in a picture.

    Attributes:
        frame: where points stand.
        least, most: degrees at its foot and at its head.
    """

    frame: QRectF
    least: float
    most: float

    @classmethod
    def of(cls, rect: QRectF, bends: Sequence[BendRecord], learnt: Learnt) -> Self:
        """The plot that holds every bend, the estimate and the handbook.

        Args:
            rect: where it is drawn.
            bends: the bends of the book.
            learnt: what they teach.
        """
        frame = rect.adjusted(LEFT, TOP, -RIGHT, -BOTTOM)
        values = [b.springback for b in bends if b.springback is not None]
        low, high = learnt.within
        least, most = min([low, learnt.rule, 0.0, *values]), max([high, learnt.rule, *values])
        room = max(most - least, 1.0) * 0.06
        return cls(frame, least - room, most + room)

    def at(self, value: float) -> float:
        """Height at which a springback (degrees) stands."""
        share = (value - self.least) / (self.most - self.least)
        return self.frame.bottom() - share * self.frame.height()

    def points(self, bends: Sequence[BendRecord]) -> list[tuple[BendRecord, QPointF]]:
        """The bends, oldest first, each where it stands."""
        told = [(b, b.springback) for b in bends if b.springback is not None]
        told.sort(key=lambda pair: pair[0].made)
        apart = self.frame.width() / (len(told) + 1)
        return [
            (bend, QPointF(self.frame.left() + apart * k, self.at(value)))
            for k, (bend, value) in enumerate(told, start=1)
        ]


def paint_learnt(
    p: QPainter,
    rect: QRectF,
    bends: Sequence[BendRecord],
    learnt: Learnt,
    look: Theme,
    chosen: str = "",
) -> None:
    """Springback at 90° of every bend behind an estimate: those of the very place filled, others
    hollow; the estimate's mean as a line, the interval that holds nine bends of ten as a band, the
    handbook dashed.

    Args:
        p: the painter.
        rect: where it is drawn.
        bends: the bends of the book.
        learnt: what they teach.
        look: the colours.
        chosen: id of the bend that stands out; empty for none.
    """
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    plot = LearntPlot.of(rect, bends, learnt)
    frame, at, least, most = plot.frame, plot.at, plot.least, plot.most
    low, high = learnt.within
    p.fillRect(frame, look.color("field"))
    p.fillRect(
        QRectF(frame.left(), at(high), frame.width(), at(low) - at(high)), look.color("accent", 36)
    )
    p.setFont(pixels(12))
    step = next(s for s in (0.5, 1.0, 2.0, 5.0, 10.0, 20.0) if (most - least) / s <= 8)
    value = -(-least // step) * step
    while value <= most:
        p.setPen(QPen(look.color("line"), 1))
        p.drawLine(QPointF(frame.left(), at(value)), QPointF(frame.right(), at(value)))
        p.setPen(look.color("ink"))
        where = QRectF(rect.left(), at(value) - 9, LEFT - 6, 18)
        p.drawText(
            where, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, show_angle(value)
        )
        value += step
    p.setPen(QPen(look.color("faint"), 1.5, Qt.PenStyle.DashLine))
    p.drawLine(QPointF(frame.left(), at(learnt.rule)), QPointF(frame.right(), at(learnt.rule)))
    p.setPen(QPen(look.color("accent"), 2))
    p.drawLine(QPointF(frame.left(), at(learnt.mean)), QPointF(frame.right(), at(learnt.mean)))
    here = set(learnt.ids[: learnt.here])
    for bend, place in plot.points(bends):
        if bend.id == chosen:
            p.setPen(QPen(look.color("accent"), 2.5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(place, 9.0, 9.0)
        p.setPen(QPen(look.color("ink"), 1.4))
        p.setBrush(look.color("ink") if bend.id in here else look.color("field"))
        p.drawEllipse(place, 4.0, 4.0)
    p.setPen(look.color("ink"))
    under = QRectF(frame.left(), frame.bottom() + 4, frame.width(), BOTTOM - 4)
    p.drawText(
        under,
        Qt.AlignmentFlag.AlignCenter,
        tr("● this metal and brake   ○ similar   ─ learnt   - - handbook   (at 90°, oldest left)"),
    )
