"""The circle through measured points."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PySide6.QtWidgets import QDialogButtonBox, QGridLayout, QLabel, QVBoxLayout, QWidget

from ..._typing import Array
from ...errors import INPUT_ERRORS, InputError
from ...i18n import the, tr
from ...paint.theme import font
from ...part.edge import EDGE_WORDS
from ...part.hole import Cutout, HoleShape
from ...schema.reading import plain
from ...units.length import Units, parse_length, show_length
from ..widgets.widget import FormDialog, LineEdit, Wrapped

FLAT = 0.02
"""Of the points' spread; three points that bulge less than this from a line say nothing of a
centre."""


@dataclass(frozen=True)
class FittedCircle:
    """A circle and how well the points it was taken from lie on it.

    Attributes:
        centre: mm.
        radius: mm.
        off: how far every point lies outside (positive) or inside the circle, mm, in their order.
    """

    centre: tuple[float, float]
    radius: float
    off: tuple[float, ...]


def best_circle(points: Array) -> FittedCircle:
    """The circle nearest to points on its edge: least squares of the distances to the circle
    itself.

    Args:
        points: (n, 2) float, mm, three or more.

    Raises:
        InputError: fewer than three, two in one place, or all on a line.
    """
    from scipy.optimize import (
        least_squares,
    )  # loaded when a hole is measured: the window opens sooner

    points = np.asarray(points, dtype=float)
    if len(points) < 3:
        raise InputError(tr("a circle wants three points"))
    middle = points.mean(axis=0)
    spread = np.linalg.svd(points - middle, compute_uv=False)
    if spread[0] < 1e-9 or spread[1] < FLAT * spread[0]:
        raise InputError(tr("these points lie on a line; take them all round the hole"))
    # x² + y² + ax + by + c = 0 is linear in a, b, c, and near enough to begin with.
    at = points - middle
    a, b, c = np.linalg.lstsq(
        np.column_stack([at, np.ones(len(at))]), -(at**2).sum(axis=1), rcond=None
    )[0]
    start = np.array([-a / 2, -b / 2, np.sqrt(max((a * a + b * b) / 4 - c, 1e-12))])

    def off_circle(p: Array) -> Array:
        return np.asarray(np.hypot(*(at - p[:2]).T) - p[2])

    result = least_squares(off_circle, start, xtol=1e-14, ftol=1e-14, gtol=1e-14).x
    off = np.hypot(*(at - result[:2]).T) - result[2]
    x, y = middle + result[:2]
    return FittedCircle((float(x), float(y)), float(result[2]), tuple(off.tolist()))


ROWS = 6
"""Points there is room for; three are enough."""

DOUBTFUL = 0.25
"""mm; a point farther off the circle than this is to be measured again. A caliper held by hand, no
source."""


class TakeOverDialog(FormDialog):
    """Type where points on the hole's edge lie, each from the same two edges of the panel.

    Args:
        hole: the hole as it is; the edges its place is counted from are those measured from, left
            and front where it is counted from the middle.
        units: of the job.
        parent: the window.
    """

    def __init__(self, hole: Cutout, units: Units, parent: QWidget) -> None:
        super().__init__(parent)
        self.hole, self.units = hole, units
        self.setWindowTitle(tr("Take over a hole"))
        self.resize(460, 420)
        x_edge = "left" if hole.x.edge == "middle" else hole.x.edge
        y_edge = "front" if hole.y.edge == "middle" else hole.y.edge
        self._edges = x_edge, y_edge
        asked = Wrapped(
            tr(
                "Measure three points or more on the edge of the hole, all round it, from the {x} "
                "and the {y} edge of {panel}."
            ).format(x=EDGE_WORDS[x_edge], y=EDGE_WORDS[y_edge], panel=the(hole.panel))
        )
        grid = QGridLayout()
        for column, edge in enumerate(self._edges, start=1):
            grid.addWidget(QLabel(tr("From the {edge}").format(edge=EDGE_WORDS[edge])), 0, column)
        grid.addWidget(QLabel(tr("Off the circle")), 0, 3)
        self.points: list[tuple[LineEdit, LineEdit]] = []
        self.off: list[QLabel] = []
        for row in range(1, ROWS + 1):
            grid.addWidget(QLabel(tr("Point {row}").format(row=row)), row, 0)
            pair = LineEdit(), LineEdit()
            for column, line in enumerate(pair, start=1):
                line.setAccessibleName(
                    tr("Point {row} from the {edge}").format(
                        row=row, edge=EDGE_WORDS[self._edges[column - 1]]
                    )
                )
                line.textChanged.connect(lambda _: self._work_out())
                grid.addWidget(line, row, column)
            off = QLabel()
            grid.addWidget(off, row, 3)
            self.points.append(pair)
            self.off.append(off)
        self.found: FittedCircle | None = None
        self.message = Wrapped()
        self.message.setFont(font(12, bold=True))
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        box = QVBoxLayout(self)
        box.addWidget(asked)
        box.addLayout(grid)
        box.addWidget(self.message)
        box.addStretch(1)
        box.addWidget(self.buttons)
        self._work_out()

    def _work_out(self) -> None:
        self.found = None
        for label in self.off:
            label.clear()
        try:
            rows, points = self._read()
            if len(points) < 3:
                self._say(tr("{count} of 3 points").format(count=len(points)))
                return
            self.found = best_circle(points)
        except INPUT_ERRORS as error:
            self._say(plain(error))
            return
        for row, off in zip(rows, self.found.off, strict=True):
            text = show_length(abs(off), self.units.fine, pretty=True)
            self.off[row].setText(("▲ " if abs(off) > DOUBTFUL else "") + text)
        x, y = self.found.centre
        self._say(
            tr("⌀ {size}, {x} from the {x_edge}, {y} from the {y_edge}").format(
                size=show_length(2 * self.found.radius, self.units.fine, pretty=True),
                x=show_length(x, self.units.fine, pretty=True),
                x_edge=EDGE_WORDS[self._edges[0]],
                y=show_length(y, self.units.fine, pretty=True),
                y_edge=EDGE_WORDS[self._edges[1]],
            )
        )

    def _read(self) -> tuple[list[int], np.ndarray]:
        """Rows that are filled in, and their points (n, 2) mm.

        Raises:
            InputError: something typed is no length.
        """
        rows, points = [], []
        for row, (x, y) in enumerate(self.points):
            if x.text().strip() and y.text().strip():
                rows.append(row)
                points.append(
                    (parse_length(x.text(), self.units), parse_length(y.text(), self.units))
                )
        return rows, np.array(points).reshape(-1, 2)

    def _say(self, text: str) -> None:
        self.message.setText(text)
        self.buttons.button(QDialogButtonBox.StandardButton.Ok).setEnabled(self.found is not None)

    def taken_over(self) -> Cutout:
        """The hole where and as large as it was measured."""
        assert self.found is not None
        (x, y), (x_edge, y_edge) = self.found.centre, self._edges
        record = self.hole.model_dump()
        for name, value, edge in (("x", x, x_edge), ("y", y, y_edge)):
            record[name] = {**record[name], "value": round(value, 3), "edge": edge}
        return Cutout.model_validate({**record, "length": round(2 * self.found.radius, 3)})


def can_be_taken_over(hole: object) -> bool:
    """True of a round hole."""
    return isinstance(hole, Cutout) and hole.shape is HoleShape.ROUND
