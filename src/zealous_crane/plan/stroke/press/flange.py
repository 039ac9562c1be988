"""What a V does not carry, or draws out of shape, found on the flat before any stroke is judged."""

from __future__ import annotations

import shapely

from ....blank import Blank, Finding, MadeBy
from ....blank.looked_over import MOST_SAID
from ....brake import Die, PressBrake, least_leg
from ....measure import Units, show_length
from ....measure.words import the, the_first, tr
from ..leg import outside_leg, reach_of


def narrow_flanges(blank: Blank, brake: PressBrake, units: Units) -> list[Finding]:
    """Legs too short for the narrowest V that suits the sheet: (V/2)/cos(θ/2) and a margin, outside."""
    dies = brake.dies_for(blank.sheet)
    if not dies:
        return []
    die = min(dies, key=lambda d: d.opening)
    found: list[Finding] = []
    for fold in blank.folds:
        if fold.made_by is not MadeBy.BRAKE:
            continue
        leg = outside_leg(fold.bend, reach_of(blank, fold, fold.child))
        least = least_leg(die.opening, abs(fold.angle))
        if leg < least - 1e-6:
            found.append(
                Finding(
                    tr(
                        "{name} is {leg} outside; the narrowest V of {name_2} that suits this sheet, {name_3}, "
                        "needs {least} to carry it."
                    ).format(
                        name=the_first(fold.name),
                        leg=show_length(leg, units),
                        name_2=the(brake.name),
                        name_3=die.name,
                        least=show_length(least, units),
                    ),
                    (fold.start + fold.end) / 2,
                    "flange",
                )
            )
    return [*found, *_holes_in_the_v(blank, die, units)]


def _holes_in_the_v(blank: Blank, die: Die, units: Units) -> list[Finding]:
    """Holes that come to lie over the V, where the metal between its shoulders is drawn out. Common practice, no source."""
    found: list[Finding] = []
    for hole in blank.holes:
        if hole.kind in ("relief", "fold slot") or hole.after_bending:
            continue
        shape = shapely.Polygon(hole.path.flattened())
        for fold in blank.folds:
            away = shape.distance(shapely.LineString([fold.start, fold.end]))
            if fold.made_by is MadeBy.BRAKE and away < die.opening / 2 - 1e-9:
                found.append(
                    Finding(
                        tr(
                            "{name} is {away} from the line of {name_2} and lies over the V of {name_3}, {length} to "
                            "either side: it is drawn out of shape. Move it, or cut it after bending."
                        ).format(
                            name=the_first(hole.name),
                            away=show_length(away, units),
                            name_2=the(fold.name),
                            name_3=die.name,
                            length=show_length(die.opening / 2, units),
                        ),
                        hole.centre,
                        "hole",
                    )
                )
                break
        if len(found) > MOST_SAID:
            break
    return found
