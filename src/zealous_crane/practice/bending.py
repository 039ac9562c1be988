"""At the brake: in which order, what is met and at what angle, and what is set."""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence

from ..bending.machine import FactKey
from ..brake.brake import Brake
from ..i18n import msg, the, the_first, tr
from ..job.job import Job, OrderWishes
from ..kernel.obstacle import tool_words
from ..kernel.solid import ToolPart
from ..planning.order_requests import WishError
from ..planning.outcome import Outcome
from ..planning.plan import Plan, PlannedStroke
from ..planning.planner import make_plan
from ..planning.setup import LEAST_AHEAD, set_up_facts, set_up_of
from ..units.length import Units, show_length
from ..units.quantities import show_angle
from .exercise import Assignment, Exercise, Mark, Question, QuestionKind, Skill
from .layout import tick

ENOUGH = 400
"""Strokes judged after which an order asked for is not followed further: it is one order, and its
part-way ways."""

STOPPED = 0.6
"""Degrees an answer may be off by: a stop is not set closer."""

TOLD = 0.02
"""mm of setback beyond the thickness of the sheet that are told."""

NO_ROOM = 0.05
"""mm of setback that are none."""

NEAR = 1.0
"""Degrees within which a foretold angle is right."""

OTHERS = (
    ToolPart.BEAM,
    ToolPart.LEAF,
    ToolPart.BED,
    ToolPart.FINGER,
    ToolPart.RAM,
    ToolPart.PUNCH,
)
"""What a wrong answer may name."""


def strokes_of(plan: Plan) -> tuple[str, ...]:
    """Names of a plan's strokes as a person puts them in order."""
    return tuple(stroke.name for stroke in plan.strokes)


def folds_of(plan: Plan) -> dict[str, tuple[str, ...]]:
    """The folds every stroke of a plan makes, by the stroke's name."""
    names = [fold.name for fold in plan.blank.folds]
    return {s.name: tuple(names[i] for i in s.verdict.stroke.setting.folds) for s in plan.strokes}


def judged(job: Job, brake: Brake, sequence: Sequence[str]) -> Plan:
    """The plan of a part bent in an order a person chose: what the engine says of it.

    Args:
        job: the job.
        brake: the machine.
        sequence: names of the bends in order.
    """
    wished = job.model_copy(update={"order": OrderWishes(sequence=tuple(sequence))})
    return make_plan(wished, brake, limit=ENOUGH)


def order(assignment: Assignment) -> Exercise | None:
    """The exercise of ordering the bends, and of foretelling what ends a wrong order."""
    job, brake, plan = assignment.job, assignment.brake, assignment.plan
    if plan is None or len(plan.strokes) < 2:
        return None
    options = list(strokes_of(plan))
    best, folds = tuple(options), folds_of(plan)
    random.Random(assignment.seed).shuffle(options)
    offered = tuple(options)

    def mark(answer: object) -> Mark:
        assert isinstance(answer, tuple)
        sequence = [fold for i in answer for fold in folds[offered[i]]]
        try:
            result = judged(job, brake, sequence)
        except WishError as error:
            return Mark(False, str(error))
        if result.state is Outcome.STOP:
            return Mark(False, result.sentence, result.stuck)
        if result.least_cost is not None and result.cost > result.least_cost + 1e-6:
            return Mark(
                True,
                tr("It goes: {sentence} Less handling: {best}.").format(
                    sentence=result.sentence, best="; ".join(best)
                ),
            )
        return Mark(
            True,
            tr("It goes, and no order takes less handling: {sentence}").format(
                sentence=result.sentence
            ),
        )

    questions = [
        Question(
            "order",
            tr("Put the bends in order"),
            QuestionKind.ORDER,
            mark,
            tr(
                "Hems first, then tabs; the walls whose neighbours "
                "must still lie flat; the wall that closes the box last."
            ),
            "; ".join(best),
            offered,
        )
    ]
    wrong = _stuck(job, brake, [plan.strokes[i].name for i in range(len(plan.strokes))], folds)
    if wrong is not None:
        questions += _foretold(*wrong, assignment.seed)
    task = tr("{name}, {sheet}, on the {brake}: which bend first, and which last?").format(
        name=job.name, sheet=plan.blank.sheet.name, brake=brake.name
    )
    return assignment.exercise(ORDER, task, questions, at_the_machine=True)


ORDER = Skill("order", msg("Order"), order)


def _stuck(
    job: Job, brake: Brake, best: Sequence[str], folds: dict[str, tuple[str, ...]]
) -> tuple[tuple[str, ...], PlannedStroke] | None:
    """An order that gets stuck on the swing, and the stroke that does; None when none of a few
    does."""
    for sequence in dict.fromkeys(
        (tuple(best[::-1]), (*best[1:], best[0]), (best[-1], *best[:-1]))
    ):
        try:
            result = judged(job, brake, [fold for name in sequence for fold in folds[name]])
        except WishError:
            continue
        stuck = result.stuck
        if (
            result.state is Outcome.STOP
            and stuck is not None
            and stuck.verdict.limit is not None
            and stuck.verdict.reach > 1.0
        ):
            return sequence, stuck
    return None


def _foretold(sequence: tuple[str, ...], stuck: PlannedStroke, seed: int) -> list[Question]:
    limit, reach, name = stuck.verdict.limit, stuck.verdict.reach, stuck.name
    assert limit is not None
    obstacle = limit.obstacle
    tools = tuple(
        dict.fromkeys(
            [
                obstacle.tool,
                *random.Random(seed).sample(OTHERS, 3),
            ]
        )
    )
    tools = tuple(sorted(tools, key=lambda tool: str(tool_words(tool))))
    text = ", ".join(sequence)

    def what(answer: object) -> Mark:
        right = tools[int(answer)] == obstacle.tool  # type: ignore[call-overload]
        return Mark(
            right,
            tr("{sentence}, at {angle}.").format(
                sentence=obstacle.sentence(), angle=show_angle(round(reach, 1))
            )
            if right
            else tr("Not that one: look at what stands up when {name} swings.").format(
                name=the(name)
            ),
        )

    def angle(answer: object) -> Mark:
        off = float(answer) - reach  # type: ignore[arg-type]
        if abs(off) <= max(NEAR, 0.08 * reach):
            return Mark(True, tr("It stops at {angle}.").format(angle=show_angle(round(reach, 1))))
        return Mark(False, tr("It stops sooner.") if off > 0 else tr("It gets farther than that."))

    return [
        Question(
            "meets",
            tr("Bent {order}: what does {name} end at?").format(order=text, name=the(name)),
            QuestionKind.CHOICE,
            what,
            tr(
                "Of two walls side by side the one that stands is met by the fingers, one that "
                "stands opposite by beam or ram."
            ),
            str(obstacle.sentence()),
            tuple(str(tool_words(tool)) for tool in tools),
        ),
        Question(
            "reach",
            tr("And at about what angle of {name}, bent from flat?").format(name=the(name)),
            QuestionKind.ANGLE,
            angle,
            tr(
                "Draw the standing wall from the side and swing it with a compass about the fold "
                "until it touches."
            ),
            show_angle(round(reach, 1)),
        ),
    ]


def set_up(assignment: Assignment) -> Exercise | None:
    """The exercise of setting up for a stroke: where to stop, and what else the machine is set
    to."""
    job, brake, plan = assignment.job, assignment.brake, assignment.plan
    if plan is None:
        return None
    # The last wall that stands and is not stopped short: what is up already decides what goes over
    # it.
    stroke = max(
        plan.strokes, key=lambda s: (not s.verdict.flattens, not _stops_short(plan, s), s.number)
    )
    questions = [_stop(plan, stroke)]
    if stroke.verdict.stroke.setback > 0:
        questions.append(_setback(stroke, job.units))
    if plan.setups[stroke.setup].blocks:
        questions.append(_section_sum(plan, stroke, job.units))
    facts = tuple(
        f"{fact.label}: {fact.value}"
        for fact in set_up_facts(plan, stroke)
        if fact.key in (FactKey.HELD, FactKey.WAY)
    )
    facts = (*facts, *_told(plan, stroke, job.units))
    task = tr(
        "{name}, {sheet}, on the {brake}: set up for {stroke}, bend {number} of {count}."
    ).format(
        name=job.name,
        sheet=plan.blank.sheet.name,
        brake=brake.name,
        stroke=the(stroke.name),
        number=stroke.number,
        count=len(plan.strokes),
    )
    return assignment.exercise(SET_UP, task, questions, at_the_machine=True, table=facts)


SET_UP = Skill("set-up", msg("Set up"), set_up)


def _told(plan: Plan, stroke: PlannedStroke, units: Units) -> Iterator[str]:
    """What the answers rest on and no size of the part gives."""
    result, ahead = set_up_of(plan, stroke), _ahead(plan, stroke)
    if _stops_short(plan, stroke):
        meets = tr("It meets what stands at {angle} and is finished by hand.")
        yield meets.format(angle=show_angle(round(result.machine_stop, 1)))
    elif result.over_bend:
        yield tr("The metal springs back by {over} here.").format(
            over=show_angle(round(result.over_bend, 1))
        )
    if ahead:
        yield tr("The leaf stands {ahead} ahead of the sheet there.").format(
            ahead=show_angle(ahead)
        )
    setback, thickness = stroke.verdict.stroke.setback, plan.blank.thickness
    if setback > thickness + TOLD:
        more = show_length(setback - thickness, units.fine)
        yield tr(
            "The round of the bend asks for {more} more than the thickness of the sheet."
        ).format(more=more)
    low, high = stroke.verdict.stroke.setting.span
    demand = stroke.verdict.demand
    most = sum(width[1] for width in demand.widths) if demand is not None else high - low
    if most < high - low:
        yield tr("The walls that stand leave {most} for the pieces.").format(
            most=show_length(most, units, pretty=True)
        )


def _stops_short(plan: Plan, stroke: PlannedStroke) -> bool:
    """True where a stroke is stopped before the angle wanted and what it springs back by."""
    result = set_up_of(plan, stroke)
    return result.stop_angle < result.target + result.over_bend - STOPPED


def _ahead(plan: Plan, stroke: PlannedStroke) -> float:
    """Degrees, to a tenth, by which the leaf is set ahead of the sheet; 0 where nobody would
    tell."""
    result = set_up_of(plan, stroke)
    ahead = result.machine_stop - result.stop_angle
    return round(ahead, 1) if ahead >= LEAST_AHEAD else 0.0


def _stop(plan: Plan, stroke: PlannedStroke) -> Question:
    """At what angle the stroke is stopped, as it is set on the machine."""
    result, ahead = set_up_of(plan, stroke), _ahead(plan, stroke)
    right = result.machine_stop
    leaf = [
        (
            result.stop_angle,
            tr("That is the sheet's angle: the leaf is set {ahead} ahead of it.").format(
                ahead=show_angle(ahead)
            ),
        )
    ]
    mistakes = (
        *(leaf if ahead > STOPPED else []),
        (result.target, tr("That is the angle wanted after release: the springback is missing.")),
        (result.target - result.over_bend, tr("The springback was taken off; it is added.")),
        (
            180 - right,
            tr(
                "That is the angle inside, between the faces: the leaf or ram is stopped by how "
                "far the sheet is bent from flat."
            ),
        ),
    )

    def mark(answer: object) -> Mark:
        value = float(answer)  # type: ignore[arg-type]
        if abs(value - right) <= STOPPED:
            stop, wanted, back = (
                show_angle(round(v, 1)) for v in (right, result.target, result.over_bend)
            )
            text = tr("{stop}: {wanted} and {back} over.").format(
                stop=stop, wanted=wanted, back=back
            )
            if ahead:
                text = tr(
                    "{stop}: {wanted}, {back} over, and the leaf {ahead} ahead of the sheet."
                ).format(stop=stop, wanted=wanted, back=back, ahead=show_angle(ahead))
            return Mark(True, text)
        why = next((why for other, why in mistakes if abs(value - other) <= STOPPED), None)
        if why is None:
            too_far = tr("Too far: adding bend is easy, taking it out is not.")
            why = too_far if value > right else tr("It springs back further.")
        return Mark(False, why)

    return Question(
        "stop",
        tr("{name}: at what angle, bent from flat, is it stopped?").format(name=stroke.name),
        QuestionKind.ANGLE,
        mark,
        tr("The angle wanted, and what the metal springs back by."),
        show_angle(round(right, 1)),
    )


def _setback(stroke: PlannedStroke, units: Units) -> Question:
    """How far the nose stands behind the bed's edge."""
    setback = stroke.verdict.stroke.setback

    def mark(answer: object) -> Mark:
        value = float(answer)  # type: ignore[arg-type]
        if abs(value - setback) <= max(tick(units), 0.1):
            text = tr("The nose stands back by {setback}, both ends alike.")
            return Mark(True, text.format(setback=show_length(setback, units.fine)))
        if abs(value) < NO_ROOM:
            return Mark(
                False, tr("With no room for the metal the leaf would crush it against the nose.")
            )
        too_far = tr("Too far back: the bend gets round and wanders.")
        return Mark(
            False,
            too_far if value > setback else tr("Too close: the metal and its bend must pass."),
        )

    return Question(
        "setback",
        tr("How far does the nose stand behind the bed's edge?"),
        QuestionKind.LENGTH,
        mark,
        tr("By the thickness of the metal; more where the bend is rounder."),
        show_length(setback, units.fine),
    )


def _section_sum(plan: Plan, stroke: PlannedStroke, units: Units) -> Question:
    """How wide the pieces over the fold are in all."""
    low, high = stroke.verdict.stroke.setting.span
    length = high - low
    total = sum(block.total for block in plan.setups[stroke.setup].blocks)
    demand = stroke.verdict.demand
    least = sum(max(0.0, w[0]) for w in demand.widths) if demand is not None else 0.0
    most = sum(w[1] for w in demand.widths) if demand is not None else length

    def shown(value: float) -> str:
        return show_length(value, units, pretty=True)

    def mark(answer: object) -> Mark:
        value = float(answer)  # type: ignore[arg-type]
        if least - tick(units) <= value <= most + tick(units):
            text = tr("Between {least} and {most} will do; the plan takes {total}.")
            return Mark(True, text.format(least=shown(least), most=shown(most), total=shown(total)))
        too_wide = tr("Wider than the walls beside it allow.")
        return Mark(
            False,
            too_wide if value > most else tr("Too much of the fold would be without support."),
        )

    return Question(
        "sum",
        tr("{name} is {length} long. How wide are the pieces over it in all?").format(
            name=the_first(stroke.name), length=shown(length)
        ),
        QuestionKind.LENGTH,
        mark,
        tr("They just fit between the walls that stand; small gaps do no harm."),
        shown(total),
    )
