"""What stands on a part is called alike everywhere."""

from __future__ import annotations

import pytest

from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Hem
from zealous_crane.part.size import names_of, sizes


@pytest.mark.parametrize("demo", DEMOS)
def test_the_flat_and_the_tree_call_everything_alike(demo):
    for job in demo_work(demo).parts:
        if job.part.drawing() is not None:
            continue
        design = job.part.design(job.sheet.thickness)
        named = set(names_of(design).values())
        blank = develop(job)
        on_the_flat = {panel.name for panel in blank.panels} | {fold.name for fold in blank.folds}
        # A seam that lies flat is metal of its panel and no panel of its own; the second fold of a
        # hem is called after it; ears and tabs come of the corners.
        stems = {name.partition(",")[0] for name in on_the_flat} - {"base"}
        assert {name for name in stems if not name.endswith((" ear", " tab"))} <= named, demo


LIPPED = Design(
    base=Base(length=100, width=80),
    flanges=(
        Flange(
            edge="front",
            height=20,
            flanges=(Flange(edge="back", height=6), Flange(edge="left", height=6)),
        ),
        Flange(edge="back", height=20, name="lid", flanges=(Hem(edge="back", length=8),)),
        Hem(edge="left", length=8, form="rolled"),
    ),
)


def test_names_follow_edge_and_carrier():
    assert names_of(LIPPED) == {
        (0,): "front wall",
        (0, 0): "front lip",
        (0, 1): "front left tab",
        (1,): "lid",
        (1, 0): "lid hem",
        (2,): "left safety edge",
    }
    assert [size.title for size in sizes(DrawnPart(tree=LIPPED))] == [
        "Length of the base",
        "Width of the base",
        "Height of the front wall",
        "Height of the front lip",
        "Height of the front left tab",
        "Height of the lid",
        "Length of the lid hem",
        "Length of the left safety edge",
    ]


def test_a_name_given_twice_is_refused_where_it_is_made_and_told_apart_where_it_is_listed():
    twice = Design(
        base=Base(length=100, width=80),
        flanges=(
            Flange(edge="front", height=20, name="wall"),
            Flange(edge="back", height=20, name="wall"),
        ),
    )
    with pytest.raises(ValueError, match="Two panels are called wall"):
        names_of(twice)
    with pytest.raises(DevelopmentError, match="Two panels are called wall"):
        develop(Job(format="zealous-crane-job", part=DrawnPart(tree=twice)))
    assert list(names_of(twice, twice=True).values()) == ["wall", "wall 2"]
