"""The tests keep away from the files of whoever runs them."""

import os
import subprocess
import sys
from pathlib import Path

from away_from_home import HOME
from zealous_crane.shop.settings import book_place, brakes_place, shop_home


def test_no_test_reaches_a_persons_files():
    assert not [name for name in os.environ if name.startswith("ZEALOUS_CRANE_")]
    for place in (shop_home(), brakes_place(), Path(book_place(shop_home()))):
        assert place.is_relative_to(HOME)


def test_a_run_of_the_tests_writes_nothing_into_a_book_named_by_the_environment(tmp_path):
    book = tmp_path / "mine.db"
    tests = Path(__file__).parent
    said = subprocess.run(
        [
            sys.executable,
            "-m",
            "pytest",
            "-q",
            "-p",
            "no:cacheprovider",
            str(tests / "ui" / "test_book_at_the_brake.py"),
            # One that writes readings into the book is enough.
            "-k",
            "readings_that_teach_nothing",
        ],
        # A run of its own, whoever runs this one: plans that runs share are those of the source as
        # it is.
        env={k: v for k, v in os.environ.items() if k != "PYTEST_XDIST_WORKER"}
        | {"ZEALOUS_CRANE_BOOK": str(book)},
        capture_output=True,
        text=True,
        check=False,
    )
    assert said.returncode == 0, said.stdout[-2000:]
    assert not book.exists()
