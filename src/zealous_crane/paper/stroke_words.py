"""What stands on the page of one stroke at the brake: how the part is held and stopped, the tools,
what to look out for."""

from __future__ import annotations

from collections.abc import Callable

from ..bending.segments import width_text
from ..i18n import msg, the, to_text, tr
from ..kernel.obstacle import Way
from ..planning.motion import Handling, MotionSpan
from ..planning.plan import HandStep, Plan, PlannedStroke, closing_text
from ..planning.setup import StrokeSettings, fingers_text, hand_work_text, held, set_up_of
from ..shop.safety_notes import cautions_at
from ..units.length import show_length
from ..units.quantities import show_angle


def hold_text(
    plan: Plan, stroke: PlannedStroke, stroke_settings: StrokeSettings, first: float | None
) -> str:
    """How the part is turned, held and stopped.

    Args:
        plan: the plan.
        stroke: one of its strokes.
        stroke_settings: what is set for it.
        first: degrees a first part is stopped at before it is measured; None when none is.
    """
    units = plan.job.units
    text = turn_text(plan, stroke) + stroke_settings.machine.hold(held(plan, stroke), units)
    if not stroke_settings.gauge.sighted:
        what = (
            tr("outside of {against}").format(against=the(stroke_settings.gauge.against))
            if stroke_settings.gauge.leg
            else tr("edge of {against}").format(against=the(stroke_settings.gauge.against))
        )
        text += tr(" Stop {distance} behind the line, against the {what}{fingers}.").format(
            distance=show_length(stroke_settings.gauge.distance, units.fine),
            what=what,
            fingers=fingers_text(stroke_settings.gauge, units),
        )
    if first is not None:
        text += tr(
            " First part: stop at {first}, let go, measure, type it. Planned is {stop}."
        ).format(
            first=show_angle(stroke.verdict.stroke.set_for(first)),
            stop=show_angle(stroke_settings.machine_stop),
        )
    return text


def sections_text(plan: Plan, stroke: PlannedStroke) -> str:
    """What stands in the brake, and whether it is set up anew or left."""
    setup = plan.setups[stroke.setup]
    blocks = width_text(setup.blocks, setup.tooling.marked_in, pretty=True)
    with_ = f"{setup.tooling.says}: " if setup.tooling.says else ""
    return fresh_text(plan, stroke) + with_ + blocks + nose_text(plan, stroke)


MOST_CAUTIONS = 2
"""Cautions of one stroke at most: what is said the first time comes first."""


def cautions_text(plan: Plan, step: PlannedStroke | HandStep) -> str:
    """The cautions that belong to a step."""
    return " ".join(str(caution.text) for caution in cautions_at(plan, step)[:MOST_CAUTIONS])


def is_new_caution(plan: Plan, step: PlannedStroke | HandStep) -> bool:
    """True when a caution of a step is said the first time: it stands larger then."""
    return any(caution.first for caution in cautions_at(plan, step)[:MOST_CAUTIONS])


def care_text(plan: Plan, stroke: PlannedStroke) -> str:
    """What to look out for, and what a hand does."""
    verdict = stroke.verdict
    watch = stroke.sentence() if verdict.by_hand > 0 else ""
    if verdict.flattens:
        watch = tr("Then take it out and {close}.").format(close=closing_text(stroke))
    elif verdict.part_way:
        watch = tr("No farther: it is closed to {final} later.").format(
            final=show_angle(verdict.final)
        )
    work = hand_work_text(set_up_of(plan, stroke).hand_work, plan.job.units)
    by_hand = "".join(f"{text[:1].upper()}{text[1:]}. " for text in work)
    return " ".join(filter(None, (by_hand.strip(), watch, cautions_text(plan, stroke))))


def fresh_text(plan: Plan, stroke: PlannedStroke) -> str:
    """Whether the tools are set up anew for this stroke, or stand."""
    setup = plan.setups[stroke.setup]
    if stroke.number != setup.strokes[0]:
        return tr("Same tools: ")
    before = plan.setups[stroke.setup - 1] if stroke.setup else None
    stands = (
        before is not None and before.tooling == setup.tooling and before.blocks == setup.blocks
    )
    return tr("Same tools: ") if stands else tr("Set up: ")


def nose_text(plan: Plan, stroke: PlannedStroke) -> str:
    """Where the nose is set back to, when that is new with this stroke."""
    setup = plan.setups[stroke.setup]
    before = plan.setups[stroke.setup - 1].setback if stroke.setup else -1.0
    if (
        not setup.setback
        or stroke.number != setup.strokes[0]
        or abs(before - setup.setback) < 0.005
    ):
        return ""
    return tr(". Nose {setback} behind the bed's edge, both ends alike").format(
        setback=show_length(setup.setback, plan.job.units.fine)
    )


def turn_text(plan: Plan, stroke: PlannedStroke) -> str:
    """What to do with the sheet before this stroke."""
    if stroke.number == 1:
        return ""
    now, before = (
        stroke.verdict.stroke.setting,
        plan.strokes[stroke.number - 2].verdict.stroke.setting,
    )
    turned = float(now.frame.turn[1] @ before.frame.turn[1])
    over = tr("Turn it over. ") if now.line.angle * before.line.angle < 0 else ""
    return over + (
        ""
        if turned > 0.5
        else tr("Turn it end for end. ")
        if turned < -0.5
        else tr("Turn it a quarter. ")
    )


def motion_text(plan: Plan, span: MotionSpan) -> str:
    """What is done in a piece of the movement, a sentence.

    Args:
        plan: the plan.
        span: the piece.
    """
    if span.hand is not None:
        return span.hand.says
    return _MOTION_TEXTS[span.kind](plan, span.end.stroke)


def _held_text(plan: Plan, stroke: PlannedStroke) -> str:
    settings = set_up_of(plan, stroke)
    return settings.machine.hold(held(plan, stroke), plan.job.units)


def _turned_text(plan: Plan, stroke: PlannedStroke) -> str:
    return turn_text(plan, stroke).strip() or tr("Move it to the next line.")


def _stop_text(_: Plan, stroke: PlannedStroke) -> str:
    return tr("Stop at {stop}.").format(stop=show_angle(stroke.machine_stop))


def _flatten_text(plan: Plan, stroke: PlannedStroke) -> str:
    text = to_text(closing_text(stroke), plan.job.units)
    return f"{text[0].upper()}{text[1:]}."


def _let_go_text(plan: Plan, stroke: PlannedStroke) -> str:
    done = tr("Let go: it springs back to {released}.").format(
        released=show_angle(stroke.verdict.released)
    )
    work = hand_work_text(set_up_of(plan, stroke).hand_work, plan.job.units)
    return " ".join([done, *(f"{line[0].upper()}{line[1:]}." for line in work)])


def _out_text(_: Plan, stroke: PlannedStroke) -> str:
    return str(OUT_BY[stroke.verdict.way])


_MOTION_TEXTS: dict[Handling, Callable[[Plan, PlannedStroke], str]] = {
    Handling.CHANGE: sections_text,
    Handling.TURN: _turned_text,
    Handling.BRING_IN: _held_text,
    Handling.CLAMP: _held_text,
    Handling.BEND: _stop_text,
    Handling.FLATTEN: _flatten_text,
    Handling.LET_GO: _let_go_text,
    Handling.TAKE_OUT: _out_text,
}


OUT_BY = {
    Way.FRONT: msg("Take it out to the front."),
    Way.LIFTED: msg("Lift it, and take it out to the front."),
    Way.TIPPED: msg("Tip its front up, and take it out to the front."),
    Way.SIDE: msg("Slide it out at the end of the brake."),
    Way.ALONG: msg("Slide it off along the punch."),
    Way.DRAWN: msg("Draw it forward, tip it there, and take it out."),
}
"""How a part is taken out."""


HANDLING = {
    Handling.BY_HAND: msg("by hand"),
    Handling.CHANGE: msg("tools"),
    Handling.TURN: msg("turn"),
    Handling.BRING_IN: msg("bring in"),
    Handling.CLAMP: msg("clamp"),
    Handling.BEND: msg("bend"),
    Handling.FLATTEN: msg("flatten"),
    Handling.LET_GO: msg("let go"),
    Handling.TAKE_OUT: msg("take out"),
}
"""What is done with the part, in a word."""
