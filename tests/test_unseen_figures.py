"""Figures worked out by hand that small faults once changed unseen: a limit from both sides, a sum,
a place, a name."""

import itertools
import json
import math
import sqlite3
from pathlib import Path
from types import SimpleNamespace

import ezdxf
import numpy as np
import pytest
import shapely

from shared_plans import plan_of
from zealous_crane.bending.drawing import OutlineKind
from zealous_crane.bending.legs import short_legs
from zealous_crane.bending.scene import scene
from zealous_crane.brake.cross_section import tools_for
from zealous_crane.brake.library import NEW, shop_rack
from zealous_crane.brake.press_brake import DOUBLING
from zealous_crane.brake.tools import _sound
from zealous_crane.cutting.columns import _alone
from zealous_crane.cutting.layout import At, Cutting, ShearCut, StopSetting, lay_out
from zealous_crane.cutting.pattern import Patterns
from zealous_crane.cutting.piece import CutFrom, Shear, Stock, WantedBlank
from zealous_crane.cutting.solve import plan_cutting
from zealous_crane.cutting.summary import _care, _cost, _gives, lots
from zealous_crane.demo import demo_job, demo_work
from zealous_crane.errors import InputError
from zealous_crane.flat.development import LARGEST, develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.on_brake import flat_for
from zealous_crane.inspection.assembly_fit import Solid, travel
from zealous_crane.inspection.finishing import _joining_caution
from zealous_crane.inspection.inspection import Inspection
from zealous_crane.inspection.model import What
from zealous_crane.inspection.wording import _round_slip, _stops
from zealous_crane.io.cut_files import write_cutting
from zealous_crane.io.dxf_read import general_tolerance
from zealous_crane.io.dxf_write import svg_text, write_dxf
from zealous_crane.io.job_file import matches, page_code, write_job
from zealous_crane.io.plan_file import _obstacle
from zealous_crane.job.job import DrawnPart, FlatPart, Job
from zealous_crane.metal.allowance import Din6935, NeutralLine, closed_hem, usual_k
from zealous_crane.metal.bend import FOLDED_BACK, Bend
from zealous_crane.metal.material import MATERIALS
from zealous_crane.metal.shop_table import ShopTable, TestStrip
from zealous_crane.part.design import Base, Design
from zealous_crane.part.drawn_flat import DrawnFlat
from zealous_crane.part.hole import Joined, MarkForm, Stiffener
from zealous_crane.part.kinds.strip import Plate, Strip
from zealous_crane.planning.hand_finishing import HandMeans
from zealous_crane.shop.book.record import StockRecord
from zealous_crane.shop.book.store import Book
from zealous_crane.shop.hierarchical_fit import BendContext
from zealous_crane.shop.safety_notes import _of_hand, _of_stroke
from zealous_crane.shop.settings import ShopSettings
from zealous_crane.shop.springback import handbook
from zealous_crane.shop.stock import stock_left
from zealous_crane.units.length import INCH, Units

HERE = Path(__file__).parent

# --- machines ------------------------------------------------------------------------------------


def test_machines_begun_have_the_sizes_written_beside_this_test():
    """What a shop that begins a machine finds in its fields; a change of it has to be explained."""
    made = [new.make("begun", "Begun", Units.MM).model_dump(mode="json") for new in NEW]
    rounded = [
        {k: round(v, 6) if isinstance(v, float) else v for k, v in each.items()} for each in made
    ]
    assert rounded == json.loads((HERE / "brake" / "begun.json").read_text())


def test_a_shop_begins_with_whole_degrees():
    assert ShopSettings().ways.tolerance == 1.0


def test_a_nose_without_rake_has_no_throat_above_its_radius(rack):
    brake = rack["apiary-finger-50"].model_copy(update={"rake": 0.0, "throat": 30.0})
    assert brake.face_height == brake.nose_radius


def test_a_bed_that_leans_goes_back_as_far_as_it_is_deep_and_leans(rack):
    brake = rack["apiary-finger-50"].model_copy(update={"bed_lean": 10.0})
    bed = tools_for(brake, Bend(90.0, 1.0, 1.0, 2.0)).bed.outline
    lean = brake.bed_depth * math.tan(math.radians(10.0))
    edge = bed[:, 0].min()
    assert bed[:, 0].max() - edge == pytest.approx(brake.bed_depth + lean)


def test_a_corner_written_again_at_the_end_of_a_tools_outline_is_one():
    ring = ((0.0, 5.0), (10.0, 5.0), (10.0, 25.0), (0.0, 25.0))
    assert len(_sound((*ring, ring[0]))) == 4


def test_a_shop_without_a_folder_has_the_machines_that_ship(tmp_path, rack):
    for folder in (None, tmp_path / "not there"):
        found, complaints = shop_rack(folder)
        assert [b.key for b in found.brakes] == [b.key for b in rack.brakes] and not complaints


# --- metal ---------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("ratio", "k"), [(0.0, 0.33), (1.0, 0.40), (2.0, 0.425), (3.0, 0.45), (10.0, 0.5), (30.0, 0.5)]
)
def test_usual_k_is_that_of_its_table(ratio, k):
    assert usual_k(ratio) == pytest.approx(k)


def test_a_hem_of_thick_sheet_is_pressed_flat_by_its_thickness():
    t = 3.0
    method = Din6935()
    assert method.allowance(180.0, 0.19 * t, t) == closed_hem(0.19 * t, t)
    assert method.allowance(180.0, 0.21 * t, t) != closed_hem(0.21 * t, t)


def test_a_bend_is_folded_back_beyond_a_hundred_and_fifty_degrees():
    assert FOLDED_BACK == 150.0
    with pytest.raises(ValueError, match="150"):
        TestStrip(length=80, first=40, second=40, thickness=1, radius=1, angle=151)


@pytest.mark.parametrize(
    ("angle", "doubted"), [(84.9, True), (85.1, False), (94.9, False), (95.1, True)]
)
def test_strips_speak_for_angles_within_five_degrees_of_theirs(angle, doubted):
    strip = TestStrip(length=66.524, first=30.0, second=40.0, thickness=2.0, radius=2.0, angle=90.0)
    assert bool(ShopTable(strips=(strip,)).doubt(angle, 2.0, 2.0)) is doubted


def test_metal_or_machine_nobody_knows_springs_back_two_degrees(rack):
    rule = handbook(rack)
    assert rule(BendContext("unobtainium", 1.0, "apiary-finger-50")) == 2.0
    assert rule(BendContext("mild-steel", 1.0, "no such machine")) == 2.0


# --- cutting -------------------------------------------------------------------------------------


def wedge(quantity):
    """A part like a wedge: two lie head to foot in little more than the room of one."""
    corners = ((0, 0, 0), (300, 0, 0), (60, 100, 0), (0, 100, 0))
    part = FlatPart(flat=DrawnFlat(outline=corners))
    return Job(name="wedge", part=part, metal="mild-steel", thickness="1 mm", quantity=quantity)


@pytest.mark.parametrize(("quantity", "counts"), [(1, [1]), (2, [1]), (3, [1, 1]), (5, [2, 1])])
def test_two_slanted_parts_lie_head_to_foot_from_the_second_on(rack, quantity, counts):
    (lot,) = lots([wedge(quantity)], rack)
    assert [blank.count for blank in lot.blanks] == counts
    assert ("two head to foot" in lot.blanks[0].name) is (quantity > 1)


def test_sheets_are_counted_from_one_where_a_setting_is_used_on_several():
    cut = ShearCut("rip", 100.0, 500.0, 2, "the sheet", "a strip")
    setting = StopSetting("rip", 100.0, "", (At(0, cut, 2), At(1, cut, 1)))
    told = SimpleNamespace(sheets=(None, None))
    assert _gives(told, setting) == "a strip (2 of sheet 1, 1 of sheet 2)"


def test_a_strip_that_is_filled_gets_no_cut_at_its_end():
    shear = Shear(squaring=0.0)
    cutting = plan_cutting([WantedBlank("a", 100, 50, 2)], [Stock("s", 200, 50)], shear)
    (sheet,) = lay_out(cutting)
    assert [(cut.gauge, cut.times) for cut in sheet.cuts] == [(100.0, 1)]
    cutting = plan_cutting([WantedBlank("a", 100, 50, 2)], [Stock("s", 210, 50)], shear)
    (sheet,) = lay_out(cutting)
    assert [(cut.gauge, cut.times) for cut in sheet.cuts] == [(100.0, 2)]


@pytest.mark.parametrize(
    ("sides", "alone"),
    [((70, 40), True), ((55, 52), True), ((60, 40), False), ((60, 29), False), ((49, 49), False)],
)
def test_a_blank_has_a_sheet_to_itself_where_it_covers_the_middle_either_way(sides, alone):
    """On 100 × 60: two of 49 × 49 lie beside each other, two of 60 × 29 above each
    other, two of 60 × 40 beside each other upright."""
    patterns = Patterns([WantedBlank("a", *sides, 1)], [Stock("s", 100, 60)], Shear(squaring=0.0))
    assert _alone(patterns, [0]) == ([0] if alone else [])


@pytest.mark.parametrize(("sheets", "possible"), [(190, True), (210, False)])
def test_one_sheet_less_of_two_hundred_is_no_more_metal(sheets, possible):
    """Of 190 sheets one is 99/189 hundredths of the metal, 0.52; of 210 it is 0.47."""
    blank, stock = WantedBlank("a", 99.0, 100.0, sheets), (Stock("s", 100, 100),)
    cut = tuple(SimpleNamespace(stock=0) for _ in range(sheets))
    cutting = Cutting(cut, (blank,), stock, Shear(), sheets - 1, True)
    assert ("the most possible" in str(cutting.message())) is not possible


@pytest.mark.parametrize(("own", "cost"), [(None, 6.0), (5.0, 10.0)])
def test_a_metals_own_price_comes_before_that_of_what_is_cut(own, cost):
    metal = MATERIALS["mild-steel"].model_copy(update={"price": own})
    lot = SimpleNamespace(sheet=SimpleNamespace(metal=metal))
    assert _cost(lot, CutFrom(price=3.0), 2.0) == cost


def test_sheets_of_a_drawing_stand_a_hand_apart(tmp_path, rack):
    from zealous_crane.cutting.summary import worked_out

    job = Job(
        name="plate", part=Plate(length=400, width=300), metal="mild-steel", thickness="1 mm",
        quantity=6, units="mm",
    )  # fmt: skip
    told = worked_out([job], rack, CutFrom(sheet_length=1000, sheet_width=700), Units.MM, 0.0)
    assert write_cutting(told, tmp_path / "s.dxf", inches=False, version="r2010")
    boxes = []
    for entity in ezdxf.readfile(tmp_path / "s.dxf").modelspace():
        if entity.dxftype() == "LWPOLYLINE":
            points = np.array([(x, y) for x, y, *_ in entity.get_points()])
            size = points.max(axis=0) - points.min(axis=0)
            if sorted(size) == [700.0, 1000.0]:
                boxes.append((*points.min(axis=0), *points.max(axis=0)))
    boxes.sort()
    assert len(boxes) > 1
    gaps = [max(b[0] - a[2], b[1] - a[3]) for a, b in itertools.pairwise(boxes)]
    assert gaps == [pytest.approx(100.0)] * len(gaps)


# --- flat ----------------------------------------------------------------------------------------


def test_a_part_is_held_to_the_largest_from_edge_to_edge():
    """Five legs of twenty metres and one that takes them past a hundred."""

    def strip(leg):
        part = Strip(length=100, legs=(*[20_000] * 5, leg), angles=(90, -90, 90, -90, 90))
        return develop(Job(part=part, metal="mild-steel", thickness="1 mm"))

    assert LARGEST - 50 < max(strip(5).size) <= LARGEST
    with pytest.raises(DevelopmentError, match="is not sheet metal work"):
        strip(50)


def test_a_bead_runs_from_edge_to_edge_of_its_panel_less_its_inset():
    mark = Stiffener(form=MarkForm.BEAD, inset=10.0)
    tree = Design(base=Base(length=200, width=100), marks=(mark,))
    blank = develop(Job(part=DrawnPart(tree=tree), metal="mild-steel", thickness="1 mm"))
    beads = [line for line in blank.marks if line.kind == "bead"]
    assert beads
    for line in beads:
        assert np.hypot(*(np.subtract(line.end, line.start))) == pytest.approx(180.0) or np.hypot(
            *(np.subtract(line.end, line.start))
        ) == pytest.approx(80.0)


# --- files ---------------------------------------------------------------------------------------


@pytest.mark.parametrize("inches", [True, False])
def test_an_svg_is_as_large_as_its_part(inches):
    blank = develop(Job(part=Plate(length=254, width=127), metal="mild-steel", thickness="1 mm"))
    unit, k = ("in", INCH) if inches else ("mm", 1.0)
    text = svg_text(blank, inches=inches)
    wide = float(text.split('width="')[1].split(unit)[0])
    high = float(text.split('height="')[1].split(unit)[0])
    # A little room is left round the part.
    assert 254 / k <= wide <= 1.1 * 254 / k + 20 / k and 127 / k <= high <= 1.1 * 127 / k + 20 / k


@pytest.mark.parametrize("size", [(1000, 50), (50, 1000), (300, 300)])
def test_a_drawing_opens_on_the_whole_part(tmp_path, size):
    part = Plate(length=size[0], width=size[1])
    write_dxf(develop(Job(part=part, metal="mild-steel", thickness="1 mm")), tmp_path / "x.dxf")
    document = ezdxf.readfile(tmp_path / "x.dxf")
    view = document.viewports.get("*Active")[0].dxf
    assert view.height >= size[1] and view.height * 2.0 >= size[0]
    assert view.height <= 1.5 * max(size[1], size[0])


def test_a_page_names_its_part_and_says_whether_it_changed(tmp_path):
    tray, rail = demo_job("syrup-tray"), demo_job("frame-rail")
    for job, name in ((tray, "tray"), (rail, "rail")):
        write_job(job, tmp_path / f"{name}.json")
    files = [tmp_path / "tray.json", tmp_path / "rail.json"]
    found = matches(page_code(tray), files)
    assert [(m.path.stem, m.same) for m in found] == [("tray", True)]


# --- check ---------------------------------------------------------------------------------------


def block(low, high):
    corners = [
        (x, y, z) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])
    ]
    return Solid("block", 0, np.array(corners, dtype=float))


@pytest.mark.parametrize(
    ("other", "span"),
    [
        ((30, 0, 0, 40, 10, 10), (20.05, 39.95)),
        ((30, 9, 0, 40, 19, 10), (20.05, 39.95)),
        ((30, 10.5, 0, 40, 20, 10), None),
        ((30, 9.97, 0, 40, 20, 10), None),
        ((-30, 0, 0, -20, 10, 10), (-39.95, -20.05)),
    ],
)
def test_a_block_pushed_along_meets_another_from_touch_to_past(other, span):
    found = travel(
        block((0, 0, 0), (10, 10, 10)), block(other[:3], other[3:]), np.array([1.0, 0, 0]), 0.05
    )
    assert found == (None if span is None else pytest.approx(span, abs=1e-6))


@pytest.mark.parametrize(("off", "misread"), [(7.9, False), (8.1, True)])
def test_a_small_size_is_misread_from_eight_millimetres_on(off, misread):
    job = demo_job("inspection-tray")
    inspection = Inspection(job, develop(job))
    line = min(
        (one for one in inspection.lines if one.measure.what is What.LEG),
        key=lambda one: one.wanted,
    )
    assert line.wanted < 30
    if misread:
        with pytest.raises(InputError):
            inspection.likely(line, line.wanted + off)
    else:
        assert inspection.likely(line, line.wanted + off)


# --- shop ----------------------------------------------------------------------------------------


def test_a_tool_that_turns_and_a_mallet_have_their_own_cautions():
    turns, struck = (
        str(_of_hand(SimpleNamespace(by=by))[0][1]) for by in (HandMeans.OWN_TOOL, HandMeans.TONGS)
    )
    assert "gloves off" in turns and "strike away" in struck


def test_setting_up_is_cautioned_at_the_stroke_that_begins_a_set_up(rack):
    job = demo_job("syrup-tray")
    plan = plan_of(job, rack[job.brake])
    for stroke in plan.strokes:
        begins = stroke.number == plan.setups[stroke.setup].strokes[0]
        said = [where for where, _ in _of_stroke(plan, stroke)]
        assert ("setting-up" in said) is begins
    assert any(s.number != plan.setups[s.setup].strokes[0] for s in plan.strokes)


def test_damaged_rows_are_named_up_to_three(tmp_path):
    with Book(tmp_path / "book.db") as book:
        book.damaged = {k: f"row {k}" for k in range(3)}
        assert "row 2" in book.complaints and "…" not in book.complaints
        book.damaged = {k: f"row {k}" for k in range(4)}
        assert "; …" in book.complaints and "row 3" not in book.complaints


@pytest.mark.parametrize(
    "why",
    ["attempt to write a readonly database", "unable to open database file", "permission denied"],
)
def test_a_book_that_cannot_be_written_says_so_whatever_the_reason(tmp_path, why):
    with Book(tmp_path / "book.db") as book:
        assert "cannot be written here" in book._why(sqlite3.OperationalError(why))
        assert "cannot be written here" not in book._why(sqlite3.OperationalError("disk I/O error"))


# --- seen later ----------------------------------------------------------------------------------


@pytest.mark.parametrize("name", ["nucleus-roof", "chimney-halves", "wax-melter-chimney"])
def test_a_cut_beside_a_panel_lies_nearer_to_it_than_to_any_other(name):
    beside = 0
    for part in demo_work(name).parts:
        blank = develop(part)
        shapes = {panel.name: shapely.Polygon(panel.outline.flattened()) for panel in blank.panels}
        for notch in blank.notches:
            if notch.name.startswith("beside the "):
                cut, beside = shapely.Polygon(notch.waste.flattened()), beside + 1
                near = {panel: shape.distance(cut) for panel, shape in shapes.items()}
                assert near[notch.name.removeprefix("beside the ")] == min(near.values())
    assert beside


def test_tools_come_in_pieces_that_double(rack):
    assert [piece.width for piece in DOUBLING] == [20, 40, 80, 160, 320]


def test_what_is_met_is_named_and_a_part_without_a_name_by_its_kind():
    kind = SimpleNamespace(value="panel", across=True)
    tool = SimpleNamespace(name="bed", kind=kind)
    records = [
        _obstacle(
            SimpleNamespace(
                body=SimpleNamespace(name=name, kind=kind, across=0), tool=tool, phase=kind, at=1.0
            )
        )
        for name in ("front wall", "")
    ]
    assert [record["body"] for record in records] == ["front wall", "panel"]


def test_only_the_clamped_panel_is_drawn_as_clamped_and_only_the_folding_one_as_folding(rack):
    job = demo_job("syrup-tray")
    for stroke in plan_of(job, rack[job.brake]).strokes:
        setting = stroke.verdict.stroke.setting
        names = [panel.name for panel in plan_of(job, rack[job.brake]).blank.panels]
        for kind, panel in (
            (OutlineKind.CLAMPED, setting.clamped),
            (OutlineKind.FOLDING, setting.folding),
        ):
            drawn = {o.body.name for o in scene(stroke.verdict.stroke, 45.0) if o.kind is kind}
            assert drawn == {names[panel]}


@pytest.mark.parametrize(("within", "read"), [("19.9", 19.9), ("20.1", None)])
def test_a_general_tolerance_wider_than_twenty_was_read_wrong(within, read):
    assert general_tolerance([f"general tolerance ±{within} mm"], inches=False).within == read


@pytest.mark.parametrize(("helper", "two"), [(500.0, True), (3000.0, False)])
def test_two_carry_sheets_as_well_as_pieces(rack, helper, two):
    (lot,) = lots(
        [Job(part=Plate(length=300, width=200), metal="mild-steel", thickness="1 mm")], rack
    )
    said = _care(lot, CutFrom(sheet_length=2000, sheet_width=1000, helper=helper), Units.MM)
    assert any("two people" in str(one) for one in said) is two


def test_a_method_that_leaves_less_than_no_metal_says_of_which_radius():
    class Less(NeutralLine):
        def allowance(self, angle, radius, thickness):
            return -1.0

    with pytest.raises(InputError, match=r"radius of 0\.5 thicknesses"):
        Less().bend(90.0, 1.0, 2.0)


@pytest.mark.parametrize(
    ("now", "by", "then"), [(2.0, 0.5, 1.5), (2.0, -1.5, 3.5), (1.0, 2.0, 0.0)]
)
def test_a_sheet_that_springs_otherwise_is_counted_so_in_the_job(now, by, then):
    job = demo_job("inspection-tray").model_copy(update={"springback": now})
    found = SimpleNamespace(by=by)
    assert _stops(found, develop(job), job).change["springback"] == then


def test_off_cuts_that_differ_in_one_side_are_two_and_turned_ones_are_one():
    def offcut(length, width, count=1):
        return StockRecord(
            what="off-cut", metal="steel", thickness=1.0, length=length, width=width, count=count
        )

    left = stock_left([offcut(300, 200), offcut(300, 100), offcut(200, 300, -1)])
    assert [(one.length, one.width, one.count) for one in left] == [(300, 100, 1)]


@pytest.mark.parametrize(("off", "doubted"), [(0.29, False), (0.31, True)])
def test_a_strip_speaks_for_radii_within_three_tenths_in_thin_sheet(off, doubted):
    flat = 30.0 + 40.0 - 2 * (0.5 + 0.5) + math.pi / 2 * (0.5 + 0.44 * 0.5)
    strip = TestStrip(length=flat, first=30.0, second=40.0, thickness=0.5, radius=0.5)
    assert bool(ShopTable(strips=(strip,)).doubt(90.0, 0.5 + off, 0.5)) is doubted


@pytest.mark.parametrize(("by", "slip"), [(99.9, 100.0), (-10.1, 10.0), (37.0, 37.0)])
def test_a_reading_off_by_about_a_round_figure_is_off_by_that(by, slip):
    assert _round_slip(by, Units.MM) == slip


def test_a_machine_retired_is_gone_and_taken_back_is_there(rack):
    key = rack.brakes[0].key
    retired = rack.with_retired(key, retired=True)
    assert retired.retired == {key} and retired.with_retired(key, retired=False).retired == set()


@pytest.mark.parametrize(
    ("joined", "metal", "said"),
    [
        (Joined.SPOT, "mild-steel", "Hot after welding; eye"),
        (Joined.SPOT, "galvanized", "Zinc fume"),
        (Joined.RIVET, "mild-steel", "slivers"),
    ],
)
def test_what_is_hot_and_what_leaves_slivers_is_said(joined, metal, said):
    job = demo_job("syrup-tray").model_copy(update={"metal": metal, "own_metal": None})
    assert said in _joining_caution(job, {joined})


def test_a_flange_too_short_is_shown_at_the_middle_of_its_line(rack):
    job = Job(
        part=Strip(length=100, legs=(60, 3), angles=(90,)), metal="mild-steel", thickness="1 mm"
    )
    brake = rack["apiary-finger-50"]
    blank = flat_for(job, brake)
    (found,) = short_legs(blank, brake, job.units, brake.least_flange)
    fold = blank.folds[0]
    assert found.where == pytest.approx((fold.start + fold.end) / 2)
