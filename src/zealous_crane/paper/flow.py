"""What stands on printed pages, one below the other: blocks stay whole, and go on to the next page
where they do not fit."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPen

from ..paint.theme import PAPER, pixels
from .page import LABEL, TEXT, Page


class FlowBlock(ABC):
    """Something with a height of its own on a given width."""

    @abstractmethod
    def height(self, page: Page, wide: float) -> float:
        """Painter units it takes on a width."""

    @abstractmethod
    def draw(self, page: Page, rect: QRectF) -> None:
        """Draw it; the rectangle is as wide as it may be and as tall as it asked for."""


@dataclass(frozen=True)
class Text(FlowBlock):
    """Wrapped text.

    Attributes:
        words: what is written.
        size: height of the letters, painter units.
        strong, color: how they are drawn.
        left: how far they are moved in.
        after: room left below.
    """

    words: str
    size: float = TEXT
    strong: bool = False
    color: str = "ink"
    left: float = 0.0
    after: float = 2.0

    def height(self, page: Page, wide: float) -> float:
        """See :meth:`FlowBlock.height`."""
        return (
            page.measured(self.words, wide - self.left, size=self.size, strong=self.strong)
            + self.after
        )

    def draw(self, page: Page, rect: QRectF) -> None:
        """See :meth:`FlowBlock.draw`."""
        # A letter's foot reaches a little below the line it was measured by.
        inner = rect.adjusted(self.left, 0, 0, TEXT)
        page.text(inner, self.words, size=self.size, strong=self.strong, color=self.color)

    def parted(self, page: Page, wide: float, room: float) -> tuple[Text, Text]:
        """As much of the words as goes into a room, and the rest.

        Args:
            page: the page.
            wide: the width there is.
            room: the height there is.
        """
        words = self.words.split(" ")
        low, high = 1, len(words) - 1
        while low < high:
            middle = (low + high + 1) // 2
            fits = replace(self, words=" ".join(words[:middle])).height(page, wide) <= room
            low, high = (middle, high) if fits else (low, middle - 1)
        return replace(self, words=" ".join(words[:low])), replace(
            self, words=" ".join(words[low:])
        )


@dataclass(frozen=True)
class Picture(FlowBlock):
    """A picture of a height, painted into a rectangle."""

    tall: float
    paint: Callable[[QRectF], object]
    after: float = 6.0

    def height(self, page: Page, wide: float) -> float:
        """See :meth:`FlowBlock.height`."""
        return self.tall + self.after

    def draw(self, page: Page, rect: QRectF) -> None:
        """See :meth:`FlowBlock.draw`."""
        painter = page.painter
        painter.save()
        self.paint(QRectF(rect.left(), rect.top(), rect.width(), rect.height() - self.after))
        painter.restore()


@dataclass(frozen=True)
class Boxes(FlowBlock):
    """Boxes to be filled in by hand, each behind its label."""

    labels: tuple[str, ...]
    tall: float = TEXT * 1.7
    wide: float = TEXT * 4.2

    def height(self, page: Page, wide: float) -> float:
        """See :meth:`FlowBlock.height`."""
        return self.tall + 4

    def draw(self, page: Page, rect: QRectF) -> None:
        """See :meth:`FlowBlock.draw`."""
        p, x = page.painter, rect.left()
        for label in self.labels:
            p.setFont(pixels(LABEL))
            p.setPen(PAPER.color("ink"))
            taken = p.fontMetrics().horizontalAdvance(label)
            p.drawText(
                QRectF(x, rect.top(), taken + 4, self.tall), Qt.AlignmentFlag.AlignVCenter, label
            )
            p.setPen(QPen(PAPER.color("line"), 1.2))
            p.drawRect(QRectF(x + taken + TEXT * 0.4, rect.top() + 1, self.wide, self.tall - 2))
            x += taken + self.wide + TEXT * 1.3


@dataclass(frozen=True)
class Rule(FlowBlock):
    """A line across, with room on both sides."""

    around: float = 6.0

    def height(self, page: Page, wide: float) -> float:
        """See :meth:`FlowBlock.height`."""
        return 2 * self.around

    def draw(self, page: Page, rect: QRectF) -> None:
        """See :meth:`FlowBlock.draw`."""
        page.painter.setPen(QPen(PAPER.color("line"), 1))
        y = rect.top() + self.around
        page.painter.drawLine(QPointF(rect.left(), y), QPointF(rect.right(), y))


@dataclass(frozen=True)
class Space(FlowBlock):
    """Room."""

    tall: float

    def height(self, page: Page, wide: float) -> float:
        """See :meth:`FlowBlock.height`."""
        return self.tall

    def draw(self, page: Page, rect: QRectF) -> None:
        """See :meth:`FlowBlock.draw`."""


@dataclass(frozen=True)
class SideBySide(FlowBlock):
    """Pieces side by side.

    Attributes:
        parts: the share of the width of each column, and what stands in it.
        gap: room between two columns.
    """

    parts: tuple[tuple[float, tuple[FlowBlock, ...]], ...]
    gap: float = TEXT * 0.6

    def _widths(self, wide: float) -> list[float]:
        left = wide - self.gap * (len(self.parts) - 1)
        every = sum(share for share, _ in self.parts)
        return [left * share / every for share, _ in self.parts]

    def height(self, page: Page, wide: float) -> float:
        """See :meth:`FlowBlock.height`."""
        widths = self._widths(wide)
        return max(
            sum(p.height(page, w) for p in pieces)
            for w, (_, pieces) in zip(widths, self.parts, strict=True)
        )

    def draw(self, page: Page, rect: QRectF) -> None:
        """See :meth:`FlowBlock.draw`."""
        x = rect.left()
        for width, (_, pieces) in zip(self._widths(rect.width()), self.parts, strict=True):
            y = rect.top()
            for piece in pieces:
                tall = piece.height(page, width)
                piece.draw(page, QRectF(x, y, width, tall))
                y += tall
            x += width + self.gap


@dataclass
class Flow:
    """Pages filled with blocks from the top.

    Attributes:
        page: what is filled.
        y: how far down it is filled.
    """

    page: Page
    y: float = 0.0

    @property
    def left(self) -> float:
        """Room left on the page above its foot."""
        return self.page.body - self.y

    def add(self, *pieces: FlowBlock) -> None:
        """A block: kept on one page where one page holds it; else piece by piece."""
        heights = [piece.height(self.page, self.page.rect.width()) for piece in pieces]
        if self.y > 0 and sum(heights) > self.left:
            self.turn()
        if self.y == 0:
            # What only parts a block from the one above it is nothing at the top of a page.
            first = next(
                (k for k, piece in enumerate(pieces) if not isinstance(piece, Space | Rule)),
                len(pieces),
            )
            pieces, heights = pieces[first:], heights[first:]
        whole = sum(heights) <= self.left
        for piece, tall in zip(pieces, heights, strict=True):
            if whole or tall <= self.left:
                self._put(piece, tall)
            else:
                self._put_over_pages(piece)

    def every(self, pieces: Sequence[FlowBlock]) -> None:
        """Blocks of one piece each; a heading goes with what follows it."""
        held: list[FlowBlock] = []
        for piece in pieces:
            held.append(piece)
            if not isinstance(piece, Space) and not (isinstance(piece, Text) and piece.strong):
                self.add(*held)
                held = []
        if held:
            self.add(*held)

    def turn(self) -> None:
        """Begin the next page, unless nothing stands on this one yet."""
        if self.y > 0:
            self.page.turn()
            self.y = 0.0

    def _put(self, piece: FlowBlock, tall: float) -> None:
        piece.draw(self.page, QRectF(0, self.y, self.page.rect.width(), tall))
        self.y += tall

    def _put_over_pages(self, piece: FlowBlock) -> None:
        """What is taller than the room left: on a page of its own, and words over as many as they
        take."""
        self.turn()
        wide = self.page.rect.width()
        while (
            isinstance(piece, Text)
            and piece.height(self.page, wide) > self.left
            and " " in piece.words
        ):
            first, piece = piece.parted(self.page, wide, self.left)
            self._put(first, first.height(self.page, wide))
            self.turn()
        self._put(piece, piece.height(self.page, wide))
