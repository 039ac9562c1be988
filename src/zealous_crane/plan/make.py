"""Making the plan of a job on a brake."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from ..blank import Blank, MadeBy, develop
from ..brake import Brake, LeafBrake, usable_dies
from ..job import Job
from ..measure import Units, show_length
from .engine import stroke_for
from .order import MOST, Search
from .plan import Plan, PlannedStroke, Setup
from .route import Costs, Failure, Moves, Route, Stages
from .saying import aside, no_order, press_watch, verdict_sentence, watch
from .sections import Demand, demand, fit, place
from .slab import free_intervals
from .stations import side_by_side
from .tooling import PressTooling
from .wishes import WishError, Wishes

PART_WAY = Moves(part_way=(30.0, 60.0))
"""Degrees tried for leaving a fold part way, when no order of whole strokes is there."""

FEW = 8
"""Strokes up to which part-way folds are tried by themselves; beyond, the orders are too many."""

PART_WAY_LIMIT = 200
"""Strokes judged with folds left part way before that is given up."""

Progress = Callable[[int, int, int], None]
"""Told how many strokes were judged, how many folds stand in the farthest order, and how many there are."""


def make_plan(
    job: Job,
    brake: Brake,
    *,
    blank: Blank | None = None,
    cancelled: Callable[[], bool] = lambda: False,
    progress: Progress = lambda judged, made, of: None,
    moves: Moves | None = None,
    limit: float = MOST,
) -> Plan:
    """Plan a job on a brake. No cures yet; see :func:`zealous_crane.plan.advise`.

    Args:
        job: what is wanted.
        brake: the machine.
        blank: its flat, when already known.
        cancelled: asked now and then.
        progress: told how far the search is.
        moves: what may be tried beyond whole strokes; None tries folds left part way when nothing else goes.
        limit: strokes judged after which it gives up.

    Raises:
        DevelopmentError: the part cannot be laid flat.
        Cancelled: ``cancelled`` said so.
    """
    blank = blank or develop(job)
    strokes = [f for f in blank.folds if f.made_by in (MadeBy.BRAKE, MadeBy.HEM)]
    if not strokes:
        steps = aside(blank, ())
        said = "Nothing for the brake: " + (" ".join(s.says for s in steps) or "the part is flat.")
        return Plan(job, blank, brake, (), (), said, (), 0, steps, open=True)
    refused = _refused(blank, brake)
    if refused is not None:
        return _no(job, blank, brake, *refused, 0)
    try:
        search, found = _searched(job, blank, brake, moves, cancelled, progress, limit)
    except WishError as error:
        return _no(job, blank, brake, "the order asked for contradicts itself", (str(error),), 0)
    if isinstance(found, Failure):
        return _failed(job, blank, brake, found, search)
    plan = _planned(job, blank, brake, found, search.judged)
    if not job.order.any:
        return plan
    freed = job.model_copy(update={"order": job.order.model_copy(update={"sequence": (), "before": (), "clamp": {}})})
    _, best = _searched(freed, blank, brake, moves, cancelled, progress, limit)
    return replace(plan, least_cost=best.cost) if isinstance(best, Route) else plan


def _searched(
    job: Job, blank: Blank, brake: Brake, moves: Moves | None, cancelled: Callable[[], bool], progress: Progress, most: float
) -> tuple[Search, Route | Failure]:
    count = sum(f.made_by in (MadeBy.BRAKE, MadeBy.HEM) for f in blank.folds)
    costs = Costs().for_quantity(job.quantity)

    def search(tried: Moves | None, stages: Stages | None = None, limit: float = most) -> Search:
        return Search(
            blank, brake, job.springback, costs, moves=tried, wishes=Wishes(job.order), cancelled=cancelled,
            progress=lambda judged, made: progress(judged, made, count), stages=stages,
            limit=limit,
        )  # fmt: skip

    if blank.creases:
        tries = [search(None, stages) for stages in folded_corner_stages(blank)]
        results = [(s, s.best()) for s in tries]
        routes = [(s, r) for s, r in results if isinstance(r, Route)]
        return min(routes, key=lambda r: r[1].cost) if routes else results[0]
    first = search(moves)
    found = first.best()
    if moves is None and isinstance(found, Failure) and found.complete and count <= FEW:
        further = search(PART_WAY, limit=min(most, PART_WAY_LIMIT))
        again = further.best()
        if isinstance(again, Route) or again.complete:
            return further, again
    return first, found


def folded_corner_stages(blank: Blank) -> tuple[Stages, Stages]:
    """A pan whose corners are folded, not cut: two opposite walls to 30°, the other two all the way, the ears by hand, the
    first two closed. Both choices of the first two. Common practice, no source."""
    carriers = {f.parent for f in blank.folds if f.made_by is MadeBy.HAND}
    walls = [i for i, f in enumerate(blank.folds) if f.made_by is MadeBy.BRAKE]
    one = [i for i in walls if blank.folds[i].child in carriers]
    other = [i for i in walls if i not in one]

    def stages(first: list[int], then: list[int]) -> Stages:
        return (tuple((i, 30.0) for i in first), tuple((i, None) for i in then), tuple((i, None) for i in first))

    return stages(one, other), stages(other, one)


def _refused(blank: Blank, brake: Brake) -> tuple[str, tuple[str, ...]] | None:
    """Why a brake takes no stroke of this sheet at all: a short and a long way of saying it."""
    if isinstance(brake, LeafBrake):
        allowed = blank.sheet.allowed_by(brake.rated)
        if blank.thickness > allowed + 1e-6:
            thick = show_length(blank.thickness, Units.MM)
            return "the metal is too thick for this brake", (
                f"{blank.sheet.name} is {thick} thick; this brake is rated for {show_length(brake.rated, Units.MM)} of mild steel, "
                f"which is {show_length(allowed, Units.MM)} of {blank.sheet.metal.name.lower()}.",
            )
        return None if brake.fingers else ("there are no fingers in the rack", ())
    if not brake.bending_punches:
        return "the press has no punch that bends", ()
    if not brake.dies:
        return "the press has no die", ()
    if not usable_dies(brake, blank.sheet):
        openings = ", ".join(f"{d.opening:.1f}" for d in sorted(brake.dies, key=lambda d: d.opening))
        return "no die suits this thickness", (
            f"{blank.thickness:.2f} mm wants a V between {5 * blank.thickness:.0f} and {16 * blank.thickness:.0f} mm; "
            f"the dies open {openings} mm.",
        )
    if any(f.made_by is MadeBy.HEM for f in blank.folds) and not brake.closes_hems:
        return "the part has hems and the press has no flat punch to close them", ()
    return None


def _no(job: Job, blank: Blank, brake: Brake, why: str, reasons: tuple[str, ...], judged: int) -> Plan:
    return Plan(job, blank, brake, (), (), f"Cannot be made on this brake: {why}.", reasons, judged)


def _failed(job: Job, blank: Blank, brake: Brake, failure: Failure, search: Search) -> Plan:
    why, reasons = no_order(failure, blank, isinstance(brake, LeafBrake), job.units, search.moves)
    nearest = failure.verdicts[0]
    stuck = PlannedStroke(len(failure.made) + 1, nearest, (), 0, 0.0, nearest.limit, job.units)
    plan = replace(_no(job, blank, brake, why, reasons, search.judged), stuck=stuck)
    if job.order.any:
        return replace(plan, sentence=plan.sentence.replace("Cannot be made on this brake", "Cannot be made in this order"))
    if not failure.complete:
        return replace(plan, sentence=f"No order found, and that is no proof: {why}.", open=True)
    if blank.creases:
        return replace(plan, sentence=f"No order found for a pan with folded corners: {why}.")
    return plan


def _planned(job: Job, blank: Blank, brake: Brake, route: Route, judged: int) -> Plan:
    strokes: list[PlannedStroke] = []
    setups: list[Setup] = []
    for number, (verdict, setup) in enumerate(zip(route.verdicts, route.setup, strict=True), start=1):
        tooling = verdict.tooling
        if setup == len(setups):
            blocks = fit(route.widths[setup], tooling.sections)
            dies = fit(route.widths[setup], tooling.die_sections) if isinstance(tooling, PressTooling) else ()
            assert blocks is not None and dies is not None, "the search only shares blocks the rack can make"
            setups.append(Setup(tooling, blocks, dies, ()))
        setups[setup] = replace(setups[setup], strokes=(*setups[setup].strokes, number))
        setting = verdict.stroke.setting
        need = demand(setting.span, free_intervals(verdict.slabs, verdict.reach), tooling.sections)
        assert isinstance(need, Demand), "the search only takes strokes the sections can hold"
        sections = place(setups[setup].blocks, need)
        clearance = verdict.stroke.clearance(verdict.reach, sections)
        exact = stroke_for(setting, tooling)
        strokes.append(PlannedStroke(number, verdict, sections, setup, clearance, exact.contact(sections), job.units))
    setups = list(side_by_side(setups, strokes, brake))
    steps = aside(blank, strokes)
    # What the sentence has not said yet: work before and between, not the last degrees of a wall.
    more = "".join(f" {step.says}" for step in steps if step.by in ("own tool", "hand", "vise") and len(step.folds) > 0
                   and not any(s.name in step.folds for s in strokes))  # fmt: skip
    said = verdict_sentence(strokes, setups, isinstance(brake, LeafBrake)) + more
    watched = (*watch(strokes), *press_watch(strokes, job.units))
    if not route.cheapest:
        watched = (*watched, "The order works; with so many bends not every cheaper one was looked at.")
    return Plan(job, blank, brake, tuple(strokes), tuple(setups), said, watched, judged, steps, cost=route.cost)
