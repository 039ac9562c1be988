"""Settings that are odd because of the school, and how far a scribe is set."""

import math

import numpy as np
import pytest

from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.bend_lines import half_marks, uncut
from zealous_crane.flat.development import develop
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.ruler import Striking
from zealous_crane.io.plan_file import blank_record
from zealous_crane.job.job import Job
from zealous_crane.job.tools import SmallTools
from zealous_crane.metal.allowance import NeutralLine, OnTheLine
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.units.length import INCH, Units


def box(**fields):
    part = OpenBox(length=10 * INCH, width=8 * INCH, depth=0.5 * INCH)
    return Job(
        **{
            "part": part,
            "metal": "mild-steel",
            "thickness": "20 ga",
            "radius": 0.0,
            "units": Units.FRACTIONS,
            **fields,
        }
    )


def test_a_half_mark_is_told_with_what_makes_it():
    # By hand: with r = 0 the line lies half the allowance, π/4 · K · T, past the inside height.
    job = box(school=NeutralLine(k=0.33))
    blank = develop(job)
    settings = [
        s.setting for s in mark_out(blank, job.units, Striking.of(job)).scribe if s.kind == "fold"
    ]
    (half,) = half_marks(blank, job, settings)
    plain = develop(box(school=OnTheLine()))
    on_line = {
        s.setting for s in mark_out(plain, job.units, Striking.of(job)).scribe if s.kind == "fold"
    }
    assert any(abs(half.expected - s) < 1e-6 for s in on_line), (
        "what is expected is what the line alone gives"
    )
    assert half.expected == pytest.approx(0.5 * INCH) and half.setting == pytest.approx(
        0.5 * INCH + math.pi / 4 * 0.33 * blank.thickness
    )
    said = half.says(Units.FRACTIONS)
    assert "¹⁄₂" in said and "Neutral line" in said and "adds" in said
    assert blank_record(blank, job)["half_marks"][0]["setting"] == half.setting


def test_folding_on_the_line_leaves_no_half_mark():
    job = box(school=OnTheLine())
    blank = develop(job)
    assert not half_marks(blank, job, [s.setting for s in mark_out(blank, job.units).scribe])


def test_both_ways_turns_to_the_far_edge_where_the_scribe_ends():
    job = box(
        part=OpenBox(length=16 * INCH, width=10 * INCH, depth=2 * INCH), strike_from="both ways"
    )
    blank = develop(job)
    (long, wide) = blank.size
    marking = mark_out(blank, job.units, Striking.of(job))
    edges = {round(s.setting, 2): s.edges for s in marking.scribe if s.kind == "fold"}
    assert len(edges) == 1 and set(next(iter(edges.values()))) == {
        "left",
        "right",
        "front",
        "back",
    }, edges
    assert any("opposite edges" in step for step in marking.steps)
    # With a longer scribe the far lines are struck from the datum too, and nothing needs the
    # straight-edge.
    far = job.model_copy(update={"small_tools": SmallTools(scribe_reach=24 * INCH)})
    settings = mark_out(blank, job.units, Striking.of(far)).scribe
    assert {e for s in settings for e in s.edges} == {"left", "front"} and not any(
        s.beyond for s in settings
    )
    assert (
        max(s.setting for s in settings) == pytest.approx(long - 2 * INCH, abs=1.0) and long > wide
    )


def test_nearest_lines_beyond_the_shops_scribe_need_a_straight_edge():
    job = box(
        part=OpenBox(length=16 * INCH, width=10 * INCH, depth=2 * INCH),
        small_tools=SmallTools(scribe_reach=1 * INCH),
    )
    blank = develop(job)
    assert all(
        s.beyond and "straight-edge" in s.purpose
        for s in mark_out(blank, job.units, Striking.of(job)).scribe
    )


@pytest.mark.parametrize("name", DEMOS)
def test_panels_and_folds_before_the_corners_are_cut_are_those_of_the_whole_flat(name):
    for job in demo_work(name).parts:
        if job.part.drawing() is not None:
            continue
        bare, blank = uncut(job), develop(job)
        assert [fold.name for fold in bare.folds] == [fold.name for fold in blank.folds]
        assert bare.size == pytest.approx(blank.size, abs=1e-9)
        for mine, cut in zip(bare.folds, blank.folds, strict=True):
            assert (mine.parent, mine.child, mine.angle, mine.bend) == (
                cut.parent,
                cut.child,
                cut.angle,
                cut.bend,
            )
            assert float((mine.start - cut.start) @ cut.outward) == pytest.approx(0, abs=1e-9)
            # The corners take from its ends, and from nothing else.
            along = (mine.end - mine.start) / mine.length
            assert (
                -1e-6
                < (cut.start - mine.start) @ along
                < (cut.end - mine.start) @ along
                < mine.length + 1e-6
            )
        for mine, whole in zip(bare.panels, blank.panels, strict=True):
            assert mine.name == whole.name and np.allclose(mine.polygon, whole.polygon, atol=1e-9)
