"""Check: a finished part measured, what explains its sizes, and what is done then."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QShowEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...errors import INPUT_ERRORS
from ...flat.blank import Blank
from ...i18n import counted, tr
from ...inspection.finishing import FinishingStep, finishing
from ...inspection.inspection import USUAL_COUNT
from ...inspection.measures import InspectedSize
from ...inspection.model import What
from ...inspection.wording import question_text, show_measure, verdict
from ...io.atomic import FileError
from ...paint.folded import paint_folded, shape_in, stand_at
from ...paint.sizes import paint_measure
from ...paint.theme import Theme, crowded, text_scale
from ...paper.sheets import write_report
from ...part.size import size_title
from ...schema.reading import plain
from ...units.length import parse_length, show_length
from ...units.quantities import parse_angle
from ...work.fit import Fit, FitRule, Pairing
from ..state.session import Session
from ..widgets.canvas import TurnCanvas
from ..widgets.field import LengthField, ParsedField, TextField
from ..widgets.save_as import ask_where
from ..widgets.widget import Column, emptied, heading, prose, safely, worded
from .sizes import Causes, GotLine, SizeTable

WIDTH = 268
"""Painter units a step's text has on its line."""


class FinishingSteps(QWidget):
    """What is left to do on a bent part.

    Attributes:
        ticked: keys of the steps that are done.
    """

    def __init__(self) -> None:
        super().__init__()
        self.ticked: set[str] = set()
        self._shown: tuple[tuple[FinishingStep, ...], frozenset[str]] = ((), frozenset())
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(0, 0, 0, 0)

    def show_steps(self, steps: tuple[FinishingStep, ...]) -> None:
        """Show these steps, those that are done ticked; nothing is made anew where nothing
        changed."""
        shown = steps, frozenset(self.ticked)
        if shown == self._shown:
            return
        self._shown = shown
        emptied(self._rows)
        for step in steps:
            box = QCheckBox()
            box.setAccessibleName(step.says)
            box.setChecked(step.key in self.ticked)
            box.toggled.connect(partial(self._tick, step.key))
            says = worded(
                tr("{step}  ▲ {caution}").format(step=step.says, caution=step.caution)
                if step.caution
                else step.says
            )
            # A wrapped text beside a box is not asked how tall it is.
            says.setMinimumHeight(says.heightForWidth(WIDTH))
            row = QHBoxLayout()
            row.addWidget(box, 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(says, 1)
            self._rows.addLayout(row)

    def _tick(self, key: str, on: bool) -> None:
        (self.ticked.add if on else self.ticked.discard)(key)
        self._shown = self._shown[0], frozenset(self.ticked)


class MateMeasures(QWidget):
    """Openings measured in the part that is followed: the next part's size follows from the less of
    two.

    Attributes:
        fields: where they are typed, in the order of the fits.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.fields: list[ParsedField] = []
        self._asked: list[tuple[int, int, str]] = []
        self._rows = QVBoxLayout()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(heading(tr("Its mate, as measured")))
        box.addLayout(self._rows)
        self.hide()

    def refresh(self) -> None:
        """Show what is to be measured for the part on the bench."""
        work, at, units = self.session.work, self.session.at, self.session.job.units
        asked: list[tuple[int, int, str]] = []
        measured: list[float | None] = []
        for number, fit in enumerate(work.fits):
            if at not in (fit.follower, fit.master):
                continue
            master, follower = work.parts[fit.master], work.parts[fit.follower]
            for k, pair in enumerate(fit.sizes):
                size = size_title(follower.part, pair.follower).lower()
                what = tr("{master}, for the {size} of {follower}")
                asked.append(
                    (number, k, what.format(master=master.name, size=size, follower=follower.name))
                )
                measured.append(pair.measured)
        if asked != self._asked:
            # Only then: whoever types in one of them goes on typing.
            self._asked = asked
            emptied(self._rows)
            self.fields = [self._field(number, k, what) for number, k, what in asked]
        for field, value in zip(self.fields, measured, strict=True):
            field.show_text("" if value is None else show_length(value, units))
        self.setVisible(bool(asked))

    def _field(self, number: int, k: int, what: str) -> ParsedField:
        hint = tr("measured; twice: 10 1/2 / 10 7/16")
        field = ParsedField(
            what, partial(self._typed, number, k), partial(self._measured, number), hint
        )
        self._rows.addWidget(worded(what))
        self._rows.addWidget(field)
        return field

    def _measured(self, number: int, text: str) -> float | None:
        """What was measured of a mate, mm: of two figures the one that binds; None where nothing is
        typed.

        Raises:
            InputError: it is no length.
        """
        values = [
            parse_length(each, self.session.job.units) for each in text.split(" / ") if each.strip()
        ]
        binds = min if self.session.work.fits[number].rule is FitRule.INSIDE else max
        return binds(values) if values else None

    def _typed(self, number: int, k: int, text: str) -> str | None:
        fits = list(self.session.work.fits)
        fit = fits[number]
        try:
            measured = self._measured(number, text)
        except INPUT_ERRORS as error:
            return str(error)
        if measured is not None and measured <= 0:
            return tr("A measured size must be more than zero.")
        pairs = list(fit.sizes)
        pairs[k] = Pairing.model_validate({**pairs[k].model_dump(), "measured": measured})
        fits[number] = Fit.model_validate(
            {**fit.model_dump(), "sizes": [p.model_dump() for p in pairs]}
        )
        return self.session.parts.set_fits(tuple(fits), "measured")


FIRST = 430
"""Width of the table of sizes, where letters are as large as usual."""

ROOMY = 1.18
"""Times its width the column of sizes is at the most: no name then takes more than three lines."""


class CheckingStage(QWidget):
    """Sizes on the left, the part with the caliper on it in the middle, what to do on the right."""

    def __init__(self, session: Session, look: Theme) -> None:
        super().__init__()
        self.session, self.look = session, look
        self.setObjectName("bench")
        self.survey = session.survey
        self.survey.ready.connect(self.refresh)
        self.measured = self.survey.measured
        self.chosen = 0
        self.says = prose(size=12, strong=True)
        self._measuring()
        self.picture = TurnCanvas(
            tr("Where it is measured"), self._paint, QSize(160, 260), self._steps
        )
        self._pictured: Blank | None = None
        self.question = prose()
        self._deciding()
        self._laid_out()
        session.devices.angle.connect(partial(self._reading, What.ANGLE))
        session.devices.size.connect(partial(self._reading, None))
        session.changed.connect(self.refresh)

    def _measuring(self) -> None:
        """What is measured, and how far it may be off."""
        self.complaint = prose("complaint")
        self.table = SizeTable()
        self.table.typed.connect(self._typed)
        self.table.left.connect(lambda at, by: self.go_to(at + by))
        self.table.entered.connect(self._entered)
        self.table.begun_anew.connect(self.complaint.clear)
        self.title = heading("")
        self.more, self.next_part = (
            QPushButton(tr("&More to measure")),
            QPushButton(tr("Next &part")),
        )
        self.more.clicked.connect(self._more)
        self.next_part.clicked.connect(self._next_part)
        units = lambda: self.session.job.units  # noqa: E731 - what they are when it is asked
        self.within = LengthField(
            tr("Sizes within"), self._within, units, empty=tr("the general ones")
        )

    def _deciding(self) -> None:
        """What explains the sizes, and what is done then."""
        self.causes, self.steps = Causes(self.session), FinishingSteps()
        self.causes.suggested.connect(self._suggest)
        self.causes.wanted.connect(self._change)
        self.causes.answered.connect(self._answered)
        self.mates = MateMeasures(self.session)
        self.next_time = TextField(
            tr("What to change next time"), self._next_time, tr("what to change next time")
        )
        self.report = QPushButton(tr("&Report (PDF) …"))
        self.report.clicked.connect(self._ask_report)
        self.done = QPushButton(tr("&Done – record in the book"))
        self.done.clicked.connect(self._done)

    def _laid_out(self) -> None:
        """Sizes, picture and decisions side by side; with letters much larger than usual the
        picture heads the last column."""
        narrow = crowded()
        middle = QVBoxLayout()
        middle.addWidget(self.picture, 1)
        middle.addWidget(self.question)
        if narrow:
            self.picture.setFixedHeight(220)
        side = _scrolled(self._last_column(middle if narrow else None))
        side.setMinimumWidth(190)
        if not narrow:
            side.setMaximumWidth(330)
        row = QHBoxLayout()
        row.setSpacing(14)
        row.addWidget(self._first_column(), 100)
        if not narrow:
            row.addLayout(middle, 40)
        row.addWidget(side, 70)
        page = QVBoxLayout(self)
        page.setContentsMargins(16, 12, 16, 12)
        page.addWidget(self.says)
        page.addLayout(row, 1)

    def _first_column(self) -> QWidget:
        both = QHBoxLayout()
        both.addWidget(self.more)
        both.addWidget(self.next_part)
        both.addStretch(1)
        within = QHBoxLayout()
        within.addWidget(QLabel(tr("Sizes may be off by ±")))
        within.addWidget(self.within, 1)
        first = QWidget()
        # The table is what is worked in: it keeps its width, larger where letters are.
        first.setMinimumWidth(round(FIRST * min(text_scale(), 1.2)))
        first.setMaximumWidth(round(ROOMY * FIRST * text_scale()))
        left = QVBoxLayout(first)
        left.addWidget(self.title)
        left.addWidget(_scrolled(self.table), 1)
        left.addLayout(within)
        left.addLayout(both)
        left.addWidget(self.complaint)
        return first

    def _last_column(self, above: QVBoxLayout | None) -> Column:
        right = Column()
        column = QVBoxLayout(right)
        column.setContentsMargins(0, 0, 10, 0)
        if above is not None:
            column.addLayout(above)
        column.addWidget(heading(tr("Likely causes")))
        column.addWidget(self.causes)
        column.addWidget(self.mates)
        column.addWidget(heading(tr("Joining and finishing")))
        column.addWidget(self.steps)
        column.addWidget(heading(tr("Next time")))
        for widget in (self.next_time, self.done, self.report):
            column.addWidget(widget)
        column.addStretch(1)
        return right

    # --- showing ---------------------------------------------------------------------------------

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        safely(self.refresh)

    def refresh(self) -> None:
        """Show the part on the bench; what was measured of another one is let go."""
        if not self.isVisible():
            return
        job, blank = self.session.job, self.session.blank
        other_flat, other_part = self.survey.begin()
        if other_part:
            self.next_time.show_text("")
        if other_flat:
            self.chosen = 0
            self.steps.ticked.clear()
        self.within.show_value(job.sizes_within)
        self.steps.show_steps(finishing(job, blank))
        self.mates.refresh()
        self._show_table()
        self._explain()
        if self.busy:
            self.says.setText(tr("Working out what to measure …"))

    @property
    def busy(self) -> bool:
        """True while the sizes of the part on the bench are being worked out."""
        return self.isVisible() and self.measured.inspection is None

    @property
    def lines(self) -> tuple[InspectedSize, ...]:
        """The sizes on show."""
        return self.measured.lines

    def _show_table(self) -> None:
        job = self.session.job
        quantity = job.quantity
        self.title.setText(
            tr("Part {part} of {quantity}").format(part=self.measured.part, quantity=quantity)
            if quantity > 1
            else tr("Measure the part")
        )
        self.next_part.setEnabled(self.measured.part < quantity)
        self.table.show_lines(self.lines, self.measured.got, job)
        self.more.setEnabled(self.measured.more)

    @property
    def fields(self) -> list[GotLine]:
        """Where sizes are typed."""
        return self.table.fields

    def _entered(self, at: int) -> None:
        self.chosen = at
        self.picture.update()

    def go_to(self, at: int) -> None:
        """Put the cursor into another size; past the last what is typed is taken."""
        if 0 <= at < len(self.fields):
            self.chosen = at
            self.fields[at].setFocus()
            self.fields[at].selectAll()
            self.picture.update()
        else:
            self.picture.setFocus()

    def _more(self) -> None:
        self.measured.count += USUAL_COUNT
        self._show_table()
        self.go_to(self.measured.count - USUAL_COUNT)

    def _next_part(self) -> None:
        self.measured.next_part()
        self.refresh()
        self.go_to(0)

    # --- what was measured -----------------------------------------------------------------------

    def _typed(self, at: int) -> None:
        inspection = self.measured.inspection
        if at >= len(self.fields) or inspection is None:
            return
        line, text = self.lines[at], self.fields[at].text().strip()
        if not text:
            if self.measured.got.pop(line.measure.key, None) is not None:
                self._explain()
            return
        if text.startswith(("±", "+-")):
            self._asked(line, text.removeprefix("±").removeprefix("+-").strip())
            return
        try:
            value = inspection.read(line, text)
        except INPUT_ERRORS as error:
            self.complaint.setText(f"{line.measure.says}: {plain(error)}")
            return
        self.complaint.clear()
        if self.measured.take(line, value, self.session.job):
            self._explain()

    def _reading(self, what: What | None, value: float) -> None:
        """An instrument sent a figure: it goes where the cursor is, when that is a size of its
        kind, and the cursor goes on."""
        if not self.isVisible() or not 0 <= self.chosen < len(self.fields):
            return
        line, at = self.lines[self.chosen], self.chosen
        if (line.measure.what is What.ANGLE) != (what is What.ANGLE):
            self.complaint.setText(
                tr("The instrument sent {kind}; this is {measure}.").format(
                    kind=tr("an angle") if what is What.ANGLE else tr("a length"),
                    measure=line.measure.says,
                )
            )
            return
        job = self.session.job
        self.fields[at].setText(
            f"{job.angles.read(value):g}" if what is What.ANGLE else f"{value:.3f} mm"
        )
        self._typed(at)
        self.go_to(at + 1)

    def _asked(self, line: InspectedSize, text: str) -> None:
        """What a drawing asks of this size; nothing typed takes it back."""
        job = self.session.job
        asked = {key: by for key, by in job.sizes_asked.items() if key != line.measure.key}
        try:
            if text:
                angle = line.measure.what is What.ANGLE
                asked[line.measure.key] = (
                    parse_angle(text) if angle else parse_length(text, job.units)
                )
        except INPUT_ERRORS as error:
            self.complaint.setText(f"{line.measure.says}: {plain(error)}")
            return
        self.complaint.setText(self.session.edit("", sizes_asked=asked) or "")

    def _explain(self) -> None:
        self.question.setText("")
        measured = self.measured
        measured.explain()
        job, blank = self.session.job, self.session.blank
        self.table.show_signs(self.lines, measured.got)
        self.picture.update()
        if measured.found is None:
            self.says.setText(
                tr("Measure the part: the most telling sizes come first; Enter moves on.")
            )
            self.causes.show_nothing()
            return
        out, result = measured.out, measured.found
        sign = "■" if out else "●"
        text = (
            counted(
                "{count} size is out of tolerance. ", "{count} sizes are out of tolerance. ", out
            )
            if out
            else counted(
                "{count} size measured, within tolerance. ",
                "{count} sizes measured, all within tolerance. ",
                len(measured.got),
            )
        )
        self.says.setText(f"{sign}  {text}{verdict(result, blank, job, out)}")
        asked = [question_text(result.question, blank, job)] if result.question is not None else []
        asked += measured.drifting(job)
        self.question.setText("\n".join(asked))
        self.causes.show_found(result)

    def _answered(self, text: str) -> None:
        self.question.setText("\n".join(filter(None, (text, self.question.text()))))

    def _within(self, value: float | None) -> str | None:
        return self.session.edit("sizes within", sizes_within=value)

    def _suggest(self, text: str) -> None:
        self.measured.next_text = " ".join(filter(None, (self.measured.next_text, text)))
        self.next_time.show_text(self.measured.next_text)

    def _change(self, fields: dict[str, object]) -> None:
        refusal = self.session.edit("", **fields)
        if refusal:
            self.complaint.setText(refusal)

    # --- done ------------------------------------------------------------------------------------

    def _next_time(self, text: str) -> str | None:
        self.measured.next_text = text.strip()
        return None

    def _done(self) -> None:
        job, plan = self.session.job, self.session.plan
        order = ", ".join(stroke.name for stroke in plan.strokes) if plan is not None else ""
        note = tr("{ticked} steps of finishing ticked, {out} sizes out of tolerance")
        ticked = len(self.steps.ticked)
        self.measured.done(job, order, note.format(ticked=ticked, out=self.measured.out))
        self.says.setText(
            tr(
                "●  Recorded in the book. When this part is opened again, what to change comes "
                "up first."
            )
        )

    def _ask_report(self) -> None:
        name = "".join(c if c.isalnum() or c in " -_" else "-" for c in self.session.job.name)
        path = ask_where(
            self, tr("Report of the part as made"), f"{name}, as made.pdf", "PDF (*.pdf)", "pdf"
        )
        if path:
            try:
                self.write_report(path)
            except FileError as error:
                self.complaint.setText(str(error))

    def write_report(self, path: Path) -> None:
        """Write the report of the part on show.

        Raises:
            FileError: it could not be written.
        """
        measured = self.measured
        if measured.inspection is None:
            return
        steps = [
            (step, step.key in self.steps.ticked)
            for step in finishing(self.session.job, self.session.blank)
        ]
        write_report(
            measured.inspection,
            measured.got,
            measured.found,
            steps,
            measured.next_text,
            measured.part,
            path,
        )

    def _steps(self, rect: QRectF) -> list[Callable[[], object]]:
        """What the picture is made of, where it is another part than the last time."""
        blank = self.session.blank
        if blank is self._pictured:
            return []
        self._pictured = blank
        return [lambda: shape_in(rect, blank, stand_at(blank))]

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        blank, turn, tilt = self.session.blank, self.picture.turn, self.picture.tilt
        scale = paint_folded(p, rect, blank, self.look, turn=turn, tilt=tilt)
        if 0 <= self.chosen < len(self.lines):
            line = self.lines[self.chosen]
            text = show_measure(line.measure, line.wanted, self.session.job)
            paint_measure(
                p, rect, blank, line.measure, text, self.look, scale, turn=turn, tilt=tilt
            )


def _scrolled(widget: QWidget) -> QScrollArea:
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setWidget(widget)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
    return area
