"""Names of everything that stands on a part: those a person gave, and what is called after its
edge. Names are data, the same in every language."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from ..errors import INPUT_ERRORS, InputError
from ..i18n import the, tr
from ..schema.model import is_length, unwrapped
from ..units.length import Units, round_figure
from .design import Base, Design, Facet, Flange, Path, Standing
from .edge import Edge, Hem, HemForm, Joggle, Seam
from .template import PartTemplate

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
    result: dict[Path, str] = {}
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
                raise InputError(
                    tr("Two panels are called {name}; give each its own name.").format(
                        name=one.name
                    )
                )
            name = result[here] = free(one.name or usual_name(one, carrier, len(here)))
            taken.add(name)
            if isinstance(one, Flange | Facet):
                walk(one.flanges, name, here)

    walk(design.flanges, "", ())
    return result


Keys = tuple[str | int, ...]
"""Where a value stands in a model's record: names of fields and places in rows."""


@dataclass(frozen=True)
class Size:
    """One length of a part.

    Attributes:
        keys: where it stands in the part's record.
        title: as the shop calls it.
        value: mm.
    """

    keys: Keys
    title: str
    value: float

    @property
    def name(self) -> str:
        """Where it stands, written in one: ``length``, ``tree.base.length``."""
        return ".".join(str(key) for key in self.keys)

    def changed(self, part: PartTemplate, value: float) -> PartTemplate:
        """The part with this size changed, mm.

        Raises:
            InputError: the part cannot be so.
        """
        record = part.model_dump()
        holder: Any = record
        for key in self.keys[:-1]:
            if isinstance(holder[key], tuple):
                holder[key] = list(holder[key])
            holder = holder[key]
        holder[self.keys[-1]] = value
        return type(part).model_validate(record)


def sizes(part: PartTemplate) -> tuple[Size, ...]:
    """Every length of a part that is given: of a ready kind its own, of a design those of its
    panels and edges."""
    tree = getattr(part, "tree", None)
    return tuple(_of_tree(tree) if isinstance(tree, Design) else _of_kind(part))


def in_round_figures(part: PartTemplate, units: Units) -> PartTemplate:
    """The part with every size in round figures of these units, as far as it can be made so."""
    for size in sizes(part):
        value = round_figure(size.value, units)
        if value != size.value:
            try:
                part = size.changed(part, value)
            except INPUT_ERRORS:
                continue  # another size holds this one; it keeps its odd figure
    return part


def larger(part: PartTemplate, name: str, by: float) -> PartTemplate:
    """The part with one size larger by so much, mm.

    Args:
        part: the part.
        name: of the size.
        by: so much, mm.

    Raises:
        InputError: no such size, or nothing is left of it.
    """
    size = next((size for size in sizes(part) if size.name == name), None)
    return part.larger(name, by) if size is None else size.changed(part, size.value + by)


def size_title(part: PartTemplate, name: str) -> str:
    """What the shop calls a size."""
    return next(
        (size.title for size in sizes(part) if size.name == name),
        name.replace("_", " ").capitalize(),
    )


def _of_kind(part: PartTemplate) -> Iterator[Size]:
    for name, info in type(part).model_fields.items():
        plain, metadata, _ = unwrapped(info.annotation, list(info.metadata))
        value, title = getattr(part, name), tr(info.title or name.replace("_", " ").capitalize())
        if plain is float and is_length(metadata) and isinstance(value, float):
            yield Size((name,), title, value)
        elif (
            isinstance(value, tuple)
            and value
            and all(isinstance(v, float) for v in value)
            and name == "legs"
        ):
            yield from (
                Size((name, i), tr("Leg {number}").format(number=i + 1), v)
                for i, v in enumerate(value)
            )


def _of_tree(tree: Design) -> Iterator[Size]:
    if isinstance(tree.base, Base):
        yield Size(("tree", "base", "length"), tr("Length of the base"), tree.base.length)
        yield Size(("tree", "base", "width"), tr("Width of the base"), tree.base.width)
    yield from _standing(tree, ("tree",), (), names_of(tree, twice=True))


def _standing(carrier: Any, keys: Keys, path: Path, names: Mapping[Path, str]) -> Iterator[Size]:
    for i, one in enumerate(carrier.flanges):
        here: Keys = (*keys, "flanges", i)
        name = names[(*path, i)]
        if isinstance(one, Flange):
            yield Size((*here, "height"), tr("Height of {name}").format(name=the(name)), one.height)
        elif isinstance(one, Hem):
            yield Size((*here, "length"), tr("Length of {name}").format(name=the(name)), one.length)
        elif isinstance(one, Seam) and one.allowance is not None:
            yield Size(
                (*here, "allowance"),
                tr("Allowance of {name}").format(name=the(name)),
                one.allowance,
            )
        elif isinstance(one, Joggle):
            yield Size((*here, "lap"), tr("Lap of {name}").format(name=the(name)), one.lap)
        if hasattr(one, "flanges"):
            yield from _standing(one, here, (*path, i), names)
