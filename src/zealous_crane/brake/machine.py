"""Any brake, by what its file says it is."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BeforeValidator, Discriminator, Tag, TypeAdapter

from .leaf_brake import LeafBrake
from .press_brake import PressBrake


def _kind(value: Any) -> str:
    """``leaf`` or ``press``; files that do not say are leaf brakes."""
    if isinstance(value, dict):
        return str(value.get("kind", "leaf"))
    return str(getattr(value, "kind", "leaf"))


def _given(value: Any) -> Any:
    if not isinstance(value, dict | LeafBrake | PressBrake):
        raise ValueError("a brake is written as fields and their values")
    return value


Brake = LeafBrake | PressBrake

AnyBrake = Annotated[
    Annotated[LeafBrake, Tag("leaf")] | Annotated[PressBrake, Tag("press")], Discriminator(_kind), BeforeValidator(_given)
]

BRAKE: TypeAdapter[Brake] = TypeAdapter(AnyBrake)
"""Reads either kind, from fields or from JSON."""
