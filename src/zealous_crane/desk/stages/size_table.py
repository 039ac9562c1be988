"""The table of sizes of a finished part: what is wanted, how far it may be off, what was got, and how that stands."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QGridLayout, QLabel

from ...check.line import Line, Stands
from ...check.saying import show_measure, show_spread, unit_of
from ...job import Job
from ...measure.words import tr
from ..widget import Column
from ..widget import Line as LineEdit
from ..wrapped import Wrapped

SIGNS = {Stands.OPEN: "", Stands.GOOD: "●", Stands.NEAR: "▲", Stands.OUT: "■"}
"""How a size came out, by shape."""

SAID = {
    Stands.OPEN: "", Stands.GOOD: tr("within tolerance"), Stands.NEAR: tr("within tolerance, near its edge"),
    Stands.OUT: tr("out of tolerance"),
}  # fmt: skip

USUAL = 3
"""Column of the spread that is usual."""


class GotLine(LineEdit):
    """What was measured: Return and the arrow keys go to the next size, as a hand goes on.

    Signals:
        left: by so many sizes, up or down.
        entered: the cursor is here now.
    """

    left = Signal(int)
    entered = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Return: 1, Qt.Key.Key_Enter: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}
        step = steps.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.left.emit(step)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.entered.emit()


class SizeTable(Column):
    """Sizes, one a row. Rows are written over when others are shown: a page of fields takes the window a tenth of a second to make.

    Signals:
        typed: the number of a size of which something was typed.
        left: the number of a size the cursor leaves, and by how many it goes on.
        entered: the number of the size the cursor is in.
        begun_anew: a figure is typed over.
    """

    typed = Signal(int)
    left = Signal(int, int)
    entered = Signal(int)
    begun_anew = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._made: list[tuple[QLabel, QLabel, QLabel, QLabel, GotLine, QLabel]] = []
        self._shown = 0
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setVerticalSpacing(3)
        self._grid.setColumnStretch(0, 1)
        self._heads = [QLabel(text) for text in (tr("What"), "", "±", tr("Usual ±"), tr("Got"), "")]
        for column, head in enumerate(self._heads):
            head.setObjectName("faint")
            self._grid.addWidget(head, 0, column)
        self._heads[USUAL].setToolTip(tr("Nine parts in ten come out within this when all goes as usual here."))

    @property
    def fields(self) -> list[GotLine]:
        """Where sizes are typed, in their order."""
        return [row[4] for row in self._made[: self._shown]]

    @property
    def signs(self) -> list[str]:
        """How each size stands, as it is shown."""
        return [row[5].text() for row in self._made[: self._shown]]

    def show_lines(self, lines: Sequence[Line], got: Mapping[str, float], job: Job) -> None:
        """Show sizes and what was got of them, by key, mm or degrees."""
        self._heads[1].setText(tr("Wanted, {unit}").format(unit=unit_of(job.units)))
        # Every widget shown or hidden would have the whole page laid out again.
        self._grid.setEnabled(False)
        while len(self._made) < len(lines):
            self._made.append(self._row(len(self._made)))
        self._grid.setRowStretch(self._shown + 1, 0)
        for row in self._made[len(lines) : self._shown]:
            for widget in row:
                widget.hide()
        self._shown = len(lines)
        self._grid.setRowStretch(self._shown + 1, 1)
        for line, (says, wanted, allowed, usual, field, _) in zip(lines, self._made, strict=False):
            measure = line.measure
            says.setText(measure.says)
            wanted.setText(show_measure(measure, line.wanted, job))
            allowed.setText(show_spread(measure, line.allowed, job.units))
            allowed.setToolTip(tr("By {standard}.").format(standard=line.standard) if line.standard else "")
            wide = line.promised > line.allowed
            usual.setText(("▲ " if wide else "") + show_spread(measure, line.promised, job.units))
            usual.setToolTip(tr("More than is allowed: without care some parts will be out.") if wide else "")
            field.setAccessibleName(tr("Got: {measure}").format(measure=measure.says))
            field.setText(show_measure(measure, got[measure.key], job) if measure.key in got else "")
        for row in self._made[: self._shown]:
            for widget in row:
                # Shown at once, not when the loop gets round to it: the cursor may go there next.
                widget.show()
        self._grid.setEnabled(True)
        self._grid.activate()
        self.show_signs(lines, got)

    def show_signs(self, lines: Sequence[Line], got: Mapping[str, float]) -> None:
        """Show how sizes stand."""
        for line, row in zip(lines, self._made, strict=False):
            stands = line.stands(got.get(line.measure.key))
            row[5].setText(SIGNS[stands])
            row[5].setToolTip(SAID[stands])

    def _row(self, number: int) -> tuple[QLabel, QLabel, QLabel, QLabel, GotLine, QLabel]:
        says, wanted, allowed, usual, field, sign = Wrapped(), QLabel(), QLabel(), QLabel(), GotLine(), QLabel()
        says.setBuddy(field)
        field.setFixedWidth(76)
        field.setToolTip(tr("What you measured. “± 0.3” is what a drawing asks of this size; “±” alone takes it back."))
        field.editingFinished.connect(partial(self.typed.emit, number))
        field.begun_anew.connect(self.begun_anew)
        field.left.connect(partial(self.left.emit, number))
        field.entered.connect(partial(self.entered.emit, number))
        sign.setFixedWidth(18)
        for column, widget in enumerate((says, wanted, allowed, usual, field, sign)):
            self._grid.addWidget(widget, number + 1, column)
        return says, wanted, allowed, usual, field, sign
