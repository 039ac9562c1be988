"""Sizes that limit: the nearest larger and the nearest smaller that work, whatever the part."""

from __future__ import annotations

import math

from ...job import Job
from ...measure import show_length
from ...measure.input_error import INPUT_ERRORS
from ...measure.words import tr
from ...part.ready import Ready
from ...part.size import Size, sizes
from ..order.hand import LIP
from ..result.plan import Cure
from .depth import HEIGHTS
from .trial import FEW, Cures, Trial

SHARES = (0.02, 0.05, 0.12, 0.3, 0.6, 1.2, 2.0)
"""By how much of itself a size is changed, the least first."""

FARTHEST = 0.6, 20.0
"""A size is changed by at most this share of itself, a small one by at most so many mm: more is another part."""

MOST = 16
"""Changed jobs planned in all; those that are of no use where the plan is stuck are not planned and cost little."""

MOST_LIPS = 3
"""The same where only a lip is left to the hand seamer."""

LIPS_LIMIT = 120
"""Strokes judged for each of these: a lip that the brake turns after all mostly waits until much else stands."""

ENOUGH = 4
"""Sizes that are offered at most."""

Sizes = tuple[Size, ...]
"""Sizes that are changed together."""


def nearest_sizes(trial: Trial) -> Cures:
    """The nearest value of each size that works: a longer leg, a wider base, a smaller hem; sizes that are alike together too."""
    # The last degrees of a wall are not worth another size; what cannot be made is, and a lip that only a hand seamer turns.
    lips = trial.plan.by_seamer
    if (trial.whole and not lips) or trial.job.part.drawing() is not None:
        return
    found: list[tuple[float, Cure]] = []
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
                found.append((abs(value - together[0].value) / together[0].value, _cure(trial, together, value)))
    yield from (cure for _, cure in sorted(found, key=lambda f: f[0])[:ENOUGH])


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
    return [*((size,) for size in every), *(tuple(group) for group in alike.values() if len(group) > 1)]


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
        steps = [step for step in (max(1, round(share * size / tick)) for share in SHARES) if step * tick <= most]
        # Where neither a great change nor a middling one moves what is stuck, the small ones between are not looked at.
        if not any(self._moves(together, (first + sign * step) * tick) for step in (steps[-1:] + steps[len(steps) // 2 :][:1])):
            return None
        for step in steps:
            if step <= below:
                continue
            if self.works(together, (first + sign * step) * tick):
                high, low = step, below
                while high - low > 1:
                    middle = (low + high) // 2
                    low, high = (low, middle) if self.works(together, (first + sign * middle) * tick) else (middle, high)
                return (first + sign * high) * tick
            below = step
        return None


def _changed(trial: Trial, together: Sizes, value: float) -> Job | None:
    if value <= 0:
        return None
    part: Ready = trial.job.part
    try:
        for size in together:
            part = size.changed(part, value)
    except INPUT_ERRORS:
        return None
    return trial.job.model_copy(update={"part": part})


def _cure(trial: Trial, together: Sizes, value: float) -> Cure:
    units, old = trial.job.units, together[0].value
    said = tr("{title}: {value} works, {old} {which} {difference}: {gain}.").format(
        title=tr(" and ").join(size.title for size in together),
        value=show_length(value, units),
        old=show_length(old, units),
        which=tr("lacks") if value > old else tr("is too much by"),
        difference=show_length(abs(value - old), units),
        gain=trial.gain,
    )
    job = _changed(trial, together, value)
    assert job is not None
    return Cure(said, job)
