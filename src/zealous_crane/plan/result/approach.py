"""The first part: stop early, let go, measure, go on. Adding bend is easy, taking it out is not."""

from __future__ import annotations

from dataclasses import replace

from ...measure import AngleReading, show_angle
from ...measure.dataclass import dataclass
from ...measure.words import tr
from .got import FINEST
from .plan import PlannedStroke
from .set_up import SetUp

LEAST_EARLY = 2.0
"""Degrees the first stop is short of the planned one at least, where little springs back. Common practice, no source."""

ENDS = 0.5
"""Degrees by which the two ends of a fold may differ before an end is set anew: what is read off a protractor, twice."""


@dataclass(frozen=True)
class WentOn:
    """What the first stop taught.

    Attributes:
        springback: degrees it came back by from the first stop; negative means the stop and the protractor do not agree.
        stop: degrees to go on to.
        ended: that is the farthest the stroke goes, and short of what is wanted.
    """

    springback: float
    stop: float
    ended: bool


def first_stop(stroke: PlannedStroke, set_up: SetUp) -> float | None:
    """Degrees the first part is stopped at before it is measured; None where a stroke has no angle to creep up to.

    It is the angle wanted itself: let go there, what it lacks is what this sheet springs back, and nothing is over-bent whatever that
    is. A stroke that is stopped early by what it meets, left part way or flattened is taken as it is planned.
    """
    if stroke.verdict.flattens or stroke.verdict.part_way or set_up.limit:
        return None
    first = min(set_up.target, set_up.stop_angle - LEAST_EARLY)
    return round(first, 1) if first > stroke.verdict.stroke.setting.start + FINEST else None


def went_on(set_up: SetUp, first: float, got: float) -> WentOn:
    """Where to go on to from the first stop.

    Args:
        set_up: what is set for the stroke.
        first: degrees it was stopped at.
        got: degrees measured after release.
    """
    back = first - got
    stop = set_up.target + back
    most = int(set_up.greatest / FINEST + 1e-6) * FINEST
    return WentOn(back, round(min(stop, most), 1), stop > most + 1e-9)


def stopped_at(set_up: SetUp, stop: float) -> SetUp:
    """The set-up with the stop a first part taught: what comes out is then to be judged against the angle wanted."""
    return replace(set_up, stop_angle=stop, released=set_up.target)


def went_on_text(found: WentOn, got: float, reading: AngleReading = AngleReading.BEND) -> str:
    """What the first stop taught, to be read from two metres."""
    read = show_angle(reading.read(got))
    if found.springback < -ENDS:
        return tr("{got}: more than it was stopped at. Check the stop's scale against the protractor before you go on.").format(
            got=read
        )
    said = tr("{got}: it springs back {back}. Go on to {stop}").format(
        got=read, back=show_angle(max(0.0, found.springback)), stop=show_angle(found.stop)
    )
    return said + (tr(" and no farther.") if found.ended else ".")


def ends_text(left: float, right: float) -> str:
    """What a difference between the two ends of a fold means; empty where there is none to speak of.

    Which end, by common practice: the end that stands closer over-bends. How far it is set back is tried, not known.
    """
    if abs(left - right) <= ENDS:
        return ""
    end = tr("left") if left > right else tr("right")
    return tr(
        "The {end} end is bent {more} more: there the nose is closer, or the clamp tighter. Set that end back by a paper's thickness "
        "and try a scrap as long as the part."
    ).format(end=end, more=show_angle(abs(left - right)))
