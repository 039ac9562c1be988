"""The ready kinds as models: what they refuse, and sizes between faces."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.job.job import Job
from zealous_crane.part.corner import Corner
from zealous_crane.part.design import Facet, Flange, PolygonBase
from zealous_crane.part.drawn_flat import DrawnFlat, DrawnFold
from zealous_crane.part.edge import Hem, Joggle, Seam
from zealous_crane.part.hole import Cutout, HolePlace
from zealous_crane.part.kinds import KINDS
from zealous_crane.part.kinds.box import HemmedTray, OpenBox
from zealous_crane.part.kinds.cover import EnclosureBase, EnclosureLid
from zealous_crane.part.kinds.duct import Cap, ReducerHalf, Sleeve
from zealous_crane.part.kinds.strip import Strip

EVERY_PART = [part.part for name in DEMOS for part in demo_work(name).parts]


def test_every_kind_has_a_demonstration():
    assert {type(part) for part in EVERY_PART} == set(KINDS)


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_says_what_it_is(kind):
    assert kind.label and kind.about.endswith(".") and kind.model_fields["kind"].default
    words = {k.model_fields["kind"].default for k in KINDS}
    assert len(words) == len(KINDS)


@pytest.mark.parametrize("part", EVERY_PART, ids=lambda p: p.kind)
def test_every_kind_goes_round_as_json_and_gives_a_tree(part):
    job = Job(part=part)
    assert Job.model_validate_json(job.model_dump_json()) == job
    tree = part.design(0.8)
    again = Job.model_validate({"part": {"kind": "design", "tree": tree.model_dump()}})
    assert again.part.design(0.8) == tree
    assert part.drawing() is None


@given(st.floats(60, 500), st.floats(0.3, 3), st.sampled_from(["inside", "outside"]))
def test_spans_are_two_thicknesses_apart_and_set_back(size, thickness, measured):
    for part in (
        OpenBox(length=size, width=50, depth=20, measured=measured),
        HemmedTray(length=size, width=50, depth=20, measured=measured),
        Sleeve(length=size, width=50, height=20, measured=measured),
        EnclosureBase(length=size, width=50, height=40),
        Cap(length=size, width=50, depth=20, clearance=3),
    ):
        inside, outside = part.span("length", thickness)
        assert outside - inside == pytest.approx(2 * thickness)
        assert part.larger("length", 11.0).span("length", thickness) == pytest.approx(
            (inside + 11, outside + 11)
        )
    lid = EnclosureLid(length=size, width=50, height=20)
    assert lid.span("length", thickness) == (size, size) and lid.span(
        "width", thickness
    ) == pytest.approx((50, 50 + 2 * thickness))


@pytest.mark.parametrize(
    ("build", "said"),
    [
        (lambda: Strip(legs=(10, 20), angles=(90, 90), length=50), "1 folds between them"),
        (lambda: Strip(legs=(10, 20), angles=(0.2,), length=50), "at least 1°"),
        (lambda: Strip(legs=(10,), angles=(), length=50), "at least 2"),
        (lambda: Cap(length=50, width=3, clearance=4, depth=10), "leaves nothing"),
        (lambda: Cap(length=50, width=30, clearance=-1, depth=10), "greater than or equal"),
        (lambda: OpenBox(length=50, width=30, depth=-2), "more than zero"),
        (lambda: Corner(rule="tab"), "give the tab first"),
        (lambda: Hem(edge="back", length=5, form="wavy"), "closed"),
        (lambda: Hem(edge="back", length=5, notch=90), "75"),
        (lambda: Joggle(edge="back", lap=5, slope=5), "20"),
        (lambda: Seam(edge="top", form="lap"), "front, right, back or left"),
        (lambda: Cutout(length=5, width=3), "no width"),
        (lambda: Cutout(length=5, shape="slot"), "needs a width"),
        (lambda: Cutout(length=5, width=6, shape="slot"), "at least as long"),
        (lambda: Cutout(length=5, x=HolePlace(edge="front")), "left or right"),
        (lambda: Cutout(length=5, y=HolePlace(edge="left")), "front or back"),
        (lambda: Facet(edge="back", corners=((0, 1), (5, 0), (3, 4))), "lie on the fold line"),
        (lambda: Facet(edge="back", corners=((0, 0), (5, 0), (3, -4))), "beyond the fold line"),
        (lambda: PolygonBase(corners=((0, 0), (0, 10), (10, 10), (10, 0))), "counter-clockwise"),
        (
            lambda: PolygonBase(corners=((0, 0), (10, 0), (10, 10), (5, 3), (0, 10))),
            "bulge outwards",
        ),
        (lambda: DrawnFold(start=(0, 0), end=(0, 0)), "some length"),
        (lambda: DrawnFold(start=(0, 0), end=(0, 5), angle=0), "at least 1°"),
        (lambda: DrawnFlat(outline=((0, 0, 0),)), "at least 2"),
        (lambda: Flange(edge="back", height=5, kind="shelf"), "flange"),
        (lambda: Job(part={"kind": "teapot"}), "teapot|tag"),
    ],
)
def test_what_cannot_be_meant_is_refused(build, said):
    with pytest.raises(ValidationError, match=said):
        build()


def test_a_reducer_that_is_no_reducer_says_so():
    wide = ReducerHalf(length=10, width=10, small_length=900, small_width=900, height=1)
    with pytest.raises(ValueError, match="between 1° and 150°"):
        wide.design(0.8)


def test_five_stars_do_not_make_a_base():
    star = tuple(
        (math.cos(4 * math.pi * i / 5) * 50, math.sin(4 * math.pi * i / 5) * 50) for i in range(5)
    )
    with pytest.raises(ValidationError, match="crosses itself"):
        PolygonBase(corners=star)
