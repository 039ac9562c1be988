"""What may be asked of whoever plans, and what is told of it: data alone, so that a window that
asks brings no engine in."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, NamedTuple

from ..brake.library import MachineLibrary
from ..flat.blank import Blank
from ..job.job import Job

Call = tuple[Callable[..., object], tuple[Any, ...]]
"""A function of a module, and what it is given; both must stand being written down."""


@dataclass(frozen=True)
class Ask:
    """What is to be planned.

    Attributes:
        job: what is wanted; its brake is in the rack.
        blank: its flat.
        rack: the brakes of the shop.
    """

    job: Job
    blank: Blank
    rack: MachineLibrary


@dataclass(frozen=True)
class Calls:
    """Any other work for the process that plans: functions called in turn, each answer sent as soon
    as it is ready.

    Attributes:
        calls: the functions with their arguments, in order.
    """

    calls: tuple[Call, ...]


Asked = Ask | Calls


class Progress(NamedTuple):
    """How far a search is: strokes judged, names of the folds that stand where it looks, folds in
    all."""

    judged: int
    standing: tuple[str, ...]
    of: int


class EventKind(StrEnum):
    """What a run tells, and what comes with it."""

    FOUND = "found"
    """A plan: the first order that works, marked so; then the one that is kept; then with its
    cures. Or the answer of a call."""
    ADVANCED = "advanced"
    """:class:`Progress`."""
    MOVED = "moved"
    """A sentence: whoever worked on it is gone, and somebody else goes on from the beginning."""
    FAILED = "failed"
    """The way to a fault of the program, as text."""
    ENDED = "ended"
    """None: the run is through."""


Tell = Callable[[EventKind, object], None]
