"""What a person wants of the tools: kept at every bend it was asked for, cheaper never than the
free plan, refused in a sentence."""

import json
from collections import Counter

import pytest

from zealous_crane.bending.machines import toolings
from zealous_crane.brake.library import with_available_pieces
from zealous_crane.demo import demo_job
from zealous_crane.flat.on_brake import flat_for
from zealous_crane.io.job_file import read_job, write_job
from zealous_crane.job.tools import ToolWishes
from zealous_crane.planning.planner import make_plan

PRESS = "honey-press-2000"


def on_press(rack):
    return demo_job("frame-rail").model_copy(update={"brake": PRESS}), rack[PRESS]


def asked(job, brake, *choices):
    """The job with some choices: (choice, value, fold)."""
    wishes = job.tools
    for choice, value, fold in choices:
        wishes = wishes.choosing(brake.key, choice, value, fold)
    return job.model_copy(update={"tools": wishes})


def taken(plan, choice):
    return {
        s.verdict.stroke.setting.line.name: s.verdict.tooling.chosen[choice] for s in plan.strokes
    }


@pytest.mark.parametrize("choice", ["die", "punch", "hung"])
def test_every_value_there_is_can_be_asked_for_and_is_kept_or_refused_for_a_reason(rack, choice):
    job, brake = on_press(rack)
    free = make_plan(job, brake)
    values = {t.chosen[choice] for t in toolings(brake, flat_for(job, brake), every=True)}
    assert len(values) > 1
    went = 0
    for value in values:
        plan = make_plan(asked(job, brake, (choice, value, None)), brake)
        if plan.feasible:
            assert set(taken(plan, choice).values()) == {value}
            assert plan.cost >= free.cost - 1e-9
            went += 1
        else:
            assert plan.sentence.startswith("Cannot be made") and plan.reasons
    assert went


def test_a_die_asked_for_at_one_bend_is_under_that_bend(rack):
    job, brake = on_press(rack)
    for fold in taken(make_plan(job, brake), "die"):
        plan = make_plan(asked(job, brake, ("die", "V 10", fold)), brake)
        assert plan.feasible and taken(plan, "die")[fold] == "V 10"
        # All bends go over it: nobody changes tools for nothing.
        assert len(plan.setups) == 1
    folds = list(taken(plan, "die"))
    plan = make_plan(asked(job, brake, ("die", "V 10", folds[0]), ("die", "V 6", None)), brake)
    assert taken(plan, "die") == {fold: "V 10" if fold == folds[0] else "V 6" for fold in folds}
    assert len(plan.setups) >= 2


def test_the_leafs_angle_and_the_end_of_the_bed(rack):
    job = demo_job()
    brake = rack[job.brake]
    plan = make_plan(asked(job, brake, ("angle", "off", None)), brake)
    assert plan.feasible and set(taken(plan, "angle").values()) == {"off"}
    plan = make_plan(asked(job, brake, ("place", "left end", "left wall")), brake)
    assert plan.feasible and taken(plan, "place")["left wall"] == "left end"


def test_what_no_set_up_is_makes_a_sentence_that_names_the_bend(rack):
    job, brake = on_press(rack)
    plan = make_plan(asked(job, brake, ("die", "V 999", "leg 2")), brake)
    assert not plan.feasible and "the tools asked for do not serve" in plan.sentence
    assert any("leg 2" in reason for reason in plan.reasons)


def test_on_another_brake_nothing_of_it_counts(rack):
    job = demo_job()
    brake = rack[job.brake]
    wished = asked(job, rack[PRESS], ("die", "V 999", None))
    assert make_plan(wished, brake).cost == make_plan(job, brake).cost


def test_a_finger_that_is_not_there_today_stands_nowhere(rack):
    job = demo_job()
    brake = rack[job.brake]
    plan = make_plan(job, brake)
    used = Counter(w for block in plan.setups[0].blocks for w in block.widths)
    width, count = used.most_common(1)[0]
    for there in range(count):
        less = job.model_copy(update={"tools": job.tools.there(brake.key, "fingers", width, there)})
        again = make_plan(less, brake)
        assert again.feasible
        for setup in again.setups:
            assert Counter(w for block in setup.blocks for w in block.widths)[width] <= there
        assert (
            with_available_pieces(with_available_pieces(brake, less), less)
            == with_available_pieces(brake, less)
            == again.brake
        ), "left out once, not twice"
    none = job
    for finger in brake.fingers:
        none = none.model_copy(
            update={"tools": none.tools.there(brake.key, "fingers", finger.width, 0)}
        )
    assert not make_plan(none, brake).feasible
    back = less.tools.there(brake.key, "fingers", width, None)
    assert not back.any


def test_pieces_of_punch_and_die_are_left_out_by_the_tools_name(rack):
    job, brake = on_press(rack)
    plan = make_plan(job, brake)
    die = taken(plan, "die")["leg 1"]
    wishes = job.tools
    for piece in next(d for d in brake.dies if d.name == die).pieces:
        wishes = wishes.there(brake.key, die, piece.width, 0)
    again = make_plan(job.model_copy(update={"tools": wishes}), brake)
    assert again.feasible and die not in taken(again, "die").values()


def test_wishes_are_kept_in_the_file_and_taken_back(tmp_path, rack):
    job, brake = on_press(rack)
    wished = asked(job, brake, ("die", "V 10", "leg 1"), ("punch", "Gooseneck 86", None))
    wished = wished.model_copy(
        update={"tools": wished.tools.there(brake.key, "Gooseneck 86", 100.0, 1)}
    )
    write_job(wished, tmp_path / "job.crane")
    assert read_job(tmp_path / "job.crane") == wished
    assert json.loads((tmp_path / "job.crane").read_text())["tools"]["at"] == {
        "leg 1": {"die": "V 10"}
    }
    bare = wished.tools.choosing(brake.key, "die", None, "leg 1").choosing(brake.key, "punch", None)
    assert bare.there(brake.key, "Gooseneck 86", 100.0, None) == ToolWishes(brake=brake.key)
