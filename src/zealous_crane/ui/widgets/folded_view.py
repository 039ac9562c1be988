"""The part folded up: turned, folded in the order it is bent, with its sizes, cut through, beside
its mate."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QElapsedTimer, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QHideEvent, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSlider, QVBoxLayout, QWidget

from ...flat.blank import Blank
from ...i18n import tr
from ...paint.folded import CutPlane, faces_at, paint_folded, shape_in, view_axes
from ...paint.theme import Theme, pixels
from ...units.length import show_length
from ..state.session import Session
from .canvas import TurnCanvas
from .widget import Choice

STEPS = 1000
"""Places of the slider."""

PER_STROKE = 900
"""Milliseconds that the folding of one stroke is shown."""


class FoldedView(QWidget):
    """The folded part with what is looked at on it.

    Args:
        session: holds the part on the bench, and its plan.
        look: colours.
        name: what a screen reader calls the picture.
        least: smallest useful size of the picture.
        folded: share of its folding shown first, 0 to 1.
        tools: sizes, section and mate can be asked for.
        mate: shows the part beside its mate; its button is there where the part follows another
            one.
    """

    def __init__(  # noqa: PLR0913
        self,
        session: Session,
        look: Theme,
        name: str,
        least: QSize,
        *,
        folded: float = 1.0,
        tools: bool = True,
        mate: Callable[[], None] = lambda: None,
    ) -> None:
        super().__init__()
        self.session, self.look, self._tools = session, look, tools
        self.canvas = TurnCanvas(name, self._paint, least, self._steps)
        self._made: object = None
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName(tr("Fold it up"))
        self.slider.setToolTip(tr("Flat at the left, folded at the right, in the order it is bent"))
        self.slider.setRange(0, STEPS)
        self.slider.setPageStep(STEPS // 10)
        self.slider.setValue(round(STEPS * folded))
        self.slider.valueChanged.connect(self._slid)
        self.play = QPushButton(tr("&Fold"))
        self.play.setToolTip(tr("Shows the folding, stroke by stroke in the order it is bent."))
        self.play.clicked.connect(self._play)
        self.sizes = QPushButton(tr("Si&zes"))
        self.sizes.setCheckable(True)
        self.sizes.toggled.connect(self.canvas.update)
        self.section = Choice()
        self.section.setAccessibleName(tr("Cut through"))
        self.section.setSizeAdjustPolicy(
            Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.section.setMinimumContentsLength(8)
        for words, axis in (
            (tr("whole"), None),
            (tr("cut across its length"), 0),
            (tr("cut across its width"), 1),
        ):
            self.section.addItem(words, axis)
        self.section.activated.connect(lambda _: self.canvas.update())
        self.mate = QPushButton(tr("With its &mate …"))
        self.mate.setToolTip(tr("Both parts in one picture, set into each other."))
        self.mate.clicked.connect(mate)
        self._tick = QTimer(self)
        self._tick.setInterval(30)
        self._tick.timeout.connect(self._go_on)
        self._clock = QElapsedTimer()
        row = QHBoxLayout()
        row.addWidget(self.play)
        row.addWidget(self.slider, 1)
        for widget in (self.sizes, self.section, self.mate):
            row.addWidget(widget)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.canvas, 1)
        box.addLayout(row)
        # Only what lies in the view may be shown: a button of nobody's would be a window of its
        # own.
        for widget in (self.sizes, self.section, self.mate):
            widget.setVisible(tools)
        session.planned.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the part as it is now."""
        self.mate.setVisible(self._tools and bool(self.session.work.follows(self.session.at)))
        self.canvas.update()

    # --- the folding -----------------------------------------------------------------------------

    @property
    def _frames(self) -> tuple[tuple[str, tuple[float, ...]], ...]:
        """How the folds stand before each stroke, and what it bends; of the part as it is, where
        its plan is known."""
        plan = self.session.plan
        same = plan is not None and len(plan.blank.folds) == len(self.session.blank.folds)
        return plan.folding if plan is not None and same else ()

    @property
    def angles(self) -> tuple[float, ...]:
        """At which angle every fold is shown, degrees."""
        share, frames = self.slider.value() / STEPS, self._frames
        final = np.array([fold.angle for fold in self.session.blank.folds])
        if not frames or share == 1:
            # Folded up it stands the same whether its plan is known or not: it is parted for
            # drawing once.
            return tuple((share * final).tolist())
        at = share * len(frames)
        k = min(int(at), len(frames) - 1)
        before = np.array(frames[k][1])
        after = np.array(frames[k + 1][1]) if k + 1 < len(frames) else final
        return tuple((before + (after - before) * (at - k)).tolist())

    def _slid(self) -> None:
        self.slider.setAccessibleDescription(self.says)
        self.canvas.update()

    @property
    def says(self) -> str:
        """Which stroke is under way; nothing while the part lies flat or is finished."""
        frames, share = self._frames, self.slider.value() / STEPS
        if not frames or not 0 < share < 1:
            return ""
        k = min(int(share * len(frames)), len(frames) - 1)
        return tr("{number} of {count}: {name}").format(
            number=k + 1, count=len(frames), name=frames[k][0]
        )

    def _play(self) -> None:
        """Fold it from the flat; a press while it folds stops it."""
        if self._tick.isActive():
            self._stop()
            return
        self.slider.setValue(0)
        self._clock.start()
        self._tick.start()
        self.play.setText(tr("&Stop"))

    def _stop(self) -> None:
        self._tick.stop()
        self.play.setText(tr("&Fold"))

    def _go_on(self) -> None:
        share = self._clock.elapsed() / (PER_STROKE * max(1, len(self._frames)))
        self.slider.setValue(round(STEPS * min(1.0, share)))
        if share >= 1:
            self._stop()

    def hideEvent(self, event: QHideEvent) -> None:
        self._stop()
        super().hideEvent(event)

    # --- the picture -----------------------------------------------------------------------------

    def _steps(self, rect: QRectF) -> list[Callable[[], object]]:
        """What the picture is made of, where it is another part or another stand than the last
        time."""
        blank, angles, sizes = self.session.blank, self.angles, self._with_sizes
        now = blank, angles, self.section.currentData(), sizes
        if now == self._made:
            return []
        self._made = now
        steps: list[Callable[[], object]] = [
            lambda: shape_in(rect, blank, angles, self._section(blank, angles))
        ]
        if self.section.currentData() is not None:
            steps.insert(0, lambda: faces_at(blank, angles))
        if sizes:
            # Sizes of the finished part are asked of what checks it, which nobody needs before.
            from ...paint.sizes import sizes_of

            steps.append(lambda: sizes_of(blank))
        return steps

    @property
    def _with_sizes(self) -> bool:
        """Sizes are shown, of the finished part."""
        return self.sizes.isChecked() and self.slider.value() == STEPS

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        blank, turn, tilt = self.session.blank, self.canvas.turn, self.canvas.tilt
        angles = self.angles
        scale = paint_folded(
            p,
            rect,
            blank,
            self.look,
            turn=turn,
            tilt=tilt,
            angles=angles,
            section=self._section(blank, angles),
        )
        self._key(p, rect)
        p.setPen(self.look.color("ink"))
        p.setFont(pixels(15, strong=True))
        p.drawText(
            rect.adjusted(4, 2, -4, 0),
            Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft,
            self.says,
        )
        if self._with_sizes:
            from ...paint.sizes import paint_sizes

            paint_sizes(p, rect, blank, self.session.job, self.look, scale, turn=turn, tilt=tilt)

    def _section(self, blank: Blank, angles: tuple[float, ...]) -> CutPlane | None:
        """The plane through the middle of the part, the nearer half taken away."""
        axis = self.section.currentData()
        if axis is None:
            return None
        reach = np.concatenate([face.points[:, axis] for face in faces_at(blank, angles)])
        eye = view_axes(self.canvas.turn, self.canvas.tilt)[2]
        return CutPlane(axis, float(reach.min() + reach.max()) / 2, -1 if eye[axis] > 0 else 1)

    def _key(self, p: QPainter, rect: QRectF) -> None:
        """Which colour is which face, and how thick the sheet is."""
        p.setFont(pixels(12))
        thick = show_length(self.session.blank.thickness, self.session.job.units.fine, pretty=True)
        x, y = rect.left() + 4, rect.bottom() - 18
        for kind, words in (
            ("inside", tr("inside face")),
            ("outside", tr("outside face")),
            ("", tr("{thick} thick").format(thick=thick)),
        ):
            if kind:
                p.setPen(QPen(self.look.color("metal_edge"), 1))
                p.setBrush(self.look.color(kind))
                p.drawRect(QRectF(x, y + 2, 12, 12))
                x += 17
            p.setPen(self.look.color("faint"))
            wide = p.fontMetrics().horizontalAdvance(words)
            p.drawText(QRectF(x, y, wide + 4, 16), Qt.AlignmentFlag.AlignVCenter, words)
            x += wide + 16
