"""The legs of a bend: how far metal goes on from it, read as a hand measures it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ..brake.brake import Brake
from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..flat.features import Finding, Fold
from ..i18n import Phrase, msg, the, the_first, within
from ..metal.bend import Bend
from ..units.figures import Length
from ..units.length import Units


def outside_leg(bend: Bend, reach: float) -> float:
    """Outside leg (mm, from the corner where the outside faces meet) of metal that reaches
    ``reach`` mm from the bend line."""
    return reach - bend.allowance / 2 + bend.outside_setback


def reach_of(blank: Blank, fold: Fold, panel: int, angles: Sequence[float] | None = None) -> float:
    """How far (mm, from the bend line) a panel beside a fold goes on, with what lies flat with it.

    Args:
        blank: the part.
        fold: the fold.
        panel: index of the panel beside it.
        angles: degrees the folds stand at; None takes the sheet as it may best be: hems flattened,
            all else flat.
    """
    flat = [
        i
        for i, other in enumerate(blank.folds)
        if other is not fold
        and (angles[i] == 0 if angles is not None else other.made_by is MadeBy.BRAKE)
    ]
    group = blank.reached((panel,), flat)
    away = [abs((blank.panels[k].polygon - fold.start) @ fold.outward).max() for k in group]
    return float(max(away))


def flat_reach(blank: Blank, fold: Fold) -> float:
    """How far metal goes on beyond the tangent line, over everything the fold carries, mm."""
    group = {fold.child}
    for other in blank.folds:
        if other.parent in group and other.made_by is not MadeBy.BRAKE:
            group.add(other.child)
    far = max(float(((blank.panels[i].polygon - fold.start) @ fold.outward).max()) for i in group)
    return far - fold.bend.allowance / 2


def short_legs(
    blank: Blank, brake: Brake, units: Units, least_flange: Callable[[Bend], tuple[float, Phrase]]
) -> list[Finding]:
    """Flanges shorter outside than a brake holds: ``least_flange`` says what one needs, mm, and
    why.

    Args:
        blank: the flat.
        brake: the machine.
        units: what lengths are shown in.
        least_flange: the least outside leg of a bend, mm, and why.
    """
    findings: list[Finding] = []
    for fold in blank.folds:
        if fold.made_by is not MadeBy.BRAKE:
            continue
        leg = flat_reach(blank, fold) + fold.bend.outside_setback
        least, why = least_flange(fold.bend)
        if leg < least - 1e-6:
            findings.append(
                Finding(
                    msg(
                        "{name} is {leg} outside; {name_2} needs {least}: {why}.",
                        name=the_first(fold.name),
                        leg=Length(leg, units),
                        name_2=the(brake.name),
                        least=Length(least, units),
                        why=why,
                    ),
                    (fold.start + fold.end) / 2,
                    "flange",
                )
            )
    return findings


def too_thick(blank: Blank, rated: float, units: Units) -> tuple[Phrase, tuple[Phrase, ...]] | None:
    """Why a machine rated for ``rated`` mm of mild steel takes no stroke of a sheet: a short and a
    long way; None when it does.

    Args:
        blank: the flat.
        rated: thickest mild steel, mm.
        units: what lengths are shown in.
    """
    allowed = blank.sheet.allowed_by(rated)
    if blank.thickness <= allowed + 1e-6:
        return None
    return msg("the metal is too thick for this brake"), (
        msg(
            "{name} is {thickness} thick; this brake is rated for {rated} of mild steel, which is "
            "{allowed} of {lower}.",
            name=blank.sheet.name,
            thickness=Length(blank.thickness, units, fine=True),
            rated=Length(rated, units, fine=True),
            allowed=Length(allowed, units, fine=True),
            lower=within(blank.sheet.metal.name),
        ),
    )
