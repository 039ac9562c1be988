"""Work of several parts: one size follows from another."""

import pytest
from pydantic import ValidationError

from fitted import sleeve_and_bottom
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.io.job_file import JobFileError, read_job, read_work, write_job, write_work
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.part.kinds.cover import EnclosureBase, EnclosureLid
from zealous_crane.part.kinds.duct import Cap, Sleeve
from zealous_crane.part.kinds.strip import Plate
from zealous_crane.units.length import INCH
from zealous_crane.work.fit import Fit, FitError, Pairing
from zealous_crane.work.work import Work


def job(part, name, thickness="1 mm"):
    return Job(name=name, part=part, metal="mild-steel", thickness=thickness, units="mm")


def fit(rule="inside", sizes=("length", "width"), clearance=2.0, follower=1, master=0):
    return Fit(
        follower=follower,
        master=master,
        rule=rule,
        clearance=clearance,
        sizes=tuple(Pairing(follower=s, master=s) for s in sizes),
    )


def test_a_pan_follows_the_box_it_goes_into():
    box = job(OpenBox(length=200, width=150, depth=50), "box")
    pan = job(OpenBox(length=1, width=1, depth=20), "pan", "0.8 mm")
    work = Work(parts=(box, pan), fits=(fit(),)).resolved()
    # Outside of the pan is the box's inside less 2; its own size is an inside size, two thicknesses
    # less.
    assert work.parts[1].part.length == pytest.approx(200 - 2 - 1.6) and work.parts[
        1
    ].part.width == pytest.approx(150 - 2 - 1.6)
    grown = work.model_copy(
        update={"parts": (job(OpenBox(length=300, width=150, depth=50), "box"), work.parts[1])}
    ).resolved()
    assert grown.parts[1].part.length == pytest.approx(300 - 2 - 1.6)
    sums = work.fit_sums(1)
    assert [s.total for s in sums] == pytest.approx([198, 148]) and "box, length inside" in str(
        sums[0].terms[0].what
    )
    assert work.fit_sums(0) == ()


def test_a_lid_goes_over_and_a_cap_goes_in():
    base = job(EnclosureBase(length=160, width=110, height=50), "base", "1.2 mm")
    lid = job(EnclosureLid(length=1, width=1, height=50), "lid", "1.5 mm")
    work = Work(
        parts=(base, lid), fits=(fit("over", ("width",), 0.5), fit("over", ("length",), 0))
    ).resolved()
    assert work.parts[1].part.width == pytest.approx(110.5) and work.parts[
        1
    ].part.length == pytest.approx(160)
    sleeve = job(Sleeve(length=150, width=100, height=200), "sleeve")
    cap = job(Cap(length=5, width=5.1, clearance=4, depth=20), "cap")
    made = Work(parts=(sleeve, cap), fits=(fit(clearance=4),)).resolved().parts[1].part
    # The cap's own clearance is taken off the opening it is told; the fit asks for 4 in all.
    # Across the width the sleeve's seam tab lies in the way, a thickness.
    assert made.length - made.clearance == pytest.approx(
        146
    ) and made.width - made.clearance == pytest.approx(95)
    sums = Work(parts=(sleeve, cap), fits=(fit(clearance=4),)).resolved().fit_sums(1)
    assert [str(t.what) for t in sums[1].terms] == [
        "sleeve, width inside",
        "sleeve, seam tab",
        "clearance",
    ]
    assert sums[1].total == pytest.approx(95)


def test_fits_are_set_in_the_order_they_depend():
    parts = tuple(job(OpenBox(length=200 + i, width=150, depth=30), f"part {i}") for i in range(3))
    chain = Work(
        parts=parts, fits=(fit(follower=2, master=1), fit(follower=1, master=0))
    ).resolved()
    assert chain.parts[2].part.length == pytest.approx(200 - 2 * (2 + 2))
    with pytest.raises(FitError, match="circle"):
        Work(parts=parts, fits=(fit(follower=2, master=1), fit(follower=1, master=2))).resolved()


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"clearance": -1}, "negative"),
        ({"follower": 0}, "itself"),
        ({"sizes": ()}, "at least 1"),
        ({"follower": 7}, "there are 2"),
    ],
)
def test_a_fit_that_cannot_be_meant_is_refused(fields, said):
    box = job(OpenBox(length=200, width=150, depth=50), "box")
    with pytest.raises(ValidationError, match=said):
        made = Fit.model_validate({**fit().model_dump(), **fields})
        Work(parts=(box, box), fits=(made,))


def test_a_fit_that_leaves_nothing_says_which_parts():
    small = job(OpenBox(length=10, width=10, depth=5), "small")
    pan = job(OpenBox(length=50, width=50, depth=5), "pan")
    with pytest.raises(FitError, match="pan cannot follow small"):
        Work(parts=(small, pan), fits=(fit(clearance=30),)).resolved()
    with pytest.raises(FitError, match="no size called heigth"):
        bad = Fit(
            follower=1, master=0, rule="over", sizes=(Pairing(follower="length", master="heigth"),)
        )
        Work(parts=(small, pan), fits=(bad,)).resolved()
    with pytest.raises(ValidationError, match="two fits set"):
        Work(parts=(small, pan), fits=(fit(), fit()))


def test_work_files_go_round(tmp_path):
    work = demo_work("wax-melter-chimney")
    write_work(work, tmp_path / "work.json")
    assert read_work(tmp_path / "work.json") == work
    assert (
        read_job(tmp_path / "work.json", "2")
        == work.parts[1]
        == read_job(tmp_path / "work.json", work.parts[1].name)
    )
    with pytest.raises(JobFileError, match="has no part 9"):
        read_job(tmp_path / "work.json", "9")
    write_job(work.parts[0], tmp_path / "job.json")
    assert read_work(tmp_path / "job.json").parts == (work.parts[0],)
    broken = work.model_dump_json().replace('"rule":"inside"', '"rule":"beside"')
    (tmp_path / "broken.json").write_text(broken)
    with pytest.raises(JobFileError, match="rule"):
        read_work(tmp_path / "broken.json")


@pytest.mark.parametrize("name", DEMOS)
def test_every_demonstration_develops_without_a_crossing(name):
    work = demo_work(name)
    assert work.resolved() == work
    for part in work.parts:
        blank = develop(part)
        assert blank.area > 0 and not [f for f in blank.findings if f.kind == "crossing"]


def test_a_plate_is_only_its_outline():
    blank = develop(job(Plate(length=120, width=80), "plate"))
    assert blank.size == (120, 80) and not blank.folds and len(blank.outline.points) == 4


@pytest.mark.parametrize(
    ("rests", "size"), [(None, 31 / 32), (False, 31 / 32), (True, 1 + 31 / 32)]
)
def test_a_bottom_goes_between_lips_or_lies_on_them(rests, size):
    """The case by hand: 2 in between the walls, lips of 1/2 in on either side, 1/32 in of room."""
    work = sleeve_and_bottom(rests).resolved()
    assert (work.parts[1].part.length, work.parts[1].part.width) == pytest.approx(
        (size * INCH, size * INCH), abs=0.01
    )
    (question, *_) = [*work.unsaid().values(), ""]
    assert bool(question) is (rests is None)
    if question:
        assert '³¹⁄₃₂"' in question and '1 ³¹⁄₃₂"' in question and "bottom" in question
    # Its sum comes to the size, with the lips in it or not.
    total = next(s for s in work.fit_sums(1) if "length" in str(s.what).lower())
    assert total.total == pytest.approx(size * INCH, abs=0.01)
    assert any("lip" in str(term.what) for term in total.terms) is not bool(rests)


def test_nothing_is_asked_where_no_lip_stands_in():
    assert sleeve_and_bottom(lip="none").resolved().unsaid() == {}
    for name in DEMOS:
        assert demo_work(name).unsaid() == {}
