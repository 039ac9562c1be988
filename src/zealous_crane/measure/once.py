"""Answers worked out when they are first asked for, and kept with what they belong to."""

from __future__ import annotations

from functools import cached_property
from typing import Self, TypeVar, overload

T = TypeVar("T")


class once(cached_property[T]):  # noqa: N801 - it is written as a decorator
    """``functools.cached_property`` without its lock, as it is from Python 3.12 on: that took two thirds of the time, and an engine that
    asks for some ten thousand such answers in a second never needs it. Where two threads ask at the same moment both work the answer
    out, and either may be kept."""

    @overload
    def __get__(self, instance: None, owner: type[object] | None = None) -> Self: ...

    @overload
    def __get__(self, instance: object, owner: type[object] | None = None) -> T: ...

    def __get__(self, instance: object, owner: type[object] | None = None) -> Self | T:
        if instance is None:
            return self
        answer = instance.__dict__[self.attrname] = self.func(instance)  # type: ignore[index]  # its class has named it
        return answer
