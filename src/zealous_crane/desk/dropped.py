"""Files dropped on the window: jobs, drawings, brakes."""

from __future__ import annotations

from enum import StrEnum
from pathlib import Path

from PySide6.QtCore import QMimeData

from ..measure.input_error import InputError
from ..measure.plain_json import read_json

LARGEST = 20_000_000
"""Bytes; more is no file of this program."""


class Dropped(StrEnum):
    """What a dropped file is."""

    WORK = "work"
    DRAWING = "drawing"
    BRAKE = "brake"


def dropped_file(data: QMimeData) -> Path | None:
    """The first file of a drop that the program can take; None when there is none."""
    paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]
    return next((path for path in paths if path.suffix.lower() in (".json", ".crane", ".dxf")), None)


def what_is(path: Path) -> Dropped:
    """What a file is: a drawing by its ending, a brake by its key and kind, else a job or work."""
    if path.suffix.lower() == ".dxf":
        return Dropped.DRAWING
    try:
        data = read_json(path, LARGEST)
    except (OSError, InputError):
        return Dropped.WORK  # reading it as a job says what is wrong with it
    brake = isinstance(data, dict) and "parts" not in data and "part" not in data and "key" in data and "kind" in data
    return Dropped.BRAKE if brake else Dropped.WORK
