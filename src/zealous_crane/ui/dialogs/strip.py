"""The test strip: what to cut, then what came out, and what that gives."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import BaseModel
from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QDialogButtonBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...errors import INPUT_ERRORS
from ...flat.on_brake import flat_for
from ...i18n import tr
from ...metal.shop_table import ShopTable
from ...paint.sheets import paint_strip
from ...paint.theme import Theme, font
from ...planning.planner import make_plan
from ...schema.reading import plain
from ...shop.book.record import StripRecord
from ...shop.test_strip import care_of, coupon_job, found_by
from ...units.length import show_length
from ..state.session import Session
from ..widgets.canvas import Canvas
from ..widgets.field import SumList
from ..widgets.form import ModelForm
from ..widgets.widget import FormDialog, Wrapped

ASKED = ("flat", "line", "leg_one", "leg_two", "legs", "angle", "stop", "radius", "lot", "note")
"""What is asked; the rest is that of the part on the bench."""


class StripDialog(FormDialog):
    """Cut it, bend it, measure it.

    Args:
        session: the part on the bench gives metal, thickness and machine.
        look: colours.
        parent: the window.
        shown: called when the strip was put on the bench.
    """

    def __init__(  # noqa: PLR0915
        self, session: Session, look: Theme, parent: QWidget, shown: Callable[[], None]
    ) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.session, self.look, self._shown_on_bench = session, look, shown
        self.setWindowTitle(tr("Test strip"))
        self.resize(860, 560)
        job, units = session.job, session.job.units
        self.strip = coupon_job(job, session.brake)
        blank = flat_for(self.strip, session.brake)
        length, width = blank.size
        line = float(blank.folds[0].start[0])
        cut = Wrapped(
            tr(
                "Cut {length} × {width} from the same sheet. Mark the line {line} from one end. "
                "Bend to 90° and measure."
            ).format(
                length=show_length(length, units, pretty=True),
                width=show_length(width, units, pretty=True),
                line=show_length(line, units, pretty=True),
            )
        )
        cut.setFont(font(12, bold=True))
        minded = care_of(session.brake)
        care = Wrapped(f"▲  {minded}" if minded else "")
        care.setVisible(bool(minded))
        self.on_bench = QPushButton(tr("Put the strip on the bench"))
        self.on_bench.setToolTip(
            tr("Adds it to the work as a part: with a sheet, a set-up and At the brake of its own.")
        )
        self.on_bench.clicked.connect(self._put_on_bench)
        leg = length / 2
        self._radius = blank.folds[0].bend.radius
        planned = make_plan(self.strip, session.brake, blank=blank)
        stroke = planned.strokes[0] if planned.strokes else None
        # Tool and stop are the plan's: what the strip teaches then reaches the bends made so.
        tool, stopped = (
            ("", 92.0)
            if stroke is None
            else (stroke.verdict.tooling.key, round(stroke.machine_stop, 1))
        )
        self.record = StripRecord(
            metal=job.metal,
            thickness=job.sheet.thickness,
            machine=job.brake,
            tool=tool,
            width=width,
            flat=length,
            line=line,
            leg_one=leg,
            leg_two=leg,
            angle=90.0,
            stop=stopped,
            radius=None,
        )
        hidden = frozenset(name for name in StripRecord.model_fields if name not in ASKED)
        self.form = ModelForm(self.record, self._take, lambda: units, hidden, first=ASKED)
        self.picture = Canvas(tr("The strip, flat and bent"), self._paint, QSize(300, 220))
        self.found = Wrapped()
        self.sums = SumList()
        self.complaint = Wrapped()
        self.complaint.setObjectName("complaint")
        self.form.refused.connect(self.complaint.setText)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Save | QDialogButtonBox.StandardButton.Cancel
        )
        self.save = self.buttons.button(QDialogButtonBox.StandardButton.Save)
        self.save.setText(tr("Write into the book and use it"))
        self.save.setEnabled(False)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        side = QWidget()
        side.setFixedWidth(340)
        right = QVBoxLayout(side)
        heading = QLabel(tr("What it gives"))
        heading.setFont(font(11, bold=True))
        right.addWidget(heading)
        right.addWidget(self.found)
        right.addLayout(self.sums)
        right.addWidget(self.picture, 1)
        middle = QHBoxLayout()
        middle.addWidget(self.form, 1)
        middle.addWidget(side)
        box = QVBoxLayout(self)
        box.addWidget(cut)
        box.addWidget(care)
        box.addWidget(self.on_bench, 0, Qt.AlignmentFlag.AlignLeft)
        box.addLayout(middle, 1)
        box.addWidget(self.complaint)
        box.addWidget(self.buttons)
        self.found.setText(tr("Type both legs, the angle and where it was stopped."))

    def _put_on_bench(self) -> None:
        refusal = self.session.parts.add(self.strip)
        if refusal:
            self.complaint.setText(refusal)
            return
        self.reject()
        self._shown_on_bench()

    def _take(self, model: BaseModel) -> str | None:
        assert isinstance(model, StripRecord)
        if model.legs != self.record.legs and "to the mark" in (model.legs, self.record.legs):
            # Another figure altogether: what was read before does not stand for it.
            model = model.model_copy(
                update={"leg_one": 0.0 if model.legs == "to the mark" else model.line}
            )
        self.record = model
        self.form.show_model(model)
        self.picture.update()
        units = self.session.job.units
        try:
            result = found_by(model)
        except INPUT_ERRORS as error:
            # Measures are typed one after the other: what does not go together yet is said beside
            # them, and kept.
            self.found.setText(plain(error))
            self.save.setEnabled(False)
            return None
        self.complaint.clear()
        bend, gain = result.strip.bend, show_length(abs(result.line_moves), units.fine, pretty=True)
        moved = (
            tr("Strike the line {gain} nearer to the end of the first leg.")
            if result.line_moves > 0
            else tr("Strike the line {gain} farther from the end of the first leg.")
        )
        k = (
            tr("K {k:.2f}").format(k=bend.k_factor)
            if model.radius is not None
            else tr("K is not known without the inside radius")
        )
        self.found.setText(
            tr("{k}; springback {back:.1f}° at 90°. {moved}").format(
                k=k, back=result.springback, moved=moved.format(gain=gain)
            )
        )
        self.sums.show_sums(list(result.sums), units.fine)
        self.save.setEnabled(True)
        return None

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        paint_strip(p, rect, self.record, self.session.job.units, self.look)

    def accept(self) -> None:
        """Write the strip into the book; from now on it wins over what the job had."""
        job, result = self.session.job, found_by(self.record)
        strip = result.strip
        if self.record.radius is None:
            # Its deduction holds whatever the radius; the part is drawn with the one planned.
            strip = strip.model_copy(update={"radius": self._radius})
        strips = (*(job.school.strips if isinstance(job.school, ShopTable) else ()), strip)
        refusal = self.session.edit(
            "test strip",
            school=ShopTable(strips=strips).model_dump(),
            springback=max(0.0, round(result.springback, 1)),
            springback_from=tr("from a test strip, {day}").format(day=self.record.day),
        )
        if refusal:
            # Nothing is written of what the job did not take.
            self.complaint.setText(refusal)
            return
        self.session.book.note(self.record)
        super().accept()
