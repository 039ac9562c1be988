"""Every stroke the program calls possible, bent again in solids from the fold tree; its figures set
and measured there."""

from __future__ import annotations

import pytest

from bent_again import bent_again, random_plans
from random_across import MACHINES
from shared_plans import plan_of
from zealous_crane.demo import DEMOS, demo_work


@pytest.mark.solid
@pytest.mark.parametrize("name", DEMOS)
def test_demonstrations(name, rack):
    for part in demo_work(name).parts:
        _, wrong = bent_again(plan_of(part, rack[part.brake]))
        assert not wrong, wrong


@pytest.mark.solid
@pytest.mark.parametrize("kind", MACHINES)
@pytest.mark.parametrize("block", range(6))
def test_random_parts_with_metal_across_the_line(block, kind):
    strokes, refused, wrong = random_plans(range(block * 8, block * 8 + 8), kind)
    assert not wrong, wrong
    # Nothing hangs above the bars of a hand folder: it takes nearly every part.
    assert strokes and (refused or kind == "hand"), (
        "some are made and some are not, or this shows nothing"
    )
