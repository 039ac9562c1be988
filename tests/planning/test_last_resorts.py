"""What is tried when the plain way does not go, and what a person may ask an order to do
without."""

from __future__ import annotations

import pytest

from shared_plans import plan_of
from solids import Rebuilt
from zealous_crane.bending.judge import judge
from zealous_crane.bending.machines import toolings
from zealous_crane.bending.setting import Setting
from zealous_crane.brake.force import Bottoming, bend_force
from zealous_crane.brake.press_brake import straight_punch, v_die
from zealous_crane.brake.tools import Segment
from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.io.plan_file import plan_record
from zealous_crane.job.job import DrawnPart, Job, OrderWishes
from zealous_crane.part.corner import Corner, CornerAt
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Edge
from zealous_crane.part.hole import Cutout
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.part.kinds.strip import SingleBend, Strip
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.remedies.parting import halves
from zealous_crane.planning.remedies.registry import advise
from zealous_crane.planning.route import Moves, SearchOptions
from zealous_crane.planning.setup import set_up_facts, set_up_of
from zealous_crane.units.length import INCH


def zigzag(**fields) -> Job:
    """A strip that goes on the bench brake only with a leg bent over."""
    part = Strip(legs=(39, 26, 32, 24), angles=(-90, -90, 45), length=100, measured="inside")
    return Job(
        part=part,
        metal="mild-steel",
        thickness="0.8 mm",
        units="mm",
        brake="bench-finger-1000",
        **fields,
    )


# --- bent over, opened by hand ------------------------------------------------------------------


def test_a_leg_is_bent_over_where_nothing_else_goes_and_opened_last(rack):
    brake = rack["bench-finger-1000"]
    assert not make_plan(zigzag(), brake, moves=Moves()).feasible, "not with whole strokes"
    assert not make_plan(zigzag(), brake, moves=Moves(part_way=(30.0, 60.0))).feasible, (
        "nor with folds left part way"
    )
    plan = make_plan(zigzag(), brake)
    over = [
        s for s in plan.strokes if s.verdict.released > abs(s.verdict.stroke.setting.line.angle) + 1
    ]
    assert plan.feasible and len(over) == 1
    assert (
        "the last wall up to" in plan.sentence
        and "1 wall bent 10° too far, to open by hand" in plan.sentence
    )
    assert (
        over[0].verdict.by_hand == pytest.approx(10.0)
        and "too far; opened by hand at the end" in over[0].sentence()
    )
    opened = next(step for step in plan.hand if over[0].name in step.folds)
    assert opened.after == len(plan.strokes), (
        "the bends after it were judged with the leg as it stands"
    )
    assert "10° back" in opened.says
    # It stands bent over while the others are made.
    for later in plan.strokes[over[0].number :]:
        assert abs(
            later.verdict.stroke.setting.angles[over[0].verdict.stroke.setting.fold]
        ) == pytest.approx(55.0)


@pytest.mark.solid
def test_with_a_leg_bent_over_nothing_is_crushed(rack):
    record = plan_record(make_plan(zigzag(), rack["bench-finger-1000"]))
    assert len(record["strokes"]) == 3
    for stroke in record["strokes"]:
        rebuilt = Rebuilt(record["blank"], stroke)
        for share in (0.0, 0.3, 0.6, 0.9, 1.0):
            assert not rebuilt.strikes(stroke["reach"] * share, -0.005), (stroke["name"], share)


# --- to be avoided ------------------------------------------------------------------------------


def test_an_order_without_hand_work_leaves_none_or_says_no(rack):
    job = demo_job("deep-feeder")
    brake = rack[job.brake]
    assert plan_of(job, brake).hand
    plan = make_plan(job.model_copy(update={"order": OrderWishes(avoid=("hand",))}), brake)
    assert not plan.feasible and plan.sentence.startswith("Cannot be made in this order")
    shallow = job.model_copy(update={"part": job.part.model_copy(update={"depth": 2 * INCH})})
    plan = make_plan(shallow.model_copy(update={"order": OrderWishes(avoid=("hand",))}), brake)
    assert plan.complete and plan.least_cost == pytest.approx(plan.cost)


def test_without_folds_bent_over_the_strip_does_not_go(rack):
    plan = make_plan(zigzag(order=OrderWishes(avoid=("part-way",))), rack["bench-finger-1000"])
    assert not plan.feasible and "Every order of whole strokes" in plan.reasons[-1]


@pytest.mark.parametrize("avoid", [(), ("angle-off",), ("bed-end",), ("angle-off", "bed-end")])
def test_set_ups_that_are_avoided_are_not_tried(avoid, rack):
    from zealous_crane.planning.order_requests import Wishes
    from zealous_crane.planning.search import Search

    job = demo_job("inspection-tray")
    search = Search(
        develop(job), rack[job.brake], SearchOptions(wishes=Wishes(OrderWishes(avoid=avoid)))
    )
    assert any(t.bare for t in search.choices.toolings) == ("angle-off" not in avoid)
    assert any(t.end for t in search.choices.toolings) == ("bed-end" not in avoid)
    assert len(search._same) > 1, "what is avoided is the same for mirror images"


# --- bottomed -----------------------------------------------------------------------------------

PIECES = (Segment(width=50, count=20),)


def plate(angle: float = 90.0, **fields) -> Job:
    part = SingleBend(first=60, second=50, length=400, angle=angle)
    return Job(part=part, metal="mild-steel", thickness="3 mm", units="mm", brake="p", **fields)


def press(rack, force=600.0):
    """The honey house's press with one die that a square bend can be bottomed in."""
    die = v_die("V 24, 88°", 24, angle=88, pieces=PIECES, limit=1300)
    punch = straight_punch("Straight 86", angle=86, pieces=PIECES, limit=1300)
    return rack["honey-press-2000"].model_copy(
        update={"dies": (die,), "punches": (punch,), "force": force}
    )


def test_a_bottomed_bend_takes_four_times_the_force_and_springs_a_quarter_as_far(rack):
    # One radius, so that nothing but the bottoming differs; each by itself takes the radius its
    # tools make.
    air, bottomed = (make_plan(plate(radius=0.8, bottomed=b), press(rack)) for b in (False, True))
    assert air.feasible and bottomed.feasible
    one, other = air.strokes[0].verdict, bottomed.strokes[0].verdict
    assert other.springback.angle == pytest.approx(one.springback.angle / 4)
    assert other.wanted == pytest.approx(90 + one.springback.angle / 4) and "bottomed" in str(
        other.tooling.says
    )
    force = set_up_of(bottomed, bottomed.strokes[0]).machine.force
    # (1 + 4T/V) · Rm · T² / V per length in air with Rm 450 (press charts, from memory), four times
    # that bottomed, over 400 mm.
    expected = 4 * (1 + 4 * 3 / 24) * 450 * 9 / 24 * 0.4
    assert force.total == pytest.approx(expected)
    assert {f.label: f.value for f in set_up_facts(bottomed, bottomed.strokes[0])}[
        "Force"
    ].startswith(f"{expected:.0f} kN (41.3 t) bottomed")
    per = bend_force(bottomed.blank.sheet, 24, Bottoming.BOTTOMED)
    assert per == pytest.approx(4 * bend_force(bottomed.blank.sheet, 24))
    # A press that is strong enough in air and not to bottom says so.
    weak = make_plan(plate(bottomed=True), press(rack, force=per * 0.4 / 2))
    assert (
        not weak.feasible
        and "the press gives" in weak.sentence
        and make_plan(plate(), press(rack, force=per * 0.2)).feasible
    )


def test_only_what_the_die_makes_is_bottomed_in_it(rack):
    plan = make_plan(plate(60.0, bottomed=True), press(rack))
    assert (
        not plan.feasible
        and "makes 9" in plan.sentence
        and "needs 60.2°" in plan.sentence
        and "bend it in air" in plan.sentence
    )
    assert make_plan(plate(60.0), press(rack)).feasible
    # A fold that is only begun is bent in air.
    blank = develop(plate())
    tooling = toolings(press(rack), blank, bottomed=True)[0]
    begun = judge(blank, tooling, Setting(blank, 0, True, (0.0,)), None, 40.0)
    assert begun.blocked is None and begun.stroke.bottoming is Bottoming.AIR


# --- other sets of fingers ----------------------------------------------------------------------


def test_other_sets_of_fingers_serve_the_same_strokes(rack):
    job = demo_job("syrup-tray")
    plan = plan_of(job, rack[job.brake])
    setup = plan.setups[0]
    (least, most, _), rack_widths = setup.widths[0], [f.width for f in rack[job.brake].fingers]
    assert 1 <= len(setup.others) <= 3 and setup.blocks[0] not in setup.others
    for block in setup.others:
        assert least - 1e-6 <= block.total <= most + 1e-6
        assert all(any(abs(w - have) < 1e-6 for have in rack_widths) for w in block.widths)
    assert {f.label: f.value for f in set_up_facts(plan, plan.strokes[0])}["Alternatives"].count(
        ";"
    ) == len(setup.others) - 1


# --- two pieces and a seam ----------------------------------------------------------------------


def test_a_box_is_cut_across_its_length_or_its_width_and_nothing_is_lost():
    box = OpenBox(length=400, width=300, depth=50).design(0.8)
    found = {size: pieces for size, *pieces in halves(box)}
    assert set(found) == {"length", "width"}
    first, second = found["length"]
    assert (
        first.base.length + second.base.length == pytest.approx(400 + INCH)
        and first.base.width == 300
    )
    assert {f.edge for f in first.flanges} == {"front", "back", "left"}
    assert {f.edge for f in second.flanges} == {"front", "back", "right"}
    wide, other = found["width"]
    assert {f.edge for f in wide.flanges} & {f.edge for f in other.flanges} == {"left", "right"}


def test_what_cannot_be_cut_in_two_is_left_alone():
    wall = Flange(edge=Edge.LEFT, height=30)
    both = (wall, Flange(edge=Edge.RIGHT, height=30))
    assert not list(halves(Design(base=Base(length=400, width=100), flanges=(wall,)))), (
        "one wall only"
    )
    assert not list(halves(Design(base=Base(length=80, width=100), flanges=both))), (
        "nothing left beside the lap"
    )
    hole = Cutout(length=10)
    assert not list(
        halves(Design(base=Base(length=400, width=100), flanges=both, cutouts=(hole,)))
    ), "a hole in the way"
    special = CornerAt(at="right-back", corner=Corner(gap=3))
    walls = (*both, Flange(edge=Edge.BACK, height=30))
    _, first, second = next(
        halves(Design(base=Base(length=400, width=100), flanges=walls, corners=(special,)))
    )
    assert first.corners == () and second.corners == (special,)
    for piece in (first, second):
        develop(Job(part=DrawnPart(tree=piece), metal="mild-steel", thickness="0.8 mm", units="mm"))


def test_another_brake_is_found_for_a_job_with_an_order_of_its_own(rack):
    job = demo_job("deep-feeder")
    job = job.model_copy(update={"order": OrderWishes(before=(("front wall", "left wall"),))})
    plan = advise(plan_of(job, rack[job.brake]), rack)
    assert not plan.complete and any(
        cure.brake is not None and cure.brake.key == "bench-finger-1000" for cure in plan.cures
    )


def test_another_brake_is_offered_with_nothing_left_for_the_hand(rack):
    """The cheapest order there may leave work for the hand too: what is offered asks for none, and
    keeps it."""
    job = demo_job("hive-scale")
    plan = advise(plan_of(job, rack[job.brake]), rack)
    assert any(stroke.verdict.by_hand for stroke in plan.strokes)
    others = [cure for cure in plan.cures if cure.brake is not None and cure.brake.key != job.brake]
    assert others and all("with nothing finished by hand" in cure.says for cure in others)
    for cure in others:
        assert "hand" in cure.job.order.avoid and make_plan(cure.job, cure.brake).complete
