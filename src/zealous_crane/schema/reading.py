"""Turning a model's complaints into sentences a person can act on."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..errors import InputError, PredicateError
from ..i18n import tr
from ..units.length import cut

_PLAIN = {
    "missing": tr("is missing"),
    "extra_forbidden": tr("is not a field this program knows"),
    "union_tag_invalid": tr("is of a kind this program does not know"),
    "union_tag_not_found": tr("does not say of which kind it is"),
    "string_type": tr("should be text"),
    "string_too_short": tr("needs at least {min_length} characters"),
    "string_too_long": tr("is longer than {max_length} characters"),
    "string_pattern_mismatch": tr("should be small letters, figures and hyphens only"),
    "float_type": tr("should be a number"),
    "float_parsing": tr("should be a number"),
    "int_type": tr("should be a whole number"),
    "int_parsing": tr("should be a whole number"),
    "int_from_float": tr("should be a whole number"),
    "int_parsing_size": tr("is far too large"),
    "bool_type": tr("should be true or false"),
    "bool_parsing": tr("should be true or false"),
    "finite_number": tr("should be a number that ends somewhere"),
    "tuple_type": tr("should be a list"),
    "list_type": tr("should be a list"),
    "too_short": tr("needs at least {min_length} of them, not {actual_length}"),
    "too_long": tr("has more than {max_length} of them"),
    "model_type": tr("should be fields and their values"),
    "model_attributes_type": tr("should be fields and their values"),
    "dict_type": tr("should be fields and their values"),
    "none_required": tr("must be left empty"),
    "greater_than": tr("must be more than {gt}"),
    "greater_than_equal": tr("must be at least {ge}"),
    "less_than": tr("must be less than {lt}"),
    "less_than_equal": tr("must be at most {le}"),
    "literal_error": tr("is none of {expected}"),
    "enum": tr("is none of {expected}"),
    "recursion_loop": tr("refers to itself"),
}


UNREADABLE = tr("could not be read")


def _said(item: Any) -> tuple[str, bool]:
    """One complaint in words of the shop, and whether it goes on from what it is about."""
    words, told = _PLAIN.get(item["type"]), item.get("ctx", {})
    if words is None:
        error = told.get("error")
        return (
            (str(error), isinstance(error, PredicateError))
            if isinstance(error, Exception)
            else (UNREADABLE, True)
        )
    try:
        return words.format(**told), True
    except (KeyError, IndexError):
        return UNREADABLE, True


def readable(error: ValidationError) -> str:
    """The first three complaints as sentences: which field, what was read, what is allowed."""
    sentences: list[str] = []
    for item in error.errors(include_url=False)[:3]:
        where = ".".join(cut(part) for part in item["loc"]) or tr("the whole")
        read = item.get("input")
        known = isinstance(read, str | int | float) and item["type"] != "missing"
        shown = tr(" (read: {value})").format(value=cut(repr(read))) if known else ""
        sentences.append(f"{where}: {_said(item)[0]}{shown}")
    more = error.error_count() - len(sentences)
    return (
        "; ".join(sentences) + (tr("; and {more} more").format(more=more) if more > 0 else "") + "."
    )


def field_of(error: ValidationError) -> str:
    """The path of the first field complained of, as ``part.corner.gap``; empty for the whole."""
    return ".".join(str(part) for part in error.errors(include_url=False)[0]["loc"])


def plain(error: ValueError) -> str:
    """The first complaint of a model, or what any other error says, without field paths: for
    showing at the field itself."""
    if not isinstance(error, ValidationError):
        return str(error)
    said, goes_on = _said(error.errors(include_url=False)[0])
    return tr("It {said}.").format(said=said) if goes_on else said


def read_json(path: Path, largest: int) -> Any:
    """What a JSON file holds. Never more than ``largest`` bytes are read, whatever kind of file it
    is.

    Raises:
        OSError: it cannot be read.
        InputError: it is not text, not JSON, holds a key twice, is nested too deeply or is too
            large.
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
