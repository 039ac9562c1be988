"""Limits from both sides and figures a person reads, worked out by hand: each was once changed by a
small fault that no other test saw."""

import math
from types import SimpleNamespace

import pytest
from pydantic import ValidationError

from shared_plans import plan_of
from zealous_crane.brake.hand_folder import HandFolder
from zealous_crane.brake.tools import Punch
from zealous_crane.cutting.layout import ShearCut, running_order
from zealous_crane.cutting.piece import CutFrom
from zealous_crane.cutting.summary import lots, sheet_title, worked_out
from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.joining import SOLID_SHANK, rivet_hole, screw_hole
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.on_brake import tool_radius
from zealous_crane.inspection.assembly_fit import folded_solids
from zealous_crane.inspection.measures import measures_of
from zealous_crane.inspection.model import Cause, Model, Off
from zealous_crane.io.atomic import FileError, shown, write_atomically
from zealous_crane.io.formats import Subject
from zealous_crane.io.job_file import JobFileError, read_job
from zealous_crane.io.plan_file import blank_record
from zealous_crane.job.job import Job
from zealous_crane.job.tools import ToolWishes
from zealous_crane.metal.shop_table import TestStrip
from zealous_crane.part.kinds.strip import Plate
from zealous_crane.planning.remedies.trial import Trial
from zealous_crane.planning.setup import set_up_of
from zealous_crane.shop.book.record import BendRecord, StripRecord
from zealous_crane.shop.book.store import words_of
from zealous_crane.shop.deduction import learn_k
from zealous_crane.shop.hierarchical_fit import BendContext
from zealous_crane.shop.safety_notes import cautions_for
from zealous_crane.units.length import INCH, Units, show_length

# --- allowance -----------------------------------------------------------------------------------


def strip_of(k, t=2.0, r=2.0):
    """Legs of a strip of 90° with a K of our choosing: flat = legs − 2 (r + t) + π/2 (r + K·t)."""
    flat = 30.0 + 40.0 - 2 * (r + t) + math.pi / 2 * (r + k * t)
    return {"length": flat, "first": 30.0, "second": 40.0, "thickness": t, "radius": r}


@pytest.mark.parametrize(
    ("k", "good"),
    [(0.001, True), (0.44, True), (0.6, True), (0.604, True), (0.61, False), (-0.02, False)],
)
def test_a_strip_shows_a_k_between_none_and_six_tenths(k, good):
    if good:
        assert TestStrip(**strip_of(k)).bend.k_factor == pytest.approx(k, abs=1e-9)
    else:
        with pytest.raises(ValidationError):
            TestStrip(**strip_of(k))


# --- blank --------------------------------------------------------------------------------------


def test_screws_and_rivets_have_the_holes_of_the_tables():
    """Tapping screws: DIN 7975 for thin sheet; rivets: drill 30 for 1/8 in, a tenth over in mm (ISO
    15977); both from memory."""
    assert [screw_hole(size, bites=True) for size in (2.9, 3.5, 3.9, 4.2, 4.8)] == [
        2.3,
        2.8,
        3.1,
        3.3,
        3.8,
    ]
    assert screw_hole(3.5, bites=False) == pytest.approx(3.85)
    assert rivet_hole(INCH / 8) == pytest.approx(0.1285 * INCH) and rivet_hole(
        3.2
    ) == pytest.approx(3.3)


def test_a_solid_rivet_is_its_grip_and_one_and_a_half_diameters():
    seen = 0
    for name in DEMOS:
        for job in demo_work(name).parts:
            blank = develop(job)
            for row in blank.rows:
                if row.by.value == "rivet":
                    wanted = show_length(row.grip + 1.5 * row.size, job.units.fine, pretty=True)
                    assert any(
                        f"a solid one is {wanted} long" in step
                        for step in mark_out(blank, job.units).steps
                    )
                    seen += 1
    assert seen and SOLID_SHANK == 1.5


# --- brake --------------------------------------------------------------------------------------


@pytest.mark.parametrize(("nose", "good"), [(14.9, True), (15.1, False), (19.0, False)])
def test_a_bar_is_not_rounder_than_it_is_thick_either_way(nose, good):
    fields = {
        "key": "x",
        "name": "x",
        "bed_length": 600.0,
        "rated": 1.0,
        "bar_height": 30.0,
        "bar_depth": 40.0,
        "nose_radius": nose,
    }
    if good:
        assert HandFolder(**fields).nose_radius == nose
    else:
        with pytest.raises(ValidationError, match="rounder"):
            HandFolder(**fields)


def test_corners_drawn_twice_are_one_and_all_others_stay():
    """Twice at the same place, or nearer than anybody files; high up as well as at the foot."""
    ring = [
        (0.0, 0.0),
        (0.0, 0.001),
        (8.0, 10.0),
        (8.0, 40.0),
        (8.004, 40.003),
        (-8.0, 40.0),
        (-8.0, 10.0),
        (0.0, 0.0),
    ]
    punch = Punch(name="bar", style="straight", angle=80.0, radius=0.5, outline=ring, limit=500.0)
    assert set(punch.outline) == {(0.0, 0.0), (8.0, 10.0), (8.0, 40.0), (-8.0, 40.0), (-8.0, 10.0)}


def test_no_tool_for_a_sheet_leaves_the_radius_to_the_school_whatever_one_fold_asks_for():
    job = demo_job("frame-rail")
    fold = develop(job).folds[0].name
    asked = job.model_copy(
        update={"tools": ToolWishes(brake=job.brake).choosing(job.brake, "die", "V 3/8", fold)}
    )
    assert asked.tools.of(job.brake).at
    nothing = SimpleNamespace(key=job.brake, radius=lambda *_, **__: None)
    assert tool_radius(asked, nothing) is None and tool_radius(job, nothing) is None


# --- cut ----------------------------------------------------------------------------------------


def plate(length, width, **fields):
    return Job.model_validate(
        {
            "name": "plate",
            "part": Plate(length=length, width=width).model_dump(),
            "metal": "mild-steel",
            "thickness": "1 mm",
            "units": "mm",
            **fields,
        }
    )


def test_a_square_metre_of_a_millimetre_of_steel_weighs_what_the_tables_say(rack):
    """7.85 kg, EN 10029 and every table of sheet."""
    (lot,) = lots([plate(500, 300)], rack)
    assert lot.mass_of(1e6) == pytest.approx(7.85, rel=0.005)
    assert lot.weight == pytest.approx(0.5 * 0.3 * 7.85, rel=0.005)


@pytest.mark.parametrize(
    ("thickness", "rated", "cut"),
    [("1.5 mm", 1.5, True), ("1.51 mm", 1.5, False), ("2 mm", 1.5, False)],
)
def test_a_shear_cuts_what_it_is_rated_for_and_no_more(rack, thickness, rated, cut):
    (told,) = worked_out(
        [plate(500, 300, thickness=thickness)], rack, CutFrom(rated=rated), Units.MM, 0.0
    )
    assert bool(told.cannot) is not cut


def test_a_shear_rated_by_a_gauge_names_just_that_gauge(rack):
    """0.0598 in is 16 ga of steel (Manufacturers' Standard Gauge): it goes, the next thicker does
    not."""
    (told,) = worked_out(
        [plate(500, 300, thickness="14 ga")],
        rack,
        CutFrom(rated=0.0598 * INCH),
        Units.FRACTIONS,
        0.0,
    )
    assert told.cannot and "16 ga goes" in told.says


@pytest.mark.parametrize(("width", "warned"), [(50.0, True), (51.0, False)])
def test_strips_narrower_than_two_hold_downs_are_warned_of(rack, width, warned):
    (told,) = worked_out([plate(500, width)], rack, CutFrom(least_strip=25.4), Units.MM, 0.0)
    assert any("Narrow strips twist" in str(care) for care in told.care) is warned


def test_a_setting_waits_until_all_that_is_cut_at_it_is_there():
    """Two strips of one width, of which one is freed by a crosscut: the crosscut first, and the
    stop is set for the strips once."""
    rip, freed = (
        ShearCut("rip", 100.0, 500.0, 1, "sheet", "strip"),
        ShearCut("rip", 100.0, 300.0, 1, "rest", "strip", after=(1,)),
    )
    across = ShearCut("across", 250.0, 400.0, 1, "sheet", "rest")
    order = running_order([SimpleNamespace(cuts=(rip, across, freed), alike=3)])
    assert [(one.what, one.gauge, one.times) for one in order] == [
        ("across", 250.0, 3),
        ("rip", 100.0, 6),
    ]
    # What is there at once follows as cuts commonly do: rips, wide ones first, before crosscuts.
    wide = ShearCut("rip", 140.0, 500.0, 2, "sheet", "strip")
    order = running_order([SimpleNamespace(cuts=(across, rip, wide), alike=1)])
    assert [(one.what, one.gauge, one.times) for one in order] == [
        ("rip", 140.0, 2),
        ("rip", 100.0, 1),
        ("across", 250.0, 1),
    ]


# --- files --------------------------------------------------------------------------------------


def test_what_could_not_be_written_or_read_says_why_in_words(tmp_path):
    with pytest.raises(FileError) as missing:
        write_atomically(tmp_path / "no" / "job.json", b"")
    assert "No such file or directory" in str(missing.value) and "Errno" not in str(missing.value)
    with pytest.raises(FileError, match="null"):
        write_atomically(tmp_path / "a\x00b", b"")
    with pytest.raises(JobFileError) as unread:
        read_job(tmp_path / "no.json")
    assert "No such file" in str(unread.value) and "Errno" not in str(unread.value)


def test_a_path_is_shown_whole_or_its_end():
    assert shown("/home/a/job.crane") == "/home/a/job.crane"
    long = "/" + "x" * 100 + "/job.crane"
    assert (
        shown(long).startswith("…")
        and shown(long).endswith("/job.crane")
        and len(shown(long)) == 80
    )
    assert shown("/" + "x" * 79) == "/" + "x" * 79


# --- plan ---------------------------------------------------------------------------------------


def test_folds_of_a_stroke_run_as_long_as_they_are(rack):
    for name in ("deep-feeder", "frame-rail", "inspection-tray"):
        job = demo_job(name)
        plan = plan_of(job, rack[job.brake])
        for stroke in plan.strokes:
            setting = stroke.verdict.stroke.setting
            lengths = sorted(high - low for low, high in setting.fold_ranges)
            assert lengths == pytest.approx(
                sorted(plan.blank.folds[i].length for i in setting.folds)
            )


def test_what_a_cure_brings_is_said_of_what_was_wrong():
    def gain(feasible, by_seamer=()):
        return Trial(SimpleNamespace(feasible=feasible, by_seamer=by_seamer)).gain

    assert (
        str(gain(False)) == "it can be made" and str(gain(True)) == "every bend reaches its angle"
    )
    assert str(gain(True, ("lip",))) == "nothing is left to finish by hand"


def test_what_lies_hemmed_under_a_bar_is_packed_and_said(rack):
    brake = rack["bench-bars-600"]
    plan = plan_of(
        demo_work("wax-melter-chimney").parts[1].model_copy(update={"brake": brake.key}), brake
    )
    packed = [s for s in plan.strokes if set_up_of(plan, s).machine.packing.thickness]
    assert len(packed) == 3
    for stroke in plan.strokes:
        said = set_up_of(plan, stroke).machine.hold("base", Units.MM)
        assert said.startswith("Clamp the base") and (" Lay " in said) is (stroke in packed)


# --- shop ---------------------------------------------------------------------------------------


@pytest.mark.parametrize(("length", "two"), [(1790, False), (1810, True)])
def test_a_sheet_longer_than_a_man_is_held_by_two(rack, length, two):
    """By its longer side: a narrow strip whips too. 1 800 mm is common practice, no source."""
    part = {**demo_job("hive-stand-angle").part.model_dump(), "length": length}
    job = Job.model_validate(
        {
            **demo_job("hive-stand-angle").model_dump(),
            "part": part,
            "brake": "honey-press-2000",
            "thickness": "20 ga",
        }
    )
    plan = plan_of(job, rack["honey-press-2000"])
    assert plan.strokes and any("Two people" in str(c.text) for c in cautions_for(plan)) is two


def test_the_radius_learnt_is_that_of_the_strips_it_was_learnt_from():
    def strip(metal, radius, k=0.42, t=1.5):
        legs = strip_of(k, t, radius)
        return StripRecord(
            metal=metal,
            thickness=t,
            machine="m",
            width=50,
            flat=legs["length"],
            line=30,
            leg_one=30,
            leg_two=40,
            angle=90,
            stop=92,
            radius=radius,
        )

    strips = [strip("mild-steel", 2.0) for _ in range(3)] + [strip("brass", 5.0) for _ in range(6)]
    found = learn_k(strips, BendContext("mild-steel", 1.5, "m"), lambda _: 0.44)
    assert found.radius == pytest.approx(2.0) and found.mean == pytest.approx(0.42, abs=0.01)


def test_a_record_is_found_by_its_words_not_by_its_figures():
    words = words_of(
        BendRecord(
            job="Hive roof",
            metal="brass",
            thickness=1.25,
            machine="m",
            stroke="Front wall",
            angle=90,
            stop=92,
            got=88,
        )
    )
    assert (
        "hive roof" in words
        and "front wall" in words
        and not any(figure in words for figure in ("1.25", "88", "none", "false"))
    )


def test_a_reading_corrected_or_taken_back_leaves_the_hits_before_it():
    first = BendRecord(
        job="j",
        metal="mild-steel",
        thickness=1.0,
        machine="m",
        stroke="front wall",
        angle=90,
        stop=92,
        got=88,
    )
    twice = first.with_hit(type(first.every_hit[0])(94.0, 90.0, 90.0))
    assert [hit.got for hit in twice.every_hit] == [88, 90]
    assert [hit.got for hit in twice.corrected(91).every_hit] == [88, 91] and twice.corrected(
        91
    ).got == 91
    assert twice.corrected(None).got is None and [
        hit.got for hit in twice.corrected(None).every_hit
    ] == [88]
    assert first.corrected(None).every_hit == ()


def test_panels_and_bends_of_a_folded_part_are_told_apart_by_their_numbers():
    for name in ("deep-feeder", "comb-box"):
        blank = develop(demo_job(name))
        solids = folded_solids(blank)
        panels = {solid.panel for solid in solids if solid.panel >= 0}
        bends = {solid.panel for solid in solids if solid.panel < 0}
        assert panels == set(range(len(blank.panels))) and bends == {
            -1 - i for i in range(len(blank.folds))
        }


def test_a_row_says_in_the_plan_which_panel_is_behind_it():
    seen = set()
    for name in DEMOS:
        for job in demo_work(name).parts:
            blank = develop(job)
            for row, told in zip(blank.rows, blank_record(blank, job)["rows"], strict=True):
                assert told["through"] == (row.through or None)
                seen.add(bool(row.through))
    assert True in seen


def test_sheets_are_counted_from_one():
    sheet = SimpleNamespace(
        alike=1, stock=SimpleNamespace(name="sheet", length=2000.0, width=1000.0)
    )
    lot = SimpleNamespace(sheets=(sheet, sheet))
    assert [sheet_title(lot, number, Units.MM)[:8] for number in (0, 1)] == ["Sheet 1:", "Sheet 2:"]


def test_a_bend_off_by_its_allowance_is_so_in_proportion_up_to_a_right_angle():
    """The line stays where it was struck, so a leg is shorter by half of what the bend takes more:
    at 45° half as much as at 90°, and at 120° no more.
    """
    for angle, share in ((45.0, 0.5), (90.0, 1.0), (120.0, 1.0)):
        part = {"kind": "single-bend", "first": 60, "second": 60, "length": 80, "angle": angle}
        job = Job.model_validate(
            {
                "name": "bend",
                "part": part,
                "metal": "mild-steel",
                "thickness": "1 mm",
                "units": "mm",
            }
        )
        blank = develop(job)
        leg = tuple(m for m in measures_of(blank) if m.key.startswith("leg:"))
        model = Model(blank)
        moved = model.values(leg, {Cause(Off.ALLOWANCE): 0.2}) - model.values(leg, {})
        assert moved == pytest.approx([-0.1 * share])


def test_drawings_are_in_the_jobs_units_where_nothing_else_is_said():
    blank = develop(demo_job("syrup-tray"))
    for units, inches in ((Units.FRACTIONS, True), (Units.DECIMAL, True), (Units.MM, False)):
        job = demo_job("syrup-tray").model_copy(update={"units": units})
        assert Subject(job, blank).in_inches is inches
        assert (
            Subject(job, blank, inches=True).in_inches
            and not Subject(job, blank, inches=False).in_inches
        )
