"""Dataclasses that are there soon: the program has two hundred, and all are made before the window stands."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from operator import attrgetter
from typing import TYPE_CHECKING, Any, TypeVar

__all__ = ["dataclass"]

T = TypeVar("T")


def _represented(self: Any) -> str:
    shown = (f"{field.name}={getattr(self, field.name)!r}" for field in dataclasses.fields(self) if field.repr)
    return f"{type(self).__qualname__}({', '.join(shown)})"


def _compared(cls: type[Any], frozen: bool) -> None:
    """Instances of the same class are equal where their fields are; frozen ones can be keys by them."""
    names = [field.name for field in dataclasses.fields(cls) if field.compare]
    # Of one name the value itself would be got, and an array is not compared as a tuple that holds it.
    values: Callable[[Any], object] = (
        attrgetter(*names) if len(names) > 1 else lambda self: tuple(getattr(self, n) for n in names)
    )

    def same(self: Any, other: object) -> Any:
        if self is other:
            return True
        return values(self) == values(other) if other.__class__ is self.__class__ else NotImplemented

    def number(self: Any) -> int:
        return hash(values(self))

    cls.__eq__ = same  # type: ignore[assignment]
    if "__hash__" not in cls.__dict__:
        cls.__hash__ = number if frozen else None  # type: ignore[assignment]


if TYPE_CHECKING:
    from dataclasses import dataclass
else:

    def dataclass(cls: type[T] | None = None, /, *, frozen: bool = False, eq: bool = True) -> Any:
        """The standard library's ``dataclass`` in a quarter of the time and with the same answers. That one writes and compiles six
        methods for every class; five of them can be shared, as only ``__init__`` differs in more than the names of its fields.

        Nothing is stored in a frozen one: the type checker sees to that, at each store that is written, not at each that is made.
        """

        def made(cls: type[T]) -> type[T]:
            own = cls.__dict__
            answers, compares = "__repr__" in own, "__eq__" in own
            dataclasses.dataclass(repr=False, eq=False)(cls)
            if not answers:
                cls.__repr__ = _represented
            if eq and not compares:
                _compared(cls, frozen)
            return cls

        return made if cls is None else made(cls)
