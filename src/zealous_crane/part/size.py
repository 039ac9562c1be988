"""The sizes of a part, one by one, and the part with one of them changed."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from ..measure.dataclass import dataclass
from ..measure.field import is_length, unwrapped
from ..measure.words import the, tr
from .design import Base, Design, Flange
from .edging import Hem, Joggle, Seam
from .edit import Path
from .names import names_of
from .ready import Ready

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

    def changed(self, part: Ready, value: float) -> Ready:
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


def sizes(part: Ready) -> tuple[Size, ...]:
    """Every length of a part that is given: of a ready kind its own, of a design those of its panels and edges."""
    tree = getattr(part, "tree", None)
    return tuple(_of_tree(tree) if isinstance(tree, Design) else _of_kind(part))


def larger(part: Ready, name: str, by: float) -> Ready:
    """The part with one size larger by so much, mm.

    Raises:
        InputError: no such size, or nothing is left of it.
    """
    size = next((size for size in sizes(part) if size.name == name), None)
    return part.larger(name, by) if size is None else size.changed(part, size.value + by)


def size_title(part: Ready, name: str) -> str:
    """What the shop calls a size."""
    return next((size.title for size in sizes(part) if size.name == name), name.replace("_", " ").capitalize())


def _of_kind(part: Ready) -> Iterator[Size]:
    for name, info in type(part).model_fields.items():
        plain, metadata, _ = unwrapped(info.annotation, list(info.metadata))
        value, title = getattr(part, name), tr(info.title or name.replace("_", " ").capitalize())
        if plain is float and is_length(metadata) and isinstance(value, float):
            yield Size((name,), title, value)
        elif isinstance(value, tuple) and value and all(isinstance(v, float) for v in value) and name == "legs":
            yield from (Size((name, i), tr("Leg {number}").format(number=i + 1), v) for i, v in enumerate(value))


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
            yield Size((*here, "allowance"), tr("Allowance of {name}").format(name=the(name)), one.allowance)
        elif isinstance(one, Joggle):
            yield Size((*here, "lap"), tr("Lap of {name}").format(name=the(name)), one.lap)
        if hasattr(one, "flanges"):
            yield from _standing(one, here, (*path, i), names)
