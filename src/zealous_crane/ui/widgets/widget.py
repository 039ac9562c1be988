"""Text that wraps."""

from __future__ import annotations

import sys
from bisect import bisect
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager

from PySide6.QtCore import QEvent, QObject, QSize, Qt, QTimer, Signal
from PySide6.QtGui import (
    QFocusEvent,
    QKeyEvent,
    QKeySequence,
    QResizeEvent,
    QShowEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QSpinBox,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...paint.queue import Turns
from ...paint.theme import font


class Wrapped(QLabel):
    """A label that wraps its text and knows how high it is at widths it was asked for: a layout
    asks a page of thirty labels some two hundred times, and each time the text would be broken into
    lines anew.

    Args:
        text: what it says.
    """

    def __init__(self, text: str = "") -> None:
        super().__init__()
        # A name that looks like markup is a name; whoever shows markup says so.
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)
        super().setText(text)
        self._forget()

    def _forget(self) -> None:
        """What was known of its heights no longer holds."""
        self._widths: list[int] = []
        self._heights: list[int] = []

    def setText(self, text: str) -> None:
        self._forget()
        super().setText(text)

    def clear(self) -> None:
        self._forget()
        super().clear()

    def changeEvent(self, event: QEvent) -> None:
        self._forget()
        super().changeEvent(event)

    def heightForWidth(self, width: int) -> int:
        at = bisect(self._widths, width)
        if at and (
            self._widths[at - 1] == width
            or (at < len(self._widths) and self._heights[at - 1] == self._heights[at])
        ):
            # More room never takes more lines: between two widths of one height it is that high.
            return self._heights[at - 1]
        height = super().heightForWidth(width)
        self._widths.insert(at, width)
        self._heights.insert(at, height)
        return height


class Choice(QComboBox):
    """A choice the mouse wheel changes only when it has been clicked or tabbed to; else the wheel
    scrolls the page."""

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.hasFocus():
            super().wheelEvent(event)
        else:
            event.ignore()


class WholeChoice(Choice):
    """A choice that would show all of what is chosen, and is narrower where the window has not the
    room.

    Args:
        least: letters it shows at the least.
    """

    def __init__(self, least: int) -> None:
        super().__init__()
        self.setMinimumContentsLength(least)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.currentTextChanged.connect(lambda _: self.updateGeometry())

    def sizeHint(self) -> QSize:
        hint, letters = super().sizeHint(), self.fontMetrics()
        beside = hint.width() - self.minimumContentsLength() * letters.horizontalAdvance("X")
        return QSize(
            max(hint.width(), beside + letters.horizontalAdvance(self.currentText())), hint.height()
        )

    def minimumSizeHint(self) -> QSize:
        return super().sizeHint()


class LineEdit(QLineEdit):
    """A line whose undo key takes back unfinished typing here, and else the last step of the
    work."""

    begun_anew = Signal()
    """Everything in the line is about to be typed over."""

    def __init__(self) -> None:
        super().__init__()
        self.unfinished = False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.text() and self.selectedText() and self.selectedText() == self.text():
            self.begun_anew.emit()
        super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        # Only while the cursor is here: a form's fields get thousands of events that are nobody's
        # business.
        self.installEventFilter(self)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self.removeEventFilter(self)
        super().focusOutEvent(event)
        if event.reason() not in (
            Qt.FocusReason.PopupFocusReason,
            Qt.FocusReason.ActiveWindowFocusReason,
        ):
            self.home(False)  # where there is no room for all of it, its beginning is seen

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if (
            event.type() == QEvent.Type.ShortcutOverride
            and isinstance(event, QKeyEvent)
            and not self.unfinished
        ):
            keys = QKeySequence.StandardKey
            redo = (
                event.key() == Qt.Key.Key_Y
                and event.modifiers() == Qt.KeyboardModifier.ControlModifier
            )
            if event.matches(keys.Undo) or event.matches(keys.Redo) or redo:
                event.ignore()
                return True
        return False


class Count(QSpinBox):
    """A whole number the mouse wheel changes only when it has been clicked or tabbed to."""

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setLineEdit(LineEdit())

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.hasFocus():
            super().wheelEvent(event)
        else:
            event.ignore()


def safely(work: Callable[[], object]) -> None:
    """Do something while the window library shows a widget. A fault goes where faults go; left to
    the library, it would still be under way when the library calls the next of our own functions,
    which it does not survive.
    """
    try:
        work()
    except Exception:
        sys.excepthook(*sys.exc_info())


@contextmanager
def laid_out_once(widget: QWidget) -> Iterator[None]:
    """Whatever is shown and hidden in a widget meanwhile, it and the page it lies in are laid out
    once, when the loop comes round: else each single thing that is shown would lay out the whole
    window."""
    layouts = [
        layout
        for each in (widget, widget.parentWidget())
        if each is not None and (layout := each.layout()) is not None
    ]
    for layout in layouts:
        layout.setEnabled(False)
    try:
        yield
    finally:
        for layout in layouts:
            layout.setEnabled(True)
            layout.invalidate()


MOST_HIGH = 16_777_215
"""Pixels; the library's own word for as high as it likes."""


class LazyView(QWidget):
    """What shows the work only while it is looked at; hidden, it keeps in mind that it is no longer
    as the work is."""

    def __init__(self) -> None:
        super().__init__()
        self._stale = True

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if self._stale:
            safely(self.refresh)

    def waits(self) -> bool:
        """Asked when the work has changed: True while nobody looks; it is then refreshed when it
        comes to be seen."""
        self._stale = not self.isVisible()
        return self._stale

    def soon(self) -> None:
        """The work has changed: show it in a turn of the window's loop of its own, or, while nobody
        looks, when it comes to be seen."""
        self._stale = True
        if self.isVisible():
            Turns.of_all().wait(self, lambda: safely(self._if_stale))

    def _if_stale(self) -> None:
        if self._stale:
            self.refresh()

    def refresh(self) -> None:
        """Show the work as it is."""
        raise NotImplementedError


def run_dialog(dialog: QDialog) -> bool:
    """Show a dialog until it is closed, and let it go: a window that is open for days opens
    hundreds. True where it was accepted."""
    try:
        return dialog.exec() == QDialog.DialogCode.Accepted
    finally:
        dialog.deleteLater()


class FormDialog(QDialog):
    """A dialog of fields: Return takes what was typed and goes to the next one. It presses no
    button but the one the cursor is on: figures are typed one after the other, and the last is not
    yet in when Return is pressed behind the first."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            super().keyPressEvent(event)
            return
        at = self.focusWidget()
        if isinstance(at, QPushButton):
            at.click()
        else:
            self.focusNextChild()


class Table(QTableWidget):
    """A table to be read; the arrow keys walk in it, Tab leaves it for what comes next.

    Args:
        columns: how many.
        name: what a screen reader calls it.

    Signals:
        pointed: a row is pointed at, or walked to by the keys; −1 for none.
    """

    pointed = Signal(int)

    def __init__(self, columns: int, name: str) -> None:
        super().__init__(0, columns)
        self.setMouseTracking(True)
        self.cellEntered.connect(lambda row, _: self.pointed.emit(row))
        self.currentCellChanged.connect(lambda row, *_: self._walked(row))
        self.setAccessibleName(name)
        self.setTabKeyNavigation(False)
        self.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.setWordWrap(True)
        self.verticalHeader().setVisible(False)
        self._most: int | None = None

    def _walked(self, row: int) -> None:
        if self.hasFocus():
            self.pointed.emit(row)

    def leaveEvent(self, event: QEvent) -> None:
        super().leaveEvent(event)
        self.pointed.emit(self.currentRow() if self.hasFocus() else -1)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.pointed.emit(-1)

    def show_rows(self, rows: Sequence[Sequence[str]], most: int = MOST_HIGH) -> None:
        """Show these rows, as high as they need and no higher than ``most`` in all; what is said
        already is not said again."""
        changed, self._most = self._most is None or self.rowCount() != len(rows), most
        self.setRowCount(len(rows))
        for i, row in enumerate(rows):
            for j, text in enumerate(row):
                item = self.item(i, j)
                if item is None:
                    self.setItem(i, j, QTableWidgetItem(text))
                elif item.text() != text:
                    item.setText(text)
                else:
                    continue
                changed = True
        if changed:
            self._fit()

    def _fit(self) -> None:
        self.resizeRowsToContents()
        high = sum(self.rowHeight(i) for i in range(self.rowCount()))
        self.setFixedHeight(
            min(self._most or high, high + self.horizontalHeader().sizeHint().height() + 8)
        )

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._most is not None and event.oldSize().width() != event.size().width():
            # Wrapped text is as high as its column is wide.
            self._fit()


class Column(QWidget):
    """What stands one below the other in a page that scrolls: as tall as its wrapped texts ask for,
    so that nothing in it is squeezed.

    A scroll area asks a widget how tall it must be without saying how wide it is; wrapped text is
    then taken for one line.
    """

    def minimumSizeHint(self) -> QSize:
        layout, hint = self.layout(), super().minimumSizeHint()
        return (
            hint
            if layout is None
            else QSize(hint.width(), max(hint.height(), layout.totalHeightForWidth(self.width())))
        )

    def event(self, event: QEvent) -> bool:
        done = super().event(event)
        if event.type() in (QEvent.Type.LayoutRequest, QEvent.Type.Resize):
            self._settle()
        elif event.type() == QEvent.Type.Show:
            # What stands in it gets its style, and with it its height, only now.
            QTimer.singleShot(0, self, self._settle)
        return done

    def _settle(self) -> None:
        least = self.minimumSizeHint().height()
        if self.minimumHeight() != least:
            self.setMinimumHeight(least)


class FitScrollArea(QScrollArea):
    """What stands in it as tall as it wants to be where there is room, and to be scrolled where
    there is not."""

    def __init__(self, inner: QWidget) -> None:
        super().__init__()
        self._inner = inner
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setWidget(inner)
        inner.installEventFilter(self)

    def _wanted(self) -> int:
        inner = self._inner
        layout = inner.layout()
        wide = max(self.viewport().width(), 200)
        return (
            layout.totalHeightForWidth(wide)
            if layout is not None and layout.hasHeightForWidth()
            else inner.sizeHint().height()
        )

    def sizeHint(self) -> QSize:
        return QSize(self._inner.sizeHint().width(), self._wanted())

    def minimumSizeHint(self) -> QSize:
        return QSize(self._inner.minimumSizeHint().width(), min(self._wanted(), 110))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.LayoutRequest:
            self.updateGeometry()
        return super().eventFilter(watched, event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if event.oldSize().width() != event.size().width():
            self.updateGeometry()


def heading(text: str) -> QLabel:
    """A heading within a stage."""
    label = QLabel(text)
    label.setFont(font(11.5, bold=True))
    label.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
    return label


def labelled(text: str, widget: QWidget) -> QVBoxLayout:
    """A small caption over a widget."""
    caption = QLabel(text)
    caption.setObjectName("faint")
    caption.setFont(font(8.5))
    box = QVBoxLayout()
    box.setSpacing(1)
    box.addWidget(caption)
    box.addWidget(widget)
    box.addStretch(1)
    return box


def as_text(text: str) -> str:
    """Words for a message or a tool tip, which would take what looks like markup in a name for
    markup."""
    return text.replace("<", "‹")


def prose(name: str = "", size: float | None = None, *, strong: bool = False) -> Wrapped:
    """A label for sentences: they wrap, and what looks like markup is text.

    Args:
        name: what the style sheet calls it.
        size: points, where it is not the usual size.
        strong: in the heavier weight.
    """
    label = Wrapped()
    label.setTextFormat(Qt.TextFormat.PlainText)
    if name:
        label.setObjectName(name)
    if size is not None:
        label.setFont(font(size, strong=strong))
    return label


class Facts(QGridLayout):
    """Names and what they are, one below the other; shown anew, they are written over, not made
    again."""

    def __init__(self) -> None:
        super().__init__()
        self.setHorizontalSpacing(18)
        self.setVerticalSpacing(5)
        self.setColumnStretch(1, 1)
        self._rows: list[tuple[QLabel, QLabel]] = []

    def show(self, facts: Sequence[tuple[str, str]]) -> None:
        """Show these and no others."""
        while len(self._rows) < len(facts):
            label, value = QLabel(), prose(size=10.5, strong=True)
            label.setObjectName("faint")
            self.addWidget(label, len(self._rows), 0)
            self.addWidget(value, len(self._rows), 1)
            self._rows.append((label, value))
        for i, row in enumerate(self._rows):
            for widget, text in zip(row, facts[i] if i < len(facts) else ("", ""), strict=True):
                widget.setText(text)
                widget.setVisible(i < len(facts))


def worded(text: str) -> QLabel:
    """A paragraph of text."""
    label = prose()
    label.setText(text)
    return label


def emptied(layout: QGridLayout | QVBoxLayout | QHBoxLayout) -> None:
    """Take everything out of a layout."""
    while (item := layout.takeAt(0)) is not None:
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif isinstance(inner, (QGridLayout, QVBoxLayout, QHBoxLayout)):
            emptied(inner)
