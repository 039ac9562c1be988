"""Fields a person types into: the answer to wrong input stands right under it, and the last good
value stays in force."""

from __future__ import annotations

import html
from collections.abc import Callable, Sequence

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QToolButton, QToolTip, QVBoxLayout, QWidget

from ...errors import INPUT_ERRORS
from ...i18n import tr
from ...units.length import Units, parse_length, show_length
from ...units.sums import Sum
from .widget import LineEdit, Wrapped

FIGURE = "≈100 63/64 in 000"
"""A figure as long as most are, and some room."""


class TextField(QWidget):
    """A line of text with room for a complaint.

    What is typed is used at once as long as it can be; as soon as it cannot, what stood before the
    typing began is in force again and stands under the field.

    Args:
        name: what a screen reader calls it.
        take: given the text, uses it and returns None, or a sentence saying what is wrong with it.
    """

    taken = Signal()

    def __init__(self, name: str, take: Callable[[str], str | None], hint: str = "") -> None:
        super().__init__()
        self._take = take
        self._shown = ""
        self._put_back: Callable[[], object] | None = None
        self.edit = LineEdit()
        self.edit.setAccessibleName(name)
        self.edit.setPlaceholderText(hint)
        self.edit.setToolTip(hint)
        self.edit.textEdited.connect(self._typed)
        self.edit.begun_anew.connect(self.settled)
        self.complaint = Wrapped()
        self.complaint.setObjectName("complaint")
        self.complaint.setTextFormat(Qt.TextFormat.PlainText)
        self.complaint.hide()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addWidget(self.edit)
        box.addWidget(self.complaint)
        self._before = ""

    def as_wide_as_a_figure(self) -> None:
        """Take the width of a figure, or of what stands in the field while it is empty, instead of
        all there is."""
        letters = self.edit.fontMetrics()
        hint = letters.horizontalAdvance(self.edit.placeholderText()) + letters.horizontalAdvance(
            "000"
        )
        self.edit.setFixedWidth(max(letters.horizontalAdvance(FIGURE), hint))
        box = self.layout()
        assert box is not None
        box.setAlignment(self.edit, Qt.AlignmentFlag.AlignLeft)

    def _typed(self, text: str) -> None:
        if self._put_back is None:
            self._before, self._put_back = self._in_force()
        sentence = self._take(text)
        if sentence is not None and self._put_back is not None and not self.complaint.text():
            self.complain(sentence)
            self._put_back()
        before = (
            tr(" Still using {before}.").format(before=self._before)
            if sentence is not None and self._before
            else ""
        )
        self.complain(None if sentence is None else sentence + before)

    def _in_force(self) -> tuple[str, Callable[[], object]]:
        """What is in force now, in words, and how it is put back."""
        text = self._shown
        return text, lambda: self._take(text)

    def complain(self, sentence: str | None) -> None:
        """Show what is wrong, or that all is well."""
        self.complaint.setText(sentence or "")
        self.complaint.setVisible(bool(sentence))
        wrong = bool(sentence)
        self.edit.unfinished = wrong
        if self.edit.property("wrong") != wrong:
            self.edit.setProperty("wrong", wrong)
            self.edit.style().unpolish(self.edit)
            self.edit.style().polish(self.edit)

    def show_text(self, text: str) -> None:
        """Show a value from outside, unless what is being typed here means the same or is still a
        mistake."""
        self._shown = text
        if self.edit.isModified() and (self.complaint.text() or self._means(text)):
            return
        self._put_back = None
        self.edit.setText(text)
        self.complain(None)

    def settled(self) -> None:
        """The typing is over: what is in force now is what a later mistake goes back to."""
        self._put_back = None

    def _means(self, text: str) -> bool:
        """Whether what stands in the field says the same as ``text``."""
        return self.edit.text().strip() == text


class ParsedField(TextField):
    """A text that stands for a value: what is being typed is left alone as long as it means what is
    in force.

    Args:
        name: what a screen reader calls it.
        take: given the text, uses it and returns None, or a sentence saying what is wrong with it.
        parse: reads the text.
        hint: shown while it is empty.
    """

    def __init__(
        self,
        name: str,
        take: Callable[[str], str | None],
        parse: Callable[[str], object],
        hint: str = "",
    ) -> None:
        super().__init__(name, take, hint)
        self._parse = parse
        self.edit.editingFinished.connect(self._settle)

    def _means(self, text: str) -> bool:
        try:
            return self._parse(self.edit.text()) == self._parse(text)
        except INPUT_ERRORS:
            return False

    def _settle(self) -> None:
        if not self.complaint.text():
            self.settled()
            self.edit.setModified(False)
            self.edit.setText(self._shown)


class LengthField(TextField):
    """A length, typed as the hand says it.

    Args:
        name: what a screen reader calls it.
        use: given mm, makes it so and returns None, or a sentence saying why not.
        units: asked for the units in force.
        empty: what an empty field means, or None when it must be filled; called with None.
        parse: reads what is typed, given the units in force.
    """

    def __init__(
        self,
        name: str,
        use: Callable[[float | None], str | None],
        units: Callable[[], Units],
        *,
        empty: str | None = None,
        parse: Callable[[str, Units], float] = parse_length,
    ) -> None:
        self._parse = parse
        self._use, self._units, self._empty = use, units, empty
        super().__init__(name, self._read, empty or "")
        self.edit.editingFinished.connect(self._settle)
        self.as_wide_as_a_figure()
        self._value: float | None = None

    def _read(self, text: str) -> str | None:
        if not text.strip() and self._empty is not None:
            return self._use(None)
        try:
            value = self._parse(text, self._units())
        except INPUT_ERRORS as error:
            return str(error)
        if self._value is not None and text.strip().startswith("≈") and self._rounds_to(value):
            return None  # the rounding that is shown stands for what is in force
        return self._use(value)

    def _rounds_to(self, value: float) -> bool:
        """True when a length typed is just what the value in force is shown as."""
        shown = show_length(self._value or 0.0, self._units())
        return (
            shown.startswith("≈")
            and abs(parse_length(shown.removeprefix("≈"), self._units()) - value) < 1e-9
        )

    def _in_force(self) -> tuple[str, Callable[[], object]]:
        value = self._value
        shown = self._empty or "" if value is None else show_length(value, self._units())
        return shown, lambda: self._use(value)

    def _means(self, text: str) -> bool:
        if self._value is None:
            return not self.edit.text().strip()
        try:
            value = self._parse(self.edit.text(), self._units())
        except INPUT_ERRORS:
            return False
        return abs(value - self._value) < 1e-6 or (
            self.edit.text().strip().startswith("≈") and self._rounds_to(value)
        )

    def _settle(self) -> None:
        # Leaving the field shows the value as it was understood; a mistake stays to be mended.
        if not self.complaint.text():
            self.settled()
            self.edit.setModified(False)
            self.show_value(self._value)

    def show_value(self, value: float | None) -> None:
        """Show a length in mm, or that the rule decides; ≈ where what is shown is rounded."""
        self._value = value
        self.show_text("" if value is None else show_length(value, self._units()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape brings the last good value back."""
        if event.key() == Qt.Key.Key_Escape and self.edit.isModified():
            self.edit.setModified(False)
            self.show_value(self._value)
            return
        super().keyPressEvent(event)


ROUND_SUM = 24
"""Pixels beside the words of a sum."""


class SumButton(QToolButton):
    """A computed number that opens into its sum: terms, rule and source."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("sum")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._text = self._what = self._total = ""
        # A long name gives way in the middle; the figure stays.
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        self.clicked.connect(self.open)

    def sizeHint(self) -> QSize:
        whole = self.fontMetrics().horizontalAdvance(f"{self._what}  {self._total}")
        return QSize(whole + ROUND_SUM, super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        return QSize(120, super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        metrics = self.fontMetrics()
        room = self.width() - ROUND_SUM // 2 - metrics.horizontalAdvance(f"  {self._total}")
        self.setText(
            f"{metrics.elidedText(self._what, Qt.TextElideMode.ElideMiddle, max(room, 40))}  "
            f"{self._total}"
        )

    def show_sum(self, item: Sum, units: Units) -> None:
        """Show the total; clicking opens the rest."""
        self._what, self._total = str(item.what), show_length(item.total, units, pretty=True)
        self.updateGeometry()
        self._fit()
        terms = "".join(
            f"<tr><td align='right'>{t.count} ×&nbsp;</td><td "
            f"align='right'>{show_length(t.value, units, pretty=True)}</td>"
            f"<td>&nbsp; {html.escape(str(t.what))}</td></tr>"
            for t in item.terms
        )
        total = html.escape(item.text(units, pretty=True))
        rule = html.escape(str(item.rule))
        self._text = f"<p><b>{total}</b></p><table>{terms}</table><p>{rule}</p>"
        self.setToolTip(self._text)
        self.setAccessibleName(f"{item.what}: {item.text(units)}")

    def open(self) -> None:
        """Open the sum beside the number."""
        QToolTip.showText(
            self.mapToGlobal(self.rect().bottomLeft()), self._text, self, self.rect(), 20_000
        )


class SumList(QVBoxLayout):
    """Sums below each other; buttons are kept and used again."""

    def __init__(self) -> None:
        super().__init__()
        self.setSpacing(0)
        self.buttons: list[SumButton] = []

    def show_sums(self, sums: Sequence[Sum], units: Units) -> None:
        """Show these and no others."""
        while len(self.buttons) < len(sums):
            self.buttons.append(SumButton())
            self.addWidget(self.buttons[-1])
        for i, button in enumerate(self.buttons):
            button.setVisible(i < len(sums))
            if i < len(sums):
                button.show_sum(sums[i], units)
