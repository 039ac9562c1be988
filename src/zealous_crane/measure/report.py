"""Turning a model's complaints into sentences a person can act on."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from .text import cut

_PLAIN = {
    "missing": "is missing",
    "extra_forbidden": "is not a field this program knows",
    "union_tag_invalid": "is of a kind this program does not know",
    "union_tag_not_found": "does not say of which kind it is",
    "string_type": "should be text",
    "string_too_short": "needs at least {min_length} characters",
    "string_too_long": "is longer than {max_length} characters",
    "string_pattern_mismatch": "should be small letters, figures and hyphens only",
    "float_type": "should be a number",
    "float_parsing": "should be a number",
    "int_type": "should be a whole number",
    "int_parsing": "should be a whole number",
    "int_from_float": "should be a whole number",
    "int_parsing_size": "is far too large",
    "bool_type": "should be true or false",
    "bool_parsing": "should be true or false",
    "finite_number": "should be a number that ends somewhere",
    "tuple_type": "should be a list",
    "list_type": "should be a list",
    "too_short": "needs at least {min_length} of them, not {actual_length}",
    "too_long": "has more than {max_length} of them",
    "model_type": "should be fields and their values",
    "model_attributes_type": "should be fields and their values",
    "dict_type": "should be fields and their values",
    "none_required": "must be left empty",
    "greater_than": "must be more than {gt}",
    "greater_than_equal": "must be at least {ge}",
    "less_than": "must be less than {lt}",
    "less_than_equal": "must be at most {le}",
    "literal_error": "is none of {expected}",
    "enum": "is none of {expected}",
    "recursion_loop": "refers to itself",
}


def _said(item: Any) -> str:
    """One complaint in words of the shop."""
    words = _PLAIN.get(item["type"])
    if words is None:
        text = str(item["msg"]).removeprefix("Value error, ").removeprefix("Assertion failed, ")
        return text if item["type"] in ("value_error", "assertion_error") else "could not be read"
    try:
        return words.format(**item.get("ctx", {}))
    except (KeyError, IndexError):
        return "could not be read"


def readable(error: ValidationError) -> str:
    """The first three complaints as sentences: which field, what was read, what is allowed."""
    sentences: list[str] = []
    for item in error.errors(include_url=False)[:3]:
        where = ".".join(cut(part) for part in item["loc"]) or "the whole"
        read = item.get("input")
        shown = f" (read: {cut(repr(read))})" if isinstance(read, str | int | float) and item["type"] != "missing" else ""
        sentences.append(f"{where}: {_said(item)}{shown}")
    more = error.error_count() - len(sentences)
    return "; ".join(sentences) + (f"; and {more} more" if more > 0 else "") + "."


def plain(error: ValueError) -> str:
    """The first complaint of a model, or what any other error says, without field paths: for showing at the field itself."""
    if isinstance(error, ValidationError):
        said = _said(error.errors(include_url=False)[0])
        return said if said[:1].isupper() else f"It {said}." if said.split()[0] in _VERBS else said
    return str(error)


_VERBS = ("is", "should", "needs", "must", "has", "does", "refers", "could")
