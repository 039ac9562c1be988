"""Cutting plans: every blank there, none over another, all parted by cuts from edge to edge;
counted against brute force."""

import functools
import itertools
import random

import numpy as np
import pytest
import rectpack
import shapely

from zealous_crane.brake.library import shipped_rack
from zealous_crane.cutting.layout import lay_out
from zealous_crane.cutting.pattern import knapsack
from zealous_crane.cutting.piece import CutError, Shear, Stock, WantedBlank
from zealous_crane.cutting.solve import plan_cutting
from zealous_crane.cutting.summary import lots
from zealous_crane.demo import demo_work

IN = 25.4
SHEET = Stock("48 × 96 in", 96 * IN, 48 * IN)


def random_work(rng, kinds, most):
    return [
        WantedBlank(
            f"b{i}",
            rng.uniform(5, 32) * IN,
            rng.uniform(3, 22) * IN,
            rng.randint(1, most),
            rng.random() < 0.8,
        )
        for i in range(kinds)
    ]


def parted(boxes, kerf):
    """True when rectangles (x0, y0, x1, y1) are parted by cuts from edge to edge, again and
    again."""
    if len(boxes) <= 1:
        return True
    for axis in (0, 1):
        for at in sorted({b[axis + 2] for b in boxes})[:-1]:
            low = [b for b in boxes if b[axis + 2] <= at + 1e-6]
            high = [b for b in boxes if b[axis] >= at + kerf - 1e-6]
            if low and high and len(low) + len(high) == len(boxes):
                return parted(low, kerf) and parted(high, kerf)
    return False


@pytest.mark.parametrize("seed", range(12))
def test_every_blank_is_cut_and_every_cut_runs_from_edge_to_edge(seed):
    rng = random.Random(seed)
    blanks = random_work(rng, rng.randint(1, 9), 8)
    shear = Shear(kerf=rng.choice([0.0, 0.0, 2.4]), squaring=rng.choice([0.0, 3.0]))
    stock = [SHEET] + ([Stock("left over", 900, 600, 2, True)] if seed % 3 == 0 else [])
    cutting = plan_cutting(blanks, stock, shear, seconds=0.2)
    made = dict.fromkeys(range(len(blanks)), 0)
    for sheet in lay_out(cutting):
        lost = 0.0 if sheet.stock.offcut else shear.squaring
        room = shapely.box(0, 0, sheet.stock.length - lost, sheet.stock.width - lost).buffer(1e-6)
        boxes = [(p.x, p.y, p.x + p.length, p.y + p.width) for p in (*sheet.placed, *sheet.offcuts)]
        assert all(room.contains(shapely.box(*b)) for b in boxes)
        for one, other in itertools.combinations(boxes, 2):
            assert shapely.box(*one).intersection(shapely.box(*other)).area < 1e-3
        assert parted([b for b in boxes[: len(sheet.placed)]], shear.kerf)
        for place in sheet.placed:
            made[place.blank] += sheet.alike
            wanted = blanks[place.blank]
            lies = (place.length, place.width)
            straight = lies == pytest.approx((wanted.length, wanted.width))
            assert straight or (
                wanted.turns and lies == pytest.approx((wanted.width, wanted.length))
            )
        # What is cut off is settings of the gauge that some blank, strip or edge has.
        assert all(
            cut.times > 0 and cut.gauge > 0 and cut.length <= shear.length + 1e-6
            for cut in sheet.cuts
        )
    assert made == {i: b.count for i, b in enumerate(blanks)}
    assert (
        len([p for p in cutting.sheets if not cutting.stock[p.stock].offcut]) >= cutting.least
        or cutting.least <= 1
    )


@functools.lru_cache(maxsize=200_000)
def fits_one(pieces, length, width):
    """Brute force: True when the pieces are cut from one sheet by cuts from edge to edge: every
    first cut at every sum of sizes of what is to lie before it, every share of the pieces on its
    two sides, and so on."""
    if not pieces:
        return True
    if (
        not all(goes(piece, length, width) for piece in pieces)
        or sum(a * b for a, b, _ in pieces) > length * width + 1e-6
    ):
        return False
    if len(pieces) == 1:
        return True
    first, rest = pieces[0], pieces[1:]
    for k in range(len(rest)):
        for chosen in itertools.combinations(range(len(rest)), k):
            mine = (first, *(rest[i] for i in chosen))
            others = tuple(rest[i] for i in range(len(rest)) if i not in chosen)
            for at in cuts_at(mine):
                if (
                    at < length
                    and fits_one(mine, at, width)
                    and fits_one(others, length - at, width)
                ):
                    return True
                if (
                    at < width
                    and fits_one(mine, length, at)
                    and fits_one(others, length, width - at)
                ):
                    return True
    return False


def goes(piece, length, width):
    """True when a piece goes into a room by itself."""
    a, b, turns = piece
    return (a <= length + 1e-9 and b <= width + 1e-9) or (
        turns and b <= length + 1e-9 and a <= width + 1e-9
    )


@functools.lru_cache(maxsize=10_000)
def cuts_at(pieces):
    """Every sum of one side each of some pieces."""
    sums = {0.0}
    for a, b, _ in pieces:
        sums |= {s + side for s in sums for side in (a, b)}
    return sorted(sums - {0.0})


def test_small_works_against_brute_force():
    """200 works of two to five blanks: one sheet just where brute force over every cutting from
    edge to edge says so."""
    rng = random.Random(3)
    ones = 0
    for _ in range(200):
        blanks = [
            WantedBlank(
                f"b{i}", rng.uniform(10, 60), rng.uniform(10, 45), 1, turns=rng.random() < 0.8
            )
            for i in range(rng.randint(2, 5))
        ]
        shear = Shear(squaring=0.0, least_strip=5.0)
        cutting = plan_cutting(blanks, [Stock("s", 100.0, 60.0)], shear, seconds=0.05)
        one = fits_one(
            tuple((b.length, b.width, b.turns) for b in blanks), 100.0 + 1e-6, 60.0 + 1e-6
        )
        assert (len(cutting.sheets) == 1) == one
        ones += one
        placed = [p for sheet in lay_out(cutting) for _ in range(sheet.alike) for p in sheet.placed]
        assert sorted(p.blank for p in placed) == list(range(len(blanks)))
        if cutting.deep and len(cutting.sheets) > cutting.least:
            assert "the minimum with cuts from edge to edge" in str(cutting.message())
    assert 60 < ones < 190, "some do and some do not, or this shows nothing"


def library_sheets(blanks, sheet):
    """Sheets the guillotine mode of a general packing library takes, the best of its ways to
    split."""
    fewest = None
    for algorithm in (
        rectpack.GuillotineBafSas,
        rectpack.GuillotineBssfSas,
        rectpack.GuillotineBafLas,
        rectpack.GuillotineBssfMaxas,
    ):
        packer = rectpack.newPacker(
            pack_algo=algorithm,
            sort_algo=rectpack.SORT_AREA,
            bin_algo=rectpack.PackingBin.Global,
            rotation=True,
        )
        for i, blank in enumerate(blanks):
            for _ in range(blank.count):
                packer.add_rect(blank.length, blank.width, i)
        packer.add_bin(sheet.length, sheet.width, count=float("inf"))
        packer.pack()
        assert len(packer.rect_list()) == sum(b.count for b in blanks)
        fewest = len(packer) if fewest is None else min(fewest, len(packer))
    return fewest


@pytest.mark.parametrize("block", range(4))
def test_never_more_sheets_than_a_packing_library(block):
    """10 works a block here; 500 with ``./crane bench`` (docs/theory.md)."""
    for seed in range(block * 10, block * 10 + 10):
        blanks, ours, theirs = against_library(seed)
        assert ours <= theirs, (seed, blanks)


def against_library(seed, seconds=0.2):
    rng = random.Random(f"library {seed}")
    blanks = random_work(rng, rng.randint(2, 8), rng.choice([2, 6, 14]))
    blanks = [WantedBlank(b.name, b.length, b.width, b.count) for b in blanks]
    sheet = Stock("sheet", SHEET.length, SHEET.width)
    cutting = plan_cutting(blanks, [sheet], Shear(squaring=0.0), seconds=seconds)
    return blanks, cutting.bought, library_sheets(blanks, sheet)


def test_what_fits_exactly_fits():
    """Four strips of a foot from a sheet of four; sixteenths and tenths alike."""
    foot = 12 * IN
    for wide, sheet in ((foot, 4 * foot), (IN * 5 / 16 * 32, IN * 5 / 16 * 128), (100.1, 400.4)):
        cutting = plan_cutting(
            [WantedBlank("strip", 900.0, wide, 12)],
            [Stock("sheet", 2700.0, sheet)],
            Shear(squaring=0),
        )
        assert cutting.bought == 1 and cutting.yielded == pytest.approx(1.0)


def test_the_paper_rolls_of_the_literature():
    """A cutting-stock instance that is printed in many places, from memory: rolls of 5600, thirteen
    widths; 73 rolls are the optimum."""
    widths = (1380, 1520, 1560, 1710, 1820, 1880, 1930, 2000, 2050, 2100, 2140, 2150, 2200)
    counts = (22, 25, 12, 14, 18, 18, 20, 10, 12, 14, 16, 18, 20)
    blanks = [WantedBlank(str(w), w, 100, n, False) for w, n in zip(widths, counts, strict=True)]
    cutting = plan_cutting(
        blanks, [Stock("roll", 5600, 100)], Shear(length=6000, squaring=0, least_strip=10)
    )
    assert cutting.bought == 73 and cutting.proved and "the minimum" in str(cutting.message())


def test_strips_as_high_as_several_pieces_save_a_sheet():
    """Found by hand: four rips of 557 hold 3 × 276.2 × 551.9, three 221.6 × 183.5 and three 134.8 ×
    172.9 each, with a saw's 1/8 inch in every cut; three of 183.5 over one another are higher than
    any one piece."""
    sizes = ((551.9, 276.2), (183.5, 221.6), (172.9, 134.8))
    blanks = [WantedBlank(f"b{i}", a, b, 12) for i, (a, b) in enumerate(sizes)]
    cutting = plan_cutting(blanks, [SHEET], Shear(kerf=IN / 8, squaring=IN / 8), seconds=1.0)
    assert cutting.bought == 1 and str(cutting.message()).startswith("1 sheet, the minimum")
    for sheet in lay_out(cutting):
        assert (
            parted([(p.x, p.y, p.x + p.length, p.y + p.width) for p in sheet.placed], IN / 8)
            and len(sheet.placed) == 36
        )


def test_the_knapsack_is_exact():
    rng = random.Random(5)
    for _ in range(60):
        n = rng.randint(1, 4)
        sizes, worths = (
            [rng.randint(1, 9) for _ in range(n)],
            [rng.uniform(0.1, 5) for _ in range(n)],
        )
        counts, room = [rng.randint(0, 4) for _ in range(n)], rng.randint(1, 25)
        best = max(
            (
                sum(w * k for w, k in zip(worths, take, strict=True))
                for take in itertools.product(*(range(c + 1) for c in counts))
                if sum(s * k for s, k in zip(sizes, take, strict=True)) <= room
            ),
            default=0.0,
        )
        found = knapsack(room, sizes, worths, counts)
        assert sum(sizes[k] * m for k, m in found.items()) <= room and all(
            m <= counts[k] for k, m in found.items()
        )
        assert sum(worths[k] * m for k, m in found.items()) == pytest.approx(best)


def test_common_sense():
    # 29 × 29 pans from 48 × 96: three side by side, one over the other does not go. The check
    # value's blank, common practice.
    cutting = plan_cutting([WantedBlank("pan", 29 * IN, 29 * IN, 4)], [SHEET], Shear())
    assert cutting.bought == 2 and "the minimum with cuts from edge to edge" in str(
        cutting.message()
    )
    # One cut across serves several parts: eight alike take one rip setting and one across.
    (sheet,) = lay_out(
        plan_cutting(
            [WantedBlank("side", 300, 200, 8)],
            [Stock("s", 1220, 610)],
            Shear(squaring=0.0, keep=300),
        )
    )
    assert [(c.what, c.gauge) for c in sheet.cuts if c.what in ("rip", "across")] == [
        ("rip", 200.0),
        ("across", 300.0),
    ]
    # Off-cuts are used first, and a sheet is then not needed at all.
    cutting = plan_cutting(
        [WantedBlank("lid", 300, 200, 2)], [Stock("bit", 620, 210, 1, True), SHEET], Shear()
    )
    assert cutting.bought == 0 and "the minimum" in str(cutting.message())
    # Grain keeps its way: turned it would have fitted.
    with pytest.raises(CutError, match="comes from none"):
        plan_cutting(
            [WantedBlank("grained", 500, 900, 1, turns=False)], [Stock("s", 1000, 600)], Shear()
        )


@pytest.mark.parametrize(
    ("blanks", "stock", "shear", "said"),
    [
        ([WantedBlank("x", 3000, 1500, 1)], [SHEET], Shear(), "the largest is"),
        ([WantedBlank("x", 300, 20, 1)], [SHEET], Shear(), "hold-down"),
        ([WantedBlank("x", 300, 200, 1)], [], Shear(), "no stock"),
        ([WantedBlank("x", 300, 200, 1)], [SHEET], Shear(kerf=-1), "less than nothing"),
        ([WantedBlank("x", 300, 200, 10_000)], [SHEET], Shear(), "in lots"),
        ([WantedBlank("x", 600, 500, 9)], [Stock("s", 1300, 600, 2)], Shear(), "not enough stock"),
        ([WantedBlank("x", 1300, 1100, 1)], [SHEET], Shear(length=600), "the shear cuts"),
    ],
)
def test_what_cannot_be_is_a_sentence(blanks, stock, shear, said):
    with pytest.raises(CutError, match=said):
        plan_cutting(blanks, stock, shear, seconds=0.3)


def test_the_parts_of_a_work_by_metal_and_thickness():
    work = demo_work("wax-melter-chimney")
    (lot,) = lots(work.parts, shipped_rack())
    assert lot.metal == "galvanized" and len(lot.blanks) == 3
    # Weight by hand: area times thickness times density.
    area = sum(b.area * b.count for b in lot.blanks)
    assert lot.weight == pytest.approx(area * lot.thickness * 7850e-9, rel=1e-4)
    cutting = plan_cutting(lot.blanks, [SHEET], Shear())
    assert cutting.bought == 1 and np.isclose(cutting.yielded, area / SHEET.area)


def test_a_shear_shorter_than_the_sheet_leaves_the_factory_edge():
    blanks = [WantedBlank("side", 500, 300, 6)]
    (sheet,) = lay_out(plan_cutting(blanks, [SHEET], Shear(length=52 * IN)))
    square = [c for c in sheet.cuts if c.what == "square"]
    assert (
        len(square) == 1 and "factory edge" in str(square[0].gives) and square[0].length == 48 * IN
    )
    assert max(c.length for c in sheet.cuts) <= 52 * IN


def test_what_lies_against_the_arm_and_what_the_stop_does_not_reach():
    blanks = [
        WantedBlank("a", 30 * IN, 20 * IN, 4, True),
        WantedBlank("b", 10 * IN, 6 * IN, 3, True),
    ]
    shear = Shear(length=100 * IN, squaring=3.0, reach=12 * IN)
    cuts = [cut for sheet in lay_out(plan_cutting(blanks, [SHEET], shear)) for cut in sheet.cuts]
    assert cuts[0].what == "square" and "mill's straight edge" in cuts[0].against
    for cut in cuts:
        assert cut.marked is (cut.what != "square" and cut.gauge > 12 * IN + 1e-6)
        assert ("dots on both edges" in cut.against) is cut.marked
    assert any(cut.marked for cut in cuts) and any(
        "short edge against the arm" in cut.against for cut in cuts if cut.what == "rip"
    )


def test_a_shear_without_an_arm_has_what_must_be_square_struck():
    blanks = [
        WantedBlank("a", 30 * IN, 20 * IN, 4, True),
        WantedBlank("b", 10 * IN, 6 * IN, 3, True),
    ]
    cuts = [
        c
        for sheet in lay_out(plan_cutting(blanks, [SHEET], Shear(length=100 * IN, arm=False)))
        for c in sheet.cuts
    ]
    assert {"square", "rip", "across"} <= {c.what for c in cuts}
    assert not any("the arm" in c.against for c in cuts) and all(
        "square" in c.against for c in cuts
    )


@pytest.mark.parametrize("seed", range(12))
def test_the_yield_that_is_possible_is_a_bound(seed):
    """At most what area allows with the fewest sheets any cutting could do with; never below what
    was found."""
    rng = random.Random(7000 + seed)
    blanks = random_work(rng, rng.randint(1, 6), 6)
    cutting = plan_cutting(blanks, [SHEET], Shear(length=100 * IN), seconds=0.1)
    wanted = sum(b.area * b.count for b in blanks)
    fewest = max(1, -(-wanted // SHEET.area))
    assert (
        cutting.yielded - 1e-9 <= cutting.at_most <= min(1.0, wanted / (fewest * SHEET.area)) + 1e-9
    )
    assert ("the most possible" in str(cutting.message())) is (
        cutting.at_most - cutting.yielded < 0.005
    )
