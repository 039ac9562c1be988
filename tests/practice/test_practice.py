"""Exercises are the same for the same seed, can be solved, and wrong answers are traced to their mistake."""

import pytest

from shared_plans import plan_of
from zealous_crane.blank import develop
from zealous_crane.blank.marking import mark_out
from zealous_crane.demo import demo_job
from zealous_crane.job import Job
from zealous_crane.measure import INCH, Units
from zealous_crane.part.kinds import SingleBend
from zealous_crane.plan.result.state import State
from zealous_crane.practice import QuestionKind, Skill, exercise
from zealous_crane.practice.bending import CAUTIONS, folds_of, judged


def question(found, key):
    return next(q for q in found.questions if q.key == key)


@pytest.mark.parametrize("grade", [1, 2, 3])
@pytest.mark.parametrize("seed", [0, 1, 2])
def test_laying_out_is_marked_by_the_development(rack, grade, seed):
    found = exercise(Skill.LAY_OUT, grade, seed, rack)
    blank = develop(found.job) if grade < 3 else found.blank
    assert question(found, "blank-0").mark(blank.size[0]).right and question(found, "blank-1").mark(blank.size[1]).right
    smallest = mark_out(found.blank, found.job.units).scribe[0]
    assert question(found, "scribe-1").mark(smallest.setting).right
    assert not question(found, "blank-0").mark(blank.size[0] + 40).right
    again = exercise(Skill.LAY_OUT, grade, seed, rack)
    assert again.job == found.job and [q.answer for q in again.questions] == [q.answer for q in found.questions]
    assert not found.cautions and found.given


def test_a_wrong_blank_is_traced_to_its_mistake(rack):
    job = demo_job("syrup-tray").model_copy(update={"units": Units.FRACTIONS})
    found = exercise(Skill.LAY_OUT, 1, 0, rack, own=job)
    asked, size = question(found, "blank-0"), found.blank.size
    wall = job.part.depth
    assert "forgotten" in asked.mark(size[0] - 2 * wall).says and "one side" in asked.mark(size[0] - wall).says
    assert "taken twice" in asked.mark(size[0] + 2 * wall).says
    assert "thickness" in asked.mark(size[0] + 2 * found.blank.thickness).says
    assert "exchanged" in asked.mark(size[1]).says
    scribe = question(found, "scribe-1")
    right = mark_out(found.blank, job.units).scribe[0].setting
    assert "far edge" in scribe.mark(size[0] - right).says
    said = asked.mark(size[0] + 3 * INCH).says
    assert said == "Too much.", "how much would be the answer"


@pytest.mark.parametrize("name", ["syrup-tray", "deep-feeder", "inspection-tray"])
def test_an_order_is_marked_by_the_engine(rack, name):
    job = demo_job(name)
    found = exercise(Skill.ORDER, 2, 0, rack, own=job)
    asked = question(found, "order")
    plan = plan_of(job, rack[job.brake])
    best = [asked.options.index(s.name) for s in plan.strokes]
    assert asked.mark(tuple(best)).right and found.cautions == CAUTIONS
    mark = asked.mark(tuple(best[::-1]))
    folds = folds_of(plan)
    engine = judged(job, rack[job.brake], [f for i in best[::-1] for f in folds[asked.options[i]]])
    assert mark.right == (engine.state is not State.STOP)
    if not mark.right:
        assert mark.says == engine.sentence and (engine.stuck is None or mark.stroke is not None)


def test_what_is_met_is_foretold(rack):
    for name in ("deep-feeder", "extractor-guard", "hive-scale"):
        found = exercise(Skill.ORDER, 3, 1, rack, own=demo_job(name))
        keys = {q.key for q in found.questions}
        if "reach" in keys:
            break
    reach, meets = question(found, "reach"), question(found, "meets")
    angle = float(reach.answer.removesuffix("°"))
    assert reach.mark(angle).right and "farther" in reach.mark(angle - 20).says and "sooner" in reach.mark(angle + 20).says
    assert sum(meets.mark(i).right for i in range(len(meets.options))) == 1


def test_setting_up_knows_the_usual_slips(rack):
    job = demo_job("syrup-tray")
    found = exercise(Skill.SET_UP, 1, 0, rack, own=job)
    stop = question(found, "stop")
    right = float(stop.answer.removesuffix("°"))
    assert stop.mark(right).right and "springback is missing" in stop.mark(90.0).says
    assert not stop.mark(180 - right).right and "adding bend is easy" in stop.mark(right + 9).says
    setback = question(found, "setback")
    assert setback.mark(found.plan.strokes[-1].verdict.stroke.setback).right and "crush" in setback.mark(0.0).says
    width = question(found, "sum")
    stroke = found.plan.strokes[-1]
    span = stroke.verdict.stroke.setting.span
    assert width.mark(sum(b.total for b in found.plan.setups[stroke.setup].blocks)).right
    assert "Wider" in width.mark(span[1] - span[0] + 30).says or not width.mark(span[1] - span[0] + 30).right


def test_the_leaf_is_set_ahead_of_the_sheet_in_practice_too(rack):
    """What is marked right is what every card says is set; the figure it takes is told, and the sheet's own angle is a known slip."""
    part = SingleBend(first=60, second=50, length=300, angle=45)
    job = Job(part=part, metal="mild-steel", thickness="1.2 mm", units="mm", brake="bench-finger-1000")
    found = exercise(Skill.SET_UP, 1, 0, rack, own=job)
    (stroke,) = found.plan.strokes
    ahead = stroke.machine_stop - stroke.verdict.reach
    assert ahead > 2 and any(f"{ahead:.1f}° ahead of the sheet" in fact for fact in found.table)
    stop = question(found, "stop")
    assert stop.mark(stroke.machine_stop).right and "ahead of the sheet" in stop.mark(stroke.machine_stop).says
    slip = stop.mark(stroke.verdict.reach)
    assert not slip.right and "the sheet's angle" in slip.says


@pytest.mark.parametrize("grade", [1, 3])
@pytest.mark.parametrize("seed", range(3))
def test_a_fault_can_be_told_and_only_one_is_right(rack, grade, seed):
    found = exercise(Skill.FAULT, grade, seed, rack)
    (asked,) = found.questions
    right = [i for i in range(len(asked.options)) if asked.mark(i).right]
    assert len(right) == 1 and asked.options[right[0]] == asked.answer and len(found.table) >= 3
    assert "other sizes would be off" in asked.mark((right[0] + 1) % len(asked.options)).says


def test_every_random_part_can_be_made_where_a_machine_is_asked(rack):
    for seed in range(4):
        found = exercise(Skill.SET_UP, 3, seed, rack)
        assert found.plan.state is not State.STOP and found.cautions
        assert all(q.kind in (QuestionKind.ANGLE, QuestionKind.LENGTH) for q in found.questions)


def test_a_part_with_nothing_to_ask_is_a_sentence(rack):
    flat = demo_job("hive-stand-angle")
    with pytest.raises(ValueError, match="Nothing of this kind"):
        exercise(Skill.ORDER, 1, 0, rack, own=flat)
