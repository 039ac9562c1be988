"""The schools against what is published, and against each other."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zealous_crane.metal.allowance import (
    SCHOOLS,
    Din6935,
    FaaHandbook,
    Handbook90,
    InsideGain,
    NeutralLine,
    OnTheLine,
    side_by_side,
)
from zealous_crane.metal.shop_table import ShopTable, TestStrip


@pytest.mark.parametrize(
    ("thickness", "radius", "value"), [(1, 1, -1.9), (2, 2.5, -4.0), (3, 3, -5.8), (1, 10, -4.7)]
)
def test_din_compensation_value_at_90(thickness, radius, value):
    # DIN 6935, compensation value v for β = 90°, to a tenth of a mm as the standard's supplement
    # tabulates it; from memory. The last has r/s > 5, so k = 1: π/2·10.5 − 22 = −5.51 by the
    # formula.
    bend = Din6935().bend(90, radius, thickness)
    if radius / thickness > 5:
        value = math.pi / 2 * (radius + thickness / 2) - 2 * (radius + thickness)
    assert -bend.deduction == pytest.approx(value, abs=0.06)


def by_the_standard(beta, r, s):
    """v as DIN 6935 writes it, in its own terms: opening angle β, factor k, three ranges. From
    memory."""
    k = min(1.0, 0.65 + 0.5 * math.log10(r / s))
    if beta <= 90:
        return math.pi * (180 - beta) / 180 * (r + s / 2 * k) - 2 * (r + s)
    if beta <= 165:
        return math.pi * (180 - beta) / 180 * (r + s / 2 * k) - 2 * (r + s) * math.tan(
            math.radians(180 - beta) / 2
        )
    return 0.0


@given(st.floats(31, 179), st.floats(0.3, 20), st.floats(0.5, 4))
def test_din_in_all_its_ranges(beta, radius, thickness):
    radius = max(radius, 0.1 * thickness)
    bend = Din6935().bend(180 - beta, radius, thickness)
    v = by_the_standard(beta, radius, thickness)
    if beta > 90:
        assert -bend.deduction == pytest.approx(v, abs=1e-9)
    else:
        # Up to 90° the standard measures the legs to the tangent of the outer arc: L = a + b + v.
        assert bend.allowance - 2 * (radius + thickness) == pytest.approx(v, abs=1e-9)


def test_din_factor():
    # k = 0.65 + ½·lg(r/s): 0.65 at r = s, 1 from r/s = 5 on (0.9995 by the formula); from memory.
    assert Din6935.factor(1, 1) == pytest.approx(0.65)
    assert Din6935.factor(5.02, 1) == 1.0 and Din6935.factor(50, 1) == 1.0
    assert Din6935.factor(0, 1) == 0.0
    assert Din6935().doubt(90, 0, 1) and not Din6935().doubt(90, 1, 1)


@pytest.mark.parametrize(("form", "share"), [("soft", 0.55), ("medium", 0.64), ("hard", 0.71)])
def test_handbook_90_degree_forms(form, share):
    # Machinery's Handbook: L = 0.55 T + 1.57 R soft brass and copper, 0.64 T + 1.57 R half-hard
    # copper and brass, soft steel, aluminium, 0.71 T + 1.57 R bronze, hard copper, cold-rolled and
    # spring steel; from memory.
    bend = Handbook90(form=form).bend(90, 3.0, 1.5)
    assert bend.allowance == pytest.approx(1.57 * 3 + share * 1.5)
    assert Handbook90(form=form).bend(45, 3.0, 1.5).allowance == pytest.approx(bend.allowance / 2)
    assert Handbook90().doubt(45, 3, 1.5) and not Handbook90().doubt(90, 3, 1.5)


def test_faa_setback_table_at_90():
    # FAA-H-8083-31: setback SB = K (R + T) with K = tan(θ/2), 1 at 90°, 0.57735 at 60°, 1.7320 at
    # 120°. From memory.
    for angle, k in ((90, 1.0), (60, 0.57735), (120, 1.7320)):
        assert FaaHandbook().bend(angle, 3.0, 1.0).outside_setback == pytest.approx(
            4.0 * k, abs=1e-3
        )


def test_eighth_plate_grows_a_sixteenth():
    # 1/8" plate bottomed on a shop press grows about 1/16" a bend past the inside mark. Common
    # practice, no source.
    bend = InsideGain().bend(90, 3.175, 3.175)
    assert bend.gain == pytest.approx(25.4 / 16)
    assert InsideGain(gain="1/32 in").bend(90, 3, 3.2).gain == pytest.approx(25.4 / 32)


def test_hems_are_laid_out_to_their_folded_edge():
    # On the line a hem of h adds h to the flat. Common practice, no source.
    for angle in (180.0, 175.0):
        assert OnTheLine().bend(angle, 0.1, 0.8).gain == pytest.approx(0)
    closed = NeutralLine(k=0.44).bend(180, 0, 1.0)
    # π·K·T of arc less two thicknesses of outer face.
    assert closed.gain == pytest.approx(math.pi * 0.44 - 2)
    assert OnTheLine().bend(270, 2, 1).allowance == pytest.approx(1.5 * math.pi * 2.44)


@pytest.mark.parametrize("school", [OnTheLine(), InsideGain(), InsideGain(gain=0.8)])
def test_what_keeps_a_radius_takes_its_arc(school):
    # An open hem 6 mm apart in 0.5 mm sheet, a teardrop and an edge rolled about 5 mm: the length
    # of the fibre at 0.44 T, by geometry.
    for angle, radius in ((180.0, 3.0), (210.0, 2.0), (270.0, 5.0)):
        assert school.bend(angle, radius, 0.5).allowance == pytest.approx(
            angle * math.pi / 180 * (radius + 0.22)
        )


def test_a_rule_of_thumb_gives_way_where_a_bend_is_round():
    # 0.85 mm sheet at 6.35 mm inside radius, 90°: pi/2 (6.35 + 0.44 x 0.85) = 10.56 of metal, where
    # the rule would take 12.7.
    bend = OnTheLine().bend(90, 6.35, 0.85)
    assert bend.allowance == pytest.approx(10.562, abs=0.001) and "neutral line" in (
        OnTheLine().doubt(90, 6.35, 0.85) or ""
    )
    # At 135° and 4 mm the inside tangents alone are 19.3 long, the arc of the middle of the sheet
    # 10.0.
    assert OnTheLine().bend(135, 4, 0.5).allowance == pytest.approx(2.3562 * 4.22, abs=0.001)
    # Sharp folds go by the rule.
    for angle in (30, 90, 135):
        assert (
            OnTheLine().bend(angle, 0.2, 0.8).gain == pytest.approx(0)
            and OnTheLine().doubt(angle, 0.2, 0.8) is None
        )
    # A gain of 1/32 in a sharp fold of plate stays what it is; the bend at three thicknesses takes
    # the same neutral line.
    plate = InsideGain(gain=25.4 / 32)
    assert (
        plate.bend(90, 3.175, 3.175).gain == pytest.approx(25.4 / 32)
        and plate.doubt(90, 3.175, 3.175) is None
    )
    k = plate.bend(90, 3.175, 3.175).k_factor
    assert (
        plate.bend(90, 9.5, 3.175).k_factor == pytest.approx(k)
        and plate.doubt(90, 9.5, 3.175) is not None
    )


BENDS = st.tuples(st.floats(1, 149), st.floats(0.5, 20), st.floats(0.4, 6))


@given(BENDS)
def test_every_school_reads_the_same_in_every_form(bend):
    angle, radius, thickness = bend
    for school in SCHOOLS:
        if school is ShopTable:
            continue
        made = school().bend(angle, radius, thickness)
        assert made.allowance >= 0
        assert math.radians(angle) * (radius + made.k_factor * thickness) == pytest.approx(
            made.allowance, abs=1e-9
        )
        corner = made.outside_setback - made.inside_setback
        assert 2 * (30 + corner) - made.deduction == pytest.approx(60 + made.gain, abs=1e-9)


def test_a_test_strip_gives_its_bend_back():
    # A strip developed by K 0.4 and measured again says K 0.4 and the same deduction.
    bend = NeutralLine(k=0.4).bend(90, 1.5, 1.2)
    strip = TestStrip(
        length=80 - bend.deduction,
        first=50,
        second=30,
        thickness=1.2,
        radius=1.5,
        wanted=93,
        line=49,
    )
    assert strip.bend.k_factor == pytest.approx(0.4) and strip.deduction == pytest.approx(
        bend.deduction
    )
    assert strip.springback == 3 and strip.line_off_middle == pytest.approx(
        50 - bend.deduction / 2 - 49
    )
    table = ShopTable(strips=(strip, strip.model_copy(update={"length": strip.length + 0.2})))
    spread = table.spread(1.2)
    assert spread.count == 2 and spread.half == pytest.approx(0.1)
    assert spread.mean == pytest.approx(bend.deduction - 0.1)
    assert ShopTable(strips=(strip,)).bend(60, 3, 1.2).k_factor == pytest.approx(0.4)


def test_a_table_interpolates_between_its_angles():
    def strip(angle, k):
        bend = NeutralLine(k=k).bend(angle, 1, 1)
        return TestStrip(
            length=100 - bend.deduction, first=50, second=50, thickness=1, radius=1, angle=angle
        )

    table = ShopTable(strips=(strip(60, 0.36), strip(120, 0.44)))
    assert table.bend(90, 1, 1).k_factor == pytest.approx(0.40)
    assert table.bend(30, 1, 1).k_factor == pytest.approx(0.36) and table.bend(
        150, 1, 1
    ).k_factor == pytest.approx(0.44)
    assert "outside them" in table.doubt(140, 1, 1) and table.doubt(90, 1, 1) is None
    assert "No strip of" in table.doubt(90, 1, 2)
    assert "inside radius" in table.doubt(90, 5, 1)


@pytest.mark.parametrize(
    "fields",
    [
        {"length": 200},
        {"length": 0},
        {"angle": 0},
        {"angle": 170},
        {"radius": -1},
        {"length": 60},
        {"thickness": -1},
    ],
)
def test_a_strip_that_cannot_have_been_measured_is_refused(fields):
    with pytest.raises(ValueError):
        TestStrip(
            **{"length": 97, "first": 50, "second": 50, "thickness": 1.0, "radius": 1.0, **fields}
        )


def test_an_empty_table_says_so():
    with pytest.raises(ValueError, match="no test strip"):
        ShopTable().bend(90, 1, 1)
    assert ShopTable().doubt(90, 1, 1)


def test_side_by_side_shows_every_school_and_its_doubt():
    rows = side_by_side(90, 1.0, 1.5, NeutralLine(k=0.33))
    assert [type(s) for s, _, _ in rows] == [s for s in SCHOOLS if s is not ShopTable]
    by_kind = {s.school: (b, d) for s, b, d in rows}
    assert by_kind["neutral-line"][0].k_factor == pytest.approx(0.33)
    assert by_kind["on-the-line"][1] and not by_kind["din-6935"][1]
