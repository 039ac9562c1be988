"""Where holes come to lie and what rivets need."""

import numpy as np
import pytest
import shapely

from zealous_crane.blank import DevelopmentError, develop
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.job import Job
from zealous_crane.part import Corner, Cutout, Design, Measured, Place, Tab
from zealous_crane.part.design import Base, Flange
from zealous_crane.part.kinds import HemmedTray


def box(cutouts=(), corner=None, **more):
    walls = tuple(Flange(edge=e, height=40, name=f"{e} wall") for e in ("front", "right", "back", "left"))
    tree = Design(base=Base(length=200, width=120), flanges=walls, cutouts=cutouts, corner=corner or Corner())
    return Job(part={"kind": "design", "tree": tree}, metal="mild-steel", thickness="1 mm", units="mm", **more)


PLACES = [
    ("base", "left", "front"), ("base", "right", "back"), ("base", "middle", "middle"), ("left wall", "left", "front"),
    ("left wall", "right", "back"), ("right wall", "middle", "front"), ("right wall", "left", "back"), ("front wall", "left", "front"),
    ("back wall", "right", "back"), ("back wall", "middle", "middle"),
]  # fmt: skip


@pytest.mark.parametrize("face", ["inside", "outside", "flat"])
@pytest.mark.parametrize(("panel", "x", "y"), PLACES)
def test_the_place_of_a_hole_opens_into_the_sum_that_gives_it(panel, x, y, face):
    if face == "flat" and panel != "base":
        pytest.skip("from the outermost edge a wall's place is that of the base")

    def place(edge):
        return Place(edge=edge, value=0 if edge == "middle" else 60.0 if face == "flat" else 17.0, face=face)

    blank = develop(box((Cutout(panel=panel, length=5, x=place(x), y=place(y), name="bee hole"),)))
    hole = next(h for h in blank.holes if h.name == "bee hole")
    sums = {s.what: s for s in blank.sums if s.what.startswith("Bee hole")}
    assert len(sums) == 2
    assert sums["Bee hole, from the left edge"].total == pytest.approx(float(hole.centre[0]))
    assert sums["Bee hole, from the front edge"].total == pytest.approx(float(hole.centre[1]))
    for one in sums.values():
        # The walls and the base it passes are lines of their own, not one figure.
        assert all(t.value > 0 for t in one.terms)
        assert len(one.terms) >= (1 if face == "flat" or panel == "left wall" else 2)


def test_a_hole_in_the_base_is_a_wall_a_gain_and_what_was_given():
    blank = develop(box((Cutout(length=5, x=Place(edge="left", value=17), y=Place(edge="front", value=9), name="hole"),)))
    one = next(s for s in blank.sums if s.what == "Hole, from the left edge")
    wall = next(f for f in blank.folds if f.name == "left wall")
    assert [t.what for t in one.terms][-1] == "given" and one.terms[-1].value == pytest.approx(17)
    assert {round(t.value, 4) for t in one.terms} == {17.0, 40.0, round(wall.bend.gain, 4)} - {0.0}


def test_every_hole_of_the_demonstrations_has_its_two_sums():
    seen = 0
    for name in DEMOS:
        for job in demo_work(name).parts:
            blank = develop(job)
            drawn = job.part.drawing() is not None
            cut = () if drawn else job.part.design(job.sheet.thickness).cutouts
            places = {s.what: s.total for s in blank.sums}
            for hole, _ in zip(blank.holes, cut, strict=False):
                for axis, side in ((0, "left"), (1, "front")):
                    what = f"{hole.name[:1].upper()}{hole.name[1:]}, from the {side} edge"
                    assert places[what] == pytest.approx(float(hole.centre[axis])), (name, what)
                    seen += 1
    assert seen >= 16


@pytest.mark.parametrize(
    ("rivet", "hole"),
    # Drill tables for blind rivets, IFI 114 (inch) and ISO 15977 (metric), from memory.
    [(25.4 / 8, 0.1285 * 25.4), (25.4 * 3 / 16, 0.191 * 25.4), (25.4 * 3 / 32, 0.096 * 25.4), (3.2, 3.3), (4.0, 4.1), (4.8, 4.9), (6.5, 6.6)],
)  # fmt: skip
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
    said = [f.says for f in develop(Job(part=tray, thickness="1 mm", units="mm")).findings]
    assert any("two diameters" in s and "6.4" in s for s in said)
    wide = develop(
        Job(part=HemmedTray(length=200, width=120, depth=60, tab=16, fastening="rivet"), thickness="1 mm", units="mm")
    )
    assert not any("two diameters" in f.says for f in wide.findings)


def test_two_thousand_holes_are_looked_at_by_an_index():
    step = 4.0
    cutouts = tuple(
        Cutout(length=2, x=Place(edge="left", value=3 + step * (i % 45)), y=Place(edge="front", value=3 + step * (i // 45)))
        for i in range(1200)
    )
    assert len(develop(box(cutouts)).holes) >= 1200
    clash = (*cutouts, Cutout(length=2, x=Place(edge="left", value=4), y=Place(edge="front", value=3.5), name="one too many"))
    with pytest.raises(DevelopmentError, match="one too many run into each other"):
        develop(box(clash))
    assert Measured.FLAT == "flat"
