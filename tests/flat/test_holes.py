"""Where holes come to lie and what rivets need."""

import math

import numpy as np
import pytest
import shapely

from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.openings import finished_places
from zealous_crane.job.job import Job
from zealous_crane.part.corner import Corner, Tab
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import FoldSlots, Measured
from zealous_crane.part.hole import Cutout, HolePlace
from zealous_crane.part.kinds.box import HemmedTray


def box(cutouts=(), corner=None, **more):
    walls = tuple(
        Flange(edge=e, height=40, name=f"{e} wall") for e in ("front", "right", "back", "left")
    )
    tree = Design(
        base=Base(length=200, width=120), flanges=walls, cutouts=cutouts, corner=corner or Corner()
    )
    return Job(
        part={"kind": "design", "tree": tree},
        metal="mild-steel",
        thickness="1 mm",
        units="mm",
        **more,
    )


PLACES = [
    ("base", "left", "front"),
    ("base", "right", "back"),
    ("base", "middle", "middle"),
    ("left wall", "left", "front"),
    ("left wall", "right", "back"),
    ("right wall", "middle", "front"),
    ("right wall", "left", "back"),
    ("front wall", "left", "front"),
    ("back wall", "right", "back"),
    ("back wall", "middle", "middle"),
]


@pytest.mark.parametrize("face", ["inside", "outside", "flat"])
@pytest.mark.parametrize(("panel", "x", "y"), PLACES)
def test_the_place_of_a_hole_opens_into_the_sum_that_gives_it(panel, x, y, face):
    if face == "flat" and panel != "base":
        pytest.skip("from the outermost edge a wall's place is that of the base")

    def place(edge):
        return HolePlace(
            edge=edge, value=0 if edge == "middle" else 60.0 if face == "flat" else 17.0, face=face
        )

    blank = develop(box((Cutout(panel=panel, length=5, x=place(x), y=place(y), name="bee hole"),)))
    hole = next(h for h in blank.holes if h.name == "bee hole")
    sums = {str(s.what): s for s in blank.sums if str(s.what).startswith("Bee hole")}
    assert len(sums) == 2
    assert sums["Bee hole, from the left edge"].total == pytest.approx(float(hole.centre[0]))
    assert sums["Bee hole, from the front edge"].total == pytest.approx(float(hole.centre[1]))
    for one in sums.values():
        # The walls and the base it passes are lines of their own, not one figure.
        assert all(t.value > 0 for t in one.terms)
        assert len(one.terms) >= (1 if face == "flat" or panel == "left wall" else 2)


def test_a_hole_in_the_base_is_a_wall_a_gain_and_what_was_given():
    blank = develop(
        box(
            (
                Cutout(
                    length=5,
                    x=HolePlace(edge="left", value=17),
                    y=HolePlace(edge="front", value=9),
                    name="hole",
                ),
            )
        )
    )
    one = next(s for s in blank.sums if str(s.what) == "Hole, from the left edge")
    wall = next(f for f in blank.folds if f.name == "left wall")
    assert [str(t.what) for t in one.terms][-1] == "given" and one.terms[-1].value == pytest.approx(
        17
    )
    assert {round(t.value, 4) for t in one.terms} == {17.0, 40.0, round(wall.bend.gain, 4)} - {0.0}


def test_every_hole_of_the_demonstrations_has_its_two_sums():
    seen = 0
    for name in DEMOS:
        for job in demo_work(name).parts:
            blank = develop(job)
            drawn = job.part.drawing() is not None
            cut = () if drawn else job.part.design(job.sheet.thickness).cutouts
            places = {str(s.what): s.total for s in blank.sums}
            for hole, _ in zip(blank.holes, cut, strict=False):
                for axis, side in ((0, "left"), (1, "front")):
                    what = f"{hole.name[:1].upper()}{hole.name[1:]}, from the {side} edge"
                    assert places[what] == pytest.approx(float(hole.centre[axis])), (name, what)
                    seen += 1
    assert seen >= 16


@pytest.mark.parametrize(
    ("rivet", "hole"),
    # Drill tables for blind rivets, IFI 114 (inch) and ISO 15977 (metric), from memory.
    [
        (25.4 / 8, 0.1285 * 25.4),
        (25.4 * 3 / 16, 0.191 * 25.4),
        (25.4 * 3 / 32, 0.096 * 25.4),
        (3.2, 3.3),
        (4.0, 4.1),
        (4.8, 4.9),
        (6.5, 6.6),
    ],
)
def test_rivets_are_drilled_as_published_and_keep_two_diameters(rivet, hole):
    tab = Tab(length=40.0, fastening="rivet", rivet=rivet, pitch=15)
    blank = develop(box(corner=Corner(rule="tab", tab=tab)))
    holes = [h for h in blank.holes if h.name.startswith("rivet hole")]
    assert holes and all(h.size == pytest.approx((hole, hole)) for h in holes)
    edge = shapely.Polygon(blank.outline.flattened()).exterior
    for panel in {h.panel for h in holes}:
        centres = np.array([h.centre for h in holes if h.panel == panel])
        for centre in centres:
            assert edge.distance(shapely.Point(centre)) >= 2 * rivet - 1e-6
        apart = [float(np.hypot(*(a - b))) for k, a in enumerate(centres) for b in centres[:k]]
        assert not apart or min(apart) >= 3 * rivet - 1e-6


def test_a_rivet_too_near_the_edge_of_its_tab_is_said():
    tray = HemmedTray(length=200, width=120, depth=60, tab=9, fastening="rivet")
    said = [str(f.says) for f in develop(Job(part=tray, thickness="1 mm", units="mm")).findings]
    assert any("two diameters" in s and "6.4" in s for s in said)
    wide = develop(
        Job(
            part=HemmedTray(length=200, width=120, depth=60, tab=16, fastening="rivet"),
            thickness="1 mm",
            units="mm",
        )
    )
    assert not any("two diameters" in str(f.says) for f in wide.findings)


def test_two_thousand_holes_are_looked_at_by_an_index():
    step = 4.0
    cutouts = tuple(
        Cutout(
            length=2,
            x=HolePlace(edge="left", value=3 + step * (i % 45)),
            y=HolePlace(edge="front", value=3 + step * (i // 45)),
        )
        for i in range(1200)
    )
    assert len(develop(box(cutouts)).holes) >= 1200
    joined = develop(
        box(
            (
                *cutouts,
                Cutout(
                    length=2,
                    x=HolePlace(edge="left", value=4),
                    y=HolePlace(edge="front", value=3.5),
                    name="one more",
                ),
            )
        )
    )
    assert len(joined.holes) == 1201 and len(joined.openings) == 1200, (
        "what overlaps is one opening"
    )
    assert Measured.FLAT == "flat"


def test_a_keyhole_is_one_opening_with_true_arcs():
    head = Cutout(length=10, y=HolePlace(edge="front", value=40), name="head")
    slot = Cutout(
        shape="slot", length=20, width=5, turn=90, y=HolePlace(edge="front", value=48), name="slot"
    )
    blank = develop(box((head, slot)))
    (opening,) = blank.openings
    # Two circular segments and a rectangle, by hand: the slot's sides leave the head √(5² − 2.5²)
    # above its centre.
    leaves = math.sqrt(5**2 - 2.5**2)
    under = 25 * (math.pi - math.asin(0.5)) + 2.5 * leaves
    top = 48 + 10 - 2.5
    assert abs(opening.area) == pytest.approx(
        under + 5 * (top - 40 - leaves) + math.pi * 2.5**2 / 2, abs=1e-6
    )
    assert sum(bulge != 0 for bulge in opening.bulges) == 2
    whole = develop(box())
    assert whole.area - blank.area == pytest.approx(abs(opening.area), abs=1e-6)
    assert not any("run into" in said or "leave" in said for said in blank.doubts)


@pytest.mark.parametrize(
    ("cutout", "said"),
    [
        (Cutout(shape="rectangle", length=76.2, width=76.2, turn=45), '3" × 3" square, turned 45°'),
        (Cutout(shape="rectangle", length=76.2, width=50.8, turn=30), '3" × 2", turned 30°'),
        (Cutout(shape="rectangle", length=50.8, width=50.8, turn=90), '2" × 2" square'),
        (Cutout(shape="slot", length=50.8, width=25.4, turn=90), 'slot 2" × 1", along the width'),
        (Cutout(length=25.4), '⌀ 1"'),
    ],
)
def test_a_cutout_says_what_it_is(cutout, said):
    tree = Design(
        base=Base(length=300, width=200), cutouts=(cutout.model_copy(update={"name": "window"}),)
    )
    job = Job(
        part={"kind": "design", "tree": tree}, metal="mild-steel", thickness="1 mm", units="in"
    )
    marking = mark_out(develop(job), job.units)
    (point,) = [p for p in marking.points if p.kind == "hole"]
    assert point.with_size(job.units).replace("\u2009", "").replace(" ½", "½") == f"window, {said}"
    assert any(f"1 of {said}" in step for step in marking.steps)


def test_slots_along_a_fold_are_told_with_places_lengths_and_bridges():
    front = Flange(edge="front", height=30, name="leg", slots=FoldSlots(count=4, bridge=10))
    job = Job(
        part={
            "kind": "design",
            "tree": Design(base=Base(length=200, width=120, measured="flat"), flanges=(front,)),
        },
        metal="mild-steel",
        thickness="1 mm",
        units="mm",
    )
    blank = develop(job)
    marking = mark_out(blank, job.units)
    places = sorted(p.along for p in marking.points if p.form == "fold slot")
    long = (200 - 5 * 10) / 4
    assert places == pytest.approx([10 + long / 2 + i * (long + 10) for i in range(4)])
    assert any("4 slots 37.5 mm ×" in step and "bridges of 10 mm" in step for step in marking.steps)


@pytest.mark.parametrize("panel", ["base", "left wall", "back wall"])
def test_a_hole_made_after_bending_is_placed_on_the_bent_part(panel):
    cutout = Cutout(
        panel=panel,
        length=4,
        x=HolePlace(edge="left", value=15),
        y=HolePlace(edge="front", value=12),
        after_bending=True,
    )
    blank = develop(box((cutout,)))
    (hole,) = [h for h in blank.holes if h.after_bending]
    at = blank.stood[hole.panel].apply(np.array([[*hole.centre, 0.5]]))[0]
    for place in finished_places(blank, hole):
        if place.end is not None:
            continue
        face = next(i for i, p in enumerate(blank.panels) if p.name == place.panel)
        middle = blank.panels[face].polygon.mean(axis=0)
        # A rule held to the outside face, which lies at z = 0 of the flat, on the folded part.
        foot, above = (blank.stood[face].apply(np.array([[*middle, z]]))[0] for z in (0.0, 1.0))
        assert abs((at - foot) @ (above - foot)) == pytest.approx(place.distance, abs=1e-6)
    assert any(place.end is None for place in finished_places(blank, hole))
    marking = mark_out(blank)
    assert not [point for point in marking.points if point.kind == "hole"], (
        "on the flat nobody marks it"
    )
    assert any(
        step.startswith("After bending: ") and "from the outside face of" in step
        for step in marking.steps
    )


def test_a_large_opening_keeps_more_from_a_bend_than_a_small_one():
    def said(length, away):
        base = Base(length=300, width=300, measured="flat")
        at = Cutout(
            length=length, y=HolePlace(edge="front", value=away + length / 2), name="window"
        )
        tree = Design(
            base=base, flanges=(Flange(edge="front", height=60, name="wall"),), cutouts=(at,)
        )
        job = Job(
            part={"kind": "design", "tree": tree}, metal="mild-steel", thickness="1 mm", units="mm"
        )
        return [said for said in develop(job).doubts if "window" in said]

    assert said(20, 4) == [] and "bows" in said(120, 4)[0] and said(120, 8.5) == []
