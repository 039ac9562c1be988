"""A relief cut beside a fold, and ends cut back where panels would run through each other."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...blank import DevelopmentError, flat_for
from ...blank.crossing import crossing_panels
from ...job import DrawnPart, Job
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


BOTH = ("left", "right")
"""Ends of a flange."""

CUT_BACK = (1, 2, 4, 8, 16, 32)
"""Steps by which an end is cut back, tried in this order."""


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


def cut_back(trial: Trial) -> Cures:
    """The end of a flange cut back that would run through another once everything is bent: by as little as will do."""
    plan, part = trial.plan, trial.job.part
    pairs = [] if plan.feasible or part.drawing() is not None else crossing_panels(plan.blank)
    if not pairs:
        return
    tree = part.design(trial.job.sheet.thickness)
    names = names_of(tree)
    panels = plan.blank.panels
    # The smaller of the two first.
    asked = sorted(dict.fromkeys(k for pair in pairs for k in pair), key=lambda k: _size(panels[k].polygon))
    for ends, where in ((("left",), tr("its left end")), (("right",), tr("its right end")), (BOTH, tr("both ends"))):
        for k in asked:
            name = panels[k].name

            def job(ticks: int, name: str = name, ends: tuple[str, ...] = ends) -> Job:
                flanges = _trimmed(tree.flanges, names, (), name, ticks * trial.tick, ends)
                return trial.job.model_copy(update={"part": DrawnPart(tree=tree.model_copy(update={"flanges": flanges}))})

            def clear(ticks: int, job: Callable[[int], Job] = job) -> bool:
                try:
                    return not crossing_panels(flat_for(job(ticks), plan.brake))
                except DevelopmentError:
                    return False

            # How much is a matter of the finished part alone; whether it can then be bent is asked once.
            high = next((ticks for ticks in CUT_BACK if clear(ticks)), None)
            if high is None or job(1).part.design(0.0) == tree:
                continue
            low = max((ticks for ticks in CUT_BACK if ticks < high), default=0)
            while high - low > 1:
                middle = (low + high) // 2
                low, high = (low, middle) if clear(middle) else (middle, high)
            if not trial.cures(job(high)):
                continue
            shown = show_length(high * trial.tick, trial.job.units)
            text = tr("With {name} cut back by {shown} at {where}, so that it stands clear: {gain}.")
            yield Cure(text.format(name=the(name), shown=shown, where=where, gain=trial.gain), job(high))
            return


def _trimmed(
    flanges: Iterable[Any], names: Mapping[Path, str], path: Path, name: str, size: float, ends: tuple[str, ...] = BOTH
) -> tuple[Any, ...]:
    """The same flanges, the one of that name cut back by ``size`` mm at some of its ends."""
    found: list[Any] = []
    for i, flange in enumerate(flanges):
        if not isinstance(flange, Flange):
            found.append(flange)
        elif names[(*path, i)] == name:
            cut = {
                side: End(trim=(given.trim if given else 0.0) + size, taper=given.taper if given else 0.0)
                for side, given in (("left", flange.left), ("right", flange.right))
                if side in ends
            }
            found.append(flange.model_copy(update=cut))
        else:
            found.append(flange.model_copy(update={"flanges": _trimmed(flange.flanges, names, (*path, i), name, size, ends)}))
    return tuple(found)


def _size(polygon: NDArray[np.float64]) -> float:
    """Size of a panel by its box, mm²."""
    long, wide = np.ptp(polygon, axis=0).tolist()
    return float(long * wide)
