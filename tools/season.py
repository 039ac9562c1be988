"""A season at a simulated shop: twelve jobs, three metals, two brakes, a protractor that reads
high. Draws docs/season.svg.

The truth is made up and kept apart; the book gets what a hand would type. After every job the book
is asked what it says, and at the end it is opened again, merged from the books of both benches, and
restored from a table: all must say the same.
"""

from __future__ import annotations

import math
import random
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

from zealous_crane.brake.library import shipped_rack
from zealous_crane.shop.book.record import BendRecord, csv_text
from zealous_crane.shop.book.store import Book, read_records
from zealous_crane.shop.hierarchical_fit import BendContext
from zealous_crane.shop.springback import Learnt, handbook, learn

ROOT = Path(__file__).resolve().parent.parent
METALS = (("galvanized", 0.85), ("aluminium-5052", 1.3), ("stainless", 0.9))
BRAKES = ("apiary-finger-50", "bench-finger-1000")
PLACES = tuple(BendContext(metal, t, brake) for metal, t in METALS for brake in BRAKES)
JOBS, BENDS = 12, 8

SEED = 3
BIAS = 0.4
"""Degrees by which the protractor of the second bench reads high."""

NOISE, SLIPS = 0.5, 0.03


@dataclass(frozen=True)
class Season:
    """What a season came to.

    Attributes:
        truth: springback at 90° in every place, by the instrument used there.
        rule: what the handbook says.
        told: what the book said of every place after each job.
        records: every bend, in the order it was made.
    """

    truth: dict[BendContext, float]
    rule: dict[BendContext, float]
    told: dict[BendContext, list[Learnt]]
    records: tuple[BendRecord, ...]


def day(number: int, bend: int) -> str:
    """When a bend of a job was made: a job a week from March on."""
    return f"2026-0{3 + number // 4}-{1 + 7 * (number % 4):02d}T08:{bend:02d}:00+00:00"


def season(seed: int, book: Book) -> Season:
    """Live through a season, writing every bend into a book and asking it after every job."""
    rng, rule = random.Random(seed), handbook(shipped_rack())
    by_metal = {metal: rng.gauss(0, 1.5) for metal, _ in METALS}
    by_brake = {brake: rng.gauss(0, 1.0) for brake in BRAKES}
    truth = {
        p: rule(p) + by_metal[p.metal] + by_brake[p.machine] + rng.gauss(0, 0.6) for p in PLACES
    }
    # What is read is what teaches: an instrument that reads high makes the springback look smaller,
    # and the stop come out where it reads right.
    seen = {p: truth[p] - (BIAS if p.machine == BRAKES[1] else 0.0) for p in PLACES}
    told: dict[BendContext, list[Learnt]] = {p: [] for p in PLACES}
    records: list[BendRecord] = []
    for number in range(JOBS):
        place = PLACES[number % 6] if number < 4 else rng.choice(PLACES)
        so_far = learn(records, place, rule)
        for n in range(BENDS):
            angle = rng.choice((45.0, 90.0, 90.0, 90.0))
            stop = round(so_far.stop(angle), 1)
            # The sheet scatters in proportion to the angle, the reading does not; together they
            # make the noise.
            own, read = (rng.gauss(0, NOISE * math.sqrt(0.5)) for _ in range(2))
            back = stop - stop / (1 + (seen[place] + own) / 90) + read
            if rng.random() < SLIPS:
                back += rng.choice((-1, 1)) * rng.uniform(4, 8)
            records.append(
                BendRecord(
                    job=f"Job {number + 1}",
                    part=n + 1,
                    stroke="wall",
                    machine=place.machine,
                    metal=place.metal,
                    thickness=place.thickness,
                    angle=angle,
                    stop=stop,
                    got=round(max(0.5, stop - back), 1),
                    made=day(number, n),
                )
            )
        book.add(*records[-BENDS:])
        for other in PLACES:
            told[other].append(learn(records, other, rule))
    return Season(seen, {p: rule(p) for p in PLACES}, told, tuple(records))


def same_again(found: Season, book: Path, folder: Path) -> bool:
    """True when the book, opened again, merged from two benches' books, and restored from a table,
    says what it said."""
    rule = handbook(shipped_rack())
    books = {name: folder / f"{name}.db" for name in ("first", "second", "merged", "restored")}
    for name, brake in zip(("first", "second"), BRAKES, strict=True):
        with Book(books[name]) as opened:
            opened.add(*(r for r in found.records if r.machine == brake))
    with Book(books["merged"]) as merged:
        for name in ("first", "second"):
            with Book(books[name]) as other:
                merged.merge(other)
    with Book(book) as opened:
        (folder / "season.csv").write_text(csv_text(opened.every()), encoding="utf-8", newline="")
    with Book(books["restored"]) as restored:
        restored.add(*read_records(folder / "season.csv"))
    for path in (book, books["merged"], books["restored"]):
        with Book(path) as opened:
            bends = [r for r in opened.find("bend") if isinstance(r, BendRecord)]
        for place in PLACES:
            now, then = learn(bends, place, rule), found.told[place][-1]
            if abs(now.mean - then.mean) > 1e-6 or (now.here, now.near) != (then.here, then.near):
                return False
    return True


WIDE, HIGH, GAP = 300, 170, 34


def drawn(found: Season) -> str:
    """The season as a drawing: for every place what the book said after each job, with nine bends
    of ten as a band."""
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {2 * (WIDE + GAP) + GAP} '
        f'{3 * (HIGH + GAP) + GAP + 16}" '
        'font-family="sans-serif" font-size="12">',
        '<rect width="100%" height="100%" fill="#fbfaf7"/>',
    ]
    for i, place in enumerate(PLACES):
        x0, y0 = GAP + (i % 2) * (WIDE + GAP), GAP + (i // 2) * (HIGH + GAP)
        told, truth, rule = found.told[place], found.truth[place], found.rule[place]
        low = min([truth, rule, *(t.within[0] for t in told)]) - 0.3
        high = max([truth, rule, *(t.within[1] for t in told)]) + 0.3

        def at(
            n: int, value: float, x0: int = x0, y0: int = y0, low: float = low, high: float = high
        ) -> str:
            return (
                f"{x0 + n * WIDE / (JOBS - 1):.1f},{y0 + (high - value) / (high - low) * HIGH:.1f}"
            )

        band = [at(n, t.within[1]) for n, t in enumerate(told)] + [
            at(n, t.within[0]) for n, t in reversed(list(enumerate(told)))
        ]
        parts.append(f'<polygon points="{" ".join(band)}" fill="#2a5a8c" fill-opacity="0.15"/>')
        for value, style in (
            (rule, "#7a7a7a;stroke-dasharray:5 4"),
            (truth, "#b8442a;stroke-width:1.5"),
        ):
            ends = at(0, value), at(JOBS - 1, value)
            parts.append(f'<polyline points="{" ".join(ends)}" style="fill:none;stroke:{style}"/>')
        means = " ".join(at(n, t.mean) for n, t in enumerate(told))
        parts.append(f'<polyline points="{means}" fill="none" stroke="#2a5a8c" stroke-width="2"/>')
        for n, t in enumerate(told):
            if t.here > (told[n - 1].here if n else 0):
                x, y = at(n, t.mean).split(",")
                parts.append(f'<circle cx="{x}" cy="{y}" r="3.5" fill="#2a5a8c"/>')
        parts.append(
            f'<rect x="{x0}" y="{y0}" width="{WIDE}" height="{HIGH}" fill="none" stroke="#888"/>'
        )
        parts.append(
            f'<text x="{x0}" y="{y0 - 6}" font-weight="bold">{place.metal} {place.thickness:g} '
            f"mm, {place.machine}</text>"
        )
        for value in (low + 0.3, high - 0.3):
            x, y = at(0, value).split(",")
            parts.append(
                f'<text x="{float(x) - 4}" y="{float(y) + 4}" '
                f'text-anchor="end">{round(value) + 0}°</text>'
            )
    for line, said in enumerate(
        (
            "Blue: the book after each job, with nine bends of ten as a band; a dot: a job in "
            "this place.",
            "Red: springback as the instrument there reads it; dashed: the handbook. Twelve jobs, "
            "left to right.",
        )
    ):
        parts.append(
            f'<text x="{GAP}" y="{3 * (HIGH + GAP) + GAP - 12 + 16 * line}" '
            f'fill="#333">{said}</text>'
        )
    parts.append("</svg>")
    return "\n".join(parts) + "\n"


def table(found: Season) -> list[str]:
    """Truth, handbook and book at the end, a line a place."""
    return [
        f"{p.metal:15} {p.thickness:4g} mm  {p.machine:18} truth {found.truth[p]:5.2f}°  handbook "
        f"{found.rule[p]:4.1f}°  "
        f"book {found.told[p][-1].mean:5.2f}° ± {found.told[p][-1].sd:.2f} "
        f"({found.told[p][-1].here} here)"
        for p in PLACES
    ]


def main() -> int:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        with Book(folder / "book.db") as book:
            found = season(SEED, book)
        same = same_again(found, folder / "book.db", folder)
    print("\n".join(table(found)))
    print(f"opened again, merged and restored: {'the same' if same else 'NOT the same'}")
    if "--draw" in sys.argv:
        (ROOT / "docs" / "season.svg").write_text(drawn(found), encoding="utf-8")
    return 0 if same else 1


if __name__ == "__main__":
    sys.exit(main())
