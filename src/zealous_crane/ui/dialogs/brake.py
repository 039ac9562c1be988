"""Pieces and corners of a tool as a person writes them on one line."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import BaseModel
from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import (
    QApplication,
    QDialogButtonBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QMessageBox,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...bending.machines import machine_of
from ...brake.brake import Brake
from ...brake.designer import Bar, SectionSet, propose
from ...brake.library import BRAKE
from ...brake.tools import Segment
from ...errors import INPUT_ERRORS, InputError
from ...i18n import counted, msg, tr
from ...io.tool_drawing import read_outline
from ...paint.brake import paint_machine, paint_pieces
from ...paint.frame import Scale
from ...paint.theme import Theme, font
from ...schema.reading import plain
from ...units.length import Units, parse_length, show_length
from ..widgets.canvas import Canvas
from ..widgets.field import TextField
from ..widgets.form import ModelForm, drop
from ..widgets.widget import Choice, FormDialog, Wrapped, as_text, heading, run_dialog

NARROWEST = 6.0
"""mm; no piece is narrower, so that a smaller figure is how many there are."""

MOST = 40
"""Pieces of one width; no rack has more, so that a larger figure is a width."""

UNIT = re.compile(r"""["'″′]|mm|cm|in""")


def read_pieces(text: str, units: Units) -> tuple[Segment, ...]:
    """``4" × 5, 3" × 2, 1 1/2`` as pieces: a width, and how many after × or x; or first how many,
    where the unit stands behind.

    Raises:
        InputError: a width or a count that cannot be read, or two figures of which either may be
            the width; the message names it.
    """
    segments: list[Segment] = []
    for part in filter(None, (p.strip() for p in text.split(","))):
        width, _, count = (
            piece.strip() for piece in (part.partition("×") if "×" in part else part.partition("x"))
        )
        if UNIT.search(count) and not UNIT.search(width):
            width, count = count, width
        number = count or "1"
        if not number.isdigit():
            raise InputError(tr("{part!r}: write a width, or a width × how many").format(part=part))
        if count and not UNIT.search(width) and _either_way(width, count, units):
            one, other = (
                show_length(parse_length(figure, units), units) for figure in (width, count)
            )
            sentence = tr(
                "{part!r} may be {count} of {one} or {width} of {other}: put the unit behind the "
                "width, as {one} × {count}."
            )
            raise InputError(
                sentence.format(part=part, count=count, one=one, width=width, other=other)
            )
        segments.append(Segment(width=parse_length(width, units), count=int(number)))
    return tuple(segments)


def _either_way(width: str, count: str, units: Units) -> bool:
    """True where two bare figures may be a width and a count as well as a count and a width."""
    if not width.isdigit() or width == count:
        return False
    return int(width) <= MOST and parse_length(count, units) >= NARROWEST


def show_pieces(pieces: tuple[Segment, ...], units: Units) -> str:
    """The pieces as :func:`read_pieces` reads them."""
    return ", ".join(
        show_length(p.width, units, mark=units.is_inch) + (f" × {p.count}" if p.count > 1 else "")
        for p in pieces
    )


def read_corners(text: str, units: Units) -> tuple[tuple[float, float], ...]:
    """``0, 0; 8, 10; …`` as corners (y, z), mm.

    Raises:
        InputError: a corner that is not two lengths.
    """
    result: list[tuple[float, float]] = []
    for corner in filter(None, (c.strip() for c in re.split(r"[;\n]", text))):
        parts = [p.strip() for p in corner.split(",")]
        if len(parts) != 2:
            raise InputError(
                tr(
                    "{corner!r}: a corner is two lengths, across and up, with a comma between"
                ).format(corner=corner)
            )
        result.append((parse_length(parts[0], units), parse_length(parts[1], units)))
    return tuple(result)


ASKED = (
    ("length", msg("Bar"), "32", "850"),
    ("kerf", msg("Saw kerf"), "1/16", "2"),
    ("allowance", msg("Machined off each end"), "1/32", "0.5"),
    ("step", msg("Step"), "1", "20"),
    ("gap", msg("Largest gap left"), "1/4", "6"),
)
"""What is known of the bar: the field, its words, and what it begins with in inches and in
millimetres."""


def as_pieces(section_set: SectionSet) -> tuple[Segment, ...]:
    """A designed set as pieces of a rack."""
    widths = sorted(set(section_set.lengths), reverse=True)
    return tuple(Segment(width=w, count=section_set.lengths.count(w)) for w in widths)


class SectionsDialog(FormDialog):
    """From a bar to a set of sections: what each proposal reaches, within what gap, what is left
    over."""

    def __init__(self, units: Units, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.units = units
        self.setWindowTitle(tr("Sections from a bar"))
        self.resize(840, 460)
        self.sets: tuple[SectionSet, ...] = ()
        self.fields: dict[str, TextField] = {}
        row = QHBoxLayout()
        for name, words, inches, millimetres in ASKED:
            self.fields[name] = field = TextField(str(words), lambda _: self.refresh(), "")
            field.edit.setText(inches if units.is_inch else millimetres)
            column = QVBoxLayout()
            column.addWidget(QLabel(str(words)))
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
        """The chosen set of lengths."""
        row = self.list.currentRow()
        return self.sets[row] if 0 <= row < len(self.sets) else None

    def refresh(self) -> str | None:
        """Propose sets for what is typed."""
        try:
            self.sets = propose(
                Bar(
                    **{
                        name: parse_length(field.edit.text(), self.units)
                        for name, field in self.fields.items()
                    }
                )
            )
        except INPUT_ERRORS as error:
            self.complaint.setText(plain(error))
            return None
        self.complaint.setText("" if self.sets else tr("This bar makes no set."))
        self.list.clear()
        for result in self.sets:
            lengths = show_pieces(as_pieces(result), self.units)
            steps = len(result.reached)
            reach = (
                tr("every step")
                if result.complete
                else counted("{count} step", "{count} steps", steps)
            )
            miss = (
                tr("nothing missed")
                if result.widest_miss < 1e-6
                else tr("misses up to {widest_miss}").format(
                    widest_miss=show_length(result.widest_miss, self.units)
                )
            )
            self.list.addItem(
                tr(
                    "{name}:  {lengths}   ·   {reach} to {whole}, {miss} with the gaps   ·   "
                    "{length} of bar left"
                ).format(
                    name=result.name,
                    lengths=lengths,
                    reach=reach,
                    whole=show_length(result.whole, self.units),
                    miss=miss,
                    length=show_length(round(result.left, 2), self.units),
                )
            )
        return None


SKIP = frozenset({"outline", "pieces", "key"})
"""Fields that are not on a form: those with an editor of their own, and the word in job files."""


SHORTEST, LONGEST = 200.0, 6500.0
"""mm; beds beyond these are not among the brakes a person enters. Common practice, no source."""


def odd_sizes(brake: Brake, units: Units) -> Iterator[str]:
    """What no brake has, in sentences: mostly a slip of the unit, or a figure too few."""
    bed = brake.bed_length
    if not SHORTEST <= bed <= LONGEST:
        yield tr("A bed of {bed} is typed.").format(bed=show_length(bed, units))
    for field, word in brake.pieces.items():
        total = sum(p.count * p.width for p in getattr(brake, field))
        if 0 < total < bed / 2 or total > 4 * bed:
            text = tr("{word}: {total} side by side, for a bed of {bed}.")
            yield text.format(
                word=word, total=show_length(total, units), bed=show_length(bed, units)
            )


class BrakeDialog(FormDialog):
    """One brake, edited as a copy; the shop's own changes when it is kept.

    Args:
        brake: what is edited.
        units: for lengths.
        look: colours of the outline's picture.
    """

    def __init__(
        self, brake: Brake, units: Units, look: Theme, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.brake, self.units, self.look = brake, units, look
        self._begun = brake
        self.setWindowTitle(tr("Brake: {name}").format(name=brake.name))
        self.resize(1120, 700)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Parts of the brake"))
        self.list.setFixedWidth(210)
        self.list.currentRowChanged.connect(lambda _: self._show())
        self.complaint = Wrapped()
        self.complaint.setObjectName("complaint")
        self.page = QScrollArea()
        self.page.setWidgetResizable(True)
        self.lit = ""
        self.fields: dict[str, QWidget] = {}
        self.section: Canvas | None = None
        self.aside = QWidget()
        self.aside.setFixedWidth(380)
        QVBoxLayout(self.aside).setContentsMargins(0, 0, 0, 0)
        focus = QApplication.instance()
        assert isinstance(focus, QApplication)
        focus.focusChanged.connect(self._focus_moved)
        self.add = Choice()
        self.add.setAccessibleName(tr("Add a tool"))
        self.add.addItems([tr("Add a tool …"), *map(str, brake.plain_tools)])
        self.add.activated.connect(self._add)
        self.drop = QPushButton(tr("Remove this tool"))
        self.drop.clicked.connect(self._drop)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Save | QDialogButtonBox.StandardButton.Cancel
        )
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        left = QVBoxLayout()
        left.addWidget(self.list, 1)
        left.addWidget(self.add)
        left.addWidget(self.drop)
        row = QHBoxLayout()
        row.addLayout(left)
        row.addWidget(self.page, 1)
        row.addWidget(self.aside)
        box = QVBoxLayout(self)
        box.addLayout(row, 1)
        box.addWidget(self.complaint)
        box.addWidget(self.buttons)
        self._fill()
        self._show()

    # --- leaving it ------------------------------------------------------------------------------

    def accept(self) -> None:
        """Keep the brake: not while something typed is refused, and not without a word about sizes
        that no brake has."""
        refused = next(
            (field for field in self.findChildren(TextField) if field.complaint.text()), None
        )
        if refused is not None:
            refused.edit.setFocus()
            self.complaint.setText(
                tr(
                    "What is marked in red is not saved in the brake yet: correct it, or go "
                    "back to the last good value."
                )
            )
            return
        odd = tuple(odd_sizes(self.brake, self.units))
        if odd and not self._agreed("\n".join((*odd, tr("Is that right?")))):
            return
        super().accept()

    def reject(self) -> None:
        """Close without saving; changes are discarded only when the person agrees."""
        typed = any(field.complaint.text() for field in self.findChildren(TextField))
        if (self.brake == self._begun and not typed) or self._agreed(
            tr("Discard the changes made here?")
        ):
            super().reject()

    def _agreed(self, question: str) -> bool:
        buttons = QMessageBox.StandardButton
        return (
            QMessageBox.question(
                self, self.windowTitle(), as_text(question), buttons.Yes | buttons.No, buttons.No
            )
            == buttons.Yes
        )

    # --- what there is ---------------------------------------------------------------------------

    def _entries(self) -> list[tuple[str, str, int]]:
        """(what the list says, field, place in it); the machine itself has no field."""
        brake = self.brake
        return [
            (tr("Machine"), "", 0),
            *((str(word), field, 0) for field, word in brake.pieces.items()),
            *(
                (f"{word}: {tool.name}", field, i)
                for field, word in brake.tools.items()
                for i, tool in enumerate(getattr(brake, field))
            ),
        ]

    def _fill(self) -> None:
        row = self.list.currentRow()
        self.list.blockSignals(True)
        self.list.clear()
        self.list.addItems([text for text, _, _ in self._entries()])
        self.list.setCurrentRow(min(max(row, 0), self.list.count() - 1))
        self.list.blockSignals(False)
        self.add.setVisible(bool(self.brake.plain_tools))
        self.drop.setVisible(bool(self.brake.tools))

    @property
    def chosen(self) -> tuple[str, int]:
        """Which part of the brake is on show: its field, and its place there."""
        entries = self._entries()
        _, field, number = entries[min(max(self.list.currentRow(), 0), len(entries) - 1)]
        return field, number

    def change(self, **fields: Any) -> str | None:
        """Change fields of the brake; a sentence when it cannot be so, and the last good one
        stays."""
        try:
            self.brake = BRAKE.validate_python({**self.brake.model_dump(), **fields})
        except INPUT_ERRORS as error:
            text = plain(error)
            self.complaint.setText(text)
            return text
        self.complaint.setText("")
        return None

    def change_tool(self, field: str, number: int, **fields: Any) -> str | None:
        """Change fields of one punch or die; a sentence when that cannot be.

        Args:
            field: punches or dies.
            number: which one, from 0.
            fields: values by name.
        """
        tools = [t.model_dump() for t in getattr(self.brake, field)]
        tools[number] = {**tools[number], **fields}
        refusal = self.change(**{field: tools})
        if refusal is None:
            self._fill()
        return refusal

    def _add(self, index: int) -> None:
        self.add.setCurrentIndex(0)
        if index <= 0:
            return
        word, (field, make) = list(self.brake.plain_tools.items())[index - 1]
        called = str(word)
        taken = {tool.name for held in self.brake.tools for tool in getattr(self.brake, held)}
        name = next(n for n in (called, *(f"{called} {k}" for k in range(2, 99))) if n not in taken)
        tool = make(name)
        if (
            self.change(
                **{
                    field: [
                        *(t.model_dump() for t in getattr(self.brake, field)),
                        tool.model_dump(),
                    ]
                }
            )
            is None
        ):
            self._fill()
            places = [place for _, *place in self._entries()]
            self.list.setCurrentRow(places.index([field, len(getattr(self.brake, field)) - 1]))

    def _drop(self) -> None:
        field, number = self.chosen
        if field in self.brake.tools:
            tools = [
                t.model_dump() for i, t in enumerate(getattr(self.brake, field)) if i != number
            ]
            if self.change(**{field: tools}) is None:
                self._fill()
                self._show()

    # --- the page --------------------------------------------------------------------------------

    def _show(self) -> None:
        field, number = self.chosen
        self.fields, self.section = {}, None
        while (left := self.aside.layout().takeAt(0)) is not None:  # type: ignore[union-attr]
            drop(left.widget())
        self.aside.setVisible(not field)
        page = QWidget()
        box = QVBoxLayout(page)
        self.complaint.setText("")
        if not field:
            drawn = machine_of(self.brake).drawn(self.brake)
            form = ModelForm(
                self.brake,
                self._machine_changed,
                lambda: self.units,
                self._elsewhere,
                first=drawn.first,
            )
            box.addWidget(heading(tr("Measures of the machine")))
            told = Wrapped(
                tr(
                    "Most important sizes first; the rest are typical values. Each size lights "
                    "up on the drawing."
                )
            )
            told.setObjectName("faint")
            box.addWidget(told)
            self.fields = form.fields
            self.section = Canvas(
                tr("Section of the machine with its sizes"), self._paint_section, QSize(330, 300)
            )
            held = QVBoxLayout()
            held.addWidget(form)
            held.addStretch(1)
            sides = QHBoxLayout()
            sides.addLayout(held, 3)
            # The picture stays in sight while the fields go by.
            self.aside.layout().addWidget(self.section)  # type: ignore[union-attr]
            box.addLayout(sides)
        elif field in self.brake.pieces:
            box.addWidget(
                heading(tr("{pieces} in the rack").format(pieces=self.brake.pieces[field]))
            )
            self._pieces_rows(
                box,
                getattr(self.brake, field),
                lambda pieces: self.change(**{field: [p.model_dump() for p in pieces]}),
            )
        else:
            tool = getattr(self.brake, field)[number]
            box.addWidget(
                ModelForm(
                    tool, lambda m: self._tool_changed(field, number, m), lambda: self.units, SKIP
                )
            )
            self.outline = QLineEdit("; ".join(f"{y:g}, {z:g}" for y, z in tool.outline))
            self.outline.setAccessibleName(tr("Corners of the outline, across and up, mm"))
            self.outline.editingFinished.connect(lambda: self._outline_typed(field, number))
            bring = QPushButton(tr("Import an outline (DXF) …"))
            bring.clicked.connect(lambda: self._ask_outline(field, number))
            row = QHBoxLayout()
            row.addWidget(QLabel(tr("Outline, mm")))
            row.addWidget(self.outline, 1)
            row.addWidget(bring)
            box.addLayout(row)
            self.picture = Canvas(
                tr("Section of the tool"),
                lambda p, r: self._paint(p, r, field, number),
                QSize(300, 220),
            )
            box.addWidget(self.picture, 1)
            self._pieces_rows(
                box,
                tool.pieces,
                lambda pieces: self.change_tool(
                    field, number, pieces=[p.model_dump() for p in pieces]
                ),
            )
        box.addStretch(0)
        self.page.setWidget(page)

    def _pieces_rows(
        self,
        box: QVBoxLayout,
        pieces: tuple[Segment, ...],
        take: Callable[[tuple[Segment, ...]], str | None],
    ) -> None:
        def typed(text: str) -> str | None:
            try:
                refusal = take(read_pieces(text, self.units))
            except INPUT_ERRORS as error:
                return plain(error)
            self._show_pieces()
            return refusal

        hint = '4" × 5, 3" × 2, 1 1/2' if self.units.is_inch else "100 × 5, 60 × 2, 30"
        self.pieces = TextField(tr("Pieces, a width or a width × how many"), typed, hint)
        self.pieces.show_text(show_pieces(pieces, self.units))
        design = QPushButton(tr("Design a set from a bar …"))
        design.clicked.connect(lambda: self._design(take))
        row = QHBoxLayout()
        row.addWidget(QLabel(tr("Pieces")))
        row.addWidget(self.pieces, 1)
        row.addWidget(design)
        box.addLayout(row)
        # What is in force is seen, to scale: a set typed the wrong way round shows at once.
        self.rack_picture = Canvas(
            tr("The pieces side by side, over the bed"), self._paint_pieces, QSize(300, 96)
        )
        self.rack_picture.setMaximumHeight(110)
        self.rack_says = Wrapped()
        box.addWidget(self.rack_picture)
        box.addWidget(self.rack_says)
        self._show_pieces()

    @property
    def _rack(self) -> tuple[Segment, ...]:
        """The pieces on show, as they are in force."""
        field, number = self.chosen
        result = getattr(self.brake, field)
        pieces: tuple[Segment, ...] = (
            result if field in self.brake.pieces else result[number].pieces
        )
        return pieces

    def _show_pieces(self) -> None:
        pieces = self._rack
        count, total = sum(p.count for p in pieces), sum(p.count * p.width for p in pieces)
        text = counted("{count} piece", "{count} pieces", count)
        self.rack_says.setText(
            tr("{pieces}, {total} side by side; the bed is {bed}.").format(
                pieces=text,
                total=show_length(total, self.units),
                bed=show_length(self.brake.bed_length, self.units),
            )
        )
        self.rack_picture.update()

    def _paint_pieces(self, p: QPainter, rect: QRectF) -> None:
        paint_pieces(p, rect, self._rack, self.brake.bed_length, self.units, self.look)

    @property
    def _elsewhere(self) -> frozenset[str]:
        """Fields of the machine that have a page of their own, and are there as they are now."""
        return SKIP | set(self.brake.pieces) | set(self.brake.tools)

    def _machine_changed(self, model: BaseModel) -> str | None:
        refusal = self.change(**model.model_dump(exclude=set(self._elsewhere)))
        if self.section is not None:
            self.section.update()
        return refusal

    def _focus_moved(self, _old: QWidget | None, now: QWidget | None) -> None:
        """The size that is typed lights up on the drawing."""
        match = next(
            (
                n
                for n, w in self.fields.items()
                if now is not None and (w is now or w.isAncestorOf(now))
            ),
            "",
        )
        if match and match != self.lit:
            self.lit = match
            if self.section is not None:
                self.section.update()

    def _paint_section(self, p: QPainter, rect: QRectF) -> None:
        paint_machine(
            p, rect, machine_of(self.brake).drawn(self.brake), self.lit, self.units, self.look
        )

    def _tool_changed(self, field: str, number: int, model: BaseModel) -> str | None:
        # Outline and pieces have editors of their own, and the form knows them as they were.
        return self.change_tool(field, number, **model.model_dump(exclude=set(SKIP)))

    def _outline_typed(self, field: str, number: int) -> None:
        try:
            corners = read_corners(self.outline.text(), Units.MM)
        except INPUT_ERRORS as error:
            self.complaint.setText(plain(error))
            return
        if self.change_tool(field, number, outline=corners) is None:
            self.picture.update()

    def _ask_outline(self, field: str, number: int) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, tr("Import an outline"), "", tr("Drawings (*.dxf)")
        )
        if name:
            self.bring_outline(field, number, Path(name))

    def bring_outline(self, field: str, number: int, path: Path) -> str | None:
        """Take a tool's outline from a drawing; a sentence when it cannot be.

        Args:
            field: the field of the outline.
            number: of the tool, from 0.
            path: the drawing.
        """
        try:
            corners = read_outline(path, die=field == "dies")
        except INPUT_ERRORS as error:
            self.complaint.setText(str(error))
            return str(error)
        text = self.change_tool(field, number, outline=corners)
        self._show()
        if text:
            self.complaint.setText(text)
        return text

    def _paint(self, p: QPainter, rect: QRectF, field: str, number: int) -> None:
        tools = getattr(self.brake, field) if field in self.brake.tools else ()
        if number >= len(tools):
            return
        ring = tools[number].outline
        low = min(y for y, _ in ring), min(z for _, z in ring)
        high = max(y for y, _ in ring), max(z for _, z in ring)
        scale = Scale.fitting(low, high, rect.adjusted(12, 12, -12, -12))
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QPen(self.look.color("tool_edge"), 1.2))
        p.setBrush(self.look.color("tool"))
        p.drawPolygon(scale.polygon(np.array(ring)))
        p.setPen(QPen(self.look.color("accent"), 1, Qt.PenStyle.DashLine))
        p.drawLine(scale.point(0, low[1]), scale.point(0, high[1]))

    def _design(self, take: Callable[[tuple[Segment, ...]], str | None]) -> None:
        dialog = SectionsDialog(self.units, self)
        if run_dialog(dialog) and dialog.chosen is not None:
            pieces = as_pieces(dialog.chosen)
            refusal = take(pieces)
            self.complaint.setText(refusal or "")
            self._show_pieces()
            self.pieces.show_text(show_pieces(pieces, self.units))
