"""A relief cut beside a fold."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from typing import Any

from ...job import DrawnPart
from ...measure import show_length
from ...measure.words import the, tr
from ...part import End, Flange
from ...part.edit import Path
from ...part.names import names_of
from ..result.plan import Cure
from .trial import Cures, Trial

FLAT = 1.0
"""Degrees before which a swing that is stopped was stopped by what lay flat."""

RELIEFS = (1.0, 2.0, 4.0, 8.0, 16.0)
"""Thicknesses cut away at the end of a flange, tried in this order."""


def relief(trial: Trial) -> Cures:
    """A relief cut at the ends of what reaches across a bend line, or of the fold beside it, so that tools find room to end."""
    plan = trial.plan
    if plan.stuck is None or trial.job.part.drawing() is not None:
        return
    verdict = plan.stuck.verdict
    stroke = verdict.stroke
    reaching = dict.fromkeys(stroke.setting.blank.panels[solid.panel].name for solid in stroke.beyond if solid.panel >= 0)
    # What lies flat beside the line is met before anything turns.
    if not reaching and (verdict.limit is None or verdict.limit.angle > FLAT):
        return
    tree = trial.job.part.design(trial.job.sheet.thickness)
    names = names_of(tree)
    for name in (stroke.setting.line.name, *reaching):
        for times in RELIEFS:
            size = math.ceil(times * trial.job.sheet.thickness / trial.tick) * trial.tick
            changed = tree.model_copy(update={"flanges": _trimmed(tree.flanges, names, (), name, size)})
            job = trial.job.model_copy(update={"part": DrawnPart(tree=changed)})
            if changed != tree and trial.resizes(job):
                shown = show_length(size, trial.job.units)
                yield Cure(
                    tr("With a relief of {shown} cut at both ends of {name}, so that the tools end clear: {gain}.").format(
                        shown=shown, name=the(name), gain=trial.gain
                    ),
                    job,
                )
                return


def _trimmed(flanges: Iterable[Any], names: Mapping[Path, str], path: Path, name: str, size: float) -> tuple[Any, ...]:
    """The same flanges, the one of that name cut back by ``size`` mm at both ends."""
    found: list[Any] = []
    for i, flange in enumerate(flanges):
        if not isinstance(flange, Flange):
            found.append(flange)
        elif names[(*path, i)] == name:
            ends = {
                side: End(trim=(given.trim if given else 0.0) + size, taper=given.taper if given else 0.0)
                for side, given in (("left", flange.left), ("right", flange.right))
            }
            found.append(flange.model_copy(update=ends))
        else:
            found.append(flange.model_copy(update={"flanges": _trimmed(flange.flanges, names, (*path, i), name, size)}))
    return tuple(found)
