"""What was asked for, taken back or asked for: the order, bottoming, the tools."""

from __future__ import annotations

from ...measure.words import tr
from ..make import make_plan
from ..result.plan import Cure
from ..stroke.machines import machine_of
from .trial import Cures, Trial


def free_order(trial: Trial) -> Cures:
    """The order asked for, taken back."""
    if trial.job.order.any:
        job = trial.job.model_copy(update={"order": type(trial.job.order)()})
        if trial.cures(job):
            yield Cure(tr("In the program's own order: {gain}.").format(gain=trial.gain), job)


def in_air(trial: Trial) -> Cures:
    """Bent in air where the press, or the die, is not one to bottom in."""
    if trial.job.bottomed:
        job = trial.job.model_copy(update={"bottomed": False})
        if trial.cures(job):
            yield Cure(tr("Bent in air, not bottomed: {gain}.").format(gain=trial.gain), job)


def tools_of_plan(trial: Trial) -> Cures:
    """The flat laid out for the tools the plan takes, where it is for others: they are asked for, fold by fold."""
    plan = trial.plan
    if plan.radius_error is None:
        return
    wishes, brake = trial.job.tools, plan.brake
    tooling = {i: stroke.verdict.tooling for stroke in plan.strokes for i in stroke.verdict.stroke.setting.folds}
    for bend in plan.radius_error.bends:
        for choice, tool in machine_of(brake).asked_tools(tooling[bend.fold]).items():
            wishes = wishes.choosing(brake.key, choice, tool, plan.blank.folds[bend.fold].name)
    # A radius nobody's tools make is taken back too: the flat takes that of the tools.
    written = plan.job.radius is not None or any(fold in trial.job.radius_at for fold in wishes.at)
    job = trial.job.model_copy(update={"tools": wishes, **({"radius": None, "radius_at": {}} if written else {})})
    again = make_plan(job, brake, cancelled=trial.cancelled)
    if again.feasible and (again.radius_error is None or abs(again.radius_error.off) < abs(plan.radius_error.off)):
        yield Cure(tr("Lay the flat out for the inside radius these tools make."), job)
