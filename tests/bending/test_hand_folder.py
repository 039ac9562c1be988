"""A hand folder, the third kind of machine: known to the rest of the program by the machine's
interface alone."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
import shapely

from random_across import random_folder
from zealous_crane.bending.judge import judge
from zealous_crane.bending.machine import FactKey
from zealous_crane.bending.machines import MACHINES, toolings
from zealous_crane.bending.setting import Setting
from zealous_crane.brake.hand_folder import hand_tools_for
from zealous_crane.brake.library import KINDS
from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.io.plan_file import plan_record
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.metal.allowance import NeutralLine, OnTheLine
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Edge
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.setup import set_up_facts, set_up_of
from zealous_crane.shop.safety_notes import cautions_for

BARS = "bench-bars-600"


def box(depth, lip=0.0, angle=90.0):
    lips = (Flange(edge=Edge.BACK, height=lip),) if lip else ()
    walls = tuple(
        Flange(edge=edge, height=depth, angle=angle, flanges=lips)
        for edge in (Edge.FRONT, Edge.BACK)
    )
    tree = Design(base=Base(length=300, width=200), flanges=walls)
    return Job(
        name="box",
        part=DrawnPart(tree=tree),
        metal="mild-steel",
        thickness="0.6 mm",
        units="mm",
        brake=BARS,
    )


@pytest.mark.parametrize("seed", range(20))
def test_bar_and_bench_stand_up_whatever_their_measures(seed):
    rng = random.Random(seed)
    folder = random_folder(rng)
    bend = rng.choice([OnTheLine().bend(90, 0, 0.8), NeutralLine().bend(90, 1.2, 1.2)])
    tools = hand_tools_for(folder, bend)
    for profile in (tools.bar, tools.bed):
        shape = shapely.Polygon(profile.outline)
        assert (
            shape.is_valid and shape.exterior.is_ccw and len(profile.parts) == len(profile.outline)
        )
    bar = tools.bar.outline
    assert bar[:, 1].min() == pytest.approx(bend.thickness) and np.ptp(bar[:, 1]) == pytest.approx(
        folder.bar_height
    )
    assert bar[:, 0].max() == pytest.approx(tools.nose[0] + folder.bar_depth)
    # The board lies against the bench's edge and the outside of the folded side at 90°.
    assert tools.bed.outline[0, 0] == pytest.approx(
        bend.allowance / 2 - bend.radius - bend.thickness
    )


def test_a_deep_box_is_made_where_a_beam_would_be_in_the_way(rack):
    """Nothing hangs above a bar: what is deeper than any finger still goes."""
    deep = box(250)
    assert make_plan(deep, rack[BARS]).feasible and make_plan(deep, rack[BARS]).complete
    # A lip that turns in over the bar keeps it from being lifted off; it is drawn out at the end
    # instead.
    lipped = make_plan(box(60, 25), rack[BARS])
    assert lipped.complete
    closed = rack[BARS].model_copy(update={"open_ends": False})
    assert not any(
        stroke.verdict.way == "side" for stroke in make_plan(box(60, 25), closed).strokes
    )


def test_a_wall_bent_past_square_meets_the_front_of_the_bar_where_it_must(rack):
    """In closed form: the wall's inside face turns about the pole and meets a corner R away under φ
    at φ + asin(h / R), h the pole above the face; the bar's corners are its top and where its front
    begins, above the nose."""
    job = box(100, angle=118.0)
    for rake in (5.0, 10.0, 15.0, 20.0, 25.0):
        folder = rack[BARS].model_copy(
            update={"rake": rake, "bar_height": 40.0, "greatest_angle": 140.0}
        )
        blank = develop(job)
        verdict = judge(blank, toolings(folder, blank)[0], Setting(blank, 0, True, (0.0, 0.0)), 1.0)
        assert verdict.limit is not None and verdict.limit.obstacle.tool == "bar"
        stroke = verdict.stroke
        bar, pole = stroke.tools.bar.outline, stroke.setting.pole
        angles = []
        for height in (
            blank.thickness + 3 * (folder.nose_radius + blank.thickness),
            bar[:, 1].max(),
        ):
            level = bar[np.abs(bar[:, 1] - height) < 1e-6]
            y, z = level[level[:, 0].argmin()] - pole
            away, under = math.hypot(y, z), math.atan2(z, -y)
            angles.append(math.degrees(under + math.asin((pole[1] - blank.thickness) / away)))
        wanted = min(angles)
        met = stroke.plain().contact([(-150, 150)])
        assert met is not None and met.angle == pytest.approx(wanted, abs=0.1)
        assert wanted - 4 < verdict.reach <= met.angle + 1e-6


def test_what_it_refuses_has_its_reason(rack):
    brake = rack[BARS]
    thick = make_plan(box(40).model_copy(update={"thickness": "1.5 mm"}), brake)
    assert not thick.feasible and "rated for 0.8 mm of mild steel" in thick.reasons[0]
    bare = make_plan(box(40), brake.model_copy(update={"bars": ()}))
    assert bare.sentence == "Cannot be made on this brake: there is no bar."
    long = box(40).model_copy(
        update={
            "part": DrawnPart(
                tree=Design(
                    base=Base(length=900, width=200), flanges=(Flange(edge=Edge.FRONT, height=40),)
                )
            )
        }
    )
    assert "the edge is 600 mm long" in make_plan(long, brake).sentence


def test_its_card_its_file_and_its_cautions_speak_of_bars(rack):
    plan = make_plan(demo_job("syrup-tray").model_copy(update={"brake": BARS}), rack[BARS])
    assert plan.complete and "1 bar set-up" in plan.sentence
    stroke = plan.strokes[0]
    facts = {fact.key: fact for fact in set_up_facts(plan, stroke)}
    assert (
        facts[FactKey.PIECES].label == "Bars, left to right"
        and facts[FactKey.STOP].label == "Lift the board to"
    )
    written = plan_record(plan)["strokes"][0]
    own = set_up_of(plan, stroke).machine
    assert written["machine"] == "hand" and set(written["tools"]) == {"bar", "bed"}
    assert written["set_up"]["line_behind_nose"] == pytest.approx(own.line_behind_nose)
    bend = stroke.verdict.stroke.setting.line.bend
    # Between the bar's front and the bench's edge lie the outside radius and the sheet, whatever
    # the school.
    assert own.edge == pytest.approx(
        bend.radius + bend.thickness - min(bend.radius, rack[BARS].nose_radius)
    )
    assert any(
        "bar" in str(caution.text) for caution in cautions_for(plan) if caution.step == "setting-up"
    )
    assert math.isfinite(stroke.clearance) or stroke.contact is None


def test_every_kind_that_is_read_has_its_machine(rack):
    assert {kind.model_fields["kind"].default for kind in KINDS} == set(MACHINES)
    assert {brake.kind for brake in rack.brakes} <= set(MACHINES)
