"""The figures of a set-up in words: what a person sets on the brake for one stroke."""

from __future__ import annotations

import math

from ...measure import INCH, AngleReading, Units, show_angle, show_length
from ...measure.words import the, tr
from ..stroke.machine import Card, Fact, FactKey
from ..stroke.machines import machine_of
from ..stroke.sections import width_text
from .gauging import GaugeStop
from .plan import Plan, PlannedStroke, bare_text
from .set_up import HandWork, SetUp, set_up_of


def held(plan: Plan, stroke: PlannedStroke) -> str:
    """Which panel is held, and which face is up: ``base, inside face up``."""
    setting = stroke.verdict.stroke.setting
    said = tr("{name}, inside face up") if setting.line.angle > 0 else tr("{name}, outside face up")
    return said.format(name=plan.blank.panels[setting.clamped].name)


def gauge_text(stop: GaugeStop, units: Units) -> str:
    """Where the stop stands, in words."""
    if stop.sighted:
        return tr("none: sight the line")
    moved = (
        tr("still true")
        if stop.true
        else tr("moved by {moved_by}").format(moved_by=tr(" and ").join(the(fold) for fold in stop.moved_by))
    )
    what = (
        tr("outside of {against}").format(against=the(stop.against))
        if stop.leg
        else tr("edge of {against}").format(against=the(stop.against))
    )
    return tr("{distance} from the line to the {what}, {moved}{fingers}").format(
        distance=show_length(stop.distance, units.fine), what=what, moved=moved, fingers=fingers_text(stop, units)
    )


def fingers_text(stop: GaugeStop, units: Units) -> str:
    """Where along the fold fingers of the stop stand, from its left end; empty where they may stand anywhere behind it."""
    if stop.sighted or stop.anywhere:
        return ""
    places = tr(" and ").join(
        tr("{low} to {high}").format(
            low=show_length(low - stop.fold[0], units, pretty=True), high=show_length(high - stop.fold[0], units, pretty=True)
        )
        for low, high in stop.at
    )
    return tr("; its fingers {places} from the fold's left end").format(places=places)


LEAST_AHEAD = 0.05
"""Degrees the leaf stands ahead of the sheet before that is told."""


def over_text(stroke: PlannedStroke, set_up: SetUp) -> str:
    """What the stop angle is made of, in brackets."""
    said, ahead = _made_of(stroke, set_up), set_up.machine_stop - set_up.stop_angle
    if ahead < LEAST_AHEAD:
        return f"({said})"
    return tr("(the sheet at {sheet}, the leaf {ahead} ahead of it; {said})").format(
        sheet=show_angle(set_up.stop_angle), ahead=show_angle(ahead), said=said
    )


def _made_of(stroke: PlannedStroke, set_up: SetUp) -> str:
    verdict = stroke.verdict
    if set_up.limit:
        rest = (
            tr("the rest by hand")
            if verdict.by_hand
            else tr("comes out at {released}").format(released=show_angle(set_up.released))
        )
        return tr("wanted {wanted}; {rest}").format(wanted=show_angle(verdict.wanted), rest=rest)
    return tr("{target} and {over_bend} over").format(target=show_angle(set_up.target), over_bend=show_angle(set_up.over_bend))


def _why(plan: Plan, stroke: PlannedStroke) -> str:
    """Where the over-bend comes from."""
    said = stroke.verdict.springback.why
    return f"{said}, {plan.job.springback_from}" if plan.job.springback is not None and plan.job.springback_from else said


WAYS = {
    "side": tr("in and out from the end of the brake"),
    "lifted": tr("lifted on the way in and out, so that what hangs down passes over the {over}"),
    "tipped": tr(
        "drawn forward {forward}, then tipped front up by {tip} about its back edge, on the way out; in the same backwards: what stands "
        "at the back leans back and passes under"
    ),
    "drawn": tr("drawn to the front as it stands and tipped there, on the way out; in the same backwards"),
    "along": tr("slid on and off along the punch, from the end of the press"),
}


def hand_work_text(work: HandWork, units: Units) -> tuple[str, ...]:
    """What a hand does with the part, in sentences without which the plan does not hold."""
    said = [tr("guide {tab} under {hem} as it comes up").format(tab=the(tab), hem=the(hem)) for tab, hem in work.guided]
    if work.draw:
        # Rounded up: less would not do. Where what stands behind the tool leaves less room than that, both limits are said.
        tick = INCH / 8 if units.is_inch else 1.0
        draw = math.ceil(work.draw / tick - 1e-9) * tick
        most = work.draw_most
        if most is None or draw <= most:
            said.append(tr("draw it {draw} to the front before you open").format(draw=show_length(draw, units, pretty=True)))
        else:
            said.append(
                tr("let the clamp off and draw it {draw} to the front, no more than {most}, before you open").format(
                    draw=show_length(work.draw, units.fine, pretty=True), most=show_length(most, units.fine, pretty=True)
                )
            )
    if work.tipped_after:
        about = INCH / 4 if units.is_inch else 5.0
        said.append(
            tr(
                "with the ram up, draw it to the front as it stands, about {by}, until its back side comes near the punch or the ram, and "
                "tip it there"
            ).format(by=show_length(math.floor(work.tipped_after / about) * about, units, pretty=True))
        )
    if work.open_most is not None:
        said.append(
            tr("open no more than {most}, lift it {lift} and take it off").format(
                most=show_length(work.open_most, units, pretty=True), lift=show_length(work.lift, units, pretty=True)
            )
        )
    return tuple(said)


def set_up_facts(plan: Plan, stroke: PlannedStroke) -> list[Fact]:
    """What is set, the most needed first."""
    units, found = plan.job.units, set_up_of(plan, stroke)
    setup = plan.setups[stroke.setup]
    tools = setup.tooling.marked_in
    card = Card(
        held=held(plan, stroke),
        tooling=setup.tooling.says,
        pieces=width_text(setup.blocks, tools, pretty=True),
        under=width_text(setup.die_blocks, tools, pretty=True) if setup.die_blocks else "",
        stop=f"{show_angle(found.machine_stop)}  {over_text(stroke, found)}",
        thickness=plan.blank.thickness,
        units=units,
    )
    facts = found.machine.facts(card)
    if plan.job.angles is not AngleReading.BEND and not stroke.verdict.flattens:
        reads = tr("{angle} {how}, once released").format(
            angle=show_angle(plan.job.angles.read(found.released)), how=plan.job.angles.words
        )
        facts.append(Fact(FactKey.READS, tr("Protractor reads"), reads))
    if setup.others:
        after = next(i for i, fact in enumerate(facts) if fact.key is FactKey.PIECES) + 1
        others = ";  ".join(width_text((block,), tools, pretty=True) for block in setup.others)
        facts.insert(after, Fact(FactKey.OTHERS, tr("Just as well"), others))
    if not found.gauge.sighted or plan.brake.gauge_reach is not None:
        facts.append(Fact(FactKey.GAUGE, tr("Back gauge"), gauge_text(found.gauge, units)))
    if setup.station:
        shown = show_length(abs(setup.station), units, pretty=True)
        left = setup.station < 0
        facts.append(
            Fact(
                FactKey.STATION,
                tr("Station"),
                (
                    tr("{shown} left of the bed's middle; all set-ups stand at once")
                    if left
                    else tr("{shown} right of the bed's middle; all set-ups stand at once")
                ).format(shown=shown),
            )
        )
    if stroke.verdict.way in WAYS:
        tip = stroke.verdict.stroke.tip
        said = WAYS[stroke.verdict.way].format(
            over=machine_of(plan.brake).words.line_over, tip=show_angle(math.degrees(tip.angle)),
            forward=show_length(tip.forward, units, pretty=True),
        )  # fmt: skip
        facts.append(Fact(FactKey.WAY, tr("Way"), said))
    facts += [Fact(FactKey.BARE, tr("Look at"), bare_text(*one, units)) for one in stroke.bare]
    facts += [Fact(FactKey.HAND, tr("By hand"), said) for said in hand_work_text(found.hand_work, units)]
    facts.append(Fact(FactKey.OVER_BEND, tr("Over-bend from"), _why(plan, stroke)))
    return [*facts, *found.machine.more(card)]
