"""Answers kept by what was asked, so that many can be worked out in one go."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from typing import Generic, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


class Known(Generic[K, V]):
    """Answers by question; all are dropped when there are too many.

    Args:
        most: answers kept.
    """

    def __init__(self, most: int = 50_000) -> None:
        self._most = most
        self._answers: dict[K, V] = {}

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
