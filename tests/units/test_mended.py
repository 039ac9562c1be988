"""Lengths, gauges and texts that were read wrongly once, each with what a hand means by it."""

from __future__ import annotations

import re

import pytest

from zealous_crane.job.job import Job
from zealous_crane.metal.allowance import Din6935, InsideGain, NeutralLine, OnTheLine
from zealous_crane.metal.material import MATERIALS
from zealous_crane.metal.sheet import Sheet
from zealous_crane.metal.springback import overbend
from zealous_crane.part.design import Design
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.schema.reading import parse_json
from zealous_crane.units.length import INCH, LengthError, Units, parse_length
from zealous_crane.units.quantities import Tonnage, say_forces_in, show_force


def test_a_raised_fraction_after_a_whole_number():
    assert parse_length("8³⁄₈") == pytest.approx(8.375 * INCH)
    assert parse_length("³⁄₈") == pytest.approx(0.375 * INCH)


@pytest.mark.parametrize("text", ["1,500", "1,200 mm", "12,345,678"])
def test_a_comma_before_three_figures_is_asked_about(text):
    with pytest.raises(LengthError, match="without the comma"):
        parse_length(text, Units.MM)
    assert parse_length("21,6 cm") == pytest.approx(216) and parse_length("1,5", Units.MM) == 1.5


def test_a_bare_decimal_thickness_in_an_inch_job_is_asked_about():
    steel = MATERIALS["mild-steel"]
    with pytest.raises(ValueError, match=r"0\.8 mm or 0\.8 inch"):
        Sheet.read(steel, "0.8", Units.FRACTIONS)
    assert Sheet.read(steel, "0.030", Units.FRACTIONS).thickness == pytest.approx(0.762)
    assert Sheet.read(steel, "0.8", Units.MM).thickness == 0.8


def test_true_is_no_length_and_no_key_stands_twice():
    with pytest.raises(ValueError, match="true is no number"):
        OpenBox.model_validate({"length": True, "width": 100, "depth": 20})
    with pytest.raises(ValueError, match="twice"):
        parse_json('{"a": 1, "a": 2}')


@pytest.mark.parametrize("name", ["a\nb", "a\r0\nLINE", "\x1b[2J", "a\u2028b"])
def test_a_name_is_one_line_of_what_can_be_printed(name):
    with pytest.raises(ValueError, match="one line"):
        Job(name=name, part=OpenBox(length=100, width=100, depth=20))
    with pytest.raises(ValueError, match="one line"):
        Design.model_validate(
            {
                "base": {"length": 9, "width": 9},
                "flanges": [{"kind": "flange", "edge": "front", "height": 9, "name": name}],
            }
        )


def test_a_closed_hem_takes_off_its_rule():
    # 0.43 T off a hem pressed flat: common practice, no source.
    for school in (Din6935(), InsideGain()):
        assert school.bend(180, 0.0, 1.0).deduction == pytest.approx(0.43)


def test_twenty_gauge_galvanized_is_twenty_gauge():
    sheet = Sheet.read(MATERIALS["galvanized"], "20 ga")
    assert OnTheLine().doubt(90, 0, sheet.thickness) is None
    said = OnTheLine().doubt(90, 0, 1.6)
    assert said is not None and "smaller" in said and "larger" not in said


def test_the_least_radius_grows_with_the_thickness_and_along_the_grain():
    thin, thick = (
        Sheet.read(MATERIALS["aluminium-5052"], text, Units.MM) for text in ("2 mm", "4 mm")
    )
    assert thin.least_radius == pytest.approx(2) and thick.least_radius == pytest.approx(6)
    assert Sheet.read(MATERIALS["mild-steel"], "6 mm", Units.MM).least_radius == pytest.approx(6)
    assert thick.least_radius_along > thick.least_radius


def test_usual_k_goes_from_a_third_to_a_half():
    ks = [NeutralLine(k=None).place(r, 1.0) for r in (0.0, 0.5, 1.0, 3.0, 10.0, 50.0)]
    assert ks == sorted(ks) and ks[0] == pytest.approx(0.33) and ks[-1] == pytest.approx(0.5)


@pytest.mark.parametrize(
    ("metal", "low", "high"),
    [
        ("mild-steel", 0.8, 1.3),
        ("aluminium-soft", 1.5, 2.0),
        ("aluminium-5052", 2, 5),
        ("stainless", 2, 5),
    ],
)
def test_over_bend_on_a_press_is_the_metals(metal, low, high):
    # Ranges of common practice, from memory: 1°; 1.5 to 2; 2 to 5.
    sheet = Sheet.read(MATERIALS[metal], "2 mm", Units.MM)
    found = overbend(sheet, 90, 2.0, closing=True, press=True)
    assert low <= found.angle <= high and "typical, not checked" in str(found.why)
    assert overbend(sheet, 90, 20.0, closing=False, press=True).angle > found.angle, (
        "rounder opens more"
    )
    assert found.bottomed.angle == pytest.approx(found.angle / 4)


def test_forces_in_the_units_of_the_job():
    assert (
        show_force(88.96443, Units.FRACTIONS) == "10 tons (89 kN)"
        and show_force(98.0665, Units.MM) == "98 kN (10 t)"
    )


def test_a_shop_says_its_forces_as_its_press_is_rated():
    said = {
        Tonnage.SHORT: "11 tons (98 kN)",
        Tonnage.METRIC: "10 t (98 kN)",
        Tonnage.KILONEWTONS: "98 kN (10 t)",
    }
    try:
        for tonnage, text in said.items():
            say_forces_in(tonnage)
            assert show_force(98.0665, Units.MM) == text
        assert show_force(98.0665, Units.FRACTIONS) == "98 kN (11 tons)"
    finally:
        say_forces_in(Tonnage.BY_UNITS)


@pytest.mark.parametrize("units", ["in", "in-decimal", "mm"])
def test_no_sentence_of_an_inch_job_speaks_millimetres(units):
    """Findings, steps, refusals and cautions of the demonstrations and of what is refused, in the
    units of the job."""
    from zealous_crane.brake.library import shipped_rack
    from zealous_crane.demo import DEMOS, demo_work
    from zealous_crane.flat.development import develop
    from zealous_crane.flat.marking import mark_out
    from zealous_crane.job.job import Job
    from zealous_crane.part.kinds.box import OpenBox
    from zealous_crane.planning.planner import make_plan
    from zealous_crane.planning.route import Moves

    rack, said = shipped_rack(), []
    jobs = [part for name in DEMOS for part in demo_work(name).parts]
    long = OpenBox(length=3000, width=400, depth=40)
    narrow, plate = (
        OpenBox(length=300, width=200, depth=6),
        OpenBox(length=300, width=200, depth=60),
    )
    jobs += [
        Job(part=part, metal="mild-steel", thickness=t, brake=brake)
        for part, t, brake in (
            (long, "1 mm", "bench-finger-1000"),
            (long, "1 mm", "honey-press-2000"),
            (narrow, "3 mm", "honey-press-2000"),
            (plate, "6 mm", "bench-finger-1000"),
            (plate, "12 mm", "shed-press-31"),
        )
    ]
    for one in jobs:
        job = Job.model_validate({**one.model_dump(), "units": units, "thickness": one.thickness})
        blank = develop(job)
        said += [str(finding.says) for finding in blank.findings] + list(
            mark_out(blank, job.units).steps
        )
        said += [str(sum_.rule) for sum_ in blank.sums]
        plan = make_plan(job, rack[job.brake], moves=Moves(), limit=3)
        # A sheet is called as it was written.
        said += [
            sentence.replace(blank.sheet.name, "") for sentence in (plan.sentence, *plan.reasons)
        ]
    assert len(said) > 300
    wrong = "mm" if units != "mm" else '"'
    # A press marks its dies in its own units, whatever the job is in.
    assert not [s for s in said if re.search(rf"\d ?{wrong}(?![a-z])", s) and "needs a V" not in s]
