"""Where the blocks of a set-up stand: one place for all its strokes, while the part is moved along
to each.

Every block must stand within its room on every stroke, and cover what it must. With block b at
``offset[b]`` from the first and stroke s moved by ``shift[s]``, that is low ≤ shift + offset ≤ high
for each pair: differences only, so the longest chains of limits (Bellman and Ford) say whether it
can be, and a few rounds of moving to the middle say where it is best.
"""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..bending.machines import machine_of
from ..bending.segments import Block, BlockRoom, Demand, Needs, Widths, fit
from ..bending.tooling import Tooling
from ..brake.brake import Brake
from ..brake.tools import Segment
from ..flat.blank import Blank
from ..i18n import JoinedText, Phrase, msg
from ..job.job import Job
from .hand_finishing import HandMeans
from .plan import Plan, PlannedStroke, ToolSetup, radius_error
from .route import Failure, Route
from .search import Search
from .wording import aside, no_order, verdict_sentence, watch

ROUNDS = 12
"""Times everything is moved to the middle of what is left to it."""

NEAR = 1e-9
"""mm; limits that cross by less are rounding."""


@dataclass(frozen=True)
class Placing:
    """Blocks and strokes of a set-up.

    Attributes:
        offsets: mm, left end of every block from that of the first.
        shifts: mm, left end of the first block along every stroke's x.
    """

    offsets: tuple[float, ...]
    shifts: tuple[float, ...]

    def left(self, stroke: int, block: int) -> float:
        """Left end of a block along a stroke's x, mm."""
        return self.shifts[stroke] + self.offsets[block]


def limits(block: Block, room: BlockRoom) -> tuple[float, float, float]:
    """Least and greatest place of a block's left end in a room, and where it is best, mm."""
    low = max(room.room[0], room.cover[1] - block.total)
    high = min(room.room[1] - block.total, room.cover[0])
    if low > high:
        low = high = (low + high) / 2
    middle = (room.cover[0] + room.cover[1]) / 2 - block.total / 2
    return low, high, min(max(middle, low), high)


def placed(
    blocks: Sequence[Block], lower: Sequence[Block], needs: Sequence[Demand]
) -> Placing | None:
    """One place for the blocks of a set-up that serves all its strokes; None when there is none.

    Args:
        blocks: fingers or punch pieces, left to right.
        lower: the die pieces under them; empty on a leaf brake.
        needs: what every stroke asks of the blocks.
    """
    every = (*blocks, *lower)
    result = np.array(
        [
            [
                limits(block, room)
                for block, room in zip(every, (*need.rooms, *need.under), strict=True)
            ]
            for need in needs
        ]
    )
    low, high, best = result[..., 0], result[..., 1], result[..., 2]
    strokes, count = low.shape
    # shift = −y: offset − y between low and high. Start from the greatest values all limits allow.
    offset, y = np.zeros(count), np.zeros(strokes)
    for _ in range(strokes + count + 1):
        before = (offset.copy(), y.copy())
        offset = np.minimum(offset, (y[:, None] + high).min(axis=0))
        y = np.minimum(y, (offset[None, :] - low).min(axis=1))
        if np.allclose(before[0], offset, atol=NEAR) and np.allclose(before[1], y, atol=NEAR):
            break
    else:
        return None
    shift, offset = -y + offset[0], offset - offset[0]
    for _ in range(ROUNDS):
        shift = np.clip(
            (best - offset).mean(axis=1), (low - offset).max(axis=1), (high - offset).min(axis=1)
        )
        wanted = np.clip(
            (best - shift[:, None]).mean(axis=0),
            (low - shift[:, None]).max(axis=0),
            (high - shift[:, None]).min(axis=0),
        )
        offset[1:] = wanted[1:]
    return Placing(tuple(map(float, offset)), tuple(map(float, shift)))


APART = 20.0
"""Least room (mm) between what stands at one station and a part bent at the other. Common practice,
no source."""


def side_by_side(
    setups: Sequence[ToolSetup], strokes: Sequence[PlannedStroke], brake: Brake
) -> tuple[ToolSetup, ...]:
    """The set-ups, each moved to its station along the bed when all of them can stand there at
    once; else as they were.

    They must want the same of the machine (the leaf's angle, the place on the bed, the heights of
    punch and die), the rack must hold the pieces of all of them, and no part bent at one station
    may reach the tools of another.

    Args:
        setups: the set-ups, in order.
        strokes: in order.
        brake: the machine.
    """
    alike = all(
        setups[0].tooling.stands_beside(s.tooling) and abs(s.setback - setups[0].setback) < 0.01
        for s in setups[1:]
    )
    if len(setups) < 2 or not alike or not _in_rack(setups):
        return tuple(setups)
    half = [0.0] * len(setups)
    reach: list[tuple[float, float]] = []
    for number, _ in enumerate(setups):
        at = [s for s in strokes if s.setup == number]
        middles = [(s.sections[0][0] + s.sections[-1][1]) / 2 for s in at]
        ranges = [s.verdict.stroke.setting.x_range for s in at]
        left = min(r[0] - m for r, m in zip(ranges, middles, strict=True))
        right = max(r[1] - m for r, m in zip(ranges, middles, strict=True))
        reach.append((left, right))
        # Dies may be longer than what stands over them.
        half[number] = max(
            max(middle - low, high - middle)
            for stroke, middle in zip(at, middles, strict=True)
            for low, high in (*stroke.sections, *stroke.die_sections)
        )
    places = [0.0]
    for i in range(1, len(setups)):
        right_of_part = max(reach[i - 1][1], half[i - 1]) + half[i]
        left_of_part = half[i - 1] + max(-reach[i][0], half[i])
        places.append(places[-1] + max(right_of_part, left_of_part) + APART)
    low = min(
        p - (h if brake.open_ends else max(h, -r[0]))
        for p, h, r in zip(places, half, reach, strict=True)
    )
    high = max(
        p + (h if brake.open_ends else max(h, r[1]))
        for p, h, r in zip(places, half, reach, strict=True)
    )
    if high - low > brake.bed_length:
        return tuple(setups)
    middle = (low + high) / 2
    return tuple(replace(s, station=p - middle) for s, p in zip(setups, places, strict=True))


def _in_rack(setups: Sequence[ToolSetup]) -> bool:
    """True when the rack holds the pieces of all set-ups at once."""
    wanted: dict[tuple[str, tuple[Segment, ...]], Counter[float]] = {}
    for setup in setups:
        for rack, blocks in zip(
            setup.tooling.racks, (setup.blocks, setup.die_blocks), strict=False
        ):
            need = wanted.setdefault((rack.kind, rack.pieces), Counter())
            need.update(round(w, 3) for b in blocks for w in b.widths)
    for (_, pieces), need in wanted.items():
        have: Counter[float] = Counter()
        for piece in pieces:
            have[round(piece.width, 3)] += piece.count
        if any(have[width] < count for width, count in need.items()):
            return False
    return True


def planned(job: Job, search: Search, route: Route) -> Plan:
    """The plan of a route: sections placed, room measured, what is to be said. Its cost is that of
    the route with a walk instead of a change of tools where all set-ups stand on the bed at
    once.

    Args:
        job: the job.
        search: the search it came of.
        route: the strokes found.
    """
    blank, brake, costs = search.blank, search.brake, search.choices.costs
    setups, strokes = set_up(job, route)
    setups = list(side_by_side(setups, strokes, brake))
    steps = aside(blank, strokes, job.units)
    # What the sentence has not said yet: work before and between, not the last degrees of a wall.
    more = [
        step.message
        for step in steps
        if step.by in (HandMeans.OWN_TOOL, HandMeans.HAND, HandMeans.VISE, HandMeans.SEAMER)
        and len(step.folds) > 0
        and not any(s.name in step.folds for s in strokes)
    ]
    message = JoinedText((verdict_sentence(strokes, setups, machine_of(brake).words), *more), " ")
    watched = watch(strokes)
    if not route.cheapest:
        watched = (
            *watched,
            msg("The order works; with so many bends not every cheaper one was looked at."),
        )
    cost = route.cost
    if any(setup.station for setup in setups):
        cost += max(route.setup) * (costs.stationed.new_tools - costs.new_tools)
    unheld = tuple(finding.says for finding in machine_of(brake).unheld(blank, brake, job.units))
    error = radius_error(job, brake, blank, route.verdicts)
    if error is not None:
        watched = (error.message(job.units), *watched)
    watched = (*unheld, *watched)
    return Plan(
        job,
        blank,
        brake,
        tuple(strokes),
        tuple(setups),
        message,
        watched,
        search.judged,
        steps,
        cost=cost,
        unheld=unheld,
        radius_error=error,
    )


def set_up(job: Job, route: Route) -> tuple[list[ToolSetup], list[PlannedStroke]]:
    """What stands in the brake for the strokes of a route, and where.

    Strokes share a set-up as long as one place of its blocks serves them all; where none does, the
    next begins there.
    """
    needs: list[Demand] = []
    for verdict in route.verdicts:
        assert verdict.demand is not None, "the search only takes strokes the sections can hold"
        needs.append(verdict.demand)
    setups: list[ToolSetup] = []
    strokes: list[PlannedStroke] = []
    for group, members in itertools.groupby(range(len(needs)), key=lambda i: route.setup[i]):
        left = list(members)
        verdict = route.verdicts[left[0]]
        choices = _blocks(route.needs[group], verdict.tooling, setups[-1] if setups else None)
        while left:
            # The most strokes in one place; among equals the first choice.
            count = next(
                n
                for n in range(len(left), 0, -1)
                if any(placed(*c, [needs[i] for i in left[:n]]) for c in choices)
            )
            served = [needs[i] for i in left[:count]]
            blocks, dies, at = next(
                (*c, at) for c in choices if (at := placed(*c, served)) is not None
            )
            widths, back = route.needs[group][0], verdict.stroke.setback
            setups.append(
                ToolSetup(
                    verdict.tooling,
                    blocks,
                    dies,
                    tuple(i + 1 for i in left[:count]),
                    widths,
                    at.offsets,
                    back,
                )
            )
            for s, i in enumerate(left[:count]):
                each = [block.placed(at.left(s, b)) for b, block in enumerate((*blocks, *dies))]
                upper = tuple(piece for pieces in each[: len(blocks)] for piece in pieces)
                under = tuple(piece for pieces in each[len(blocks) :] for piece in pieces)
                clearance = route.verdicts[i].stroke.clearance(
                    route.verdicts[i].reach, upper, under
                )
                strokes.append(
                    PlannedStroke(
                        i + 1,
                        route.verdicts[i],
                        upper,
                        under,
                        len(setups) - 1,
                        clearance,
                        job.units,
                    )
                )
            left = left[count:]
    return setups, strokes


Blocks = tuple[tuple[Block, ...], tuple[Block, ...]]
"""Fingers or punch pieces, and the die pieces under them."""


def _blocks(needs: Needs, tooling: Tooling, before: ToolSetup | None) -> list[Blocks]:
    """Fingers, or punch and die pieces, the best first: those that stand already where they serve;
    a die as long as the punch where it can be, then the one that covers best, then the shortest,
    which stands clear of what hangs down at either end."""
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
    result = dict.fromkeys(
        dies for widths in asked if (dies := fit(widths, tooling.under)) is not None
    )
    assert result, "the search only shares blocks the rack can make"
    return [(blocks, dies) for dies in result]


def _serve(blocks: Sequence[Block], widths: Widths) -> bool:
    """True when blocks are as wide as is asked."""
    return len(blocks) == len(widths) and all(
        least - 1e-6 <= block.total <= most + 1e-6
        for block, (least, most, _) in zip(blocks, widths, strict=True)
    )


def no(
    job: Job, blank: Blank, brake: Brake, why: Phrase, reasons: tuple[Phrase, ...], judged: int = 0
) -> Plan:
    """The plan of what cannot be made.

    Args:
        job: the job.
        blank: the flat.
        brake: the machine.
        why: the reason, short.
        reasons: all reasons, in sentences.
        judged: strokes judged.
    """
    return Plan(
        job,
        blank,
        brake,
        (),
        (),
        msg("Cannot be made on this brake: {why}.", why=why),
        reasons,
        judged,
    )


def failed(job: Job, search: Search, failure: Failure) -> Plan:
    """The plan of a search that found no order.

    Args:
        job: the job.
        search: the search it came of.
        failure: where the search got stuck.
    """
    blank, brake = search.blank, search.brake
    why, reasons = no_order(
        failure, blank, machine_of(brake).words, job.units, search.choices.moves, job.order.avoid
    )
    nearest = failure.verdicts[0]
    stuck = PlannedStroke(len(failure.made) + 1, nearest, (), (), 0, 0.0, job.units)
    plan = replace(no(job, blank, brake, why, reasons, search.judged), stuck=stuck)
    if job.order.any:
        return replace(plan, message=msg("Cannot be made in this order: {why}.", why=why))
    if not failure.complete:
        message = msg("No order found, and that is no proof: {why}.", why=why)
        return replace(plan, message=message, open=True, nothing_found=True)
    if blank.creases:
        return replace(
            plan,
            message=msg("No order found for a pan with folded corners: {why}.", why=why),
        )
    return plan
