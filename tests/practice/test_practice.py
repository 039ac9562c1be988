"""Exercises are the same for the same seed, can be solved, and wrong answers are traced to their
mistake."""

import math

import numpy as np
import pytest

from shared_plans import plan_of
from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.flat.marking import mark_out
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.strip import SingleBend
from zealous_crane.planning.outcome import Outcome
from zealous_crane.practice.bending import ORDER, SET_UP, folds_of, judged
from zealous_crane.practice.exercise import CAUTIONS, QuestionKind
from zealous_crane.practice.fault import FAULT
from zealous_crane.practice.layout import LAY_OUT
from zealous_crane.practice.make import exercise
from zealous_crane.units.length import INCH, Units, parse_length


def question(found, key):
    return next(q for q in found.questions if q.key == key)


@pytest.mark.parametrize("grade", [1, 2, 3])
@pytest.mark.parametrize("seed", [0, 1, 2])
def test_laying_out_is_marked_by_the_development(rack, grade, seed):
    found = exercise(LAY_OUT, grade, seed, rack)
    blank = develop(found.job) if grade < 3 else found.blank
    assert (
        question(found, "blank-0").mark(blank.size[0]).right
        and question(found, "blank-1").mark(blank.size[1]).right
    )
    smallest = mark_out(found.blank, found.job.units).scribe[0]
    assert question(found, "scribe-1").mark(smallest.setting).right
    assert not question(found, "blank-0").mark(blank.size[0] + 40).right
    again = exercise(LAY_OUT, grade, seed, rack)
    assert again.job == found.job and [q.answer for q in again.questions] == [
        q.answer for q in found.questions
    ]
    assert not found.cautions and found.given


def test_a_wrong_blank_is_traced_to_its_mistake(rack):
    job = demo_job("syrup-tray").model_copy(update={"units": Units.FRACTIONS})
    found = exercise(LAY_OUT, 1, 0, rack, own=job)
    asked, size = question(found, "blank-0"), found.blank.size
    wall = job.part.depth
    assert (
        "forgotten" in asked.mark(size[0] - 2 * wall).says
        and "one side" in asked.mark(size[0] - wall).says
    )
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
    found = exercise(ORDER, 2, 0, rack, own=job)
    asked = question(found, "order")
    plan = plan_of(job, rack[job.brake])
    best = [asked.options.index(s.name) for s in plan.strokes]
    assert asked.mark(tuple(best)).right and found.cautions == CAUTIONS
    mark = asked.mark(tuple(best[::-1]))
    folds = folds_of(plan)
    engine = judged(job, rack[job.brake], [f for i in best[::-1] for f in folds[asked.options[i]]])
    assert mark.right == (engine.state is not Outcome.STOP)
    if not mark.right:
        assert mark.says == engine.sentence and (engine.stuck is None or mark.stroke is not None)


def test_what_is_met_is_foretold(rack):
    for name in ("deep-feeder", "extractor-guard", "hive-scale"):
        found = exercise(ORDER, 3, 1, rack, own=demo_job(name))
        keys = {q.key for q in found.questions}
        if "reach" in keys:
            break
    reach, meets = question(found, "reach"), question(found, "meets")
    angle = float(reach.answer.removesuffix("°"))
    assert (
        reach.mark(angle).right
        and "farther" in reach.mark(angle - 20).says
        and "sooner" in reach.mark(angle + 20).says
    )
    assert sum(meets.mark(i).right for i in range(len(meets.options))) == 1


def test_setting_up_knows_the_usual_slips(rack):
    job = demo_job("syrup-tray")
    found = exercise(SET_UP, 1, 0, rack, own=job)
    stop = question(found, "stop")
    right = float(stop.answer.removesuffix("°"))
    assert stop.mark(right).right and "springback is missing" in stop.mark(90.0).says
    assert not stop.mark(180 - right).right and "adding bend is easy" in stop.mark(right + 9).says
    setback = question(found, "setback")
    assert (
        setback.mark(found.plan.strokes[-1].verdict.stroke.setback).right
        and "crush" in setback.mark(0.0).says
    )
    width = question(found, "sum")
    stroke = found.plan.strokes[-1]
    span = stroke.verdict.stroke.setting.span
    assert width.mark(sum(b.total for b in found.plan.setups[stroke.setup].blocks)).right
    assert (
        "Wider" in width.mark(span[1] - span[0] + 30).says
        or not width.mark(span[1] - span[0] + 30).right
    )


def test_the_leaf_is_set_ahead_of_the_sheet_in_practice_too(rack):
    """What is marked right is what every card says is set; the figure it takes is told, and the
    sheet's own angle is a known slip."""
    part = SingleBend(first=60, second=50, length=300, angle=45)
    job = Job(
        part=part, metal="mild-steel", thickness="1.2 mm", units="mm", brake="bench-finger-1000"
    )
    found = exercise(SET_UP, 1, 0, rack, own=job)
    (stroke,) = found.plan.strokes
    ahead = stroke.machine_stop - stroke.verdict.reach
    assert ahead > 2 and any(f"{ahead:.1f}° ahead of the sheet" in fact for fact in found.table)
    stop = question(found, "stop")
    assert (
        stop.mark(stroke.machine_stop).right
        and "ahead of the sheet" in stop.mark(stroke.machine_stop).says
    )
    slip = stop.mark(stroke.verdict.reach)
    assert not slip.right and "the sheet's angle" in slip.says


@pytest.mark.parametrize("grade", [1, 3])
@pytest.mark.parametrize("seed", range(3))
def test_a_fault_can_be_told_and_only_one_is_right(rack, grade, seed):
    found = exercise(FAULT, grade, seed, rack)
    (asked,) = found.questions
    right = [i for i in range(len(asked.options)) if asked.mark(i).right]
    assert len(right) == 1 and asked.options[right[0]] == asked.answer and len(found.table) >= 3
    assert "other sizes would be off" in asked.mark((right[0] + 1) % len(asked.options)).says


def test_every_random_part_can_be_made_where_a_machine_is_asked(rack):
    for seed in range(4):
        found = exercise(SET_UP, 3, seed, rack)
        assert found.plan.state is not Outcome.STOP and found.cautions
        assert all(q.kind in (QuestionKind.ANGLE, QuestionKind.LENGTH) for q in found.questions)


def test_a_part_with_nothing_to_ask_is_a_sentence(rack):
    flat = demo_job("hive-stand-angle")
    with pytest.raises(ValueError, match="Nothing of this kind"):
        exercise(ORDER, 1, 0, rack, own=flat)


def size_of(text, units=Units.FRACTIONS):
    """A size as it is shown, mm; what is about so is taken so."""
    return parse_length(text.replace("≈", ""), units)


def told(found, label):
    """What an exercise tells of one thing, as text."""
    return next(line.partition(": ")[2] for line in found.given if line.startswith(label + ": "))


@pytest.mark.parametrize("seed", range(30))
def test_a_strip_worked_out_from_what_is_told_alone_is_right(rack, seed):
    """The flat by the neutral line, from the texts a learner reads: legs less two setbacks a bend,
    plus its arc (any handbook's bend allowance, radians times r + K·T)."""
    found = exercise(LAY_OUT, 3, seed, rack)
    legs = [size_of(text, found.job.units) for text in told(found, "Legs").split(", ")]
    angles = [
        math.radians(abs(float(text.rstrip("°")))) for text in told(found, "Angles").split(", ")
    ]
    t, r = (size_of(told(found, label)) for label in ("Thickness", "Inside radius"))
    k = float(told(found, "Bend allowance").rpartition("(K ")[2].rstrip(")"))
    deductions = [2 * (r + t) * math.tan(a / 2) - a * (r + k * t) for a in angles]
    flat = sum(legs) - sum(deductions)
    assert question(found, "blank-0").mark(flat).right
    # The line of the first bend lies in the middle of its arc.
    lines = np.cumsum([leg for leg in legs[:-1]]) - [
        sum(deductions[:i]) + d / 2 for i, d in enumerate(deductions)
    ]
    nearest = sorted({round(min(at, flat - at), 2) for at in lines})
    asked = [q for q in found.questions if q.key.startswith("scribe")]
    assert asked and all(any(q.mark(at).right for at in nearest) for q in asked)


@pytest.mark.parametrize("grade", [1, 2])
@pytest.mark.parametrize("seed", range(10))
def test_every_setting_asked_can_be_had_from_what_is_told(rack, grade, seed):
    """Fold lines from the sizes as they are given; notches and tabs from the figures told beside
    them."""
    found = exercise(LAY_OUT, grade, seed, rack)
    units, size = found.job.units, size_of
    hem = size(told(found, "Hem length"), units) if grade == 2 else 0.0
    wall = hem + size(told(found, "Depth"), units)
    spans = [size(told(found, name), units) + 2 * wall for name in ("Length", "Width")]
    lines = [at for span in spans for at in (hem, wall, span - wall, span - hem) if at > 0]
    for asked in (q for q in found.questions if q.key.startswith("scribe")):
        number = asked.key.removeprefix("scribe-")
        line = next(
            (line for line in found.table if line.startswith(f"Scribe setting {number} ")), None
        )
        if line is None or "on a fold line" in line:
            right = lines
        else:
            by = size(line.split(" lies ")[1].split(" farther")[0], units) * (
                1 if "farther in" in line else -1
            )
            right = [at + by for at in lines]
        assert any(asked.mark(at).right for at in right), (asked.says, line)
    relief = next((q for q in found.questions if q.key == "relief"), None)
    if relief is not None:
        least = size(
            next(line for line in found.table if "at least" in line)
            .split("at least ")[1]
            .rstrip("."),
            Units.FRACTIONS,
        )
        wall_words = next(line for line in found.table if line.startswith("Punches"))
        tools = [size(text, units) for text in wall_words.split(": ")[1].split(";")[0].split(", ")]
        assert relief.mark(min(tool for tool in tools if tool >= least - 0.02)).right


def test_what_is_said_to_do_is_marked_right_and_nothing_beyond(rack):
    for seed in range(6):
        found = exercise(SET_UP, 1, seed, rack)
        asked = next((q for q in found.questions if q.key == "sum"), None)
        if asked is None:
            continue
        says = asked.mark(size_of(asked.answer, found.job.units)).says
        assert says.startswith("Between "), (seed, asked.answer, says)
        least, most = (
            size_of(text, found.job.units)
            for text in says.split("Between ")[1].split(" will do")[0].split(" and ")
        )
        assert asked.mark(least).right and asked.mark(most).right
        assert not asked.mark(most + 2).right and not asked.mark(least - 2).right


def test_an_angle_read_inside_is_called_so(rack):
    found = exercise(SET_UP, 3, 3, rack)
    stop = question(found, "stop")
    right = float(stop.answer.rstrip("°"))
    assert right < 80 and "bent from flat" in stop.says and "inside" in stop.mark(180 - right).says


@pytest.mark.parametrize("grade", [1, 2, 3])
@pytest.mark.parametrize("seed", range(8))
def test_setting_up_can_be_worked_out_from_what_is_told(rack, grade, seed):
    """The stop: the angle wanted, what the metal springs back by, what the leaf is ahead; the
    setback: the thickness, and what is told."""
    found = exercise(SET_UP, grade, seed, rack)
    stop = question(found, "stop")
    wanted = 90.0
    if grade == 3:
        leg = int(stop.says.partition(":")[0].removeprefix("leg "))
        angles = [abs(float(text.rstrip("°"))) for text in told(found, "Angles").split(", ")]
        # Legs are counted from one end, the base is one of them, and a fold is named after the leg
        # it carries.
        wanted = {abs(fold.angle) for fold in found.blank.folds if fold.name == f"leg {leg}"}.pop()
        assert wanted in angles

    def degrees(mark):
        line = next((line for line in found.table if mark in line), "")
        return float(line.partition(mark)[2].split("°")[0]) if line else 0.0

    assert stop.mark(wanted + degrees("springs back by ") + degrees("The leaf stands ")).right, (
        stop.answer,
        found.table,
    )
    setback = next((q for q in found.questions if q.key == "setback"), None)
    if setback is not None:
        more = next(
            (line for line in found.table if "asks for" in line and "more than" in line), None
        )
        extra = size_of(more.split("asks for ")[1].split(" more")[0]) if more else 0.0
        assert setback.mark(size_of(told(found, "Thickness")) + extra).right
