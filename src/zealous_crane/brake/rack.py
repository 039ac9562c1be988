"""The shop's brakes: those that ship with the program and those a person adds as files."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from importlib import resources
from pathlib import Path

from pydantic import ValidationError

from ..measure.dataclass import dataclass
from ..measure.input_error import InputError
from ..measure.plain_json import read_json
from ..measure.report import readable
from ..measure.text import cut
from ..measure.words import tr
from .brake import Brake
from .machine import BRAKE

LARGEST = 5_000_000
"""Bytes; a brake file is a few kilobytes."""


RETIRED = "retired.txt"
"""A file in the shop's folder of brakes: keys of those it has retired, one a line."""


class BrakeError(InputError):
    """A brake file that could not be used; the message says what to change."""


@dataclass(frozen=True)
class Rack:
    """The brakes of one shop, by key.

    Attributes:
        brakes: all of them.
        retired: keys of those that are not offered any more; jobs that were planned on them still find them.
        own: keys of those the shop has itself; the others ship with the program, as examples.
    """

    brakes: tuple[Brake, ...]
    retired: frozenset[str] = frozenset()
    own: frozenset[str] = frozenset()

    @property
    def in_use(self) -> tuple[Brake, ...]:
        """The brakes that are offered: the shop's own, and the examples while it has none."""
        kept = tuple(brake for brake in self.brakes if brake.key not in self.retired)
        return tuple(brake for brake in kept if brake.key in self.own) or kept

    def with_retired(self, key: str, *, retired: bool) -> Rack:
        """The rack with a brake retired, or taken back."""
        return self.with_retired_keys(self.retired | {key} if retired else self.retired - {key})

    def with_retired_keys(self, retired: Iterable[str]) -> Rack:
        """The rack with these brakes retired and no others."""
        return replace(self, retired=frozenset(retired))

    def __getitem__(self, key: str) -> Brake:
        """The brake of that key.

        Raises:
            BrakeError: there is none; the message lists those there are.
        """
        brake = self.find(key)
        if brake is not None:
            return brake
        known = ", ".join(brake.key for brake in self.brakes)
        raise BrakeError(tr("The brake {key!r} is not in this shop. Known: {known}.").format(key=cut(key), known=known))

    def find(self, key: str) -> Brake | None:
        """The brake of that key; None where this shop does not have it."""
        return next((brake for brake in self.brakes if brake.key == key), None)

    def under_a_free_key(self, brake: Brake) -> Brake:
        """A brake under a key that none of these has: its own with a number behind it."""
        key = next(key for n in range(2, 1000) if self.find(key := f"{brake.key}-{n}") is None)
        return brake.model_copy(update={"key": key})

    def with_brakes(self, more: Iterable[Brake], *, own: bool = False) -> Rack:
        """A rack with further brakes; one with a known key takes its place. ``own`` brakes are the shop's from now on."""
        added = {brake.key: brake for brake in more}
        kept = tuple(brake for brake in self.brakes if brake.key not in added)
        return replace(self, brakes=kept + tuple(added.values()), own=self.own | added.keys() if own else self.own)


def read_brake(path: Path) -> Brake:
    """Read a brake file.

    Raises:
        BrakeError: not readable, not JSON, or not a brake.
    """
    try:
        data = read_json(path, LARGEST)
    except (OSError, InputError) as error:
        why = (error.strerror if isinstance(error, OSError) else None) or cut(error)
        raise BrakeError(tr("{name} could not be read as a brake file: {why}.").format(name=cut(path.name), why=why)) from None
    try:
        return BRAKE.validate_python(data)
    except ValidationError as error:
        raise BrakeError(f"{cut(path.name)}: {readable(error)}") from None
    except RecursionError:
        raise BrakeError(tr("{name} is nested far too deeply to be a brake file.").format(name=cut(path.name))) from None


def shipped_rack() -> Rack:
    """The invented brakes that ship with the program."""
    folder = resources.files(__package__) / "shipped"
    files = sorted((entry for entry in folder.iterdir() if entry.name.endswith(".json")), key=lambda e: e.name)
    return Rack(tuple(BRAKE.validate_json(entry.read_text(encoding="utf-8")) for entry in files))


def shop_rack(folder: Path | None = None) -> tuple[Rack, tuple[str, ...]]:
    """The shipped brakes and those in a shop's own folder of brake files.

    Returns:
        the rack, and a sentence for every file in the folder that could not be used.
    """
    rack, complaints = shipped_rack(), []
    if folder is not None and folder.is_dir():
        for path in sorted(folder.glob("*.json")):
            try:
                rack = rack.with_brakes([read_brake(path)], own=True)
            except BrakeError as error:
                complaints.append(str(error))
        known = {brake.key for brake in rack.brakes}
        rack = replace(rack, retired=frozenset(read_retired(folder)) & known)
    return rack, tuple(complaints)


def read_retired(folder: Path) -> tuple[str, ...]:
    """Keys of the brakes a shop has retired, as its folder says; none where it says nothing."""
    try:
        return tuple(line.strip() for line in (folder / RETIRED).read_text(encoding="utf-8-sig").splitlines() if line.strip())
    except (OSError, UnicodeDecodeError):
        return ()
