"""Flanges too narrow for the brake, found on the flat before any stroke is judged."""

from __future__ import annotations

import shapely

from ...blank import Blank, Finding, Fold, MadeBy
from ...blank.finding import MOST_SAID
from ...brake import Brake, Die, LeafBrake, PressBrake, least_flange, least_leg, usable_dies
from ...measure import Units, show_length
from .leg import outside_leg, reach_of


def narrow_flanges(blank: Blank, brake: Brake, units: Units) -> tuple[Finding, ...]:
    """What the brake cannot hold: short legs, and reversed folds too near the last one.

    Common practice, no source; the strokes themselves are judged by the engine.
    """
    found: list[Finding] = []
    if not isinstance(brake, LeafBrake):
        return _narrow_on_a_press(blank, brake, units)
    for fold in blank.folds:
        if fold.made_by is not MadeBy.BRAKE:
            continue
        where = (fold.start + fold.end) / 2
        leg = _reach(blank, fold) + fold.bend.outside_setback
        least, why = least_flange(brake, fold.bend)
        if leg < least - 1e-6:
            found.append(Finding(
                f"The {fold.name} is {show_length(leg, units)} outside; the {brake.name} wants {show_length(least, units)}: {why}.",
                where, "flange",
            ))  # fmt: skip
        for other in blank.folds:
            if other.parent != fold.child or other.made_by is not MadeBy.BRAKE or other.angle * fold.angle > 0:
                continue
            if abs(float(other.outward @ fold.outward)) < 0.99:
                continue
            apart = abs(float((other.start - fold.start) @ fold.outward))
            least, why = least_flange(brake, fold.bend, reversed_=True)
            if apart < least - 1e-6:
                found.append(Finding(
                    f"The {fold.name} and the {other.name} turn opposite ways {show_length(apart, units)} apart; the {brake.name} "
                    f"needs {show_length(least, units)}: {why}. Take the leaf's angle off, or fold one of them on another brake.",
                    where, "flange",
                ))  # fmt: skip
    return tuple(found)


def _narrow_on_a_press(blank: Blank, brake: PressBrake, units: Units) -> tuple[Finding, ...]:
    """Legs too short for the narrowest V that suits the sheet: (V/2)/cos(θ/2) and a margin, outside."""
    dies = usable_dies(brake, blank.sheet)
    if not dies:
        return ()
    die = min(dies, key=lambda d: d.opening)
    found: list[Finding] = []
    for fold in blank.folds:
        if fold.made_by is not MadeBy.BRAKE:
            continue
        leg = outside_leg(fold.bend, reach_of(blank, fold, fold.child))
        least = least_leg(die.opening, abs(fold.angle))
        if leg < least - 1e-6:
            found.append(Finding(
                f"The {fold.name} is {show_length(leg, units)} outside; the narrowest V of the {brake.name} that suits this sheet, "
                f"{die.name}, needs {show_length(least, units)} to carry it.",
                (fold.start + fold.end) / 2, "flange",
            ))  # fmt: skip
    return (*found, *_holes_in_the_v(blank, die, units))


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
                found.append(Finding(
                    f"The {hole.name} is {show_length(away, units)} from the line of the {fold.name} and lies over the V of {die.name}, "
                    f"{show_length(die.opening / 2, units)} to either side: it is drawn out of shape. Move it, or cut it after bending.",
                    hole.centre, "hole",
                ))  # fmt: skip
                break
        if len(found) > MOST_SAID:
            break
    return found


def _reach(blank: Blank, fold: Fold) -> float:
    """How far metal goes on beyond the tangent line, over everything the fold carries, mm."""
    group = {fold.child}
    for other in blank.folds:
        if other.parent in group and other.made_by is not MadeBy.BRAKE:
            group.add(other.child)
    far = max(float(((blank.panels[i].polygon - fold.start) @ fold.outward).max()) for i in group)
    return far - fold.bend.allowance / 2
