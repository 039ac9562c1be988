"""The pages of the stages: made when they are first wanted, or when the window has nothing else to do."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QStackedWidget, QWidget

BETWEEN = 40
"""Milliseconds between two pages that are made ahead: what a person does comes first."""


class Pages(Mapping[str, QWidget]):
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
        """Make what is not there yet, a page at a time, while nothing else is done."""
        if self.ready:
            return
        timer = QTimer(parent)
        timer.setSingleShot(True)
        timer.setInterval(BETWEEN)

        def one() -> None:
            missing = next((stage for stage in self._makers if stage not in self._made), None)
            if missing is not None:
                self[missing]
                timer.start()

        timer.timeout.connect(one)
        timer.start()
