"""The piece in hand: does the part come from it, and if not, which size of the part would."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from ..brake.brake import Brake
from ..errors import INPUT_ERRORS, InputError
from ..flat.on_brake import flat_for
from ..i18n import counted, tr
from ..job.job import Job
from ..part.size import Size, sizes
from ..units.length import INCH, Units, parse_length, show_length
from .layout import Cutting
from .piece import CutError, Shear, Stock, WantedBlank

LARGEST_COUNT = 500
"""Pieces that are counted at most."""

SECONDS = 0.2
"""Most that looking for one blank more takes."""

STEPS = 40
"""Steps from what a size is down to nothing in which a smaller one is looked for."""

LARGEST = 4.0
"""A size is looked for up to so many times what it is."""


@dataclass(frozen=True)
class LargestSize:
    """The greatest value of one size at which the part still comes from the piece.

    Attributes:
        size: which size, and what it is now.
        value: mm; None when no value does.
        blank: length and width of the blank then, mm.
        job: the job with it.
        also: sizes that are as large now and are changed with it.
    """

    size: Size
    value: float | None
    blank: tuple[float, float] | None
    job: Job | None
    also: tuple[Size, ...] = ()

    @property
    def tells(self) -> bool:
        """True where the size may be something else than it is."""
        return (
            self.value is not None
            and self.job is not None
            and abs(self.value - self.size.value) > 1e-6
        )


@dataclass(frozen=True)
class InHand:
    """What a piece gives.

    Attributes:
        blank: length and width of the part's blank, mm.
        count: how many come from it.
        reaches: how large each size may be.
        last: what of the part comes from the largest piece that is left, one size made smaller;
            None where nothing does.
        together: two sizes made smaller, where no single one is enough; the last of them holds the
            job with both.
    """

    blank: tuple[float, float]
    count: int
    reaches: tuple[LargestSize, ...]
    last: LargestSize | None = None
    together: tuple[LargestSize, ...] = ()


def read_piece(text: str, units: Units) -> tuple[float, float]:
    """``29x29``, ``8 1/2 × 3``, ``640 mm x 400 mm`` as length and width, mm.

    Raises:
        CutError: it is not two lengths.
    """
    parts = text.replace("×", "x").lower().split("x")
    try:
        if len(parts) != 2:
            raise InputError(tr("two lengths, with an x between them"))
        length, width = (parse_length(p.strip(), units) for p in parts)
    except INPUT_ERRORS:
        raise CutError(
            tr("{text!r}: write the piece as length x width, such as 29x29.").format(text=text)
        ) from None
    if length <= 0 or width <= 0:
        raise CutError(tr("{text!r}: a piece is longer and wider than nothing.").format(text=text))
    return length, width


def verdict(told: InHand, job: Job, *, pretty: bool = False) -> str:
    """Whether the part comes from the piece, how many, and what comes from the rest of it.

    Args:
        told: what came of the search.
        job: the job.
        pretty: with fractions raised.
    """

    def shown(value: float) -> str:
        return show_length(value, job.units, pretty=pretty)

    size = tr("{length} × {width}").format(length=shown(told.blank[0]), width=shown(told.blank[1]))
    if not told.count:
        return tr("{name} needs {size}: this piece gives none.").format(name=job.name, size=size)
    come = counted("this piece gives {count}.", "this piece gives {count}.", told.count)
    text = tr("{name} needs {size}: {come}").format(name=job.name, size=size, come=come)
    if told.last is not None and told.last.value is not None:
        last = tr("One more fits in the rest with {title} {value}.")
        text += " " + last.format(title=told.last.size.title.lower(), value=shown(told.last.value))
    return text


def would_go(told: InHand, job: Job, *, pretty: bool = False) -> tuple[tuple[str, Job], ...]:
    """What would make the part just come from the piece, in words and as a job: one size, or two
    together where one is not enough.

    Args:
        told: what came of the search.
        job: the job.
        pretty: with fractions raised.
    """

    def words(reach: LargestSize) -> str:
        return tr("{title}: up to {value}, not {now}").format(
            title=tr(" and ").join(
                (reach.size.title, *(other.title.lower() for other in reach.also))
            ),
            value=show_length(reach.value or 0.0, job.units, pretty=pretty),
            now=show_length(reach.size.value, job.units, pretty=pretty),
        )

    ways = [(words(r), r.job) for r in told.reaches if r.tells]
    if told.together:
        ways.append(
            (
                tr("{one}; and {other}").format(
                    one=words(told.together[0]), other=words(told.together[1])
                ),
                told.together[1].job,
            )
        )
    return tuple((text, made) for text, made in ways if made is not None)


def in_hand(job: Job, brake: Brake | None, length: float, width: float, shear: Shear) -> InHand:
    """What a piece gives: how many of a part, and how large its sizes may be.

    Args:
        job: the part.
        brake: the machine it is bent on; None where the shop does not have it.
        length, width: of the piece, mm.
        shear: what cuts.

    Raises:
        DevelopmentError: the part cannot be laid flat.
    """
    size = flat_for(job, brake).sheared
    count = 0
    if _in(*size, length, width):
        from .layout import lay_out

        cutting = _as_many(job, size, (length, width), shear)
        count = 1 if cutting is None else cutting.blanks[0].count
        if cutting is not None:
            sheets = lay_out(cutting)
            left = max(
                (o for s in sheets for o in s.offcuts),
                key=lambda o: o.length * o.width,
                default=None,
            )
            last = None if left is None else _smaller(reaches(job, brake, left.length, left.width))
            return InHand(size, count, reaches(job, brake, length, width), last)
    result = reaches(job, brake, length, width)
    none = all(r.value is None or r.value > r.size.value for r in result)
    return InHand(
        size, count, result, together=_together(job, brake, length, width) if none else ()
    )


def _as_many(
    job: Job, size: tuple[float, float], piece: tuple[float, float], shear: Shear
) -> Cutting | None:
    """The most blanks of one size from one piece, as a work of so many would be cut from it; None
    where the shear leaves none."""
    from .pattern import Patterns
    from .solve import plan_cutting

    blank = WantedBlank(job.name, *size, 1, turns=job.grain is None)
    stock = (Stock("piece", *piece, 1, True),)
    most = min(LARGEST_COUNT, int(piece[0] * piece[1] / (size[0] * size[1]) + 1e-9))
    _, pattern = Patterns([blank], stock, shear).best(0, np.ones(1), [most])
    count = max(1, 0 if pattern is None else pattern.counts.get(0, 0))
    # A piece in hand is square as an off-cut is; asked for as the one sheet there is, it is
    # searched to the end.
    one, shear = (Stock("piece", *piece, 1),), replace(shear, squaring=0.0)
    cutting: Cutting | None = None
    for number in range(count, most + 1):
        try:
            cutting = plan_cutting([replace(blank, count=number)], one, shear, seconds=SECONDS)
        except CutError:
            break
    return cutting


def _smaller(largest_sizes: tuple[LargestSize, ...]) -> LargestSize | None:
    """The one size that has to give way least, of those that may."""
    less = [r for r in largest_sizes if r.value is not None and 0 < r.value < r.size.value]
    return max(less, key=lambda r: (r.value or 0.0) / r.size.value, default=None)


def _in(a: float, b: float, length: float, width: float) -> bool:
    (low, high), (room_low, room_high) = sorted((a, b)), sorted((length, width))
    return low <= room_low + 1e-6 and high <= room_high + 1e-6


def reaches(job: Job, brake: Brake | None, length: float, width: float) -> tuple[LargestSize, ...]:
    """For every size of a part, and for those that are alike together, the greatest at which it
    still comes from a piece, through the development, to the ticks of a rule.

    Args:
        job: the part.
        brake: the machine it is bent on.
        length, width: of the piece in hand, mm.
    """
    largest_sizes: list[LargestSize] = []
    every = [size for size in sizes(job.part) if size.value > 0]
    alike: dict[float, list[Size]] = {}
    for size in every:
        alike.setdefault(round(size.value, 6), []).append(size)
    for size, *also in [
        *([size] for size in every),
        *(group for group in alike.values() if len(group) > 1),
    ]:
        best = _greatest(
            partial(_with, job, brake, size, also=also),
            size.value,
            _tick(job),
            lambda blank: _in(*blank, length, width),
        )
        changed = _with(job, brake, size, best, also=also) if best is not None else None
        largest_sizes.append(
            LargestSize(
                size,
                best,
                changed[1] if changed else None,
                changed[0] if changed else None,
                tuple(also),
            )
        )
    return tuple(largest_sizes)


def _together(
    job: Job, brake: Brake | None, length: float, width: float
) -> tuple[LargestSize, ...]:
    """Two sizes, each as large as one side of the piece allows, that make the part come from it:
    those that give way least."""
    best: tuple[float, tuple[LargestSize, ...]] = (0.0, ())
    for room in dict.fromkeys(((length, width), (width, length))):
        along, across = (
            [
                (size, value)
                for size in sizes(job.part)
                if (
                    value := _greatest(
                        partial(_with, job, brake, size),
                        size.value,
                        _tick(job),
                        partial(_narrow, side, room[side]),
                    )
                )
            ]
            for side in (0, 1)
        )
        for (one, a), (other, b) in itertools.product(along, across):
            share = a / one.value * b / other.value
            if (
                one.keys == other.keys
                or share <= best[0] + 1e-9
                or a > one.value
                or b > other.value
            ):
                continue
            first = _with(job, brake, one, a)
            both = _with(first[0], brake, other, b) if first else None
            if first and both and _in(*both[1], length, width):
                best = (
                    share,
                    (
                        LargestSize(one, a, first[1], first[0]),
                        LargestSize(other, b, both[1], both[0]),
                    ),
                )
    return best[1]


def _narrow(side: int, room: float, blank: tuple[float, float]) -> bool:
    return blank[side] <= room + 1e-6


def _tick(job: Job) -> float:
    """mm between two values that are tried: those of a rule."""
    return INCH / 16 if job.units.is_inch else 0.5


def _with(
    job: Job, brake: Brake | None, size: Size, value: float, also: Sequence[Size] = ()
) -> tuple[Job, tuple[float, float]] | None:
    """The job with one size changed (mm), others that are to be as large ``also``, and its blank;
    None where the part cannot be so."""
    try:
        part = size.changed(job.part, value)
        for other in also:
            part = other.changed(part, value)
        changed = job.model_copy(update={"part": part})
        return changed, flat_for(changed, brake).sheared
    except INPUT_ERRORS:
        return None


def _greatest(
    made: Callable[[float], tuple[Job, tuple[float, float]] | None],
    now: float,
    tick: float,
    enough: Callable[[tuple[float, float]], bool],
) -> float | None:
    """The greatest value in ticks at which the blank is small enough; None when none is, or when
    the size does not matter.

    Some values cannot be laid out at all, a face narrower than its tabs: they lie between those
    that can, so that steps are taken down from the present one until one goes.
    """

    def goes(ticks: int) -> bool:
        result = made(ticks * tick)
        return result is not None and enough(result[1])

    low = max(1, int(now / tick + 1e-6))
    high = max(low + 1, int(LARGEST * now / tick))
    if goes(low):
        if goes(high):
            return None  # it may be as large as one likes
    else:
        step, high = max(1, low // STEPS), low
        low = next((ticks for ticks in range(low - step, 0, -step) if goes(ticks)), 0)
        if low == 0:
            return None
        high = low + step
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if goes(middle) else (low, middle)
    return low * tick
