"""How far a size of a finished part may be off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..errors import InputError
from ..flat.blank import Blank
from ..flat.ruler import Striking
from ..i18n import tr
from ..job.job import Job
from ..metal.tolerance import sheet_tolerance
from ..units.length import parse_length, show_length
from ..units.quantities import parse_angle, signed_angle
from .explain import Explained, explain, promised, read_to, slopes_of, worth_measuring
from .measures import InspectedSize, Stands, measures_of
from .model import Measure, Model, Off, What
from .probe import TANGENT
from .wording import show_measure, show_reading, wrong_way


def allowed(job: Job, measure: Measure, wanted: float) -> tuple[float, str]:
    """How far a size may be off either way, mm or degrees: what a drawing asks of it, what the job
    says, the mill's own tolerance of the sheet, else the general tolerance; and the standard, where
    one says so.

    Args:
        job: the job.
        measure: the size.
        wanted: what it should be, mm or degrees.
    """
    if measure.key in job.sizes_asked:
        return job.sizes_asked[measure.key], ""
    if measure.what is What.ANGLE:
        return job.tolerance, ""
    if measure.what is What.SHEET:
        return sheet_tolerance(job.sheet)
    return job.size_tolerance(wanted), ""


USUAL_COUNT = 10
"""Sizes that are asked for unless more are wanted."""


@dataclass(frozen=True, eq=False)
class Survey:
    """A flat looked over.

    Attributes:
        measures: everything that can be measured on the finished part.
        order: the same in the order they are asked for: those first that tell most.
        wanted: (n,) what each should be, in that order, mm or degrees.
        promised: (n,) within how much of that nine parts in ten come out when all goes as usual.
        slopes: (n, m) how much every one of ``measures`` changes for one mm or degree of every
            cause.
    """

    measures: tuple[Measure, ...]
    order: tuple[Measure, ...]
    wanted: NDArray[np.float64]
    promised: NDArray[np.float64]
    slopes: NDArray[np.float64]


def survey(
    blank: Blank,
    striking: Striking,
    usual: tuple[tuple[Off, float], ...] = (),
    datum: str = TANGENT,
    within: bool = False,
) -> Survey:
    """Look a flat over.

    Args:
        blank: the part as it is wanted.
        striking: what its lines are struck from.
        usual: the shop's own spreads where they are known, degrees or mm.
        datum: to where sizes are read over a bend of more than 90°, as the job says.
        within: the job's sizes are inside sizes.
    """
    measures = measures_of(blank, datum, within)
    slopes = slopes_of(blank, measures, striking)
    first = worth_measuring(blank, measures, USUAL_COUNT, striking)
    order = (*_by_hand(first), *(m for m in measures if m not in first))
    every = promised(blank, measures, striking, dict(usual))
    at = [measures.index(measure) for measure in order]
    return Survey(measures, order, Model(blank, striking).values(order, {}), every[at], slopes)


_ORDER = (
    What.SHEET,
    What.OUTSIDE,
    What.FLAT,
    What.LEG,
    What.APEX,
    What.INSIDE,
    What.ANGLE,
    What.DIAGONAL,
    What.HOLE,
)


def _by_hand(measures: tuple[Measure, ...]) -> tuple[Measure, ...]:
    """In the order a hand takes them up: rule and caliper along the outside, then inside, then the
    protractor."""
    return tuple(sorted(measures, key=lambda m: (_ORDER.index(m.what), m.fold, m.end)))


FAR = 0.35
"""Of the size wanted; a figure farther off than this was misread or has another unit."""

FAR_LEAST, FAR_ANGLE = 8.0, 40.0
"""mm and degrees; nothing nearer than this is called misread."""


@dataclass(frozen=True, eq=False)
class Inspection:
    """What is to be measured on a part.

    Attributes:
        job, blank: the part.
        usual: the shop's own spreads where they are known, degrees or mm.
        known: the flat looked over, where that was done before; None does it when it is first asked
            about.
    """

    job: Job
    blank: Blank
    usual: tuple[tuple[Off, float], ...] = ()
    known: Survey | None = None

    @cached_property
    def survey(self) -> Survey:
        """The flat looked over."""
        return self.known or survey(
            self.blank, Striking.of(self.job), self.usual, self.job.datum, self.job.measured_inside
        )

    @property
    def measures(self) -> tuple[Measure, ...]:
        """Everything that can be measured."""
        return self.survey.measures

    @cached_property
    def lines(self) -> tuple[InspectedSize, ...]:
        """Every size, those first that tell most; then the rest in the order of the part."""
        result = self.survey
        rows = zip(result.order, result.wanted.tolist(), result.promised.tolist(), strict=True)
        made: list[InspectedSize] = []
        for measure, wanted, spread in rows:
            by, standard = allowed(self.job, measure, wanted)
            made.append(InspectedSize(measure, wanted, by, spread, standard))
        return tuple(made)

    @property
    def first(self) -> tuple[InspectedSize, ...]:
        """The sizes that are asked for."""
        return self.lines[:USUAL_COUNT]

    def line(self, key: str) -> InspectedSize:
        """The size of that key.

        Raises:
            InputError: there is none.
        """
        match = next((line for line in self.lines if line.measure.key == key), None)
        if match is None:
            raise InputError(
                tr("there is no size {key} on this part; it has {known}").format(
                    key=key, known=", ".join(line.measure.key for line in self.lines)
                )
            )
        return match

    def read(self, line: InspectedSize, text: str) -> float:
        """What was measured, as the person typed it, mm or degrees.

        Raises:
            InputError: it is no figure, or so far from what is wanted that it was misread or is of
                another unit.
        """
        angle = line.measure.what is What.ANGLE
        return self.likely(
            line,
            self.job.angles.read(parse_angle(text))
            if angle
            else parse_length(text, self.job.units),
        )

    def likely(self, line: InspectedSize, value: float) -> float:
        """A figure (mm or degrees), as it is, where it may be this size.

        Raises:
            InputError: it is so far from what is wanted that it was misread or is of another unit.
        """
        angle = line.measure.what is What.ANGLE
        if angle and value < 0:
            raise InputError(wrong_way(value))
        off = abs(value - line.wanted)
        if off > (FAR_ANGLE if angle else max(FAR_LEAST, FAR * abs(line.wanted))):
            raise InputError(
                tr(
                    "{text} is far from the {wanted} wanted: misread, or in another unit? Write "
                    "the unit with it."
                ).format(
                    text=show_reading(line.measure, value, self.job),
                    wanted=show_measure(line.measure, line.wanted, self.job),
                )
            )
        return value

    def explained(self, measured: dict[str, float]) -> Explained | None:
        """What explains the sizes measured; None while none is.

        Raises:
            InputError: a key that is no size of this part.
        """
        if not measured:
            return None
        for key in measured:
            self.line(key)
        return explain(
            self.blank,
            self.measures,
            measured,
            Striking.of(self.job),
            dict(self.usual),
            self.survey.slopes,
        )

    def out(self, measured: dict[str, float]) -> tuple[InspectedSize, ...]:
        """The sizes that are out of tolerance."""
        return tuple(
            line for line in self.lines if line.stands(measured.get(line.measure.key)) is Stands.OUT
        )


LEAST_PARTS = 3
"""Parts before anything is said to drift."""


@dataclass(frozen=True)
class Drift:
    """A size that runs away from part to part.

    Attributes:
        line: the size.
        slope: mm or degrees from one part to the next.
        good_until: number of the last part that is still within tolerance, if it goes on so.
    """

    line: InspectedSize
    slope: float
    good_until: int

    def says(self, job: Job) -> str:
        """What runs where, and how long it is still good."""
        by = (
            signed_angle(self.slope, 2)
            if self.line.measure.what is What.ANGLE
            else ("+" if self.slope > 0 else "−")
            + show_length(abs(self.slope), job.units.fine, pretty=True)
        )
        return tr(
            "{measure} drifts by {by} a part: look at the stop and the clamp; good to part {last} "
            "if it goes on so."
        ).format(measure=self.line.measure.says, by=by, last=self.good_until)


def drifts(lines: Sequence[InspectedSize], parts: Sequence[dict[str, float]]) -> tuple[Drift, ...]:
    """Sizes that run away from part to part, those first that are out soonest.

    A straight line through the figures in the order of the parts; it counts where its run over the
    parts is more than twice what a figure is read to.

    Args:
        lines: the sizes.
        parts: what was measured on each part, by key, in the order they were made.
    """
    result = []
    for line in lines:
        points = [
            (n, got[line.measure.key])
            for n, got in enumerate(parts, start=1)
            if line.measure.key in got
        ]
        if len(points) < LEAST_PARTS:
            continue
        n, value = np.array(points).T
        slope, start = (float(x) for x in np.polyfit(n, value, 1))
        if abs(slope) * float(np.ptp(n)) < 2 * read_to(line.measure):
            continue
        edge = line.wanted + (line.allowed if slope > 0 else -line.allowed)
        result.append(Drift(line, slope, max(int((edge - start) / slope), 0)))
    return tuple(sorted(result, key=lambda d: d.good_until))
