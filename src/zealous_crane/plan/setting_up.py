"""What a person sets on the brake for one stroke, as (what, to what)."""

from __future__ import annotations

import math

from ..brake import Bottoming, load
from ..brake.force import BOTTOM_FACTOR
from ..measure import Units, show_angle, show_length
from .gauge import best_gauging, gauge_stops
from .leaf_stroke import LeafStroke
from .plan import Plan, PlannedStroke
from .press_stroke import PressStroke
from .sections import width_text


def set_up_facts(plan: Plan, stroke: PlannedStroke) -> list[tuple[str, str]]:
    """What is set, the most needed first."""
    units = plan.job.units
    fine = Units.DECIMAL if units.is_inch else Units.MM
    verdict = stroke.verdict
    engine, setting, setup = verdict.stroke, verdict.stroke.setting, plan.setups[stroke.setup]
    face = "inside" if setting.line.angle > 0 else "outside"
    held = plan.blank.panels[setting.clamped].name
    over = f"({show_angle(verdict.target)} and {show_angle(verdict.springback.angle)} over)"
    if verdict.by_hand > 1e-6:
        over = f"(wanted {show_angle(verdict.wanted)}; the rest by hand)"
    blocks = width_text(setup.blocks, units, pretty=True)
    way = {
        "side": "in and out from the end of the brake",
        "lifted": "lifted over the die on the way in and out",
        "along": "slid on and off along the punch, from the end of the press",
    }.get(verdict.way)
    facts: list[tuple[str, str]] = []
    others = (
        [("Just as well", ";  ".join(width_text((block,), units, pretty=True) for block in setup.others))]
        if setup.others
        else []
    )
    if isinstance(engine, LeafStroke):
        tools, brake = engine.tools, engine.brake
        line = -float(tools.nose[0])
        where = (
            "right under the nose"
            if abs(line) < 0.02
            else f"{show_length(abs(line), fine)} {'behind' if line > 0 else 'in front of'} the nose"
        )
        facts = [
            ("Clamp", f"{held}, {face} face up"),
            ("Fingers, left to right", blocks),
            *others,
            ("Fold line sits", where),
            ("Nose behind the bed's edge", f"{show_length(tools.setback, fine)}, both ends alike"),
            ("Stop the leaf at", f"{show_angle(verdict.reach)}  {over}"),
        ]
        if setup.tooling.says:
            facts.insert(1, ("Set up with", setup.tooling.says))
        allowed = plan.blank.sheet.allowed_by(brake.rated)
        more = [
            ("Rated for this metal", f"{show_length(allowed, fine)};  the sheet is {show_length(plan.blank.thickness, fine)}"),
            ("Finger height", f"{show_length(brake.finger_height, units, pretty=True)} under the beam"),
        ]
    else:
        assert isinstance(engine, PressStroke)
        tooling = engine.tooling
        length = sum(setting.blank.folds[i].length for i in setting.folds)
        force = load(tooling.brake, tooling.punch, tooling.die, plan.blank.sheet, length, engine.bottoming)
        bottomed = engine.bottoming is Bottoming.BOTTOMED
        sinks = engine.die_shift(math.radians(verdict.reach) / 2)
        facts = [
            ("To the back", f"{held}, {face} face up"),
            ("Punch on die", setup.tooling.says),
            ("Punch pieces, left to right", blocks),
            *others,
            ("Die pieces", width_text(setup.die_blocks, units, pretty=True)),
            ("Bend to", f"{show_angle(verdict.reach)}  {over}"),
            ("Punch below the sheet's start", f"about {show_length(round(sinks, 2), fine)} into the V; sneak up on it"),
            (
                "Force",
                f"{force.total:.0f} kN {'bottomed' if bottomed else 'in air'}  ({force.per_length:.0f} kN per metre; the press gives "
                f"{tooling.brake.force:.0f} kN)"
                + ("" if bottomed else f"; bottomed about {force.total * BOTTOM_FACTOR:.0f} kN"),
            ),
        ]
        more = [
            ("Inside radius", f"the tip's, {show_length(round(tooling.punch.radius, 2), fine)}")
            if bottomed
            else (
                "Inside radius in air",
                f"about {show_length(round(engine.air_radius, 2), fine)} over V {tooling.die.opening:.1f}",
            )
        ]
    stop = gauge_stops(plan, best_gauging(plan))[stroke.number - 1]
    if stop.edge:
        edge = "still true" if stop.true else f"moved by the {' and the '.join(stop.moved_by)}"
        facts.append(("Back gauge", f"{show_length(stop.distance, fine)} from the line to the edge of the {stop.edge}, {edge}"))
    if setup.station:
        shown = show_length(abs(setup.station), units, pretty=True)
        facts.append(
            ("Station", f"{shown} {'left' if setup.station < 0 else 'right'} of the bed's middle; all set-ups stand at once")
        )
    if way:
        facts.append(("Way", way))
    return [*facts, ("Over-bend from", verdict.springback.why), *more]
