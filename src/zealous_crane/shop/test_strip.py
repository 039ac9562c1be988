"""The test strip: a narrow piece of the job's own metal, bent once on the job's own machine,
measured and written down."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..brake.brake import Brake
from ..errors import InputError
from ..flat.on_brake import flat_for
from ..i18n import msg, tr
from ..job.job import Job
from ..metal.shop_table import TestStrip
from ..part.kinds.strip import SingleBend
from ..units.length import INCH
from ..units.sums import Sum, SumKind, Term
from .book.record import StripRecord

WIDTH = 2 * INCH
"""mm along the fold: wide enough to lie square, narrow enough for scrap. Common practice, no
source."""

LEG = 2 * INCH
"""mm; long enough to be measured with a caliper, and to reach over most dies. Common practice, no
source."""

NARROW = msg(
    "A strip this narrow takes a small part of the force of the part itself: set it for the "
    "strip, never for the part. Under the part's"
    " force it cracks."
)


def care_of(brake: Brake) -> str:
    """What to mind of a strip on a machine; empty where no force is set on it."""
    return str(NARROW) if getattr(brake, "force", None) else ""


def coupon_job(job: Job, brake: Brake) -> Job:
    """The test strip of a job as a job of its own, planned and bent like any other.

    Args:
        job: gives metal, thickness, school, springback and units.
        brake: the machine; its widest die decides the least leg.
    """
    thickness = job.sheet.thickness
    dies = [die.opening for die in getattr(brake, "dies", ())]
    # Over the V both shoulders must carry it until the end, with room for the caliper.
    leg = max(LEG, 20 * thickness, 1.5 * min((d for d in dies if d >= 6 * thickness), default=0.0))
    tick = INCH / 4 if job.units.is_inch else 5.0
    leg = math.ceil(leg / tick - 1e-9) * tick
    width = (
        max(WIDTH, math.ceil(10 * thickness / tick) * tick)
        if job.units.is_inch
        else max(50.0, 10 * thickness)
    )
    part = SingleBend(first=leg, second=leg, length=width)
    strip = Job.model_validate(
        {
            **job.model_dump(),
            "name": tr("Test strip, {metal} {thickness}").format(
                metal=job.sheet.metal.name, thickness=job.thickness
            )[:120],
            "part": part.model_dump(),
            "quantity": 1,
            "note": "",
            "film": None,
            "order": {},
            "gauge_at": {},
            "rows": [],
            "sizes_asked": {},
        }
    )
    # The flat is cut to the rule, and the line is marked in its middle: the legs are what follows.
    flat = flat_for(strip, brake).size[0]
    even = part.model_copy(
        update={"first": leg + (2 * leg - flat) / 2, "second": leg + (2 * leg - flat) / 2}
    )
    return strip.model_copy(update={"part": even})


@dataclass(frozen=True)
class StripFound:
    """What a measured strip gives.

    Attributes:
        strip: as the schools of allowance take it.
        line_moves: how far the first leg's inside came out past its mark, mm: the next line is
            struck that much nearer to its end.
        springback: degrees at 90°.
        sums: each figure as a sum.
    """

    strip: TestStrip
    line_moves: float
    springback: float
    sums: tuple[Sum, ...]


def found_by(record: StripRecord) -> StripFound:
    """What a strip in the book gives: deduction, K, by how much the line moves, springback.

    Raises:
        InputError: measures that cannot be.
    """
    t, half = record.thickness, math.radians(record.angle) / 2
    outside = t * math.tan(half)
    more = 0.0 if record.legs == "outside" else outside
    if record.legs != "to the mark" and record.leg_one <= 0:
        raise InputError(
            tr("The first leg is longer than nothing; only what is read to the mark may be less.")
        )
    # Read to the mark, the inside of the first leg is where the line was and what it came out past
    # it.
    first = record.line + record.leg_one if record.legs == "to the mark" else record.leg_one
    one, two = first + more, record.leg_two + more
    strip = TestStrip(
        length=record.flat,
        first=one,
        second=two,
        angle=record.angle,
        wanted=max(record.stop, record.angle),
        thickness=t,
        radius=record.radius or 0.0,
        metal=record.metal,
        line=record.line,
    )
    moves = one - outside - record.line
    back = (record.stop - record.angle) * 90.0 / record.angle
    legs = (Term(msg("first leg, outside"), one), Term(msg("second leg, outside"), two))
    sums = (
        Sum(
            msg("Bend deduction"),
            (*legs, Term(msg("flat strip"), record.flat, -1)),
            msg("Both legs outside less the flat."),
            SumKind.SHAPE,
        ),
        Sum(
            msg("Line moves by"),
            (
                Term(msg("first leg, outside"), one),
                Term(msg("thickness × tan of half the angle"), outside, -1),
                Term(msg("line from the end"), record.line, -1),
            ),
            msg(
                "Where the inside of the leg came out against where it was marked: the line is "
                "moved back by all of it."
            ),
            SumKind.SHAPE,
        ),
    )
    return StripFound(strip, moves, back, sums)
