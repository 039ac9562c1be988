"""A wider gap at the corners."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from itertools import islice
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...errors import INPUT_ERRORS
from ...flat.crossing import crossing_panels
from ...flat.element import DevelopmentError
from ...flat.on_brake import flat_for
from ...flat.panel_tree import default_gap
from ...i18n import Message, msg, the
from ...job.job import DrawnPart, Job
from ...kernel.solid import ToolPart
from ...part.corner import Walls
from ...part.design import Design, Flange, Path
from ...part.edge import End
from ...part.size import names_of
from ...units.figures import Length
from ...units.length import INCH
from ..plan import Remedy
from .trial import Cures, Trial

TICKS = (1, 2, 3, 4, 6, 8, 12, 16)
"""Steps by which a gap is widened."""

ABOVE = frozenset({ToolPart.BEAM, ToolPart.RAM, ToolPart.FINGER_CLAMP})
"""What a wall meets with its height: a gap at its ends is no help there."""

TRIES = 2
"""Gaps that help where the plan is stuck and are planned whole."""


def wider_gap(trial: Trial) -> Cures:
    """A wider corner gap, a larger notch, lets what swings lean past the ends of standing walls."""
    short = [stroke.contact for stroke in trial.plan.strokes if stroke.verdict.by_hand]
    if short and all(contact is not None and contact.obstacle.tool in ABOVE for contact in short):
        return
    job, part = trial.job, trial.job.part
    tick = INCH / 64 if job.units.is_inch else 0.25
    corner = getattr(part, "corner", None)
    if corner is None:
        # A kind that asks for no corner has one in its own tree.
        if part.drawing() is not None:
            return
        part = DrawnPart(tree=part.design(job.sheet.thickness))
        corner = part.tree.corner
        if len(part.tree.flanges) < 2:
            return
    gap = default_gap(job) if corner.gap is None else corner.gap

    def wider(ticks: int) -> Job | None:
        try:
            opened = corner.model_dump() | {"gap": gap + ticks * tick}
            if isinstance(part, DrawnPart):
                tree = Design.model_validate(part.tree.model_dump() | {"corner": opened})
                return job.model_copy(update={"part": DrawnPart(tree=tree)})
            return trial.with_part(corner=opened)
        except INPUT_ERRORS:
            return None

    # Where the widest changes nothing at what is stuck, none between does; what helps there mostly
    # is the cure.
    every = [changed for ticks in TICKS if (changed := wider(ticks)) is not None]
    if not every or not trial.helps(every[-1]):
        return
    helping = (
        (ticks, changed)
        for ticks, changed in zip(TICKS, every, strict=False)
        if trial.helps(changed)
    )
    match = next(
        (
            (ticks, changed)
            for ticks, changed in islice(helping, TRIES)
            if trial.cures(changed, thorough=False)
        ),
        None,
    )
    if match is None:
        return
    ticks, changed = match
    shown = Length(gap + ticks * tick, job.units)
    yield Remedy(
        msg(
            "A corner gap of {shown} lets the leaf lean past the standing walls: {gain}.",
            shown=shown,
            gain=trial.gain,
        ),
        changed,
    )


FLAT = 1.0
"""Degrees before which a swing that is stopped was stopped by what lay flat."""

RELIEFS = (1.0, 2.0, 4.0, 8.0, 16.0)
"""Thicknesses cut away at the end of a flange, tried in this order."""


BOTH = ("left", "right")
"""Ends of a flange."""

CUT_BACK = (1, 2, 4, 8, 16, 32)
"""Steps by which an end is cut back, tried in this order."""


def relief(trial: Trial) -> Cures:
    """A relief cut at the ends of what reaches across a bend line, or of the fold beside it, so
    that tools find room to end."""
    plan = trial.plan
    if plan.stuck is None or trial.job.part.drawing() is not None:
        return
    verdict = plan.stuck.verdict
    stroke = verdict.stroke
    reaching = dict.fromkeys(
        stroke.setting.blank.panels[solid.panel].name for solid in stroke.beyond if solid.panel >= 0
    )
    # What lies flat beside the line is met before anything turns.
    if not reaching and (verdict.limit is None or verdict.limit.angle > FLAT):
        return
    tree = trial.job.part.design(trial.job.sheet.thickness)
    names = names_of(tree)
    for name in (stroke.setting.line.name, *reaching):
        for times in RELIEFS:
            size = math.ceil(times * trial.job.sheet.thickness / trial.tick) * trial.tick
            changed = tree.model_copy(
                update={"flanges": _trimmed(tree.flanges, names, (), name, size)}
            )
            job = trial.job.model_copy(update={"part": DrawnPart(tree=changed)})
            if changed != tree and trial.resizes(job):
                shown = Length(size, trial.job.units)
                yield Remedy(
                    msg(
                        "With a relief of {shown} cut at both ends of {name}, so that the tools "
                        "end clear: {gain}.",
                        shown=shown,
                        name=the(name),
                        gain=trial.gain,
                    ),
                    job,
                )
                return


def cut_back(trial: Trial) -> Cures:
    """The end of a flange cut back that would run through another once everything is bent: by as
    little as will do."""
    plan, part = trial.plan, trial.job.part
    pairs = [] if plan.feasible or part.drawing() is not None else crossing_panels(plan.blank)
    if not pairs:
        return
    tree = part.design(trial.job.sheet.thickness)
    names = names_of(tree)
    panels = plan.blank.panels
    # The smaller of the two first.
    asked = sorted(
        dict.fromkeys(k for pair in pairs for k in pair), key=lambda k: _size(panels[k].polygon)
    )
    for ends, where in (
        (("left",), msg("its left end")),
        (("right",), msg("its right end")),
        (BOTH, msg("both ends")),
    ):
        for k in asked:
            name = panels[k].name

            def job(ticks: int, name: str = name, ends: tuple[str, ...] = ends) -> Job:
                flanges = _trimmed(tree.flanges, names, (), name, ticks * trial.tick, ends)
                return trial.job.model_copy(
                    update={"part": DrawnPart(tree=tree.model_copy(update={"flanges": flanges}))}
                )

            def clear(ticks: int, job: Callable[[int], Job] = job) -> bool:
                try:
                    return not crossing_panels(flat_for(job(ticks), plan.brake))
                except DevelopmentError:
                    return False

            # How much is a matter of the finished part alone; whether it can then be bent is asked
            # once.
            high = next((ticks for ticks in CUT_BACK if clear(ticks)), None)
            if high is None or job(1).part.design(0.0) == tree:
                continue
            low = max((ticks for ticks in CUT_BACK if ticks < high), default=0)
            while high - low > 1:
                middle = (low + high) // 2
                low, high = (low, middle) if clear(middle) else (middle, high)
            if not trial.cures(job(high)):
                continue
            shown = Length(high * trial.tick, trial.job.units)
            text = msg(
                "With {name} cut back by {shown} at {where}, so that it stands clear: {gain}."
            )
            yield Remedy(
                text.filled(name=the(name), shown=shown, where=where, gain=trial.gain), job(high)
            )
            return


def _trimmed(
    flanges: Iterable[Any],
    names: Mapping[Path, str],
    path: Path,
    name: str,
    size: float,
    ends: tuple[str, ...] = BOTH,
) -> tuple[Any, ...]:
    """The same flanges, the one of that name cut back by ``size`` mm at some of its ends."""
    result: list[Any] = []
    for i, flange in enumerate(flanges):
        if not isinstance(flange, Flange):
            result.append(flange)
        elif names[(*path, i)] == name:
            cut = {
                side: End(
                    trim=(given.trim if given else 0.0) + size, taper=given.taper if given else 0.0
                )
                for side, given in (("left", flange.left), ("right", flange.right))
                if side in ends
            }
            result.append(flange.model_copy(update=cut))
        else:
            result.append(
                flange.model_copy(
                    update={
                        "flanges": _trimmed(flange.flanges, names, (*path, i), name, size, ends)
                    }
                )
            )
    return tuple(result)


def _size(polygon: NDArray[np.float64]) -> float:
    """Size of a panel by its box, mm²."""
    long, wide = np.ptp(polygon, axis=0).tolist()
    return float(long * wide)


def other_tabs(trial: Trial) -> Cures:
    """The tabs on the other side of the wall they lie against, or carried by the other walls."""
    fields = type(trial.job.part).model_fields
    changes: list[tuple[dict[str, Any], Message]] = []
    if "tabs_inside" in fields:
        inside = not getattr(trial.job.part, "tabs_inside")  # noqa: B009 - only some kinds have it
        changes.append(
            (
                {"tabs_inside": inside},
                msg(
                    "Tabs {which} the wall they lie against",
                    which=msg("inside") if inside else msg("outside"),
                ),
            )
        )
    if "tabs_on" in fields:
        current = getattr(trial.job.part, "tabs_on")  # noqa: B009 - only some kinds have it
        changes += [
            (
                {"tabs_on": other},
                {
                    Walls.ENDS: msg("Tabs carried by the left and right walls"),
                    Walls.SIDES: msg("Tabs carried by the front and back walls"),
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
            yield Remedy(msg("{text}: {gain}.", text=text, gain=trial.gain), changed)
