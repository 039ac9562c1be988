"""Lay out: the blank with running dimensions, the scribe's settings in order, what is waste; a slider folds it up."""

from __future__ import annotations

from typing import get_args

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...blank import CornerRecipe, Striking, half_marks, mark_out
from ...job import Ruler
from ...measure import Sum, SumKind
from ...measure.words import tr
from ...plan import narrow_flanges
from ..canvas import Canvas
from ..folded_view import FoldedView
from ..paint.corner import paint_corner
from ..paint.flat import FlatOptions, paint_flat
from ..session import Session
from ..sum_list import SumList
from ..theme import Look, side_width
from ..widget import Choice, Table, heading, prose, safely
from .shape import order_numbers

MOST_HIGH = 220
"""Painter units; a longer table of points scrolls."""

MOST_CORNERS = 2
"""Kinds of corners that are shown enlarged, side by side; those with the most members."""


class LayoutStage(QWidget):
    """The blank large, what to do with the scribe beside it."""

    def __init__(self, session: Session, look: Look) -> None:
        super().__init__()
        self.session, self.look = session, look
        self._of: object = None
        self.setObjectName("bench")
        self.flat = Canvas(tr("The blank, laid out"), self._paint_flat, QSize(420, 320))
        self.scribe = Table(3, tr("Scribe settings in order"))
        self.scribe.setHorizontalHeaderLabels([tr("Set to"), tr("For"), tr("Strike from")])
        self.scribe.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.scribe.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        header = self.scribe.horizontalHeader()
        for column_number, mode in enumerate(
            (QHeaderView.ResizeMode.ResizeToContents, QHeaderView.ResizeMode.Stretch, QHeaderView.ResizeMode.ResizeToContents)
        ):
            header.setSectionResizeMode(column_number, mode)
        self.half_marks = prose("faint")
        self.corners_heading = heading(tr("Corners and notches"))
        self.corners = prose()
        self._recipes: tuple[CornerRecipe, ...] = ()
        self.corner_pictures = Canvas(tr("The corners enlarged"), self._paint_corners, QSize(240, 190))
        self.points_heading = heading(tr("Holes and points"))
        self.points = Table(2, tr("Holes and points"))
        self.points.setHorizontalHeaderLabels([tr("What"), tr("Where")])
        self.points.horizontalHeader().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self.points.horizontalHeader().setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        self.care = QLabel()
        self.care.setWordWrap(True)
        self.care.setTextFormat(Qt.TextFormat.PlainText)
        self.strike_from = Choice()
        self.strike_from.setAccessibleName(tr("Lines are struck from"))
        for text, corner in (
            (tr("each line from its nearest edge"), "nearest"),
            (tr("all from the left and front edges"), "left front"),
            (tr("all from the right and front edges"), "right front"),
            (tr("all from the left and back edges"), "left back"),
            (tr("all from the right and back edges"), "right back"),
            (tr("left and front, far edges where the scribe ends"), "both ways"),
        ):
            self.strike_from.addItem(text, corner)
        self.strike_from.activated.connect(lambda _: session.edit("strike_from", strike_from=self.strike_from.currentData()))
        self.ruler = Choice()
        self.ruler.setAccessibleName(tr("Notch lines on the rule"))
        self.ruler.addItem(tr("notch lines where they fall"), None)
        for ruler in get_args(Ruler):
            self.ruler.addItem(tr("notch lines on the {ruler} of the rule").format(ruler=ruler), ruler)
        self.ruler.activated.connect(lambda _: session.edit("ruler", ruler=self.ruler.currentData()))
        self.film = Choice()
        self.film.setAccessibleName(tr("Film, paint or engraving"))
        for choice in (self.strike_from, self.ruler, self.film):
            # The list that opens shows all of it.
            choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            choice.setMinimumContentsLength(12)
        for text, value in (
            (tr("no film or finish"), None),
            (tr("film or finish on the inside face"), "inside"),
            (tr("film or finish on the outside face"), "outside"),
        ):
            self.film.addItem(text, value)
        self.film.activated.connect(lambda _: session.edit("film", film=self.film.currentData()))
        self.steps = QLabel()
        self.steps.setWordWrap(True)
        self.steps.setTextFormat(Qt.TextFormat.PlainText)
        self.sums = SumList()
        self.folded = FoldedView(session, look, tr("The blank folding up"), QSize(240, 150), folded=0.55, tools=False)
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 10, 0)
        column.addWidget(heading(tr("Set the scribe")))
        column.addWidget(self.strike_from)
        column.addWidget(self.ruler)
        column.addWidget(self.scribe)
        column.addWidget(self.half_marks)
        column.addWidget(self.corners_heading)
        column.addWidget(self.corners)
        column.addWidget(self.corner_pictures)
        column.addWidget(self.points_heading)
        column.addWidget(self.points)
        column.addWidget(self.care)
        column.addWidget(heading(tr("At the bench")))
        column.addWidget(self.steps)
        column.addWidget(self.film)
        column.addWidget(heading(tr("Where the numbers come from")))
        column.addLayout(self.sums)
        column.addWidget(heading(tr("Fold it up")))
        column.addWidget(self.folded, 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(side)
        scroll.setFixedWidth(side_width(372))
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 12, 16, 12)
        row.setSpacing(16)
        row.addWidget(self.flat, 1)
        row.addWidget(scroll)
        session.changed.connect(self.refresh)
        session.planned.connect(self.flat.update)
        self._show()

    def showEvent(self, event: QShowEvent) -> None:
        """What changed while another stage was open is shown now."""
        super().showEvent(event)
        safely(self._show)

    def refresh(self) -> None:
        """Show the blank, now or when the stage is opened."""
        if self.isVisible():
            self._show()

    def _show(self) -> None:
        job, blank, brake = self.session.job, self.session.blank, self.session.brake
        self.flat.update()
        self.folded.refresh()
        # A name or a quantity changes nothing that is marked out.
        of = (blank, brake, job.units, Striking.of(job), job.film, job.ruler, job.strike_from)
        if self._of == of:
            return
        self._of = of
        marking = mark_out(blank, job.units, Striking.of(job))
        self.scribe.show_rows([(s.shown(job.units), s.purpose, s.struck_from) for s in marking.scribe])
        half = half_marks(blank, job, [s.setting for s in marking.scribe])
        self.half_marks.setText("\n".join(one.says(job.units) for one in half))
        self.half_marks.setVisible(bool(half))
        self.corners.setText("\n\n".join(recipe.says(job.units, Striking.of(job)) for recipe in marking.recipes))
        for widget in (self.corners_heading, self.corners):
            widget.setVisible(bool(marking.recipes))
        self._recipes = marking.corners[:MOST_CORNERS]
        self.corner_pictures.setVisible(bool(self._recipes))
        self.corner_pictures.update()
        self.points.show_rows(
            [(p.with_size(job.units), p.place(blank, job.units, Striking.of(job))) for p in marking.points], MOST_HIGH
        )
        self.points.setVisible(bool(marking.points))
        self.points_heading.setVisible(bool(marking.points))
        steps = list(marking.steps)
        if job.film is not None:
            steps.append(
                tr(
                    "Film or finish lies on the {film} face: keep it off bed and leaf, and scribe where it does not show."
                ).format(film=job.film)
            )
        self.film.setCurrentIndex(self.film.findData(job.film))
        self.ruler.setCurrentIndex(self.ruler.findData(job.ruler))
        self.strike_from.setCurrentIndex(self.strike_from.findData(job.strike_from))
        self.steps.setText("\n".join(f"{i}.  {step}" for i, step in enumerate(steps, start=1)))
        found = (*blank.findings, *narrow_flanges(blank, brake, job.units))
        self.care.setText("\n".join(f"▲  {finding.says}" for finding in found))
        self.care.setVisible(bool(found))
        # Four like edges have one sum between them.
        first: dict[tuple[SumKind, str, str], Sum] = {}
        for item in blank.sums:
            first.setdefault((item.kind, item.rule, item.text(job.units)), item)
        shown = list(first.values())
        self.sums.show_sums(shown, job.units)

    def _paint_corners(self, p: QPainter, rect: QRectF) -> None:
        for i, recipe in enumerate(self._recipes):
            wide = rect.width() / len(self._recipes)
            paint_corner(p, QRectF(i * wide, 0, wide, rect.height()), recipe, self.session.job.units, self.look)

    def _paint_flat(self, p: QPainter, rect: QRectF) -> None:
        options = FlatOptions(numbers=order_numbers(self.session), text=15, striking=Striking.of(self.session.job))
        paint_flat(p, rect, self.session.blank, self.session.job.units, self.look, options)
