"""A finished part set against what was wanted: every size with its tolerance, what was got, and what explains it."""

from __future__ import annotations

from ..blank import Blank, Striking
from ..job import Job
from ..measure import parse_angle, parse_length
from ..measure.dataclass import dataclass
from ..measure.input_error import InputError
from ..measure.once import once
from ..measure.words import tr
from .explain import Explained, explain
from .line import Line, Stands
from .model import Measure, Off, What
from .saying import show_measure, wrong_way
from .survey import USUAL_COUNT, Survey, survey
from .tolerance import allowed

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
        known: the flat looked over, where that was done before; None does it when it is first asked about.
    """

    job: Job
    blank: Blank
    usual: tuple[tuple[Off, float], ...] = ()
    known: Survey | None = None

    @once
    def survey(self) -> Survey:
        """The flat looked over."""
        return self.known or survey(self.blank, Striking.of(self.job), self.usual, self.job.datum, self.job.measured_inside)

    @property
    def measures(self) -> tuple[Measure, ...]:
        """Everything that can be measured."""
        return self.survey.measures

    @once
    def lines(self) -> tuple[Line, ...]:
        """Every size, those first that tell most; then the rest in the order of the part."""
        found = self.survey
        rows = zip(found.order, found.wanted.tolist(), found.promised.tolist(), strict=True)
        made: list[Line] = []
        for measure, wanted, spread in rows:
            by, standard = allowed(self.job, measure, wanted)
            made.append(Line(measure, wanted, by, spread, standard))
        return tuple(made)

    @property
    def first(self) -> tuple[Line, ...]:
        """The sizes that are asked for."""
        return self.lines[:USUAL_COUNT]

    def line(self, key: str) -> Line:
        """The size of that key.

        Raises:
            InputError: there is none.
        """
        found = next((line for line in self.lines if line.measure.key == key), None)
        if found is None:
            raise InputError(
                tr("there is no size {key} on this part; it has {known}").format(
                    key=key, known=", ".join(line.measure.key for line in self.lines)
                )
            )
        return found

    def read(self, line: Line, text: str) -> float:
        """What was measured, as the person typed it, mm or degrees.

        Raises:
            InputError: it is no figure, or so far from what is wanted that it was misread or is of another unit.
        """
        angle = line.measure.what is What.ANGLE
        return self.likely(line, self.job.angles.read(parse_angle(text)) if angle else parse_length(text, self.job.units))

    def likely(self, line: Line, value: float) -> float:
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
                tr("{text} is far from the {wanted} wanted: misread, or in another unit? Write the unit with it.").format(
                    text=show_measure(line.measure, value, self.job), wanted=show_measure(line.measure, line.wanted, self.job)
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
        return explain(self.blank, self.measures, measured, Striking.of(self.job), dict(self.usual), self.survey.slopes)

    def out(self, measured: dict[str, float]) -> tuple[Line, ...]:
        """The sizes that are out of tolerance."""
        return tuple(line for line in self.lines if line.stands(measured.get(line.measure.key)) is Stands.OUT)
