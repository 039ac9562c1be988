"""A plan said of a route that was found, or of there being none."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import replace

from ...blank import Blank
from ...brake import Brake
from ...job import Job
from ...measure.words import tr
from ..order.route import Failure, Route
from ..order.search import Search
from ..stroke.machines import machine_of
from ..stroke.sections import Block, Demand, Needs, Widths, fit
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
        assert verdict.demand is not None, "the search only takes strokes the sections can hold"
        needs.append(verdict.demand)
    setups: list[Setup] = []
    strokes: list[PlannedStroke] = []
    for group, members in itertools.groupby(range(len(needs)), key=lambda i: route.setup[i]):
        left = list(members)
        verdict = route.verdicts[left[0]]
        choices = _blocks(route.needs[group], verdict.tooling, setups[-1] if setups else None)
        while left:
            # The most strokes in one place; among equals the first choice.
            count = next(n for n in range(len(left), 0, -1) if any(placed(*c, [needs[i] for i in left[:n]]) for c in choices))
            served = [needs[i] for i in left[:count]]
            blocks, dies, at = next((*c, at) for c in choices if (at := placed(*c, served)) is not None)
            widths, back = route.needs[group][0], verdict.stroke.setback
            setups.append(Setup(verdict.tooling, blocks, dies, tuple(i + 1 for i in left[:count]), widths, at.offsets, back))
            for s, i in enumerate(left[:count]):
                each = [block.placed(at.left(s, b)) for b, block in enumerate((*blocks, *dies))]
                upper = tuple(piece for pieces in each[: len(blocks)] for piece in pieces)
                under = tuple(piece for pieces in each[len(blocks) :] for piece in pieces)
                clearance = route.verdicts[i].stroke.clearance(route.verdicts[i].reach, upper, under)
                strokes.append(PlannedStroke(i + 1, route.verdicts[i], upper, under, len(setups) - 1, clearance, job.units))
            left = left[count:]
    return setups, strokes


Blocks = tuple[tuple[Block, ...], tuple[Block, ...]]
"""Fingers or punch pieces, and the die pieces under them."""


def _blocks(needs: Needs, tooling: Tooling, before: Setup | None) -> list[Blocks]:
    """Fingers, or punch and die pieces, the best first: those that stand already where they serve; a die as long as the punch where it
    can be, then the one that covers best, then the shortest, which stands clear of what hangs down at either end."""
    if before is not None and before.tooling.standing == tooling.standing:
        stand = (before.blocks, before.die_blocks)
        if all(_serve(blocks, widths) for blocks, widths in zip(stand, needs, strict=False)):
            return [stand]
    blocks = fit(needs[0], tooling.sections)
    assert blocks is not None, "the search only shares blocks the rack can make"
    if tooling.under is None:
        return [(blocks, ())]
    alike: Widths = tuple((round(b.total, 6), round(b.total, 6), round(b.total, 6)) for b in blocks)
    shortest: Widths = tuple((least, most, least) for least, most, _ in needs[1])
    asked = ([alike] if _serve(blocks, needs[1]) else []) + [needs[1], shortest]
    found = dict.fromkeys(dies for widths in asked if (dies := fit(widths, tooling.under)) is not None)
    assert found, "the search only shares blocks the rack can make"
    return [(blocks, dies) for dies in found]


def _serve(blocks: Sequence[Block], widths: Widths) -> bool:
    """True when blocks are as wide as is asked."""
    return len(blocks) == len(widths) and all(
        least - 1e-6 <= block.total <= most + 1e-6 for block, (least, most, _) in zip(blocks, widths, strict=True)
    )


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
