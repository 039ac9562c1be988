"""The figures of a set-up in words: what a person sets on the brake for one stroke."""

from __future__ import annotations

from ...measure import Units, show_angle, show_length
from ..stroke.machine import Card, Fact, FactKey
from ..stroke.sections import width_text
from .gauging import GaugeStop
from .plan import Plan, PlannedStroke
from .set_up import SetUp, set_up_of


def held(plan: Plan, stroke: PlannedStroke) -> str:
    """Which panel is held, and which face is up: ``base, inside face up``."""
    setting = stroke.verdict.stroke.setting
    face = "inside" if setting.line.angle > 0 else "outside"
    return f"{plan.blank.panels[setting.clamped].name}, {face} face up"


def gauge_text(stop: GaugeStop, units: Units) -> str:
    """Where the stop stands, in words."""
    if stop.sighted:
        return "none: sight the line"
    moved = "still true" if stop.true else f"moved by the {' and the '.join(stop.moved_by)}"
    what = f"outside of the {stop.against}" if stop.leg else f"edge of the {stop.against}"
    return f"{show_length(stop.distance, units.fine)} from the line to the {what}, {moved}"


def over_text(stroke: PlannedStroke, set_up: SetUp) -> str:
    """What the stop angle is made of."""
    verdict = stroke.verdict
    if set_up.limit:
        rest = "the rest by hand" if verdict.by_hand else f"comes out at {show_angle(set_up.released)}"
        return f"(wanted {show_angle(verdict.wanted)}; {rest})"
    return f"({show_angle(set_up.target)} and {show_angle(set_up.over_bend)} over)"


WAYS = {
    "side": "in and out from the end of the brake",
    "lifted": "lifted over the die on the way in and out",
    "along": "slid on and off along the punch, from the end of the press",
}


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
        stop=f"{show_angle(found.stop_angle)}  {over_text(stroke, found)}",
        thickness=plan.blank.thickness,
        units=units,
    )
    facts = found.machine.facts(card)
    if setup.others:
        after = next(i for i, fact in enumerate(facts) if fact.key is FactKey.PIECES) + 1
        others = ";  ".join(width_text((block,), tools, pretty=True) for block in setup.others)
        facts.insert(after, Fact(FactKey.OTHERS, "Just as well", others))
    if not found.gauge.sighted or plan.brake.gauge_reach is not None:
        facts.append(Fact(FactKey.GAUGE, "Back gauge", gauge_text(found.gauge, units)))
    if setup.station:
        shown = show_length(abs(setup.station), units, pretty=True)
        side = "left" if setup.station < 0 else "right"
        facts.append(Fact(FactKey.STATION, "Station", f"{shown} {side} of the bed's middle; all set-ups stand at once"))
    if stroke.verdict.way in WAYS:
        facts.append(Fact(FactKey.WAY, "Way", WAYS[stroke.verdict.way]))
    facts.append(Fact(FactKey.OVER_BEND, "Over-bend from", stroke.verdict.springback.why))
    return [*facts, *found.machine.more(card)]
