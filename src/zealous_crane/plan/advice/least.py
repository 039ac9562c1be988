"""The least sizes a brake bends in a sheet: what its own rules say, and what the engine finds by bending it."""

from __future__ import annotations

from ...brake import Brake
from ...job import Job
from ...measure import INCH, Units, show_length
from ...measure.words import tr
from ...metal import MATERIALS, Sheet
from ...part.kinds import Strip
from ..make import possible
from ..memory import kept
from ..stroke.machine import Least
from ..stroke.machines import machine_of

LIP, LIP_IN = 12.0, INCH / 2
"""mm the lip stands up, as brakes marked in mm and in inches are asked: what most boxes and trays have. Common practice, no source."""

LONG, LONG_IN = 100.0, 4 * INCH
"""mm the fold is long, and the leg that is held, in the same two units."""

WIDEST = 400.0
"""mm; the widest panel between two bends that is looked at."""

FINE = 0.25
"""mm to which a least size is found."""


def least_sizes(brake: Brake, sheet: Sheet) -> tuple[Least, ...]:
    """The least flange, return, hem and distance between two bends at 90° on a brake in a sheet, outside, each with its reason."""
    found = machine_of(brake).least_sizes(brake, sheet)
    back = least_return(brake, sheet)
    return found if back is None else (*found[:1], back, *found[1:])


@kept(64, lasts=True)
def least_return(brake: Brake, sheet: Sheet) -> Least | None:
    """The narrowest panel between two bends turned the same way, its lip standing, that the brake bends to 90° with nothing left for the
    hand, by the engine; None where no panel goes."""
    lip, long = (LIP_IN, LONG_IN) if brake.marked_in.is_inch else (LIP, LONG)

    def goes(web: float) -> bool:
        own = None if sheet.metal.key in MATERIALS else sheet.metal
        job = Job(
            part=Strip(legs=(lip, web, long), angles=(90.0, 90.0), length=long, measured="outside"),
            metal=sheet.metal.key, own_metal=own, thickness=f"{sheet.thickness:.6f} mm", units=Units.MM, brake=brake.key,
        )  # fmt: skip
        return possible(job, brake, by_hand=False)

    low, high = 2 * sheet.thickness, WIDEST
    if not goes(high):
        return None
    while high - low > FINE:
        middle = (low + high) / 2
        low, high = (low, middle) if goes(middle) else (middle, high)
    return Least(
        tr("return, between two bends turned the same way"),
        high,
        tr("tried on this brake with a lip of {lip} standing and a fold {long} long").format(
            lip=show_length(lip, brake.marked_in), long=show_length(long, brake.marked_in)
        ),
    )
