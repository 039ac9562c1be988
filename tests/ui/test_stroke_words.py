"""The words of one stroke's page, held against what the plan itself says."""

import pytest

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.paper.stroke_words import (
    MOST_CAUTIONS,
    cautions_text,
    fresh_text,
    hold_text,
    sections_text,
    turn_text,
)
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.setup import set_up_of
from zealous_crane.shop.safety_notes import cautions_at
from zealous_crane.units.length import show_length

PLANS = [
    make_plan(job, shipped_rack()[job.brake])
    for job in (demo_work(name).parts[0] for name in list(DEMOS)[:6])
]


@pytest.mark.parametrize("plan", PLANS, ids=lambda plan: plan.job.name)
def test_tools_are_set_up_once_and_then_left(plan):
    fresh = [fresh_text(plan, stroke).startswith("Set up") for stroke in plan.strokes]
    assert not plan.strokes or fresh[0]
    for stroke, new in zip(plan.strokes, fresh, strict=True):
        first = stroke.number == plan.setups[stroke.setup].strokes[0]
        assert new <= first


@pytest.mark.parametrize("plan", PLANS, ids=lambda plan: plan.job.name)
def test_a_stroke_says_its_stop_and_how_the_sheet_is_turned(plan):
    for stroke in plan.strokes:
        settings = set_up_of(plan, stroke)
        text = hold_text(plan, stroke, settings, None)
        assert text.startswith(turn_text(plan, stroke))
        if not settings.gauge.sighted:
            assert show_length(settings.gauge.distance, plan.job.units.fine) in text
        if stroke.number > 1:
            now, before = (
                s.verdict.stroke.setting for s in (stroke, plan.strokes[stroke.number - 2])
            )
            over = now.line.angle * before.line.angle < 0
            assert ("Turn it over" in turn_text(plan, stroke)) is over
        assert sections_text(plan, stroke).startswith(fresh_text(plan, stroke))
        first = [str(c.text) for c in cautions_at(plan, stroke)[:MOST_CAUTIONS]]
        assert cautions_text(plan, stroke) == " ".join(first)
