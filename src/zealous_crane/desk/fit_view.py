"""A part and the one it follows in one picture: what meets, what room is left, how it comes out."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from ..blank import Pose
from ..check.placed import Placed, placed, whole_fit
from ..check.solids import folded_solids
from ..check.tip import Tip, tips
from ..fit import Fit
from ..measure.input_error import INPUT_ERRORS
from ..measure.report import plain
from ..measure.words import tr
from .canvas import TurnCanvas
from .paint.pair import Pair, paint_pair
from .session import Session
from .theme import Look, font
from .widget import Choice, heading
from .wrapped import Wrapped


class FitView(QDialog):
    """One fit of the work, looked at.

    Args:
        session: the work.
        fit: the fit.
        look: colours.
        parent: the window.
    """

    def __init__(self, session: Session, fit: Fit, look: Look, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.session, self.fit, self.look = session, fit, look
        parts = session.work.parts
        self.setWindowTitle(
            tr("{follower} {rule} {master}").format(
                follower=parts[fit.follower].name, rule=fit.rule.words, master=parts[fit.master].name
            )
        )
        self.resize(1000, 640)
        self.follower, self.master = session.blank_of(fit.follower), session.blank_of(fit.master)
        self.there: Placed | None = None
        corners = [np.concatenate([s.corners for s in folded_solids(blank)]) for blank in (self.follower, self.master)]
        # Room for the part drawn out, whichever way it is turned.
        self.reach = 0.85 * max(float(np.linalg.norm(np.ptp(c, axis=0))) for c in corners)
        self.tips: tuple[Tip, ...] = ()
        self.said = Wrapped()
        self.said.setFont(font(12, bold=True))
        self.how = Choice()
        self.how.setAccessibleName(tr("How it is moved"))
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, 100)
        self.slider.setAccessibleName(tr("How far it is moved"))
        self.moves = Wrapped()
        try:
            self.there = placed(session.work, whole_fit(session.work, fit), self.follower, self.master)
            self.said.setText(("■  " if self.there.meets else "●  ") + self.there.says(session.job.units))
            if not self.there.meets:
                self.tips = tips(self.there, folded_solids(self.master), tuple(np.eye(3)))
        except INPUT_ERRORS as error:
            self.said.setText(plain(error))
        self.how.addItem(tr("drawn out the way it goes in"), None)
        for i, tip in enumerate(self.tips):
            self.how.addItem(tr("tipped over its {over}").format(over=tip.over), i)
        self.moves.setText("\n".join(tip.says() for tip in self.tips))
        self.picture = TurnCanvas(tr("Both parts together"), self._paint, QSize(420, 360))
        self.how.activated.connect(lambda _: self.picture.update())
        self.slider.valueChanged.connect(lambda _: self.picture.update())
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        side = QVBoxLayout()
        side.addWidget(self.said)
        side.addWidget(heading(tr("Take it out")))
        side.addWidget(self.how)
        side.addWidget(self.slider)
        side.addWidget(self.moves)
        for widget in (self.how, self.slider):
            widget.setEnabled(self.there is not None and not self.there.meets)
        side.addStretch(1)
        holder = QWidget()
        holder.setFixedWidth(340)
        holder.setLayout(side)
        row = QHBoxLayout()
        row.addWidget(self.picture, 1)
        row.addWidget(holder)
        box = QVBoxLayout(self)
        box.addLayout(row, 1)
        box.addWidget(buttons)

    def pose(self) -> Pose:
        """Where the part stands in the picture."""
        assert self.there is not None
        share, chosen = self.slider.value() / 100, self.how.currentData()
        if chosen is None:
            most = 1.25 * max(self.there.goes_in, 10.0)
            return Pose(self.there.pose.turn, self.there.pose.shift - self.there.way * (most * share))
        tip = self.tips[chosen]
        a, k = math.radians(tip.free * share), tip.axis
        cross = np.array([[0, -k[2], k[1]], [k[2], 0, -k[0]], [-k[1], k[0], 0]])
        # The part turns about the edge so that what stands above it goes outwards.
        turn = np.eye(3) - math.sin(a) * cross + (1 - math.cos(a)) * cross @ cross
        return Pose(turn, tip.pivot - turn @ tip.pivot) @ self.there.pose

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        if self.there is None:
            return
        marked = tuple((m.follower, m.master) for m in self.there.meets)
        chosen = self.how.currentData()
        if chosen is not None and self.slider.value() == 100:
            met = self.tips[chosen].meets
            marked = (met,) if met is not None else ()
        pair = Pair(self.master, self.follower, self.pose(), marked)
        paint_pair(p, rect, pair, self.look, turn=self.picture.turn, tilt=self.picture.tilt, reach=self.reach)
