"""Cases every press hand knows, asked of the engine one by one. Common practice, no source, unless
said."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import pytest
import shapely

from solids import Rebuilt
from zealous_crane.bending.judge import judge
from zealous_crane.bending.machines import toolings
from zealous_crane.bending.press.passage import DieRise, PunchRise
from zealous_crane.bending.press.stroke import PressStroke, PressTooling
from zealous_crane.bending.setting import Setting
from zealous_crane.brake.press_brake import (
    PressBrake,
    gooseneck_punch,
    hemming_punch,
    straight_punch,
    v_die,
)
from zealous_crane.brake.tools import Segment
from zealous_crane.flat.development import develop
from zealous_crane.io.plan_file import plan_record
from zealous_crane.job.job import DrawnPart, Job, OrderWishes
from zealous_crane.kernel.advance import OutlineTurn, first_advances
from zealous_crane.kernel.contact import hull
from zealous_crane.kernel.plane import Outlines, turned
from zealous_crane.part.corner import Corner
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Edge, Hem
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.part.kinds.strip import SingleBend, Strip
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.setup import hand_work_text, set_up_of
from zealous_crane.units.length import Units

PIECES = (Segment(width=10, count=10), Segment(width=50, count=10))
STRAIGHT = straight_punch("straight", angle=86, width=20, height=100, pieces=PIECES)
NECK = gooseneck_punch("neck", angle=86, throat=40, height=150, neck=20, pieces=PIECES)


def press(*punches, dies=None, **fields) -> PressBrake:
    return PressBrake(
        **{
            "key": "p",
            "name": "Press",
            "bed_length": 1500,
            "force": 800,
            "open_height": 420,
            "shut_height": 60,
            "ram_front": -40,
            "ram_back": 40,
            "punches": punches or (STRAIGHT,),
            "dies": dies or (v_die("V 8", 8, angle=86, pieces=PIECES),),
            **fields,
        }
    )


def channel(web: float, leg: float) -> Job:
    """A U: two legs on a web, 1 mm steel."""
    return Job(
        part=Strip(legs=(leg, web, leg), angles=(90, 90), length=200, measured="inside"),
        metal="mild-steel",
        thickness="1 mm",
        units="mm",
        springback=2,
    )


def second_bend(punch, web=30.0, leg=60.0, turned_=False):
    """The closing bend of a deep U, the finished leg in front or at the back, whichever reaches
    farther."""
    brake = press(punch, open_ends=True)
    blank = develop(channel(web, leg))
    tooling = PressTooling(brake, punch.turned if turned_ else punch, brake.dies[0], turned_)
    verdicts = [
        judge(blank, tooling, Setting(blank, 0, clamps, (0.0, 90.0)), 2.0)
        for clamps in (True, False)
    ]
    return max(verdicts, key=lambda v: v.reach if v.blocked is None else -1.0)


def test_a_deep_u_on_a_straight_punch_stops_far_short_and_a_gooseneck_clears_it():
    # U bent on a straight punch, legs long against the base: stops far short of 90°.
    short = second_bend(STRAIGHT)
    assert (
        short.limit is not None
        and short.limit.obstacle.tool in ("punch", "ram")
        and short.reach < 70
    )
    for turned_ in (False, True):
        if second_bend(NECK, turned_=turned_).reach >= 91.9:
            break
    else:
        pytest.fail("the gooseneck should clear it")
    plan = make_plan(channel(30.0, 60.0), press(STRAIGHT, NECK, open_ends=True))
    assert plan.feasible and plan.complete
    assert "neck" in str(plan.strokes[-1].verdict.tooling.says)
    # The finished leg has gone round the neck: it comes off sideways only, and not at all between
    # side frames.
    assert plan.strokes[-1].verdict.way == "along"
    assert not make_plan(channel(30.0, 60.0), press(STRAIGHT, NECK)).feasible
    assert not make_plan(channel(30.0, 60.0), press(STRAIGHT)).complete


def test_a_long_angle_is_drawn_forward_and_tipped_under_the_open_ram():
    """Legs of 150 and 240 mm in 3 mm plate between side frames: with the ram up it cannot be tipped
    where it stands, its front leg would swing into the ram; drawn to the front first, it can.
    Followed in solids, which also meet something where it is not drawn."""
    job = Job.model_validate(
        {
            "part": {
                "kind": "single-bend",
                "first": 152.4,
                "second": 239.7,
                "length": 600,
                "angle": 90,
                "measured": "inside",
            },
            "metal": "aluminium-5052",
            "thickness": "3 mm",
            "units": "mm",
        }
    )
    bar = straight_punch("bar", angle=80, width=19, height=101.6, pieces=PIECES)
    dies = (v_die("V 32", 32, angle=80, pieces=PIECES),)
    brake = press(bar, dies=dies, open_height=280, shut_height=76, ram_front=-50, ram_back=50)
    plan = make_plan(job, brake)
    assert plan.feasible
    (stroke,) = plan.strokes
    assert stroke.verdict.way == "drawn" and any(
        "tip it there" in said
        for said in hand_work_text(set_up_of(plan, stroke).hand_work, Units.MM)
    )
    record = plan_record(plan)
    written = record["strokes"][0]
    again = Rebuilt(record["blank"], written)
    assert not again.press_passes(written["released"], "drawn")
    assert Rebuilt(record["blank"], written | {"drawn_forward": 0.0}).press_passes(
        written["released"], "drawn"
    )


def test_a_straight_punch_stops_the_u_where_plain_geometry_says():
    # Sharp fold: the leg's inner face, 60 high on a web of 30, comes in against the punch's side at
    # half its width.
    verdict = second_bend(STRAIGHT)
    stroke = PressStroke(verdict.stroke.setting, verdict.tooling)
    angle = stroke.contact([(-50, 50)]).angle
    side = 10.0
    # Corner of the leg: web 30 from the apex, leg 60 at right angles to it, inwards.
    half = np.radians(np.linspace(1, 90, 8901) / 2)
    y = 30 * np.cos(half) - 60 * np.sin(half)
    first = math.degrees(2 * half[np.argmax(y <= side)])
    assert angle == pytest.approx(first, abs=1.0)


def test_hems_come_first_on_a_press_too_and_want_a_flat_punch():
    tree = Design(
        base=Base(length=200, width=120),
        flanges=(Flange(edge=Edge.FRONT, height=30, flanges=(Hem(edge="back", length=13),)),),
    )
    job = Job(part=DrawnPart(tree=tree), metal="mild-steel", thickness="0.8 mm", units="mm")
    acute = straight_punch("acute", angle=30, width=12, style="acute", pieces=PIECES)
    dies = (v_die("V 6", 6, angle=86, pieces=PIECES), v_die("sharp", 7, angle=30, pieces=PIECES))
    without = make_plan(job, press(STRAIGHT, acute, dies=dies))
    assert not without.feasible and "flat punch" in without.sentence
    plan = make_plan(job, press(STRAIGHT, acute, hemming_punch("flat", pieces=PIECES), dies=dies))
    assert [s.name for s in plan.strokes] == ["front hem", "front wall"]
    assert (
        plan.strokes[0].verdict.reach > 130 and plan.strokes[0].verdict.tooling.die.name == "sharp"
    )


def test_a_leg_shorter_than_the_die_needs_is_refused_and_a_narrower_die_taken():
    job = Job(
        part=SingleBend(first=60, second=7, length=150),
        metal="mild-steel",
        thickness="1 mm",
        units="mm",
    )
    wide, narrow = (
        v_die("wide", 8, angle=86, pieces=PIECES),
        v_die("narrow", 5, angle=86, pieces=PIECES),
    )
    refused = make_plan(job, press(dies=(v_die("V 12", 12, angle=86, pieces=PIECES),)))
    assert (
        not refused.feasible and "needs" in refused.sentence and "to carry it" in refused.sentence
    )
    assert make_plan(job, press(dies=(wide, narrow))).strokes[0].verdict.tooling.die.name in (
        "wide",
        "narrow",
    )


def test_force_and_thickness_are_said():
    plate = Job(
        part=SingleBend(first=100, second=100, length=1000),
        metal="mild-steel",
        thickness="6 mm",
        units="mm",
    )
    big = v_die("V 48", 48, angle=80, pieces=(Segment(width=1000),))
    weak = press(straight_punch("s", pieces=(Segment(width=1000),)), dies=(big,), force=100)
    assert "the press gives 100 kN" in make_plan(plate, weak).sentence
    assert "no die suits this thickness" in make_plan(plate, press()).sentence
    assert "no die" in make_plan(plate, press(dies=()).model_copy(update={"dies": ()})).sentence
    assert "no punch" in make_plan(plate, press().model_copy(update={"punches": ()})).sentence


def test_a_flange_pointing_down_is_lifted_over_the_die():
    tree = Design(
        base=Base(length=200, width=120),
        flanges=(
            Flange(edge=Edge.FRONT, height=30),
            Flange(edge=Edge.BACK, height=25, angle=-90.0),
        ),
        corner=Corner(gap=1.0),
    )
    job = Job(part=DrawnPart(tree=tree), metal="mild-steel", thickness="1 mm", units="mm")
    blank, brake = develop(job), press()
    setting = Setting(blank, 0, True, (0.0, -90.0))
    verdict = judge(blank, PressTooling(brake, STRAIGHT, brake.dies[0]), setting)
    assert verdict.blocked is None and verdict.way == "lifted"
    low = press(open_height=STRAIGHT.height + brake.dies[0].height + 20)
    shut = judge(blank, PressTooling(low, STRAIGHT, low.dies[0]), setting)
    assert shut.blocked is not None


def test_pieces_go_between_standing_walls():
    job = Job(
        part=OpenBox(length=200, width=150, depth=20),
        metal="mild-steel",
        thickness="1 mm",
        units="mm",
    )
    plan = make_plan(job, press())
    assert plan.feasible and len(plan.strokes) == 4
    for stroke in plan.strokes[2:]:
        setting = stroke.verdict.stroke.setting
        assert (
            stroke.sections[0][0] > setting.span[0] - 1
            and stroke.sections[-1][1] < setting.span[1] + 1
        )
    assert all(s.die_blocks for s in plan.setups)


def test_a_box_is_bent_on_a_die_in_one_piece_with_only_the_punch_cut_up():
    """Cutting only the upper tool is the usual economy: walls that stand beside the fold are above
    the die. Common practice, no source. Followed in solids with the die as long as the press."""
    job = Job(
        part=OpenBox(length=300, width=200, depth=40),
        metal="mild-steel",
        thickness="1.5 mm",
        units="mm",
    )
    whole = v_die("V 10", 10, angle=84, pieces=(Segment(width=1500),))
    plan = make_plan(job, press(dies=(whole,)))
    assert plan.feasible and plan.complete and len(plan.setups) == 1
    assert [block.widths for block in plan.setups[0].die_blocks] == [(1500,)]
    record = plan_record(plan)
    for stroke in record["strokes"]:
        assert stroke["die_sections"] and len(stroke["sections"]) > 1
        solids = Rebuilt(record["blank"], stroke)
        assert not any(
            solids.strikes(stroke["reach"] * share, -0.005) for share in (0.0, 0.3, 0.6, 0.9, 1.0)
        )
        assert not solids.press_passes(stroke["released"], stroke["way"])


def test_what_hangs_down_beside_the_fold_still_limits_the_die():
    """Lips turned down at both ends of the fold leave no room for a die in one piece: with a die
    that is cut up it goes."""
    tree = Design(
        base=Base(length=200, width=150),
        flanges=(
            Flange(edge=Edge.FRONT, height=40),
            Flange(edge=Edge.LEFT, height=25, angle=-90.0),
            Flange(edge=Edge.RIGHT, height=25, angle=-90.0),
        ),
        corner=Corner(gap=1.0),
    )
    job = Job(part=DrawnPart(tree=tree), metal="mild-steel", thickness="1 mm", units="mm")
    wished = OrderWishes(
        sequence=("left wall", "right wall", "front wall"), clamp={"front wall": "base"}
    )
    job = job.model_copy(update={"order": wished})
    whole = make_plan(job, press(dies=(v_die("V 8", 8, angle=86, pieces=(Segment(width=1500),)),)))
    assert not whole.feasible and "die" in whole.sentence
    assert make_plan(job, press()).feasible


def test_the_choices_of_set_up_are_those_that_go_together(rack):
    blank = develop(channel(60, 30))
    found = toolings(rack["honey-press-2000"], blank)
    assert len(set(found)) == len(found) > 4
    assert all(not t.punch.even or not t.turned for t in found), (
        "turning an even punch changes nothing"
    )
    assert {t.greatest_angle for t in found} == {94.0, 150.0}


@dataclass(frozen=True)
class Tangent:
    """A shift that goes up or down with the tangent of half the angle."""

    rate: float

    @property
    def terms(self):
        return self.rate, 0.0, 0.0, 0.0, 0.0

    def rise(self, half):
        return self.rate * np.tan(half / 2)


@pytest.mark.parametrize("seed", range(40))
def test_the_first_contact_with_a_shifting_outline_against_small_steps(seed):
    rng = np.random.default_rng(seed)
    moving = hull(rng.uniform((-90, -5), (-20, 15), (5, 2)))
    resting = hull(rng.uniform((-40, 30), (20, 90), (5, 2)) + rng.uniform(-20, 20, 2))
    rise = float(rng.uniform(-15, 25))
    pole = np.array([0.0, float(rng.uniform(-2, 2))])

    def gaps(angles):
        """How far they are apart at each of these angles, by shapely."""
        up = Tangent(rise).rise(angles)[:, None, None]
        swung = shapely.polygons(np.stack([turned(moving, pole, a) for a in angles]))
        return shapely.distance(swung, shapely.polygons(resting + np.insert(up, 0, 0.0, axis=2)))

    if shapely.Polygon(moving).intersects(shapely.Polygon(resting)):
        return  # drawn one upon the other: nothing to turn
    turn = OutlineTurn((float(pole[0]), float(pole[1])), 1.0, 0.0)
    found = first_advances([moving], [turn], Outlines.of([resting]), Tangent(rise), 0.0, 1.5)[0]
    steps = np.linspace(0, 1.5, 3001)
    struck = next((a for a, gap in zip(steps, gaps(steps), strict=True) if gap == 0), None)
    if struck is None:
        # What small steps pass over may still be a graze.
        assert found is None or gaps(np.linspace(found.angle, found.angle + 0.002, 5)).min() < 0.05
    else:
        assert found is not None and struck - 0.002 <= found.angle <= struck + 1e-6


@pytest.mark.parametrize("half", [0.1, 0.4, 0.8])
def test_the_shoulder_of_the_die_stays_on_the_wing(half):
    # The outer face of a wing keeps its distance h from the pole: worked out here from two of its
    # points.
    shoulder, h = 8.0, 0.9

    def turn(y, z):
        return y * math.cos(half) - z * math.sin(half), y * math.sin(half) + z * math.cos(half)

    (y0, z0), (y1, z1) = turn(0.0, -h), turn(10.0, -h)
    on_face = z0 + (shoulder - y0) * (z1 - z0) / (y1 - y0)
    assert DieRise(shoulder, h).rise(np.array([half]))[0] == pytest.approx(on_face + h)


@pytest.mark.parametrize("half", [0.1, 0.3, 0.6, 0.75])
def test_a_round_tip_rides_on_the_faces_and_a_sharp_one_on_the_arc(half):
    # Inner faces at T - h over the pole and up by the angle; a circle between them, its centre on
    # the middle line.
    allowance, radius, drop = 2.0, 3.0, -0.3
    arc = allowance / math.tan(half) / 2 + drop
    sharp, tip = PunchRise(allowance / 2, 0.0, drop), PunchRise(allowance / 2, radius, drop)
    on_arc = allowance / 2 * math.tan(half / 2)
    assert sharp.rise(np.array([half]))[0] == pytest.approx(on_arc)
    rides = tip.rise(np.array([half]))[0] - on_arc
    # The arc itself, rounder by more than the tip, is touched at its foot; else the circle wedges
    # between the two faces.
    assert rides == pytest.approx(max(0.0, radius - max(arc, 0.0)) * (1 / math.cos(half) - 1))
    steps = np.linspace(0.001, 0.78, 400)
    assert (np.diff(tip.rise(steps)) >= 0).all() and (
        np.diff(DieRise(8, 0.6).rise(steps)) > 0
    ).all()
