"""The springback in a shop's book, plotted over the thickness as an SVG picture.

python springback_plot.py BOOK.db springback.svg
"""

import sys
from pathlib import Path

from zealous_crane.shop.book.record import BendRecord
from zealous_crane.shop.book.store import Book

WIDTH, HEIGHT, EDGE = 480, 320, 40


def main(book: Path, picture: Path) -> int:
    """Write the picture; how many bends it shows."""
    with Book(book) as opened:
        bends = [record for record in opened.every() if isinstance(record, BendRecord)]
    points = [
        (bend.thickness, bend.stop - bend.got)
        for bend in bends
        if bend.stop is not None and bend.got is not None
    ]
    if not points:
        print("no bends in this book")
        return 0
    thickest, most = max(t for t, _ in points), max(1.0, *(opened for _, opened in points))
    dots = "".join(
        f'<circle cx="{EDGE + t / thickest * (WIDTH - 2 * EDGE):.1f}" '
        f'cy="{HEIGHT - EDGE - s / most * (HEIGHT - 2 * EDGE):.1f}" r="3"/>'
        for t, s in points
    )
    axes = f'<path d="M{EDGE} {EDGE}V{HEIGHT - EDGE}H{WIDTH - EDGE}" fill="none" stroke="black"/>'
    words = (
        f'<text x="{EDGE}" y="{EDGE - 10}">degrees, up to {most:.1f}</text>'
        f'<text x="{EDGE}" y="{HEIGHT - 10}">mm, up to {thickest:g}</text>'
    )
    picture.write_text(
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH}" '
        f'height="{HEIGHT}">{axes}{dots}{words}</svg>',
        encoding="utf-8",
    )
    return len(points)


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
