"""A part tipped so that a wall higher than the tool rises passes under it: every step of it again
in solids."""

import pytest

from solids import Rebuilt
from zealous_crane.bending.judge import judge
from zealous_crane.bending.machine import FactKey
from zealous_crane.bending.machines import toolings
from zealous_crane.bending.setting import Setting
from zealous_crane.flat.development import develop
from zealous_crane.io.plan_file import blank_record, stroke_record
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.strip import Strip
from zealous_crane.planning.outcome import Outcome
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.setup import set_up_facts


def channel(leg, web=180):
    return Job(
        part=Strip(length=250, legs=(leg, web, leg), angles=(90, 90)),
        metal="mild-steel",
        thickness="0.8 mm",
        units="mm",
        brake="bench-finger-1000",
    )


@pytest.mark.solid
@pytest.mark.parametrize(("opening", "leg"), [(50, 60), (50, 65), (55, 65), (60, 80), (70, 85)])
def test_a_wall_higher_than_the_tool_rises_leans_back_and_passes(rack, opening, leg):
    brake = rack["bench-finger-1000"].model_copy(update={"opening": float(opening)})
    job = channel(leg)
    blank = develop(job)
    verdict = judge(blank, toolings(brake, blank)[0], Setting(blank, 0, True, (0.0, 90.0)))
    assert verdict.blocked is None and verdict.way == "tipped" and verdict.reach == verdict.wanted
    record = stroke_record(verdict.stroke, verdict.free)
    record |= {
        "way": "tipped",
        "drawn_forward": verdict.stroke.ease(verdict.released, "tipped"),
        "released": verdict.released,
    }
    rebuilt = Rebuilt(blank_record(blank, job), record)
    assert not rebuilt.tipped_passes(0.0) and not rebuilt.tipped_passes(verdict.released)
    # Tipped by less, the wall meets the finger; drawn off level it does too.
    less = {**record, "tip": {**record["tip"], "angle": max(0.0, record["tip"]["angle"] - 8.0)}}
    assert any(
        name == "finger" for *_, name in Rebuilt(blank_record(blank, job), less).tipped_passes(0.0)
    )


def test_the_card_says_how_it_is_tipped(rack):
    brake = rack["bench-finger-1000"].model_copy(update={"opening": 60.0})
    plan = make_plan(channel(80), brake)
    assert plan.state is not Outcome.STOP
    tipped = [s for s in plan.strokes if s.verdict.way == "tipped"]
    assert tipped
    (said,) = [fact.value for fact in set_up_facts(plan, tipped[0]) if fact.key is FactKey.WAY]
    assert "tipped front up by 44°" in said and "leans back" in said


def test_what_is_low_enough_is_not_tipped(rack):
    brake = rack["bench-finger-1000"].model_copy(update={"opening": 60.0})
    blank = develop(channel(50))
    verdict = judge(blank, toolings(brake, blank)[0], Setting(blank, 0, True, (0.0, 90.0)))
    assert verdict.way == "front" and not verdict.stroke.tip.angle
