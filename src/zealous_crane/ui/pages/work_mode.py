"""The work from the shear to the caliper, step by step in the full window: one figure, one picture,
one caution, read from two metres with gloves on."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Mapping

from PySide6.QtCore import QProcess, QRectF, QSize, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QResizeEvent, QShowEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ...cutting.summary import lines_on, sheet_title
from ...errors import INPUT_ERRORS
from ...flat.corner_instructions import CornerRecipe
from ...flat.marking import ScribeSetting
from ...flat.ruler import Striking
from ...i18n import counted, tr
from ...inspection.measures import InspectedSize, Stands
from ...inspection.wording import show_measure, show_reading
from ...paint.flat import FlatOptions, paint_corner, paint_flat
from ...paint.folded import paint_folded
from ...paint.sheets import SheetPicture, paint_sheet_cut
from ...paint.sizes import paint_measure
from ...paint.theme import Theme, font
from ...paper.work_steps import (
    ORDER,
    STATIONS,
    CutShown,
    Station,
    WorkStep,
    bench_steps,
    joining_steps,
    measuring_steps,
    shear_steps,
)
from ...schema.reading import plain
from ..state.session import Session
from ..state.user_settings import Remembered
from ..widgets.canvas import Canvas
from ..widgets.widget import LineEdit, Wrapped
from .at_brake import SHARES, TOUCHED, AtBrake, is_command, large_button

SIGNS = {Stands.GOOD: "●", Stands.NEAR: "▲", Stands.OUT: "■", Stands.OPEN: ""}

SPEAKER = "spd-say"
"""The desktop's speech service, where it is there."""

LEAST_HIGH = 240
"""Pixels a step takes at least."""

TURN, TILT = 28.0, 35.0
"""Degrees from which a folded part is seen."""


class Ticks(QWidget):
    """How many steps are done, how many there are.

    Args:
        look: colours.
    """

    def __init__(self, look: Theme) -> None:
        super().__init__()
        self.look, self.at, self.count = look, 0, 0
        self.setFixedHeight(10)

    def show_progress(self, at: int, count: int) -> None:
        """So many are done of so many."""
        self.at, self.count = at, count
        self.setAccessibleDescription(tr("{at} of {count} done").format(at=at, count=count))
        self.update()

    def paintEvent(self, _: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(Qt.PenStyle.NoPen)
        wide = self.width() / max(1, self.count)
        for k in range(self.count):
            name = "works" if k < self.at else "accent" if k == self.at else "line"
            p.setBrush(self.look.color(name))
            p.drawRoundedRect(QRectF(k * wide + 2, 2, wide - 4, 6), 3, 3)
        p.end()


class MeasuredLine(LineEdit):
    """What was measured. Return takes it; keys of the page work while nothing is typed.

    Args:
        page: whose keys these are.
    """

    def __init__(self, page: StepPage) -> None:
        super().__init__()
        self._page = page

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.text().strip():
            self._page.take(self.text())
        elif key == Qt.Key.Key_Escape:
            self.clear()
            self._page.setFocus()
        elif not self.text().strip() and self._page.runs(event):
            self._page.keyPressEvent(event)
        else:
            super().keyPressEvent(event)


class StepPage(QWidget):
    """The steps of one station, one at a time.

    Args:
        mode: the work mode it is part of.
    """

    def __init__(self, mode: WorkMode) -> None:
        super().__init__()
        self._mode, self.look, self.session = mode, mode.look, mode.session
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.at = 0
        self.steps: tuple[WorkStep, ...] = ()
        self.count = QLabel()
        self.title, self.figure, self.how, self.after = Wrapped(), Wrapped(), Wrapped(), Wrapped()
        self.care, self.answer = Wrapped(), Wrapped()
        self.after.setObjectName("faint")
        for label in (self.title, self.figure, self.how, self.after, self.care, self.answer):
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.got = MeasuredLine(self)
        self.got.setAccessibleName(tr("Measured"))
        self.got.setPlaceholderText(tr("measured"))
        self.got.setFont(font(18))
        self.got.setStyleSheet("min-height: 42px;")
        self.picture = Canvas(tr("What is worked on"), self._paint, QSize(420, 320))
        self.ticks = Ticks(self.look)
        self.back, self.done, self.out = (
            large_button(tr("◂  Back")),
            large_button(tr("Done, next  ▸")),
            large_button(tr("Close")),
        )
        runs = ((self.back, mode.previous), (self.done, mode.next), (self.out, mode.leave))
        for button, run in runs:
            button.clicked.connect(run)
        self.done.setObjectName("primary")
        self._left = QVBoxLayout()
        self._left.setSpacing(6)
        self._left.addWidget(self.count)
        for label in (self.title, self.figure, self.how, self.after):
            self._left.addWidget(label)
        self._left.addStretch(1)
        for widget in (self.care, self.answer, self.got):
            self._left.addWidget(widget)
        self.body = QWidget()
        # However large its letters are: they are made smaller until all of it fits.
        self.body.setMinimumHeight(LEAST_HIGH)
        middle = QHBoxLayout(self.body)
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(24)
        middle.addLayout(self._left, 5)
        middle.addWidget(self.picture, 6)
        foot = QHBoxLayout()
        for button, share in ((self.back, 2), (self.done, 5), (self.out, 1)):
            foot.addWidget(button, share)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(26, 12, 26, 18)
        outer.addWidget(self.body, 1)
        outer.addWidget(self.ticks)
        outer.addLayout(foot)

    @property
    def step(self) -> WorkStep | None:
        """The step on show."""
        return self.steps[self.at] if self.at < len(self.steps) else None

    @property
    def measures(self) -> bool:
        """True where the step on show is a size to be measured."""
        step = self.step
        return step is not None and isinstance(step.shows, InspectedSize)

    def show_steps(self, steps: tuple[WorkStep, ...], at: int, waiting: str) -> None:
        """Show one of some steps.

        Args:
            steps: of the station.
            at: index of the step.
            waiting: what is said while there is none.
        """
        self.steps, self.at = steps, max(0, min(at, len(steps) - 1))
        step = self.step
        self.answer.setText("")
        self.got.clear()
        self.got.setVisible(self.measures)
        self.ticks.show_progress(self.at, len(steps))
        self.count.setText(
            tr("Step {at} of {count}").format(at=self.at + 1, count=len(steps)) if steps else ""
        )
        shown = step or WorkStep(waiting)
        for label, text in (
            (self.title, shown.title),
            (self.figure, shown.figure),
            (self.how, shown.how),
            (self.after, shown.after),
            (self.care, f"▲  {shown.caution}" if shown.caution else ""),
        ):
            label.setText(text)
            label.setVisible(bool(text))
        if self.measures:
            self._show_got()
        self.fit()
        self.picture.update()

    def fit(self) -> None:
        """Write as large as all of it finds room for."""
        width, height = (self.body.width() - 24) * 5 // 11, self.body.height()
        sizes = (
            (self.count, 17, False),
            (self.title, 30, True),
            (self.figure, 76, True),
            (self.how, 21, False),
            (self.after, 17, False),
            (self.care, 17, False),
            (self.answer, 18, True),
        )
        for share in SHARES:
            for label, size, strong in sizes:
                # The figure is what is looked for from two metres: it gives way last.
                least = 0.7 if label is self.figure and self._figure_fits(width) else 0.0
                label.setFont(font(size * max(share, least), strong=strong))
            self._left.invalidate()
            if self._left.totalHeightForWidth(width) <= height and self._figure_fits(width):
                break

    def _figure_fits(self, width: int) -> bool:
        """True where the figure stands on one line."""
        return self.figure.fontMetrics().horizontalAdvance(self.figure.text()) <= width

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.fit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.runs(event):
            self._mode.commands()[Qt.Key(event.key())]()
        elif self.measures and event.text() and event.text() in "0123456789.,-":
            # What is measured is typed without reaching for the field first.
            self.got.setFocus()
            self.got.setText(event.text())
            self.answer.setText("")
        else:
            super().keyPressEvent(event)

    def runs(self, event: QKeyEvent) -> bool:
        """True for a key that is a command while nothing is typed."""
        return is_command(event, self._mode.commands())

    # --- measuring -------------------------------------------------------------------------------

    def take(self, text: str) -> None:
        """Record what was measured and go on; a sentence where it is no size."""
        step, inspection = self.step, self.session.survey.measured.inspection
        if step is None or not isinstance(step.shows, InspectedSize) or inspection is None:
            return
        line = step.shows
        try:
            value = inspection.read(line, text)
        except INPUT_ERRORS as error:
            self.answer.setText(plain(error))
            self.fit()
            return
        measured = self.session.survey.measured
        measured.take(line, value, self.session.job)
        measured.explain()
        self.setFocus()
        if line.stands(value) is Stands.OUT:
            # It stays, so that it is seen; a key goes on.
            self.got.clear()
            self._show_got()
            self.fit()
        else:
            self._mode.next()

    def _show_got(self) -> None:
        """How the size on show came out."""
        step = self.step
        assert step is not None and isinstance(step.shows, InspectedSize)
        line, job = step.shows, self.session.job
        got = self.session.survey.measured.got.get(line.measure.key)
        if got is None:
            return
        off = show_measure(line.measure, abs(got - line.wanted), job)
        stands = line.stands(got)
        said = tr("{sign}  {got}").format(
            sign=SIGNS[stands], got=show_reading(line.measure, got, job)
        )
        if stands is Stands.OUT:
            way = tr("too large") if got > line.wanted else tr("too small")
            said = tr("{said}: {off} {way}. Measure again, or go on.").format(
                said=said, off=off, way=way
            )
        self.answer.setText(said)

    # --- the picture -----------------------------------------------------------------------------

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        step = self.step
        if step is None:
            return
        shows = step.shows
        if isinstance(shows, CutShown):
            self._paint_sheet(p, rect, shows)
        elif isinstance(shows, CornerRecipe):
            paint_corner(p, rect, shows, self.session.job.units, self.look, text=18)
        elif isinstance(shows, InspectedSize):
            self._paint_measure(p, rect, shows)
        elif self._mode.station is Station.JOINING:
            paint_folded(p, rect, self.session.blank, self.look, turn=TURN, tilt=TILT)
        else:
            self._paint_flat(p, rect, shows)

    def _paint_sheet(self, p: QPainter, rect: QRectF, shows: CutShown) -> None:
        told = self.session.cutting.answer
        if shows.lot >= len(told) or shows.sheet >= len(told[shows.lot].sheets):
            return
        one, units = told[shows.lot], self.session.job.units
        picture = SheetPicture(
            one.sheets[shows.sheet],
            sheet_title(one, shows.sheet, units),
            units,
            lines_on(one, shows.sheet),
            shows.setting,
        )
        paint_sheet_cut(p, rect, picture, self.look, text=16)

    def _paint_flat(self, p: QPainter, rect: QRectF, lit: ScribeSetting | None) -> None:
        job = self.session.job
        options = FlatOptions(
            dimensions=False, text=18, striking=Striking.of(job), lit=lit, tags=False
        )
        paint_flat(p, rect, self.session.blank, job.units, self.look, options)

    def _paint_measure(self, p: QPainter, rect: QRectF, line: InspectedSize) -> None:
        blank, job = self.session.blank, self.session.job
        scale = paint_folded(p, rect, blank, self.look, turn=TURN, tilt=TILT)
        text = show_measure(line.measure, line.wanted, job)
        paint_measure(p, rect, blank, line.measure, text, self.look, scale, turn=TURN, tilt=TILT)


class WorkMode(QWidget):
    """The full window for the whole work. Space or Page Down: done, next. Backspace or Page Up:
    back. Escape: leave. 1 to 5: a station, with Alt held. N: the next part of the lot. R: read
    aloud.

    Args:
        session: the state behind it.
        look: its colours.
        leave: called when the person is done.
        remembered: keeps where one was; None keeps it as long as the page is there.
    """

    def __init__(
        self,
        session: Session,
        look: Theme,
        leave: Callable[[], None],
        remembered: Remembered | None,
    ) -> None:
        super().__init__()
        self.session, self.look, self.leave = session, look, leave
        self._remembered = remembered
        self._own: dict[str, dict[str, object]] = {}
        self.setObjectName("bench")
        self.setAccessibleName(tr("Work mode"))
        self.station = Station.BRAKE
        self._places: dict[str, int] = {}
        self._lot, self._of = 1, ""
        self.brake = AtBrake(session, look, leave)
        self.brake.ends.connect(self._past_the_brake)
        self.page = StepPage(self)
        self._bar = QButtonGroup(self)
        self.stack = QStackedWidget()
        self.stack.addWidget(self.page)
        self.stack.addWidget(self.brake)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(self._head())
        outer.addWidget(self.stack, 1)
        self.setFocusProxy(self.page)
        session.cutting.told.connect(self._cut)
        session.cutting.failed.connect(self._failed)
        session.survey.ready.connect(self._surveyed)
        session.changed.connect(self._changed)

    def _head(self) -> QWidget:
        """The stations in order, and whose work it is."""
        head = QWidget()
        head.setObjectName("bar")
        row = QHBoxLayout(head)
        row.setContentsMargins(24, 6, 24, 0)
        row.setSpacing(6)
        for k, (station, words) in enumerate(STATIONS.items()):
            button = QPushButton(str(words))
            button.setCheckable(True)
            button.setMinimumHeight(TOUCHED)
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.setToolTip(tr("Alt+{number}").format(number=k + 1))
            button.clicked.connect(lambda _=False, station=station: self.show_station(station))
            self._bar.addButton(button, k)
            row.addWidget(button)
        # Where there is no room for it the stations go first.
        self.whose = QLabel()
        self.whose.setFont(font(13, strong=True))
        self.whose.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.whose.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        row.addWidget(self.whose, 1)
        self.aloud = QPushButton(tr("Read aloud"))
        self.aloud.setCheckable(True)
        self.aloud.setMinimumHeight(TOUCHED)
        self.aloud.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.aloud.setToolTip(tr("Every step is read by the desktop's speech service (R)."))
        self.aloud.setVisible(shutil.which(SPEAKER) is not None)
        row.addWidget(self.aloud)
        return head

    def _cut(self) -> None:
        if self.isVisible() and self.station is Station.SHEAR:
            self.refresh()

    def _surveyed(self) -> None:
        if self.isVisible() and self.station is Station.MEASURING:
            self.refresh()

    def _failed(self, sentence: str) -> None:
        if self.isVisible() and self.station is Station.SHEAR:
            self.page.show_steps((), 0, sentence)

    def _changed(self) -> None:
        if not self.isVisible():
            return
        if self._of == self._key:
            self.refresh()
        else:
            # Another work: it has a place of its own.
            self.begin()

    # --- where one is ----------------------------------------------------------------------------

    @property
    def _key(self) -> str:
        """What the work is known by from one day to the next."""
        path = self.session.path
        return str(path) if path is not None else self.session.work.name or self.session.job.name

    def _place(self, station: Station) -> str:
        """What a place is kept under: the shear is one for the whole work, the rest of each
        part."""
        return station if station is Station.SHEAR else f"{station}, {self.session.at}"

    def begin(self, station: Station | None = None) -> None:
        """Step up to the work: where it was left, or at a station.

        Args:
            station: where; None goes on where it was left.
        """
        self._of = self._key
        remembered = self._remembered
        kept = self._own.get(self._key, {}) if remembered is None else remembered.work(self._key)
        places = kept.get("places")
        self._places = (
            {str(k): int(v) for k, v in places.items()} if isinstance(places, Mapping) else {}
        )
        lot = kept.get("lot")
        self._lot = lot if isinstance(lot, int) and lot > 0 else 1
        left = kept.get("station")
        at = next((each for each in Station if each == left), Station.SHEAR)
        self.brake.begin()
        self.show_station(station or at)

    def show_station(self, station: Station, *, last: bool = False) -> None:
        """Go to a station, to the step it was left at.

        Args:
            station: where.
            last: to its last step.
        """
        self.station = station
        button = self._bar.button(ORDER.index(station))
        button.setChecked(True)
        if station is Station.BRAKE:
            self.stack.setCurrentWidget(self.brake)
            if last:
                self.brake.to_last()
            self.setFocusProxy(self.brake)
            self.brake.setFocus()
        else:
            self.stack.setCurrentWidget(self.page)
            self.setFocusProxy(self.page)
            self.page.setFocus()
            self._prepare()
            if last:
                self._places[self._place(station)] = max(0, len(self._steps()) - 1)
        self.refresh()

    def _prepare(self) -> None:
        """Have worked out what the station shows, where that is not known yet."""
        if self.station is Station.SHEAR:
            self.session.cutting.ask()
        elif self.station is Station.MEASURING:
            self.session.survey.begin()

    @property
    def _waits(self) -> bool:
        """True while what the station shows is still worked out."""
        session = self.session
        return (self.station is Station.SHEAR and not session.cutting.answers) or (
            self.station is Station.MEASURING and session.survey.measured.inspection is None
        )

    def _steps(self) -> tuple[WorkStep, ...]:
        """What is done at the station on show; the brake has steps of its own."""
        session = self.session
        if self.station is Station.SHEAR:
            told = session.cutting.answer if session.cutting.answers else ()
            return shear_steps(told, session.job.units)
        if self.station is Station.BENCH:
            return bench_steps(session.job, session.blank)
        if self.station is Station.JOINING:
            return joining_steps(session.work, session.job, session.blank)
        measured = session.survey.measured
        if self.station is Station.BRAKE or measured.inspection is None:
            return ()
        return measuring_steps(measured.inspection, measured.count)

    def refresh(self) -> None:
        """Show where one is."""
        self._prepare()
        work, job = self.session.work, self.session.job
        whose = job.name
        if len(work.parts) > 1:
            whose = tr("{name} ({at} of {count})").format(
                name=job.name, at=self.session.at + 1, count=len(work.parts)
            )
        if job.quantity > 1 and self.station not in (Station.SHEAR, Station.BRAKE):
            whose = tr("{name}  ·  part {part} of {quantity}").format(
                name=whose, part=self._lot, quantity=job.quantity
            )
        self.whose.setText(whose)
        if self.station is not Station.BRAKE:
            waiting = {
                Station.SHEAR: tr("Working out the cuts …"),
                Station.MEASURING: tr("Working out what to measure …"),
                Station.JOINING: tr("Nothing is left to do."),
            }.get(self.station, "")
            if self.station is Station.SHEAR and not self._waits:
                waiting = tr("Nothing is cut yet.")
            at = self._places.get(self._place(self.station), 0)
            self.page.show_steps(self._steps(), at, waiting)
            self._read_aloud()
        self._keep()

    def _keep(self) -> None:
        kept: dict[str, object] = {
            "station": str(self.station),
            "places": dict(self._places),
            "lot": self._lot,
        }
        if self._remembered is None:
            self._own[self._key] = kept
        else:
            self._remembered.keep_work(self._key, kept)

    # --- moving on -------------------------------------------------------------------------------

    def commands(self) -> dict[Qt.Key, Callable[[], object]]:
        """What every key does while nothing is typed."""
        return {
            Qt.Key.Key_Space: self.next,
            Qt.Key.Key_Return: self.next,
            Qt.Key.Key_Enter: self.next,
            Qt.Key.Key_Right: self.next,
            Qt.Key.Key_PageDown: self.next,
            Qt.Key.Key_Left: self.previous,
            Qt.Key.Key_Backspace: self.previous,
            Qt.Key.Key_PageUp: self.previous,
            Qt.Key.Key_Escape: self.leave,
            Qt.Key.Key_N: self.next_part,
            Qt.Key.Key_R: self.aloud.toggle,
        }

    def keyPressEvent(self, event: QKeyEvent) -> None:
        number = event.key() - Qt.Key.Key_1
        if event.modifiers() & Qt.KeyboardModifier.AltModifier and 0 <= number < len(ORDER):
            self.show_station(ORDER[number])
        else:
            super().keyPressEvent(event)

    def next(self) -> None:
        """This step is done; after the last of a station comes the next station."""
        at = self.page.at + 1
        if self._waits:
            return
        if at < len(self.page.steps):
            self._places[self._place(self.station)] = at
            self.refresh()
        else:
            self._past(1)

    def previous(self) -> None:
        """Back to the step before; before the first of a station lies the station before."""
        if self.page.at > 0 and self.page.steps:
            self._places[self._place(self.station)] = self.page.at - 1
            self.refresh()
        else:
            self._past(-1)

    def _past(self, by: int) -> None:
        """On to the next station, or to the last step of the one before."""
        to = ORDER.index(self.station) + by
        if 0 <= to < len(ORDER):
            if by > 0:
                # Whoever comes there anew begins at its beginning.
                self._places.pop(self._place(ORDER[to]), None)
            self.show_station(ORDER[to], last=by < 0)
        elif by > 0:
            self._through()

    def _past_the_brake(self, by: int) -> None:
        if self.isVisible() and self.station is Station.BRAKE:
            self._past(by)

    def _through(self) -> None:
        """The part is through: on with the next part of the work, or it is said that all is
        done."""
        if self.session.at + 1 < len(self.session.work.parts):
            self.session.parts.choose(self.session.at + 1)
            self.show_station(Station.BENCH)
            return
        out = self.session.survey.measured.out
        said = (
            counted(
                "{count} size is out of tolerance: see Check.",
                "{count} sizes are out of tolerance: see Check.",
                out,
            )
            if out
            else tr("The work is through.")
        )
        self.page.answer.setText(said)
        self.page.fit()

    def next_part(self) -> None:
        """The next part of the lot goes through this station from its first step."""
        if self.station in (Station.SHEAR, Station.BRAKE):
            return
        self._lot = self._lot % max(1, self.session.job.quantity) + 1
        self._places[self._place(self.station)] = 0
        if self.station is Station.MEASURING:
            self.session.survey.measured.next_part()
        self.refresh()

    # --- showing ---------------------------------------------------------------------------------

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.setFocus()

    def _read_aloud(self) -> None:
        """Have the step read, where that is wished and can be."""
        step = self.page.step
        if self.aloud.isChecked() and step is not None:
            text = ". ".join(filter(None, (step.title, step.figure, step.how, step.caution)))
            QProcess.startDetached(SPEAKER, ["--cancel"])
            QProcess.startDetached(SPEAKER, [text])
