"""Lengths and angles as fields of the models people write: numbers (mm, degrees) or written text."""

from __future__ import annotations

import math
import types
import typing
from typing import Annotated, Any, get_args, get_origin

from .angle import parse_angle
from .checked import Checked
from .input_error import InputError, PredicateError
from .length import LONGEST, parse_length, show_length
from .length import Units as _Units
from .words import tr


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
            tr("{value} mm is not a length that can be planned (up to {LONGEST:,.0f} mm)").format(value=value, LONGEST=LONGEST)
        )
    return value


def _not_negative(value: float) -> float:
    if value < 0:
        raise PredicateError(tr("must not be negative"))
    return value


def _positive(value: float) -> float:
    if value <= 0:
        raise InputError(tr("{value} is not more than zero").format(value=show_length(value, _Units.MM)))
    return value


_LENGTH_SCHEMA = {
    "anyOf": [
        {"type": "number", "description": "mm"},
        {"type": "string", "description": 'as written: 8 1/2", 3/8 in, 216 mm; inches when no unit is given'},
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
