"""A simulated season: the book against the truth, opened again, merged, and restored from a
table."""

from pathlib import Path

import numpy as np

from tool import tool
from zealous_crane.shop.book.store import Book

ROOT = Path(__file__).resolve().parent.parent.parent
season = tool("season")


def test_a_season_comes_near_the_truth_and_is_the_same_from_every_copy(tmp_path):
    rule, book, inside = [], [], []
    for seed in range(12):
        folder = tmp_path / str(seed)
        folder.mkdir()
        with Book(folder / "book.db") as opened:
            found = season.season(seed, opened)
        assert seed > 1 or season.same_again(found, folder / "book.db", folder)
        for place in season.PLACES:
            last = found.told[place][-1]
            if last.here:
                rule.append(abs(found.rule[place] - found.truth[place]))
                book.append(abs(last.mean - found.truth[place]))
                inside.append(book[-1] <= 1.645 * last.sd)
    assert np.mean(book) < 0.25 and np.mean(book) < np.mean(rule) / 4, (
        np.mean(book),
        np.mean(rule),
    )
    assert np.mean(inside) > 0.8, "the mean's own interval holds"


def test_the_drawing_in_the_docs_is_of_this_season(tmp_path):
    with Book(tmp_path / "book.db") as opened:
        found = season.season(season.SEED, opened)
    assert season.drawn(found) == (ROOT / "docs" / "season.svg").read_text(encoding="utf-8")
    assert any(told[-1].here == 0 for told in found.told.values()), (
        "a place without bends leans on its metal and machine"
    )
