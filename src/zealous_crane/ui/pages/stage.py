"""What a stage of the work is to the window: its name, its picture on the rail, and the page it
makes."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from importlib import import_module
from threading import Thread

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QStackedWidget, QWidget

from ...i18n import Message
from ...paint.queue import Turns
from ...paint.theme import Theme
from ..state.session import Session

Drawing = tuple[tuple[tuple[float, float], ...], ...]
"""Lines of a picture, each through some points; x and y from 0 to 1, y downwards."""


@dataclass(frozen=True)
class Doors:
    """What a page may ask of the window.

    Attributes:
        add_part: show the page where a part is added.
        edit_brake: let the person edit the brake in use.
    """

    add_part: Callable[[], None]
    edit_brake: Callable[[], None]


@dataclass(frozen=True)
class Stage:
    """One stage of the work.

    Attributes:
        id: its name in the program, which stays when its words change; the command that opens it is
            ``stage.`` and this.
        title: as it is read.
        command: as its command is read in the menu, its letter marked.
        key: that opens it.
        drawing: what is seen on the rail.
        make: makes its page.
    """

    id: str
    title: Message
    command: Message
    key: str
    drawing: Drawing
    make: Callable[[Session, Theme, Doors], QWidget]


AHEAD = (
    "inspection.rebend",
    "inspection.inspection",
    "inspection.finishing",
    "cutting.piece_in_hand",
    "cutting.summary",
    "io.cut_files",
    "planning.remedies.sizes",
    "planning.order_requests",
    "planning.motion",
    "planning.setup",
    "bending.scene",
    "practice.exercise",
    "shop.safety_notes",
)
"""What the pages made ahead stand on: modules of the core, brought in beside the window. A test
finds what is missing here."""

BETWEEN = 40
"""Milliseconds between two pages that are made ahead: what a person does comes first. Made only
when it is opened, Cut keeps one waiting 360 to 450 ms, Check 100 to 120; made ahead, 40."""


class StagePages(Mapping[str, QWidget]):
    """Pages by the id of their stage.

    Args:
        stack: takes them.
        makers: what makes each, in working order.
    """

    def __init__(self, stack: QStackedWidget, makers: Mapping[str, Callable[[], QWidget]]) -> None:
        self._stack, self._makers = stack, makers
        self._made: dict[str, QWidget] = {}

    def __getitem__(self, stage: str) -> QWidget:
        if stage not in self._made:
            page = self._made[stage] = self._makers[stage]()
            self._stack.addWidget(page)
        return self._made[stage]

    def __iter__(self) -> Iterator[str]:
        return iter(self._makers)

    def __len__(self) -> int:
        return len(self._makers)

    @property
    def ready(self) -> bool:
        """True when every page is there."""
        return len(self._made) == len(self._makers)

    def of(self, shown: QWidget) -> str | None:
        """The stage whose page is shown; None when it is another page."""
        return next((stage for stage, page in self._made.items() if page is shown), None)

    def make_ahead(self, parent: QObject) -> None:
        """Bring in what the pages stand on, on a thread of its own; then make what is not there
        yet, a page at a time, while nothing else is done."""
        if self.ready:
            return
        bringing = Thread(target=bring_in, daemon=True)
        timer = QTimer(parent)
        timer.setSingleShot(True)
        timer.setInterval(BETWEEN)

        def one() -> None:
            if bringing.ident is None:
                # Not before what was asked for is painted: the thread would take turns with the
                # painting.
                if not Turns.of_all().through:
                    timer.start()
                    return
                bringing.start()
            if bringing.is_alive():
                timer.start()
                return
            missing = next((stage for stage in self._makers if stage not in self._made), None)
            if missing is not None:
                self[missing]
                timer.start()
            else:
                name_all(self._stack)

        timer.timeout.connect(one)
        timer.start()


def name_all(pages: QWidget) -> None:
    """Have the window library name whatever stands in the pages. What it has made itself, as the
    inside of a scrolled page, it looks for among all its classes, and makes these for it: 20 ms,
    for whoever asks first."""
    pages.findChildren(QWidget)


def bring_in() -> None:
    """Import the modules that the pages need."""
    for name in AHEAD:
        import_module(f"zealous_crane.{name}")
