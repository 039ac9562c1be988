"""What the engine keeps of what it worked out, declared where it is kept and let go of in one
place.

One process plans one job at a time: what is kept belongs to its run, and :func:`forget` ends it.
What is kept of a brake as it stands, whatever is bent on it, outlives the run (``lasts``).
"""

from __future__ import annotations

import gc
from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from functools import lru_cache
from typing import Any, Generic, ParamSpec, TypeVar, cast

A = ParamSpec("A")
R = TypeVar("R")
K = TypeVar("K", bound=Hashable)
V = TypeVar("V")

_forgets: list[Callable[[], None]] = []


def cached(most: int, *, lasts: bool = False) -> Callable[[Callable[A, R]], Callable[A, R]]:
    """A function whose answers are kept by what it is given.

    Args:
        most: answers kept; those longest unasked go first.
        lasts: they are kept from run to run.
    """

    def keeping(work: Callable[A, R]) -> Callable[A, R]:
        wrapped: Any = lru_cache(maxsize=most)(work)
        if not lasts:
            _forgets.append(wrapped.cache_clear)
        return cast("Callable[A, R]", wrapped)

    return keeping


class BatchCache(Generic[K, V]):
    """Answers by question, so that many can be worked out in one go; all are dropped when there are
    too many.

    Args:
        most: answers kept.
    """

    def __init__(self, most: int = 50_000) -> None:
        self._most = most
        self._answers: dict[K, V] = {}
        _forgets.append(self.forget)

    def ask(self, keys: Sequence[K], work: Callable[[Sequence[K]], list[V]]) -> list[V]:
        """The answers to some questions; ``work`` is given those that are new, each once."""
        answers = self._answers
        new = [key for key in dict.fromkeys(keys) if key not in answers]
        if new:
            if len(answers) > self._most:
                # Another thread may still be reading the old ones.
                answers = self._answers = {key: answers[key] for key in keys if key in answers}
            answers.update(zip(new, work(new), strict=True))
        return [answers[key] for key in keys]

    def forget(self) -> None:
        """Drop everything."""
        self._answers = {}


def forget() -> None:
    """Drop every answer kept of pieces, tools and strokes: nothing is asked again of a job that was
    put away."""
    for drop in _forgets:
        drop()


SELDOM = (20_000, 20, 10)
"""Things made since the last look for garbage, younger looks before an older one, and those before
one through everything."""


def collect_seldom() -> None:
    """Look for garbage seldom from now on, and never among what was loaded by now. A plan makes
    some hundred thousand things that stay, and next to nothing that goes in a circle: with Python's
    usual 700 a twentieth of its time goes into looking. For a process that only reckons; one with a
    window in it collects on the window's thread."""
    gc.freeze()
    gc.set_threshold(*SELDOM)


T = TypeVar("T")


class RecentCache(Generic[T]):
    """The last few answers; the oldest go first.

    Args:
        most: answers kept.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._answers: OrderedDict[Hashable, T] = OrderedDict()

    def __contains__(self, key: object) -> bool:
        return key in self._answers

    def of(self, key: Hashable, work: Callable[[], T]) -> T:
        """The answer under a key, worked out where it is not there."""
        answer = self._answers.get(key)
        if answer is None:
            # Kept and given by name: another thread may drop what this one has just kept.
            answer = self._answers[key] = work()
            while len(self._answers) > self._most:
                self._answers.popitem(last=False)
        return answer
