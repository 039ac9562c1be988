"""Anything else that is worked out where plans are: functions called one after the other, each answer told as soon as it is there."""

from __future__ import annotations

import traceback
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from .run import Heard, Tell

Call = tuple[Callable[..., object], tuple[Any, ...]]
"""A function of a module, and what it is given; both must stand being written down."""


@dataclass(frozen=True)
class Calls:
    """What is to be worked out.

    Attributes:
        calls: one after the other.
    """

    calls: tuple[Call, ...]

    def run(self, tell: Tell, cancelled: Callable[[], bool]) -> None:
        """Call them; a ``ValueError`` is a sentence for the person, and an answer like any other. Nothing is told once it is called off."""
        try:
            for function, given in self.calls:
                if cancelled():
                    return
                try:
                    answer = function(*given)
                except ValueError as error:
                    answer = error
                if not cancelled():
                    tell(Heard.FOUND, answer)
            if not cancelled():
                tell(Heard.ENDED, None)
        except Exception:
            tell(Heard.FAILED, traceback.format_exc())
