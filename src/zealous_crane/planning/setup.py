"""What is set on the brake for one stroke, as data: cards, sheets, files and the page at the brake
all show these figures."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..bending.machine import CardFields, Fact, FactKey, MachineSettings
from ..bending.machines import machine_of
from ..bending.passage import CLEAR
from ..bending.segments import width_text
from ..i18n import msg, the, tr
from ..kernel.obstacle import Way
from ..units.length import INCH, Units, show_length
from ..units.quantities import AngleReading, show_angle
from .gauging import GaugeStop, gauge_stops
from .plan import Intervals, Plan, PlannedStroke, bare_text

TOLD = 1.0
"""mm a part is drawn to the front before that is told."""


@dataclass(frozen=True)
class HandWork:
    """What a hand does with the part at the brake for one stroke, besides holding it.

    Attributes:
        draw: how far the part is drawn to the front before what holds it is raised, mm; 0 where it
            need not be.
        draw_most: how far it may be drawn then, mm, for what stands behind the tool; None where any
            distance does.
        tipped_after: how far it is drawn to the front as it stands, the ram up, before it is
            tipped, mm; 0 where it is not.
        open_most: how far that may be raised then, mm; None for as far as it goes.
        lift: how far the part is lifted over what it lies on, on the way in and out, mm; 0 where it
            is not.
        guided: a tab and the hem under which it is guided while the wall comes up, by name.
    """

    draw: float = 0.0
    draw_most: float | None = None
    tipped_after: float = 0.0
    open_most: float | None = None
    lift: float = 0.0
    guided: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class StrokeSettings:
    """What is set for one stroke.

    Attributes:
        stop_angle: degrees the sheet stands at when the stroke is stopped.
        machine_stop: degrees the machine is set to for that: the leaf's own angle goes ahead of the
            sheet's.
        target: degrees wanted after release.
        released: degrees it is expected to stand at after release, with what the stroke reaches.
        over_bend: degrees gone past what it comes back to.
        limit: the stroke is stopped before its wanted angle by something that is met.
        greatest: degrees beyond which the stroke never goes: what is touched, or the machine's own
            end.
        sections, die_sections: interval of every piece along the stroke's x, mm.
        gauge: where the stop stands.
        hand_work: what a hand does with the part.
        machine: what belongs to this kind of machine.
    """

    stop_angle: float
    machine_stop: float
    target: float
    released: float
    over_bend: float
    limit: bool
    greatest: float
    sections: Intervals
    die_sections: Intervals
    gauge: GaugeStop
    hand_work: HandWork
    machine: MachineSettings


def set_up_of(plan: Plan, stroke: PlannedStroke) -> StrokeSettings:
    """Everything that is set for one stroke of a plan."""
    return plan.keep(("set-up", stroke.number), lambda: _set_up(plan, stroke))


def _set_up(plan: Plan, stroke: PlannedStroke) -> StrokeSettings:
    verdict, engine = stroke.verdict, stroke.verdict.stroke
    touched = [c.angle for c in (stroke.contact, verdict.limit) if c is not None]
    return StrokeSettings(
        stop_angle=verdict.reach,
        machine_stop=stroke.machine_stop,
        target=verdict.target,
        released=verdict.released,
        over_bend=verdict.springback.angle,
        limit=verdict.limit is not None and verdict.reach < verdict.wanted - 1e-9,
        greatest=min([engine.greatest, *touched]),
        sections=stroke.sections,
        die_sections=stroke.die_sections,
        gauge=gauge_stops(plan)[stroke.number - 1],
        hand_work=_hand_work(plan, stroke),
        machine=machine_of(plan.brake).set_up(engine, verdict.reach),
    )


def _hand_work(plan: Plan, stroke: PlannedStroke) -> HandWork:
    verdict, engine = stroke.verdict, stroke.verdict.stroke
    machine = machine_of(plan.brake)
    drawn = machine.drawn_off(engine, verdict.released, verdict.way) or 0.0
    lifted = verdict.way is Way.LIFTED
    lift = machine.lifted(engine) if lifted else 0.0
    names = [panel.name for panel in plan.blank.panels]
    guided = tuple((names[tab], names[wall]) for tab, wall in engine.guided)
    # A hair off the nose is nothing to be told.
    most = machine.most_drawn(engine, verdict.released, verdict.way) if verdict.reach else None
    told = drawn if drawn > TOLD or most is not None else 0.0
    if verdict.way is Way.DRAWN:
        return HandWork(tipped_after=drawn, guided=guided)
    return HandWork(told, most, 0.0, lift + CLEAR if lift else None, lift, guided)


def record(set_up: StrokeSettings) -> dict[str, object]:
    """The figures as JSON: lengths mm, angles degrees, forces kN."""
    gauge = set_up.gauge
    result: dict[str, object] = {
        "stop_angle": set_up.stop_angle,
        "machine_stop": set_up.machine_stop,
        "target": set_up.target,
        "released": set_up.released,
        "over_bend": set_up.over_bend,
        "greatest_angle": set_up.greatest,
        "gauge": None
        if gauge.sighted
        else {
            "distance": gauge.distance,
            "against": gauge.against,
            "bent": gauge.leg,
            "true": gauge.true,
            "moved_by": list(gauge.moved_by),
            "at": [list(interval) for interval in gauge.at],
        },
        "hand": {
            "draw_forward": set_up.hand_work.draw,
            "draw_most": set_up.hand_work.draw_most,
            "tipped_after": set_up.hand_work.tipped_after,
            "open_most": set_up.hand_work.open_most,
            "lift": set_up.hand_work.lift,
            "guided": [list(pair) for pair in set_up.hand_work.guided],
        },
        "sections": [list(s) for s in set_up.sections],
        "die_sections": [list(s) for s in set_up.die_sections],
    }
    return result | set_up.machine.record()


def held(plan: Plan, stroke: PlannedStroke) -> str:
    """Which panel is held, and which face is up: ``base, inside face up``."""
    setting = stroke.verdict.stroke.setting
    text = tr("{name}, inside face up") if setting.line.angle > 0 else tr("{name}, outside face up")
    return text.format(name=plan.blank.panels[setting.clamped].name)


def gauge_text(stop: GaugeStop, units: Units) -> str:
    """Where the stop stands, in words."""
    if stop.sighted:
        return tr("none: sight the line")
    moved = (
        tr("still true")
        if stop.true
        else tr("moved by {moved_by}").format(
            moved_by=tr(" and ").join(str(the(fold)) for fold in stop.moved_by)
        )
    )
    what = (
        tr("outside of {against}").format(against=the(stop.against))
        if stop.leg
        else tr("edge of {against}").format(against=the(stop.against))
    )
    return tr("{distance} from the line to the {what}, {moved}{fingers}").format(
        distance=show_length(stop.distance, units.fine),
        what=what,
        moved=moved,
        fingers=fingers_text(stop, units),
    )


def fingers_text(stop: GaugeStop, units: Units) -> str:
    """Where along the fold fingers of the stop stand, from its left end; empty where they may stand
    anywhere behind it."""
    if stop.sighted or stop.anywhere:
        return ""
    places = tr(" and ").join(
        tr("{low} to {high}").format(
            low=show_length(low - stop.fold[0], units, pretty=True),
            high=show_length(high - stop.fold[0], units, pretty=True),
        )
        for low, high in stop.at
    )
    return tr("; its fingers {places} from the fold's left end").format(places=places)


LEAST_AHEAD = 0.05
"""Degrees the leaf stands ahead of the sheet before that is told."""


def over_text(stroke: PlannedStroke, set_up: StrokeSettings) -> str:
    """What the stop angle is made of, in brackets."""
    text, ahead = _made_of(stroke, set_up), set_up.machine_stop - set_up.stop_angle
    if ahead < LEAST_AHEAD:
        return f"({text})"
    return tr("(the sheet at {sheet}, the leaf {ahead} ahead of it; {said})").format(
        sheet=show_angle(set_up.stop_angle), ahead=show_angle(ahead), said=text
    )


def _made_of(stroke: PlannedStroke, set_up: StrokeSettings) -> str:
    verdict = stroke.verdict
    if set_up.limit:
        rest = (
            tr("the rest by hand")
            if verdict.by_hand
            else tr("comes out at {released}").format(released=show_angle(set_up.released))
        )
        return tr("wanted {wanted}; {rest}").format(wanted=show_angle(verdict.wanted), rest=rest)
    return tr("{target} and {over_bend} over").format(
        target=show_angle(set_up.target), over_bend=show_angle(set_up.over_bend)
    )


def _why(plan: Plan, stroke: PlannedStroke) -> str:
    """Where the over-bend comes from."""
    text = stroke.verdict.springback.why
    return (
        f"{text}, {plan.job.springback_from}"
        if plan.job.springback is not None and plan.job.springback_from
        else str(text)
    )


WAYS = {
    Way.SIDE: msg("in and out from the end of the brake"),
    Way.LIFTED: msg("lifted on the way in and out, so that what hangs down passes over the {over}"),
    Way.TIPPED: msg(
        "drawn forward {forward}, then tipped front up by {tip} about its back edge, on the way "
        "out; in the same backwards: what stands "
        "at the back leans back and passes under"
    ),
    Way.DRAWN: msg(
        "drawn to the front as it stands and tipped there, on the way out; in the same backwards"
    ),
    Way.ALONG: msg("slid on and off along the punch, from the end of the press"),
}


def hand_work_text(work: HandWork, units: Units) -> tuple[str, ...]:
    """What a hand does with the part, in sentences without which the plan does not hold."""
    lines = [
        tr("guide {tab} under {hem} as it comes up").format(tab=the(tab), hem=the(hem))
        for tab, hem in work.guided
    ]
    if work.draw:
        # Rounded up: less would not do. Where what stands behind the tool leaves less room than
        # that, both limits are said.
        tick = INCH / 8 if units.is_inch else 1.0
        draw = math.ceil(work.draw / tick - 1e-9) * tick
        most = work.draw_most
        if most is None or draw <= most:
            lines.append(
                tr("draw it {draw} to the front before you open").format(
                    draw=show_length(draw, units, pretty=True)
                )
            )
        else:
            lines.append(
                tr(
                    "let the clamp off and draw it {draw} to the front, no more than {most}, "
                    "before you open"
                ).format(
                    draw=show_length(work.draw, units.fine, pretty=True),
                    most=show_length(most, units.fine, pretty=True),
                )
            )
    if work.tipped_after:
        about = INCH / 4 if units.is_inch else 5.0
        lines.append(
            tr(
                "with the ram up, draw it to the front as it stands, about {by}, until its back "
                "side comes near the punch or the ram, and "
                "tip it there"
            ).format(
                by=show_length(math.floor(work.tipped_after / about) * about, units, pretty=True)
            )
        )
    if work.open_most is not None:
        lines.append(
            tr("open no more than {most}, lift it {lift} and take it off").format(
                most=show_length(work.open_most, units, pretty=True),
                lift=show_length(work.lift, units, pretty=True),
            )
        )
    return tuple(lines)


def set_up_facts(plan: Plan, stroke: PlannedStroke) -> list[Fact]:
    """What is set, the most needed first."""
    units, result = plan.job.units, set_up_of(plan, stroke)
    setup = plan.setups[stroke.setup]
    tools = setup.tooling.marked_in
    card = CardFields(
        held=held(plan, stroke),
        tooling=str(setup.tooling.says),
        pieces=width_text(setup.blocks, tools, pretty=True),
        under=width_text(setup.die_blocks, tools, pretty=True) if setup.die_blocks else "",
        stop=f"{show_angle(result.machine_stop)}  {over_text(stroke, result)}",
        thickness=plan.blank.thickness,
        units=units,
    )
    facts = result.machine.facts(card)
    if plan.job.angles is not AngleReading.BEND and not stroke.verdict.flattens:
        reads = tr("{angle} {how}, once released").format(
            angle=show_angle(plan.job.angles.read(result.released)), how=plan.job.angles.words
        )
        facts.append(Fact(FactKey.READS, tr("Protractor reads"), reads))
    if setup.others:
        after = next(i for i, fact in enumerate(facts) if fact.key is FactKey.PIECES) + 1
        others = ";  ".join(width_text((block,), tools, pretty=True) for block in setup.others)
        facts.insert(after, Fact(FactKey.OTHERS, tr("Alternatives"), others))
    if not result.gauge.sighted or plan.brake.gauge_reach is not None:
        facts.append(Fact(FactKey.GAUGE, tr("Back gauge"), gauge_text(result.gauge, units)))
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
        text = WAYS[stroke.verdict.way].format(
            over=machine_of(plan.brake).words.line_over,
            tip=show_angle(math.degrees(tip.angle)),
            forward=show_length(tip.forward, units, pretty=True),
        )
        facts.append(Fact(FactKey.WAY, tr("Way"), text))
    facts += [Fact(FactKey.BARE, tr("Look at"), str(bare_text(*one, units))) for one in stroke.bare]
    facts += [
        Fact(FactKey.HAND, tr("By hand"), text) for text in hand_work_text(result.hand_work, units)
    ]
    facts.append(Fact(FactKey.OVER_BEND, tr("Over-bend from"), _why(plan, stroke)))
    return [*facts, *result.machine.more(card)]
