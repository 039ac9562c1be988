"""Turning a model's complaints into sentences a person can act on."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..errors import InputError, PredicateError
from ..i18n import Phrase, msg, tr
from ..units.length import cut

_PLAIN = {
    "missing": msg("is missing"),
    "extra_forbidden": msg("is not a field this program knows"),
    "union_tag_invalid": msg("is of a kind this program does not know"),
    "union_tag_not_found": msg("does not say of which kind it is"),
    "string_type": msg("should be text"),
    "string_too_short": msg("needs at least {min_length} characters"),
    "string_too_long": msg("is longer than {max_length} characters"),
    "string_pattern_mismatch": msg("should be small letters, figures and hyphens only"),
    "float_type": msg("should be a number"),
    "float_parsing": msg("should be a number"),
    "int_type": msg("should be a whole number"),
    "int_parsing": msg("should be a whole number"),
    "int_from_float": msg("should be a whole number"),
    "int_parsing_size": msg("is far too large"),
    "bool_type": msg("should be true or false"),
    "bool_parsing": msg("should be true or false"),
    "finite_number": msg("should be a number that ends somewhere"),
    "tuple_type": msg("should be a list"),
    "list_type": msg("should be a list"),
    "too_short": msg("needs at least {min_length} of them, not {actual_length}"),
    "too_long": msg("has more than {max_length} of them"),
    "model_type": msg("should be fields and their values"),
    "model_attributes_type": msg("should be fields and their values"),
    "dict_type": msg("should be fields and their values"),
    "none_required": msg("must be left empty"),
    "greater_than": msg("must be more than {gt}"),
    "greater_than_equal": msg("must be at least {ge}"),
    "less_than": msg("must be less than {lt}"),
    "less_than_equal": msg("must be at most {le}"),
    "literal_error": msg("is none of {expected}"),
    "enum": msg("is none of {expected}"),
    "recursion_loop": msg("refers to itself"),
}


UNREADABLE = msg("could not be read")


def _said(item: Any) -> tuple[Phrase, bool]:
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
    words, goes_on = _said(error.errors(include_url=False)[0])
    return tr("It {said}.").format(said=words) if goes_on else str(words)


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
    """Parse a JSON text; see :func:`read_json`."""
    try:
        return json.loads(text, object_pairs_hook=_once, parse_constant=_no_number)
    except InputError:
        raise
    except (RecursionError, MemoryError):
        raise InputError(tr("it is nested far too deeply")) from None
    except ValueError as error:
        raise InputError(str(error)) from None


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    result: dict[str, Any] = {}
    for key, value in pairs:
        if key in result:
            raise InputError(tr("the field {key!r} stands there twice").format(key=key[:80]))
        result[key] = value
    return result


def _no_number(text: str) -> Any:
    raise InputError(tr("{text} is no number a size can have").format(text=text))
