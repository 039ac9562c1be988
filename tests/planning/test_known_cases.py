"""Cases every brake hand knows, asked of the engine one by one. Common practice, no source, unless
said."""

from __future__ import annotations

import pytest

from shared_plans import plan_of
from zealous_crane.bending.judge import closes, judge
from zealous_crane.bending.leaf.stroke import LeafStroke, LeafTooling
from zealous_crane.bending.setting import Setting
from zealous_crane.brake.library import MachineLibrary
from zealous_crane.flat.development import develop
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.part.corner import Corner
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Edge
from zealous_crane.planning.hand_finishing import HAND_TOOLS, hand_limit
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.remedies.registry import advise
from zealous_crane.units.length import INCH, Units


def strip(*flanges, length=200.0, width=120.0, thickness="0.8 mm", **fields) -> Job:
    """A base with the given flanges, mild steel, folded on the line unless said otherwise."""
    tree = Design(base=Base(length=length, width=width), flanges=flanges, corner=Corner(gap=1.0))
    return Job(
        part=DrawnPart(tree=tree), metal="mild-steel", thickness=thickness, units="mm", **fields
    )


def wall(height, *lips, edge=Edge.FRONT, angle=90.0):
    return Flange(edge=edge, height=height, angle=angle, flanges=lips)


def lip(height, angle):
    return Flange(edge=Edge.BACK, height=height, angle=angle)


def test_a_flange_pointing_down_must_be_farther_off_than_the_leafs_bar(brake):
    for height, clear in ((brake.leaf_bar * 0.8, False), (brake.leaf_bar * 1.3, True)):
        blank = develop(strip(wall(height, lip(9, -90))))
        # The lip is already bent down; now the wall is folded up.
        stroke = LeafStroke(Setting(blank, 0, True, (0.0, -90.0)), LeafTooling(brake))
        blocked = stroke.barred(0.0)
        contact = stroke.fixed_contact
        if clear:
            assert blocked is None and (contact is None or contact.obstacle.tool != "leaf")
        else:
            assert blocked is not None and blocked.tool == "leaf" and blocked.phase == "clamping"


def test_what_hangs_behind_the_bed_must_get_past_its_front(brake):
    blank = develop(strip(wall(40), wall(30, edge=Edge.BACK, angle=-90.0)))
    stroke = LeafStroke(Setting(blank, 0, True, (0.0, -90.0)), LeafTooling(brake))
    blocked = stroke.barred(0.0)
    assert blocked is not None and blocked.tool == "bed"


def test_a_lip_over_the_fingers_does_not_let_them_out(brake):
    # A wall behind with a long lip turned in: over the fingers while they are down, in their way
    # when they rise.
    for reach, blocked in ((15, False), (90, True)):
        blank = develop(strip(wall(40), wall(60, lip(reach, 90), edge=Edge.BACK), width=110))
        setting = Setting(blank, 0, True, (0.0, 90.0, 90.0))
        verdict = judge(blank, LeafTooling(brake), setting)
        assert (verdict.blocked is not None) == blocked, reach
        if blocked:
            assert "back lip" in verdict.blocked.text(Units.MM)


def test_a_narrow_channel_meets_the_heel_of_the_fingers(brake):
    # The wall behind must miss the fingers: a base narrower than their foot cannot be clamped with
    # that wall up.
    for width, works in ((brake.foot - 5, False), (brake.foot + 15, True)):
        blank = develop(strip(wall(40), wall(40, edge=Edge.BACK), width=width))
        verdict = judge(blank, LeafTooling(brake), Setting(blank, 0, True, (0.0, 90.0)))
        assert (verdict.blocked is None) == works, width


def test_taller_walls_swing_in_front_of_the_beam_to_the_clamp(brake):
    # Swung alone, a wall taller than the fingers stops where it meets clamp or beam, near square; a
    # short one goes on.
    tall, short = (
        judge(blank, LeafTooling(brake), Setting(blank, 0, True, (0.0,)))
        for blank in (develop(strip(wall(140))), develop(strip(wall(30))))
    )
    assert 91 < tall.reach < tall.wanted == 92 and tall.limit.obstacle.tool == "beam"
    # It springs back in proportion to what it was bent by: 90 of 92 degrees stay.
    assert tall.by_hand == pytest.approx((tall.wanted - tall.reach) * 90 / 92)
    assert LeafStroke(short.stroke.setting, LeafTooling(brake)).contact([(-50, 50)]).angle > 110
    assert short.reach == 92


def test_rake_lets_a_flange_go_past_square(brake):
    blank = develop(strip(wall(12)))
    angles = []
    for rake in (10, 25, 40):
        leaned = brake.model_copy(update={"rake": float(rake), "throat": 5.0})
        angles.append(
            LeafStroke(Setting(blank, 0, True, (0.0,)), LeafTooling(leaned))
            .contact([(-50, 50)])
            .angle
        )
    assert 95 < angles[0] < angles[1] < angles[2]


def test_the_leaf_goes_no_farther_than_its_stop(brake):
    blank = develop(strip(wall(8, angle=70.0)))
    short = brake.model_copy(update={"greatest_angle": 60.0})
    verdict = judge(blank, LeafTooling(short), Setting(blank, 0, True, (0.0,)))
    assert verdict.reach == 60 and verdict.limit.obstacle.tool == "stop"
    assert verdict.released < 60 and verdict.by_hand > 10


def test_a_fold_past_the_fingers_rake_stops_at_their_face_and_still_comes_out(brake):
    blank = develop(strip(wall(25, angle=140.0)))
    verdict = judge(blank, LeafTooling(brake), Setting(blank, 0, True, (0.0,)))
    assert verdict.blocked is None
    assert 105 < verdict.reach < 125 and verdict.limit.obstacle.tool.startswith("finger")
    assert verdict.released < verdict.reach


def test_thick_sheet_is_not_finished_by_hand(box, brake):
    thick, thin = (
        box(depth="3", metal="mild-steel", thickness="16 ga"),
        box(depth="3", metal="mild-steel", thickness="22 ga"),
    )
    assert not plan_of(thick, brake).feasible and "by hand" in plan_of(thick, brake).sentence
    assert plan_of(thin, brake).feasible
    assert max(t.thickness for t in HAND_TOOLS if t.length > 1000 and not t.wraps) == pytest.approx(
        1.3
    )
    blank = develop(thin)
    assert all(
        s.verdict.by_hand <= hand_limit(blank, s.verdict.stroke.setting.fold)
        for s in plan_of(thin, brake).strokes
    )


def test_only_a_wall_between_standing_neighbours_wants_the_deep_box_over_bend(box):
    blank = develop(box())
    names = [f.name for f in blank.folds]
    front, right, back = (
        names.index("front wall"),
        names.index("right wall"),
        names.index("back wall"),
    )
    up = lambda *which: tuple(90.0 if i in which else 0.0 for i in range(4))  # noqa: E731
    assert not closes(blank, front, up())
    assert not closes(blank, front, up(back))
    assert closes(blank, front, up(right))
    assert not closes(blank, front, tuple(20.0 if i == right else 0.0 for i in range(4)))


def test_advice_is_only_what_works(box, brake, rack):
    # Too long for the bed: no wall height helps, and the other brake is shorter still; only two
    # pieces go.
    plan = advise(make_plan(box(length="55 in"), brake), MachineLibrary(rack.brakes[:2]))
    assert not plan.feasible and len(plan.cures) == 2
    shorter, cure = plan.cures
    # Longer than the bed by more than it can hang over: the longest that works is on offer, and one
    # tick more does not work.
    assert make_plan(shorter.job, brake).feasible
    tick = shorter.job.part.model_copy(update={"length": shorter.job.part.length + INCH / 16})
    assert not make_plan(shorter.job.model_copy(update={"part": tick}), brake).feasible
    assert "two pieces" in cure.says and cure.also is not None
    halves = [make_plan(job, brake) for job in (cure.job, cure.also)]
    assert all(half.feasible for half in halves)
    lap = sum(half.blank.size[0] for half in halves) - plan.blank.size[0]
    assert lap == pytest.approx(INCH, abs=1e-6), (
        "together the blanks are longer by the lap and nothing else"
    )
    # Deeper than the fingers, but not for the taller fingers of the other brake.
    plan = advise(make_plan(box(depth="3 1/2", thickness="24 ga"), brake), rack)
    assert any("Bench finger brake" in line for line in plan.advice)
    other = rack["bench-finger-1000"]
    assert make_plan(plan.job.model_copy(update={"brake": other.key}), other).feasible
    complete = make_plan(box(), brake)
    assert advise(complete, rack) is complete


def test_a_box_too_deep_all_round_is_refused_for_every_clamping(box, brake):
    plan = make_plan(box(depth=4 * INCH), brake)
    held = {reason.split(",")[1].split(":")[0].strip() for reason in plan.reasons[:-1]}
    assert any(h.startswith("base clamped") for h in held) and any(
        "wall clamped" in h for h in held
    )
    assert plan.judged > 8
