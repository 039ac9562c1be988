"""One more piece in the rack."""

from __future__ import annotations

import math

from ...bending.machines import machine_of
from ...brake.library import MachineLibrary
from ...flat.element import DevelopmentError
from ...i18n import msg
from ...units.figures import Length
from ..plan import Remedy
from ..planner import make_plan, possible
from .trial import FEW, Cures, Trial


def one_more_piece(trial: Trial) -> Cures:
    """One more finger or bar, of the width that is missing."""
    plan, brake = trial.plan, trial.plan.brake
    need = plan.stuck.verdict.demand if plan.stuck is not None else None
    if need is None:
        return
    noun = plan.stuck.verdict.tooling.sections.kind.one if plan.stuck is not None else ""
    for least, most, _ in need.widths:
        ticks = math.floor(most / trial.tick + 1e-9)
        width = ticks * trial.tick
        if width < least or width <= 0:
            continue
        more = brake.with_one_more(width)
        if more is None:
            return
        if trial.cures(trial.job, more):
            text = msg(
                "With one more {noun}, {width} wide, in the rack: {gain}.",
                noun=noun,
                width=Length(width, trial.job.units),
                gain=trial.gain,
            )
            yield Remedy(text, trial.job, more)
            return


def other_brakes(trial: Trial, rack: MachineLibrary) -> Cures:
    """The same part on another brake; what is finished by hand here is not there, and the job then
    asks for that."""
    for brake in rack.in_use:
        if brake.key == trial.plan.brake.key:
            continue
        job = trial.job.model_copy(update={"brake": brake.key})
        if trial.whole:
            # An order with some work by hand may cost less there too; it is not what is offered.
            job = job.without_hand
        try:
            goes = possible(
                job,
                brake,
                by_hand=not trial.whole,
                thorough=False,
                limit=FEW,
                cancelled=trial.cancelled,
            )
        except DevelopmentError:
            continue
        if goes:
            text = (
                msg("On the {name}, with nothing finished by hand: {gain}.")
                if trial.whole
                else msg("On the {name}: {gain}.")
            )
            yield Remedy(text.filled(name=brake.name, gain=trial.gain), job, brake)


def free_order(trial: Trial) -> Cures:
    """The order asked for, taken back."""
    if trial.job.order.any:
        job = trial.job.model_copy(update={"order": type(trial.job.order)()})
        if trial.cures(job):
            yield Remedy(msg("In the program's own order: {gain}.", gain=trial.gain), job)


def in_air(trial: Trial) -> Cures:
    """Bent in air where the press, or the die, is not one to bottom in."""
    if trial.job.bottomed:
        job = trial.job.model_copy(update={"bottomed": False})
        if trial.cures(job):
            yield Remedy(msg("Bent in air, not bottomed: {gain}.", gain=trial.gain), job)


def tools_of_plan(trial: Trial) -> Cures:
    """The flat laid out for the tools the plan takes, where it is for others: they are asked for,
    fold by fold."""
    plan = trial.plan
    if plan.radius_error is None:
        return
    wishes, brake = trial.job.tools, plan.brake
    tooling = {
        i: stroke.verdict.tooling
        for stroke in plan.strokes
        for i in stroke.verdict.stroke.setting.folds
    }
    for bend in plan.radius_error.bends:
        for choice, tool in machine_of(brake).asked_tools(tooling[bend.fold]).items():
            wishes = wishes.choosing(brake.key, choice, tool, plan.blank.folds[bend.fold].name)
    # A radius nobody's tools make is taken back too: the flat takes that of the tools.
    written = plan.job.radius is not None or any(fold in trial.job.radius_at for fold in wishes.at)
    job = trial.job.model_copy(
        update={"tools": wishes, **({"radius": None, "radius_at": {}} if written else {})}
    )
    again = make_plan(job, brake, cancelled=trial.cancelled)
    if again.feasible and (
        again.radius_error is None or abs(again.radius_error.off) < abs(plan.radius_error.off)
    ):
        yield Remedy(msg("Lay the flat out for the inside radius these tools make."), job)
