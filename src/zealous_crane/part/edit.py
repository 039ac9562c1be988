"""Changing one thing in a design tree: everything else stays, and the result is checked as if it had been written."""

from __future__ import annotations

from typing import Any

from ..measure.input_error import InputError
from ..measure.words import tr
from .design import Design, Facet, Flange, Standing

Path = tuple[int, ...]
"""Where something is written in a design: its place among the flanges on every level; empty for the base."""


def at(design: Design, path: Path) -> Standing:
    """What is written at a path.

    Raises:
        IndexError: nothing is there.
    """
    found: Any = design
    for i in path:
        found = found.flanges[i]
    standing: Standing = found
    return standing


def replaced(design: Design, path: Path, new: Standing | None) -> Design:
    """The design with another thing at a path; None takes it away with all it carries.

    Raises:
        InputError: the result is not a design.
    """
    record = design.model_dump()
    holder = record
    for i in path[:-1]:
        holder = holder["flanges"][i]
    flanges = list(holder["flanges"])
    flanges[path[-1] : path[-1] + 1] = [] if new is None else [new.model_dump()]
    holder["flanges"] = flanges
    return Design.model_validate(record)


def added(design: Design, carrier: Path, new: Standing) -> tuple[Design, Path]:
    """The design with something more on a panel, and where it is written.

    Raises:
        InputError: the panel cannot carry it there.
    """
    if carrier:
        panel = at(design, carrier)
        if not isinstance(panel, Flange | Facet):
            raise InputError(tr("a hem, a joggle or a seam carries nothing more"))
        grown = panel.model_copy(update={"flanges": (*panel.flanges, new)})
        return replaced(design, carrier, grown), (*carrier, len(panel.flanges))
    record = design.model_dump()
    record["flanges"] = [*record["flanges"], new.model_dump()]
    return Design.model_validate(record), (len(design.flanges),)
