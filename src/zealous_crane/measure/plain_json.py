"""Reading JSON that a person may have written: bounded in size, every key once, plain numbers only."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from .words import tr


def read_json(path: Path, largest: int) -> Any:
    """What a JSON file holds. Never more than ``largest`` bytes are read, whatever kind of file it is.

    Raises:
        OSError: it cannot be read.
        UnicodeDecodeError: it is not text.
        ValueError: it is not JSON, holds a key twice, or is too large.
        RecursionError: it is nested too deeply.
    """
    with Path(path).open("rb") as file:
        data = file.read(largest + 1)
    if len(data) > largest:
        raise ValueError(tr("it is far too large"))
    return parse_json(data.decode("utf-8"))


def parse_json(text: str) -> Any:
    """What a JSON text holds; see :func:`read_json`."""
    try:
        return json.loads(text, object_pairs_hook=_once, parse_constant=_no_number)
    except RecursionError:
        raise ValueError(tr("it is nested far too deeply")) from None


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise ValueError(tr("the field {key!r} stands there twice").format(key=key[:80]))
        found[key] = value
    return found


def _no_number(text: str) -> Any:
    raise ValueError(tr("{text} is no number a size can have").format(text=text))
