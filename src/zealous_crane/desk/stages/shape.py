"""Shape: what do you want? Sizes as the hand says them, corners, school of allowance; the folded part beside them."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QDoubleSpinBox,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QRadioButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...allowance import NeutralLine
from ...allowance.schools import SCHOOLS
from ...measure import Units, parse_angle
from ...part import Measured, OpenBox, ReliefShape
from ..canvas import Canvas, TurnCanvas
from ..field import LengthField, SumButton, TextField
from ..paint.flat import FlatOptions, paint_flat
from ..paint.folded import paint_folded
from ..session import Session
from ..theme import Look
from ..widget import heading


class ShapeStage(QWidget):
    """The form at the left, the part at the right."""

    def __init__(self, session: Session, look: Look) -> None:
        super().__init__()
        self.session, self.look = session, look
        self.setObjectName("bench")
        form = self._form()
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(form)
        scroll.setFixedWidth(376)
        self.folded = TurnCanvas("The part folded up", self._paint_folded, QSize(320, 240))
        self.flat = Canvas("The blank", self._paint_flat, QSize(320, 150))
        views = QVBoxLayout()
        views.addWidget(self.folded, 3)
        views.addWidget(self.flat, 2)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 12, 16, 12)
        row.setSpacing(16)
        row.addWidget(scroll)
        row.addLayout(views, 1)
        session.changed.connect(self.refresh)
        self.refresh()

    # --- the form -----------------------------------------------------------------------------------------------

    def _form(self) -> QWidget:
        units = lambda: self.session.job.units  # noqa: E731 - asked anew each time
        self.length = LengthField("Length", lambda v: self._size("length", v), units)
        self.width = LengthField("Width", lambda v: self._size("width", v), units)
        self.depth = LengthField("Depth", lambda v: self._size("depth", v), units)
        self.inside, self.outside = QRadioButton("inside"), QRadioButton("outside")
        self._measured = QButtonGroup(self)
        for button in (self.inside, self.outside):
            self._measured.addButton(button)
            button.clicked.connect(self._measure)
        self.relief = QComboBox()
        self.relief.setAccessibleName("Corner relief")
        for shape, words in ((ReliefShape.ROUND, "round hole"), (ReliefShape.SQUARE, "square"), (ReliefShape.NONE, "none")):
            self.relief.addItem(words, shape)
        self.relief.activated.connect(lambda _: self._corner("relief shape", relief={"shape": self.relief.currentData()}))
        self.relief_size = LengthField("Relief size", self._relief_size, units, empty="by the rule")
        self.gap = LengthField("Corner gap", lambda v: self._corner("gap", gap=v), units, empty="one thickness, rounded up")
        self.school = QComboBox()
        self.school.setAccessibleName("School of bend allowance")
        self.school.addItem("by thickness", None)
        for school in SCHOOLS:
            self.school.addItem(school.label, school.model_fields["school"].default)
        self.school.activated.connect(lambda _: self._school())
        self.k = QDoubleSpinBox()
        self.k.setAccessibleName("K-factor")
        self.k.setRange(0.0, 0.6)
        self.k.setDecimals(3)
        self.k.setSingleStep(0.01)
        self.k.valueChanged.connect(lambda _: self._school())
        self.radius = LengthField("Inside radius", self._radius, units, empty="as the school takes it")
        self.springback = TextField("Springback measured", self._springback, "estimated; degrees at 90° once measured")

        holder = QWidget()
        box = QVBoxLayout(holder)
        box.setContentsMargins(0, 0, 12, 0)
        box.setSpacing(6)
        box.addWidget(heading("Open box"))
        form = QFormLayout()
        form.setLabelAlignment(Qt.AlignmentFlag.AlignLeft)
        form.setHorizontalSpacing(12)
        form.setVerticalSpacing(6)
        measured = QHBoxLayout()
        measured.addWidget(self.inside)
        measured.addWidget(self.outside)
        measured.addStretch(1)
        for text, item in (("Sizes are", measured), ("Length", self.length), ("Width", self.width), ("Depth", self.depth)):
            form.addRow(text, item)
        box.addLayout(form)
        box.addSpacing(8)
        box.addWidget(heading("Corners"))
        corners = QFormLayout()
        corners.setHorizontalSpacing(12)
        for text, item in (("Relief", self.relief), ("Relief size", self.relief_size), ("Gap at the ends", self.gap)):
            corners.addRow(text, item)
        box.addLayout(corners)
        box.addSpacing(8)
        box.addWidget(heading("Bends"))
        bends = QFormLayout()
        bends.setHorizontalSpacing(12)
        self.k_label = QLabel("K-factor")
        bends.addRow("Allowance", self.school)
        bends.addRow(self.k_label, self.k)
        bends.addRow("Inside radius", self.radius)
        bends.addRow("Springback", self.springback)
        box.addLayout(bends)
        box.addSpacing(8)
        box.addWidget(heading("What follows"))
        self.sums = [SumButton() for _ in range(3)]
        for button in self.sums:
            box.addWidget(button)
        self.doubts = QLabel()
        self.doubts.setWordWrap(True)
        self.doubts.setObjectName("faint")
        box.addWidget(self.doubts)
        box.addStretch(1)
        return holder

    def refresh(self) -> None:
        """Show the job."""
        job = self.session.job
        part = job.part
        editable = isinstance(part, OpenBox)
        for field in (self.length, self.width, self.depth, self.gap, self.relief_size, self.relief, self.inside, self.outside):
            field.setEnabled(editable)
        if isinstance(part, OpenBox):
            self.length.show_value(part.length)
            self.width.show_value(part.width)
            self.depth.show_value(part.depth)
            (self.inside if part.measured is Measured.INSIDE else self.outside).setChecked(True)
            self.relief.setCurrentIndex(self.relief.findData(part.corner.relief.shape))
            self.relief_size.show_value(part.corner.relief.size)
            self.relief_size.setEnabled(part.corner.relief.shape is not ReliefShape.NONE)
            self.gap.show_value(part.corner.gap)
        self.school.setCurrentIndex(self.school.findData(job.school.school if job.school else None))
        neutral = isinstance(job.school, NeutralLine)
        self.k.setVisible(neutral)
        self.k_label.setVisible(neutral)
        if isinstance(job.school, NeutralLine):
            self.k.blockSignals(True)
            self.k.setValue(job.school.k)
            self.k.blockSignals(False)
        self.radius.show_value(job.radius)
        self.springback.show_text("" if job.springback is None else f"{job.springback:g}")
        sums = [s for s in self.session.blank.sums if s.what.startswith("Blank") or s.what == "Corner relief"]
        for button, item in zip(self.sums, [*sums, None, None, None], strict=False):
            button.setVisible(item is not None)
            if item is not None:
                button.show_sum(item, job.units)
        self.doubts.setText("\n".join(self.session.blank.doubts))
        self.folded.update()
        self.flat.update()

    # --- edits --------------------------------------------------------------------------------------------------

    def _size(self, field: str, value: float | None) -> str | None:
        return self._part(field, {field: value})

    def _measure(self) -> None:
        self._tell(self._part("", {"measured": Measured.INSIDE if self.inside.isChecked() else Measured.OUTSIDE}))

    def _corner(self, what: str, **fields: object) -> str | None:
        part = self.session.job.part
        if not isinstance(part, OpenBox):
            return None
        sentence = self._part(what, {"corner": {**part.corner.model_dump(), **fields}})
        if what == "relief shape":
            self._tell(sentence)
        return sentence

    def _relief_size(self, value: float | None) -> str | None:
        part = self.session.job.part
        shape = part.corner.relief.shape if isinstance(part, OpenBox) else ReliefShape.ROUND
        return self._corner("relief size", relief={"shape": shape, "size": value})

    def _part(self, what: str, fields: dict[str, object]) -> str | None:
        return self.session.edit(what, part={**self.session.job.part.model_dump(), **fields})

    def _radius(self, value: float | None) -> str | None:
        return self.session.edit("radius", radius=value)

    def _springback(self, text: str) -> str | None:
        if not text.strip():
            return self.session.edit("springback", springback=None)
        try:
            return self.session.edit("springback", springback=parse_angle(text))
        except ValueError as error:
            return str(error)

    def _school(self) -> None:
        chosen = self.school.currentData()
        school: dict[str, object] | None = None if chosen is None else {"school": chosen}
        if school is not None and chosen == "neutral-line":
            held = self.session.job.school
            k = self.k.value() if isinstance(held, NeutralLine) else self.session.job.sheet.metal.k_factor
            school["k"] = round(k, 4)
        self._tell(self.session.edit("school", school=school))

    def _tell(self, sentence: str | None) -> None:
        if sentence:
            self.session.complained.emit(sentence)
            self.refresh()

    # --- pictures -----------------------------------------------------------------------------------------------

    def _paint_folded(self, p: QPainter, rect: QRectF) -> None:
        paint_folded(p, rect, self.session.blank, self.look, turn=self.folded.turn, tilt=self.folded.tilt)

    def _paint_flat(self, p: QPainter, rect: QRectF) -> None:
        units: Units = self.session.job.units
        paint_flat(p, rect, self.session.blank, units, self.look, FlatOptions(numbers=order_numbers(self.session), text=12))


def order_numbers(session: Session) -> dict[int, int]:
    """Place in the bend order by fold index, as far as the plan on show belongs to the job."""
    plan = session.plan
    if plan is None or session.planning or plan.job != session.job:
        return {}
    return {stroke.verdict.stroke.setting.fold: stroke.number for stroke in plan.strokes}
