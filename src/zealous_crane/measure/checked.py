"""What a field of a model is read with and what it must hold, as one mark on its type."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema
from pydantic_core.core_schema import no_info_after_validator_function, no_info_before_validator_function

from .dataclass import dataclass


@dataclass(frozen=True, eq=False)
class Checked:
    """A mark for ``Annotated``. The library's own marks look each function's signature up anew at every field of every model, over a
    thousand times when a job is read; here it is known.

    Args:
        holds: checks of the value, in order; each returns it, or raises InputError.
        reads: turns what was given into something the plain type takes.
        written_as: JSON schema of what may be given; None for that of the plain type.
    """

    holds: tuple[Callable[[Any], Any], ...] = ()
    reads: Callable[[Any], Any] | None = None
    written_as: dict[str, Any] | None = None

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        schema = handler(source)
        if self.reads is not None:
            schema = no_info_before_validator_function(self.reads, schema)
        for check in self.holds:
            schema = no_info_after_validator_function(check, schema)
        return schema

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        if self.written_as is not None and handler.mode == "validation":
            return dict(self.written_as)
        return handler(schema)
