import json

import pytest
from pydantic import ValidationError

from zealous_crane.demo import demo_job
from zealous_crane.job.job import Job
from zealous_crane.part.corner import Corner, ReliefRule
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Edge, Measured
from zealous_crane.part.kinds.box import OpenBox


def test_an_open_box_is_a_base_and_four_walls():
    design = OpenBox(length="11 in", width="8 1/2 in", depth="2 1/2 in").design(0.8)
    assert [f.edge for f in design.flanges] == list(Edge)
    assert {f.height for f in design.flanges} == {63.5} and {f.angle for f in design.flanges} == {
        90.0
    }
    assert design.base.length == pytest.approx(279.4)


def test_a_design_may_be_written_and_read_as_it_stands():
    tree = OpenBox(length=100, width=80, depth=20, measured="outside").design(0.8)
    job = Job.model_validate({"part": {"kind": "design", "tree": tree.model_dump()}})
    assert job.part.design(0.8) == tree
    assert Job.model_validate_json(job.model_dump_json()) == job


@pytest.mark.parametrize(
    ("build", "said"),
    [
        (lambda: Flange(edge="front", height=0), "more than zero"),
        (lambda: Flange(edge="front", height=10, angle=0.5), "at least 1°"),
        (lambda: Flange(edge="front", height=10, angle=170), "150"),
        (lambda: Flange(edge="front", height=10, angle="ninety"), "could not be read"),
        (lambda: Flange(edge="front", height=10, radius=-1), "negative"),
        (lambda: Flange(edge="north", height=10), "front"),
        (
            lambda: Flange(edge="front", height=10, flanges=(Flange(edge="front", height=5),)),
            "free edge",
        ),
        (
            lambda: Flange(edge="front", height=10, flanges=(Flange(edge="back", height=5),) * 2),
            "carries one",
        ),
        (
            lambda: Flange(edge="front", height=10, flanges=(Flange(edge="edge-5", height=5),)),
            "no edge-5",
        ),
        (
            lambda: Design(
                base=Base(length=10, width=10), flanges=(Flange(edge="front", height=5),) * 2
            ),
            "each edge",
        ),
        (lambda: Base(length=float("inf"), width=10), "finite"),
        (lambda: ReliefRule(shape="star"), "none"),
        (lambda: Corner(gap="wide"), "could not be read"),
    ],
)
def test_what_cannot_be_meant_is_refused(build, said):
    with pytest.raises(ValidationError, match=said):
        build()


def test_edges_know_their_way_round():
    assert [e.turn for e in Edge] == [0, 1, 2, 3]
    assert Measured("inside") is Measured.INSIDE


@pytest.mark.parametrize(
    "fields",
    [
        {"quantity": 0},
        {"name": ""},
        {"springback": -1},
        {"radius": -1},
        {"units": "cubits"},
        {"thickness": "thick"},
    ],
)
def test_a_job_checks_every_field(fields):
    with pytest.raises(ValidationError):
        Job.model_validate({**demo_job().model_dump(), **fields})


def test_the_inside_radius_follows_school_and_metal():
    job = demo_job()
    assert job.inside_radius == 0.0
    stainless = job.model_copy(update={"metal": "stainless", "thickness": "24 ga"})
    assert stainless.inside_radius == pytest.approx(0.5 * stainless.sheet.thickness)
    assert job.model_copy(update={"radius": 1.25}).inside_radius == 1.25
    thick = job.model_copy(update={"metal": "mild-steel", "thickness": "16 ga"})
    assert thick.chosen_school.school == "neutral-line" and thick.inside_radius == pytest.approx(
        thick.sheet.thickness
    )


@pytest.mark.parametrize("name", ["syrup-tray", "deep-feeder"])
def test_the_demonstration_jobs_are_sound(name):
    job = demo_job(name)
    assert job.name and json.loads(job.model_dump_json())["format"] == "zealous-crane-job"
