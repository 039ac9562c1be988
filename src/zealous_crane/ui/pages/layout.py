"""Lay out: the blank with running dimensions, the scribe's settings in order, what is waste; a
slider folds it up."""

from __future__ import annotations

from collections.abc import Sequence
from typing import get_args

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...bending.machines import narrow_flanges
from ...flat.bend_lines import half_marks
from ...flat.corner_instructions import CornerRecipe
from ...flat.marking import FILM_WORDS, Marking, ScribeSetting, mark_out
from ...flat.ruler import Striking
from ...i18n import Phrase, tr
from ...job.job import Ruler
from ...paint.flat import FlatOptions, paint_corner, paint_flat
from ...paint.theme import Theme, side_width, text_scale
from ...units.sums import Sum, SumKind
from ..state.session import Session
from ..widgets.canvas import Canvas
from ..widgets.field import SumList
from ..widgets.folded_view import FoldedView
from ..widgets.widget import Choice, LazyView, Table, Wrapped, heading, prose
from .shape import order_numbers

MOST_HIGH = 220
"""Painter units; a longer table of points scrolls."""

CORNER_HIGH = 300
"""Pixels the pictures of corners are high, at the usual size of the text."""

MOST_CORNERS = 2
"""Kinds of corners that are shown enlarged, side by side; those with the most members."""


def _plain() -> QLabel:
    """Text in as many lines as it takes."""
    label = Wrapped()
    label.setTextFormat(Qt.TextFormat.PlainText)
    return label


def _choice(name: str, entries: Sequence[tuple[str, str | None]]) -> Choice:
    """A choice as wide as there is room for; the list that opens shows all of each entry."""
    choice = Choice()
    choice.setAccessibleName(name)
    choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    choice.setMinimumContentsLength(12)
    for text, value in entries:
        choice.addItem(text, value)
    return choice


class LayoutStage(LazyView):
    """The blank large, what to do with the scribe beside it."""

    def __init__(self, session: Session, look: Theme) -> None:
        super().__init__()
        self.session, self.look = session, look
        self._of: object = None
        self.setObjectName("bench")
        self.flat = Canvas(tr("The blank, laid out"), self._paint_flat, QSize(420, 320))
        self.scribe, self.points = self._scribe_table(), self._points_table()
        self.half_marks = prose("faint")
        self.corners_heading = heading(tr("Corners and notches"))
        self.corners = prose()
        self.corner_points = self._corner_table()
        self._recipes: tuple[CornerRecipe, ...] = ()
        self._marking: Marking | None = None
        self._lit = -1
        self.scribe.pointed.connect(self._light)
        self.corner_pictures = Canvas(
            tr("The corners enlarged"), self._paint_corners, QSize(240, 190)
        )
        self.points_heading = heading(tr("Holes and points"))
        self.care, self.steps = _plain(), _plain()
        self._choices()
        self.sums = SumList()
        self.folded = FoldedView(
            session, look, tr("The blank folding up"), QSize(240, 150), folded=0.55, tools=False
        )
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 12, 16, 12)
        row.setSpacing(16)
        row.addWidget(self.flat, 1)
        row.addWidget(self._side())
        session.changed.connect(self.soon)
        session.planned.connect(self.flat.update)

    @staticmethod
    def _scribe_table() -> Table:
        table = Table(3, tr("Scribe settings in order"))
        table.setHorizontalHeaderLabels([tr("Set to"), tr("For"), tr("Strike from")])
        table.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        table.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        wide, rest = QHeaderView.ResizeMode.Stretch, QHeaderView.ResizeMode.ResizeToContents
        for column, mode in enumerate((rest, wide, rest)):
            table.horizontalHeader().setSectionResizeMode(column, mode)
        return table

    @staticmethod
    def _corner_table() -> Table:
        table = Table(3, tr("Points of the corner"))
        table.setHorizontalHeaderLabels(
            [tr("Point"), tr("From left or right"), tr("From front or back")]
        )
        wide, rest = QHeaderView.ResizeMode.Stretch, QHeaderView.ResizeMode.ResizeToContents
        for column, mode in enumerate((rest, wide, wide)):
            table.horizontalHeader().setSectionResizeMode(column, mode)
        table.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        # No stop for Tab on the way down: nothing is done in it, and the picture says it too.
        table.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        return table

    def _light(self, row: int) -> None:
        """Have the lines of a scribe setting stand out on the blank; −1 for none."""
        if row != self._lit:
            self._lit = row
            self.flat.update()

    @property
    def lit(self) -> ScribeSetting | None:
        """The scribe setting that stands out."""
        scribe = () if self._marking is None else self._marking.scribe
        return scribe[self._lit] if 0 <= self._lit < len(scribe) else None

    @staticmethod
    def _points_table() -> Table:
        table = Table(2, tr("Holes and points"))
        table.setHorizontalHeaderLabels([tr("What"), tr("Where")])
        for column in (0, 1):
            table.horizontalHeader().setSectionResizeMode(column, QHeaderView.ResizeMode.Stretch)
        return table

    def _choices(self) -> None:
        """What a person chooses of the laying out: what lines are struck from, on which ticks, and
        what lies on the metal."""
        session = self.session
        self.strike_from = _choice(
            tr("Lines are struck from"),
            (
                (tr("strike from the nearest edge"), "nearest"),
                (tr("strike from the left and front edges"), "left front"),
                (tr("strike from the right and front edges"), "right front"),
                (tr("strike from the left and back edges"), "left back"),
                (tr("strike from the right and back edges"), "right back"),
                (
                    tr("strike from left and front, from the far edges where the scribe ends"),
                    "both ways",
                ),
            ),
        )
        self.strike_from.activated.connect(
            lambda _: session.edit("strike_from", strike_from=self.strike_from.currentData())
        )
        on = tr("notch lines: on the {ruler} of the rule")
        rulers = [(on.format(ruler=ruler), ruler) for ruler in get_args(Ruler)]
        self.ruler = _choice(
            tr("Notch lines on the rule"), ((tr("notch lines: exact"), None), *rulers)
        )
        self.ruler.activated.connect(
            lambda _: session.edit("ruler", ruler=self.ruler.currentData())
        )
        self.film = _choice(
            tr("Film, paint or engraving"),
            (
                (tr("no film or finish"), None),
                (tr("film or finish on the inside face"), "inside"),
                (tr("film or finish on the outside face"), "outside"),
            ),
        )
        self.film.activated.connect(lambda _: session.edit("film", film=self.film.currentData()))

    def _side(self) -> QScrollArea:
        """What to do, beside the blank, from the top down in the order it is done."""
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 10, 0)
        for widget in (
            heading(tr("Set the scribe")),
            self.strike_from,
            self.ruler,
            self.scribe,
            self.half_marks,
            self.corners_heading,
            self.corners,
            self.corner_pictures,
            self.corner_points,
            self.points_heading,
            self.points,
            self.care,
            heading(tr("At the bench")),
            self.steps,
            self.film,
            heading(tr("Where the numbers come from")),
        ):
            column.addWidget(widget)
        column.addLayout(self.sums)
        column.addWidget(heading(tr("Fold it up")))
        column.addWidget(self.folded, 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(side)
        scroll.setFixedWidth(side_width(372))
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        return scroll

    def refresh(self) -> None:
        """Show the blank; while nobody looks, only that it is another one is kept in mind."""
        if self.waits():
            return
        job, blank, brake = self.session.job, self.session.blank, self.session.brake
        self.flat.update()
        self.folded.refresh()
        # A name or a quantity changes nothing that is marked out.
        of = (blank, brake, job.units, Striking.of(job), job.film, job.ruler, job.strike_from)
        if self._of == of:
            return
        self._of = of
        marking = self._marking = mark_out(blank, job.units, Striking.of(job))
        self._lit = -1
        self.scribe.show_rows(
            [(s.shown(job.units), s.purpose, s.struck_from) for s in marking.scribe]
        )
        half = half_marks(blank, job, [s.setting for s in marking.scribe])
        self.half_marks.setText("\n".join(one.says(job.units) for one in half))
        self.half_marks.setVisible(bool(half))
        self.corners.setText("\n\n".join(self._corner_words(marking)))
        for widget in (self.corners_heading, self.corners):
            widget.setVisible(bool(marking.recipes))
        self._recipes = marking.corners[:MOST_CORNERS]
        self.corner_pictures.setVisible(bool(self._recipes))
        self.corner_pictures.setFixedHeight(round(CORNER_HIGH * text_scale()))
        self.corner_pictures.update()
        told = [recipe for recipe in self._recipes if recipe.pointed]
        rows = [row for recipe in told for row in recipe.points(job.units)]
        self.corner_points.setVisible(bool(rows))
        self.corner_points.show_rows(rows, 40 * MOST_HIGH)
        self.corner_pictures.setAccessibleDescription(
            "; ".join(f"{number}: {u}, {v}" for number, u, v in rows)
        )
        self.points.show_rows(
            [
                (p.with_size(job.units), p.place(blank, job.units, Striking.of(job)))
                for p in marking.points
            ],
            MOST_HIGH,
        )
        self.points.setVisible(bool(marking.points))
        self.points_heading.setVisible(bool(marking.points))
        steps = list(marking.steps)
        if job.film is not None:
            steps.append(str(FILM_WORDS[job.film]))
        self.film.setCurrentIndex(self.film.findData(job.film))
        self.ruler.setCurrentIndex(self.ruler.findData(job.ruler))
        self.strike_from.setCurrentIndex(self.strike_from.findData(job.strike_from))
        self.steps.setText("\n".join(f"{i}.  {step}" for i, step in enumerate(steps, start=1)))
        result = (*blank.findings, *narrow_flanges(blank, brake, job.units))
        self.care.setText("\n".join(f"▲  {finding.says}" for finding in result))
        self.care.setVisible(bool(result))
        # Four like edges have one sum between them.
        first: dict[tuple[SumKind, Phrase, str], Sum] = {}
        for item in blank.sums:
            first.setdefault((item.kind, item.rule, item.text(job.units)), item)
        shown = list(first.values())
        self.sums.show_sums(shown, job.units)

    def _corner_words(self, marking: Marking) -> list[str]:
        """What is said of the corners: of those in the picture that are told by their points, these
        stand in a table."""
        units, striking = self.session.job.units, Striking.of(self.session.job)
        seen = marking.corners[:MOST_CORNERS]
        return [
            recipe.says(units, striking, with_points=recipe not in seen)
            if isinstance(recipe, CornerRecipe)
            else recipe.says(units, striking)
            for recipe in marking.recipes
        ]

    def _paint_corners(self, p: QPainter, rect: QRectF) -> None:
        for i, recipe in enumerate(self._recipes):
            wide = rect.width() / len(self._recipes)
            paint_corner(
                p,
                QRectF(i * wide, 0, wide, rect.height()),
                recipe,
                self.session.job.units,
                self.look,
            )

    def _paint_flat(self, p: QPainter, rect: QRectF) -> None:
        options = FlatOptions(
            numbers=order_numbers(self.session),
            text=15,
            striking=Striking.of(self.session.job),
            lit=self.lit,
        )
        paint_flat(p, rect, self.session.blank, self.session.job.units, self.look, options)
