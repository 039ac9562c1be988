"""Drawings: what was written is read back the same; what others drew is understood or said."""

import math
import random
import xml.etree.ElementTree as ET

import ezdxf
import ezdxf.path
import numpy as np
import pytest
import shapely
import shapely.affinity
from ezdxf.enums import TextEntityAlignment

from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError, MadeBy
from zealous_crane.flat.path import ClosedPath
from zealous_crane.io.dxf_entities import DrawingError, DrawnSide, chain
from zealous_crane.io.dxf_read import Taken, UnitNotNamedError, read_drawing
from zealous_crane.io.dxf_write import svg_text, write_dxf, write_svg
from zealous_crane.job.job import FlatPart, Job
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.hole import Cutout, HolePlace
from zealous_crane.planning.planner import make_plan
from zealous_crane.units.length import Units


def flat_job(reading, **fields):
    return Job(
        part=FlatPart(flat=reading.flat), metal="mild-steel", thickness="1 mm", units="mm", **fields
    )


def drawing(path, draw, units=4):
    document = ezdxf.new("R2010", setup=["linetypes"])
    document.header["$INSUNITS"] = units
    for name in ("FOLD", "NOTES"):
        document.layers.add(name)
    draw(document.modelspace(), document)
    document.saveas(path)
    return path


def rectangle(space, w=200.0, h=100.0, layer="0"):
    space.add_lwpolyline([(0, 0), (w, 0), (w, h), (0, h)], close=True, dxfattribs={"layer": layer})


@pytest.mark.parametrize("inches", [False, True])
@pytest.mark.parametrize("name", DEMOS)
def test_what_was_written_is_read_back_the_same(name, inches, tmp_path):
    for part in demo_work(name).parts:
        for school in (part.school, {"school": "neutral-line"}):
            job = Job.model_validate({**part.model_dump(), "school": school})
            blank = develop(job)
            write_dxf(blank, tmp_path / "flat.dxf", inches=inches)
            reading = read_drawing(tmp_path / "flat.dxf")
            assert reading.notes == () and reading.asked == ()
            again = develop(job.model_copy(update={"part": FlatPart(flat=reading.flat)}))
            assert again.size == pytest.approx(blank.size, abs=1e-6)
            assert again.area == pytest.approx(blank.area, abs=1e-3)
            assert len(again.panels) == len(blank.panels) and len(again.holes) == len(blank.holes)
            one = shapely.Polygon(blank.outline.flattened())
            assert one.symmetric_difference(shapely.Polygon(again.outline.flattened())).area < 1e-3
            mine = {f.name: f for f in again.folds}
            for fold in blank.folds:
                other = mine[fold.name]
                # Which side is nearer the base may change; the line, the angle and the bend may
                # not.
                ends = np.sort([fold.start, fold.end], axis=0) - np.sort(
                    [other.start, other.end], axis=0
                )
                # An ear's crease ends where the walls' strips begin.
                close = blank.thickness if fold.made_by is MadeBy.HAND else 0.05
                assert np.abs(ends).max() < close and other.angle == pytest.approx(fold.angle)
                assert other.bend.allowance == pytest.approx(fold.bend.allowance)


def test_layers_line_types_and_texts_name_folds(tmp_path):
    def draw(space, document):
        rectangle(space)
        document.layers.add("BEND DOWN 45")
        space.add_line((40, 0), (40, 100), dxfattribs={"layer": "BEND DOWN 45"})
        space.add_line((80, 0), (80, 100), dxfattribs={"layer": "0", "linetype": "DASHED"})
        space.add_text("78%%d UP", height=3, dxfattribs={"layer": "NOTES"}).set_placement((82, 50))
        space.add_line((160, 0), (160, 100), dxfattribs={"layer": "FOLD"})

    reading = read_drawing(drawing(tmp_path / "a.dxf", draw), angle=30)
    assert sorted(f.angle for f in reading.flat.folds) == [-45, 30, 78]
    assert reading.asked == (3,) and "fold 3 is not written" in reading.notes[0]
    blank = develop(flat_job(reading))
    assert len(blank.panels) == 4 and blank.panels[0].name == "base"
    assert sorted(f.angle for f in blank.folds) == [-45, 30, 78]


def test_a_drawn_box_is_planned_like_a_developed_one(tmp_path, brake, box):
    job = box("11 in", "8 1/2 in", "2 1/2 in")
    write_dxf(develop(job), tmp_path / "box.dxf")
    reading = read_drawing(tmp_path / "box.dxf")
    drawn = job.model_copy(update={"part": FlatPart(flat=reading.flat)})
    one, other = make_plan(job, brake), make_plan(drawn, brake)
    assert one.feasible and other.feasible and one.sentence == other.sentence
    assert [s.verdict.reach for s in other.strokes] == pytest.approx(
        [s.verdict.reach for s in one.strokes], abs=0.01
    )


def test_lines_and_arcs_are_chained_and_units_understood(tmp_path):
    def draw(space, document):
        # A plate of 4 × 2 in with one rounded corner, drawn piece by piece and out of order, one
        # piece doubled.
        for a, b in (((0, 0), (4, 0)), ((4, 2), (4, 0)), ((0, 2), (0, 0)), ((3.5, 2), (0.5, 2))):
            space.add_line(a, b)
        space.add_line((0.5, 2), (0, 2))
        space.add_line((0, 0), (4, 0))
        space.add_line((3.5, 2), (4, 2))
        space.add_circle((1, 1), 0.25)
        space.add_ellipse((3, 1), major_axis=(0.3, 0), ratio=0.5)

    reading = read_drawing(drawing(tmp_path / "in.dxf", draw, units=1))
    blank = develop(flat_job(reading))
    assert blank.size == pytest.approx((4 * 25.4, 2 * 25.4))
    assert "1 doubled line was left out." in reading.notes and any(
        "short straight pieces" in s for s in reading.notes
    )
    assert [h.kind for h in blank.holes] == ["round", "other"] or [h.kind for h in blank.holes] == [
        "other",
        "round",
    ]


def test_what_is_not_understood_is_listed(tmp_path):
    def draw(space, document):
        rectangle(space)
        space.add_hatch().paths.add_polyline_path([(1, 1), (2, 1), (2, 2)])
        space.add_line((300, 0), (320, 5))
        space.add_lwpolyline([(400, 0), (450, 0), (450, 50), (400, 50)], close=True)
        space.add_spline([(10, 10), (20, 40), (40, 20), (10, 10)])
        space.add_arc((100, 50), 20, 0, 90, dxfattribs={"layer": "FOLD"})
        space.add_3dface([(0, 0), (1, 0), (1, 1), (0, 1)])
        space.add_text("junk", height=2)

    said = " ".join(read_drawing(drawing(tmp_path / "x.dxf", draw)).notes)
    for words in ("1 × hatch", "is open", "other parts", "round fold lines", "3dface"):
        assert words in said, words


@pytest.mark.parametrize(
    ("draw", "said"),
    [
        (lambda s, d: s.add_line((0, 0), (100, 0)), "no closed outline"),
        (
            lambda s, d: s.add_lwpolyline([(0, 0), (100, 0), (100, 50), (0, 49)]),
            "no closed outline",
        ),
        (lambda s, d: s.add_text("only words", height=3), "no closed outline"),
        (lambda s, d: s.add_circle((0, 0), 0), "no closed outline"),
    ],
)
def test_a_drawing_without_an_outline_says_so(draw, said, tmp_path):
    with pytest.raises(DrawingError, match=said):
        read_drawing(drawing(tmp_path / "x.dxf", draw))


@pytest.mark.parametrize(
    "content",
    [b"", b"junk\nmore junk\n", b"\x00\xff" * 500, b"  0\nSECTION\n  2\nENTITIES\n  0\nLINE\n"],
)
def test_what_is_no_drawing_says_so(content, tmp_path):
    (tmp_path / "x.dxf").write_bytes(content)
    with pytest.raises(DrawingError):
        read_drawing(tmp_path / "x.dxf")
    with pytest.raises(DrawingError, match="could not be read"):
        read_drawing(tmp_path / "missing.dxf")


@pytest.mark.parametrize(
    ("fold", "said"),
    [
        (((50, 20), (50, 80)), "ends within the metal"),
        (((300, 0), (300, 100)), "outside the outline"),
    ],
)
def test_a_fold_that_does_not_part_the_metal_is_refused(fold, said, tmp_path):
    def draw(space, document):
        rectangle(space)
        space.add_line(*fold, dxfattribs={"layer": "FOLD"})

    reading = read_drawing(drawing(tmp_path / "x.dxf", draw))
    with pytest.raises(DevelopmentError, match=said):
        develop(flat_job(reading))


def test_folds_round_a_hole_close_a_ring(tmp_path):
    def draw(space, document):
        rectangle(space, 200, 200)
        space.add_lwpolyline([(80, 80), (120, 80), (120, 120), (80, 120)], close=True)
        for a, b in (
            ((0, 100), (80, 100)),
            ((120, 100), (200, 100)),
            ((100, 0), (100, 80)),
            ((100, 120), (100, 200)),
        ):
            space.add_line(a, b, dxfattribs={"layer": "FOLD"})

    with pytest.raises(DevelopmentError, match="ring"):
        develop(flat_job(read_drawing(drawing(tmp_path / "x.dxf", draw))))


def test_wrong_units_are_doubted(tmp_path):
    tiny = read_drawing(drawing(tmp_path / "x.dxf", lambda s, d: rectangle(s, 0.2, 0.1), units=4))
    assert "units" in tiny.notes[-1]


@pytest.mark.parametrize("left_out", ["unit", "header"])
def test_a_unit_that_is_not_named_is_asked_with_both_sizes(left_out, tmp_path):
    def sides(space, _):
        corners = [(0, 0), (200, 0), (200, 100), (0, 100)]
        for k in range(4):
            space.add_line(corners[k - 1], corners[k])

    drawing(tmp_path / "y.dxf", sides, units=0)
    if left_out == "header":
        text = (tmp_path / "y.dxf").read_text()
        (tmp_path / "y.dxf").write_text("  0\nSECTION\n" + text[text.index("  2\nENTITIES") :])
    with pytest.raises(
        UnitNotNamedError, match="200 × 100 mm, in inches 200 × 100 in, which is 5080 × 2540 mm"
    ) as raised:
        read_drawing(tmp_path / "y.dxf")
    assert raised.value.size == pytest.approx((200, 100))
    inches, mm = (read_drawing(tmp_path / "y.dxf", unit=unit) for unit in (25.4, 1.0))
    assert (inches.inches, mm.inches) == (True, False)
    assert (
        inches.units(Units.MM) is Units.FRACTIONS
        and inches.units(Units.DECIMAL) is Units.DECIMAL
        and mm.units(Units.DECIMAL) is Units.MM
    )
    assert develop(flat_job(read_drawing(tmp_path / "y.dxf", unit=25.4))).size[0] == pytest.approx(
        200 * 25.4
    )


def test_ten_thousand_entities(tmp_path):
    def draw(space, document):
        rectangle(space, 2000, 1000)
        for i in range(5000):
            x, y = 10 + 20 * (i % 98), 10 + 19 * (i // 98)
            space.add_circle((x, y), 3)
        for i in range(5000):
            space.add_line((3000 + i, 0), (3000 + i, 5 + i % 7))

    reading = read_drawing(drawing(tmp_path / "big.dxf", draw))
    assert len(reading.flat.holes) == 5000 and "4995 more open lines" in " ".join(reading.notes)


@pytest.mark.parametrize("seed", range(40))
def test_random_drawings_are_read_or_refused_in_words(seed, tmp_path):
    rng = random.Random(seed)

    def point():
        return (rng.uniform(-50, 250), rng.uniform(-50, 150))

    def draw(space, document):
        if rng.random() < 0.7:
            rectangle(space, rng.choice([200, 0.001, 1e6]), rng.choice([100, 1e-6]))
        for _ in range(rng.randint(1, 30)):
            layer = rng.choice(["0", "FOLD", "NOTES", "FOLD -400", "BEND 0", "KANT 90"])
            kind = rng.randrange(7)
            at = {"layer": layer}
            if kind == 0:
                space.add_line(point(), point(), dxfattribs=at)
            elif kind == 1:
                space.add_arc(
                    point(),
                    rng.uniform(0, 50),
                    rng.uniform(-400, 400),
                    rng.uniform(-400, 400),
                    dxfattribs=at,
                )
            elif kind == 2:
                space.add_lwpolyline(
                    [(*point(), rng.uniform(-3, 3)) for _ in range(rng.randint(1, 6))],
                    format="xyb",
                    close=rng.random() < 0.5,
                    dxfattribs=at,
                )
            elif kind == 3:
                space.add_circle(point(), rng.uniform(-5, 60), dxfattribs=at)
            elif kind == 4:
                space.add_spline([point() for _ in range(rng.randint(3, 6))], dxfattribs=at)
            elif kind == 5:
                space.add_text(
                    rng.choice(["90", "up", "-1e9", "%%d", ""]), height=2, dxfattribs=at
                ).set_placement(point())
            else:
                space.add_polyline2d([point() for _ in range(4)], close=True, dxfattribs=at)

    path = drawing(tmp_path / "x.dxf", draw, units=rng.choice([0, 1, 4, 6]))
    try:
        blank = develop(flat_job(read_drawing(path)))
    except (DrawingError, DevelopmentError, ValueError) as error:
        assert len(str(error)) > 15
    else:
        assert blank.area > 0


def test_svg_is_true_to_size(tmp_path, box):
    blank = develop(box())
    write_svg(blank, tmp_path / "x.svg")
    root = ET.fromstring((tmp_path / "x.svg").read_text())
    assert float(root.get("width").removesuffix("mm")) == pytest.approx(blank.size[0], abs=1e-3)
    groups = {g.get("id"): list(g) for g in root.iter("{http://www.w3.org/2000/svg}g")}
    assert len(groups["cut"]) == 1 and len(groups["fold"]) == 4
    path = groups["cut"][0].get("d")
    assert path.count("A") == 4 and path.endswith("Z")
    numbers = [
        float(v)
        for v in path.replace("A", " ").replace("L", " ").replace("M", " ").replace("Z", "").split()
    ]
    assert max(numbers) <= max(blank.size) + 1e-3 and min(numbers) >= 0
    holed = develop(demo_work("hive-scale").parts[0])
    assert svg_text(holed).count('class="cut"') == 1 + len(holed.holes)


@pytest.mark.parametrize("strays_first", [False, True])
def test_an_edge_that_stray_lines_touch_is_found_whichever_was_drawn_first(strays_first):
    """Two strays split an edge into two runs; the loop they make together is the part."""
    square = [((0, 0), (10, 0)), ((10, 0), (10, 10)), ((10, 10), (0, 10)), ((0, 10), (0, 0))]
    strays = [((-5, 10), (0, 10)), ((20, 0), (10, 0))]
    sides = [DrawnSide(*ends) for ends in (strays + square if strays_first else square + strays)]
    loops, left = chain(sides)
    assert [[side.start for side in loop] for loop in loops] == [
        [(0, 0), (10, 0), (10, 10), (0, 10)]
    ]
    assert sorted((run[0].start, run[-1].end) for run in left) == sorted(strays)


@pytest.mark.parametrize(
    ("words", "angle"),
    [
        ("BACK WALL UP 90", 90),
        ("BEND DOWN 45", -45),
        ("BEND_DOWN_45", -45),
        ("90° down", -90),
        ("wall 4 UP 90%%d", 90),
        ("R2 UP 90", 90),
        ("t=1.5 45%%D DN", -45),
        ("KANTUNG 90° UNTEN", -90),
        ("135° HOCH", 135),
        ("pli 30° bas", -30),
        ("fold -45", -45),
        ("UP 22,5", 22.5),
        ("90 UP R1.5", 90),
        ("bend 3: 88° up", 88),
        ("front wall dn 12.5", -12.5),
        ("UP90", 90),
        ("D90", -90),
        ("BEND 1", None),
        ("R2", None),
        ("t=1.5", None),
        ("2x M6", None),
        ("QTY 20", None),
        ("P/N 142", None),
        ("Fold 12", None),
        ("BACK WALL", None),
        ("Ø8", None),
        ("40 ±0.1", None),
        ("backup 90", None),
        ("UP 2x", None),
        ("1000 UP", None),
    ],
)
def test_an_angle_is_the_number_beside_a_degree_sign_or_a_way(words, angle, tmp_path):
    def draw(space, _):
        rectangle(space)
        space.add_line((40, 0), (40, 100), dxfattribs={"layer": "FOLD"})
        space.add_text(words, dxfattribs={"insert": (39, 20), "rotation": 90})

    reading = read_drawing(drawing(tmp_path / "words.dxf", draw))
    (fold,) = reading.flat.folds
    assert fold.angle == (angle if angle is not None else 90.0) and bool(reading.asked) == (
        angle is None
    )


def test_an_aligned_text_stands_where_it_is_aligned(tmp_path):
    def draw(space, _):
        rectangle(space)
        space.add_line((40, 0), (40, 100), dxfattribs={"layer": "FOLD"})
        space.add_line((160, 0), (160, 100), dxfattribs={"layer": "FOLD"})
        for x, words in ((41, "UP 30"), (161, "DOWN 60")):
            note = space.add_text(words, height=2, rotation=90)
            note.set_placement((x, 50), align=TextEntityAlignment.MIDDLE_CENTER)
            note.dxf.insert = (0, 0)

    folds = read_drawing(drawing(tmp_path / "x.dxf", draw)).flat.folds
    assert {fold.start[0]: fold.angle for fold in folds} == {40: 30, 160: -60}


def test_our_own_drawing_without_its_extended_data_keeps_its_angles(tmp_path):
    for key in DEMOS:
        job = demo_work(key).parts[0]
        blank = develop(job)
        write_dxf(blank, tmp_path / "ours.dxf")
        document = ezdxf.readfile(tmp_path / "ours.dxf")
        for entity in document.modelspace():
            entity.xdata = None
        document.saveas(tmp_path / "bare.dxf")
        reading = read_drawing(tmp_path / "bare.dxf")
        assert not reading.asked or blank.creases
        if not blank.creases:
            for fold in blank.folds:
                other = min(
                    reading.flat.folds,
                    key=lambda f: (
                        np.abs(fold.start - f.start).sum() + np.abs(fold.end - f.end).sum()
                    ),
                )
                assert other.angle == pytest.approx(fold.angle, abs=0.06), (key, fold.name)


def test_holes_made_after_bending_keep_to_a_layer_of_their_own(tmp_path):
    cutouts = (
        Cutout(length=8, name="now"),
        Cutout(length=10, y=HolePlace(edge="front", value=8), after_bending=True, name="round"),
        Cutout(
            shape="slot",
            length=20,
            width=6,
            x=HolePlace(edge="left", value=30),
            after_bending=True,
            name="slot",
        ),
    )
    tree = Design(
        base=Base(length=200, width=120),
        flanges=(Flange(edge="front", height=30),),
        cutouts=cutouts,
    )
    blank = develop(
        Job(part={"kind": "design", "tree": tree}, metal="mild-steel", thickness="1 mm", units="mm")
    )
    write_dxf(blank, tmp_path / "part.dxf")
    document = ezdxf.readfile(tmp_path / "part.dxf")
    by_layer = {
        name: [e.dxftype() for e in document.modelspace() if e.dxf.layer == name]
        for name in ("CUT", "CUT-LATER")
    }
    assert by_layer == {"CUT": ["LWPOLYLINE", "CIRCLE"], "CUT-LATER": ["CIRCLE", "LWPOLYLINE"]}
    reading = read_drawing(tmp_path / "part.dxf")
    assert reading.notes == () and (len(reading.flat.holes), len(reading.flat.holes_later)) == (
        1,
        2,
    )
    again = develop(flat_job(reading))
    assert sum(hole.after_bending for hole in again.holes) == 2 and again.area == pytest.approx(
        blank.area, abs=1e-3
    )
    later = ET.fromstring(svg_text(blank)).find(".//*[@id='cut-later']")
    assert later is not None and len(later) == 2


def lwpolyline(space):
    space.add_lwpolyline(
        [(0, 0, 0), (60, 0, 0.4), (60, 40, 0), (0, 40, -0.3)], format="xyb", close=True
    )


def polyline(space):
    space.add_polyline2d(
        [(0, 0, 0), (60, 0, 0.4), (60, 40, 0), (0, 40, -0.3)], format="xyb", close=True
    )


def polyline_in_space(space):
    space.add_polyline3d([(0, 0, 5), (60, 0, 5), (50, 40, 5), (0, 30, 5)], close=True)


def lines_and_arc(space):
    for start, end in (((0, 0), (60, 0)), ((60, 40), (0, 40)), ((0, 40), (0, 0))):
        space.add_line(start, end)
    space.add_arc((60, 20), 20, -90, 90)


def circle(space):
    space.add_circle((30, 25), 18)


def ellipse(space):
    space.add_ellipse((30, 25), (25, 5), 0.5)


def spline(space):
    space.add_spline([(0, 0), (40, -5), (55, 30), (20, 45), (0, 0)])


SHAPES = (lwpolyline, polyline, polyline_in_space, lines_and_arc, circle, ellipse, spline)
PUT = {
    "mirrored": {"xscale": -1},
    "mirrored across": {"yscale": -1},
    "turned": {"rotation": 33},
    "scaled": {"xscale": 2, "yscale": 2},
    "mirrored and turned": {"xscale": -1, "rotation": 120},
    "half turn": {"xscale": -1, "yscale": -1},
}


def placed(shape, put, tmp_path, *, nested=False):
    """The outline a shape has when its block is inserted so, as a polygon, and what was said."""

    def draw(space, document):
        block = document.blocks.new("SHAPE")
        shape(block)
        if nested:
            outer = document.blocks.new("OUTER")
            outer.add_blockref("SHAPE", (7, 3), dxfattribs={"xscale": -1, "rotation": 20})
        space.add_blockref("OUTER" if nested else "SHAPE", (10, 20), dxfattribs=put)

    reading = read_drawing(drawing(tmp_path / "placed.dxf", draw))
    corners = np.array(reading.flat.outline)
    path = ClosedPath(corners[:, :2], corners[:, 2])
    return shapely.Polygon(path.flattened(0.001)).buffer(0), reading


def plain(shape, put, *, nested=False):
    """The same by matrices on points taken from the shape itself: no reader of blocks."""
    document = ezdxf.new("R2010")
    shape(document.modelspace())
    rings = []
    for entity in document.modelspace():
        rings += [[(p.x, p.y) for p in ezdxf.path.make_path(entity).flattening(0.002)]]
    ring = rings[0] if len(rings) == 1 else [*rings[0], *rings[3][1:], *rings[1], *rings[2]]

    def insert(points, at, xscale=1.0, yscale=1.0, rotation=0.0):
        c, s = np.cos(np.radians(rotation)), np.sin(np.radians(rotation))
        return points * [xscale, yscale] @ np.array([[c, s], [-s, c]]) + at

    points = np.array(ring, dtype=float)
    if nested:
        points = insert(points, (7, 3), xscale=-1, rotation=20)
    return shapely.Polygon(insert(points, (10, 20), **put)).buffer(0)


@pytest.mark.parametrize("nested", [False, True])
@pytest.mark.parametrize("put", PUT)
@pytest.mark.parametrize("shape", SHAPES)
def test_blocks_are_read_as_they_lie(shape, put, nested, tmp_path):
    got, reading = placed(shape, PUT[put], tmp_path, nested=nested)
    want = plain(shape, PUT[put], nested=nested)
    assert not [said for said in reading.notes if "short straight" not in said]
    assert got.symmetric_difference(want).area < 0.02 * want.length, "the outline lies elsewhere"


@pytest.mark.parametrize("shape", [lwpolyline, polyline, circle, lines_and_arc])
def test_what_is_extruded_downwards_is_read_turned_over(shape, tmp_path):
    def draw(space, _):
        shape(space)
        for entity in space:
            if entity.dxftype() != "LINE":
                entity.dxf.extrusion = (0, 0, -1)
            else:
                entity.dxf.start, entity.dxf.end = (
                    (-p[0], p[1]) for p in (entity.dxf.start, entity.dxf.end)
                )

    corners = np.array(read_drawing(drawing(tmp_path / "x.dxf", draw)).flat.outline)
    got = shapely.Polygon(ClosedPath(corners[:, :2], corners[:, 2]).flattened(0.001)).buffer(0)
    document = ezdxf.new("R2010")
    shape(document.modelspace())
    want = shapely.affinity.scale(
        shapely.affinity.translate(plain(shape, {}), -10, -20), -1, 1, origin=(0, 0)
    )
    assert got.symmetric_difference(want).area < 0.02 * want.length


def test_an_array_of_a_block_is_all_its_holes_and_askew_planes_are_said(tmp_path):
    def draw(space, document):
        rectangle(space)
        document.blocks.new("HOLE").add_circle((0, 0), 3)
        space.add_blockref(
            "HOLE",
            (20, 20),
            dxfattribs={"row_count": 2, "row_spacing": 30, "column_count": 4, "column_spacing": 25},
        )
        space.add_circle((150, 80), 5, dxfattribs={"extrusion": (0, 0.6, 0.8)})

    reading = read_drawing(drawing(tmp_path / "x.dxf", draw))
    assert len(reading.flat.holes) == 8 and any(
        "circle was not understood" in said for said in reading.notes
    )


def test_what_is_hidden_or_turned_off_is_left_out_and_said(tmp_path):
    def draw(space, document):
        rectangle(space)
        document.layers.add("OFF").off()
        document.layers.add("FROZEN").freeze()
        space.add_circle((50, 50), 5)
        for layer in ("OFF", "FROZEN"):
            space.add_circle((100, 50), 5, dxfattribs={"layer": layer})
        space.add_circle((150, 50), 5, dxfattribs={"invisible": 1})

    reading = read_drawing(drawing(tmp_path / "x.dxf", draw))
    assert len(reading.flat.holes) == 1 and any(
        said.startswith("3 lines") for said in reading.notes
    )


@pytest.mark.parametrize("frames", [1, 2])
def test_a_frame_round_the_part_is_left_out_and_said(frames, tmp_path):
    def draw(space, document):
        for i in range(frames):
            space.add_lwpolyline(
                [(-50 - i, -50), (420, -50), (420, 300 + i), (-50 - i, 300 + i)], close=True
            )
        rectangle(space)
        space.add_circle((100, 50), 5)
        space.add_circle((300, 200), 5)
        space.add_line((40, 0), (40, 100), dxfattribs={"layer": "BEND UP 90"})

    reading = read_drawing(drawing(tmp_path / "x.dxf", draw))
    assert (
        develop(flat_job(reading)).size == pytest.approx((200, 100))
        and len(reading.flat.holes) == 1
    )
    assert any("round the part" in said for said in reading.notes) and any(
        "1 closed line outside" in said for said in reading.notes
    )


def test_what_is_left_out_is_what_somebody_says_it_is(tmp_path):
    def draw(space, document):
        rectangle(space)
        space.add_line((0, 50), (200, 50))
        space.add_line((20, 10), (40, 10))
        # An opening whose last side was forgotten, and a hole with another line in it.
        for start, end in (((100, 10), (120, 10)), ((120, 10), (120, 30)), ((120, 30), (100, 30))):
            space.add_line(start, end)
        space.add_circle((160, 80), 10)
        space.add_circle((160, 80), 4)

    path = drawing(tmp_path / "x.dxf", draw)
    plain = read_drawing(path)
    assert [tuple(left.may) for left in plain.left_out] == [
        (Taken.FOLD, Taken.MARK),
        (Taken.FOLD, Taken.MARK),
        (Taken.FOLD, Taken.MARK, Taken.CUT),
        (Taken.MARK,),
    ]
    assert len(plain.flat.folds) == 0 and len(plain.flat.holes) == 1 and len(plain.notes) == 4
    told = read_drawing(path, taken={0: Taken.FOLD, 1: Taken.MARK, 2: Taken.CUT})
    assert len(told.flat.folds) == 1 and len(told.flat.marks) == 1 and len(told.flat.holes) == 2
    assert [left.taken for left in told.left_out] == [
        Taken.FOLD,
        Taken.MARK,
        Taken.CUT,
        Taken.NOTHING,
    ]
    blank = develop(flat_job(told))
    assert blank.area == pytest.approx(200 * 100 - 20 * 20 - math.pi * 100, rel=1e-3)
    with pytest.raises(DrawingError, match="cannot be a cut"):
        read_drawing(path, taken={0: Taken.CUT})
