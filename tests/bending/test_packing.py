"""What is closed flat under the sheet: packed by a strip, lifted over the bed, and checked in
solids."""

from __future__ import annotations

import math
from pathlib import Path

import pytest

from bent_again import bent_again
from rebuilt import StrokeAgain
from solids import Rebuilt
from zealous_crane.brake.cross_section import leaf_edge
from zealous_crane.brake.library import shipped_rack
from zealous_crane.io.job_file import read_job
from zealous_crane.io.plan_file import plan_record
from zealous_crane.metal.bend import Bend
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.setup import set_up_facts

CASES = Path(__file__).parents[1] / "cases"
RACK = shipped_rack()


AWAY = (5, 15, 40, 90, 200, 270, 300, 400, 480, 600)
"""mm to the front at which the part is looked at again: it goes in and out past the whole bed."""


def planned(name):
    job = read_job(CASES / f"{name}.json")
    plan = make_plan(job, RACK[job.brake])
    assert plan.feasible, plan.sentence
    return plan


@pytest.mark.solid
@pytest.mark.parametrize(
    ("name", "strokes"), [("hems-outwards", 8), ("hemmed-folded-roof", 10), ("stepped-rail", 2)]
)
def test_hems_and_steps_on_the_outside_are_made(name, strokes):
    plan = planned(name)
    assert len(plan.strokes) == strokes
    _, wrong = bent_again(plan)
    assert not wrong, wrong


@pytest.mark.solid
def test_without_its_strip_a_hem_would_lie_in_the_bed():
    plan = planned("hems-outwards")
    written = plan_record(plan)
    packed = [s for s in written["strokes"] if s["set_up"]["packing"] > 0]
    t = written["blank"]["thickness"]
    # Front and back wall are folded with the hems beyond bed and leaf.
    assert len(packed) == 2
    for stroke in packed:
        # Closed flat a hem lies one thickness, and what it keeps open, under its wall.
        assert t - 1e-6 <= stroke["set_up"]["packing"] <= 3 * t
        bare = {**stroke, "set_up": {**stroke["set_up"], "packing": 0.0}}
        assert any(
            "bed" in line or "leaf" in line
            for line in StrokeAgain(written["blank"], written["brake"], bare).crushed(5)
        )
    assert "Pack the line with" in str([set_up_facts(plan, s) for s in plan.strokes])


def moved(stroke, tools, motion):
    """The stroke's tools shifted by (y, z): as the part sees it."""
    shifted = {
        n: {
            **stroke["tools"][n],
            "outline": [[y + motion[0], z + motion[1]] for y, z in stroke["tools"][n]["outline"]],
        }
        for n in tools
    }
    y, z = stroke["hinge"]
    hinge = [y + motion[0], z + motion[1]] if "leaf" in tools else stroke["hinge"]
    return {**stroke, "tools": {**stroke["tools"], **shifted}, "hinge": hinge}


@pytest.mark.solid
@pytest.mark.parametrize("name", ["hems-outwards", "stepped-rail"])
def test_what_hangs_down_is_lifted_over_the_bed(name):
    written = plan_record(planned(name))
    lifted = [s for s in written["strokes"] if s["way"] == "lifted"]
    assert lifted
    upper, lower = ("finger", "beam"), ("bed", "leaf")
    for stroke in lifted:
        ease, lift, up = stroke["drawn_forward"], stroke["lift"], stroke["lift"] + 1.0
        stands = stroke["released"]

        def hits(ease, up, lift, away, stroke=stroke, stands=stands):
            one = moved(stroke, upper, (ease + away, up - lift))
            # The leaf goes down again before the part is taken out: it lies below the bed's level.
            two = Rebuilt(written["blank"], moved(one, lower, (ease + away, -lift)))
            return [
                (body.panel, name)
                for body in two.bodies
                for name in ("finger", "beam", "bed")
                if (two.posed(body, stands) ^ two.tool(name, -0.05)).volume() > 0.5
            ]

        for share in (0.0, 0.5, 1.0):
            assert not hits(ease, up * share, 0.0, 0.0), stroke["name"]
            assert not hits(ease, up, lift * share, 0.0), stroke["name"]
        for away in AWAY:
            assert not hits(ease, up, lift, away), (stroke["name"], away)
        # Without the lift something meets the bed, or it would not have been asked for.
        assert any("bed" in str(hits(ease, up, 0.0, away)) for away in AWAY), stroke["name"]


def test_the_nose_stands_back_far_enough_on_a_strip():
    """The leaf's face turned about its hinge against the folded panel's outside turned about the
    pole, by trigonometry alone."""
    brake = RACK["apiary-finger-50"]
    bend = Bend(thickness=0.8, radius=0.6, angle=90.0, allowance=1.2)
    height = bend.thickness + bend.radius - bend.allowance / 2  # pole to the sheet's outside
    for lowered in (0.8, 1.7, 3.2):
        for loaded in (False, True):
            edge = leaf_edge(brake, bend, 95.0, lowered=lowered, loaded=loaded)
            for degrees in range(1, 96):
                a = math.radians(degrees)
                # Distance of the leaf's face from the pole, across the panel: hinge at (edge,
                # -lowered), pole at (0, height).
                face = (height + lowered) * math.cos(a) - edge * math.sin(a)
                outside = height + (lowered if loaded else 0.0)
                give = 0.0 if loaded else 0.2 * bend.thickness
                assert face >= outside - give - 1e-9, (lowered, loaded, degrees)
