"""How far a part comes out off because its bends are made with another inside radius than its flat is for.

The flat is that of the tools a job asks for, else of those the plan begins with. Where a bend needs another die, or a radius was written
that no tool of the press makes, the bend takes another length of metal than the flat gives it, and the sizes across it are off.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence

import numpy as np

from ...blank import Blank, MadeBy, tool_radius
from ...brake import Brake
from ...job import Job
from ...measure import Units, show_length
from ...measure.dataclass import dataclass
from ...measure.input_error import INPUT_ERRORS
from ...measure.words import counted, tr
from ..stroke.machines import machine_of
from ..stroke.verdict import Verdict

SAME = 0.005
"""mm; two inside radii nearer than this are one."""

WRITTEN = 0.3
"""Share, and mm, by which a radius that a person wrote may differ from what the tools are reckoned to make: the share of a V that a
bend takes is a rule, and they may have measured it."""

LEAST = 0.02
"""mm a part may be off before it is told: less than a caliper reads."""

ALIKE = 0.99
"""Cosine from which two folds count as across one size."""


@dataclass(frozen=True)
class OtherRadius:
    """A bend that its tools make with another inside radius than the flat is for.

    Attributes:
        fold: index into the blank's folds.
        planned, made: inside radius of the flat, and what the tools make, mm.
        off: by how much its two outside legs together come out too long (less than 0: too short), mm.
    """

    fold: int
    planned: float
    made: float
    off: float


@dataclass(frozen=True)
class RadiusError:
    """What other radii come to over a whole part.

    Attributes:
        bends: every bend that is made with another radius.
        off: most that a size across bends in one direction comes out too long (less than 0: too short), mm.
        across: bends that size runs over.
        allowed: how far that size may be off, mm.
    """

    bends: tuple[OtherRadius, ...]
    off: float
    across: int
    allowed: float

    @property
    def matters(self) -> bool:
        """True where the size is off by more than the job allows."""
        return abs(self.off) > self.allowed

    def text(self, units: Units) -> str:
        """What it comes to, a sentence or two."""
        fine = units.fine
        first = self.bends[0]
        said = (
            tr(
                "The flat is for an inside radius of {planned}, these tools make {made}: over {bends} the part comes out {off} too {way}."
            )
            if abs(self.off) >= LEAST
            else tr("The flat is for an inside radius of {planned}, these tools make {made}; the sizes stay what they are.")
        )
        return said.format(
            planned=show_length(first.planned, fine),
            made=show_length(first.made, fine),
            bends=counted("{count} bend", "{count} bends", self.across),
            off=show_length(abs(self.off), fine),
            way=tr("long") if self.off > 0 else tr("short"),
        )


def radius_error(job: Job, brake: Brake, blank: Blank, verdicts: Sequence[Verdict]) -> RadiusError | None:
    """What the tools of some strokes make otherwise than the flat is for; None where they make the same.

    Args:
        job: whose allowance method and tolerances count.
        brake: the machine.
        blank: the flat of the job on it.
        verdicts: of every stroke, in order; the last of a fold is the one that gives it its radius.
    """
    if job.chosen_school.own_radius(blank.thickness) is not None:
        # What a test strip measured is believed before any rule.
        return None
    derived = tool_radius(job, brake)
    by_tools = () if derived is None else (derived.radius, *(radius for _, radius in derived.at))

    def differs(planned: float, made: float) -> bool:
        written = all(abs(planned - radius) > SAME for radius in by_tools)
        return abs(made - planned) > (max(WRITTEN, WRITTEN * made) if written else SAME)

    made: dict[int, float] = {}
    for verdict in verdicts:
        radius = machine_of(verdict.tooling.brake).made_radius(verdict.stroke)
        for fold in verdict.stroke.setting.folds if radius is not None else ():
            assert radius is not None
            made[fold] = radius
    bends = tuple(
        OtherRadius(i, fold.bend.radius, made[i], _off(job, blank, i, made[i]))
        for i, fold in enumerate(blank.folds)
        if i in made and fold.made_by is MadeBy.BRAKE and differs(fold.bend.radius, made[i])
    )
    if not bends:
        return None
    off, across, size = _worst(blank, {bend.fold: bend.off for bend in bends})
    return RadiusError(bends, off, across, job.size_tolerance(size))


def _off(job: Job, blank: Blank, fold: int, radius: float) -> float:
    """Outside legs less flat, made against planned: by how much the legs come out too long, mm."""
    bend = blank.folds[fold].bend
    try:
        return job.chosen_school.bend(bend.angle, radius, bend.thickness).deduction - bend.deduction
    except INPUT_ERRORS:
        return 0.0


def _worst(blank: Blank, off: Mapping[int, float]) -> tuple[float, int, float]:
    """The size that is farthest off: by how much (mm), over how many bends, and how large it is on the flat (mm).

    A size runs from panel to panel over folds that lie in one direction.
    """
    beside: dict[int, list[tuple[int, int]]] = defaultdict(list)
    for i, fold in enumerate(blank.folds):
        beside[fold.parent].append((i, fold.child))
        beside[fold.child].append((i, fold.parent))
    best, bends, axis = 0.0, 0, 0
    for start, outward in ((p, blank.folds[i].outward) for p, pairs in beside.items() for i, _ in pairs):
        open_ = [(start, -1, 0.0, 0)]
        while open_:
            panel, came, total, count = open_.pop()
            if abs(total) > abs(best) + 1e-9:
                best, bends, axis = total, count, int(np.argmax(np.abs(outward)))
            for i, other in beside[panel]:
                if i != came and abs(float(outward @ blank.folds[i].outward)) > ALIKE:
                    open_.append((other, i, total + off.get(i, 0.0), count + (i in off)))
    return best, bends, blank.size[axis] if bends else math.hypot(*blank.size)
