"""Whole plans of random parts, rebuilt in solids from their record: a yes has never crushed a
part."""

from __future__ import annotations

import random

import pytest

from random_work import likely_job, random_brake
from solids import Rebuilt, shared
from zealous_crane.bending.nose_stroke import TurningStroke
from zealous_crane.flat.element import DevelopmentError, MadeBy
from zealous_crane.io.plan_file import plan_record
from zealous_crane.planning.planner import make_plan

LET_OFF = 0.2
"""mm a clamp is let off before a part is drawn."""

SLACK = -0.005
"""mm the tools are drawn in: what lies against a face shares no volume."""


def random_plans(seeds):
    """(seed, plan, its record) of every random part that develops."""
    for seed in seeds:
        rng = random.Random(10_000 + seed)
        brake = random_brake(rng)
        job = likely_job(rng, brake)
        try:
            plan = make_plan(job, brake)
        except DevelopmentError:
            continue
        yield seed, plan, plan_record(plan)


@pytest.mark.solid
@pytest.mark.parametrize("block", range(6))
def test_no_stroke_of_a_plan_crushes_anything(block):
    strokes = made = 0
    for seed, plan, record in random_plans(range(block * 12, (block + 1) * 12)):
        made += plan.feasible
        sentence_is_true(plan, record)
        for stroke in record["strokes"]:
            strokes += 1
            rebuilt = Rebuilt(record["blank"], stroke)
            for share in (0.0, 0.25, 0.5, 0.75, 0.9, 1.0):
                # The sharp model of a fold lets the folded panel into the nose's zone; everything
                # else is clear.
                struck = stiff(rebuilt.strikes(stroke["reach"] * share, SLACK), stroke)
                assert not struck, (seed, stroke["name"], share)
            lift, ease = stroke["opening"], stroke["drawn_forward"]
            for share in (0.05, 0.4, 1.0):
                closing = rebuilt.opened(0.0, lift * share)
                assert not closing.strikes(0, SLACK), (seed, stroke["name"], "clamping", share)
                opening = rebuilt.opened(ease, lift * share)
                assert not stiff(tools_only(opening, stroke["released"]), stroke), (
                    seed,
                    stroke["name"],
                    "opening",
                    share,
                )
            for y, z in (
                (0.5 * ease, LET_OFF),
                (ease, LET_OFF),
                (ease, 0.5 * lift),
                (ease, lift),
                (ease + 40, lift),
            ):
                if stroke["way"] == "front":
                    met = resting_met(rebuilt.opened(y, z), stroke["released"])
                    assert not met, (seed, stroke["name"], "let go, drawn and opened", y, z)
            if stroke["way"] == "tipped":
                assert not rebuilt.tipped_passes(0.0) and not rebuilt.tipped_passes(
                    stroke["released"]
                ), (seed, stroke["name"])
                continue
            for away in (10, 60, 150, 400, 900):
                slid = rebuilt.opened(away, lift)
                assert not tools_only(slid, 0), (seed, stroke["name"], "sliding in", away)
                out = rebuilt.opened(away + ease, lift)
                assert not stiff(tools_only(out, stroke["released"]), stroke), (
                    seed,
                    stroke["name"],
                    "taking out",
                    away,
                )
    assert strokes >= 8 and made >= 4


def stiff(struck, stroke):
    """What is struck but for flanges that are sprung past the bar: stiff, they would run into it;
    test_sprung.py bends them."""
    return [
        (panel, tool)
        for panel, tool in struck
        if str(panel) not in stroke["sprung"] or tool not in ("finger", "beam")
    ]


def tools_only(rebuilt, degrees):
    """Strikes on finger and beam; the part stands apart from leaf and bed while it is moved."""
    return [
        (panel, tool)
        for panel, tool in rebuilt.strikes(degrees, SLACK)
        if tool in ("finger", "beam")
    ]


def resting_met(rebuilt, degrees):
    """What of the part rests and meets finger or beam as it is let go."""
    tools = [rebuilt.tool(name, SLACK) for name in ("finger", "beam")]
    return [
        b.panel
        for b in rebuilt.bodies
        if not b.swings and any(shared(rebuilt.posed(b, degrees), tool) for tool in tools)
    ]


def sentence_is_true(plan, record):
    said = plan.sentence
    assert said.endswith(".") and record["verdict"]["says"] == said
    assert plan.feasible == said.startswith("Can be made") == bool(plan.strokes)
    if not plan.feasible:
        return
    assert f"{len(plan.strokes)} stroke" in said and f"{len(plan.setups)} finger set-up" in said
    short = [s for s in plan.strokes if s.verdict.by_hand > 1e-6]
    seamed = {i for i, f in enumerate(plan.blank.folds) if f.made_by is MadeBy.SEAMER}
    assert bool(short or seamed) == ("by hand" in said) == (not plan.complete)
    assert sorted(n for setup in plan.setups for n in setup.strokes) == list(
        range(1, len(plan.strokes) + 1)
    )
    angles = (0.0,) * len(plan.blank.folds)
    for stroke in plan.strokes:
        verdict = stroke.verdict
        assert verdict.stroke.setting.angles == pytest.approx(angles)
        angles = verdict.stroke.setting.after(verdict.released)
        assert verdict.reach <= verdict.wanted + 1e-9
        assert (verdict.limit is None) == (verdict.reach >= verdict.wanted - 1e-9)
        # What swings keeps its margin; the leaf past what stands keeps none, and is told as it is.
        swings = TurningStroke.clearance(verdict.stroke, verdict.reach, stroke.sections)
        assert swings >= verdict.stroke.keep - 2e-3 or verdict.limit is not None
        assert stroke.clearance <= swings
        assert stroke.contact is None or stroke.contact.angle >= verdict.reach - 1e-6
    assert all(angle or i in seamed for i, angle in enumerate(angles))
