"""The first part: stop early, let go, measure, go on. Adding bend is easy, taking it out is not."""

from __future__ import annotations

from ...measure import show_angle
from ...measure.words import tr
from .got import FINEST
from .plan import PlannedStroke
from .set_up import SetUp

LEAST_EARLY = 2.0
"""Degrees the first stop is short of the planned one at least, where little springs back. Common practice, no source."""

ENDS = 0.5
"""Degrees by which the two ends of a fold may differ before an end is set anew: what is read off a protractor, twice."""


def first_stop(stroke: PlannedStroke, set_up: SetUp) -> float | None:
    """Degrees the first part is stopped at before it is measured; None where a stroke has no angle to creep up to.

    It is the angle wanted itself: let go there, what it lacks is what this sheet springs back, and nothing is over-bent whatever that
    is. A stroke that is stopped early by what it meets, left part way or flattened is taken as it is planned.
    """
    if stroke.verdict.flattens or stroke.verdict.part_way or set_up.limit:
        return None
    first = min(set_up.target, set_up.stop_angle - LEAST_EARLY)
    return round(first, 1) if first > stroke.verdict.stroke.setting.start + FINEST else None


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
