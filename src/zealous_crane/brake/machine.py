"""The kinds of machine there are, and any of them by what its file says it is."""

from __future__ import annotations

from typing import Annotated, Any, cast

from pydantic import BeforeValidator, Discriminator, Tag, TypeAdapter

from ..measure.input_error import InputError
from ..measure.words import tr
from .brake import Brake
from .hand_folder import HandFolder
from .leaf_brake import LeafBrake
from .press_brake import PressBrake

KINDS: tuple[type[Brake], ...] = (LeafBrake, PressBrake, HandFolder)
"""Every kind of machine. What the plan knows of each is in ``plan/stroke/machines.py``."""


def _kind(value: Any) -> str:
    """The kind; files that do not say are leaf brakes."""
    if isinstance(value, dict):
        return str(value.get("kind", "leaf"))
    return str(getattr(value, "kind", "leaf"))


def _given(value: Any) -> Any:
    if not isinstance(value, dict | Brake):
        raise InputError(tr("a brake is written as fields and their values"))
    return value


def _any_kind() -> Any:
    found: Any = None
    for kind in KINDS:
        tagged: Any = Annotated[cast(Any, kind), Tag(str(kind.model_fields["kind"].default))]
        found = tagged if found is None else found | tagged
    return Annotated[found, Discriminator(_kind), BeforeValidator(_given)]


BRAKE: TypeAdapter[Brake] = TypeAdapter(cast(Any, _any_kind()))
"""Reads any kind, from fields or from JSON."""
