"""From a bar to a set of sections."""

from __future__ import annotations

from PySide6.QtWidgets import QDialogButtonBox, QHBoxLayout, QLabel, QListWidget, QVBoxLayout, QWidget

from ..brake import Section
from ..brake.designer import Bar, SectionSet, propose
from ..measure import Units, parse_length, show_length
from ..measure.input_error import INPUT_ERRORS
from ..measure.report import plain
from ..measure.words import counted, tr
from .field import TextField
from .piece_text import show_pieces
from .theme import font
from .widget import FormDialog

ASKED = (
    ("length", tr("Bar"), "32", "850"),
    ("kerf", tr("Saw kerf"), "1/16", "2"),
    ("allowance", tr("Machined off each end"), "1/32", "0.5"),
    ("step", tr("Step"), "1", "20"),
    ("gap", tr("Largest gap left"), "1/4", "6"),
)
"""What is known of the bar: the field, its words, and what it begins with in inches and in millimetres."""


def as_pieces(found: SectionSet) -> tuple[Section, ...]:
    """A designed set as pieces of a rack."""
    widths = sorted(set(found.lengths), reverse=True)
    return tuple(Section(width=w, count=found.lengths.count(w)) for w in widths)


class SectionsDialog(FormDialog):
    """From a bar to a set of sections: what each proposal reaches, within what gap, what is left over."""

    def __init__(self, units: Units, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.units = units
        self.setWindowTitle(tr("Sections from a bar"))
        self.resize(840, 460)
        self.sets: tuple[SectionSet, ...] = ()
        self.fields: dict[str, TextField] = {}
        row = QHBoxLayout()
        for name, words, inches, millimetres in ASKED:
            self.fields[name] = field = TextField(words, lambda _: self.refresh(), "")
            field.edit.setText(inches if units.is_inch else millimetres)
            column = QVBoxLayout()
            column.addWidget(QLabel(words))
            column.addWidget(field)
            row.addLayout(column)
        self.complaint = QLabel()
        self.complaint.setObjectName("complaint")
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Proposed sets, the one that reaches most first"))
        self.list.setFont(font(10.5))
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        use = self.buttons.addButton(tr("Use this set"), QDialogButtonBox.ButtonRole.AcceptRole)
        use.setEnabled(False)
        self.list.currentRowChanged.connect(lambda number: use.setEnabled(number >= 0))
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        box = QVBoxLayout(self)
        box.addLayout(row)
        box.addWidget(self.complaint)
        box.addWidget(self.list, 1)
        box.addWidget(self.buttons)
        self.refresh()

    @property
    def chosen(self) -> SectionSet | None:
        """The set picked."""
        row = self.list.currentRow()
        return self.sets[row] if 0 <= row < len(self.sets) else None

    def refresh(self) -> str | None:
        """Propose sets for what is typed."""
        try:
            self.sets = propose(
                Bar(**{name: parse_length(field.edit.text(), self.units) for name, field in self.fields.items()})
            )
        except INPUT_ERRORS as error:
            self.complaint.setText(plain(error))
            return None
        self.complaint.setText("" if self.sets else tr("No set comes out of this bar."))
        self.list.clear()
        for found in self.sets:
            lengths = show_pieces(as_pieces(found), self.units)
            steps = len(found.reached)
            reach = tr("every step") if found.complete else counted("{count} step", "{count} steps", steps)
            miss = (
                tr("nothing missed")
                if found.widest_miss < 1e-6
                else tr("misses up to {widest_miss}").format(widest_miss=show_length(found.widest_miss, self.units))
            )
            self.list.addItem(
                tr("{name}:  {lengths}   ·   {reach} to {whole}, {miss} with the gaps   ·   {length} of bar left").format(
                    name=found.name,
                    lengths=lengths,
                    reach=reach,
                    whole=show_length(found.whole, self.units),
                    miss=miss,
                    length=show_length(round(found.left, 2), self.units),
                )
            )
        return None
