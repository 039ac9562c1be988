"""Where a measure is taken, drawn on the folded part: the two jaws, or the protractor's bend."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from ..cache import cached
from ..flat.blank import Blank
from ..inspection.measures import measures_of
from ..inspection.model import Anchor, Measure, Model, What
from ..inspection.wording import show_measure
from ..job.job import Job
from .folded import view_axes
from .frame import Scale
from .theme import Theme, pixels

JAW = 9.0
"""Painter units of a jaw."""


def paint_measure(  # noqa: PLR0913
    p: QPainter,
    rect: QRectF,
    blank: Blank,
    measure: Measure,
    text: str,
    look: Theme,
    scale: Scale,
    *,
    turn: float,
    tilt: float,
    letters: float = 15,
    taken: list[QRectF] | None = None,
) -> None:
    """Draw one measure over a picture of the folded part that was painted with the same turn and
    tilt, and gave that scale.

    Args:
        letters: height of its figure, painter units.
        taken: where figures stand already; its own is added. What has no room among them is not
            drawn.
    """
    taken = [] if taken is None else taken
    axes = view_axes(turn, tilt)

    def point(anchor: Anchor) -> np.ndarray:
        result: np.ndarray = blank.stood[anchor.panel].apply(
            np.array([[*anchor.at, anchor.face * blank.thickness]])
        )[0]
        return result

    if measure.what is What.SHEET:
        return
    if measure.what is What.ANGLE or (measure.what is What.APEX and measure.mate >= 0):
        fold = blank.folds[measure.fold]
        at = {-1: fold.end, 1: fold.start, 0: (fold.start + fold.end) / 2}[measure.end]
        ends = [blank.stood[fold.parent].apply(np.array([[*at, blank.thickness / 2]]))[0]] * 2
    elif measure.what is What.APEX:
        fold = blank.folds[measure.fold]
        middle = (fold.start + fold.end) / 2
        ends = [blank.stood[fold.child].apply(np.array([[*middle, 0.0]]))[0], point(measure.one[0])]
    else:
        ends = [point(measure.one[0]), point(measure.other[0])]
        if measure.along is not None:
            # The jaws stand square: the second end is carried to where the measure's line from the
            # first meets its plane.
            way = blank.stood[measure.along[0]].turn @ np.array(measure.along[1])
            ends[1] = ends[0] + way * float((ends[1] - ends[0]) @ way)
    a, b = (QPointF(*_flat(scale, axes, e)) for e in ends)
    p.save()
    p.setFont(pixels(letters, strong=True))
    box = _room(
        QRectF(p.fontMetrics().boundingRect(text)).adjusted(-5, -2, 5, 2), a, b, rect, taken
    )
    if box is None:
        p.restore()
        return
    taken.append(box)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(QPen(look.color("stop"), 2.2))
    if measure.what is What.ANGLE or a == b:
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(a, JAW * 1.4, JAW * 1.4)
    else:
        p.drawLine(a, b)
        along = b - a
        size = max(1e-6, (along.x() ** 2 + along.y() ** 2) ** 0.5)
        side = QPointF(-along.y(), along.x()) * (JAW / size)
        for end in (a, b):
            p.drawLine(end - side, end + side)
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(look.color("field"))
    p.drawRoundedRect(box, 3, 3)
    p.setPen(look.color("ink"))
    p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
    p.restore()


def _room(
    box: QRectF, a: QPointF, b: QPointF, rect: QRectF, taken: Sequence[QRectF]
) -> QRectF | None:
    """Where a measure's figure stands, along its line from a to b and clear of the figures that
    stand already; None where it cannot."""
    for share, side in itertools.product((0.5, 0.3, 0.7, 0.12, 0.88), (-1, 1)):
        at = a + (b - a) * share + QPointF(0, side * (JAW + box.height() / 2 + 4))
        box.moveCenter(
            QPointF(
                min(max(at.x(), rect.left() + box.width() / 2), rect.right() - box.width() / 2),
                min(max(at.y(), rect.top() + box.height() / 2), rect.bottom() - box.height() / 2),
            )
        )
        if not any(box.intersects(other) for other in taken):
            return box
    return None


def _flat(scale: Scale, axes: np.ndarray, point: np.ndarray) -> tuple[float, float]:
    seen = axes @ point
    at = scale.point(float(seen[0]), float(seen[1]))
    return at.x(), at.y()


SIZES = (((What.INSIDE, What.OUTSIDE, What.FLAT), 2), ((What.LEG, What.APEX), 1))
"""Which sizes stand on the picture, those wanted most first, and of how many ways each."""


@cached(2, lasts=True)
def sizes_of(blank: Blank) -> tuple[tuple[Measure, float], ...]:
    """Some sizes of the finished part and what they are, mm; kept as long as the part is the
    same."""
    chosen: list[Measure] = []
    for kinds, most in SIZES:
        ways: list[np.ndarray] = []
        for measure in (
            m for what in kinds for m in measures_of(blank) if m.what is what and m.one and m.other
        ):
            way = np.subtract(measure.other[0].at, measure.one[0].at)
            way = way / max(float(np.linalg.norm(way)), 1e-9)
            # One size each way tells more than two beside each other.
            if len(ways) < most and all(abs(way @ other) < 0.5 for other in ways):
                ways.append(way)
                chosen.append(measure)
    values = Model(blank).values(tuple(chosen), {})
    return tuple(zip(chosen, values.tolist(), strict=True))


def paint_sizes(  # noqa: PLR0913
    p: QPainter,
    rect: QRectF,
    blank: Blank,
    job: Job,
    look: Theme,
    scale: Scale,
    *,
    turn: float,
    tilt: float,
    letters: float = 15,
) -> None:
    """Write them at a folded picture.

    Args:
        p: paints.
        rect: where the picture lies.
        blank: the part.
        job: says how sizes are shown.
        look: colours.
        scale: of the picture.
        turn, tilt: how it is turned, degrees.
        letters: their height, painter units.
    """
    taken: list[QRectF] = []
    for measure, value in sizes_of(blank):
        paint_measure(
            p,
            rect,
            blank,
            measure,
            show_measure(measure, value, job),
            look,
            scale,
            turn=turn,
            tilt=tilt,
            letters=letters,
            taken=taken,
        )
