"""The section-set designer against plain counting."""

from __future__ import annotations

import itertools

import pytest

from zealous_crane.brake.designer import Bar, assess, propose

BAR = Bar(length=32.0, kerf=1 / 16, allowance=1 / 32, step=1.0, gap=0.25)


def test_the_doubling_set_comes_out_first():
    # Sections 1, 2, 4, 8, 16 reach every whole number up to 31. Common practice, no source.
    best = propose(BAR)[0]
    assert best.name == "doubling" and best.lengths == (16, 8, 4, 2, 1) and best.complete
    assert best.reached == tuple(range(1, 32))
    # 31 of steel, five pieces with two machined ends each, four cuts.
    assert best.left == pytest.approx(32 - 31 - 10 / 32 - 4 / 16)


def test_every_proposal_comes_out_of_the_bar_and_reaches_what_it_says():
    for found in propose(BAR):
        assert BAR.used(found.lengths) <= 32 + 1e-9 and found.left == pytest.approx(
            32 - BAR.used(found.lengths)
        )
        if len(found.lengths) <= 12:
            sums = {
                sum(c)
                for n in range(1, len(found.lengths) + 1)
                for c in itertools.combinations(found.lengths, n)
            }
            assert set(found.reached) == {round(s) for s in sums}


def test_gaps_are_counted_by_trying_every_width():
    found = assess("three", [1, 2, 4], BAR)
    sums = {c: len(c) for n in (1, 2, 3) for c in itertools.combinations((1, 2, 4), n)}
    widths = [k / 100 for k in range(100, 701)]
    reached = [
        any(sum(c) - 1e-9 <= w <= sum(c) + (n - 1) * BAR.gap + 1e-9 for c, n in sums.items())
        for w in widths
    ]
    assert found.within == pytest.approx(sum(reached) / len(widths), abs=0.02)
    assert found.widest_miss == pytest.approx(1.0)


def test_a_bar_that_cannot_be_is_said():
    with pytest.raises(ValueError, match="longer than the bar"):
        Bar(length=5, kerf=0, allowance=0, step=10, gap=0)
    with pytest.raises(ValueError, match="negative"):
        Bar(length=50, kerf=-1, allowance=0, step=1, gap=0)
    with pytest.raises(ValueError, match="the bar is 32 mm long"):
        assess("too much", [20, 20], BAR)
