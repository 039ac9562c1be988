"""How the part on the bench follows another: size by size, or between any two faces of either."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QHBoxLayout,
    QListWidget,
    QPushButton,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from ...errors import INPUT_ERRORS
from ...flat.folding import Pose
from ...i18n import tr
from ...inspection.assembly_fit import PlacedPart, TiltOut, folded_solids, placed, tips, whole_fit
from ...paint.folded import Pair, paint_pair
from ...paint.theme import Theme, font
from ...part.size import size_title, sizes
from ...schema.reading import plain
from ...work.fit import Faces, Fit, FitRule, Pairing
from ..state.session import Session
from ..widgets.canvas import TurnCanvas
from ..widgets.field import LengthField
from ..widgets.widget import Choice, FormDialog, Wrapped, heading


class FitDialog(FormDialog):
    """Which sizes follow, from what, with what room."""

    def __init__(self, session: Session, parent: QWidget) -> None:  # noqa: PLR0915
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.session = session
        self.setWindowTitle(tr("Fit"))
        work, at = session.work, session.at
        old = work.follows(at)[0] if work.follows(at) else None
        self.clearance_value = old.clearance if old else 1.0
        self.faces: list[Pairing] = (
            [pair for pair in old.sizes if pair.follower_faces or pair.master_faces] if old else []
        )
        self.master = Choice()
        self.master.setAccessibleName(tr("Follows"))
        for i, part in enumerate(work.parts):
            if i != at:
                self.master.addItem(part.name, i)
        self.rule = Choice()
        self.rule.setAccessibleName(tr("How it sits"))
        self.rule.addItem(tr("goes inside it"), FitRule.INSIDE)
        self.rule.addItem(tr("goes over it"), FitRule.OVER)
        self.clearance = LengthField(tr("Clearance"), self._clear, lambda: session.job.units)
        self.clearance.show_value(self.clearance_value)
        self.pairs: dict[str, QComboBox] = {}
        form = QFormLayout()
        form.addRow(tr("Follows"), self.master)
        form.addRow(tr("It"), self.rule)
        form.addRow(tr("Clearance in all"), self.clearance)
        self.waits = QCheckBox(tr("Cut it only when that part is &made and measured"))
        self.waits.setChecked(old is not None and any(pair.waits for pair in old.sizes))
        form.addRow(self.waits)
        self.lips = Choice()
        self.lips.setAccessibleName(tr("Where lips stand into the opening"))
        for words, rests in (
            (tr("not said"), None),
            (tr("goes between them"), False),
            (tr("lies on them"), True),
        ):
            self.lips.addItem(words, rests)
        self.lips.setCurrentIndex(self.lips.findData(old.rests if old is not None else None))
        form.addRow(tr("Where lips stand in"), self.lips)
        form.addRow(heading(tr("What each size follows")))
        for size in _sizes(session, at):
            choice = Choice()
            title = size_title(session.job.part, size)
            choice.setAccessibleName(tr("{size}: what it follows").format(size=title))
            self.pairs[size] = choice
            form.addRow(title, choice)
        self.message = Wrapped()
        self.message.setObjectName("complaint")
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        loose = buttons.addButton(tr("Unlink"), QDialogButtonBox.ButtonRole.DestructiveRole)
        loose.clicked.connect(self.loosen)
        buttons.accepted.connect(self.take)
        buttons.rejected.connect(self.reject)
        box = QVBoxLayout(self)
        box.addLayout(form)
        box.addWidget(heading(tr("Between any two faces")))
        box.addLayout(self._faces_form())
        box.addWidget(self.message)
        box.addWidget(buttons)
        self.master.activated.connect(lambda _: self._fill(None))
        if old is not None:
            self.master.setCurrentIndex(self.master.findData(old.master))
            self.rule.setCurrentIndex(self.rule.findData(old.rule))
        self._fill(old)
        self._list()

    # --- any two faces ---------------------------------------------------------------------------

    def _faces_form(self) -> QVBoxLayout:
        self.changes = Choice()
        self.changes.setAccessibleName(tr("Size that changes"))
        for size in sizes(self.session.job.part):
            self.changes.addItem(size.title, size.name)
        self.mine, self.theirs = (Choice(), Choice()), (Choice(), Choice())
        names = (
            (tr("its first face"), tr("its second face")),
            (tr("their first face"), tr("their second face")),
        )
        form = QFormLayout()
        form.addRow(tr("Size to change"), self.changes)
        for words, pair, called in (
            (tr("between"), self.mine, names[0]),
            (tr("matches"), self.theirs, names[1]),
        ):
            row = QHBoxLayout()
            for choice, name in zip(pair, called, strict=True):
                choice.setAccessibleName(name)
                choice.setSizeAdjustPolicy(
                    QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
                )
                choice.setMinimumContentsLength(14)
                row.addWidget(choice)
            form.addRow(words, row)
        for choice in self.mine:
            choice.addItems([panel.name for panel in self.session.blank.panels])
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Sizes that follow between faces"))
        self.list.setMaximumHeight(70)
        self.add, self.remove = QPushButton(tr("&Add")), QPushButton(tr("&Take out"))
        self.add.clicked.connect(self._add)
        self.remove.clicked.connect(self._remove)
        both = QHBoxLayout()
        both.addWidget(self.add)
        both.addWidget(self.remove)
        both.addStretch(1)
        box = QVBoxLayout()
        box.addLayout(form)
        box.addLayout(both)
        box.addWidget(self.list)
        return box

    def _add(self) -> None:
        mine, theirs = (
            tuple(choice.currentText() for choice in pair) for pair in (self.mine, self.theirs)
        )
        if mine[0] == mine[1] or theirs[0] == theirs[1]:
            self.message.setText(tr("Choose two faces that face each other, on both parts."))
            return
        self.message.clear()
        pair = Pairing(
            follower=self.changes.currentData(),
            follower_faces=Faces(one=mine[0], other=mine[1]),
            master_faces=Faces(one=theirs[0], other=theirs[1]),
        )
        self.faces = [each for each in self.faces if each.follower != pair.follower] + [pair]
        self._list()

    def _remove(self) -> None:
        at = self.list.currentRow()
        if 0 <= at < len(self.faces):
            del self.faces[at]
            self._list()

    def _list(self) -> None:
        self.list.clear()
        for pair in self.faces:
            theirs = (
                pair.master
                if pair.master_faces is None
                else f"{pair.master_faces.one} – {pair.master_faces.other}"
            )
            self.list.addItem(
                tr("{size} with {theirs}").format(
                    size=size_title(self.session.job.part, pair.follower), theirs=theirs
                )
            )
        self.list.setCurrentRow(len(self.faces) - 1)
        self.list.setVisible(bool(self.faces))
        self.remove.setEnabled(bool(self.faces))

    # --- size by size ----------------------------------------------------------------------------

    def _fill(self, old: Fit | None) -> None:
        number = self.master.currentData() or 0
        theirs = _sizes(self.session, number)
        for size, choice in self.pairs.items():
            choice.clear()
            choice.addItem(tr("nothing"), None)
            for other in theirs:
                choice.addItem(size_title(self.session.work.parts[number].part, other), other)
            plain = [p for p in old.sizes if p not in self.faces] if old is not None else []
            now = next((p.master for p in plain if p.follower == size), None)
            if old is None and size in ("length", "width") and size in theirs:
                now = size
            choice.setCurrentIndex(max(0, choice.findData(now)))
        for choice in self.theirs:
            choice.clear()
            choice.addItems([panel.name for panel in self.session.parts.blank_of(number).panels])

    def _clear(self, value: float | None) -> str | None:
        if value is not None and value < 0:
            return tr("The clearance must not be negative.")
        self.clearance_value = value or 0.0
        return None

    def take(self) -> None:
        """Tie the sizes."""
        pairs = [
            Pairing(follower=s, master=c.currentData())
            for s, c in self.pairs.items()
            if c.currentData()
        ]
        pairs += self.faces
        known = {
            pair.follower: pair.measured
            for fit in self.session.work.follows(self.session.at)
            for pair in fit.sizes
        }
        pairs = [
            p.model_copy(
                update={"waits": self.waits.isChecked(), "measured": known.get(p.follower)}
            )
            for p in pairs
        ]
        others = tuple(f for f in self.session.work.fits if f.follower != self.session.at)
        if not pairs:
            self.message.setText(tr("Choose at least one size that follows."))
            return
        fit = Fit(
            follower=self.session.at,
            master=self.master.currentData(),
            rule=self.rule.currentData(),
            sizes=tuple(pairs),
            clearance=self.clearance_value,
            rests=self.lips.currentData(),
        )
        question = self.session.parts.unsaid((*others, fit)).get(self.session.at)
        if question:
            self.message.setText(question)
            self.lips.setFocus()
            return
        text = self.session.parts.set_fits((*others, fit))
        if text:
            self.message.setText(text)
        else:
            self.accept()

    def loosen(self) -> None:
        """Let the part's sizes stand for themselves again."""
        self.session.parts.set_fits(
            tuple(f for f in self.session.work.fits if f.follower != self.session.at)
        )
        self.accept()


def _sizes(session: Session, number: int) -> list[str]:
    """Names of the sizes of a part that can take part in a fit."""
    job = session.work.parts[number]
    result = []
    for name in type(job.part).model_fields:
        try:
            job.part.span(name, job.sheet.thickness)
        except INPUT_ERRORS:
            continue
        result.append(name)
    return result


class FitView(QDialog):
    """One fit of the work, looked at.

    Args:
        session: the work.
        fit: the fit.
        look: colours.
        parent: the window.
    """

    def __init__(self, session: Session, fit: Fit, look: Theme, parent: QWidget) -> None:  # noqa: PLR0915
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.session, self.fit, self.look = session, fit, look
        parts = session.work.parts
        self.setWindowTitle(
            tr("{follower} {rule} {master}").format(
                follower=parts[fit.follower].name,
                rule=fit.rule.words,
                master=parts[fit.master].name,
            )
        )
        self.resize(1000, 640)
        self.follower, self.master = (
            session.parts.blank_of(fit.follower),
            session.parts.blank_of(fit.master),
        )
        self.there: PlacedPart | None = None
        corners = [
            np.concatenate([s.corners for s in folded_solids(blank)])
            for blank in (self.follower, self.master)
        ]
        # Room for the part drawn out, whichever way it is turned.
        self.reach = 0.85 * max(float(np.linalg.norm(np.ptp(c, axis=0))) for c in corners)
        self.tips: tuple[TiltOut, ...] = ()
        self.message = Wrapped()
        self.message.setFont(font(12, bold=True))
        self.how = Choice()
        self.how.setAccessibleName(tr("How it is moved"))
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, 100)
        self.slider.setAccessibleName(tr("How far it is moved"))
        self.moves = Wrapped()
        try:
            self.there = placed(
                session.work, whole_fit(session.work, fit), self.follower, self.master
            )
            self.message.setText(
                ("■  " if self.there.meets else "●  ") + self.there.says(session.job.units)
            )
            if not self.there.meets:
                self.tips = tips(self.there, folded_solids(self.master), tuple(np.eye(3)))
        except INPUT_ERRORS as error:
            self.message.setText(plain(error))
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
        side.addWidget(self.message)
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
            return Pose(
                self.there.pose.turn, self.there.pose.shift - self.there.way * (most * share)
            )
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
        paint_pair(
            p,
            rect,
            pair,
            self.look,
            turn=self.picture.turn,
            tilt=self.picture.tilt,
            reach=self.reach,
        )
