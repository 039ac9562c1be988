"""The table of sizes of a finished part: what is wanted, how far it may be off, what was got, and
how that stands."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ...i18n import msg, tr
from ...inspection.explain import Explained, Explanation
from ...inspection.measures import InspectedSize, Stands
from ...inspection.model import Off, What
from ...inspection.rebend import Again, Anew, again, anew
from ...inspection.wording import advice, show_measure, show_reading, show_spread, unit_of
from ...job.job import Job
from ...paint.theme import font
from ...units.length import show_length
from ..state.background_call import Beside
from ..state.session import Session
from ..widgets.widget import Column, LineEdit, Wrapped, emptied, worded

SIGNS = {Stands.OPEN: "", Stands.GOOD: "●", Stands.NEAR: "▲", Stands.OUT: "■"}
"""How a size came out, by shape."""

SAID = {
    Stands.OPEN: "",
    Stands.GOOD: msg("within tolerance"),
    Stands.NEAR: msg("within tolerance, near its edge"),
    Stands.OUT: msg("out of tolerance"),
}

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
    """Sizes, one a row. Rows are written over when others are shown: a page of fields takes the
    window a tenth of a second to make.

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
        self._heads = [
            QLabel(text) for text in (tr("What"), "", "±", tr("Expected ±"), tr("Got"), "")
        ]
        for column, head in enumerate(self._heads):
            head.setObjectName("faint")
            self._grid.addWidget(head, 0, column)
        self._heads[USUAL].setToolTip(
            tr("Nine parts in ten come out within this when nothing goes wrong.")
        )

    @property
    def fields(self) -> list[GotLine]:
        """Where sizes are typed, in their order."""
        return [row[4] for row in self._made[: self._shown]]

    @property
    def signs(self) -> list[str]:
        """How each size stands, as it is shown."""
        return [row[5].text() for row in self._made[: self._shown]]

    def show_lines(
        self, lines: Sequence[InspectedSize], got: Mapping[str, float], job: Job
    ) -> None:
        """Show sizes and what was got of them, by key, mm or degrees.

        Args:
            lines: the sizes.
            got: what was measured, by key.
            job: the job.
        """
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
            wanted.setToolTip(
                show_length(line.wanted, job.units.fine) if measure.what is not What.ANGLE else ""
            )
            allowed.setText(show_spread(measure, line.allowed, job.units))
            allowed.setToolTip(
                tr("By {standard}.").format(standard=line.standard) if line.standard else ""
            )
            wide = line.promised > line.allowed
            usual.setText(("▲ " if wide else "") + show_spread(measure, line.promised, job.units))
            usual.setToolTip(
                tr("More than the tolerance: without care some parts will be out.") if wide else ""
            )
            field.setAccessibleName(tr("Got: {measure}").format(measure=measure.says))
            field.setText(
                show_reading(measure, got[measure.key], job) if measure.key in got else ""
            )
        for row in self._made[: self._shown]:
            for widget in row:
                # Shown at once, not when the loop gets round to it: the cursor may go there next.
                widget.show()
        self._grid.setEnabled(True)
        self._grid.activate()
        self.show_signs(lines, got)

    def show_signs(self, lines: Sequence[InspectedSize], got: Mapping[str, float]) -> None:
        """Show how sizes stand."""
        for line, row in zip(lines, self._made, strict=False):
            stands = line.stands(got.get(line.measure.key))
            row[5].setText(SIGNS[stands])
            row[5].setToolTip(str(SAID[stands]))

    def _row(self, number: int) -> tuple[QLabel, QLabel, QLabel, QLabel, GotLine, QLabel]:
        says, wanted, allowed, usual, field, sign = (
            Wrapped(),
            QLabel(),
            QLabel(),
            QLabel(),
            GotLine(),
            QLabel(),
        )
        says.setBuddy(field)
        field.setFixedWidth(76)
        field.setToolTip(
            tr(
                "What you measured. “± 0.3” is what a drawing asks of this size; “±” alone "
                "removes it."
            )
        )
        field.editingFinished.connect(partial(self.typed.emit, number))
        field.begun_anew.connect(self.begun_anew)
        field.left.connect(partial(self.left.emit, number))
        field.entered.connect(partial(self.entered.emit, number))
        sign.setFixedWidth(18)
        for column, widget in enumerate((says, wanted, allowed, usual, field, sign)):
            self._grid.addWidget(widget, number + 1, column)
        return says, wanted, allowed, usual, field, sign


MOST = 3
"""Causes that are shown at most."""


class Causes(QWidget):
    """The likeliest causes with their odds, each with what to do on this part and on the next.

    Signals:
        suggested: a sentence to be noted for next time.
        wanted: fields of the job, so that the next part comes out right.
        answered: what the engine says of bending again, as a sentence.
    """

    suggested = Signal(str)
    wanted = Signal(object)
    answered = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._engine = Beside(self, session.crew)
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(0, 0, 0, 0)

    def show_nothing(self) -> None:
        """Nothing is measured, so there is nothing to explain."""
        emptied(self._rows)
        self._rows.addWidget(worded(tr("Nothing is measured yet.")))

    def show_found(self, explained: Explained) -> None:
        """Show what explains the sizes."""
        emptied(self._rows)
        for each in explained.causes[:MOST]:
            self._add(each)
        if not explained.causes:
            self._rows.addWidget(worded(tr("All within normal variation.")))

    def _add(self, each: Explanation) -> None:
        told = advice(each, self.session.blank, self.session.job)
        odds = tr("{odds} in 100").format(odds=round(100 * each.odds))
        label = worded(f"{odds}:  {told.what}")
        label.setFont(font(10.5, strong=True))
        self._rows.addWidget(label)
        for text in filter(None, (told.this_part, told.next_part)):
            self._rows.addWidget(worded(text))
        row = QHBoxLayout()

        def offer(words: str, done: Callable[[QPushButton], None]) -> None:
            button = QPushButton(words)
            button.clicked.connect(lambda: done(button))
            row.addWidget(button)

        if told.next_part:
            offer(tr("Note for next time"), lambda _: self.suggested.emit(told.next_part))
        if each.cause.off is Off.ANGLE and each.by < 0:
            offer(tr("Can it be bent again?"), partial(self._ask_again, each))
        if each.cause.off is Off.LINE and self.session.plan is not None:
            offer(tr("Flatten and re-mark it?"), partial(self._ask_anew, each))
        if told.change:
            offer(tr("Apply to this job"), lambda _: self.wanted.emit(told.change))
        row.addStretch(1)
        self._rows.addLayout(row)

    def _ask_again(self, cause: Explanation, button: QPushButton) -> None:
        """Ask the engine, beside the window, whether the bend can be bent on with all others
        standing."""
        button.setEnabled(False)
        session, fold = self.session, cause.cause.fold
        now = abs(session.blank.folds[fold].angle) + cause.by
        self._engine.ask(
            self._tell, (again, (session.job, session.blank, session.brake, fold, now))
        )

    def _ask_anew(self, cause: Explanation, button: QPushButton) -> None:
        """Ask the engine, beside the window, what must be opened so that a bend can be flattened
        and bent again."""
        button.setEnabled(False)
        self._engine.ask(self._tell, (anew, (self.session.plan, cause.cause.fold)))

    def _tell(self, found: object) -> None:
        assert isinstance(found, Again | Anew)
        self.answered.emit(found.says())
