"""The start page: what was worked on last, then every kind of part as a small picture, from the
demonstration work; one click opens it or adds it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import QPointF, QRect, QRectF, QSize, QSizeF, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...demo import DEMOS, demo_work
from ...errors import INPUT_ERRORS
from ...flat.blank import Blank
from ...flat.on_brake import flat_for
from ...i18n import tr
from ...io.job_file import read_work
from ...job.job import Job
from ...paint.folded import paint_folded
from ...paint.theme import Theme, font, pixels
from ...work.work import Work
from ..widgets.widget import Wrapped, emptied, heading

IN_A_ROW = 5
"""Cards side by side."""


class DemoCard(QWidget):
    """One demonstration: its folded picture, what it is called, what kind it is.

    Args:
        work: the demonstration.
        look: colours.
        open_: called when it is chosen.
    """

    def __init__(self, work: Work, look: Theme, open_: Callable[[Work], object]) -> None:
        super().__init__()
        self.work, self.look, self._open = work, look, open_
        self._picture = QPixmap()
        self._blank: Blank | None = None
        self._drawn_for: tuple[QSize, Theme] | None = None
        kinds = list(dict.fromkeys(tr(part.part.label) for part in work.parts))
        self.kind = " · ".join(kinds[:2]) + (" …" if len(kinds) > 2 else "")
        self.setAccessibleName(f"{work.name}, {self.kind}")
        self.setToolTip(tr(work.parts[0].part.about))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setMinimumSize(QSize(196, 152))

    def paintEvent(self, event: QPaintEvent) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        r = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        lit = self.hasFocus() or self.underMouse()
        p.setPen(QPen(self.look.color("accent" if lit else "line"), 2 if lit else 1))
        p.setBrush(self.look.color("field"))
        p.drawRoundedRect(r, 6, 6)
        if self.drawn:
            p.drawPixmap(self.place.topLeft(), self._picture)
        p.setPen(self.look.color("ink"))
        p.setFont(pixels(13, strong=True))
        name = p.fontMetrics().elidedText(
            self.work.name, Qt.TextElideMode.ElideRight, int(r.width() - 16)
        )
        p.drawText(
            QRectF(r.left() + 8, r.bottom() - 41, r.width() - 16, 20),
            Qt.AlignmentFlag.AlignVCenter,
            name,
        )
        p.setPen(self.look.color("faint"))
        p.setFont(pixels(12))
        kind = p.fontMetrics().elidedText(
            self.kind, Qt.TextElideMode.ElideRight, int(r.width() - 16)
        )
        p.drawText(
            QRectF(r.left() + 8, r.bottom() - 23, r.width() - 16, 20),
            Qt.AlignmentFlag.AlignVCenter,
            kind,
        )
        p.end()

    @property
    def place(self) -> QRect:
        """Where its picture goes."""
        return self.rect().adjusted(7, 5, -7, -45)

    @property
    def drawn(self) -> bool:
        """True when its picture is there, at its size and in its colours."""
        return self._drawn_for == (self.place.size(), self.look)

    def draw(self) -> None:
        """Lay its part flat, and when it lies flat draw its picture; both are kept. Eighteen at
        once would keep the window waiting."""
        if self._blank is None:
            # A picture of the kind: which machine makes it is not chosen yet.
            self._blank = flat_for(self.work.parts[0], None)
            return
        size, ratio = self.place.size(), self.devicePixelRatioF()
        self._picture = QPixmap(size * ratio)
        self._picture.setDevicePixelRatio(ratio)
        self._picture.fill(Qt.GlobalColor.transparent)
        p = QPainter(self._picture)
        paint_folded(p, QRectF(QPointF(0, 0), QSizeF(size)), self._blank, self.look)
        p.end()
        self._drawn_for = size, self.look
        self.update()

    def _chosen(self) -> None:
        self._open(self.work.resolved())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._chosen()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._chosen()
        else:
            super().keyPressEvent(event)


class RecentCard(DemoCard):
    """A file of one's own, gone on with by a click; its picture comes once it is read.

    Args:
        path: the file.
        look: colours.
        open_: opens it.
    """

    def __init__(self, path: Path, look: Theme, open_: Callable[[Path], object]) -> None:
        self.path = path
        super().__init__(
            Work.of(demo_work(next(iter(DEMOS)), resolved=False).parts[0]),
            look,
            lambda _: open_(path),
        )
        self.work = self.work.model_copy(update={"name": path.stem})
        self.kind = path.parent.name
        self.setAccessibleName(tr("{name}, in {folder}").format(name=path.stem, folder=self.kind))
        self.setToolTip(str(path))
        self._unread = True

    def draw(self) -> None:
        """Read the file, then as any other; one that cannot be read has no picture."""
        if not self._unread:
            super().draw()
            return
        self._unread = False
        try:
            work = read_work(self.path)
            self._blank = flat_for(work.parts[0], None)
            self.kind = tr(work.parts[0].part.label)
        except (*INPUT_ERRORS, OSError):
            self._drawn_for = self.place.size(), self.look
        self.update()

    def _chosen(self) -> None:
        self._open(self.work)


def _never_first(works: Sequence[Work]) -> list[Job]:
    """One part of every kind that no work has for its first part."""
    known = {work.parts[0].part.kind for work in works}
    result: dict[str, Job] = {}
    for part in (part for work in works for part in work.parts):
        if part.part.kind not in known:
            result.setdefault(part.part.kind, part)
    return list(result.values())


class StartPage(QWidget):
    """Begin here: a kind, a file, a drawing.

    Args:
        look: colours.
        begin: opens work.
        add: adds the first part of work to what is open.
        ask: opens a file, reads a drawing, makes a duct fitting, opens the shop.
        back: returns to the bench.
        recent: the files opened last, and what opens one.
    """

    def __init__(
        self,
        look: Theme,
        begin: Callable[[Work], None],
        add: Callable[[Work], None],
        ask: tuple[Callable[[], None], ...],
        back: Callable[[], None],
        recent: tuple[Callable[[], Sequence[Path]], Callable[[Path], object]],
    ) -> None:
        super().__init__()
        self.setObjectName("bench")
        self._begin, self._add, self._look = begin, add, look
        self._recent, self._open_file = recent
        self.adding = False
        self.title = QLabel()
        self.title.setFont(font(15, bold=True))
        self.about = Wrapped()
        self.about.setObjectName("faint")
        files = QHBoxLayout()
        self.open_button, self.drawing_button, self.fitting_button = (
            QPushButton(tr("Open a job …")),
            QPushButton(tr("Read a drawing (DXF) …")),
            QPushButton(tr("Duct fitting as a set …")),
        )
        self.shop_button = QPushButton(tr("Machines, metals, tools …"))
        self.back_button = QPushButton(tr("Back to the bench"))
        buttons = (
            self.open_button,
            self.drawing_button,
            self.fitting_button,
            self.shop_button,
            self.back_button,
        )
        for button, run in zip(buttons, (*ask, back), strict=True):
            button.clicked.connect(lambda _=False, run=run: run())
            files.addWidget(button)
        files.addStretch(1)
        works = [demo_work(name, resolved=False) for name in DEMOS]
        self.cards = [DemoCard(work, look, self._chosen) for work in works]
        # A part that is never the first of a demonstration, as a lid or a cap, is added like any
        # other.
        self.only_added = [
            DemoCard(Work.of(part), look, self._chosen) for part in _never_first(works)
        ]
        self.recent: list[RecentCard] = []
        self.recent_heading = heading(tr("Go on with"))
        self.shelf_heading = heading(tr("Begin with a kind"))
        self._recent_row = QHBoxLayout()
        self._recent_row.setSpacing(10)
        grid = QGridLayout()
        grid.setSpacing(10)
        for i, card in enumerate((*self.cards, *self.only_added)):
            grid.addWidget(card, i // IN_A_ROW, i % IN_A_ROW)
        holder = QWidget()
        shelves = QVBoxLayout(holder)
        shelves.addWidget(self.recent_heading)
        shelves.addLayout(self._recent_row)
        shelves.addWidget(self.shelf_heading)
        shelves.addLayout(grid)
        shelves.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(holder)
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 14, 20, 10)
        box.addWidget(self.title)
        box.addWidget(self.about)
        box.addLayout(files)
        box.addWidget(scroll, 1)
        self._drawing = QTimer(self)
        self._drawing.setInterval(0)
        self._drawing.timeout.connect(self._draw_one)
        self.show_for(adding=False)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        self._drawing.start()

    def _draw_one(self) -> None:
        """Go on with the next card that has no picture, a step each time the window has nothing
        else to do."""
        card = next(
            (
                card
                for card in (*self.recent, *self.cards, *self.only_added)
                if not card.drawn and card.isVisible()
            ),
            None,
        )
        if card is None:
            self._drawing.stop()
        else:
            card.draw()

    def show_for(self, *, adding: bool) -> None:
        """Say whether a choice begins new work or adds a part to what is open."""
        self.adding = adding
        self._show_recent(() if adding else self._recent())
        for card in self.only_added:
            card.setVisible(adding)
        self.title.setText(tr("Add a part like …") if adding else tr("What do you want to make?"))
        self.about.setText(
            tr(
                "The first part of what you choose is added to the work on the bench; then let "
                "its sizes follow "
                "from another part with Fit."
            )
            if adding
            else tr(
                "Choose the kind that is nearest and type your own sizes. Everything can be "
                "changed afterwards."
            )
        )

    def _show_recent(self, paths: Sequence[Path]) -> None:
        """The files opened last, as far as a row goes."""
        emptied(self._recent_row)
        self.recent = [RecentCard(path, self._look, self._open_file) for path in paths[:IN_A_ROW]]
        for k in range(IN_A_ROW if self.recent else 0):
            if k < len(self.recent):
                self._recent_row.addWidget(self.recent[k], 1)
            else:
                self._recent_row.addStretch(1)
        self.recent_heading.setVisible(bool(self.recent))
        self.shelf_heading.setVisible(bool(self.recent))

    def _chosen(self, work: Work) -> None:
        (self._add if self.adding else self._begin)(work)
