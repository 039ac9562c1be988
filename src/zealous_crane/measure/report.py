"""Turning a model's complaints into sentences a person can act on."""

from __future__ import annotations

from pydantic import ValidationError

_PLAIN = {
    "missing": "is missing",
    "extra_forbidden": "is not a field this program knows",
    "union_tag_invalid": "is of a kind this program does not know",
    "union_tag_not_found": "does not say of which kind it is",
}


def readable(error: ValidationError) -> str:
    """The first three complaints as sentences: which field, what was read, what is allowed."""
    sentences: list[str] = []
    for item in error.errors()[:3]:
        where = ".".join(str(part) for part in item["loc"]) or "the whole"
        said = _PLAIN.get(item["type"], item["msg"].removeprefix("Value error, "))
        read = item.get("input")
        shown = f" (read: {read!r})" if isinstance(read, str | int | float) and item["type"] != "missing" else ""
        sentences.append(f"{where}: {said}{shown}")
    more = error.error_count() - len(sentences)
    return "; ".join(sentences) + (f"; and {more} more" if more > 0 else "") + "."


def plain(error: ValueError) -> str:
    """The first complaint of a model, or what any other error says, without field paths: for showing at the field itself."""
    if isinstance(error, ValidationError):
        return str(error.errors()[0]["msg"]).removeprefix("Value error, ")
    return str(error)
