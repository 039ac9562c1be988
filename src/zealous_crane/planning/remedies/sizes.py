"""Lower walls: the greatest height that works."""

from __future__ import annotations

import math
from collections.abc import Callable

from ...bending.machine import Least
from ...bending.machines import machine_of
from ...brake.brake import Brake
from ...cache import cached
from ...errors import INPUT_ERRORS
from ...i18n import msg, tr
from ...job.job import Job
from ...metal.material import MATERIALS
from ...metal.sheet import Sheet
from ...part.edge import Measured
from ...part.kinds.strip import Strip
from ...part.size import Size, sizes
from ...part.template import PartTemplate
from ...units.figures import Length
from ...units.length import INCH, Units, show_length
from ..hand_finishing import LIP
from ..plan import Remedy
from ..planner import make_plan, possible
from .trial import FEW, Cures, Trial

HEIGHTS = ("depth", "height")
"""What the height of the walls is called in the ready kinds."""


def greatest_depth(
    job: Job, brake: Brake, cancelled: Callable[[], bool] = lambda: False
) -> float | None:
    """Greatest wall height (mm) of a ready kind, below its own, that can be made; None when there
    is none or it can be made as it is.

    To the ticks of a rule (1/16" or 0.5 mm); the value returned was itself planned.

    Args:
        job: the job.
        brake: the machine.
        cancelled: asked now and then; True stops the work.
    """
    plan = make_plan(job, brake, cancelled=cancelled)
    return None if plan.feasible else lower_walls(Trial(plan, cancelled))


def lower_walls(trial: Trial) -> float | None:
    """Greatest wall height (mm) below the job's own that cures it, bisected to ticks; None when
    there is none."""
    name = _height(trial.job)
    if name is None:
        return None

    def at(ticks: int) -> bool:
        try:
            return trial.resizes(trial.with_part(**{name: ticks * trial.tick}))
        except INPUT_ERRORS:
            return False

    high = math.ceil(getattr(trial.job.part, name) / trial.tick - 1e-9)
    # Walls grow harder with height, but not below the least flange: begin from the tallest that
    # works of a coarse row.
    low = next(
        (ticks for ticks in (high // share for share in (2, 4, 8)) if ticks > 0 and at(ticks)), 0
    )
    if low == 0:
        return None
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if at(middle) else (low, middle)
    return low * trial.tick


def lower(trial: Trial) -> Cures:
    """Lower walls."""
    depth, name = lower_walls(trial), _height(trial.job)
    if depth is not None and name is not None:
        text = msg(
            "Walls up to {depth} high: {gain} on this brake.",
            depth=Length(depth, trial.job.units),
            gain=trial.gain,
        )
        yield Remedy(text, trial.with_part(**{name: depth}))


def _height(job: Job) -> str | None:
    return next((n for n in HEIGHTS if n in type(job.part).model_fields), None)


SHARES = (0.02, 0.05, 0.12, 0.3, 0.6, 1.2, 2.0)
"""By how much of itself a size is changed, the least first."""

FARTHEST = 0.6, 20.0
"""A size is changed by at most this share of itself, a small one by at most so many mm: more is
another part."""

MOST = 16
"""Changed jobs planned in all; those that are of no use where the plan is stuck are not planned and
cost little."""

MOST_LIPS = 3
"""The same where only a lip is left to the hand seamer."""

LIPS_LIMIT = 120
"""Strokes judged for each of these: a lip that the brake turns after all mostly waits until much
else stands."""

ENOUGH = 4
"""Sizes that are offered at most."""

Sizes = tuple[Size, ...]
"""Sizes that are changed together."""


def nearest_sizes(trial: Trial) -> Cures:
    """The nearest value of each size that works: a longer leg, a wider base, a smaller hem; sizes
    that are alike together too."""
    # The last degrees of a wall are not worth another size; what cannot be made is, and a lip that
    # only a hand seamer turns.
    lips = trial.plan.by_seamer
    if (trial.whole and not lips) or trial.job.part.drawing() is not None:
        return
    result: list[tuple[float, Remedy]] = []
    looking, alone = _Looking(trial, MOST_LIPS if lips else MOST), set[tuple[Size, int]]()
    tried = _together(trial)
    if lips:
        # The edges alone are looked at, those that are alike together first.
        tried = sorted((sizes for sizes in tried if sizes[0].value <= LIP), key=len, reverse=True)
    for together in tried:
        for sign in (-1,) if lips else (1, -1):
            if any((size, sign) in alone for size in together):
                continue  # one of them is enough
            if sign < 0 and together[0].keys[-1] in HEIGHTS and len(together[0].keys) == 1:
                continue  # the tallest that works is a cure of its own
            value = looking.nearest(together, sign)
            if value is not None:
                alone.add((together[0], sign))
                result.append(
                    (
                        abs(value - together[0].value) / together[0].value,
                        _cure(trial, together, value),
                    )
                )
    yield from (cure for _, cure in sorted(result, key=lambda f: f[0])[:ENOUGH])


def _together(trial: Trial) -> list[Sizes]:
    """Every size by itself; then those of one kind that are equal, together."""
    every = [size for size in sizes(trial.job.part) if size.value > 0]
    alike: dict[tuple[object, ...], list[Size]] = {}
    for size in every:
        numbered = isinstance(size.keys[-1], int)
        # Hems are alike wherever they stand; walls and what stands on walls are not.
        deep = 0 if size.keys[-1] == "length" and "flanges" in size.keys else len(size.keys)
        key = size.keys[:-1] if numbered else (deep, size.keys[-1])
        if numbered or len(size.keys) > 1:
            alike.setdefault((*key, round(size.value, 6)), []).append(size)
    return [
        *((size,) for size in every),
        *(tuple(group) for group in alike.values() if len(group) > 1),
    ]


class _Looking:
    """Looks for values that work, until enough was planned."""

    def __init__(self, trial: Trial, most: int) -> None:
        self.trial, self.most, self.planned = trial, most, 0

    def works(self, together: Sizes, value: float) -> bool:
        job = _changed(self.trial, together, value)
        if job is None or self.planned >= self.most or not self.trial.helps(job):
            return False
        self.planned += 1
        return self.trial.cures(job, limit=LIPS_LIMIT if self.trial.plan.by_seamer else FEW)

    def _moves(self, together: Sizes, value: float) -> bool:
        job = _changed(self.trial, together, value)
        return job is not None and self.trial.helps(job)

    def nearest(self, together: Sizes, sign: int) -> float | None:
        """The value (mm) nearest the present one on one side that works, to a tick."""
        tick, size = self.trial.tick, together[0].value
        first = math.floor(size / tick + 1e-6) if sign > 0 else math.ceil(size / tick - 1e-6)
        below, most = 0, max(FARTHEST[0] * size, FARTHEST[1]) + tick / 2
        steps = [
            step
            for step in (max(1, round(share * size / tick)) for share in SHARES)
            if step * tick <= most
        ]
        # Where neither a great change nor a middling one moves what is stuck, the small ones
        # between are not looked at.
        if not any(
            self._moves(together, (first + sign * step) * tick)
            for step in (steps[-1:] + steps[len(steps) // 2 :][:1])
        ):
            return None
        for step in steps:
            if step <= below:
                continue
            if self.works(together, (first + sign * step) * tick):
                high, low = step, below
                while high - low > 1:
                    middle = (low + high) // 2
                    low, high = (
                        (low, middle)
                        if self.works(together, (first + sign * middle) * tick)
                        else (middle, high)
                    )
                return (first + sign * high) * tick
            below = step
        return None


def _changed(trial: Trial, together: Sizes, value: float) -> Job | None:
    if value <= 0:
        return None
    part: PartTemplate = trial.job.part
    try:
        for size in together:
            part = size.changed(part, value)
    except INPUT_ERRORS:
        return None
    return trial.job.model_copy(update={"part": part})


def _cure(trial: Trial, together: Sizes, value: float) -> Remedy:
    units, old = trial.job.units, together[0].value
    message = msg(
        "{title}: {old} is {difference} {which}; at {value} {gain}.",
        title=tr(" and ").join(size.title for size in together),
        value=Length(value, units),
        old=Length(old, units),
        which=msg("too small") if value > old else msg("too large"),
        difference=Length(abs(value - old), units),
        gain=trial.gain,
    )
    job = _changed(trial, together, value)
    assert job is not None
    return Remedy(message, job)


TRIED_LIP, TRIED_LIP_IN = 12.0, INCH / 2
"""mm the lip stands up, as brakes marked in mm and in inches are asked: what most boxes and trays
have. Common practice, no source."""

LONG, LONG_IN = 100.0, 4 * INCH
"""mm the fold is long, and the leg that is held, in the same two units."""

WIDEST = 400.0
"""mm; the widest panel between two bends that is looked at."""

FINE = 0.25
"""mm to which a least size is found."""


def least_sizes(brake: Brake, sheet: Sheet) -> tuple[Least, ...]:
    """The least flange, return, hem and distance between two bends at 90° on a brake in a sheet,
    outside, each with its reason."""
    result = machine_of(brake).least_sizes(brake, sheet)
    back = least_return(brake, sheet)
    return result if back is None else (*result[:1], back, *result[1:])


@cached(64, lasts=True)
def least_return(brake: Brake, sheet: Sheet) -> Least | None:
    """The narrowest panel between two bends turned the same way, its lip standing, that the brake
    bends to 90° with nothing left for the hand, by the engine; None where no panel goes."""
    lip, long = (TRIED_LIP_IN, LONG_IN) if brake.marked_in.is_inch else (TRIED_LIP, LONG)

    def goes(web: float) -> bool:
        own = None if sheet.metal.key in MATERIALS else sheet.metal
        job = Job(
            part=Strip(
                legs=(lip, web, long), angles=(90.0, 90.0), length=long, measured=Measured.OUTSIDE
            ),
            metal=sheet.metal.key,
            own_metal=own,
            thickness=f"{sheet.thickness:.6f} mm",
            units=Units.MM,
            brake=brake.key,
        )
        return possible(job, brake, by_hand=False)

    low, high = 2 * sheet.thickness, WIDEST
    if not goes(high):
        return None
    while high - low > FINE:
        middle = (low + high) / 2
        low, high = (low, middle) if goes(middle) else (middle, high)
    return Least(
        msg("return, between two bends turned the same way"),
        high,
        msg(
            "tried on this brake with a lip of {lip} standing and a fold {long} long",
            lip=show_length(lip, brake.marked_in),
            long=show_length(long, brake.marked_in),
        ),
    )
