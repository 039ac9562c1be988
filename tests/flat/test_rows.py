"""Rows of rivets, spots and screws: places from the middle, alike in both parts, through what lies
behind when all is bent."""

import numpy as np
import pytest
import shapely

from zealous_crane.demo import DEMOS, demo_job
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.folding import panel_poses
from zealous_crane.flat.joining import join_steps
from zealous_crane.flat.marking import mark_out
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.hole import Drilled, FastenerRow, Joined
from zealous_crane.units.length import Units
from zealous_crane.work.fit import FitError, Joint, JointSide
from zealous_crane.work.work import Work


def sleeve_with_lap(lap=20.0, side=100.0, height=150.0):
    """A four-sided sleeve whose last flange is a lap inside the first side; the third side is a
    thickness (0.8) shorter for it."""
    strip = None
    for k, length in enumerate((lap, side - 0.8, side, side)):
        flanges = () if strip is None else (strip,)
        strip = Flange(
            edge="back",
            height=length,
            name=("lap", "third", "second", "first")[k],
            measured="outside",
            flanges=flanges,
        )
    return Design(base=Base(length=height, width=side, measured="outside"), flanges=(strip,))


def job_of(design, *rows, **fields):
    return Job(part=DrawnPart(tree=design), thickness="0.8 mm", units=Units.MM, rows=rows, **fields)


def test_places_are_spread_from_the_middle_and_kept_from_ends_and_edge():
    channel = Design(
        base=Base(length=200, width=60), flanges=(Flange(edge="front", height=30, name="leg"),)
    )
    blank = develop(job_of(channel, FastenerRow(panel="leg", edge="back", size=3.2, pitch=40)))
    (row,) = blank.rows
    along = np.sort(row.places[:, 0])
    assert len(row.places) == 6 and np.allclose(np.diff(along), row.pitch) and row.pitch <= 40
    assert along.mean() == pytest.approx(100.0), "about the middle of the edge"
    assert along.min() == pytest.approx(6.4) and along.max() == pytest.approx(193.6), (
        "two diameters from the ends"
    )
    edge = shapely.Polygon(blank.outline.flattened()).boundary
    assert min(edge.distance(shapely.Point(p)) for p in row.places) == pytest.approx(6.4, abs=1e-6)
    assert row.order[:2] == (2, 3) and row.order[-2:] == (0, 5), "drilled from the middle out"
    assert [h.size[0] for h in blank.holes] == [3.3] * 6, "ISO 15977: a rivet of 3.2 wants 3.3"
    assert not blank.findings


@pytest.mark.parametrize("drilled", Drilled)
def test_a_lap_is_joined_to_what_lies_behind_it_where_the_folded_part_says(drilled):
    row = FastenerRow(panel="lap", edge="back", through="base", pitch=30, drilled=drilled)
    blank = develop(job_of(sleeve_with_lap(), row))
    (made,) = blank.rows
    names = [p.name for p in blank.panels]
    poses = panel_poses(blank, [f.angle for f in blank.folds])
    lap, base = poses[names.index("lap")], poses[names.index("base")]
    t = blank.thickness
    for here, there in zip(made.places, made.behind, strict=True):
        # The axis of the hole, drawn through both panels of the folded part, square to them.
        foot, tip = lap.apply(np.array([[*here, 0.0], [*here, t]]))
        axis = (tip - foot) / t
        target = base.apply(np.array([[*there, t / 2]]))[0]
        off = target - foot - ((target - foot) @ axis) * axis
        assert np.linalg.norm(off) < 1e-9
        assert abs((target - foot) @ axis) < 4 * t, "and they lie against each other"
    assert len(blank.holes) == len(made.places) * (1 if drilled is Drilled.THROUGH else 2)
    steps = " ".join(join_steps(blank, Units.MM))
    assert ("drill through with a pin in every hole" in steps) == (drilled is Drilled.THROUGH)


def test_what_does_not_lie_behind_is_refused_by_name():
    with pytest.raises(DevelopmentError, match="the second does not lie behind the row on the lap"):
        develop(job_of(sleeve_with_lap(), FastenerRow(panel="lap", edge="back", through="second")))
    with pytest.raises(DevelopmentError, match="no panel called lid"):
        develop(job_of(sleeve_with_lap(), FastenerRow(panel="lid")))
    with pytest.raises(DevelopmentError, match="lies beyond it"):
        develop(job_of(sleeve_with_lap(), FastenerRow(panel="lap", inset=50)))
    with pytest.raises(DevelopmentError, match="does not fit on the back edge"):
        develop(job_of(sleeve_with_lap(), FastenerRow(panel="lap", length=500)))
    with pytest.raises(DevelopmentError, match="run into each other"):
        develop(
            job_of(sleeve_with_lap(), FastenerRow(panel="lap"), FastenerRow(panel="lap", inset=7))
        )


def test_too_near_an_edge_or_a_bend_is_said():
    (found,) = develop(job_of(sleeve_with_lap(), FastenerRow(panel="lap", inset=3))).findings
    assert (
        found.kind == "row"
        and "3 mm to the edge of the metal in the lap; 6.4 mm is the least" in str(found.says)
    )
    (found,) = develop(
        job_of(sleeve_with_lap(), FastenerRow(panel="lap", edge="front", inset=1.5))
    ).findings
    assert "heads stand on the bend of the lap" in str(found.says)


@pytest.mark.parametrize("name", DEMOS)
def test_tabs_of_the_demonstrations_are_rows_through_their_walls(name):
    job = demo_job(name)
    blank = develop(job)
    for row in blank.rows:
        assert row.through and len(row.behind) == len(row.places), row.panel
        wall = next(p for p in blank.panels if p.name == row.through)
        assert shapely.contains_xy(shapely.Polygon(wall.polygon), row.behind).all()
        if row.pitch:
            assert row.pitch >= 3 * row.size - 1e-9, "no two nearer than three diameters"
        assert any("pull" in step.lower() for step in mark_out(blank, job.units).steps)


@pytest.mark.parametrize("by", Joined)
def test_a_joint_gives_both_parts_the_same_places_from_the_middle(by):
    """Measured on the two flats, not taken from the joint: the distances between places, and from
    the middles of the edges."""
    tray = Design(
        base=Base(length=200, width=60), flanges=(Flange(edge="front", height=30, name="leg"),)
    )
    rail = Design(
        base=Base(length=180, width=80), flanges=(Flange(edge="left", height=25, name="lip"),)
    )
    joint = Joint(
        near=JointSide(part=0, panel="leg"),
        far=JointSide(part=1, panel="base", edge="back", inset=12),
        by=by,
        size=4.2,
        pitch=35,
    )
    parts = (
        job_of(tray),
        job_of(rail, metal="stainless", quantity=2).model_copy(update={"thickness": "1.5 mm"}),
    )
    work = Work(parts=parts, joints=(joint,)).resolved()
    near, far = (develop(job) for job in work.parts)
    (one,), (two,) = near.rows, far.rows
    assert np.allclose(
        np.sort(one.places[:, 0]) - 100.0, two.places[:, 0] - two.places[:, 0].mean()
    )
    assert one.pitch == two.pitch and one.grip == two.grip == pytest.approx(2.3)
    assert len(one.places) > 3 and far.size[1] - two.places[0, 1] == pytest.approx(
        0.0 if by is Joined.TACK else 12.0
    )
    if by is Joined.SCREW:
        assert one.hole == pytest.approx(4.62) and two.hole == 3.3, (
            "it passes the nearer sheet and bites in the one behind"
        )
    # Resolving again, and a change of a part, leave one row each.
    again = work.model_copy(update={"parts": (work.parts[0], parts[1])}).resolved()
    assert [len(job.rows) for job in again.parts] == [1, 1] and again == again.resolved()
    assert work.without(0).joints == () and work.without(0).parts[0].rows == ()
    assert Work.model_validate_json(work.model_dump_json()) == work


def test_a_joint_that_cannot_be_is_refused_in_a_sentence():
    tray = Design(base=Base(length=200, width=60))
    joint = Joint(near=JointSide(part=0, panel="wall"), far=JointSide(part=1, panel="base"))
    with pytest.raises(
        FitError, match="tray and rail cannot be joined: There is no panel called wall"
    ):
        Work(
            parts=(job_of(tray, name="tray"), job_of(tray, name="rail")), joints=(joint,)
        ).resolved()
    with pytest.raises(ValueError, match="between two parts"):
        Work(parts=(job_of(tray),), joints=(joint.of(0, 0),))
    with pytest.raises(ValueError, match="a joint names part 2, and there are 1"):
        Work(parts=(job_of(tray),), joints=(joint,))
