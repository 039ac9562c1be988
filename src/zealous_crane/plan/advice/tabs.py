"""Tabs on the other side, or on the other walls."""

from __future__ import annotations

from typing import Any

from ...measure.input_error import INPUT_ERRORS
from ...measure.words import tr
from ...part.corner import Walls
from ..result.plan import Cure
from .trial import Cures, Trial


def other_tabs(trial: Trial) -> Cures:
    """The tabs on the other side of the wall they lie against, or carried by the other walls."""
    fields = type(trial.job.part).model_fields
    changes: list[tuple[dict[str, Any], str]] = []
    if "tabs_inside" in fields:
        inside = not getattr(trial.job.part, "tabs_inside")  # noqa: B009 - only some kinds have it
        changes.append(
            (
                {"tabs_inside": inside},
                tr("Tabs {which} the wall they lie against").format(which=tr("inside") if inside else tr("outside")),
            )
        )
    if "tabs_on" in fields:
        current = getattr(trial.job.part, "tabs_on")  # noqa: B009 - only some kinds have it
        changes += [
            (
                {"tabs_on": other},
                {
                    Walls.ENDS: tr("Tabs carried by the left and right walls"),
                    Walls.SIDES: tr("Tabs carried by the front and back walls"),
                }[other],
            )
            for other in type(current)
            if other != current
        ]
    for change, text in changes:
        try:
            changed = trial.with_part(**change)
        except INPUT_ERRORS:
            continue
        if trial.cures(changed, thorough=False):
            yield Cure(f"{text}: {trial.gain}.", changed)
