"""The school of bend allowance: choice, its own figures, and every school side by side for one
bend."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import (
    QDialog,
    QHeaderView,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...errors import INPUT_ERRORS
from ...flat.features import Fold
from ...i18n import tr
from ...metal.allowance import SCHOOLS, NeutralLine, side_by_side
from ...metal.material import material
from ...metal.shop_table import ShopTable, TestStrip
from ...schema.reading import plain
from ...units.length import INCH, Units, parse_length, show_length
from ...units.quantities import parse_angle, show_angle
from ..state.session import Session
from .field import TextField
from .form import ModelForm, drop
from .widget import Choice, Table, Wrapped


class SchoolPanel(QWidget):
    """Choice of school and its figures.

    Args:
        session: the state behind it.
        tell: says a sentence aloud.
    """

    def __init__(self, session: Session, tell: Callable[[str], None]) -> None:
        super().__init__()
        self.session, self.tell = session, tell
        self.school = Choice()
        self.school.setAccessibleName(tr("Bend allowance"))
        self.school.addItem(tr("automatic, by thickness"), None)
        for school in SCHOOLS:
            self.school.addItem(str(school.label), school.model_fields["school"].default)
        self.school.activated.connect(lambda _: self._choose())
        self.strips = TextField(
            tr("Test strips"),
            self._strips,
            tr(
                "flat, first leg, second leg, angle, inside radius, thickness, metal; separate "
                "strips with semicolons"
            ),
        )
        self.spread = Wrapped()
        self.spread.setObjectName("faint")
        self.compare = QPushButton(tr("Compare methods …"))
        self.compare.clicked.connect(self.open_table)
        self.form: ModelForm | None = None
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(0, 0, 0, 0)
        self.box.setSpacing(4)
        for widget in (self.school, self.strips, self.spread, self.compare):
            self.box.addWidget(widget)

    def refresh(self) -> None:
        """Show the school in force."""
        job = self.session.job
        school = job.school
        self.school.setCurrentIndex(self.school.findData(school.school if school else None))
        if self.form is not None and (school is None or type(self.form.model) is not type(school)):
            drop(self.form)
            self.form = None
        if school is not None and not isinstance(school, ShopTable):
            if self.form is None:
                self.form = ModelForm(
                    school,
                    lambda m: self.session.edit(
                        tr("figures of the method"), school=m.model_dump(), school_from=""
                    ),
                    lambda: job.units,
                )
                self.box.insertWidget(1, self.form)
            else:
                self.form.show_model(school)
        self.strips.setVisible(isinstance(school, ShopTable))
        self.spread.setVisible(isinstance(school, ShopTable))
        if isinstance(school, ShopTable):
            self.strips.show_text("; ".join(_strip_text(s, job.units) for s in school.strips))
            result = school.spread(job.sheet.thickness)
            self.spread.setText(
                tr("No strip near 90° yet.")
                if result is None
                else tr(
                    "{count} near 90°: BD {mean} ± {half}. Every size across such a bend carries "
                    "that spread."
                ).format(
                    count=result.count,
                    mean=show_length(result.mean, job.units.fine),
                    half=show_length(result.half, job.units.fine),
                )
            )

    def _choose(self) -> None:
        chosen = self.school.currentData()
        record: dict[str, object] | None = None if chosen is None else {"school": chosen}
        if chosen == "neutral-line":
            held = self.session.job.school
            record = {
                "school": chosen,
                "k": held.k
                if isinstance(held, NeutralLine)
                else self.session.job.sheet.metal.k_factor,
            }
        elif chosen == "shop-table":
            held = self.session.job.school
            t = self.session.job.sheet.thickness
            # Begins with a strip that agrees with the neutral line, to be overwritten by a real
            # one.
            bend = NeutralLine(k=self.session.job.sheet.metal.k_factor).bend(
                90, self.session.job.inside_radius, t
            )
            strips = (
                held.strips
                if isinstance(held, ShopTable)
                else (
                    TestStrip(
                        length=100 - bend.deduction,
                        first=50,
                        second=50,
                        thickness=t,
                        radius=self.session.job.inside_radius,
                    ),
                )
            )
            record = {"school": chosen, "strips": [s.model_dump() for s in strips]}
        refusal = self.session.edit("school", school=record, school_from="")
        if refusal:
            self.tell(refusal)
            self.refresh()

    def _strips(self, text: str) -> str | None:
        units, made = self.session.job.units, []
        for row in filter(str.strip, text.split(";")):
            cells = [c.strip() for c in row.split(",")]
            if len(cells) < 3:
                return tr(
                    "A strip is: flat length, first leg, second leg, then angle and inside radius "
                    "if they are not 90° and 0."
                )
            try:
                made.append(
                    TestStrip(
                        length=parse_length(cells[0], units),
                        first=parse_length(cells[1], units),
                        second=parse_length(cells[2], units),
                        angle=parse_angle(cells[3]) if len(cells) > 3 else 90.0,
                        radius=parse_length(cells[4], units) if len(cells) > 4 else 0.0,
                        thickness=parse_length(cells[5], units)
                        if len(cells) > 5
                        else self.session.job.sheet.thickness,
                        metal=material(cells[6]).key if len(cells) > 6 else self.session.job.metal,
                    )
                )
            except INPUT_ERRORS as error:
                return plain(error)
        return self.session.edit(
            "strips",
            school={"school": "shop-table", "strips": [s.model_dump() for s in made]},
            school_from="",
        )

    def open_table(self) -> None:
        """Every school for one bend of the part."""
        SchoolTable(self.session, self).open()


def _strip_text(strip: TestStrip, units: Units) -> str:
    def exact(length: float) -> str:
        # What was measured is kept to the last figure: a rule's fraction would round it.
        return f'{length / INCH:.6g}"' if units.is_inch else f"{length:.6g} mm"

    sizes = [exact(v) for v in (strip.length, strip.first, strip.second)]
    return ", ".join(
        [
            *sizes,
            f"{strip.angle:g}",
            exact(strip.radius),
            exact(strip.thickness),
            *([strip.metal] if strip.metal else []),
        ]
    )


class SchoolTable(QDialog):
    """BA, BD, setback and implied K of one bend by every school."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.session = session
        self.setWindowTitle(tr("One bend by every method"))
        self.resize(860, 420)
        self.bend = Choice()
        self.bend.setAccessibleName(tr("Bend"))
        for i, fold in enumerate(session.blank.folds):
            self.bend.addItem(f"{fold.name}, {show_angle(abs(fold.angle))}", i)
        self.bend.activated.connect(lambda _: self.refresh())
        self.table = Table(7, tr("Bend allowance methods compared"))
        self.table.setHorizontalHeaderLabels(
            [
                tr("Method"),
                "BA",
                "BD",
                tr("Outside setback"),
                tr("Grows inside"),
                "K",
                tr("Take care"),
            ]
        )
        header = self.table.horizontalHeader()
        for column in range(6):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(6, QHeaderView.ResizeMode.Stretch)
        box = QVBoxLayout(self)
        box.addWidget(self.bend)
        box.addWidget(self.table)
        self.note = Wrapped(
            tr(
                "BA: flat between the tangent lines. BD: taken off the two outside legs. K: "
                "neutral line as a "
                "part of the thickness."
            )
        )
        self.note.setObjectName("faint")
        box.addWidget(self.note)
        self.refresh()

    def showEvent(self, event: QShowEvent) -> None:
        """Rows are as high as their text once the columns have their widths."""
        super().showEvent(event)
        self.table.resizeRowsToContents()

    def refresh(self) -> None:
        """Fill the table for the chosen bend."""
        job, folds = self.session.job, self.session.blank.folds
        if not folds:
            return
        fold: Fold = folds[self.bend.currentData() or 0]
        rows = side_by_side(
            fold.bend.angle, fold.bend.radius, fold.bend.thickness, job.chosen_school, job.units
        )
        self.table.setRowCount(len(rows))
        for i, (school, bend, doubt) in enumerate(rows):
            mine = type(school) is type(job.chosen_school)
            cells = [
                f"{'▸ ' if mine else ''}{school.label}",
                *(
                    _figure(v, job.units)
                    for v in (bend.allowance, bend.deduction, bend.outside_setback, bend.gain)
                ),
                f"{bend.k_factor:.3f}",
                doubt or "",
            ]
            for j, text in enumerate(cells):
                item = QTableWidgetItem(text)
                item.setToolTip(str(school.source))
                if 0 < j < 6:
                    item.setTextAlignment(
                        Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
                    )
                if mine:
                    held = item.font()
                    held.setBold(True)
                    item.setFont(held)
                self.table.setItem(i, j, item)
        self.table.resizeRowsToContents()


def _figure(value: float, units: Units) -> str:
    """Allowances are finer than sixteenths: decimals of an inch, or hundredths of a mm."""
    return f'{value / INCH:.4f}"' if units.is_inch else f"{value:.3f} mm"
