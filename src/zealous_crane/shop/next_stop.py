"""Where to stop next: for the first hit of a part by what the book knows, for the next hit by what this very part came back by."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..measure.dataclass import dataclass
from .book.hit import Hit
from .learnt import Learnt

READ = 0.25
"""Degrees by which a reading off a protractor commonly is off. Common practice, no source."""

UNKNOWN = 1.6
"""Degrees at 90° by which the springback of a first bend commonly differs from the rule. Common practice, no source."""


@dataclass(frozen=True)
class Expected:
    """What a bend is expected to come back by, degrees at 90°.

    Attributes:
        mean, sd: of the next part.
        known: bends made on this metal, this brake and with these tools stand behind it; else it is the plan's own estimate.
    """

    mean: float
    sd: float
    known: bool = False

    def stop(self, target: float) -> float:
        """Where to stop for an angle wanted after release, degrees."""
        return target * (1 + self.mean / 90.0)


def expected_springback(learnt: Learnt, planned: float, target: float) -> Expected:
    """What to expect of the next part.

    Args:
        learnt: what the book knows of the place.
        planned: degrees the plan goes past the target.
        target: degrees wanted after release.
    """
    if learnt.here:
        return Expected(learnt.mean, learnt.spread, True)
    return Expected(planned * 90.0 / target if target > 0 else 0.0, UNKNOWN)


def after_hits(prior: Expected, hits: Sequence[Hit]) -> Expected:
    """What this very part comes back by, from what was expected and from every hit that teaches something.

    Normal prior, normal readings; a reading at a smaller angle weighs less, since it is as uncertain and tells of less.
    """
    precision, weighted = prior.sd**-2, prior.mean * prior.sd**-2
    for hit in hits:
        if hit.teaches:
            weight = (hit.got / 90.0 / READ) ** 2
            precision += weight
            weighted += weight * (hit.stop - hit.got) * 90.0 / hit.got
    return Expected(weighted / precision, math.sqrt(1 / precision), prior.known)
