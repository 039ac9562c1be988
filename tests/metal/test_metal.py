import math

import pytest

from zealous_crane.metal.gauge import gauge_table
from zealous_crane.metal.material import MATERIALS, material
from zealous_crane.metal.sheet import Sheet
from zealous_crane.metal.springback import elastic_springback, overbend
from zealous_crane.units.length import INCH, Units


def test_steel_gauges_weigh_what_the_standard_says():
    # Manufacturers' Standard Gauge: ounces per square foot at 41.82 lb per square foot per inch
    # (published standard).
    ounces = {
        8: 110,
        10: 90,
        11: 80,
        12: 70,
        14: 50,
        16: 40,
        18: 32,
        20: 24,
        22: 20,
        24: 16,
        26: 12,
        28: 10,
        30: 8,
    }
    for gauge, weight in ounces.items():
        assert gauge_table("steel").inches[gauge] == pytest.approx(weight / 16 / 41.82, abs=6e-5), (
            gauge
        )


def test_galvanized_gauges_are_the_steel_and_its_zinc():
    # Galvanized sheet weighs 2.5 oz per square foot more than the black sheet of its number
    # (published practice, from memory).
    for gauge in range(10, 31):
        difference = gauge_table("galvanized").inches[gauge] - gauge_table("steel").inches[gauge]
        assert difference == pytest.approx(2.5 / 16 / 41.82, abs=1.1e-4), gauge


def test_stainless_gauges_follow_the_old_standard():
    # United States Standard Gauge: ounces per square foot over 640 per inch (published, from
    # memory).
    for gauge, weight in {
        10: 90,
        12: 70,
        14: 50,
        16: 40,
        18: 32,
        20: 24,
        22: 20,
        24: 16,
        26: 12,
        28: 10,
        30: 8,
    }.items():
        assert gauge_table("stainless").inches[gauge] == pytest.approx(weight / 640, abs=1e-4), (
            gauge
        )


def test_brown_and_sharpe_gauges_match_the_wire_table():
    # American wire gauge diameters, ASTM B258 table, from memory.
    wire = {
        2: 0.2576,
        6: 0.1620,
        10: 0.1019,
        12: 0.0808,
        14: 0.0641,
        16: 0.0508,
        18: 0.0403,
        20: 0.0320,
        22: 0.0253,
        24: 0.0201,
    }
    for gauge, inches in wire.items():
        assert gauge_table("brown-sharpe").inches[gauge] == pytest.approx(inches, abs=1e-4), gauge


def test_the_same_number_is_four_thicknesses():
    assert (
        len(
            {
                round(gauge_table(n).thickness(20), 3)
                for n in ("steel", "galvanized", "stainless", "brown-sharpe")
            }
        )
        == 4
    )
    assert gauge_table("steel").nearest(0.91) == 20


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("22 ga", 0.0336 * INCH),
        ("#22", 0.0336 * INCH),
        ("22gauge", 0.0336 * INCH),
        ("0.8 mm", 0.8),
        ("0.030", 0.762),
        ("22", 0.0336 * INCH),
        ("18ga", 0.0516 * INCH),
        ("18 ga galv", 0.0516 * INCH),
        ("18 GA. Galvanized", 0.0516 * INCH),
    ],
)
def test_thickness_as_written(text, mm):
    assert Sheet.read(material("galvanized"), text).thickness == pytest.approx(mm)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("99 ga", "not in the galvanized"),
        ("tin", "could not be read"),
        ("18 ga stainless", "Choose the metal, or write 18 ga"),
        ("18 ga cheese", "could not be read"),
        ("0 mm", "run from"),
        ("2 in", "run from"),
    ],
)
def test_a_wrong_thickness_is_answered(text, said):
    with pytest.raises(ValueError, match=said):
        Sheet.read(material("galvanized"), text)


def test_an_unknown_metal_lists_the_known():
    with pytest.raises(ValueError, match="mild-steel"):
        material("unobtainium")


def test_stronger_metal_is_allowed_thinner():
    # A brake rated 16 gauge takes 0.060" mild steel and so much less of a stronger metal. Common
    # practice, no source.
    assert Sheet.read(material("mild-steel"), "16 ga").allowed_by(1.52) == pytest.approx(1.52)
    assert Sheet.read(material("stainless"), "16 ga").allowed_by(1.52) == pytest.approx(
        1.52 * math.sqrt(380 / 620)
    )
    assert Sheet.read(material("aluminium-soft"), "16 ga").allowed_by(1.52) > 2.3


def test_springback_grows_with_radius_and_yield():
    soft, hard = (Sheet.read(material(m), "1 mm", Units.MM) for m in ("copper", "stainless"))
    assert (
        elastic_springback(soft, 90, 2)
        < elastic_springback(hard, 90, 2)
        < elastic_springback(hard, 90, 20)
    )
    assert elastic_springback(hard, 90, 0) == 0


def test_springback_of_a_worked_case():
    # Ri/Rf = 4x³ − 3x + 1: x = 10·290/(193000·1) = 0.015026; Ri/Rf = 0.954936; Rf = 10.47190; θ
    # ratio (2·Rf+1)/(2·Ri+1).
    sheet = Sheet.read(material("stainless"), "1 mm", Units.MM)
    assert elastic_springback(sheet, 90, 10) == pytest.approx(
        90 * ((2 * 10.4719 + 1) / 21 - 1), abs=1e-3
    )


def test_a_measured_springback_wins():
    sheet = Sheet.read(MATERIALS["galvanized"], "22 ga")
    assert overbend(sheet, 45, 0, closing=True, measured=6).angle == 3
    assert overbend(sheet, 90, 0, closing=False).angle == 2
    assert overbend(sheet, 90, 0, closing=True).angle == 5
    assert "measured" in str(overbend(sheet, 90, 0, closing=True, measured=6).why)


def test_imperial_wire_gauge_and_copper_by_weight():
    # BS 3737 for the gauge; 16 oz copper is 0.0216 in, 20 oz 0.0270, 32 oz 0.0431 in the copper
    # trade's tables: from memory.
    steel, copper = material("mild-steel"), material("copper")
    assert Sheet.read(steel, "16 swg").thickness == pytest.approx(0.064 * INCH)
    assert Sheet.read(steel, "20SWG").thickness == pytest.approx(0.036 * INCH)
    for ounces, inches in ((16, 0.0216), (20, 0.0270), (24, 0.0323), (32, 0.0431)):
        assert Sheet.read(copper, f"{ounces} oz").thickness == pytest.approx(
            inches * INCH, abs=0.006
        )
    with pytest.raises(ValueError, match="not in the imperial standard wire gauge"):
        Sheet.read(steel, "2 swg")


def test_what_shops_buy_is_there_and_in_order():
    wanted = {
        "mild-steel",
        "hot-rolled",
        "galvanized",
        "galvannealed",
        "stainless",
        "stainless-316",
        "stainless-430",
        "aluminium-1100",
        "aluminium-soft",
        "aluminium-5005",
        "aluminium-5052",
        "aluminium-6061",
        "aluminium-2024",
        "copper",
        "copper-half-hard",
        "brass",
    }
    assert wanted == set(MATERIALS)
    # Sense of the figures: yields below strength, hard alloys want rounder bends and spring back
    # more than soft ones.
    for metal in MATERIALS.values():
        assert metal.yield_strength < metal.tensile and 0.1 <= metal.air_share <= 0.25
    hard, soft = MATERIALS["aluminium-2024"], MATERIALS["aluminium-1100"]
    assert (
        hard.least_radius
        > MATERIALS["aluminium-6061"].least_radius
        > MATERIALS["aluminium-5052"].least_radius
        > soft.least_radius
    )
    assert hard.air_springback > soft.air_springback


def test_a_bare_number_in_millimetres_is_plate_or_gauge_or_asked_about():
    metal = material("mild-steel")
    assert Sheet.read(metal, "26", Units.MM).thickness == pytest.approx(0.0179 * INCH)
    assert Sheet.read(metal, "3", Units.MM).thickness == 3.0
    with pytest.raises(ValueError, match=r"could be 22 ga \(0.76 mm\) or plate of 22 mm"):
        Sheet.read(metal, "22", Units.MM)
