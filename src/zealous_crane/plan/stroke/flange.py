"""Flanges shorter than what a nose and a leaf, or a board, get hold of, found on the flat."""

from __future__ import annotations

from collections.abc import Callable

from ...allowance import Bend
from ...blank import Blank, Finding, MadeBy
from ...brake import Brake
from ...measure import Units, show_length
from ...measure.words import the, the_first, tr
from .leg import flat_reach


def short_legs(blank: Blank, brake: Brake, units: Units, least_flange: Callable[[Bend], tuple[float, str]]) -> list[Finding]:
    """Flanges shorter outside than a brake holds: ``least_flange`` says what one needs, mm, and why."""
    found: list[Finding] = []
    for fold in blank.folds:
        if fold.made_by is not MadeBy.BRAKE:
            continue
        leg = flat_reach(blank, fold) + fold.bend.outside_setback
        least, why = least_flange(fold.bend)
        if leg < least - 1e-6:
            found.append(
                Finding(
                    tr("{name} is {leg} outside; {name_2} wants {least}: {why}.").format(
                        name=the_first(fold.name),
                        leg=show_length(leg, units),
                        name_2=the(brake.name),
                        least=show_length(least, units),
                        why=why,
                    ),
                    (fold.start + fold.end) / 2,
                    "flange",
                )
            )
    return found
