import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zealous_crane.metal.allowance import FaaHandbook, NeutralLine, OnTheLine, default_school
from zealous_crane.units.length import INCH

BENDS = st.tuples(st.floats(1, 150), st.floats(0, 20), st.floats(0.2, 6))


def test_faa_channel():
    # FAA-H-8083-31, the channel worked in the metallic structures chapter: 0.040" sheet, 0.16"
    # radius, legs 1.00, 2.00, 1.00; developed width near 3.76". From memory.
    bend = FaaHandbook().bend(90, 0.16 * INCH, 0.040 * INCH)
    assert bend.allowance / INCH == pytest.approx(0.279, abs=0.001)
    width = (1.00 + 2.00 + 1.00) * INCH - 2 * bend.deduction
    assert width / INCH == pytest.approx(3.76, abs=0.01)


def test_faa_form_is_a_neutral_line_at_0_447():
    # 0.0078 / 0.01743 = 0.4475: the handbook's per-degree form (AC 43.13-1B) and the K form are the
    # same arithmetic.
    assert FaaHandbook().bend(90, 0, 1).k_factor == pytest.approx(0.0078 / (math.pi / 180))
    assert FaaHandbook().bend(90, 3, 1).k_factor == pytest.approx(0.447, abs=0.005)


@pytest.mark.parametrize(("form", "k"), [(0.55, 0.350), (0.64, 0.407), (0.71, 0.452)])
def test_handbook_90_degree_forms_are_neutral_lines(form, k):
    # Machinery's Handbook: L = 1.57 R + (0.55, 0.64 or 0.71) T for 90°, by metal; from memory.
    for radius, thickness in ((0.5, 1.0), (3.0, 1.5), (6.0, 0.8)):
        handbook = 1.57 * radius + form * thickness
        assert NeutralLine(k=k).allowance(90, radius, thickness) == pytest.approx(
            handbook, abs=0.006
        )


def test_neutral_line_by_hand():
    # 1 mm sheet, 1 mm radius, K 0.44: BA = π/2 · 1.44 = 2.262; BD = 2·2 − 2.262 = 1.738. Definition
    # of K.
    bend = NeutralLine(k=0.44).bend(90, 1, 1)
    assert bend.allowance == pytest.approx(2.26195, abs=1e-5)
    assert bend.deduction == pytest.approx(1.73805, abs=1e-5)
    assert bend.outside_setback == pytest.approx(2.0)


@given(st.floats(1, 130), st.floats(0, 0.35), st.floats(0.2, 6))
def test_on_the_line_no_inside_length_is_gained_in_a_sharp_fold(angle, share, thickness):
    made = OnTheLine().bend(angle, share * thickness, thickness)
    assert made.gain == pytest.approx(0, abs=1e-9)
    assert made.line_to_inside == pytest.approx(0, abs=1e-9)


@given(BENDS, st.sampled_from([OnTheLine(), NeutralLine(k=0.4), FaaHandbook()]))
def test_all_forms_of_one_bend_agree(bend, school):
    angle, radius, thickness = bend
    made = school.bend(angle, radius, thickness)
    assert NeutralLine.model_construct(k=made.k_factor).allowance(
        angle, radius, thickness
    ) == pytest.approx(made.allowance, abs=1e-9)
    # Outside legs less BD and inside legs plus gain are the same flat.
    corner = made.outside_setback - made.inside_setback
    assert 2 * (30 + corner) - made.deduction == pytest.approx(2 * 30 + made.gain, abs=1e-9)


def test_thin_sheet_is_folded_on_the_line():
    assert isinstance(default_school(0.85), OnTheLine) and isinstance(
        default_school(1.5), NeutralLine
    )
    assert (
        OnTheLine().doubt(90, 0, 1.5)
        and not OnTheLine().doubt(90, 0, 0.8)
        and not NeutralLine().doubt(90, 1, 1.5)
    )


@pytest.mark.parametrize("bad", [(0, 1, 1), (360, 1, 1), (-10, 1, 1), (90, -1, 1), (90, 1, 0)])
def test_a_bend_that_cannot_be_is_refused(bad):
    with pytest.raises(ValueError):
        OnTheLine().bend(*bad)
