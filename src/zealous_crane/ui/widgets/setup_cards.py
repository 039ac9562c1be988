"""A card for each set-up of a plan: its block of pieces drawn to scale, and the bends it serves."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QScrollArea, QWidget

from ...bending.segments import width_text
from ...i18n import tr
from ...paint.theme import Theme, pixels, text_scale
from ...planning.plan import Plan, ToolSetup
from ...units.length import show_length
from .canvas import KeptButton
from .widget import emptied

CARD = 300, 84
"""Pixels of a card, at the usual size of the text."""


def bends_text(setup: ToolSetup) -> str:
    """The bends a set-up serves: ``bends 1–4``, ``bend 2``, ``bends 1, 2, 5``."""
    numbers = setup.strokes
    in_a_row = len(numbers) > 2 and numbers[-1] - numbers[0] == len(numbers) - 1
    shown = f"{numbers[0]}–{numbers[-1]}" if in_a_row else ", ".join(map(str, numbers))
    one = len(numbers) == 1
    return (tr("bend {numbers}") if one else tr("bends {numbers}")).format(numbers=shown)


class SetupCard(KeptButton):
    """One set-up.

    Args:
        number: its place among the set-ups, from 1.
        setup: what stands in the brake.
        plan: whose it is.
        look: colours.
    """

    def __init__(self, number: int, setup: ToolSetup, plan: Plan, look: Theme) -> None:
        super().__init__(look, "bench")
        self.setup, self._units = setup, setup.tooling.marked_in
        self.title = tr("Set-up {number}").format(number=number)
        self.bends = bends_text(setup)
        blocks = width_text(setup.blocks, self._units, pretty=True)
        with_ = f"{setup.tooling.says}: " if setup.tooling.says else ""
        self.words = f"{with_}{blocks}"
        if setup.setback:
            self.words += tr(", nose {setback} back").format(
                setback=show_length(setup.setback, plan.job.units.fine)
            )
        self.setCheckable(True)
        self.setFixedSize(QSize(*(round(side * text_scale()) for side in CARD)))
        said = tr("{title}, {bends}: {words}")
        self.setAccessibleName(said.format(title=self.title, bends=self.bends, words=self.words))
        self.setToolTip(self.words)

    def paint(self, p: QPainter) -> None:
        rect = self.paint_card(p)
        text = rect.height() / 6.2
        inner = rect.adjusted(text * 0.7, text * 0.4, -text * 0.7, -text * 0.4)
        head = QRectF(inner.left(), inner.top(), inner.width(), text * 1.5)
        p.setPen(self.look.color("ink"))
        p.setFont(pixels(text, strong=True))
        p.drawText(head, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, self.title)
        p.setFont(pixels(text * 0.92))
        p.setPen(self.look.color("faint"))
        p.drawText(head, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, self.bends)
        foot = QRectF(inner.left(), inner.bottom() - text * 1.4, inner.width(), text * 1.4)
        words = p.fontMetrics().elidedText(
            self.words, Qt.TextElideMode.ElideRight, int(foot.width())
        )
        p.setPen(self.look.color("ink"))
        p.drawText(foot, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, words)
        room = QRectF(
            inner.left(), head.bottom() + 2, inner.width(), foot.top() - head.bottom() - 4
        )
        self._paint_blocks(p, room, text)

    def places(self) -> list[tuple[float, float, float]]:
        """Left and right end (mm, from the first piece's left end) and width of every piece."""
        return [
            (a, b, width)
            for block, offset in zip(self.setup.blocks, self._offsets(), strict=True)
            for (a, b), width in zip(block.placed(offset), block.widths, strict=True)
        ]

    def _offsets(self) -> list[float]:
        """Left end of every block, mm."""
        known = self.setup.offsets[: len(self.setup.blocks)]
        if len(known) == len(self.setup.blocks):
            return list(known)
        return [0.0] * len(self.setup.blocks)

    def _paint_blocks(self, p: QPainter, room: QRectF, text: float) -> None:
        """The pieces side by side over the bed."""
        places = self.places()
        if not places:
            return
        low, high = min(a for a, _, _ in places), max(b for _, b, _ in places)
        scale = room.width() / max(high - low, 1.0)
        p.setFont(pixels(text * 0.9, strong=True))
        for a, b, width in places:
            piece = QRectF(
                room.left() + (a - low) * scale, room.top(), (b - a) * scale, room.height()
            ).adjusted(0.5, 0, -0.5, 0)
            p.setPen(QPen(self.look.color("tool_edge"), 1))
            p.setBrush(self.look.color("tool", 90))
            p.drawRect(piece)
            label = show_length(width, self._units, mark=False, pretty=True)
            if p.fontMetrics().horizontalAdvance(label) < piece.width() - 2:
                p.setPen(self.look.color("ink"))
                p.drawText(piece, Qt.AlignmentFlag.AlignCenter, label)


class SetupCards(QScrollArea):
    """The set-ups in order, scrolled sideways.

    Args:
        look: colours.

    Signals:
        chosen: index of a set-up.
    """

    chosen = Signal(int)

    def __init__(self, look: Theme) -> None:
        super().__init__()
        self.look = look
        self.setWidgetResizable(True)
        self.setFixedHeight(round((CARD[1] + 18) * text_scale()))
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._group = QButtonGroup(self)
        self._group.idClicked.connect(self.chosen)
        holder = QWidget()
        self._row = QHBoxLayout(holder)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(8)
        self.setWidget(holder)

    @property
    def cards(self) -> list[SetupCard]:
        """The cards in order."""
        return [card for card in self._group.buttons() if isinstance(card, SetupCard)]

    def show_plan(self, plan: Plan) -> None:
        """The set-ups of a plan."""
        for card in self.cards:
            self._group.removeButton(card)
        emptied(self._row)
        for k, setup in enumerate(plan.setups):
            card = SetupCard(k + 1, setup, plan, self.look)
            self._group.addButton(card, k)
            self._row.addWidget(card)
        self._row.addStretch(1)

    def choose(self, index: int) -> None:
        """Mark the set-up of the stroke on show."""
        card = self._group.button(index)
        if card is not None:
            card.setChecked(True)
            self.ensureWidgetVisible(card, 8, 0)
