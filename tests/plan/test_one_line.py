"""Folds on one line are one stroke; hems come first; what is not judged is not called a no."""

import pytest

from zealous_crane.blank import MadeBy, develop
from zealous_crane.demo import demo_job, demo_work
from zealous_crane.job import DrawnPart, Job
from zealous_crane.part.kinds import FoldedPan, HemmedTray, Plate, SlottedChannel
from zealous_crane.plan import Setting, State, make_plan, narrow_flanges


def names(plan):
    return [s.name for s in plan.strokes]


def test_a_jaw_cover_gets_its_tabs_first_and_its_middle_bend_last(rack):
    # Tabs first, middle bend last between fingers that just fit. Common practice, no source.
    plan = make_plan(demo_job("vise-jaw-cover"), rack["apiary-finger-50"])
    assert plan.feasible and len(plan.strokes) == 3
    assert set(names(plan)[:2]) == {"right wall and second face right tab", "second face left tab and left wall"}
    assert names(plan)[2] == "second face"
    last = plan.strokes[-1]
    # The fingers fit between the tabs that stand.
    low, high = last.sections[0][0], last.sections[-1][1]
    assert high - low < plan.job.part.length and high - low > plan.job.part.length - 30


def test_lips_on_one_line_are_one_stroke(rack):
    plan = make_plan(demo_job("hive-scale"), rack["bench-finger-1000"])
    assert plan.feasible and len(plan.strokes) == 6
    folded = [set(s.verdict.stroke.setting.folds) for s in plan.strokes]
    assert sorted(len(f) for f in folded) == [1, 1, 1, 1, 2, 2]
    assert set().union(*folded) == set(range(len(plan.blank.folds)))


def test_folds_are_one_stroke_only_while_their_panels_lie_level():
    blank = develop(demo_job("vise-jaw-cover"))
    by_name = {f.name: i for i, f in enumerate(blank.folds)}
    tab, other, middle = by_name["right wall"], by_name["second face right tab"], by_name["second face"]
    flat = [0.0] * len(blank.folds)
    assert Setting(blank, tab, True, tuple(flat)).folds == tuple(sorted((tab, other)))
    flat[middle] = 90.0
    assert Setting(blank, tab, True, tuple(flat)).folds == (tab,)
    flat[middle], flat[other] = 0.0, 90.0
    setting = Setting(blank, tab, True, tuple(flat))
    assert setting.folds == (tab,) and setting.after(88.0)[other] == 90.0
    together = Setting(blank, other, True, (0.0,) * len(blank.folds))
    after = together.after(90.0)
    assert after[tab] == after[other] == 90.0 and after[middle] == 0.0
    assert together.span[1] - together.span[0] == pytest.approx(blank.size[1], abs=3)
    assert len(together.clamped_panels) == len(together.folding_panels) == 2


def test_hems_come_first(rack):
    tray = HemmedTray(length=200, width=150, depth=25, hem=10, tab=8)
    one_wall = tray.design(0.6)
    tree = one_wall.model_copy(
        update={"flanges": one_wall.flanges[:1], "corner": one_wall.corner.model_copy(update={"rule": "open"})}
    )
    job = Job(part=DrawnPart(tree=tree), metal="mild-steel", thickness="0.6 mm", units="mm")
    plan = make_plan(job, rack["bench-finger-1000"])
    assert names(plan) == ["front hem", "front wall"]
    hem, wall = plan.strokes
    assert hem.verdict.flattens and "then flatten the hem" in hem.sentence()
    assert hem.verdict.reach > 100 and wall.verdict.stroke.setting.angles[0] in (0.0, 180.0)
    assert 180.0 in wall.verdict.stroke.setting.angles


def test_what_is_made_without_the_brake_is_said(rack):
    brake = rack["bench-finger-1000"]
    plate = make_plan(Job(part=Plate(length=100, width=50)), brake)
    assert plate.open and plate.state is State.CARE and plate.sentence == "Nothing for the brake: the part is flat."
    slotted = make_plan(Job(part=SlottedChannel(web=60, leg=40, length=200)), brake)
    assert "By hand, in a vise, along the slots" in slotted.sentence
    pan = make_plan(Job(part=FoldedPan(length=300, width=200, depth=30)), brake)
    assert pan.open and pan.sentence.startswith("Not judged") and "30°" in pan.sentence and not pan.feasible
    tray = make_plan(demo_job("safety-edge-tray"), rack["apiary-finger-50"])
    assert all(s.verdict.stroke.setting.line.made_by is not MadeBy.TOOL for s in tray.strokes)


def test_a_no_with_hems_is_not_called_a_proof(rack):
    sleeve = make_plan(demo_work("wax-melter-chimney").parts[0], rack["apiary-finger-50"])
    assert sleeve.open and sleeve.sentence.startswith("No order found, and that is no proof")


def test_tabs_a_thickness_off_a_wall_are_not_called_a_no(rack):
    # Wall and tab are bent together. Common practice, no source; a stroke for two lines is not tried, and that is said.
    plan = make_plan(demo_job("safety-edge-tray"), rack["apiary-finger-50"])
    assert plan.open and "lie nearly on one line" in plan.sentence


def test_narrow_flanges_are_found_on_the_flat(rack):
    job = demo_job("frame-rail")
    brake = rack["apiary-finger-50"]
    assert not narrow_flanges(develop(job), brake, job.units)
    part = job.part.model_copy(update={"legs": (1.0, 9.0, 40.0, 9.0, 15.0)})
    small = job.model_copy(update={"part": part})
    said = [f.says for f in narrow_flanges(develop(small), brake, job.units)]
    assert any("wants" in s for s in said) and sum("opposite ways" in s for s in said) == 2
