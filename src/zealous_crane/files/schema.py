"""JSON Schemas of the files other programs read and write: jobs, works, brakes, plans (JSON Schema 2020-12)."""

from __future__ import annotations

import json
from importlib import resources
from typing import Any

from ..brake import BRAKE
from ..job import Job
from ..measure.input_error import InputError
from ..measure.words import tr
from ..work import Work

DRAFT = "https://json-schema.org/draft/2020-12/schema"

KEYWORDS = {"ge": "minimum", "le": "maximum", "gt": "exclusiveMinimum", "lt": "exclusiveMaximum"}
"""Limits as the library leaves them where a value is read by a function of ours, and the keywords of the standard, which validators heed."""


def _standard(schema: Any, names: bool = False) -> Any:
    """A schema with the standard's keywords; ``names`` where the keys are names of fields or of definitions."""
    if isinstance(schema, list):
        return [_standard(part) for part in schema]
    if not isinstance(schema, dict):
        return schema
    return {
        key if names else KEYWORDS.get(key, key): _standard(
            value, key in ("properties", "$defs", "patternProperties") and not names
        )
        for key, value in schema.items()
        # What an empty field says on a form is no matter of the file.
        if names or key != "empty"
    }


KINDS = ("job", "work", "brake", "plan")
"""Files that have a schema."""


def schema_of(kind: str) -> dict[str, Any]:
    """The schema of a kind of file.

    Args:
        kind: one of :data:`KINDS`.

    Raises:
        InputError: there is no such kind.
    """
    if kind == "plan":
        # A plan is written, never read: its schema is a file of its own, held against every plan of the tests.
        found: dict[str, Any] = json.loads((resources.files(__package__) / "plan.schema.json").read_text(encoding="utf-8"))
        return found
    if kind == "brake":
        made = BRAKE.json_schema(mode="validation")
    elif kind in ("job", "work"):
        made = (Job if kind == "job" else Work).model_json_schema(mode="validation")
    else:
        raise InputError(tr("{kind!r} has no schema. Known: {known}.").format(kind=kind, known=", ".join(KINDS)))
    schema: dict[str, Any] = _standard(made)
    schema["$schema"] = DRAFT
    # A brake is one of several kinds; every other file is one thing.
    for one in schema["$defs"].values() if kind == "brake" else (schema,):
        if "format" in one.get("properties", {}):
            one["required"] = sorted({*one.get("required", []), "format"})
    return schema
