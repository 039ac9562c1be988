"""A part set into its mate and tipped out of it, against solids put there by their own pose and
united in another kernel."""

import manifold3d as m3
import numpy as np
import pytest

from in_solids import MASTERS, job, solid
from zealous_crane.flat.crossing import overlap_depth
from zealous_crane.flat.development import develop
from zealous_crane.flat.folding import Pose
from zealous_crane.inspection.assembly_fit import folded_solids, placed, tips, travel
from zealous_crane.job.job import DrawnPart
from zealous_crane.kernel.solid import Solid
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.units.length import Units
from zealous_crane.work.fit import Faces, Fit, FitError, Pairing
from zealous_crane.work.work import Work


def pair(master, follower, rule, clearance=1.0, sizes=("length", "width")):
    fit = Fit(
        follower=1,
        master=0,
        rule=rule,
        sizes=tuple(Pairing(follower=s, master=s) for s in sizes),
        clearance=clearance,
    )
    work = Work(parts=(job(master), job(follower)), fits=(fit,)).resolved()
    return work, fit, [develop(part) for part in work.parts]


def in_place(one, pose, shift=(0, 0, 0)):
    """A part rebuilt from its fold tree alone, carried to where it is said to be."""
    matrix = np.column_stack([pose.turn, pose.shift + np.asarray(shift)])
    return solid(one).transform(matrix)


@pytest.mark.parametrize("rule", ["inside", "over"])
@pytest.mark.parametrize("master", MASTERS[3:7], ids=lambda m: f"{m.kind}-{getattr(m, 'edge', '')}")
def test_in_its_place_it_meets_nothing_and_a_hair_farther_it_does(master, rule):
    work, fit, (held, follower) = pair(master, OpenBox(length=200, width=150, depth=40), rule)
    there = placed(work, fit, follower, held)
    assert there.fits and there.stops_on is not None and there.goes_in > 39
    for gap in there.gaps:
        assert gap.room == pytest.approx((0.5, 0.5), abs=1e-6)
    base = solid(work.parts[0])
    assert (in_place(work.parts[1], there.pose, -0.1 * there.way) ^ base).volume() < 1e-3
    assert (in_place(work.parts[1], there.pose, 0.2 * there.way) ^ base).volume() > 1, (
        "it rests on something"
    )
    # And the room that is said is there, on both sides, and no more.
    for axis in np.eye(3)[:2]:
        for sign in (1, -1):
            at = -0.1 * there.way + sign * axis * 0.4
            assert (in_place(work.parts[1], there.pose, at) ^ base).volume() < 1e-3
            # Drawn out half way it stands beside what narrows the mouth.
            at = -30.0 * there.way + sign * axis * 0.7
            assert (in_place(work.parts[1], there.pose, at) ^ base).volume() > 1e-3


def test_what_does_not_go_in_is_named():
    work, fit, _ = pair(
        OpenBox(length=200, width=150, depth=60), OpenBox(length=200, width=150, depth=40), "inside"
    )
    wide = job(
        OpenBox(length=work.parts[1].part.length + 4, width=work.parts[1].part.width, depth=40)
    )
    loose = work.model_copy(update={"parts": (work.parts[0], wide)})
    there = placed(loose, fit, develop(wide), develop(work.parts[0]))
    assert not there.fits and there.goes_in == 0.0
    assert {m.follower for m in there.meets} >= {"left wall"} and there.says(Units.MM).startswith(
        "It does not go in: its "
    )
    # 4 mm too much at 1 mm of room: 1.5 mm on either side, more than the wall is thick.
    assert "The length lacks 3" in there.says(Units.MM)
    assert [g.room[0] for g in there.gaps] == pytest.approx([-1.5, 0.5], abs=1e-6)


def turned_about(pose, tip, degrees):
    a, k = np.radians(degrees), tip.axis
    cross = np.array([[0, -k[2], k[1]], [k[2], 0, -k[0]], [-k[1], k[0], 0]])
    turn = np.eye(3) - np.sin(a) * cross + (1 - np.cos(a)) * cross @ cross
    return Pose(turn, tip.pivot - turn @ tip.pivot) @ pose


def bin_in_a_mouth(depth, wall=60.0):
    """A bin in a tray whose front is open, so that it can be swung out over its front edge, unless
    its back is too high."""
    tray = DrawnPart(
        tree=Design(
            base=Base(length=200, width=120),
            flanges=tuple(
                Flange(edge=e, height=h, name=f"{e} wall", flanges=lips)
                for e, h, lips in (
                    ("left", wall, ()),
                    ("right", wall, ()),
                    ("back", wall, (Flange(edge="back", height=25.0, name="roof"),)),
                )
            ),
        )
    )
    faces = Faces(one="left wall", other="right wall")
    fit = Fit(
        follower=1,
        master=0,
        rule="inside",
        sizes=(Pairing(follower="length", master_faces=faces),),
        clearance=2.0,
    )
    work = Work(
        parts=(job(tray), job(OpenBox(length=150, width=80, depth=depth))), fits=(fit,)
    ).resolved()
    return work, fit, [develop(part) for part in work.parts]


@pytest.mark.parametrize("depth", [20.0, 45.0])
def test_an_arc_that_clears_clears_in_solids_and_one_that_does_not_meets_where_it_says(depth):
    work, fit, (held, follower) = bin_in_a_mouth(depth)
    assert work.parts[1].part.length == pytest.approx(200 - 2 - 2 * 1)
    there = placed(work, fit, follower, held)
    still, base = folded_solids(held), solid(work.parts[0])
    found = tips(there, still, tuple(np.eye(3)))
    assert len(found) == 4 and found == tuple(sorted(found, key=lambda t: -t.free))
    lift = -0.1 * there.way
    for tip in found:
        for degrees in np.linspace(0.0, tip.free - 0.3, 12) if tip.free > 0.5 else ():
            at = turned_about(Pose(there.pose.turn, there.pose.shift + lift), tip, degrees)
            # Corners of bends are chords in one and plates without their strips in the other: hairs
            # are let pass.
            assert (in_place(work.parts[1], at) ^ base).volume() < 0.6, (tip.over, degrees)
        if tip.meets is not None:
            assert {p.name for p in held.panels} | {f.name for f in held.folds} >= {tip.meets[1]}
            beyond = turned_about(
                Pose(there.pose.turn, there.pose.shift + lift), tip, tip.free + 3.0
            )
            assert (in_place(work.parts[1], beyond) ^ base).volume() > 0.1, tip.says()
            assert tip.over in tip.says() and "then its" in tip.says()


def test_shifts_and_depths_of_convex_pieces_agree_with_another_kernel():
    rng = np.random.default_rng(3)
    met = 0
    for _ in range(60):
        boxes = []
        for _ in range(2):
            turn = np.linalg.qr(rng.normal(size=(3, 3)))[0]
            ring = np.array([(0, 0, 0), (1, 0, 0), (1, 1, 0), (0, 1, 0)], float) * rng.uniform(
                5, 30, 3
            )
            up = np.array([0, 0, rng.uniform(1, 10)])
            boxes.append(
                Solid(
                    "box", 0, np.concatenate([ring, ring + up]) @ turn.T + rng.uniform(-15, 15, 3)
                )
            )
        one, other = boxes
        way = rng.normal(size=3)
        way /= np.linalg.norm(way)
        hulls = [m3.Manifold.hull_points(b.corners) for b in boxes]
        found = travel(one, other, way, 1e-6)
        assert (overlap_depth(one.corners, other.corners) > 0) == (
            (hulls[0] ^ hulls[1]).volume() > 1e-9
        )
        if found is None:
            continue
        met += 1
        low, high = found
        for s, meets in (
            (low - 0.01, False),
            (low + 0.05, True),
            (high - 0.05, True),
            (high + 0.01, False),
        ):
            if high - low > 0.2:
                assert ((hulls[0].translate(way * s) ^ hulls[1]).volume() > 1e-12) == meets
    assert met > 15


def test_a_kind_opened_into_its_tree_still_follows():
    work, _, _ = pair(
        OpenBox(length=200, width=150, depth=60), OpenBox(length=100, width=100, depth=40), "inside"
    )
    before = work.parts[1].part
    tree = DrawnPart(tree=before.design(1.0))
    opened = work.model_copy(
        update={"parts": (work.parts[0], job(tree)), "fits": work.opened(1)}
    ).resolved()
    assert opened.parts[1].part.tree.base.length == pytest.approx(before.length)
    tray = DrawnPart(tree=OpenBox(length=240, width=150, depth=60).design(1.0))
    both = opened.model_copy(update={"parts": (job(tray), opened.parts[1])})
    both = both.model_copy(
        update={
            "fits": work.model_copy(update={"fits": opened.fits, "parts": work.parts}).opened(0)
        }
    ).resolved()
    assert both.parts[1].part.tree.base.length == pytest.approx(before.length + 40)
    assert "Length of the base, outside, to fit" in str(both.fit_sums(1)[0].what)
    there = placed(both, both.fits[0], develop(both.parts[1]), develop(both.parts[0]))
    assert there.fits and [g.room for g in there.gaps] == [pytest.approx((0.5, 0.5))] * 2


def test_faces_that_do_not_face_each_other_are_refused():
    faces = Faces(one="left wall", other="front wall")
    fit = Fit(
        follower=1, master=0, rule="inside", sizes=(Pairing(follower="length", master_faces=faces),)
    )
    parts = (
        job(OpenBox(length=200, width=150, depth=60)),
        job(OpenBox(length=100, width=100, depth=40)),
    )
    with pytest.raises(FitError, match="the left wall and the front wall do not face each other"):
        Work(parts=parts, fits=(fit,)).resolved()
    unknown = Fit(
        follower=1,
        master=0,
        rule="inside",
        sizes=(Pairing(follower="length", master_faces=Faces(one="a", other="b")),),
    )
    with pytest.raises(FitError, match="has no panel called a"):
        Work(parts=parts, fits=(unknown,)).resolved()
    with pytest.raises(
        ValueError, match="names a size of the part it follows, or two of its faces"
    ):
        Pairing(follower="length")


@pytest.mark.parametrize("more", [0.05, 0.2, 0.46, 1.0])
def test_a_box_that_is_only_a_little_too_wide_does_not_go_in(more):
    """It would pass by hand's give, or rest on the edges of the bends: what lacks room by any
    figure a caliper reads is told."""
    work, fit, _ = pair(
        OpenBox(length=200, width=150, depth=60),
        OpenBox(length=200, width=150, depth=40),
        "inside",
        clearance=0.0,
    )
    part = work.parts[1].part
    wide = job(OpenBox(length=part.length + more, width=part.width - 1, depth=40))
    tight = work.model_copy(update={"parts": (work.parts[0], wide)})
    there = placed(tight, fit, develop(wide), develop(work.parts[0]))
    said = there.says(Units.MM)
    assert (
        not there.fits
        and "It does not go in" in said
        and f"lacks {more:g}" in said.replace("≈", "")
    ), said
