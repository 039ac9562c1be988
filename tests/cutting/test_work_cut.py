"""From parts to rectangles: trim, grain, slanted parts head to foot; the stock added up."""

import pytest
import shapely

from zealous_crane.brake.library import shipped_rack
from zealous_crane.cutting.piece import CutFrom, OffCut, Shear
from zealous_crane.cutting.piece_in_hand import in_hand, reaches
from zealous_crane.cutting.summary import lots, paired_length, worked_out
from zealous_crane.flat.development import develop
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.metal.allowance import OnTheLine
from zealous_crane.part.design import Base, Design, Flange, PolygonBase
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.part.kinds.cover import JawCover
from zealous_crane.shop.book.record import StockRecord
from zealous_crane.shop.stock import offcuts_of, stock_left
from zealous_crane.units.length import INCH, Units
from zealous_crane.work.fit import Fit, Pairing
from zealous_crane.work.work import Work

RACK = shipped_rack()

FIELDS = {"metal": "mild-steel", "thickness": "1 mm", "units": "mm"}


def test_what_is_trimmed_off_later_is_cut_too():
    part = DrawnPart(tree=Design(base=Base(length=100, width=80), trim=5.0))
    (lot,) = lots([Job(part=part, **FIELDS)], RACK)
    assert (lot.blanks[0].length, lot.blanks[0].width) == (110, 90)


@pytest.mark.parametrize(
    ("grain", "sides", "turns"),
    [(None, (100, 80), True), ("along", (100, 80), False), ("across", (80, 100), False)],
)
def test_grain_says_which_way_a_part_lies(grain, sides, turns):
    part = DrawnPart(tree=Design(base=Base(length=100, width=80)))
    (lot,) = lots([Job(part=part, quantity=3, grain=grain, **FIELDS)], RACK)
    (blank,) = lot.blanks
    assert (blank.length, blank.width) == sides and blank.turns is turns
    (told,) = worked_out(
        [Job(part=part, quantity=3, grain=grain, **FIELDS)],
        RACK,
        CutFrom(sheet_length=400, sheet_width=300),
        Units.MM,
    )
    for place in told.sheets[0].placed:
        assert grain is None or (place.length, place.width) == sides


def test_slanted_parts_lie_head_to_foot():
    taper = DrawnPart(
        tree=Design(base=PolygonBase(corners=((0, 0), (200, 0), (60, 100), (0, 100))))
    )
    job = Job(part=taper, quantity=5, name="taper", **FIELDS)
    flat = develop(job)
    both = paired_length(flat)
    assert both == pytest.approx(200 + 60 + 1, abs=0.01), (
        "the slants lie along each other: the sum of both ends, and the snips"
    )
    one = shapely.Polygon(flat.outline.flattened())
    other = shapely.affinity.translate(
        shapely.affinity.rotate(one, 180, origin=(100, 50)), both - 200, 0
    )
    assert one.distance(other) > 0.3 and one.union(other).bounds == pytest.approx((0, 0, both, 100))
    (lot,) = lots([job], RACK)
    assert [(b.count, round(b.length)) for b in lot.blanks] == [
        (2, 261),
        (1, 200),
    ] and "head to foot" in lot.blanks[0].name
    assert [
        b.count
        for b in lots(
            [Job(part=OpenBox(length=100, width=80, depth=20), quantity=5, **FIELDS)], RACK
        )[0].blanks
    ] == [5]
    # Film says which face is up: nothing is gained by turning, but a half turn keeps the face.
    straight = DrawnPart(
        tree=Design(base=Base(length=90, width=50), flanges=(Flange(edge="left", height=20),))
    )
    assert paired_length(develop(Job(part=straight, **FIELDS))) is None


def test_the_stock_is_what_came_in_less_what_went_out():
    def record(length, width, count, **fields):
        return StockRecord(
            what="off-cut",
            metal="brass",
            thickness=1.0,
            length=length,
            width=width,
            count=count,
            **fields,
        )

    stocked = stock_left(
        [
            record(300, 200, 2, name="a"),
            record(200, 300, -1),
            record(500, 100, 1),
            record(500, 100, -1),
            StockRecord(
                what="sheet", metal="brass", thickness=1.0, length=2000, width=1000, count=3
            ),
            StockRecord(
                what="sheet", metal="brass", thickness=1.0, length=2000, width=1000, count=-2
            ),
            StockRecord(
                what="sheet", metal="copper", thickness=1.0, length=2000, width=1000, count=-2
            ),
            StockRecord(
                what="sheet", metal="brass", thickness=2.0, length=2000, width=1000, count=1
            ),
            StockRecord(
                what="sheet", metal="brass", thickness=2.0, length=2000, width=1000, count=-4
            ),
        ]
    )
    # Sheets nobody has written in are not counted; those used up are none.
    sheets = [(s.metal, s.thickness, s.count) for s in stocked if s.what == "sheet"]
    assert sheets == [("brass", 1.0, 1), ("brass", 2.0, 0)] and [s.what for s in stocked] == [
        "sheet",
        "sheet",
        "off-cut",
    ]
    left = offcuts_of(stocked)
    assert left == (OffCut(length=300, width=200, count=1, name="a", metal="brass", thickness=1.0),)
    cut_from = CutFrom(offcuts=left)
    assert [s.offcut for s in cut_from.stock_of("brass", 1.02)] == [True, False]
    assert (
        [s.offcut for s in cut_from.stock_of("brass", 1.5)]
        == [s.offcut for s in cut_from.stock_of("copper", 1.0)]
        == [False]
    )


def test_how_many_come_from_the_piece_in_hand():
    job = Job(part=DrawnPart(tree=Design(base=Base(length=100, width=60))), **FIELDS)
    assert in_hand(job, RACK.find(job.brake), 205, 125, Shear()).count == 4
    assert in_hand(job, RACK.find(job.brake), 165, 100, Shear()).count == 2, (
        "one of them turned: 100 beside 60"
    )
    told = in_hand(job, RACK.find(job.brake), 90, 60, Shear())
    assert told.count == 0 and any(r.value == pytest.approx(90) for r in told.reaches)


def test_too_small_both_ways_two_sizes_give_way_together():
    """A plate of 140 × 120 from 110 × 90: both its sides, each the one that loses less."""
    part = DrawnPart(tree=Design(base=Base(length=140, width=120)))
    told = in_hand(Job(part=part, **FIELDS), None, 110, 90, Shear())
    assert not told.count and not any(r.tells and r.value < r.size.value for r in told.reaches)
    one, other = told.together
    assert (one.value, other.value) == (110, 90) and other.job is not None
    assert develop(other.job).sheared == pytest.approx((110, 90))


def test_what_is_left_of_the_piece_makes_a_last_smaller_one():
    """Strips of 8 1/2 × 3 inches from 30 × 3: three, and a last one of 4 1/2 (less nothing: a shear
    takes none)."""
    inch = 25.4
    part = DrawnPart(tree=Design(base=Base(length=8.5 * inch, width=3 * inch)))
    told = in_hand(
        Job(part=part, metal="mild-steel", thickness="1 mm", units="in"),
        None,
        30 * inch,
        3 * inch,
        Shear(keep=25),
    )
    assert (
        told.count == 3 and told.last is not None and told.last.size.title == "Length of the base"
    )
    assert told.last.value == pytest.approx(4.5 * inch)


def test_a_part_that_waits_for_a_measurement_is_cut_when_it_is_there():
    fields = {**FIELDS, "brake": "bench-finger-1000"}
    parts = (
        Job(name="tray", part=OpenBox(length=200, width=150, depth=60), **fields),
        Job(name="insert", part=OpenBox(length=100, width=100, depth=40), **fields),
    )
    pair = Pairing(follower="length", master="length", waits=True)
    work = Work(
        parts=parts, fits=(Fit(follower=1, master=0, rule="inside", sizes=(pair,)),)
    ).resolved()
    assert work.waiting() == (1,)
    measured = work.model_copy(
        update={
            "fits": (
                work.fits[0].model_copy(
                    update={"sizes": (pair.model_copy(update={"measured": 199.0}),)}
                ),
            )
        }
    )
    assert measured.waiting() == () and measured.resolved().parts[1].part.length == pytest.approx(
        199 - 1 - 2
    )


def test_a_shear_is_rated_as_its_plate_says():
    """16 ga of the manufacturers' standard gauge for steel: 0.0598 inch (from memory); mm and
    inches as they are."""
    assert CutFrom(rated="16 ga").rated == pytest.approx(0.0598 * 25.4)
    assert CutFrom(rated="1.5 mm").rated == CutFrom(rated=1.5).rated == 1.5
    with pytest.raises(ValueError, match="not in the steel"):
        CutFrom(rated="99 ga")


def test_a_face_is_made_smaller_where_narrower_ones_cannot_be_laid_out():
    """Jaw cover of 4 1/4 × 1 1/4 + 1 1/4 with 3/4" tabs from 5 3/4 × 2 1/4: below 13/16" the tabs
    do not go onto a face."""
    part = JawCover(length="4 1/4 in", first="1 1/4 in", second="1 1/4 in", angle=90, tab="3/4 in")
    job = Job(part=part, metal="aluminium-soft", thickness="18 ga", units="in", school=OnTheLine())
    found = {
        (r.size.title, len(r.also)): r.value
        for r in reaches(job, None, 5.75 * INCH, 2.25 * INCH)
        if r.tells
    }
    # By hand: the blank is both faces wide and the length and two tabs long.
    assert found["First face", 0] == found["Second face", 0] == pytest.approx(INCH)
    assert found["First face", 1] == pytest.approx(1.125 * INCH), "both a little"
    assert found["Length", 0] == pytest.approx(0.75 * INCH), (
        "or turned: 2 1/4 is the length and two tabs"
    )
