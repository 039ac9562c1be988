"""What is told of the leaf, the stop and the hand for one stroke, against plane geometry of another
library."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
import shapely
import shapely.affinity

from shared_plans import plan_of
from solids import Rebuilt, shared
from zealous_crane.bending.leaf.stroke import LeafStroke
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.flat.on_brake import flat_for
from zealous_crane.io.plan_file import plan_record
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.strip import SingleBend
from zealous_crane.planning.gauging import (
    FINGER,
    GaugeBy,
    behind,
    gauge_stops,
    possible_stops,
    settings_of,
)
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.setup import hand_work_text, set_up_of
from zealous_crane.units.length import Units

RACK = shipped_rack()
LET_OFF = 0.2
"""mm a clamp is let off before a part is drawn."""
LEAVES = [brake for brake in RACK.brakes if brake.kind == "leaf"]


def leaf_when_it_carries(stroke: LeafStroke, degrees: float) -> float:
    """Angle of the leaf (degrees) at which its body first touches the sheet that stands at an
    angle, by bisection on solids of a general geometry library: the leaf as a rectangle turning
    about its hinge, the sheet as a strip turned about its pole."""
    pole, hinge = stroke.setting.pole, stroke.tools.hinge
    thickness, long = stroke.setting.blank.thickness, 500.0
    leg = min(stroke._rest, stroke.tooling.brake.leaf_bar)
    beyond = long if leg >= stroke.tooling.brake.leaf_bar - 1e-9 else leg
    # Flat, the sheet lies at z = 0 to T before the line; the pole is where a single turn brings it
    # to its finished place.
    flat = shapely.box(float(hinge[0]) - beyond, 0.0, float(pole[0]), thickness)
    sheet = shapely.affinity.rotate(flat, -degrees, origin=tuple(pole))
    body = shapely.box(
        float(hinge[0]) - stroke.tooling.brake.leaf_bar,
        float(hinge[1]) - 70.0,
        float(hinge[0]),
        float(hinge[1]),
    )
    low, high = degrees - 1.0, degrees + 25.0
    for _ in range(60):
        middle = (low + high) / 2
        meets = (
            shapely.affinity.rotate(body, -middle, origin=tuple(hinge)).intersection(sheet).area
            > 1e-9
        )
        low, high = (low, middle) if meets else (middle, high)
    return low


@pytest.mark.parametrize("angle", [15, 30, 45, 60, 75])
@pytest.mark.parametrize("thickness", ["0.6 mm", "1.2 mm"])
@pytest.mark.parametrize("brake", LEAVES, ids=lambda b: b.key)
def test_the_leaf_goes_ahead_of_the_sheet_by_rigid_geometry(brake, thickness, angle):
    part = SingleBend(first=60, second=50, length=300, angle=angle)
    job = Job(part=part, metal="mild-steel", thickness=thickness, units="mm", brake=brake.key)
    stroke = make_plan(job, brake).strokes[0]
    engine = stroke.verdict.stroke
    reach = stroke.verdict.reach
    assert (
        stroke.machine_stop == pytest.approx(leaf_when_it_carries(engine, reach), abs=0.02)
        and stroke.machine_stop > reach + 0.2
    )
    assert engine.sheet_at(engine.set_for(reach)) == pytest.approx(reach, abs=1e-6)


def test_at_a_square_bend_leaf_and_sheet_agree_and_the_lag_is_no_springback():
    job = Job(
        part=SingleBend(first=60, second=50, length=300),
        metal="mild-steel",
        thickness="0.8 mm",
        units="mm",
        brake="bench-finger-1000",
    )
    plan = make_plan(job, RACK[job.brake])
    found = set_up_of(plan, plan.strokes[0])
    assert found.machine_stop == found.stop_angle and found.over_bend == pytest.approx(2.0)
    shallow = make_plan(
        job.model_copy(update={"part": SingleBend(first=60, second=50, length=300, angle=45)}),
        RACK[job.brake],
    )
    found = set_up_of(shallow, shallow.strokes[0])
    assert found.over_bend == pytest.approx(1.0) and found.machine_stop > found.stop_angle + 1
    assert f"stop at {found.machine_stop:.1f}°" in shallow.strokes[0].sentence()
    # A press is set by the sheet's own angle.
    press = make_plan(
        job.model_copy(update={"brake": "honey-press-2000"}), RACK["honey-press-2000"]
    )
    assert (
        set_up_of(press, press.strokes[0]).machine_stop
        == set_up_of(press, press.strokes[0]).stop_angle
    )


@pytest.mark.parametrize("name", ["syrup-tray", "deep-feeder", "drip-pan-in-rail", "hive-scale"])
def test_the_room_told_is_never_more_than_what_the_leaf_leaves_of_standing_walls(name):
    """The leaf turned in small steps past what stands, distances by a general geometry library."""
    seen = 0
    for part in demo_work(name).parts:
        brake = RACK[part.brake]
        if brake.kind != "leaf":
            continue
        for stroke in plan_of(part, brake).strokes:
            engine = stroke.verdict.stroke
            standing = [
                s
                for s in engine._resting
                if s.panel >= 0
                and s.panel not in engine.setting.clamped_panels
                and s.box[1][2] > 4 * engine.setting.blank.thickness + 0.01
            ]
            leaf, hinge = shapely.Polygon(engine.tools.leaf.outline), tuple(engine.tools.hinge)
            shadows = [
                shapely.Polygon(s.shadow if engine.over is None else s.clipped(*engine.over))
                for s in standing
            ]
            least = min(
                (
                    shapely.affinity.rotate(leaf, -angle, origin=hinge).distance(shadow)
                    for shadow in shadows
                    for angle in np.linspace(0.0, stroke.machine_stop, 400)
                ),
                default=math.inf,
            )
            seen += least < stroke.clearance + 0.05
            # Tools are drawn in by a thousandth, so that lying against a face is not meeting it.
            assert stroke.clearance <= least + 0.0015, stroke.name
    assert seen or name in ("hive-scale", "deep-feeder"), "somewhere the leaf is what is nearest"


# --- the stop -----------------------------------------------------------------------------------


def test_what_lies_beside_a_fold_does_not_hold_it_square():
    span = (-100.0, 100.0)
    assert behind(((-300, 300),), span) == ((-100.0, 100.0),)
    assert behind(((-60, -40), (40, 70)), span) == ((-60, -40), (40, 70)), (
        "on both sides of its middle"
    )
    assert behind(((-10, 30),), span) == ((-10, 30),), "over its middle"
    assert behind(((20, 90),), span) == () and behind(((110, 200), (-200, -110)), span) == ()
    assert behind(((-60, -40), (40, 40 + FINGER / 2)), span) == (), "where no finger finds room"


@pytest.mark.parametrize("name", DEMOS)
def test_a_stop_is_met_by_nothing_farther_back_where_its_fingers_stand(name):
    """Every piece at rest, cut by planes across the fold where fingers may stand, ends at the stop
    and no farther back."""
    for part in demo_work(name).parts:
        brake = RACK[part.brake].model_copy(update={"gauge_reach": 900.0})
        plan = plan_of(part, brake)
        for stroke in plan.strokes:
            setting, foot = stroke.verdict.stroke.setting, -stroke.verdict.stroke.packing.thickness
            for stop in possible_stops(plan, stroke):
                assert (
                    stop.fold[0] - 1e-6 <= stop.at[0][0] and stop.at[-1][1] <= stop.fold[1] + 1e-6
                )
                for low, high in stop.at:
                    for x in np.linspace(low + 0.5, high - 0.5, 5):
                        back = rearmost(
                            setting.solids[0], float(x), foot, foot + brake.gauge_height
                        )
                        assert back == pytest.approx(stop.distance, abs=0.06), (
                            part.name,
                            stroke.name,
                            x,
                        )


def rearmost(solids, x: float, low: float, high: float) -> float:
    """How far back (mm) solids reach in a plane across the fold, between two heights: hulls of
    another library."""
    found = -math.inf
    band = shapely.box(-5000, low, 5000, high)
    for solid in solids:
        if not solid.x_range[0] <= x <= solid.x_range[1]:
            continue
        ends = [
            p
            for a, b in itertools.combinations(solid.corners, 2)
            if (p := crossing(a, b, x)) is not None
        ]
        if len(ends) < 3:
            continue
        cut = shapely.MultiPoint(ends).convex_hull.intersection(band)
        if not cut.is_empty:
            found = max(found, cut.bounds[2])
    return found


def crossing(a, b, x: float):
    """Where the line from a to b crosses the plane at x, (y, z); None where it does not."""
    if (a[0] - x) * (b[0] - x) > 0 or abs(a[0] - b[0]) < 1e-12:
        return (a[1], a[2]) if abs(a[0] - x) < 1e-12 else None
    t = (x - a[0]) / (b[0] - a[0])
    return (a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2]))


def test_the_fewest_settings_of_the_stop_serve_every_bend():
    for name in ("syrup-tray", "frame-rail", "inspection-tray"):
        job = demo_job(name)
        plan = plan_of(job, RACK[job.brake].model_copy(update={"gauge_reach": 900.0}))
        few, near = gauge_stops(plan, GaugeBy.FEW), gauge_stops(plan, GaugeBy.NEAR)
        assert settings_of(few) <= settings_of(near)
        assert [stop.sighted for stop in few] == [stop.sighted for stop in near]
        # Brute force over every choice of one stop a stroke.
        every = [possible_stops(plan, stroke) for stroke in plan.strokes]
        every = [stops for stops in every if stops]
        if every and math.prod(map(len, every)) < 50_000:
            assert settings_of(few) == min(
                settings_of(choice) for choice in itertools.product(*every)
            )


# --- the hand -----------------------------------------------------------------------------------


def test_drawing_forward_and_guiding_tabs_are_told():
    deep = Job.model_validate(
        {
            "part": {
                "kind": "strip",
                "legs": [300, 256, 300],
                "angles": [90, 90],
                "length": 400,
                "measured": "inside",
            },
            "metal": "aluminium-soft",
            "thickness": "1 mm",
            "units": "mm",
            "brake": "bench-finger-1000",
        }
    )
    plan = make_plan(deep, RACK[deep.brake])
    drawn = [set_up_of(plan, stroke).hand_work.draw for stroke in plan.strokes]
    assert drawn[0] == 0 and drawn[1] == pytest.approx(300, abs=2), (
        "the standing leg is drawn out from under the beam"
    )
    tray = demo_job("comb-box")
    plan = plan_of(tray, RACK[tray.brake])
    guided = [pair for stroke in plan.strokes for pair in set_up_of(plan, stroke).hand_work.guided]
    assert guided and all("tab" in tab and "hem" in hem for tab, hem in guided)


def test_a_box_whose_wall_stands_just_behind_the_heel_is_drawn_half_way():
    """2" over all over fingers with a foot of 48 mm: let off by a hair and drawn into the middle of
    what room there is. The limits told are those at which solids share no volume; a little farther
    they do."""
    box = Job.model_validate(
        {
            "part": {
                "kind": "open-box",
                "length": 336.55,
                "width": 50.8,
                "depth": 25.4,
                "measured": "outside",
                "corner": {"rule": "butt", "by": "left-right"},
            },
            "school": {"school": "on-the-line"},
            "radius": 1.0,
            "metal": "brass",
            "thickness": "0.6 mm",
            "units": "mm",
            "brake": "bench-finger-1000",
        }
    )
    plan = make_plan(box, RACK[box.brake])
    assert plan.feasible
    told = [(stroke, set_up_of(plan, stroke).hand_work) for stroke in plan.strokes]
    near = [(stroke, work) for stroke, work in told if work.draw_most is not None]
    assert near and all(0 < work.draw < work.draw_most < 2 for _, work in near)
    record = plan_record(plan)
    for stroke, work in near:
        written = record["strokes"][stroke.number - 1]
        for by, meets in (
            (work.draw, False),
            (work.draw_most, False),
            (work.draw_most + 0.25, True),
        ):
            solids = Rebuilt(record["blank"], written).opened(by, LET_OFF)
            finger, released = solids.tool("finger", -0.005), stroke.verdict.released
            struck = [b.panel for b in solids.bodies if shared(solids.posed(b, released), finger)]
            assert bool(struck) is meets, (stroke.name, by, struck)
        said = " ".join(hand_work_text(work, Units.MM))
        assert f"no more than {work.draw_most:.2f}" in said.replace(" mm", ""), said


def test_the_flat_of_a_stroke_is_that_of_its_brake():
    job = demo_job("frame-rail")
    assert make_plan(job, RACK[job.brake]).blank.size == flat_for(job, RACK[job.brake]).size


def test_a_stretch_without_a_finger_beyond_the_brakes_limit_is_told():
    job = demo_job("chimney-halves")
    plan = plan_of(job, RACK[job.brake])
    told = [(stroke, where, length) for stroke in plan.strokes for where, length in stroke.bare]
    assert told, "a hem holds the end of its lock edge"
    for stroke, where, length in told:
        low, high = stroke.verdict.stroke.setting.span
        ends = {
            "left": min(a for a, _ in stroke.sections) - low,
            "right": high - max(b for _, b in stroke.sections),
        }
        assert length == pytest.approx(ends[where]) and length > plan.brake.unsupported_end
        assert any("have nothing over them" in reason for reason in plan.reasons)
    box = demo_job("syrup-tray")
    assert not any(stroke.bare for stroke in plan_of(box, RACK[box.brake]).strokes)
