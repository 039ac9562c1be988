"""While the bends are worked out: the flat on the brake, how far it has come, and a way to call it
off."""

from __future__ import annotations

from PySide6.QtCore import QElapsedTimer, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QVBoxLayout, QWidget

from ...bending.machines import stroke_for, toolings
from ...bending.setting import Setting
from ...bending.stroke import Verdict
from ...brake.brake import Brake
from ...flat.blank import Blank
from ...flat.element import MadeBy
from ...i18n import counted, tr
from ...metal.springback import Springback
from ...paint.brake import paint_end
from ...paint.flat import FlatOptions, paint_flat
from ...paint.theme import Theme, font
from ...planning.plan import PlannedStroke
from ...units.length import Units
from ..state.session import Session
from .canvas import Canvas
from .widget import Wrapped, safely

PATIENCE = 150
"""Milliseconds for which what was planned before stays on show, marked, before this page takes its
place: most plans are there by then, and a page that comes and goes at every key is worse than
none."""


TELLING = 1.5
"""Seconds a search has to have taken before its pace says anything."""


def flat_on(blank: Blank, brake: Brake) -> PlannedStroke | None:
    """The flat sheet in the brake before the first bend; None where there is nothing to show."""
    fold = next((i for i, f in enumerate(blank.folds) if f.made_by is MadeBy.BRAKE), None)
    tooling = next(iter(toolings(brake, blank)), None)
    if fold is None or tooling is None:
        return None
    stroke = stroke_for(Setting(blank, fold, True, (0.0,) * len(blank.folds)), tooling)
    verdict = Verdict(stroke, Springback(0.0, ""), 0.0, 0.0, 0.0, None, None, None, ())
    return PlannedStroke(1, verdict, (), (), 0, 0.0, Units.MM)


def seconds_left(gone: float, standing: int, of: int) -> int | None:
    """Seconds a search takes on if its last folds come as its first did; None while that says
    nothing.

    Args:
        gone: seconds it has taken.
        standing: folds that stand in the farthest order.
        of: folds there are.
    """
    if gone < TELLING or not 0 < standing < of:
        return None
    return max(1, round(gone * (of - standing) / standing))


class WorkingPage(QWidget):
    """The page shown in place of a plan that is not there yet."""

    def __init__(self, session: Session, look: Theme) -> None:
        super().__init__()
        self.session, self.look = session, look
        self._stroke: PlannedStroke | None = None
        self._judged = 0
        self._clock = QElapsedTimer()
        self._clock.start()
        self._stale = True
        self.title = Wrapped()
        self.title.setFont(font(15, strong=True))
        self.title.setTextFormat(Qt.TextFormat.PlainText)
        self.says = Wrapped()
        self.says.setFont(font(12))
        self.says.setTextFormat(Qt.TextFormat.PlainText)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setAccessibleName(tr("Bends made in the best order so far"))
        self.stop, self.again = QPushButton(tr("Stop planning")), QPushButton(tr("Plan again"))
        self.stop.clicked.connect(session.bench_plan.stop)
        self.again.clicked.connect(self._again)
        self.brake = Canvas(tr("The flat sheet in the brake"), self._paint_brake, QSize(360, 240))
        self.flat = Canvas(tr("The blank"), self._paint_flat, QSize(300, 200))
        buttons = QHBoxLayout()
        buttons.addWidget(self.stop)
        buttons.addWidget(self.again)
        buttons.addStretch(1)
        side = QVBoxLayout()
        side.addWidget(self.title)
        side.addWidget(self.says)
        side.addWidget(self.bar)
        side.addLayout(buttons)
        side.addWidget(self.flat, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(16)
        row.addWidget(self.brake, 5)
        row.addLayout(side, 4)
        session.advanced.connect(self._advance)

    def _again(self) -> None:
        self.session.bench_plan.again()
        self.session.planned.emit()

    def stands_in_for(self, *others: QWidget) -> bool:
        """True while there is no plan of the job on the bench: this page is then shown in place of
        the others."""
        if self.session.plan is not None:
            self.hide()
            return False
        # What goes is hidden before what comes is shown: for a moment both would make the window
        # grow.
        for widget in others:
            widget.hide()
        self._stale = True
        self.show()
        self._freshen()
        return True

    def showEvent(self, event: QShowEvent) -> None:
        """A page nobody looks at works nothing out."""
        safely(self._freshen)
        super().showEvent(event)

    def _freshen(self) -> None:
        if self._stale and self.isVisible():
            self.show_state()

    def show_state(self) -> None:
        """Show the job on the bench as it is now."""
        session = self.session
        self._stale = False
        self._stroke = flat_on(session.blank, session.brake)
        self._judged = 0
        self._clock.start()
        working = session.bench_plan.planning
        self.title.setText(
            tr("Working out the bends …") if working else tr("There is no plan of this part.")
        )
        self.stop.setVisible(working)
        self.again.setVisible(not working)
        self.bar.setVisible(working)
        if working:
            self._advance(
                session.bench_plan.planner.judged,
                session.bench_plan.planner.standing,
                session.bench_plan.planner.of,
            )
        else:
            self.says.setText(tr("Planning was stopped. Plan again, or change something."))
        self.brake.setVisible(self._stroke is not None)
        self.brake.update()
        self.flat.update()

    def _advance(self, judged: int, names: object, of: int) -> None:
        if not self.session.bench_plan.planning:
            return
        standing = tuple(names) if isinstance(names, tuple) else ()
        self._judged = max(judged, self._judged)
        # A bar that may be painted paints itself there and then, and with it all that waits to be
        # painted.
        self.bar.setUpdatesEnabled(False)
        self.bar.setRange(0, max(of, 1))
        self.bar.setValue(len(standing))
        self.bar.setUpdatesEnabled(True)
        done = (
            tr("best so far makes {standing} of {of} bends").format(standing=len(standing), of=of)
            if of
            else tr("trying the first strokes")
        )
        which = f": {', '.join(standing)}" if standing else ""
        text = tr("{judged} tried; {done}{which}.").format(
            judged=self._judged, done=done, which=which
        )
        left = seconds_left(self._clock.elapsed() / 1000, len(standing), of)
        if left is not None:
            text += " " + counted(
                "At this pace about {count} s more.", "At this pace about {count} s more.", left
            )
        self.says.setText(text)

    def _paint_brake(self, p: QPainter, rect: QRectF) -> None:
        if self._stroke is not None:
            paint_end(p, rect, self._stroke, 0.0, self.look, plain=True)

    def _paint_flat(self, p: QPainter, rect: QRectF) -> None:
        paint_flat(
            p, rect, self.session.blank, self.session.job.units, self.look, FlatOptions(text=12)
        )
