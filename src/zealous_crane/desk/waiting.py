"""Records that could not be written into the book: they wait in a file beside it, for this window or the next one that opens."""

from __future__ import annotations

import uuid
from collections.abc import Iterator, Sequence
from pathlib import Path

from ..files.atomic import FileError, write_atomically
from ..shop.book.record import AnyRecord, BookError

NAMED = "book-waiting-*.json"
"""How such files are called in the shop's folder; each window writes its own."""


class Waiting:
    """What waits of one window, on disk.

    Args:
        folder: the shop's folder; None keeps nothing beyond the window.
    """

    def __init__(self, folder: Path | None) -> None:
        self.folder = folder
        self.path = None if folder is None else folder / NAMED.replace("*", uuid.uuid4().hex[:12])

    def keep(self, records: Sequence[AnyRecord]) -> str:
        """Write what waits, in place of what waited before. Returns why it could not be, or nothing."""
        from ..shop.book.store import json_text

        if self.path is None:
            return ""
        try:
            if records:
                self.path.parent.mkdir(parents=True, exist_ok=True)
                write_atomically(self.path, json_text(records).encode())
            else:
                self.path.unlink(missing_ok=True)
        except (FileError, OSError) as error:
            return str(error)
        return ""

    def left(self) -> Iterator[tuple[Path, tuple[AnyRecord, ...] | str]]:
        """What other windows left waiting, file by file; or why a file cannot be read."""
        from ..shop.book.store import read_records

        for path in sorted(self.folder.glob(NAMED)) if self.folder is not None else ():
            if path != self.path:
                try:
                    yield path, read_records(path)
                except BookError as error:
                    yield path, str(error)
