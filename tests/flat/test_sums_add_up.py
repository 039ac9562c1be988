"""Every sum adds up as it is shown, by no more than its roundings, and is made of things a hand can
find on the part."""

import re

import numpy as np
import pytest

from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.ruler import Striking
from zealous_crane.job.job import Job
from zealous_crane.units.length import INCH, Units, parse_length

SIGN = re.compile(r" ([+−]) ")


def added(text, units):
    """A sum as a reader adds it: what its summands come to, its total, and what their roundings may
    come to, mm."""

    def read(figure):
        value = parse_length(figure.replace("≈", ""), units)
        if units is Units.MM:
            return value, 0.005
        return (
            value,
            0.0 if "≈" not in figure else INCH / 128 if "." not in figure else INCH * 0.0005,
        )

    left, total = text.rsplit(" = ", 1)
    first, *rest = SIGN.split(left)
    pairs = [
        ("−", first[1:]) if first.startswith("−") else ("+", first),
        *zip(rest[::2], rest[1::2], strict=True),
    ]
    come, off = 0.0, 0.005
    for sign, summand in pairs:
        count, _, figure = summand.rpartition(" × ")
        value, rounding = read(figure)
        come += (1 if sign == "+" else -1) * int(count or 1) * value
        off += int(count or 1) * rounding
    value, rounding = read(total)
    return come, value, off + rounding


@pytest.mark.parametrize("name", DEMOS)
@pytest.mark.parametrize("units", [Units.FRACTIONS, Units.DECIMAL, Units.MM])
def test_every_sum_adds_up_as_it_is_shown(name, units):
    for job in demo_work(name).parts:
        for found in develop(job).sums:
            come, total, rounding = added(found.text(units), units)
            assert abs(come - total) <= rounding, (found.what, found.text(units))
            assert not any("outermost" in str(term.what) for term in found.terms), (
                found.what,
                [term.what for term in found.terms],
            )


def test_the_blank_of_a_reducer_is_the_sum_of_its_sides_by_sine_and_cosine():
    """The two sides of a slanted half, worked out again from the corners of its outline."""
    for job in demo_work("chimney-reducer").parts:
        blank = develop(job)
        span = np.ptp(blank.outline.points, axis=0)
        assert [s.total for s in blank.sums[:2]] == pytest.approx(span, abs=1e-3)
        askew = [
            str(term.what) for s in blank.sums[:2] for term in s.terms if "×" in str(term.what)
        ]
        assert len(askew) > 4 and all("sin" in what or "cos" in what for what in askew)


OTHER = {
    Units.FRACTIONS: re.compile(r"\d\s?mm\b"),
    Units.MM: re.compile(r'\d"|\d\s?inch|\d in\b(?! the)'),
}


@pytest.mark.parametrize("name", DEMOS)
@pytest.mark.parametrize("units", OTHER)
def test_no_text_of_a_flat_speaks_of_other_units_than_the_jobs(name, units):
    for part in demo_work(name).parts:
        job = part.model_copy(update={"units": units})
        blank = develop(job)
        marking = mark_out(blank, units, Striking.of(job))
        texts = [
            text
            for s in blank.sums
            for text in (s.what, s.rule, s.text(units), *(term.what for term in s.terms))
        ]
        texts += [
            *blank.doubts,
            *marking.steps,
            *(recipe.says(units) for recipe in marking.recipes),
        ]
        texts += [point.with_size(units) for point in marking.points]
        assert [text for text in texts if OTHER[units].search(str(text))] == []


@pytest.mark.parametrize("units", OTHER)
def test_doubts_of_a_school_speak_the_jobs_units(units):
    """A round bend on the line, and a shop's table without a strip that is near."""
    strip = {"length": 74.06, "first": 40.0, "second": 36.5, "thickness": 1.5, "radius": 1.0}
    said = []
    for school, radius in (
        ({"school": "on-the-line"}, "6 mm"),
        ({"school": "shop-table", "strips": [strip]}, "6 mm"),
    ):
        for thickness in ("1.5 mm", "2.5 mm"):
            job = Job.model_validate(
                {
                    "name": "bend",
                    "part": {"kind": "single-bend", "first": 60, "second": 60, "length": 80},
                    "metal": "mild-steel",
                    "thickness": thickness,
                    "radius": radius,
                    "school": school,
                    "units": units,
                }
            )
            said += develop(job).doubts
    figured = [text for text in said if re.search(r"\d(\s?mm\b|\")", text)]
    assert len(figured) >= 3 and not [text for text in said if OTHER[units].search(text)], said
