"""What the angle a bend came out at means for the stop: of this part, and of the next."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ..bending.stroke import HEM_LEAST
from ..i18n import tr
from ..units.quantities import AngleReading, show_angle
from .hand_finishing import hand_limit
from .plan import Plan, PlannedStroke, closing_text
from .setup import StrokeSettings

FINEST = 0.1
"""Degrees; a stop is set no finer."""

SCALES = 0.5
"""Degrees by which a bend may stand farther than it was stopped at before stop and protractor are
said to disagree."""


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
        made: degrees the sheet stood at when the brake was stopped: the stop less what a leaf goes
            ahead.
        got: degrees measured after release.
        off: degrees from what was expected, always positive.
        again: degrees to bend this part again to; None where that would change nothing.
        ended: bending again ends before the angle, at what is met or the machine's own end.
        by_hand: degrees then left to bring round by hand, or back.
        hand: most a hand brings it round or back, degrees; 0 where no hand work is to be counted
            on.
        next_stop: degrees to stop the next part at; None where nothing is to be changed.
    """

    came: Came
    made: float
    got: float
    off: float
    again: float | None = None
    ended: bool = False
    by_hand: float = 0.0
    hand: float = 0.0
    next_stop: float | None = None

    @property
    def is_done(self) -> bool:
        """True when the brake is done with this part: what is read next is of the next."""
        return self.came is not Came.SHORT or self.again is None


def hand_limit_of(plan: Plan, stroke: PlannedStroke) -> float:
    """Most degrees a hand brings the fold of a stroke round or back, as metal, length and job
    allow."""
    return (
        0.0
        if "hand" in plan.job.order.avoid
        else hand_limit(plan.blank, stroke.verdict.stroke.setting.fold)
    )


def farthest(set_up: StrokeSettings) -> float:
    """Degrees a stroke is never stopped beyond: what stops it early, what would be touched, the
    machine's own end."""
    most = set_up.stop_angle if set_up.limit else set_up.greatest
    return int(most / FINEST + 1e-6) * FINEST


def within(set_up: StrokeSettings, stop: float) -> float:
    """A stop (degrees) as it is set: in tenths, and never beyond what the stroke may reach."""
    return min(round(max(FINEST, stop), 1), farthest(set_up))


def answer(
    stroke: PlannedStroke,
    set_up: StrokeSettings,
    made: float,
    got: float,
    stop: float,
    hand: float = 0.0,
) -> Answer:
    """What an angle measured after release means.

    Args:
        stroke: the stroke.
        set_up: what was planned for it.
        made: degrees the brake was stopped at for this hit.
        got: degrees measured after release, from flat.
        stop: where this bend has to be stopped to come out as wanted, by all that is known of it
            now.
        hand: most degrees a hand brings this fold round or back.
    """
    verdict, tolerance, target = stroke.verdict, stroke.verdict.tolerance, set_up.target
    as_planned = set_up.limit or abs(made - set_up.stop_angle) < FINEST / 2 + 1e-9
    expected = set_up.released if as_planned else target
    off = abs(got - expected)
    if off <= tolerance + 1e-9 or (verdict.flattens and got > expected):
        # A hem that is folded farther than planned goes over the better.
        return Answer(Came.PLANNED, made, got, off, by_hand=verdict.by_hand)
    if abs(got - target) <= tolerance + 1e-9:
        return Answer(Came.RIGHT, made, got, off)
    if got > expected:
        return Answer(
            Came.FAR,
            made,
            got,
            off,
            by_hand=max(0.0, got - target),
            hand=hand,
            next_stop=within(set_up, stop),
        )
    # Whatever is believed of springback, a bend that is short is bent farther than before.
    wanted = max(stop, made + (target - got) / 2)
    again = min(round(wanted, 1), farthest(set_up))
    if again <= made + FINEST / 2:
        return Answer(Came.SHORT, made, got, off, None, True, target - got, hand)
    ended = wanted > again + FINEST
    rest = (
        max(0.0, target - (got + again - made))
        if ended and not (verdict.part_way or verdict.flattens)
        else 0.0
    )
    return Answer(Came.SHORT, made, got, off, again, ended, rest, hand, again)


def answer_text(
    stroke: PlannedStroke, result: Answer, reading: AngleReading = AngleReading.BEND
) -> str:
    """An answer in words, to be read from two metres; what was measured is said as it was read.

    Args:
        stroke: the stroke.
        result: the answer.
        reading: how angles are read.
    """
    text = _meaning(stroke, result, reading)
    if result.got > result.made + SCALES:
        text += " " + tr(
            "That is more than it was stopped at: check the stop's scale against the protractor."
        )
    return text


def _meaning(stroke: PlannedStroke, result: Answer, reading: AngleReading) -> str:  # noqa: PLR0911
    """An answer without what stop and protractor say of each other."""
    got = show_angle(reading.read(result.got))
    if result.came is Came.PLANNED:
        if stroke.verdict.flattens:
            close = closing_text(stroke)
            return tr("{got}: as planned. Now {close}.").format(got=got, close=close)
        if stroke.verdict.part_way:
            return tr("{got}: as planned for now. Next.").format(got=got)
        return (
            tr("{got}: as planned; the last {by_hand} by hand.").format(
                got=got, by_hand=show_angle(result.by_hand)
            )
            if result.by_hand
            else tr("{got}: as planned. Next.").format(got=got)
        )
    if result.came is Came.RIGHT:
        return tr("{got}: right already, nothing to finish by hand. Next.").format(got=got)
    if result.came is Came.FAR:
        assert result.next_stop is not None
        return tr("{got}: {off} too far. {back}Stop the next part at {next_stop}.").format(
            got=got,
            off=show_angle(result.off),
            back=_opened(result),
            next_stop=show_angle(stroke.verdict.stroke.set_for(result.next_stop)),
        )
    if result.again is None:
        if stroke.verdict.flattens:
            return tr(
                "{got}: {off} short. A hem must stand at {least} or more before it is flattened."
            ).format(got=got, off=show_angle(result.off), least=show_angle(HEM_LEAST))
        rest = (
            tr("The rest by hand: {by_hand}.").format(by_hand=show_angle(result.by_hand))
            if result.by_hand <= result.hand + 1e-9
            else tr("{by_hand} is too much to finish by hand here (limit {limit}).").format(
                by_hand=show_angle(result.by_hand), limit=show_angle(result.hand)
            )
        )
        return tr("{got}: {off} short, and the brake goes no farther. {rest}").format(
            got=got, off=show_angle(result.off), rest=rest
        )
    text = tr("{got}: {off} short. It springs back {back}. Bend again to {again}").format(
        got=got,
        off=show_angle(result.off),
        back=show_angle(max(0.0, result.made - result.got)),
        again=show_angle(stroke.verdict.stroke.set_for(result.again)),
    )
    if result.ended:
        rest = (
            tr("; the rest by hand, about {by_hand}").format(by_hand=show_angle(result.by_hand))
            if FINEST < result.by_hand <= result.hand
            else ""
        )
        return tr("{said} and no farther{rest}.").format(said=text, rest=rest)
    return f"{text}."


def _opened(result: Answer) -> str:
    """What is done with a bend that went too far: opened by hand, where a hand can, and what that
    does to the metal."""
    if result.by_hand <= 0:
        return ""
    if result.by_hand > result.hand + 1e-9:
        return tr("Too much to open by hand here. ")
    return tr("Open it {by_hand} by hand; opened metal may crack at the bend. ").format(
        by_hand=show_angle(result.by_hand)
    )


LEAST_EARLY = 2.0
"""Degrees the first stop is short of the planned one at least, where little springs back. Common
practice, no source."""

ENDS = 0.5
"""Degrees by which the two ends of a fold may differ before an end is set anew: what is read off a
protractor, twice."""


def first_stop(stroke: PlannedStroke, set_up: StrokeSettings) -> float | None:
    """Degrees the first part is stopped at before it is measured; None where a stroke has no angle
    to creep up to.

    It is the angle wanted itself: let go there, what it lacks is what this sheet springs back, and
    nothing is over-bent whatever that is. A stroke that is stopped early by what it meets, left
    part way or flattened is taken as it is planned.
    """
    if stroke.verdict.flattens or stroke.verdict.part_way or set_up.limit:
        return None
    first = min(set_up.target, set_up.stop_angle - LEAST_EARLY)
    return round(first, 1) if first > stroke.verdict.stroke.setting.start + FINEST else None


def ends_text(left: float, right: float) -> str:
    """What a difference between the two ends of a fold means; empty where there is none to speak
    of.

    Which end, by common practice: the end that stands closer over-bends. How far it is set back is
    tried, not known.
    """
    if abs(left - right) <= ENDS:
        return ""
    end = tr("left") if left > right else tr("right")
    return tr(
        "The {end} end is bent {more} more: there the nose is closer, or the clamp tighter. Set "
        "that end back by a paper's thickness "
        "and try a scrap as long as the part."
    ).format(end=end, more=show_angle(abs(left - right)))
