import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zealous_crane.units.length import (
    INCH,
    LengthError,
    Units,
    nearest_tick,
    parse_length,
    show_length,
)
from zealous_crane.units.quantities import parse_angle, show_angle
from zealous_crane.units.sums import Sum, Term


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("8 1/2", 215.9),
        ('8-1/2"', 215.9),
        ('3/8"', 9.525),
        ("8½", 215.9),
        ("⁵⁄₁₆", 7.9375),
        (".75 in", 19.05),
        ("1' 6 1/2\"", 469.9),
        ("1 ft 3", 381.0),
        ("2 ft", 609.6),
        ("216 mm", 216.0),
        ("21,6 cm", 216.0),
        ("0.5 m", 500.0),
        ("-3/8", -9.525),
    ],
)
def test_what_hands_write_is_read(text, mm):
    assert parse_length(text) == pytest.approx(mm, abs=1e-9)


def test_a_bare_number_takes_the_units_in_force():
    assert parse_length("216", Units.MM) == 216
    assert parse_length("2", Units.DECIMAL) == 50.8


@pytest.mark.parametrize(
    "text",
    [
        "",
        "  ",
        "abc",
        "8 1/0",
        "3//4",
        "6\" 1'",
        "8 8",
        "1e9",
        "nan",
        "inf",
        "5 parsecs",
        "8.5.5",
        "½½",
    ],
)
def test_what_cannot_be_read_is_answered_in_a_sentence(text):
    with pytest.raises(LengthError) as said:
        parse_length(text)
    assert str(said.value).endswith(".") and len(str(said.value)) > 20


def test_an_absurd_length_names_the_limit():
    with pytest.raises(LengthError, match="20,000 mm"):
        parse_length("999999")


@given(st.integers(min_value=-64 * 700, max_value=64 * 700), st.booleans())
def test_sixty_fourths_come_back_as_they_were(ticks, pretty):
    value = ticks * INCH / 64
    shown = show_length(value, Units.FRACTIONS, pretty=pretty)
    assert not shown.startswith("≈")
    assert parse_length(shown) == pytest.approx(value, abs=1e-6)


@given(st.floats(min_value=-15_000, max_value=15_000), st.sampled_from([Units.MM, Units.DECIMAL]))
def test_decimals_come_back_within_their_last_place(value, units):
    place = 0.005 if units is Units.MM else 0.0005 * INCH
    assert abs(parse_length(show_length(value, units), units) - value) <= place * 1.0001


@given(st.floats(min_value=0, max_value=15_000))
def test_a_fraction_that_is_not_exact_says_so(value):
    shown = show_length(value, Units.FRACTIONS)
    error = abs(parse_length(shown.removeprefix("≈")) - value)
    assert error <= INCH / 128 + 1e-6
    assert shown.startswith("≈") == (error > 0.005)


@pytest.mark.parametrize(
    ("value", "shown"),
    [
        (0.0, '0"'),
        (0.01, '≈0"'),
        (0.1, '0.004"'),
        (-0.1, '-0.004"'),
        (0.19, '≈0.007"'),
        (0.2, '≈1/64"'),
    ],
)
def test_less_than_half_a_tick_is_shown_in_thousandths(value, shown):
    assert show_length(value, Units.FRACTIONS) == shown


@given(st.text(max_size=25))
def test_any_text_is_read_or_answered(text):
    try:
        assert math.isfinite(parse_length(text))
    except LengthError as error:
        assert str(error)


def test_the_nearest_tick_is_on_the_rule():
    assert nearest_tick(63.6, Units.FRACTIONS) == pytest.approx(
        2.5 * INCH + 0 * INCH, abs=INCH / 128
    )
    assert nearest_tick(63.64, Units.MM) == pytest.approx(63.6)


def test_a_sum_opens_in_the_operators_own_fractions():
    # trade check value: 8" base, 3/4" walls, 3/8" safety edges, both ends. Common practice, no
    # source.
    opened = Sum(
        "blank",
        (
            Term("base", 8 * INCH),
            Term("wall", 0.75 * INCH, 2),
            Term("safety edge", 0.375 * INCH, 2),
        ),
    )
    assert opened.text(Units.FRACTIONS) == '8 + 2 × 3/4 + 2 × 3/8 = 10 1/4"'
    assert opened.total == pytest.approx(10.25 * INCH)


def test_a_sum_shows_what_is_taken_away():
    assert (
        Sum("x", (Term("outside", 100.0), Term("metal", 2.0, -2))).text(Units.MM)
        == "100 − 2 × 2 = 96 mm"
    )


def test_angles():
    assert parse_angle("92,5°") == 92.5
    assert show_angle(90.0) == "90°" and show_angle(92.44) == "92.4°" and show_angle(-0.01) == "0°"
    with pytest.raises(ValueError, match="between"):
        parse_angle("270")
    with pytest.raises(ValueError, match="could not be read"):
        parse_angle("steep")


@pytest.mark.parametrize(
    ("text", "units"),
    [("2 ft 3", Units.MM), ("2' 3", Units.MM), ("1 m 3", Units.FRACTIONS), ("2ft3/4", Units.MM)],
)
def test_a_last_piece_whose_unit_is_anybodys_guess_is_asked_about(text, units):
    with pytest.raises(LengthError, match=r"of what\? Write .* in, or .* mm"):
        parse_length(text, units)
    assert parse_length(text + " in", units) != parse_length(text + " mm", units)


def test_a_last_piece_in_the_units_of_the_one_before_needs_none():
    assert (
        parse_length("2 ft 3", Units.FRACTIONS)
        == pytest.approx(27 * 25.4)
        == parse_length("2' 3\"", Units.MM)
    )
    assert parse_length("1 m 3", Units.MM) == 1003
