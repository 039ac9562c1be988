"""Every command in one list that narrows as one types: letters in order are enough."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QRect, Qt
from PySide6.QtGui import QAction, QKeyEvent, QPainter, QPalette
from PySide6.QtWidgets import (
    QDialog,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from ..measure.words import tr
from .commands import COMMANDS, Command


def score(typed: str, text: str) -> float | None:
    """How well a text answers what is typed, higher is better; None where its letters do not come in that order.

    >>> score("cut", "Cut") > score("cut", "Close without a test") and score("xyz", "Cut") is None
    True
    """
    typed, text = typed.lower().replace(" ", ""), text.lower()
    at, value, last = 0, 0.0, -2
    for letter in typed:
        found = text.find(letter, at)
        if found < 0:
            return None
        # Letters side by side, and those that begin a word, are what people type.
        value += 3.0 if found == last + 1 else 2.0 if found == 0 or not text[found - 1].isalnum() else 0.5
        last, at = found, found + 1
    return value - 0.01 * len(text)


KEYS = int(Qt.ItemDataRole.UserRole) + 1
"""Where an entry keeps its keys."""


class KeysBeside(QStyledItemDelegate):
    """Entries with their keys at the right, one under the other."""

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> None:
        super().paint(painter, option, index)
        room: QRect = option.rect.adjusted(0, 0, -8, 0)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        palette: QPalette = option.palette
        role = QPalette.ColorRole.HighlightedText if chosen else QPalette.ColorRole.Text
        painter.save()
        painter.setPen(palette.color(role))
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(room, int(right), str(index.data(KEYS)))
        painter.restore()


class Palette(QDialog):
    """Finds a command and does it.

    Args:
        actions: every command's action by its id.
        parent: the window.
    """

    def __init__(self, actions: Mapping[str, QAction], parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(tr("Find a command"))
        self.resize(520, 420)
        self._actions = actions
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("a few letters of what you want"))
        self.line.setAccessibleName(tr("Find a command"))
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Commands"))
        self.list.setItemDelegate(KeysBeside(self.list))
        self.line.textChanged.connect(self._narrow)
        self.line.returnPressed.connect(self.do)
        self.list.itemActivated.connect(lambda _: self.do())
        box = QVBoxLayout(self)
        box.addWidget(self.line)
        box.addWidget(self.list, 1)
        self._narrow("")

    def _narrow(self, typed: str) -> None:
        found: list[tuple[float, int, Command]] = []
        for number, command in enumerate(COMMANDS):
            value = score(typed, words_of(command)) if typed.strip() else 0.0
            if value is not None and self._actions[command.id].isEnabled():
                found.append((-value, number, command))
        self.list.clear()
        for _, _, command in sorted(found, key=lambda one: one[:2]):
            words, keys = words_of(command), command.keys.split("; ")[0]
            item = QListWidgetItem(words, self.list)
            item.setData(Qt.ItemDataRole.UserRole, command.id)
            item.setData(KEYS, keys)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{words}, {keys}")
        self.list.setCurrentRow(0)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is not None and self.list.count():
            self.list.setCurrentRow((self.list.currentRow() + step) % self.list.count())
        else:
            super().keyPressEvent(event)

    def do(self) -> None:
        """Close, and do what is chosen."""
        item = self.list.currentItem()
        self.accept()
        if item is not None:
            self._actions[str(item.data(Qt.ItemDataRole.UserRole))].trigger()


def words_of(command: Command) -> str:
    """A command as it is read without its menu's marks: ``Job: New``."""
    return f"{command.menu.replace('&', '')}: {command.text.replace('&', '').removesuffix(' …')}"
