"""Fields a person types into: the answer to wrong input stands right under it, and the last good value stays in force."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QLabel, QLineEdit, QToolButton, QToolTip, QVBoxLayout, QWidget

from ..measure import Sum, Units, parse_length, show_length


class TextField(QWidget):
    """A line of text with room for a complaint.

    Args:
        name: what a screen reader calls it.
        take: given the text, uses it and returns None, or a sentence saying what is wrong with it.
    """

    taken = Signal()

    def __init__(self, name: str, take: Callable[[str], str | None], hint: str = "") -> None:
        super().__init__()
        self._take = take
        self.edit = QLineEdit()
        self.edit.setAccessibleName(name)
        self.edit.setPlaceholderText(hint)
        self.edit.setToolTip(hint)
        self.edit.textEdited.connect(self._typed)
        self.complaint = QLabel()
        self.complaint.setObjectName("complaint")
        self.complaint.setWordWrap(True)
        self.complaint.hide()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addWidget(self.edit)
        box.addWidget(self.complaint)

    def _typed(self, text: str) -> None:
        self.complain(self._take(text))

    def complain(self, sentence: str | None) -> None:
        """Show what is wrong, or that all is well."""
        self.complaint.setText(sentence or "")
        self.complaint.setVisible(bool(sentence))
        wrong = bool(sentence)
        if self.edit.property("wrong") != wrong:
            self.edit.setProperty("wrong", wrong)
            self.edit.style().unpolish(self.edit)
            self.edit.style().polish(self.edit)

    def show_text(self, text: str) -> None:
        """Show a value from outside, unless what is being typed here means the same or is still a mistake."""
        if self.edit.isModified() and (self.complaint.text() or self._means(text)):
            return
        self.edit.setText(text)
        self.complain(None)

    def _means(self, text: str) -> bool:
        """Whether what stands in the field says the same as ``text``."""
        return self.edit.text().strip() == text


class ParsedField(TextField):
    """A text that stands for a value: what is being typed is left alone as long as it means what is in force.

    Args:
        name: what a screen reader calls it.
        take: given the text, uses it and returns None, or a sentence saying what is wrong with it.
        parse: reads the text.
        hint: shown while it is empty.
    """

    def __init__(self, name: str, take: Callable[[str], str | None], parse: Callable[[str], object], hint: str = "") -> None:
        super().__init__(name, take, hint)
        self._parse = parse
        self._shown = ""
        self.edit.editingFinished.connect(self._settle)

    def _means(self, text: str) -> bool:
        try:
            return self._parse(self.edit.text()) == self._parse(text)
        except ValueError:
            return False

    def _settle(self) -> None:
        if not self.complaint.text():
            self.edit.setModified(False)
            self.edit.setText(self._shown)

    def show_text(self, text: str) -> None:
        """Show a value from outside."""
        self._shown = text
        super().show_text(text)


class LengthField(TextField):
    """A length, typed as the hand says it.

    Args:
        name: what a screen reader calls it.
        use: given mm, makes it so and returns None, or a sentence saying why not.
        units: asked for the units in force.
        empty: what an empty field means, or None when it must be filled; called with None.
    """

    def __init__(
        self, name: str, use: Callable[[float | None], str | None], units: Callable[[], Units], *, empty: str | None = None
    ) -> None:
        self._use, self._units, self._empty = use, units, empty
        super().__init__(name, self._read, empty or "")
        self.edit.editingFinished.connect(self._settle)
        self._value: float | None = None

    def _read(self, text: str) -> str | None:
        if not text.strip() and self._empty is not None:
            return self._use(None)
        try:
            value = parse_length(text, self._units())
        except ValueError as error:
            return str(error)
        return self._use(value)

    def _means(self, text: str) -> bool:
        if self._value is None:
            return not self.edit.text().strip()
        try:
            return abs(parse_length(self.edit.text(), self._units()) - self._value) < 1e-6
        except ValueError:
            return False

    def _settle(self) -> None:
        # Leaving the field shows the value as it was understood; a mistake stays to be mended.
        if not self.complaint.text():
            self.edit.setModified(False)
            self.show_value(self._value)

    def show_value(self, value: float | None) -> None:
        """Show a length in mm, or that the rule decides."""
        self._value = value
        self.show_text("" if value is None else show_length(value, self._units()).removeprefix("≈"))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape brings the last good value back."""
        if event.key() == Qt.Key.Key_Escape and self.edit.isModified():
            self.edit.setModified(False)
            self.show_value(self._value)
            return
        super().keyPressEvent(event)


class SumButton(QToolButton):
    """A computed number that opens into its sum: terms, rule and source."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("sum")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._text = ""
        self.clicked.connect(self.open)

    def sizeHint(self) -> QSize:
        hint = super().sizeHint()
        return QSize(hint.width() + 4, hint.height())

    def show_sum(self, item: Sum, units: Units) -> None:
        """Show the total; clicking opens the rest."""
        self.setText(f"{item.what}  {show_length(item.total, units, pretty=True)}")
        terms = "".join(
            f"<tr><td align='right'>{t.count} ×&nbsp;</td><td align='right'>{show_length(t.value, units, pretty=True)}</td>"
            f"<td>&nbsp; {t.what}</td></tr>"
            for t in item.terms
        )
        self._text = f"<p><b>{item.text(units, pretty=True)}</b></p><table>{terms}</table><p>{item.rule}</p>"
        self.setToolTip(self._text)
        self.setAccessibleName(f"{item.what}: {item.text(units)}")

    def open(self) -> None:
        """Open the sum beside the number."""
        QToolTip.showText(self.mapToGlobal(self.rect().bottomLeft()), self._text, self, self.rect(), 20_000)
