"""Reading JSON that a person may have written: bounded in size, every key once, plain numbers only."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from .input_error import InputError
from .words import tr


def read_json(path: Path, largest: int) -> Any:
    """What a JSON file holds. Never more than ``largest`` bytes are read, whatever kind of file it is.

    Raises:
        OSError: it cannot be read.
        InputError: it is not text, not JSON, holds a key twice, is nested too deeply or is too large.
    """
    with Path(path).open("rb") as file:
        return json_from(file.read(largest + 1), largest)


def json_from(data: bytes, largest: int) -> Any:
    """What JSON in bytes holds; see :func:`read_json`."""
    if len(data) > largest:
        raise InputError(tr("it is far too large"))
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise InputError(tr("it is not text")) from None
    return parse_json(text)


def parse_json(text: str) -> Any:
    """What a JSON text holds; see :func:`read_json`."""
    try:
        return json.loads(text, object_pairs_hook=_once, parse_constant=_no_number)
    except InputError:
        raise
    except (RecursionError, MemoryError):
        raise InputError(tr("it is nested far too deeply")) from None
    except ValueError as error:
        raise InputError(str(error)) from None


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise InputError(tr("the field {key!r} stands there twice").format(key=key[:80]))
        found[key] = value
    return found


def _no_number(text: str) -> Any:
    raise InputError(tr("{text} is no number a size can have").format(text=text))
