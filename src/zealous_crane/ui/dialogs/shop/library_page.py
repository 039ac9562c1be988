"""A page of the shop: what it has, in a list, with what can be done to the one chosen beside it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...state.session import Session
from ...widgets.widget import prose

LIST_WIDE = 380
"""Pixels of the list and its buttons."""


class LibraryPage(QWidget):
    """A list of things of the shop with its buttons. What is shown beside it, and what a button
    does, is the page's own.

    Args:
        session: whose shop it is.
        name: of the list, for who hears it.
    """

    def __init__(self, session: Session, name: str) -> None:
        super().__init__()
        self.session = session
        self.list = QListWidget()
        self.list.setAccessibleName(name)
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(lambda _: self.show_chosen())
        self.complaint = prose("complaint")

    def row_with(self, buttons: Sequence[tuple[QPushButton, Callable[[], None]]]) -> QHBoxLayout:
        """The page's row, begun with the list above its buttons and what was refused.

        Args:
            buttons: each with what it does, two in a line.
        """
        grid = QGridLayout()
        for i, (button, run) in enumerate(buttons):
            button.clicked.connect(run)
            button.setAutoDefault(False)
            grid.addWidget(button, i // 2, i % 2)
        left = QVBoxLayout()
        left.addWidget(self.list, 1)
        left.addLayout(grid)
        left.addWidget(self.complaint)
        holder = QWidget()
        holder.setFixedWidth(LIST_WIDE)
        holder.setLayout(left)
        row = QHBoxLayout(self)
        row.addWidget(holder)
        return row

    def fill(self, entries: Sequence[tuple[str, str, Sequence[str]]], chosen: str) -> None:
        """Fill the list.

        Args:
            entries: key, name and notes of each.
            chosen: key of the one that is chosen then; the first where there is none.
        """
        self.list.blockSignals(True)
        self.list.clear()
        for key, name, notes in entries:
            self.list.addItem(f"{name}  ({', '.join(notes)})")
            self.list.item(self.list.count() - 1).setData(Qt.ItemDataRole.UserRole, key)
        self.list.setCurrentRow(0)
        self.choose(chosen)
        self.list.blockSignals(False)
        self.show_chosen()

    @property
    def chosen_key(self) -> str | None:
        """Key of what is chosen in the list; None while it is empty."""
        item = self.list.currentItem()
        return None if item is None else str(item.data(Qt.ItemDataRole.UserRole))

    def choose(self, key: str) -> None:
        """Choose what has that key, where it is in the list."""
        for row in range(self.list.count()):
            if self.list.item(row).data(Qt.ItemDataRole.UserRole) == key:
                self.list.setCurrentRow(row)

    def complain(self, text: str | None) -> None:
        """Say why nothing was done; None clears it."""
        self.complaint.setText(text or "")

    def show_chosen(self) -> None:
        """Show what is chosen."""
        raise NotImplementedError
