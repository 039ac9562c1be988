"""Help of the command line in the language of its user: it is written beside the commands, in English."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..measure.words import tr


def helps(command: Any) -> Iterator[tuple[Any, str]]:
    """Whoever has help in a tree of commands, and the name of the attribute it stands in."""
    yield from ((command, name) for name in ("help", "short_help") if getattr(command, name, None))
    yield from ((parameter, "help") for parameter in command.params if getattr(parameter, "help", None))
    for below in getattr(command, "commands", {}).values():
        yield from helps(below)


def translate(command: Any) -> None:
    """Put the help of a tree of commands into the user's language."""
    for owner, name in helps(command):
        setattr(owner, name, tr(getattr(owner, name)))
