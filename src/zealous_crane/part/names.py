"""Names of everything that stands on a part: those a person gave, and what is called after its edge. Names are data, the same in every
language."""

from __future__ import annotations

from ..measure.input_error import InputError
from ..measure.words import tr
from .design import Design, Facet, Flange, Standing
from .edge import Edge
from .edging import Hem, HemForm, Joggle, Seam
from .edit import Path

BASE = "base"
"""What the panel everything stands on is called."""


def usual_name(one: Standing, carrier: str, level: int) -> str:
    """What something is called where nobody names it: ``front wall``, ``left lip``, ``front hem``.

    Args:
        one: what stands there.
        carrier: name of the panel it stands on.
        level: 1 on the base, 2 on what stands there, and so on.
    """
    if isinstance(one, Hem):
        word = "safety edge" if one.form is HemForm.ROLLED else "hem"
    elif isinstance(one, Joggle):
        word = "joggle"
    elif isinstance(one, Seam):
        word = one.form.stem
    elif level == 1:
        return f"{one.edge} wall"
    else:
        word = "lip" if one.edge == Edge.BACK else f"{one.edge} tab"
    if level == 1:
        return f"{one.edge} {word}"
    stem = carrier.removesuffix(" wall")
    if isinstance(one, Hem | Joggle | Seam) and one.edge != Edge.BACK:
        return f"{stem} {one.edge} {word}"
    return f"{stem} {word}"


def names_of(design: Design, *, twice: bool = False) -> dict[Path, str]:
    """The name of everything that stands on a part, by where it is written; no two are alike.

    Args:
        design: the part.
        twice: a name that was given twice gets a number, as one that was not given does.

    Raises:
        InputError: a name is given that another has.
    """
    found: dict[Path, str] = {}
    taken = {BASE}

    def free(wanted: str) -> str:
        name, number = wanted, 1
        while name in taken:
            number += 1
            name = f"{wanted} {number}"
        return name

    def walk(standing: tuple[Standing, ...], carrier: str, path: Path) -> None:
        for i, one in enumerate(standing):
            here = (*path, i)
            if one.name and one.name in taken and not twice:
                raise InputError(tr("Two panels are called {name}; give each its own name.").format(name=one.name))
            name = found[here] = free(one.name or usual_name(one, carrier, len(here)))
            taken.add(name)
            if isinstance(one, Flange | Facet):
                walk(one.flanges, name, here)

    walk(design.flanges, "", ())
    return found
