"""What every model a person writes has in common."""

from __future__ import annotations

import math
import types
import typing
import unicodedata
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, get_args, get_origin

from pydantic import BaseModel, ConfigDict, GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema
from pydantic_core.core_schema import (
    no_info_after_validator_function,
    no_info_before_validator_function,
)

from ..errors import InputError, PredicateError
from ..i18n import tr
from ..units.length import LONGEST, parse_length, show_length
from ..units.length import Units as _Units
from ..units.quantities import parse_angle


class InputModel(BaseModel):
    """A frozen model checked at the border; an unknown field is an error, not a silent loss. Its
    text is marked as one line or as several (:mod:`.line`). What checks it is made when the first
    one is read: most models of a run are never met. Those that nearly every job holds, and that are
    made on their own too, say ``defer_build=False``: else it is made twice."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, defer_build=True)

    @classmethod
    def together(cls, record: dict[str, Any], changed: str) -> dict[str, Any]:
        """A record of which a person has just changed one field, with what goes with that field
        changed too.

        Args:
            record: fields and their values, the changed one among them.
            changed: its name.
        """
        return record


@dataclass(frozen=True, eq=False)
class Checked:
    """A mark for ``Annotated``. The library's own marks look each function's signature up anew at
    every field of every model, over a thousand times when a job is read; here it is known.

    Args:
        holds: checks of the value, in order; each returns it, or raises InputError.
        reads: turns what was given into something the plain type takes.
        written_as: JSON schema of what may be given; None for that of the plain type.
    """

    holds: tuple[Callable[[Any], Any], ...] = ()
    reads: Callable[[Any], Any] | None = None
    written_as: dict[str, Any] | None = None

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> CoreSchema:
        schema = handler(source)
        if self.reads is not None:
            schema = no_info_before_validator_function(self.reads, schema)
        for check in self.holds:
            schema = no_info_after_validator_function(check, schema)
        return schema

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> dict[str, Any]:
        if self.written_as is not None and handler.mode == "validation":
            return dict(self.written_as)
        return handler(schema)


_NOT_PRINTED = frozenset(("Cc", "Cs", "Zl", "Zp"))
"""Control characters, halves of pairs, and ends of lines and paragraphs."""


def _printed(text: str, besides: str = "") -> str:
    # Looked at letter by letter only where something is odd.
    if not text.isprintable() and any(
        unicodedata.category(c) in _NOT_PRINTED and c not in besides for c in text
    ):
        raise PredicateError(tr("is text of one line, of letters, figures and signs"))
    return text


def _printed_lines(text: str) -> str:
    return _printed(text, "\n\t")


ONE_LINE = Checked((_printed,))
"""Mark of a text on one line."""

MANY_LINES = Checked((_printed_lines,))
"""Mark of a text that may run over several lines."""

TextLine = Annotated[str, ONE_LINE]
"""Text on one line."""


def _no_truth(value: Any) -> Any:
    if isinstance(value, bool):
        raise InputError(tr("{lower} is no number").format(lower=str(value).lower()))
    return value


def _read_length(value: Any) -> Any:
    _no_truth(value)
    return parse_length(value) if isinstance(value, str) else value


def _finite(value: float) -> float:
    if not math.isfinite(value) or abs(value) > LONGEST:
        raise InputError(
            tr("{value} mm is not a length that can be planned (up to {LONGEST:,.0f} mm)").format(
                value=value, LONGEST=LONGEST
            )
        )
    return value


def _not_negative(value: float) -> float:
    if value < 0:
        raise PredicateError(tr("must not be negative"))
    return value


def _positive(value: float) -> float:
    if value <= 0:
        raise InputError(
            tr("{value} is not more than zero").format(value=show_length(value, _Units.MM))
        )
    return value


_LENGTH_SCHEMA = {
    "anyOf": [
        {"type": "number", "description": "mm"},
        {
            "type": "string",
            "description": 'as written: 8 1/2", 3/8 in, 216 mm; inches when no unit is given',
        },
    ]
}

Length = Annotated[float, Checked((_finite,), _read_length, _LENGTH_SCHEMA)]
"""A length: mm as a number, or text that :func:`parse_length` reads."""

PositiveLength = Annotated[float, Checked((_finite, _positive), _read_length, _LENGTH_SCHEMA)]
"""A length above zero."""

LengthOrZero = Annotated[float, Checked((_finite, _not_negative), _read_length, _LENGTH_SCHEMA)]
"""A length of zero or more."""


def _read_angle(value: Any) -> Any:
    _no_truth(value)
    return parse_angle(value) if isinstance(value, str) else value


Angle = Annotated[float, Checked((_finite,), _read_angle)]
"""An angle in degrees: a number, or text that :func:`parse_angle` reads."""


def is_length(metadata: list[Any]) -> bool:
    """True for the metadata of a :data:`Length` field."""
    return any(isinstance(item, Checked) and item.reads is _read_length for item in metadata)


def is_angle(metadata: list[Any]) -> bool:
    """True for the metadata of an :data:`Angle` field."""
    return any(isinstance(item, Checked) and item.reads is _read_angle for item in metadata)


def unwrapped(annotation: Any, metadata: list[Any]) -> tuple[Any, list[Any], bool]:
    """The plain type of a field, everything annotated on it, and whether it may be None."""
    optional = False
    while True:
        origin = get_origin(annotation)
        if origin is Annotated:
            annotation, *more = get_args(annotation)
            metadata = [*metadata, *more]
        elif origin in (typing.Union, types.UnionType) and type(None) in get_args(annotation):
            optional = True
            rest = [a for a in get_args(annotation) if a is not type(None)]
            if len(rest) != 1:
                return annotation, metadata, optional
            annotation = rest[0]
        else:
            return annotation, metadata, optional
