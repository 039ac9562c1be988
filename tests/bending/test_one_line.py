"""Folds on one line are one stroke; hems come first; what is not judged is not called a no."""

import pytest

from shared_plans import plan_of
from zealous_crane.bending.machines import narrow_flanges
from zealous_crane.bending.setting import Setting
from zealous_crane.demo import demo_job, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import MadeBy
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.part.corner import CornerRule
from zealous_crane.part.kinds.box import FoldedPan, HemmedTray
from zealous_crane.part.kinds.strip import Plate, SlottedChannel
from zealous_crane.planning.outcome import Outcome
from zealous_crane.planning.planner import make_plan


def names(plan):
    return [s.name for s in plan.strokes]


def test_a_jaw_cover_gets_its_tabs_first_and_its_middle_bend_last(rack):
    # Tabs first, middle bend last between fingers that just fit. Common practice, no source.
    plan = plan_of(demo_job("vise-jaw-cover"), rack["apiary-finger-50"])
    assert plan.feasible and len(plan.strokes) == 3
    assert set(names(plan)[:2]) == {
        "right wall and second face right tab",
        "second face left tab and left wall",
    }
    assert names(plan)[2] == "second face"
    last = plan.strokes[-1]
    # The fingers fit between the tabs that stand.
    low, high = last.sections[0][0], last.sections[-1][1]
    assert high - low < plan.job.part.length and high - low > plan.job.part.length - 30


def test_lips_on_one_line_are_one_stroke(rack):
    plan = plan_of(demo_job("hive-scale"), rack["bench-finger-1000"])
    assert plan.feasible and len(plan.strokes) == 6
    folded = [set(s.verdict.stroke.setting.folds) for s in plan.strokes]
    assert sorted(len(f) for f in folded) == [1, 1, 1, 1, 2, 2]
    assert set().union(*folded) == set(range(len(plan.blank.folds)))


def test_folds_are_one_stroke_only_while_their_panels_lie_level():
    blank = develop(demo_job("vise-jaw-cover"))
    by_name = {f.name: i for i, f in enumerate(blank.folds)}
    tab, other, middle = (
        by_name["right wall"],
        by_name["second face right tab"],
        by_name["second face"],
    )
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
        update={
            "flanges": one_wall.flanges[:1],
            "corner": one_wall.corner.model_copy(update={"rule": CornerRule.OPEN}),
        }
    )
    job = Job(part=DrawnPart(tree=tree), metal="mild-steel", thickness="0.6 mm", units="mm")
    plan = plan_of(job, rack["bench-finger-1000"])
    assert names(plan) == ["front hem", "front wall"]
    hem, wall = plan.strokes
    assert hem.verdict.flattens and "then flatten the hem" in hem.sentence()
    assert hem.verdict.reach > 100 and wall.verdict.stroke.setting.angles[0] in (0.0, 180.0)
    assert 180.0 in wall.verdict.stroke.setting.angles


def test_what_is_made_without_the_brake_is_said(rack):
    brake = rack["bench-finger-1000"]
    plate = make_plan(Job(part=Plate(length=100, width=50)), brake)
    assert (
        plate.open
        and plate.state is Outcome.CARE
        and plate.sentence == "Nothing for the brake: the part is flat."
    )
    slotted = make_plan(Job(part=SlottedChannel(web=60, leg=40, length=200)), brake)
    assert "By hand, in a vise, along the slots" in slotted.sentence
    tray = plan_of(demo_job("safety-edge-tray"), rack["apiary-finger-50"])
    assert all(s.verdict.stroke.setting.line.made_by is not MadeBy.TOOL for s in tray.strokes)


def test_a_pan_with_folded_corners_gets_30_degrees_then_90_then_the_ears(rack):
    # Two opposite walls to about 30°, the other two to 90°, the ears by hand, the first two closed.
    # Common practice, no source.
    plan = make_plan(Job(part=FoldedPan(length=300, width=200, depth=30)), rack["apiary-finger-50"])
    assert [s.verdict.target for s in plan.strokes] == [30, 30, 90, 90, 90, 90]
    assert [s.verdict.stroke.setting.start for s in plan.strokes] == [0, 0, 0, 0, 30, 30]
    walls = [s.name for s in plan.strokes]
    assert set(walls[:2]) == set(walls[4:]) and set(walls[:2]).isdisjoint(walls[2:4])
    (ears,) = plan.hand
    assert ears.after == 4 and "45°" in ears.says


def test_the_last_fold_of_a_sleeve_ends_by_hand(rack):
    sleeve = plan_of(demo_work("wax-melter-chimney").parts[0], rack["apiary-finger-50"])
    assert sleeve.feasible
    last = sleeve.strokes[-1]
    assert last.verdict.by_hand > 15 and last.verdict.limit is not None
    assert sleeve.hand[-1].after == last.number and "bar held inside" in sleeve.hand[-1].says
    # The hems are one stroke and come first, then the lips.
    assert sleeve.strokes[0].verdict.flattens and all(
        "lip" in n for n in sleeve.strokes[1].name.split(" and ")
    )


def test_wall_and_tabs_are_bent_together_and_no_tab_is_trapped(rack):
    # The tray with outside tabs: a tab a thickness off a wall's line is folded with it. Common
    # practice, no source.
    plan = plan_of(demo_job("safety-edge-tray"), rack["apiary-finger-50"])
    assert plan.feasible
    names = [s.name for s in plan.strokes]
    assert sum("tab" in n and "wall" in n for n in names) == 2
    for stroke in plan.strokes:
        setting = stroke.verdict.stroke.setting
        offsets = set(setting.offsets.values())
        assert min(offsets) <= 0 <= max(offsets) <= 0, "the nose stands at the rearmost line"
        for low, high in stroke.sections:
            for solid in setting.solids[0]:
                name = setting.blank.panels[solid.panel].name if solid.panel >= 0 else ""
                if "tab" in name and solid.panel not in setting.level:
                    tab, foot = solid.shadow, stroke.verdict.stroke.tools.finger.outline
                    beside = solid.x_range[1] <= low + 1e-6 or solid.x_range[0] >= high - 1e-6
                    assert beside or not (
                        tab[:, 0].min() < foot[:, 0].max() and tab[:, 0].max() > foot[:, 0].min()
                    )


def test_narrow_flanges_are_found_on_the_flat(rack):
    job = demo_job("frame-rail")
    brake = rack["apiary-finger-50"]
    assert not narrow_flanges(develop(job), brake, job.units)
    part = job.part.model_copy(update={"legs": (1.0, 9.0, 40.0, 9.0, 15.0)})
    small = job.model_copy(update={"part": part})
    said = [str(f.says) for f in narrow_flanges(develop(small), brake, job.units)]
    assert any("needs" in s for s in said) and sum("opposite ways" in s for s in said) == 2
