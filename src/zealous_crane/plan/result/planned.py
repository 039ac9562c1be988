"""A plan said of a route that was found, or of there being none."""

from __future__ import annotations

import itertools
from dataclasses import replace

from ...blank import Blank
from ...brake import Brake
from ...job import Job
from ...measure.words import tr
from ..geometry.interval import free_intervals
from ..order.route import Failure, Route
from ..order.search import Search
from ..stroke.machines import machine_of
from ..stroke.sections import Block, Demand, Widths, demand, fit
from ..stroke.tooling import Tooling
from .placing import placed
from .plan import Plan, PlannedStroke, Setup
from .radius_error import radius_error
from .saying import SEAMER, aside, no_order, verdict_sentence, watch
from .stations import side_by_side


def planned(job: Job, search: Search, route: Route) -> Plan:
    """The plan of a route: sections placed, room measured, what is to be said. Its cost is that of the route with a walk instead
    of a change of tools where all set-ups stand on the bed at once."""
    blank, brake, costs = search.blank, search.brake, search.choices.costs
    setups, strokes = set_up(job, route)
    setups = list(side_by_side(setups, strokes, brake))
    steps = aside(blank, strokes, job.units)
    # What the sentence has not said yet: work before and between, not the last degrees of a wall.
    more = "".join(f" {step.says}" for step in steps if step.by in ("own tool", "hand", "vise", SEAMER) and len(step.folds) > 0
                   and not any(s.name in step.folds for s in strokes))  # fmt: skip
    said = verdict_sentence(strokes, setups, machine_of(brake).words) + more
    watched = watch(strokes)
    if not route.cheapest:
        watched = (*watched, tr("The order works; with so many bends not every cheaper one was looked at."))
    cost = route.cost
    if any(setup.station for setup in setups):
        cost += max(route.setup) * (costs.stationed.new_tools - costs.new_tools)
    unheld = tuple(finding.says for finding in machine_of(brake).unheld(blank, brake, job.units))
    error = radius_error(job, brake, blank, route.verdicts)
    if error is not None:
        watched = (error.text(job.units), *watched)
    watched = (*unheld, *watched)
    return Plan(
        job,
        blank,
        brake,
        tuple(strokes),
        tuple(setups),
        said,
        watched,
        search.judged,
        steps,
        cost=cost,
        unheld=unheld,
        radius_error=error,
    )


def set_up(job: Job, route: Route) -> tuple[list[Setup], list[PlannedStroke]]:
    """What stands in the brake for the strokes of a route, and where.

    Strokes share a set-up as long as one place of its blocks serves them all; where none does, the next begins there.
    """
    needs: list[Demand] = []
    for verdict in route.verdicts:
        free = free_intervals(verdict.slabs, verdict.reach)
        need = demand(verdict.stroke.setting.span, free, verdict.tooling.sections, verdict.stroke.ends)
        assert isinstance(need, Demand), "the search only takes strokes the sections can hold"
        needs.append(need)
    setups: list[Setup] = []
    strokes: list[PlannedStroke] = []
    for group, members in itertools.groupby(range(len(needs)), key=lambda i: route.setup[i]):
        left = list(members)
        verdict = route.verdicts[left[0]]
        blocks, dies = _blocks(route.widths[group], verdict.tooling, setups[-1] if setups else None)
        while left:
            count = len(left)
            while (at := placed(blocks, dies, [needs[i] for i in left[:count]])) is None:
                count -= 1
            widths, back = route.widths[group], verdict.stroke.setback
            setups.append(Setup(verdict.tooling, blocks, dies, tuple(i + 1 for i in left[:count]), widths, at.offsets, back))
            for s, i in enumerate(left[:count]):
                each = [block.placed(at.left(s, b)) for b, block in enumerate((*blocks, *dies))]
                upper = tuple(piece for pieces in each[: len(blocks)] for piece in pieces)
                under = tuple(piece for pieces in each[len(blocks) :] for piece in pieces)
                clearance = route.verdicts[i].stroke.clearance(route.verdicts[i].reach, upper, under)
                strokes.append(PlannedStroke(i + 1, route.verdicts[i], upper, under, len(setups) - 1, clearance, job.units))
            left = left[count:]
    return setups, strokes


def _blocks(widths: Widths, tooling: Tooling, before: Setup | None) -> tuple[tuple[Block, ...], tuple[Block, ...]]:
    """Fingers, or punch and die pieces: those that stand already where they serve; a die as long as the punch where it can be."""
    if before is not None and before.tooling.standing == tooling.standing and len(before.blocks) == len(widths):
        serves = zip(before.blocks, widths, strict=True)
        if all(least - 1e-6 <= block.total <= most + 1e-6 for block, (least, most, _) in serves):
            return before.blocks, before.die_blocks
    blocks = fit(widths, tooling.sections)
    assert blocks is not None, "the search only shares blocks the rack can make"
    if tooling.under is None:
        return blocks, ()
    alike: Widths = tuple((round(b.total, 6), round(b.total, 6), round(b.total, 6)) for b in blocks)
    dies = fit(alike, tooling.under) or fit(widths, tooling.under)
    assert dies is not None, "the search only shares blocks the rack can make"
    return blocks, dies


def no(job: Job, blank: Blank, brake: Brake, why: str, reasons: tuple[str, ...], judged: int = 0) -> Plan:
    """The plan of what cannot be made."""
    return Plan(job, blank, brake, (), (), tr("Cannot be made on this brake: {why}.").format(why=why), reasons, judged)


def failed(job: Job, search: Search, failure: Failure) -> Plan:
    """The plan of a search that found no order."""
    blank, brake = search.blank, search.brake
    why, reasons = no_order(failure, blank, machine_of(brake).words, job.units, search.choices.moves, job.order.avoid)
    nearest = failure.verdicts[0]
    stuck = PlannedStroke(len(failure.made) + 1, nearest, (), (), 0, 0.0, job.units)
    plan = replace(no(job, blank, brake, why, reasons, search.judged), stuck=stuck)
    if job.order.any:
        return replace(plan, sentence=tr("Cannot be made in this order: {why}.").format(why=why))
    if not failure.complete:
        sentence = tr("No order found, and that is no proof: {why}.").format(why=why)
        return replace(plan, sentence=sentence, open=True, nothing_found=True)
    if blank.creases:
        return replace(plan, sentence=tr("No order found for a pan with folded corners: {why}.").format(why=why))
    return plan
