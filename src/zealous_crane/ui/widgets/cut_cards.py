"""The settings of the shear's stop as cards, in order: one figure each, and how the sheet lies."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QEnterEvent, QFont, QFontMetricsF, QPainter, QPen, QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QVBoxLayout, QWidget

from ...cutting.summary import MetalSummary, SettingWords, facts, setting_words
from ...i18n import counted, tr
from ...paint.theme import Theme, fitting, font, pixels
from ...units.length import Units
from .canvas import KeptButton
from .widget import Wrapped, as_text, emptied, prose

LINES, FIGURE, SMALL = 4.0, 1.5, 0.9
"""Least height of a card, height of its figure and of its small words, in heights of its text."""


class CutCard(KeptButton):
    """One setting of the stop.

    Args:
        words: what stands on it.
        look: colours.

    Signals:
        pointed: it is pointed at, or no longer.
    """

    pointed = Signal(bool)

    def __init__(self, words: SettingWords, look: Theme) -> None:
        super().__init__(look, "bench")
        self.words = words
        self.setCheckable(True)
        self.setFixedHeight(round(LINES * self._text))
        self.setMinimumWidth(10 * round(self._text))
        self.setAccessibleName(words.line)
        self.setToolTip(as_text(words.line))

    @property
    def _text(self) -> float:
        """Height of its letters, pixels."""
        return font(10.5).pointSizeF() * self.logicalDpiY() / 72

    def sizeHint(self) -> QSize:
        return QSize(round(26 * self._text), round(LINES * self._text))

    def enterEvent(self, event: QEnterEvent) -> None:
        super().enterEvent(event)
        self.pointed.emit(True)

    def leaveEvent(self, event: QEvent) -> None:
        super().leaveEvent(event)
        self.pointed.emit(False)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        # As high as what is said of the sheet's place asks for.
        self.setFixedHeight(
            max(self.sizeHint().height(), round(self.words_room().bottom() + 0.6 * self._text))
        )

    def _figure(self) -> QFont:
        return fitting(self.words.gauge, 0.27 * self.width(), FIGURE * self._text, strong=True)

    def words_room(self) -> QRectF:
        """Where the words stand, as high as they need."""
        text = self._text
        left = 3.8 * text
        figure = QFontMetricsF(self._figure()).horizontalAdvance(self.words.gauge)
        wide = self.width() - left - figure - 2.2 * text
        often = QFontMetricsF(pixels(SMALL * text)).boundingRect(
            QRectF(0, 0, wide, 1000), Qt.TextFlag.TextWordWrap, self._said(wide)[1]
        )
        return QRectF(left, 0.55 * text, wide, often.height() + 1.7 * text)

    def _said(self, wide: float) -> tuple[str, str]:
        """Its title, and what stands below: what it gives where the title has no room for it, how
        often, and how the sheet lies."""
        words, often = self.words, counted("{count} cut", "{count} cuts", self.words.times)
        whole = f"{words.what}: {words.gives}"
        if QFontMetricsF(pixels(self._text, strong=True)).horizontalAdvance(whole) <= wide:
            return whole, f"{often}; {words.against}"
        return words.what, f"{often}: {words.gives}; {words.against}"

    def paint(self, p: QPainter) -> None:
        """Number, kind of cut and what it gives, how the sheet lies, and the figure."""
        look, text, rect = self.look, self._text, QRectF(self.rect()).adjusted(2, 2, -2, -2)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        lit = self.isChecked() or self.underMouse()
        p.setPen(QPen(look.color("accent" if lit else "line"), 2.5 if lit else 1))
        p.setBrush(look.color("field"))
        p.drawRoundedRect(rect, 6, 6)
        disc = QRectF(rect.left() + 0.8 * text, rect.center().y() - text, 2 * text, 2 * text)
        p.setPen(QPen(look.color("ink"), 1.2))
        p.setBrush(look.color("ink" if lit else "bench"))
        p.drawEllipse(disc)
        p.setFont(pixels(text, strong=True))
        p.setPen(look.color("field" if lit else "ink"))
        p.drawText(disc, Qt.AlignmentFlag.AlignCenter, str(self.words.number))
        p.setPen(look.color("ink"))
        p.setFont(self._figure())
        right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
        p.drawText(rect.adjusted(0, 0, -0.8 * text, 0), right, self.words.gauge)
        room = self.words_room()
        p.setFont(pixels(text, strong=True))
        title, below = self._said(room.width())
        p.drawText(
            QRectF(room.left(), room.top(), room.width(), 1.5 * text),
            Qt.AlignmentFlag.AlignVCenter,
            title,
        )
        p.setFont(pixels(SMALL * text))
        p.setPen(look.color("faint"))
        p.drawText(room.adjusted(0, 1.6 * text, 0, 0), Qt.TextFlag.TextWordWrap, below)
        if self.hasFocus():
            p.setPen(QPen(look.color("accent"), 1, Qt.PenStyle.DotLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRoundedRect(rect.adjusted(3, 3, -3, -3), 5, 5)


class CutCards(QWidget):
    """The settings of every metal of a work, one card each. One may be chosen; while another is
    pointed at, that one is lit instead.

    Args:
        look: colours.

    Signals:
        lit: another setting stands out.
    """

    lit = Signal()

    def __init__(self, look: Theme) -> None:
        super().__init__()
        self.look = look
        self.setAccessibleName(tr("Cuts, in order"))
        self.heads: list[Wrapped] = []
        self.cards: list[tuple[int, CutCard]] = []
        self._pointed: CutCard | None = None
        self._group = QButtonGroup(self)
        self._group.buttonToggled.connect(lambda *_: self.lit.emit())
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0, 0, 0, 0)
        self._box.setSpacing(4)

    def show_lots(self, told: Sequence[MetalSummary], units: Units) -> None:
        """Show the settings of these metals."""
        for _, card in self.cards:
            self._group.removeButton(card)
        emptied(self._box)
        self.heads, self.cards, self._pointed = [], [], None
        for lot, one in enumerate(told):
            lines = [one.lot.name + ("" if one.cannot else f": {facts(one)}")]
            lines += [f"▲  {care}" for care in one.care]
            head = prose()
            head.setText("\n".join(lines))
            self.heads.append(head)
            self._box.addWidget(head)
            for words in setting_words(one, units):
                card = CutCard(words, self.look)
                card.pointed.connect(lambda on, card=card: self._point(card if on else None))
                self._group.addButton(card)
                self._box.addWidget(card)
                self.cards.append((lot, card))

    def _point(self, card: CutCard | None) -> None:
        self._pointed = card
        self.lit.emit()

    def lit_on(self, lot: int) -> int:
        """The number of the setting of that metal that stands out; 0 for none."""
        checked = self._group.checkedButton()
        for of, card in self.cards:
            if of == lot and card is (self._pointed or checked):
                return card.words.number
        return 0
