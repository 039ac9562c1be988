"""What the angle a bend came out at means for the stop: of this part, and of the next."""

from __future__ import annotations

from enum import StrEnum

from ...measure import AngleReading, show_angle
from ...measure.dataclass import dataclass
from ...measure.words import tr
from .plan import PlannedStroke
from .set_up import SetUp

FINEST = 0.1
"""Degrees; a stop is set no finer."""


class Came(StrEnum):
    """How a bend came out."""

    PLANNED = "planned"
    RIGHT = "right"
    SHORT = "short"
    FAR = "far"


@dataclass(frozen=True)
class Answer:
    """What to do about an angle.

    Attributes:
        came: how it came out.
        got: degrees measured after release.
        off: degrees from what was expected, always positive.
        again: degrees to go again to; None when going again is of no use.
        ended: going again ends before the angle, at what is met or the machine's own end.
        by_hand: degrees then left to bring round by hand.
        next_stop: degrees to stop the next part at; None where nothing is to be changed.
    """

    came: Came
    got: float
    off: float
    again: float | None = None
    ended: bool = False
    by_hand: float = 0.0
    next_stop: float | None = None


def answer(stroke: PlannedStroke, set_up: SetUp, got: float, learnt: float | None = None) -> Answer:
    """What an angle measured after release means.

    The brake is never sent past what it may reach: what the plan says is met, or the machine's own end. What one more degree at the
    stop gives is taken to be one degree after release.

    Args:
        stroke: the stroke.
        set_up: what was set for it.
        got: degrees measured after release, from flat.
        learnt: where the next part is to be stopped by all that was bent so far, degrees; None goes by this bend alone.
    """
    verdict, tolerance = stroke.verdict, stroke.verdict.tolerance
    expected, off = set_up.released, abs(got - set_up.released)
    if off <= tolerance + 1e-9 or (verdict.flattens and got > expected):
        # A hem that is folded farther than planned goes over the better.
        return Answer(Came.PLANNED, got, off, by_hand=verdict.by_hand)
    if abs(got - set_up.target) <= tolerance + 1e-9:
        return Answer(Came.RIGHT, got, off)
    stop = set_up.stop_angle + expected - got
    if got > expected:
        return Answer(
            Came.FAR, got, off, by_hand=got - set_up.target, next_stop=round(max(FINEST, stop if learnt is None else learnt), 1)
        )
    most = set_up.stop_angle if set_up.limit else set_up.greatest
    most = int(most / FINEST + 1e-6) * FINEST
    again = min(stop, most)
    comes_to = got + again - set_up.stop_angle
    rest = 0.0 if verdict.part_way or verdict.flattens else max(0.0, set_up.target - comes_to)
    ended = stop > most + 1e-9
    if set_up.limit or again <= set_up.stop_angle + FINEST / 2:
        return Answer(Came.SHORT, got, off, None, True, set_up.target - got, None)
    return Answer(Came.SHORT, got, off, again, ended, rest if ended else 0.0, round(again, 1))


def answer_text(stroke: PlannedStroke, found: Answer, reading: AngleReading = AngleReading.BEND) -> str:
    """An answer in words, to be read from two metres; what was measured is said as it was read."""
    got = show_angle(reading.read(found.got))
    if found.came is Came.PLANNED:
        if stroke.verdict.flattens:
            return tr("{got}: as planned. Flatten the hem.").format(got=got)
        if stroke.verdict.part_way:
            return tr("{got}: as planned for now. Next.").format(got=got)
        return (
            tr("{got}: as planned; the last {by_hand} by hand.").format(got=got, by_hand=show_angle(found.by_hand))
            if found.by_hand
            else tr("{got}: as planned. Next.").format(got=got)
        )
    if found.came is Came.RIGHT:
        return tr("{got}: right already, nothing left for the hand. Next.").format(got=got)
    if found.came is Came.FAR:
        assert found.next_stop is not None
        back = tr("Open it by hand by {by_hand}. ").format(by_hand=show_angle(found.by_hand)) if found.by_hand > 0 else ""
        return tr("{got}: {off} too far. {back}Stop the next part at {next_stop}.").format(
            got=got, off=show_angle(found.off), back=back, next_stop=show_angle(found.next_stop)
        )
    if found.again is None:
        return tr("{got}: {off} short, and the brake goes no farther. The rest by hand: {by_hand}.").format(
            got=got, off=show_angle(found.off), by_hand=show_angle(found.by_hand)
        )
    said = tr("{got}: {off} short. Go again to {again}").format(
        got=got, off=show_angle(found.off), again=show_angle(found.again)
    )
    if found.ended:
        rest = (
            tr("; the rest by hand, about {by_hand}").format(by_hand=show_angle(found.by_hand))
            if found.by_hand > FINEST
            else ""
        )
        return tr("{said} and no farther{rest}.").format(said=said, rest=rest)
    return f"{said}."
