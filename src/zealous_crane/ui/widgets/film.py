"""A job in three dimensions as a film: machine and part from wherever one looks, played, stepped
through or drawn along a slider."""

from __future__ import annotations

import math
from dataclasses import replace

from PySide6.QtCore import QElapsedTimer, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QPainter, QShowEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QSizePolicy,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from ...i18n import tr
from ...paint.machine_view import EYE, Shot, film_shot, paint_moment
from ...paint.theme import Theme
from ...paper.stroke_words import HANDLING, motion_text
from ...planning.motion import Handling, JobMotion, Moment, clamped
from ...planning.plan import Plan, PlannedStroke
from .canvas import TurnCanvas
from .widget import emptied, prose

FRAME = 33
"""Milliseconds between two pictures."""

LONGEST = 0.1
"""Seconds the film goes on in one picture at most, also where the last one took longer: nothing is
jumped over."""

HAIR = 1e-4
"""Seconds before its end at which the film stops."""

SPEEDS = ((0.5, "½×"), (1.0, "1×"), (2.0, "2×"), (4.0, "4×"))


class Film(QWidget):
    """The film of a plan; while it stands still, one stroke at an angle.

    Args:
        look: colours.
        least: smallest useful size of the picture.
        plain: the picture alone, with nothing to seek by.

    Signals:
        shown: the film is at another place: number of the stroke, and the angle of its fold.
        stopped: it plays no more.
    """

    shown = Signal(int, float)
    stopped = Signal()

    def __init__(self, look: Theme, least: QSize, *, plain: bool = False) -> None:
        super().__init__()
        self.look = look
        self._plan: Plan | None = None
        self._motion: JobMotion | None = None
        self._shot: Shot | None = None
        self._still: Moment | None = None
        self._number = 0
        self.at: float | None = None
        self._until = 0.0
        self._clock = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setInterval(FRAME)
        self._timer.timeout.connect(self._next_frame)
        self.canvas = TurnCanvas(tr("The brake in three dimensions"), self._paint, least)
        self.canvas.turn, self.canvas.tilt = EYE
        self.caption = prose()
        self._pills = QButtonGroup(self)
        self._pills.idClicked.connect(self._to_phase)
        self._pill_row = QHBoxLayout()
        self._pill_row.setSpacing(4)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.canvas, 1)
        self._seeking = QWidget()
        seeking = QVBoxLayout(self._seeking)
        seeking.setContentsMargins(0, 0, 0, 0)
        seeking.setSpacing(4)
        seeking.addWidget(self.caption)
        seeking.addLayout(self._pill_row)
        seeking.addLayout(self._seek_row())
        column.addWidget(self._seeking)
        self._seeking.setVisible(not plain)

    def _seek_row(self) -> QHBoxLayout:
        self.before, self.after = QPushButton("◂"), QPushButton("▸")
        self.before.setAccessibleName(tr("One step back"))
        self.after.setAccessibleName(tr("One step on"))
        for button, by in ((self.before, -1), (self.after, 1)):
            button.setToolTip(button.accessibleName())
            button.clicked.connect(lambda _=False, by=by: self.step(by))
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName(tr("Place in the film of this bend"))
        self.slider.valueChanged.connect(self._slid)
        self.speed = QComboBox()
        self.speed.setAccessibleName(tr("Speed"))
        for speed, text in SPEEDS:
            self.speed.addItem(text, speed)
        self.speed.setCurrentIndex(1)
        row = QHBoxLayout()
        for widget in (self.before, self.slider, self.after, self.speed):
            row.addWidget(widget, int(widget is self.slider))
        return row

    # --- what is on show -------------------------------------------------------------------------

    @property
    def playing(self) -> bool:
        """True while it plays."""
        return self._timer.isActive()

    @property
    def moment(self) -> Moment | None:
        """Where everything stands in the picture."""
        if self.at is not None and self._motion is not None:
            return self._motion.moment(self.at)
        return self._still

    def show_still(self, plan: Plan, stroke: PlannedStroke, degrees: float) -> None:
        """Show a stroke at an angle; the film stops.

        Args:
            plan: the plan.
            stroke: one of its strokes, or the one no order gets past.
            degrees: the angle its fold stands at.
        """
        self.stop()
        if plan is not self._plan:
            self._plan, self._motion, self._shot = plan, None, None
        self.at, self._still = None, clamped(stroke, degrees)
        self._show_phases(stroke.number)
        self.caption.setText(tr("Drag the picture to turn it."))
        self.canvas.update()

    def _film(self) -> JobMotion | None:
        """The movement, made when it is first wanted; None for a plan without strokes."""
        if self._motion is None and self._plan is not None and self._plan.strokes:
            self._motion = JobMotion(self._plan)
            self._shot = film_shot(self._motion, EYE)
            self._number = 0
            self._show_phases(self._still.stroke.number if self._still else 1)
        return self._motion

    def _show_phases(self, number: int) -> None:
        """The phases of a stroke as buttons, and its time as a slider."""
        motion = self._motion
        if motion is None or number == self._number:
            return
        self._number = number
        for button in self._pills.buttons():
            self._pills.removeButton(button)
        emptied(self._pill_row)
        phases = motion.phases(number)
        for k, (kind, _, _) in enumerate(phases):
            pill = QPushButton(str(HANDLING[kind]))
            pill.setCheckable(True)
            pill.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            self._pills.addButton(pill, k)
            self._pill_row.addWidget(pill, 1)
        self.slider.blockSignals(True)
        self.slider.setRange(math.ceil(phases[0][1] * 1000), math.floor(phases[-1][2] * 1000) - 1)
        self.slider.setPageStep(1000)
        self.slider.blockSignals(False)

    def showEvent(self, event: QShowEvent) -> None:
        self._film()
        super().showEvent(event)

    # --- playing ---------------------------------------------------------------------------------

    def play(self, number: int, *, every: bool) -> None:
        """Play a stroke, or every one from it on; from where it was stopped if that is in it.

        Args:
            number: of the stroke.
            every: go on with the strokes that follow.
        """
        motion = self._film()
        if motion is None:
            return
        phases = motion.phases(number)
        begin, end = phases[0][1], phases[-1][2]
        # A hair before the end is still this bend; the end itself begins the next.
        self._until = (motion.seconds if every else end) - HAIR
        if self.at is None or not begin <= self.at < end - HAIR:
            self.at = begin
        self._clock.start()
        self._timer.start()
        self._show_place()

    def hand_over(self, plan: Plan, stroke: PlannedStroke) -> None:
        """Play how the part comes from the stroke before into its place for this one.

        Args:
            plan: the plan.
            stroke: one of its strokes.
        """
        self.show_still(plan, stroke, stroke.verdict.stroke.setting.start)
        motion = self._film()
        if motion is None:
            return
        bends = next(
            begin for kind, begin, _ in motion.phases(stroke.number) if kind is Handling.BEND
        )
        self.at, self._until = motion.begin_of(stroke.number), bends - HAIR
        self._clock.start()
        self._timer.start()
        self._show_place()

    def stop(self) -> None:
        """Stop where it is."""
        if self.playing:
            self._timer.stop()
            self.stopped.emit()

    def seek(self, seconds: float) -> None:
        """Go to a place in the film, and stop there."""
        motion = self._film()
        if motion is None:
            return
        self.stop()
        self.at = max(0.0, min(seconds, motion.seconds - HAIR))
        self._show_place()

    def step(self, by: int) -> None:
        """To the beginning of the next piece of work, or of the one before."""
        motion = self._film()
        if motion is None:
            return
        begins = [
            begin
            for stroke in dict.fromkeys(span.end.stroke.number for span in motion.spans)
            for _, begin, _ in motion.phases(stroke)
        ]
        begins.append(motion.seconds - HAIR)
        at = motion.phases(self._number)[0][1] if self.at is None else self.at
        later = [b for b in begins if b > at]
        earlier = [b for b in begins if b < at]
        self.seek(later[0] if by > 0 and later else earlier[-1] if by < 0 and earlier else at)

    def _next_frame(self) -> None:
        if not self.isVisible() or self.at is None:
            self.stop()
            return
        passed = min(self._clock.restart() / 1000, LONGEST) * self.speed.currentData()
        self.at = min(self.at + passed, self._until)
        self._show_place()
        if self.at >= self._until:
            self.stop()

    def _show_place(self) -> None:
        """Picture, phase and sentence of where the film is."""
        motion, plan = self._motion, self._plan
        if motion is None or plan is None or self.at is None:
            return
        span = motion.spans[motion.index_at(self.at)]
        number = span.end.stroke.number
        self._show_phases(number)
        for k, (_, begin, end) in enumerate(motion.phases(number)):
            self._pills.button(k).setChecked(begin <= self.at < end)
        self.slider.blockSignals(True)
        self.slider.setValue(round(self.at * 1000))
        self.slider.blockSignals(False)
        self.caption.setText(motion_text(plan, span))
        self.canvas.update()
        moment = motion.moment(self.at)
        at_rest = span.kind in (Handling.BEND, Handling.FLATTEN, Handling.LET_GO)
        self.shown.emit(number, moment.degrees if at_rest else span.end.degrees)

    def _to_phase(self, index: int) -> None:
        if self._motion is not None:
            self.seek(self._motion.phases(self._number)[index][1])

    def _slid(self, value: int) -> None:
        self.seek(value / 1000)

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        moment, view = self.moment, (self.canvas.turn, self.canvas.tilt)
        if moment is None:
            return
        shot = Shot(view)
        if self.at is not None and self._shot is not None:
            shot = replace(self._shot, view=view)
        paint_moment(p, rect, moment, self.look, shot)
