"""What was worked out last, by what it depends on."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

T = TypeVar("T")


class Kept(Generic[T]):
    """The last few answers; the oldest go first.

    Args:
        most: answers kept.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._answers: OrderedDict[Hashable, T] = OrderedDict()

    def of(self, key: Hashable, work: Callable[[], T]) -> T:
        """The answer under a key, worked out where it is not there."""
        answer = self._answers.get(key)
        if answer is None:
            # Kept and given by name: another thread may drop what this one has just kept.
            answer = self._answers[key] = work()
            while len(self._answers) > self._most:
                self._answers.popitem(last=False)
        return answer
