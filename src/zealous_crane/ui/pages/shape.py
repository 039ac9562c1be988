"""Shape: what do you want? Sizes as the hand says them, edges and corners chosen on the drawing;
the folded part beside them."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
import shapely
from PySide6.QtCore import QPoint, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ...errors import INPUT_ERRORS
from ...i18n import the, tr
from ...job.job import DrawnPart, FlatPart
from ...metal.allowance import NeutralLine
from ...paint.flat import FlatOptions
from ...paint.folded import paint_protractor
from ...paint.theme import Theme, font, side_width
from ...shop.deduction import LearntK
from ...shop.hierarchical_fit import BendContext
from ...shop.springback import Learnt, from_the_book
from ...units.quantities import AngleReading, parse_angle
from ...units.sums import SumKind
from ..state.session import Session
from ..widgets.canvas import Canvas
from ..widgets.field import LengthField, SumList, TextField
from ..widgets.folded_view import FoldedView
from ..widgets.form import Group, ModelForm, drop
from ..widgets.parts import PartsBar
from ..widgets.pick import Handle, PickCanvas
from ..widgets.schools import SchoolPanel
from ..widgets.widget import Choice, LazyView, Wrapped, heading, prose

if TYPE_CHECKING:
    from ..widgets.designer import Designer

SHOWN = frozenset({SumKind.BLANK, SumKind.RELIEF, SumKind.SHAPE, SumKind.FIT})
"""Sums that tell of the shape; those of the marking are in Lay out."""


LOOKED_OVER = 30
"""Milliseconds after a change until there is said what to look out for."""


class ShapeStage(LazyView):
    """The form at the left, the part at the right.

    Args:
        session: the state behind it.
        look: colours.
        add: opens the page where a new part is chosen.
    """

    def __init__(
        self, session: Session, look: Theme, add: Callable[[], None] = lambda: None
    ) -> None:
        super().__init__()
        self.session, self.look = session, look
        self.setObjectName("bench")
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._column(add))
        scroll.setFixedWidth(side_width(392))
        self.folded = FoldedView(
            session, look, tr("The part folded up"), QSize(320, 220), mate=self.parts.open_together
        )
        self.flat = PickCanvas(
            session,
            look,
            tr("The blank, to point at"),
            FlatOptions(text=12, dimensions=False),
            QSize(320, 150),
        )
        self.flat.picked.connect(self._picked)
        self.flat.dragged.connect(self._dragged)
        self.flat.erased.connect(self._erased)
        views = QVBoxLayout()
        views.addWidget(self.folded, 3)
        views.addWidget(self.flat, 3)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 12, 16, 12)
        row.setSpacing(16)
        row.addWidget(scroll)
        row.addLayout(views, 1)
        # What there is to look out for is gone through when the new shape is on the screen.
        self._looked_over = QTimer(self)
        self._looked_over.setSingleShot(True)
        self._looked_over.setInterval(LOOKED_OVER)
        self._looked_over.timeout.connect(self._show_doubts)
        session.changed.connect(self._changed)
        session.planned.connect(self._numbers)
        session.planned.connect(self._book_changed)
        self.refresh()

    # --- the column ------------------------------------------------------------------------------

    def _column(self, add: Callable[[], None]) -> QWidget:  # noqa: PLR0915
        self.parts = PartsBar(self.session, self.look, self._tell, add)
        self.last_time = prose("care")
        self.last_time.hide()
        self._asked_of = ""
        self.session.book.remembered.connect(self._remembered)
        self.kind = heading("")
        self.about = Wrapped()
        self.about.setObjectName("faint")
        self.form: ModelForm | None = None
        self.form_box = QVBoxLayout()
        # The tree stands here once a part that has one is opened up, or its menu asked for: most
        # never are.
        self._tree_box = QVBoxLayout()
        self.open_up = QPushButton(tr("Edit flange by flange …"))
        self.open_up.setToolTip(
            tr(
                "Change any edge, corner or hole of this part freely. Ctrl+Z brings the ready "
                "kind back."
            )
        )
        self.open_up.clicked.connect(lambda: self._tell(self.designer.open_up()))
        self.schools = SchoolPanel(self.session, self._tell)
        units = lambda: self.session.job.units  # noqa: E731 - asked anew each time
        self.radius = LengthField(
            tr("Inside radius"), self._radius, units, empty=tr("as the method gives")
        )
        self.reading = Choice()
        self.reading.setAccessibleName(tr("How angles are read"))
        self.reading.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.reading.setMinimumContentsLength(12)
        for reading in AngleReading:
            self.reading.addItem(reading.words, reading)
        self.reading.activated.connect(
            lambda _: self.session.edit("angles", angles=self.reading.currentData())
        )
        self.protractor = Canvas(
            tr("Where the protractor lies"), self._paint_protractor, QSize(150, 64)
        )
        self.protractor.setMaximumHeight(64)
        self.from_book = QPushButton()
        self.from_book.setToolTip(
            tr(
                "Take what the book's bends say of this metal on this brake; it is written into "
                "the job."
            )
        )
        # Its words never make the column wider than the page.
        self.from_book.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.from_book.clicked.connect(self._take_from_book)
        self.session.book.changed.connect(self._book_changed)
        self.k_from_book = QPushButton()
        self.k_from_book.setToolTip(
            tr("Use the neutral line the shop's own test strips show; it is written into the job.")
        )
        self.k_from_book.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.k_from_book.clicked.connect(self._take_k)
        self.springback = TextField(
            tr("Springback measured"),
            self._springback,
            tr("estimated; degrees at 90° once measured"),
        )
        holder = QWidget()
        box = QVBoxLayout(holder)
        box.setContentsMargins(0, 0, 12, 0)
        box.setSpacing(6)
        box.addWidget(self.parts)
        box.addWidget(self.last_time)
        box.addWidget(self.kind)
        box.addWidget(self.about)
        box.addLayout(self.form_box)
        box.addLayout(self._tree_box)
        box.addWidget(self.open_up)
        box.addSpacing(8)
        box.addWidget(heading(tr("Bends")))
        box.addWidget(self.schools)
        bends = QFormLayout()
        bends.setHorizontalSpacing(12)
        bends.addRow(tr("Angles are read"), self.reading)
        bends.addRow("", self.protractor)
        bends.addRow(tr("Inside radius"), self.radius)
        bends.addRow(tr("Springback"), self.springback)
        bends.addRow(self.from_book)
        bends.addRow(self.k_from_book)
        box.addLayout(bends)
        box.addSpacing(8)
        box.addWidget(heading(tr("What follows")))
        self.sums = SumList()
        box.addLayout(self.sums)
        self.doubts = Wrapped()
        self.doubts.setFont(font(9.5))
        box.addWidget(self.doubts)
        box.addStretch(1)
        return holder

    @cached_property
    def designer(self) -> Designer:
        """The part as a tree; not shown until there is one."""
        from ..widgets.designer import Designer

        made = Designer(self.session, self._tell)
        made.hide()
        self._tree_box.addWidget(made)
        return made

    def _remembered(self, job: str, day: str, text: str) -> None:
        """What was said to be changed when this part was last made comes up first."""
        if job == self.session.job.name:
            self.last_time.setText(tr("▲  Last time ({day}): {said}").format(day=day, said=text))
            self.last_time.show()

    def _ask_book(self) -> None:
        name = self.session.job.name
        if name != self._asked_of:
            self._asked_of = name
            self.last_time.hide()
            self.session.book.remember(name)

    def _changed(self) -> None:
        if not self.waits():
            self.refresh()

    def refresh(self) -> None:
        """Show the job."""
        self._stale = False
        job = self.session.job
        part = job.part
        self._ask_book()
        self.kind.setText(tr(part.label))
        self.about.setText(tr(part.about))
        tree = isinstance(part, DrawnPart | FlatPart)
        if tree or self._tree_box.count():
            self.designer.setVisible(tree)
        self.open_up.setVisible(not tree)
        if self.form is not None and (tree or type(self.form.model) is not type(part)):
            drop(self.form)
            self.form = None
        if not tree:
            if self.form is None:
                self.form = ModelForm(
                    part,
                    self._part,
                    lambda: self.session.job.units,
                    reading=lambda: self.session.job.angles,
                )
                self.form.refused.connect(self._tell)
                self.form_box.addWidget(self.form)
            else:
                self.form.show_model(part)
        else:
            self.designer.refresh()
        self.schools.refresh()
        self.reading.setCurrentIndex(self.reading.findData(job.angles))
        self.protractor.update()
        self.radius.show_value(job.radius)
        self._book_changed()
        self.springback.show_text("" if job.springback is None else f"{job.springback:g}")
        blank = self.session.blank
        self.sums.show_sums([s for s in blank.sums if s.kind in SHOWN], job.units)
        self._looked_over.start()
        self._numbers()
        self.folded.refresh()

    def _show_doubts(self) -> None:
        self.doubts.setText("\n".join(f"▲ {doubt}" for doubt in self.session.blank.doubts))

    def field(self, path: str) -> QWidget:
        """The field of a size, by its name in the part: ``length``, ``corner.relief.size``."""
        form = self.form if self.form is not None else self.designer.form
        *outer, name = path.split(".")
        for step in outer:
            nested = form.fields[step] if form is not None else None
            if isinstance(nested, Group):
                nested.open()
            form = nested.form if isinstance(nested, Group) else None
        if form is None:
            raise KeyError(path)
        return form.fields[name]

    def focus_first(self) -> None:
        """Put the cursor into the first size, all of it chosen, so that typing replaces it."""
        if self.form is not None:
            for widget in self.form.fields.values():
                if isinstance(widget, TextField):
                    widget.edit.setFocus()
                    widget.edit.selectAll()
                    return

    def _numbers(self) -> None:
        self.flat.options = FlatOptions(
            numbers=order_numbers(self.session), text=12, dimensions=False
        )
        self.flat.look = self.look
        self.flat.update()

    # --- edits -----------------------------------------------------------------------------------

    def _part(self, model: object) -> str | None:
        return self.session.change(self.session.job.model_copy(update={"part": model}), "sizes")

    def _radius(self, value: float | None) -> str | None:
        return self.session.edit("radius", radius=value)

    def _place(self) -> BendContext:
        job, plan = self.session.job, self.session.plan
        tool = plan.strokes[-1].verdict.tooling.key if plan is not None and plan.strokes else ""
        return BendContext(job.metal, job.sheet.thickness, job.brake, tool)

    def _book_changed(self) -> None:
        """Offer what the book says, where it says anything that the job does not hold already."""
        book, job, metals = self.session.book, self.session.job, self.session.settings.every_metal
        text = job.springback_from if job.springback is not None else ""
        # A book without bends is not asked: it would bring in the machines for what nobody sees.
        any_bent = bool(book.bends or book.strips)
        learnt = (
            book.learnt(self._place(), self.session.rack, metals, whole=False)
            if any_bent and not text
            else None
        )
        self._offer(self.from_book, text, learnt)
        told = job.school_from if isinstance(job.school, NeutralLine) else ""
        self._offer(
            self.k_from_book,
            told,
            book.learnt_k(self._place(), metals) if book.strips and not told else None,
        )

    @staticmethod
    def _offer(button: QPushButton, text: str, learnt: Learnt | LearntK | None) -> None:
        """Offer what was learnt, unless the job holds it already, which is said; nothing where
        nothing is known."""
        if learnt is not None and learnt.here + learnt.near > 0:
            button.setText(tr("From the book: {learnt}").format(learnt=learnt.text()))
        else:
            button.setText(text)
        button.setEnabled(not text)
        button.setVisible(bool(button.text()))

    def _take_from_book(self) -> None:
        learnt = self.session.book.learnt(
            self._place(), self.session.rack, self.session.settings.every_metal
        )
        self._tell(
            self.session.edit(
                "book",
                springback=max(0.0, round(learnt.mean, 1)),
                springback_from=from_the_book(learnt),
            )
        )

    def _take_k(self) -> None:
        learnt = self.session.book.learnt_k(self._place(), self.session.settings.every_metal)
        fields: dict[str, object] = {
            "school": learnt.school.model_dump(),
            "school_from": from_the_book(learnt),
        }
        if learnt.radius is not None:
            # K was measured together with a radius; with another one the blank would be worse than
            # before.
            fields |= {"radius": None, "radius_at": {}}
        self._tell(self.session.edit("book", **fields))

    def _springback(self, text: str) -> str | None:
        if not text.strip():
            return self.session.edit("springback", springback=None, springback_from="")
        try:
            return self.session.edit("springback", springback=parse_angle(text), springback_from="")
        except INPUT_ERRORS as error:
            return str(error)

    def _tell(self, sentence: str | None) -> None:
        if sentence:
            self.session.complained.emit(sentence)

    def _picked(self, handle: Handle, where: QPoint) -> None:
        result = self.flat.handles()
        menu = self.designer.menu_for(handle, result.axes, result.paths)
        if menu is not None and not menu.isEmpty():
            menu.popup(where)

    def _erased(self, handle: Handle) -> None:
        """Take away what the Delete key was pressed at."""
        text = self.designer.erase(handle, self.flat.handles().paths)
        if text:
            self.session.complained.emit(text)

    def _dragged(self, index: int, dx: float, dy: float) -> None:
        if index < 0:
            return
        blank = self.session.blank
        if index >= len(blank.holes) or blank.holes[index].panel < 0:
            return
        hole = blank.holes[index]
        panel = blank.panels[hole.panel]
        if not shapely.Polygon(panel.polygon).covers(
            shapely.Polygon(hole.path.moved(np.array([dx, dy])).flattened())
        ):
            self.session.complained.emit(
                tr("The hole stays on {panel}: it would reach past its edge.").format(
                    panel=the(panel.name)
                )
            )
            return
        axes = self.flat.handles().axes.get(panel.name)
        if axes is not None:
            along, out = axes @ (dx, dy)
            self.designer.move_hole(index, float(along), float(out))

    # --- pictures --------------------------------------------------------------------------------

    def _paint_protractor(self, p: QPainter, rect: QRectF) -> None:
        paint_protractor(p, rect, self.session.job.angles, self.look)


def order_numbers(session: Session) -> dict[int, int]:
    """Place in the bend order by fold index, as far as the plan on show belongs to the job."""
    plan = session.plan
    if plan is None:
        return {}
    return {
        fold: stroke.number
        for stroke in plan.strokes
        for fold in stroke.verdict.stroke.setting.folds
    }
