"""Corners, edges, holes and marks one by one, and what is said when they cannot be."""

import numpy as np
import pytest
import shapely

from zealous_crane.flat.crossing import overlap_depth
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError, MadeBy
from zealous_crane.flat.folding import panel_poses
from zealous_crane.flat.handles import handles
from zealous_crane.flat.joining import spread_evenly
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.node import meeting_slope, spread_angle
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.metal.allowance import NeutralLine, OnTheLine
from zealous_crane.part.corner import Corner, CornerAt, ReliefRule, Tab
from zealous_crane.part.design import Base, Design, Facet, Flange, PolygonBase, added, at, replaced
from zealous_crane.part.edge import End, FoldSlots, Hem, Joggle, Seam
from zealous_crane.part.hole import Cutout, HolePlace, Stiffener
from zealous_crane.part.kinds.duct import Sleeve
from zealous_crane.units.length import Units

WALLS = tuple(Flange(edge=e, height=30) for e in ("front", "right", "back", "left"))


def part(thickness=0.8, school=None, radius=None, **fields):
    tree = Design(**{"base": Base(length=200, width=120), **fields})
    return Job(
        part=DrawnPart(tree=tree),
        metal="mild-steel",
        thickness=f"{thickness} mm",
        units="mm",
        school=school,
        radius=radius,
    )


def panel(blank, name):
    return blank.panel(name).polygon


def test_a_butt_corner_runs_over_its_neighbour():
    blank = develop(part(flanges=WALLS, corner=Corner(rule="butt", by="left-right", gap=0.5)))
    # On the line the right wall covers both its neighbours by a thickness; they end half a mm short
    # of its inside.
    right, front = panel(blank, "right wall"), panel(blank, "front wall")
    assert np.ptp(right[:, 1]) == pytest.approx(120 + 2 * 0.8)
    assert np.ptp(front[:, 0]) == pytest.approx(200 - 2 * 0.5)


def test_a_mitre_cuts_the_lips_to_meet():
    lips = tuple(w.model_copy(update={"flanges": (Flange(edge="back", height=12),)}) for w in WALLS)
    mitred = develop(part(flanges=lips, corner=Corner(rule="mitre", gap=0.2)))
    lip = panel(mitred, "front lip")
    # Lips turned in over a square corner meet on 45°.
    assert np.ptp(lip[:, 0]) - np.ptp(
        lip[lip[:, 1] < lip[:, 1].min() + 1e-6][:, 0]
    ) == pytest.approx(2 * 12, abs=1e-6)
    assert not [f for f in mitred.findings if f.kind == "crossing"]
    assert [f for f in develop(part(flanges=lips)).findings if f.kind == "crossing"]
    with pytest.raises(DevelopmentError, match="cannot be mitred"):
        uneven = (lips[0].model_copy(update={"height": 40}), *lips[1:])
        develop(part(flanges=uneven, corner=Corner(rule="mitre")))


@pytest.mark.parametrize("lean", [45, 60, 75, 110])
def test_leaning_walls_are_cut_where_their_planes_cross(lean):
    walls = tuple(w.model_copy(update={"angle": float(lean)}) for w in WALLS)
    blank = develop(part(flanges=walls, corner=Corner(gap=0), school=OnTheLine()))
    # A pan whose walls lean alike: along the flat each end grows by cos(lean) per mm of height (tan
    # of half a square corner).
    front = panel(blank, "front wall")
    grows = np.ptp(front[front[:, 1] < front[:, 1].min() + 1e-6][:, 0]) - 200
    assert grows == pytest.approx(2 * 30 * np.cos(np.radians(lean)), abs=1e-6)
    assert meeting_slope(lean, lean, 90) == pytest.approx(np.cos(np.radians(lean)))
    assert meeting_slope(lean, lean + 1e-7, 90) == pytest.approx(np.cos(np.radians(lean)), abs=1e-5)
    assert spread_angle(90, 90, 60) == pytest.approx(60)


def test_a_hexagonal_pan_closes():
    ring = [(80 * np.cos(a), 80 * np.sin(a)) for a in np.radians(np.arange(0, 360, 60))]
    walls = tuple(Flange(edge=f"edge-{i}", height=25) for i in range(1, 7))
    blank = develop(part(base=PolygonBase(corners=ring), flanges=walls, corner=Corner(gap=0.3)))
    assert len(blank.panels) == 7 and not [f for f in blank.findings if f.kind == "crossing"]
    assert len(blank.reliefs) == 6
    with pytest.raises(DevelopmentError, match="four-sided"):
        develop(
            part(
                base=PolygonBase(corners=ring),
                flanges=walls,
                corner=Corner(rule="tab", tab=Tab(length=10)),
            )
        )


def test_one_corner_may_differ():
    corner = CornerAt(at="front-right", corner=Corner(rule="butt", by="front-back", gap=0.5))
    blank = develop(part(flanges=WALLS, corner=Corner(gap=0.5), corners=(corner,)))
    assert np.ptp(panel(blank, "front wall")[:, 0]) == pytest.approx(200 - 0.5 + 0.8)


@pytest.mark.parametrize("shape", ["round", "square", "slot"])
def test_reliefs_open_into_the_notch(shape):
    blank = develop(part(1.5, flanges=WALLS, corner=Corner(relief=ReliefRule(shape=shape))))
    assert {r.shape for r in blank.reliefs} == {shape} and len(blank.reliefs) == 4
    assert not blank.holes and len(blank.notches) == 4


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"corner": Corner(rule="tab", tab=Tab(length=150), by="front-back")}, "longer than the"),
        ({"corner": Corner(rule="tab", tab=Tab(length=20, taper=50))}, "tapers away"),
        (
            {
                "corner": Corner(rule="gusset"),
                "flanges": (WALLS[0].model_copy(update={"height": 20.0}), *WALLS[1:]),
            },
            "one height",
        ),
        (
            {
                "corner": Corner(rule="gusset"),
                "flanges": tuple(w.model_copy(update={"angle": 80.0}) for w in WALLS),
            },
            "90°",
        ),
        ({"corner": Corner(gap=-0.1)}, "less than nothing"),
        ({"corner": Corner(relief=ReliefRule(size=90))}, "right through"),
        ({"cutouts": (Cutout(panel="roof", length=5),)}, "no panel called roof"),
        ({"cutouts": (Cutout(length=119.9, x=HolePlace(value=80)),)}, "over the edge"),
        (
            {
                "flanges": (Flange(edge="front", height=30, slots=FoldSlots(count=3, bridge=6)),),
                "cutouts": (Cutout(length=10, y=HolePlace(edge="front", value=5)),),
            },
            "into each other",
        ),
        ({"marks": (Stiffener(inset=70),)}, "finds no room"),
        (
            {"flanges": (Flange(edge="front", height=30, slots=FoldSlots(count=40, bridge=6)),)},
            "shorter than they are wide",
        ),
        ({"flanges": (Hem(edge="front", length=1.0, form="open"),)}, "too short"),
        ({"flanges": (Hem(edge="front", length=2.0, form="double"),)}, "too short"),
        ({"flanges": (Hem(edge="front", length=1.0, form="rolled"),)}, "too short"),
        ({"flanges": (Joggle(edge="front", lap=10, step=0.05),)}, "too short"),
        (
            {"flanges": (Flange(edge="front", height=30, left=End(trim=150), right=End(trim=60)),)},
            "leave no fold",
        ),
        (
            {
                "flanges": (
                    Flange(edge="front", height=90, left=End(taper=60), right=End(taper=60)),
                )
            },
            "taper away",
        ),
        (
            {"flanges": (Facet(edge="front", corners=((0, 0), (300, 0), (150, 40))),)},
            "longer than the edge",
        ),
        ({"flanges": (WALLS[0].model_copy(update={"name": "base"}),)}, "own name"),
    ],
)
def test_what_cannot_be_cut_says_why(fields, said):
    with pytest.raises(DevelopmentError, match=said) as caught:
        develop(part(**{"flanges": WALLS, **fields}))
    assert str(caught.value).endswith(".")


def test_a_tree_that_lies_over_itself_is_refused():
    curl = Flange(
        edge="right", height=60, flanges=(Flange(edge="left", height=90, left=End(), right=End()),)
    )
    with pytest.raises(DevelopmentError, match="overlap on the flat"):
        develop(part(flanges=(curl, Flange(edge="back", height=80, right=End(taper=-60)))))


def test_panels_that_run_through_each_other_when_bent_are_said():
    long_lips = (
        Flange(edge="left", height=30, flanges=(Flange(edge="back", height=150),)),
        Flange(edge="right", height=30, flanges=(Flange(edge="back", height=150),)),
    )
    said = develop(part(flanges=long_lips)).doubts
    assert any("run through each other" in s for s in said)
    one = np.array(
        [(x, y, z) for z in (0, 1) for x, y in ((0, 0), (10, 0), (10, 10), (0, 10))], float
    )
    assert overlap_depth(one, one + np.array([0, 0, 0.4])) == pytest.approx(0.6)
    assert overlap_depth(one, one + np.array([0, 11, 0])) == pytest.approx(-1)


def test_a_joggle_steps_by_one_thickness():
    blank = develop(part(1.0, school=NeutralLine(k=0.4), flanges=(Joggle(edge="right", lap=15),)))
    assert {f.made_by for f in blank.folds} == {MadeBy.TOOL} and [f.angle for f in blank.folds] == [
        -45,
        45,
    ]
    poses = panel_poses(blank, [f.angle for f in blank.folds])
    lap = poses[2].apply(np.column_stack([panel(blank, "right joggle lap"), np.zeros(4)]))
    assert lap[:, 2] == pytest.approx(-1.0, abs=1e-6)


@pytest.mark.parametrize(
    ("form", "folds", "adds"),
    [
        ("lap", 0, 25.4),
        ("pocket", 0, 25.4),
        ("plain", 1, 6.35),
        ("s", 0, 25.4),
        ("drive", 0, 25.4),
        ("standing", 1, 12.7),
    ],
)
def test_seams_add_what_the_trade_allows(form, folds, adds):
    # 1" pocket, 1/4" plain, 1" for S and drive edges, 1/2" flange. Common practice, no source.
    blank = develop(part(flanges=(Seam(edge="right", form=form),)))
    assert blank.size[0] == pytest.approx(200 + adds) and len(blank.folds) == folds
    assert bool(blank.marks) is (form in ("pocket", "drive"))


def test_holes_are_given_from_finished_faces():
    cutouts = (
        Cutout(
            panel="front wall",
            length=5,
            x=HolePlace(edge="left", value=20),
            y=HolePlace(edge="front", value=12),
            name="inside",
        ),
        Cutout(
            panel="base",
            length=5,
            x=HolePlace(edge="left", value=40, face="outside"),
            y=HolePlace(edge="back", value=30),
            name="outside",
        ),
        Cutout(
            panel="base",
            length=5,
            x=HolePlace(edge="right", value=60, face="flat"),
            y=HolePlace(),
            name="flat",
        ),
    )
    job = part(1.0, NeutralLine(k=0.4), 1.0, flanges=WALLS, cutouts=cutouts)
    blank = develop(job)
    where = {h.name: h.centre for h in blank.holes}
    bend = blank.folds[0].bend
    # Up the front wall, 12 from the base's inside face; the wall's own frame looks out, so its left
    # is the blank's right.
    corner_y = 30 + bend.gain
    assert where["inside"] == pytest.approx((30 + bend.gain + 200 - 20, corner_y - bend.gain - 12))
    # 40 from the left wall's outside face: a thickness less from its inside.
    assert where["outside"] == pytest.approx((30 + bend.gain + 40 - 1.0, corner_y + 120 - 30))
    assert where["flat"][0] == pytest.approx(blank.size[0] - 60)


def test_a_hole_near_a_bend_is_said_with_its_distance():
    # Nearer than about 2 T (round) or 2 1/2 T (slot) a hole's edge is pulled. Common practice, no
    # source.
    def said(value, **fields):
        y = HolePlace(edge="front", value=value)
        blank = develop(
            part(1.0, flanges=WALLS, cutouts=(Cutout(panel="base", length=6, y=y, **fields),))
        )
        return [str(f.says) for f in blank.findings if f.kind == "hole"]

    assert "2 thicknesses" in said(4.9)[0] and not said(5.1)
    assert "2 1/2 thicknesses" in said(5.3, shape="rectangle", width=6)[0]
    assert not said(4.9, after_bending=True)
    assert "on the fold" in said(1.0)[0]


def test_hems_and_reliefs_are_looked_at():
    caught_short = develop(part(0.8, flanges=(Hem(edge="front", length=3.0),)))
    assert any("is short: " in s for s in caught_short.doubts)
    thick = develop(part(2.0, flanges=(Hem(edge="front", length=15.0),)))
    assert any("too thick to hem" in s for s in thick.doubts)
    thin = develop(part(0.3, flanges=(Hem(edge="front", length=8.0),)))
    assert any("double hem" in s for s in thin.doubts)
    small = develop(
        part(
            1.2,
            NeutralLine(),
            1.2,
            flanges=WALLS,
            corner=Corner(gap=0.1, relief=ReliefRule(size=3.0)),
        )
    )
    assert any("smaller than the rule" in s for s in small.doubts)
    tight = develop(
        part(
            1.2,
            NeutralLine(),
            2.4,
            flanges=WALLS,
            corner=Corner(gap=0.1, relief=ReliefRule(shape="none")),
        )
    )
    assert any("share metal" in s for s in tight.doubts)


def test_a_fold_that_ends_within_its_edge_is_relieved():
    blank = develop(
        part(1.5, flanges=(Flange(edge="front", height=30, left=End(trim=40), right=End(trim=20)),))
    )
    ends = [r for r in blank.reliefs if r.name == "front wall end"]
    assert len(ends) == 2 and all(r.size >= 1.5 for r in ends)
    assert blank.folds[0].length == pytest.approx(140)


def test_fold_slots_leave_their_bridges():
    blank = develop(
        part(3.0, flanges=(Flange(edge="right", height=50, slots=FoldSlots(count=3, bridge=12)),))
    )
    slots = [h for h in blank.holes if h.kind == "fold slot"]
    assert [h.size[0] for h in slots] == pytest.approx([(120 - 4 * 12) / 3] * 3)
    line = shapely.LineString([blank.folds[0].start, blank.folds[0].end])
    metal = line.length - sum(
        line.intersection(shapely.Polygon(h.path.flattened(0.01))).length for h in slots
    )
    assert metal == pytest.approx(4 * 12, abs=0.05)
    assert blank.folds[0].made_by is MadeBy.HAND


@pytest.mark.parametrize(
    ("span", "pitch"), [(100, 40), (80, 40), (81, 40), (0, 40), (-3, 40), (7, 40)]
)
def test_fastenings_are_spread_from_the_middle(span, pitch):
    places = spread_evenly(span, pitch)
    assert places == pytest.approx([-p for p in reversed(places)])
    assert max(np.diff(places), default=0) <= pitch + 1e-9


def test_cross_break_comes_before_trimming():
    blank = develop(
        part(
            flanges=WALLS,
            marks=(Stiffener(panel="base", inset=5), Stiffener(panel="front wall", form="bead")),
            trim=4.0,
        )
    )
    assert blank.sheared == pytest.approx((blank.size[0] + 8, blank.size[1] + 8))
    assert [m.kind for m in blank.marks] == ["cross-break", "cross-break", "bead"]
    steps = mark_out(blank).steps
    assert "4 mm larger" in steps[0] and steps[1].startswith("Cross-break and roll the beads")


def test_reversed_folds_are_marked_on_the_other_face():
    job = part(flanges=(Flange(edge="right", height=40, angle=-90), Flange(edge="left", height=40)))
    marking = mark_out(develop(job))
    assert {(s.face, s.struck_from) for s in marking.scribe} == {
        ("inside", "left edge"),
        ("outside", "right edge"),
    }
    assert "on the outside face" in marking.scribe[-1].purpose
    assert any("turn the sheet over" in s for s in marking.steps)


def test_points_are_measured_from_their_nearer_edges():
    cutouts = (
        Cutout(
            length=6,
            x=HolePlace(edge="left", value=25),
            y=HolePlace(edge="back", value=30),
            name="peg",
        ),
    )
    blank = develop(part(cutouts=cutouts, flanges=(Hem(edge="front", length=10),)))
    marking = mark_out(blank)
    peg = next(p for p in marking.points if p.kind == "hole")
    assert (
        peg.place(blank, Units.MM) == "25 mm from left, 30 mm from back"
        and peg.with_size(Units.MM) == "peg, ⌀ 6 mm"
    )
    # A hem's ends are cut at 45°: that is said once for both, not as points.
    assert {p.kind for p in marking.points} == {"hole"}
    assert [len(recipe.members) for recipe in marking.corners] == [
        2
    ] and "cut 45° across" in marking.corners[0].says(Units.MM)
    kinds = [s.split()[0] for s in marking.steps]
    assert kinds.index("Centre-punch") < kinds.index("Cut")


def test_every_edge_can_be_pointed_at():
    job = part(flanges=(*WALLS[:2], Hem(edge="back", length=10)))
    found = handles(job)
    free = [e for e in found.edges if not e.name]
    assert {(e.panel, e.edge) for e in free} >= {
        ("base", "left"),
        ("front wall", "back"),
        ("front wall", "left"),
    }
    assert [c.at for c in found.corners] == ["front-right"]
    hem = next(e for e in found.edges if e.name == "back hem")
    assert hem.path == (2,) and hem.carrier == ()
    metal = shapely.Polygon(develop(job).outline.flattened()).buffer(1)
    for edge in found.edges:
        assert metal.covers(shapely.Point((edge.start + edge.end) / 2))


def test_editing_changes_one_thing():
    tree = part(flanges=WALLS).part.tree
    grown, path = added(tree, (1,), Hem(edge="back", length=8))
    assert path == (1, 0) and at(grown, path).length == 8 and grown.flanges[0] == tree.flanges[0]
    assert replaced(grown, path, None) == tree
    assert (
        replaced(tree, (0,), WALLS[0].model_copy(update={"height": 44.0})).flanges[0].height == 44
    )
    with pytest.raises(ValueError, match="carries nothing more"):
        added(grown, path, Hem(edge="back", length=5))
    with pytest.raises(ValueError, match="two"):
        added(tree, (), Flange(edge="front", height=5))


def _reliefs(name):
    from zealous_crane.demo import demo_work

    return [develop(job).reliefs for job in demo_work(name).parts]


def test_a_part_has_one_size_of_relief_and_it_is_on_the_wall():
    from zealous_crane.demo import DEMOS
    from zealous_crane.job.tools import PUNCHES_INCH, PUNCHES_MM

    wall = [25.4 * p for p in PUNCHES_INCH] + list(PUNCHES_MM)
    seen = 0
    for name in DEMOS:
        for reliefs in _reliefs(name):
            round_ = {round(r.size, 4) for r in reliefs if r.shape == "round"}
            assert len(round_) <= 1, (name, round_)
            for size in round_:
                seen += 1
                assert size > 7 or any(abs(size - p) < 1e-3 for p in wall), (name, size)
    assert seen >= 8


def test_a_relief_is_no_larger_for_a_notch_whose_point_lies_far_out():
    # The seam tab of a sleeve is trimmed back; its notch goes in to the bend lines, and a 3/32"
    # hole does for every corner.
    sleeve = develop(
        Job(
            part=Sleeve(
                length=57, width=57, height=57, tab=12.7, hem=12.7, lip="in", lip_width=12.7
            ),
            metal="galvanized",
            thickness="26 ga",
            units="in",
        )
    )
    assert {round(r.size / 25.4 * 32, 6) for r in sleeve.reliefs} == {3.0}
    beside = next(r for r in sleeve.reliefs if "seam tab" in r.name)
    shape = shapely.Polygon(sleeve.outline.flattened())
    # Nothing is left standing between the relief and the tab's end: the fold lines run into the
    # hole.
    for fold in sleeve.folds:
        for end in (fold.start, fold.end):
            if np.hypot(*(end - beside.centre)) < 8:
                assert not shape.contains(
                    shapely.Point(*(end + (beside.centre - end) * 0.5 + fold.outward * 1.0))
                )


def test_a_narrow_wall_keeps_a_relief_of_its_own():
    # 3 mm metal at r 3 wants 19 mm at the walls; a corner between 12 mm lips takes no more than it
    # needs.
    from zealous_crane.flat.notch import Wedge, one_size, relief_size
    from zealous_crane.job.tools import SmallTools

    usual = SmallTools()
    from zealous_crane.units.length import Units

    wide, narrow = (
        Wedge(np.zeros(2), 0.0, (), reach, room) for reach, room in ((9.0, 60.0), (2.0, 12.0))
    )
    common = one_size([wide, narrow], Units.MM, usual)
    low = Wedge(np.zeros(2), 0.5, (), 9.0, 4.0)
    assert relief_size(low, common, Units.MM, usual) == 6.0, "no more than the wall can hide"
    assert (
        common == 18.0
        and relief_size(wide, common, Units.MM, usual) == 18.0
        and relief_size(narrow, common, Units.MM, usual) == 4.0
    )


@pytest.mark.parametrize(
    ("thickness", "radius"), [("0.8 mm", None), ("1.5 mm", 1.5), ("3 mm", 3.0)]
)
@pytest.mark.parametrize("angle", [45.0, 90.0])
def test_a_relief_reaches_r_and_t_past_both_tangent_lines(thickness, radius, angle):
    """Design rule as handbooks print it (width at least T, depth r + T past the tangent), from
    memory; measured on the flat."""
    walls = tuple(
        Flange(edge=e, height=60, angle=angle, name=f"{e} wall") for e in ("right", "back")
    )
    tree = Design(base=Base(length=200, width=150), flanges=walls)
    blank = develop(
        Job(
            part=DrawnPart(tree=tree),
            thickness=thickness,
            radius=radius,
            metal="mild-steel",
            units="mm",
        )
    )
    (relief,) = blank.reliefs
    assert relief.size >= blank.thickness
    for fold in blank.folds:
        depth = fold.bend.allowance / 2 + fold.bend.radius + fold.bend.thickness
        # From the crossing of the lines straight into the base, away from this fold.
        assert relief.size / 2 >= depth - 1e-9
        inner = relief.centre - fold.outward * (depth - 0.01)
        assert not shapely.Polygon(blank.outline.flattened(0.001)).contains(shapely.Point(inner))
