"""The parts of the work, and what follows from what."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, Qt, QTimer
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from ...flat.element import DevelopmentError
from ...flat.panel_tree import flat_key
from ...i18n import tr
from ...paint.folded import paint_folded
from ...paint.theme import BAR, Theme, fitting, text_scale
from ...part.size import size_title
from ...units.length import show_length
from ...work.fit import Fit
from ..state.session import Session
from ..window.commands import keys_of
from .canvas import KeptButton
from .form import drop
from .widget import Choice, Wrapped, as_text

WIDE, HIGH = 92, 78
"""Pixels of a part's little picture with its name, at the usual size of the text."""


class PartCard(KeptButton):
    """One part of the work: its folded picture and its name.

    Args:
        session: the state behind it.
        at: number of the part, from 0.
        look: colours.
    """

    def __init__(self, session: Session, at: int, look: Theme) -> None:
        super().__init__(look, "bench", in_turn=True)
        self.session, self.at = session, at
        job = session.work.parts[at]
        self.name = job.name
        self.setCheckable(True)
        self.setFixedSize(round(WIDE * text_scale()), round(HIGH * text_scale()))
        self.setAccessibleName(f"{job.name} × {job.quantity}")
        self.setToolTip(as_text(f"{job.name} × {job.quantity}"))

    def paint(self, p: QPainter) -> None:
        """The part as it is bent, above its name."""
        look, rect = self.look, QRectF(self.rect()).adjusted(2, 2, -2, -2)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.isChecked()
        p.setPen(QPen(look.color("accent" if chosen else "line"), 2.5 if chosen else 1))
        p.setBrush(look.color("field"))
        p.drawRoundedRect(rect, 6, 6)
        high = 16 * text_scale()
        words = QRectF(rect.left() + 4, rect.bottom() - high - 2, rect.width() - 8, high)
        p.setFont(fitting(self.name, words.width(), 11.5 * text_scale(), strong=chosen))
        p.setPen(look.color("ink"))
        name = p.fontMetrics().elidedText(
            self.name, Qt.TextElideMode.ElideRight, int(words.width())
        )
        p.drawText(words, Qt.AlignmentFlag.AlignCenter, name)
        try:
            blank = self.session.parts.blank_of(self.at)
        except DevelopmentError:
            return  # what cannot be laid flat is said where it is changed
        paint_folded(p, rect.adjusted(0, 0, 0, -high), blank, look)
        if self.hasFocus():
            p.setPen(QPen(look.color("accent"), 1, Qt.PenStyle.DotLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRoundedRect(rect.adjusted(3, 3, -3, -3), 4, 4)


class PartsBar(QWidget):
    """Which part of the work lies on the bench; add one, take one out, let one follow another.

    Args:
        session: the state behind it.
        look: its colours.
        tell: says a sentence aloud.
        add: opens the page where a new part is chosen.
    """

    def __init__(
        self, session: Session, look: Theme, tell: Callable[[str], None], add: Callable[[], None]
    ) -> None:
        super().__init__()
        self.session, self.look, self.tell = session, look, tell
        self.parts = Choice()
        self.parts.setAccessibleName(tr("Part of the work"))
        self.parts.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.parts.setMinimumContentsLength(10)
        self.parts.activated.connect(self._choose)
        self.add, self.remove, self.fit = QToolButton(), QToolButton(), QPushButton(tr("Fit …"))
        self.add.setText("+")
        self.add.setAccessibleName(tr("Add a part"))
        self.add.setToolTip(tr("Add a part to this work"))
        self.add.clicked.connect(add)
        self.remove.setText("−")
        self.remove.setAccessibleName(tr("Remove this part"))
        self.remove.setToolTip(tr("Remove this part from the work"))
        self.remove.clicked.connect(self._remove)
        self.fit.setToolTip(tr("Let this part's sizes follow from another part"))
        self.fit.clicked.connect(self._open_fit)
        self.together = QPushButton(tr("Together …"))
        self.together.setToolTip(
            tr(
                "This part and the one it follows in one picture: what meets, what room is left, "
                "how it tips out"
            )
        )
        self.together.clicked.connect(self.open_together)
        self.cards: list[PartCard] = []
        self._shown: list[object] = []
        self._group = QButtonGroup(self)
        self._group.idClicked.connect(self._choose)
        inner = QWidget()
        self._row = QHBoxLayout(inner)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(4)
        self._row.addStretch(1)
        self.strip = QScrollArea()
        self.strip.setWidgetResizable(True)
        self.strip.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.strip.setFixedHeight(round((HIGH + BAR) * text_scale()))
        self.strip.setWidget(inner)
        self.follows = Wrapped()
        self.follows.setObjectName("faint")
        row = QHBoxLayout()
        row.setSpacing(4)
        row.addWidget(self.parts, 1)
        for widget in (self.add, self.remove, self.fit, self.together):
            row.addWidget(widget)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addLayout(row)
        box.addWidget(self.strip)
        box.addWidget(self.follows)
        session.changed.connect(self.refresh)
        self.refresh()

    def _choose(self, at: int) -> None:
        refused = self.session.parts.choose(at)
        if refused:
            self.tell(refused)
            self.refresh()

    def refresh(self) -> None:
        """Show the work."""
        work, at = self.session.work, self.session.at
        texts = [
            tr("{i} of {parts}:  {name} × {quantity}").format(
                i=i, parts=len(work.parts), name=p.name, quantity=p.quantity
            )
            for i, p in enumerate(work.parts, start=1)
        ]
        if [self.parts.itemText(i) for i in range(self.parts.count())] != texts:
            self.parts.clear()
            self.parts.addItems(texts)
        self.parts.setCurrentIndex(at)
        several = len(work.parts) > 1
        self._show_cards(at)
        self.remove.setEnabled(several)
        self.fit.setEnabled(several)
        self.together.setVisible(bool(work.follows(at)))
        lines = [_fit_words(self.session, fit) for fit in work.follows(at)]
        led = sorted({work.parts[f.follower].name for f in work.fits if f.master == at})
        if led:
            lines.append(
                tr("{led} {which} this part.").format(
                    led=", ".join(led), which=tr("follows") if len(led) == 1 else tr("follow")
                )
            )
        if work.fitting is not None:
            lines.append(
                tr("Piece of a duct fitting; {keys} changes the sizes of all.").format(
                    keys=keys_of("job.fitting")
                )
            )
        self.follows.setText("\n".join(lines))
        self.follows.setVisible(bool(lines))

    def _show_cards(self, at: int) -> None:
        """A little picture of every part, where there are several; those that changed anew."""
        parts = self.session.work.parts
        self.strip.setVisible(len(parts) > 1)
        keys: list[object] = [(p.name, p.quantity, p.brake, flat_key(p)) for p in parts]
        if len(parts) < 2:
            keys = []
        for number, key in enumerate(keys):
            if number < len(self._shown) and self._shown[number] == key:
                continue
            card = PartCard(self.session, number, self.look)
            if number < len(self.cards):
                self._drop(number)
            self._group.addButton(card, number)
            self._row.insertWidget(number, card)
            self.cards.insert(number, card)
        while len(self.cards) > len(keys):
            self._drop(len(self.cards) - 1)
        self._shown = keys
        if self.cards:
            self.cards[at].setChecked(True)
            QTimer.singleShot(0, self, self._bring_into_view)

    def _bring_into_view(self) -> None:
        if self.session.at < len(self.cards):
            self.strip.ensureWidgetVisible(self.cards[self.session.at], 8, 0)

    def _drop(self, number: int) -> None:
        card = self.cards.pop(number)
        self._group.removeButton(card)
        drop(card)

    def _remove(self) -> None:
        text = self.session.parts.remove()
        if text:
            self.tell(text)

    def _open_fit(self) -> None:
        from ..dialogs.fit import FitDialog

        FitDialog(self.session, self).open()

    def open_together(self) -> None:
        """Both parts in one picture."""
        from ..dialogs.fit import FitView

        FitView(self.session, self.session.work.follows(self.session.at)[0], self.look, self).open()


def _fit_words(session: Session, fit: Fit) -> str:
    units = session.job.units
    sizes = ", ".join(
        size_title(session.work.parts[fit.follower].part, pair.follower).lower()
        for pair in fit.sizes
    )
    text = (
        tr("{sizes} follows from {master}: {rule}, {clearance} clearance.")
        if len(fit.sizes) == 1
        else tr("{sizes} follow from {master}: {rule}, {clearance} clearance.")
    )
    master = session.work.parts[fit.master].name
    return text.format(
        sizes=sizes.capitalize(),
        master=master,
        rule=fit.rule.words,
        clearance=show_length(fit.clearance, units, pretty=True),
    )
