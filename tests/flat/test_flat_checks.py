"""What a careful hand sees on a flat, module by module: cut-outs, checks, flats from drawings."""

import numpy as np
import pytest

from zealous_crane.flat.checks import HOLE_EDGE, FlatCheck
from zealous_crane.flat.cutout import mark_lines
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.from_drawing import develop_drawing
from zealous_crane.flat.panel_tree import grown
from zealous_crane.job.job import FlatPart, Job
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.drawn_flat import DrawnFlat, DrawnFold
from zealous_crane.part.hole import Stiffener

SQUARE = ((0.0, 0.0, 0.0), (200.0, 0.0, 0.0), (200.0, 100.0, 0.0), (0.0, 100.0, 0.0))


def drawn(*folds, holes=()):
    flat = DrawnFlat(outline=SQUARE, folds=folds, holes=holes)
    return Job(part=FlatPart(flat=flat), thickness="1 mm", units="mm"), flat


def test_a_drawn_flat_parts_at_its_fold():
    job, flat = drawn(DrawnFold(start=(60, 0), end=(60, 100), angle=90))
    blank = develop_drawing(job, flat)
    assert blank.size == pytest.approx((200, 100)) and len(blank.panels) == 2
    assert len(blank.folds) == 1 and blank.folds[0].angle == 90


@pytest.mark.parametrize(
    ("start", "end"),
    [((60, 20), (60, 100)), ((60, 0), (60, 60)), ((300, 0), (300, 100)), ((0, 0), (0, 100))],
)
def test_a_fold_that_parts_nothing_is_refused(start, end):
    job, flat = drawn(DrawnFold(start=start, end=end, angle=90))
    with pytest.raises(DevelopmentError):
        develop_drawing(job, flat)


@pytest.mark.parametrize(("away", "said"), [(1.0, True), (6.0, False)])
def test_a_hole_too_near_an_edge_is_said(away, said):
    """1 1/2 thicknesses to an edge: common practice, no source."""
    size = 10.0
    x, y = away + size / 2, 50.0
    r = size / 2
    hole = ((x + r, y, 1.0), (x - r, y, 1.0))
    job, flat = drawn(DrawnFold(start=(150, 0), end=(150, 100), angle=90), holes=(hole,))
    blank = develop_drawing(job, flat)
    strips = tuple(np.zeros((4, 2)) for _ in blank.folds)
    texts = [str(finding.says) for finding in FlatCheck(job, blank, strips)()]
    assert any("edge" in text and "bulges" in text for text in texts) is said
    assert away < HOLE_EDGE if said else away > HOLE_EDGE


def test_a_cross_break_runs_from_corner_to_corner_of_its_panel():
    design = Design(
        base=Base(length=200, width=120),
        flanges=(Flange(edge="front", height=30),),
        marks=(Stiffener(panel="base", form="cross-break"),),
    )
    job = Job(part={"kind": "design", "tree": design}, thickness="1 mm", units="mm")
    lines = mark_lines(design, grown(job).tree)
    assert len(lines) == 2
    blank = develop(job)
    assert len(blank.marks) >= 2
