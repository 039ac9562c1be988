"""The figures of a set-up in words: what a person sets on the brake for one stroke, as (what, to what)."""

from __future__ import annotations

from ...measure import Units, show_angle, show_force, show_length
from ..stroke.sections import width_text
from .gauging import GaugeStop
from .plan import Plan, PlannedStroke
from .set_up import Folded, Pressed, SetUp, set_up_of


def held(plan: Plan, stroke: PlannedStroke) -> str:
    """Which panel is held, and which face is up: ``base, inside face up``."""
    setting = stroke.verdict.stroke.setting
    face = "inside" if setting.line.angle > 0 else "outside"
    return f"{plan.blank.panels[setting.clamped].name}, {face} face up"


def line_place(folded: Folded, units: Units) -> str:
    """Where the fold line lies under the nose."""
    line = folded.line_behind_nose
    if abs(line) < 0.02:
        return "right under the nose"
    return f"{show_length(abs(line), units.fine)} {'behind' if line > 0 else 'in front of'} the nose"


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


def set_up_facts(plan: Plan, stroke: PlannedStroke) -> list[tuple[str, str]]:
    """What is set, the most needed first."""
    units, found = plan.job.units, set_up_of(plan, stroke)
    setup = plan.setups[stroke.setup]
    tools = stroke.verdict.stroke.tooling.marked_in
    blocks = width_text(setup.blocks, tools, pretty=True)
    others = [("Just as well", ";  ".join(width_text((block,), tools, pretty=True) for block in setup.others))]
    facts = _leaf(plan, stroke, found, blocks) if isinstance(found.machine, Folded) else _press(plan, stroke, found, blocks)
    if setup.others:
        after = next(i for i, (_, value) in enumerate(facts) if value is blocks) + 1
        facts[after:after] = others
    if not found.gauge.sighted or plan.brake.gauge_reach is not None:
        facts.append(("Back gauge", gauge_text(found.gauge, units)))
    if setup.station:
        shown = show_length(abs(setup.station), units, pretty=True)
        facts.append(
            ("Station", f"{shown} {'left' if setup.station < 0 else 'right'} of the bed's middle; all set-ups stand at once")
        )
    if stroke.verdict.way in WAYS:
        facts.append(("Way", WAYS[stroke.verdict.way]))
    return [*facts, ("Over-bend from", stroke.verdict.springback.why), *_more(plan, stroke, found)]


def _leaf(plan: Plan, stroke: PlannedStroke, found: SetUp, blocks: str) -> list[tuple[str, str]]:
    machine, units = found.machine, plan.job.units
    assert isinstance(machine, Folded)
    tooling = plan.setups[stroke.setup].tooling
    return [
        ("Clamp", held(plan, stroke)),
        *([("Set up with", tooling.says)] if tooling.says else []),
        ("Fingers, left to right", blocks),
        ("Fold line sits", line_place(machine, units)),
        ("Nose behind the bed's edge", f"{show_length(machine.setback, units.fine)}, both ends alike"),
        ("Stop the leaf at", f"{show_angle(found.stop_angle)}  {over_text(stroke, found)}"),
    ]


def _press(plan: Plan, stroke: PlannedStroke, found: SetUp, blocks: str) -> list[tuple[str, str]]:
    machine, units = found.machine, plan.job.units
    assert isinstance(machine, Pressed)
    setup, force = plan.setups[stroke.setup], machine.force
    return [
        ("To the back", held(plan, stroke)),
        ("Punch on die", setup.tooling.says),
        ("Punch pieces, left to right", blocks),
        ("Die pieces", width_text(setup.die_blocks, setup.tooling.marked_in, pretty=True)),
        ("Bend to", f"{show_angle(found.stop_angle)}  {over_text(stroke, found)}"),
        ("Punch down from touching", f"about {show_length(machine.punch_travel, units.fine)}; sneak up on it"),
        (
            "Force",
            f"{show_force(force.total, units)} {'bottomed' if machine.bottomed else 'in air'}, "
            f"{100 * force.share:.0f} % of what the {force.whose} stands"
            + ("" if machine.bottomed else f"; bottomed about {show_force(machine.force_bottomed, units)}"),
        ),
    ]


def _more(plan: Plan, stroke: PlannedStroke, found: SetUp) -> list[tuple[str, str]]:
    machine, units = found.machine, plan.job.units
    if isinstance(machine, Folded):
        brake = stroke.verdict.stroke.tooling.brake
        sheet = show_length(plan.blank.thickness, units.fine)
        return [
            ("Rated for this metal", f"{show_length(machine.allowed, units.fine)};  the sheet is {sheet}"),
            ("Finger height", f"{show_length(getattr(brake, 'finger_height', 0.0), units, pretty=True)} under the beam"),
        ]
    radius = show_length(machine.inside_radius, units.fine)
    return [
        ("Least outside leg", show_length(machine.least_leg, units.fine)),
        ("Inside radius", f"the tip's, {radius}") if machine.bottomed else ("Inside radius in air", f"about {radius}"),
    ]
