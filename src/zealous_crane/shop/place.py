"""Where the shop keeps its things."""

from __future__ import annotations

import os
from pathlib import Path

import platformdirs

ADDRESS = "book-address.txt"
"""A file in the shop's folder that holds the address of a book several benches share."""


def shop_home() -> Path:
    """The shop's folder of the person at this bench."""
    return Path(platformdirs.user_data_dir("zealous-crane", appauthor=False))


def brakes_place() -> Path:
    """The folder of the shop's own brake files."""
    return shop_home() / "brakes"


def book_place(home: Path) -> Path | str:
    """Where the book is: what ``ZEALOUS_CRANE_BOOK`` or the shop's address file says, else a file in the shop's folder."""
    said = os.environ.get("ZEALOUS_CRANE_BOOK", "").strip()
    if not said:
        try:
            said = (home / ADDRESS).read_text(encoding="utf-8-sig").strip()
        except (OSError, UnicodeDecodeError):
            said = ""
    return said or home / "book.db"
