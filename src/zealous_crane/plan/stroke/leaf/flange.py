"""What a leaf brake cannot hold, found on the flat before any stroke is judged."""

from __future__ import annotations

from ....blank import Blank, Finding, MadeBy
from ....brake import LeafBrake
from ....measure import Units, show_length
from ....measure.words import the, the_first, tr
from ..flange import short_legs


def narrow_flanges(blank: Blank, brake: LeafBrake, units: Units) -> list[Finding]:
    """Short legs, and reversed folds too near the last one. Common practice, no source."""
    found = short_legs(blank, brake, units, brake.least_flange)
    for fold in blank.folds:
        if fold.made_by is not MadeBy.BRAKE:
            continue
        for other in blank.folds:
            if other.parent != fold.child or other.made_by is not MadeBy.BRAKE or other.angle * fold.angle > 0:
                continue
            if abs(float(other.outward @ fold.outward)) < 0.99:
                continue
            apart = abs(float((other.start - fold.start) @ fold.outward))
            least, why = brake.least_between(fold.bend)
            if apart < least - 1e-6:
                found.append(
                    Finding(
                        tr(
                            "{name} and {name_2} turn opposite ways {apart} apart; the {name_3} needs {least}: {why}."
                            " Take the leaf's angle off, or fold one of them on another brake."
                        ).format(
                            name=the_first(fold.name),
                            name_2=the(other.name),
                            apart=show_length(apart, units),
                            name_3=brake.name,
                            least=show_length(least, units),
                            why=why,
                        ),
                        (fold.start + fold.end) / 2,
                        "flange",
                    )
                )
    return found
