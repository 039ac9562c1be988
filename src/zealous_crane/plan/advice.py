"""Advice: cures of the trade, tried through the same engine; only those that work are offered, each with the job it makes."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Iterable, Iterator
from typing import Any

from ..blank import DevelopmentError
from ..blank.tree import default_gap
from ..brake import Brake, LeafBrake, Rack, Section, tool_radius
from ..job import DrawnPart, Job, OrderWishes
from ..measure import INCH, show_length
from ..part import End, Flange, FoldSlots, SeamForm
from .make import make_plan
from .plan import Cure, Plan
from .route import Moves
from .seam import halves

Works = Callable[[Plan], bool]

FEW_MOVES = Moves()
"""Cures are tried with whole strokes; folds left part way are tried by the plan itself."""

LIMIT = 120
"""Strokes judged for one cure before it is passed over."""

ELSEWHERE = 50
"""The same for another brake of the shop: what goes there at all mostly goes at once."""


@dataclasses.dataclass(frozen=True)
class Trial:
    """What cures are tried against.

    Attributes:
        plan: what is to be cured.
        works: what counts as cured.
        gain: what is then true, in words.
        cancelled: asked now and then.
    """

    plan: Plan
    works: Works
    gain: str
    cancelled: Callable[[], bool]

    @property
    def job(self) -> Job:
        return self.plan.job

    @property
    def tick(self) -> float:
        """Step (mm) in which sizes are looked for: 1/16" or 0.5 mm."""
        return INCH / 16 if self.job.units.is_inch else 0.5

    def cures(self, job: Job, brake: Brake | None = None, limit: int = LIMIT) -> bool:
        """True when the changed job works."""
        try:
            return self.works(make_plan(job, brake or self.plan.brake, cancelled=self.cancelled, moves=FEW_MOVES, limit=limit))
        except DevelopmentError:
            return False

    def with_part(self, **fields: Any) -> Job:
        """The job with sizes of its part changed.

        Raises:
            ValueError: the part cannot be so.
        """
        part = type(self.job.part).model_validate({**self.job.part.model_dump(), **fields})
        return self.job.model_copy(update={"part": part})


def advise(plan: Plan, rack: Rack, *, cancelled: Callable[[], bool] = lambda: False) -> Plan:
    """The plan with the cures that work for it.

    A part that cannot be made gets the nearest changes that can; one that is finished by hand gets the nearest that need
    not be. Nothing is offered that the engine did not find to work.
    """
    if plan.complete or plan.open:
        return plan
    works: Works = (lambda p: p.complete) if plan.feasible else (lambda p: p.feasible)
    trial = Trial(plan, works, "every bend reaches its angle" if plan.feasible else "it can be made", cancelled)
    found: list[Cure] = []
    for cure in (_free_order, _in_air, _depth, _gap, _relief, _tabs, _section, _slots, _seam):
        found += cure(trial)
    found += _other_brakes(trial, rack)
    return dataclasses.replace(plan, cures=tuple(found))


def _free_order(trial: Trial) -> Iterator[Cure]:
    """The order asked for, taken back."""
    if trial.job.order.any:
        job = trial.job.model_copy(update={"order": type(trial.job.order)()})
        if trial.cures(job):
            yield Cure(f"In the program's own order: {trial.gain}.", job)


def _in_air(trial: Trial) -> Iterator[Cure]:
    """Bent in air where the press, or the die, is not one to bottom in."""
    if trial.job.bottomed:
        job = trial.job.model_copy(update={"bottomed": False})
        if trial.cures(job):
            yield Cure(f"Bent in air, not bottomed: {trial.gain}.", job)


HEIGHTS = ("depth", "height")
"""What the height of the walls is called in the ready kinds."""


def greatest_depth(job: Job, brake: Brake, works: Works, cancelled: Callable[[], bool] = lambda: False) -> float | None:
    """Greatest wall height (mm) of a ready kind, below its own, for which the plan works; None when there is none.

    Bisected to the ticks of a rule (1/16" or 0.5 mm); the value returned was itself planned.
    """
    name = next((n for n in HEIGHTS if n in type(job.part).model_fields), None)
    if name is None:
        return None
    trial = Trial(make_nothing(job, brake), works, "", cancelled)

    def at(ticks: int) -> bool:
        try:
            return trial.cures(trial.with_part(**{name: ticks * trial.tick}), brake)
        except ValueError:
            return False

    low, high = 0, math.ceil(getattr(job.part, name) / trial.tick - 1e-9)
    # Walls grow harder with height, but not below the least flange: begin from the tallest that works of a coarse row.
    for share in (8, 4, 2):
        if at(max(1, high // share)):
            low = max(low, high // share)
    if low == 0:
        return None
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if at(middle) else (low, middle)
    return low * trial.tick


def make_nothing(job: Job, brake: Brake) -> Plan:
    """A plan of nothing yet, to try cures against."""
    from ..blank import develop

    return Plan(job, develop(job, tool_radius(brake, job.sheet)), brake, (), (), "", (), 0)


def _depth(trial: Trial) -> Iterator[Cure]:
    job = trial.job
    depth = greatest_depth(job, trial.plan.brake, trial.works, trial.cancelled)
    if depth is not None:
        name = next(n for n in HEIGHTS if n in type(job.part).model_fields)
        text = f"Walls up to {show_length(depth, job.units)} high: {trial.gain} on this brake."
        yield Cure(text, trial.with_part(**{name: depth}))


def _gap(trial: Trial) -> Iterator[Cure]:
    """A wider corner gap, a larger notch, lets what swings lean past the ends of standing walls."""
    job, part = trial.job, trial.job.part
    tick = INCH / 64 if job.units.is_inch else 0.25
    corner = getattr(part, "corner", None)
    if corner is None and isinstance(part, DrawnPart):
        corner = part.tree.corner
    if corner is None:
        return
    gap = default_gap(job) if corner.gap is None else corner.gap
    for ticks in (1, 2, 3, 4, 6, 8, 12, 16):
        wider = {**corner.model_dump(), "gap": gap + ticks * tick}
        try:
            if isinstance(part, DrawnPart):
                changed = trial.with_part(tree={**part.tree.model_dump(), "corner": wider})
            else:
                changed = trial.with_part(corner=wider)
        except ValueError:
            return
        if trial.cures(changed):
            shown = show_length(gap + ticks * tick, job.units)
            yield Cure(f"A corner gap of {shown} lets the leaf lean past the standing walls: {trial.gain}.", changed)
            return


FLAT = 1.0
"""Degrees before which a swing that is stopped was stopped by what lay flat."""

RELIEFS = (1.0, 2.0, 4.0, 8.0, 16.0)
"""Thicknesses cut away at the end of a flange, tried in this order."""


def _relief(trial: Trial) -> Iterator[Cure]:
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
    for name in (stroke.setting.line.name, *reaching):
        for times in RELIEFS:
            size = math.ceil(times * trial.job.sheet.thickness / trial.tick) * trial.tick
            changed = tree.model_copy(update={"flanges": _trimmed(tree.flanges, name, size)})
            job = trial.job.model_copy(update={"part": DrawnPart(tree=changed)})
            if changed != tree and trial.cures(job):
                shown = show_length(size, trial.job.units)
                yield Cure(
                    f"With a relief of {shown} cut at both ends of the {name}, so that the tools end clear: {trial.gain}.", job
                )
                return


def _trimmed(flanges: Iterable[Any], name: str, size: float) -> tuple[Any, ...]:
    """The same flanges, the one of that name cut back by ``size`` mm at both ends."""
    found: list[Any] = []
    for flange in flanges:
        if not isinstance(flange, Flange):
            found.append(flange)
        elif flange.name == name or (flange.name is None and name == f"{flange.edge} wall"):
            ends = {
                side: End(trim=(given.trim if given else 0.0) + size, taper=given.taper if given else 0.0)
                for side, given in (("left", flange.left), ("right", flange.right))
            }
            found.append(flange.model_copy(update=ends))
        else:
            found.append(flange.model_copy(update={"flanges": _trimmed(flange.flanges, name, size)}))
    return tuple(found)


def _tabs(trial: Trial) -> Iterator[Cure]:
    """The tabs on the other side of the wall they lie against, or carried by the other walls."""
    fields = type(trial.job.part).model_fields
    changes: list[tuple[dict[str, Any], str]] = []
    if "tabs_inside" in fields:
        inside = not getattr(trial.job.part, "tabs_inside")  # noqa: B009 - only some kinds have it
        changes.append(({"tabs_inside": inside}, f"Tabs {'inside' if inside else 'outside'} the wall they lie against"))
    if "tabs_on" in fields:
        current = getattr(trial.job.part, "tabs_on")  # noqa: B009 - only some kinds have it
        changes += [
            ({"tabs_on": other}, f"Tabs carried by the {other.value} walls") for other in type(current) if other != current
        ]
    for change, text in changes:
        try:
            changed = trial.with_part(**change)
        except ValueError:
            continue
        if trial.cures(changed):
            yield Cure(f"{text}: {trial.gain}.", changed)


def _section(trial: Trial) -> Iterator[Cure]:
    """One more finger, of the width that is missing."""
    plan, brake = trial.plan, trial.plan.brake
    need = plan.stuck.verdict.demand if plan.stuck is not None else None
    if need is None or not isinstance(brake, LeafBrake):
        return
    for least, most, _ in need.widths:
        ticks = math.floor(most / trial.tick + 1e-9)
        width = ticks * trial.tick
        if width < least or width <= 0:
            continue
        more = brake.model_copy(update={"fingers": (*brake.fingers, Section(width=width))})
        if trial.cures(trial.job, more):
            text = f"With one more finger, {show_length(width, trial.job.units)} wide, in the rack: {trial.gain}."
            yield Cure(text, trial.job, more)
            return


def _slots(trial: Trial) -> Iterator[Cure]:
    """Slots along the fold that does not go, so that it is finished by hand in a vise."""
    plan = trial.plan
    if plan.stuck is None or trial.job.part.drawing() is not None:
        return
    name = plan.stuck.verdict.stroke.setting.line.name
    tree = trial.job.part.design(trial.job.sheet.thickness)
    # A slot about every two inches, a bridge of a quarter inch between them. Common practice, no source.
    slots = FoldSlots(count=max(2, round(plan.stuck.verdict.stroke.setting.line.length / 50)), bridge=6.0)

    def slotted(flanges: Iterable[Any]) -> tuple[Any, ...]:
        return tuple(
            flange.model_copy(
                update={"slots": slots}
                if flange.name == name and flange.slots is None
                else {"flanges": slotted(flange.flanges)}
            )
            if isinstance(flange, Flange)
            else flange
            for flange in flanges
        )

    changed = tree.model_copy(update={"flanges": slotted(tree.flanges)})
    if changed == tree:
        return
    job = trial.job.model_copy(update={"part": DrawnPart(tree=changed)})
    if trial.cures(job):
        yield Cure(f"With slots along the {name}, finished by hand in a vise: {trial.gain}.", job)


def _seam(trial: Trial) -> Iterator[Cure]:
    """Two pieces, lapped and joined, where one cannot be made."""
    if trial.plan.feasible or trial.job.part.drawing() is not None:
        return
    name = trial.job.name
    for size, *pieces in halves(trial.job.part.design(trial.job.sheet.thickness)):
        jobs = [
            trial.job.model_copy(
                update={"part": DrawnPart(tree=piece), "name": f"{name[:100]}, {which} half", "order": OrderWishes()}
            )
            for which, piece in zip(("first", "second"), pieces, strict=True)
        ]
        if all(trial.cures(job) for job in jobs):
            lap = show_length(SeamForm.LAP.usual, trial.job.units)
            text = f"In two pieces, cut across the {size} and lapped {lap}, then riveted, spotted or seam-welded: both can be made."
            yield Cure(text, jobs[0], also=jobs[1])
            return


def _other_brakes(trial: Trial, rack: Rack) -> Iterator[Cure]:
    for brake in rack.brakes:
        job = trial.job.model_copy(update={"brake": brake.key})
        if brake.key != trial.plan.brake.key and trial.cures(job, brake, ELSEWHERE):
            yield Cure(f"On the {brake.name}: {trial.gain}.", job, brake)
