"""What was read of a drawing, and what was left out: shown on the flat in its colour, and one click
says what a line is."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QMouseEvent, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import (
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...errors import INPUT_ERRORS
from ...flat.path import ClosedPath
from ...i18n import msg, tr
from ...io.dxf_read import DrawingResult, Taken
from ...paint.frame import Scale
from ...paint.theme import Theme, pixels
from ..widgets.canvas import Canvas
from ..widgets.widget import Choice, FormDialog, Wrapped, heading

NEAR = 8.0
"""Pixels from a line within which a click is on it."""

WORDS = {
    Taken.NOTHING: msg("nothing"),
    Taken.FOLD: msg("a fold"),
    Taken.MARK: msg("a mark"),
    Taken.CUT: msg("a cut"),
}

COLORS = {Taken.NOTHING: "care", Taken.FOLD: "accent", Taken.MARK: "faint", Taken.CUT: "ink"}


class DrawingCanvas(Canvas):
    """The flat as it was read, with what was left out.

    Args:
        dialog: whose reading it shows.
    """

    zooms = False

    def __init__(self, dialog: DrawingDialog) -> None:
        super().__init__(tr("The flat, and what was left out"), self._draw, QSize(420, 360))
        self._dialog = dialog
        self.scale: Scale | None = None
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def _draw(self, p: QPainter, rect: QRectF) -> None:
        reading, look = self._dialog.reading, self._dialog.look
        rings = [_points(reading.flat.outline)]
        every = np.concatenate(
            [
                *rings,
                *(
                    np.array([[*s.start], [*s.end]])
                    for left in reading.left_out
                    for s in left.sides
                ),
            ]
        )
        scale = self.scale = Scale.fitting(
            tuple(every.min(axis=0)), tuple(every.max(axis=0)), rect.adjusted(16, 16, -16, -16)
        )
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QPen(look.color("metal_edge"), 1.5))
        p.setBrush(look.color("metal"))
        p.drawPolygon(scale.polygon(rings[0]))
        p.setBrush(look.color("bench"))
        for hole in (*reading.flat.holes, *reading.flat.holes_later):
            p.drawPolygon(scale.polygon(_points(hole)))
        p.setPen(QPen(look.color("accent"), 1.5, Qt.PenStyle.DashLine))
        for fold in reading.flat.folds:
            p.drawLine(scale.point(*fold.start), scale.point(*fold.end))
        p.setFont(pixels(13, strong=True))
        for number, left in enumerate(reading.left_out, start=1):
            color = look.color(COLORS[left.taken])
            style = Qt.PenStyle.DashLine if left.taken is Taken.FOLD else Qt.PenStyle.SolidLine
            p.setPen(QPen(color, 3.0, style))
            p.setBrush(Qt.BrushStyle.NoBrush)
            line = QPainterPath(scale.point(*left.sides[0].start))
            for side in left.sides:
                line.lineTo(scale.point(*side.end))
            p.drawPath(line)
            middle = left.sides[len(left.sides) // 2]
            at = (scale.point(*middle.start) + scale.point(*middle.end)) * 0.5
            box = QRectF(at.x() - 10, at.y() - 10, 20, 20)
            p.setPen(QPen(color, 1.5))
            p.setBrush(look.color("field"))
            p.drawEllipse(box)
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, str(number))

    def at(self, place: QPointF) -> int | None:
        """The number of what was left out at a place, from 0; None where nothing was."""
        if self.scale is None:
            return None
        best: tuple[float, int] | None = None
        for number, left in enumerate(self._dialog.reading.left_out):
            for side in left.sides:
                off = _off(place, self.scale.point(*side.start), self.scale.point(*side.end))
                if off <= NEAR and (best is None or off < best[0]):
                    best = off, number
        return None if best is None else best[1]

    def mousePressEvent(self, event: QMouseEvent) -> None:
        number = self.at(event.position())
        if number is not None:
            self._dialog.go_on(number)


def _points(corners: tuple[tuple[float, float, float], ...]) -> np.ndarray:
    array = np.array(corners)
    return ClosedPath(array[:, :2], array[:, 2]).flattened()


def _off(place: QPointF, a: QPointF, b: QPointF) -> float:
    """How far a place is from a line, pixels."""
    along, to = b - a, place - a
    size = QPointF.dotProduct(along, along)
    share = 0.0 if size < 1e-9 else max(0.0, min(1.0, QPointF.dotProduct(along, to) / size))
    foot = a + along * share
    return float(np.hypot(place.x() - foot.x(), place.y() - foot.y()))


class DrawingDialog(FormDialog):
    """What was read; every line that was left out is one click from being a fold, a mark or a cut.

    Args:
        reading: what came of the drawing.
        again: reads it again with lines taken for what is said.
        look: colours.
        parent: the window.
    """

    def __init__(
        self,
        reading: DrawingResult,
        again: Callable[[dict[int, Taken]], DrawingResult],
        look: Theme,
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self.reading, self._again, self.look = reading, again, look
        self.setWindowTitle(tr("What was read"))
        self.resize(940, 560)
        self.picture = DrawingCanvas(self)
        self.message, self.complaint = Wrapped(), Wrapped()
        self.complaint.setObjectName("complaint")
        self.choices: list[Choice] = []
        grid = QGridLayout()
        grid.setColumnStretch(0, 1)
        for number, left in enumerate(reading.left_out):
            choice = Choice()
            choice.setAccessibleName(tr("Line {number} is").format(number=number + 1))
            for taken in (Taken.NOTHING, *left.may):
                choice.addItem(str(WORDS[taken]), taken)
            choice.activated.connect(partial(self._chosen, number))
            self.choices.append(choice)
            why = Wrapped(f"{number + 1}  {left.why}")
            grid.addWidget(why, number, 0)
            grid.addWidget(choice, number, 1)
        side = QVBoxLayout()
        side.addWidget(self.message)
        if reading.left_out:
            side.addWidget(heading(tr("Left out: what is it?")))
            side.addWidget(QLabel(tr("Click on a line in the picture, or choose here.")))
        side.addLayout(grid)
        side.addStretch(1)
        holder = QWidget()
        holder.setLayout(side)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(holder)
        row = QHBoxLayout()
        row.addWidget(self.picture, 3)
        row.addWidget(scroll, 2)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        box = QVBoxLayout(self)
        box.addLayout(row, 1)
        box.addWidget(self.complaint)
        box.addWidget(self.buttons)
        self._show()

    @property
    def taken(self) -> dict[int, Taken]:
        """What is chosen, by number."""
        return {
            number: Taken(choice.currentData())
            for number, choice in enumerate(self.choices)
            if choice.currentIndex() > 0
        }

    def go_on(self, number: int) -> None:
        """Take a line for the next thing it can be."""
        choice = self.choices[number]
        choice.setCurrentIndex((choice.currentIndex() + 1) % choice.count())
        self._chosen(number)

    def _chosen(self, number: int, _index: int = 0) -> None:
        try:
            self.reading = self._again(self.taken)
        except INPUT_ERRORS as error:
            # What it cannot be is not kept.
            self.complaint.setText(str(error))
            self.choices[number].setCurrentIndex(0)
            self.reading = self._again(self.taken)
        else:
            self.complaint.setText("")
        self._show()

    def _show(self) -> None:
        self.message.setText("\n".join(self.reading.notes))
        self.picture.update()
