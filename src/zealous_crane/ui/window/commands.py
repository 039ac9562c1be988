"""Everything a person can tell the window to do: declared once, used by menus and keys."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

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

from ...i18n import Message, msg, tr
from ...paint.theme import Theme
from ...paper.writers import WRITERS
from ..pages.registry import STAGES
from ..state.user_settings import Remembered


@dataclass(frozen=True)
class Command:
    """One thing a person can tell the window to do.

    Attributes:
        id: its name in the program, which stays when its words change.
        menu: the menu it stands in.
        text: as it is read there.
        keys: its key; several are parted by "; ".
    """

    id: str
    menu: Message
    text: Message
    keys: str


COMMANDS = (
    Command("job.new", msg("&Job"), msg("&New …"), "Ctrl+N"),
    Command("job.add-part", msg("&Job"), msg("Add a &part …"), "Ctrl+Shift+N"),
    Command("job.fitting", msg("&Job"), msg("&Duct fitting as a set …"), "Ctrl+Shift+F"),
    Command("job.open", msg("&Job"), msg("&Open …"), "Ctrl+O"),
    Command("job.by-code", msg("&Job"), msg("Open by the &code on a page …"), "Ctrl+Shift+C"),
    Command("job.read-drawing", msg("&Job"), msg("&Read a drawing (DXF) …"), "Ctrl+R"),
    Command("job.save", msg("&Job"), msg("&Save"), "Ctrl+S"),
    Command("job.save-as", msg("&Job"), msg("Save &as …"), "Ctrl+Shift+S"),
    Command("job.close", msg("&Job"), msg("&Close"), "Ctrl+Q; Ctrl+W"),
    Command("edit.undo", msg("&Edit"), msg("&Undo"), "Ctrl+Z"),
    Command("edit.redo", msg("&Edit"), msg("&Redo"), "Ctrl+Y; Ctrl+Shift+Z"),
    Command("print.sheet", msg("&Print and export"), msg("Pri&nt the sheet …"), "Ctrl+P"),
    Command(
        "print.marking", msg("&Print and export"), msg("Print the mar&king sheet …"), "Ctrl+Shift+P"
    ),
    Command(
        "print.template",
        msg("&Print and export"),
        msg("Print the temp&late at full size …"),
        "Ctrl+Alt+T",
    ),
    Command(
        "print.work", msg("&Print and export"), msg("Print every part of the &work …"), "Ctrl+Alt+P"
    ),
    Command(
        "hand-over.work",
        msg("&Print and export"),
        msg("&Every part in one document (PDF) …"),
        "Ctrl+Alt+B",
    ),
    *(Command(f"hand-over.{w.id}", msg("&Print and export"), w.command, w.key) for w in WRITERS),
    Command("bench.rows", msg("&Edit"), msg("&Rows of rivets, spots and screws …"), "Ctrl+Shift+R"),
    Command("shop.open", msg("&Shop"), msg("&Machines and stock …"), "Ctrl+Shift+M"),
    Command("shop.edit-brake", msg("&Shop"), msg("&Edit this brake …"), "Ctrl+E"),
    Command("shop.new-brake", msg("&Shop"), msg("&Your own brake …"), "Ctrl+Shift+E"),
    Command("shop.bring-in", msg("&Shop"), msg("Import a &brake file …"), "Ctrl+B"),
    Command("shop.book", msg("&Shop"), msg("The b&ook …"), "Ctrl+K"),
    Command("shop.test-strip", msg("&Shop"), msg("&Test strip …"), "Ctrl+Shift+K"),
    Command(
        "shop.least",
        msg("&Shop"),
        msg("&Least flange, return and hem on this brake …"),
        "Ctrl+Alt+L",
    ),
    Command("shop.devices", msg("&Shop"), msg("&Instrument and back gauge …"), "Ctrl+Shift+I"),
    *(Command(f"stage.{s.id}", msg("S&tage"), s.command, s.key) for s in STAGES),
    Command("stage.work", msg("S&tage"), msg("&Work mode"), "F6"),
    Command("stage.at-the-brake", msg("S&tage"), msg("&At the brake"), "F5"),
    Command("bend.order", msg("S&tage"), msg("&Order of the bends …"), "Ctrl+Shift+O"),
    Command("bend.next", msg("S&tage"), msg("Next bend"), "Ctrl+Right"),
    Command("bend.before", msg("S&tage"), msg("Previous bend"), "Ctrl+Left"),
    Command("view.look", msg("&View"), msg("&Dark or light"), "Ctrl+L"),
    Command("view.palette", msg("&View"), msg("F&ind a command …"), "Ctrl+Shift+A"),
    Command("view.preferences", msg("&View"), msg("&Preferences …"), "Ctrl+,"),
    Command("view.full-screen", msg("&View"), msg("&Full screen"), "F11"),
    Command("practice.open", msg("&Help"), msg("&Practise …"), "Ctrl+Shift+L"),
    Command("help.manual", msg("&Help"), msg("&Manual, at this place"), "F1"),
    Command("help.safety", msg("&Help"), msg("&Safety first"), "Ctrl+Shift+F1"),
    Command("help.keys", msg("&Help"), msg("&Keys"), "Ctrl+Shift+H"),
    Command("help.about", msg("&Help"), msg("A&bout Zealous Crane"), "Shift+F1"),
    Command("help.report", msg("&Help"), msg("Save a &report of a fault …"), "Ctrl+Shift+F2"),
    Command("help.log", msg("&Help"), msg("Where the &log is …"), "Ctrl+F1"),
)
"""In the order of the menus; what each does the window says."""


def keys_of(command: str) -> str:
    """The first key of a command, by its id."""
    return next(c.keys for c in COMMANDS if c.id == command).split("; ")[0]


def score(typed: str, text: str) -> float | None:
    """How well a text answers what is typed, higher is better; None where its letters do not come
    in that order.

    >>> score("cut", "Cut") > score("cut", "Close without a test") and score("xyz", "Cut") is None
    True
    """
    typed, text = typed.lower().replace(" ", ""), text.lower()
    at, value, last = 0, 0.0, -2
    for letter in typed:
        result = text.find(letter, at)
        if result < 0:
            return None
        # Letters side by side, and those that begin a word, are what people type.
        value += (
            3.0
            if result == last + 1
            else 2.0
            if result == 0 or not text[result - 1].isalnum()
            else 0.5
        )
        last, at = result, result + 1
    return value - 0.01 * len(text)


KEYS = int(Qt.ItemDataRole.UserRole) + 1
"""Where an entry keeps its keys."""


class KeysBeside(QStyledItemDelegate):
    """Entries with their keys at the right, one under the other."""

    def paint(
        self,
        painter: QPainter,
        option: QStyleOptionViewItem,
        index: QModelIndex | QPersistentModelIndex,
    ) -> None:
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
        result: list[tuple[float, int, Command]] = []
        for number, command in enumerate(COMMANDS):
            value = score(typed, words_of(command)) if typed.strip() else 0.0
            if value is not None and self._actions[command.id].isEnabled():
                result.append((-value, number, command))
        self.list.clear()
        for _, _, command in sorted(result, key=lambda one: one[:2]):
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
    menu, text = (str(words).replace("&", "") for words in (command.menu, command.text))
    return f"{menu}: {text.removesuffix(' …')}"


@dataclass
class Front:
    """The window as whoever opens, saves or asks for something sees it.

    Attributes:
        window: what dialogs stand before.
        look: its colours.
        remembered: where recent files, its place and its look are kept; None keeps none.
        say: shows a sentence at its foot.
        refuse: shows why something was not done.
        open_bench: opens the work on the bench.
        brakes_changed: the shop has other brakes.
        set_dark: takes the dark look, or the light one; None follows the desktop.
        renew: makes the window anew around the same work, once nothing else stands before it: for
            another language or size of the text.
    """

    window: QWidget
    look: Theme
    remembered: Remembered | None
    say: Callable[[str], None]
    refuse: Callable[[str], None]
    open_bench: Callable[[], None]
    brakes_changed: Callable[[], None]
    set_dark: Callable[[bool | None], None]
    renew: Callable[[], None]
