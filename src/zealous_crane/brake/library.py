"""The kinds of machine there are, and any of them by what its file says it is."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from importlib import resources
from pathlib import Path
from typing import Annotated, Any, cast

from pydantic import BeforeValidator, Discriminator, Tag, TypeAdapter, ValidationError

from ..errors import InputError
from ..i18n import Message, msg, tr
from ..job.job import Job
from ..schema.model import is_length, unwrapped
from ..schema.reading import read_json, readable
from ..units.length import INCH, Units, cut, round_figure, show_length
from .brake import Brake
from .hand_folder import HandFolder
from .leaf_brake import LeafBrake
from .press_brake import PressBrake, gooseneck_punch, straight_punch, v_die
from .tools import Segment

KINDS: tuple[type[Brake], ...] = (LeafBrake, PressBrake, HandFolder)
"""Every kind of machine. What the plan knows of each is in ``bending/machines.py``."""


def _kind(value: Any) -> str:
    """The kind; files that do not say are leaf brakes."""
    if isinstance(value, dict):
        return str(value.get("kind", "leaf"))
    return str(getattr(value, "kind", "leaf"))


def _given(value: Any) -> Any:
    if not isinstance(value, dict | Brake):
        raise InputError(tr("a brake is written as fields and their values"))
    return value


def _any_kind() -> Any:
    result: Any = None
    for kind in KINDS:
        tagged: Any = Annotated[cast(Any, kind), Tag(str(kind.model_fields["kind"].default))]
        result = tagged if result is None else result | tagged
    return Annotated[result, Discriminator(_kind), BeforeValidator(_given)]


BRAKE: TypeAdapter[Brake] = TypeAdapter(cast(Any, _any_kind()))
"""Reads any kind, from fields or from JSON."""


LARGEST = 5_000_000
"""Bytes; a brake file is a few kilobytes."""


RETIRED = "retired.txt"
"""A file in the shop's folder of brakes: keys of those it has retired, one a line."""


class BrakeError(InputError):
    """A brake file that could not be used; the message says what to change."""


@dataclass(frozen=True)
class MachineLibrary:
    """The brakes of one shop, by key.

    Attributes:
        brakes: all of them.
        retired: keys of those that are not offered any more; jobs that were planned on them still
            find them.
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

    def with_retired(self, key: str, *, retired: bool) -> MachineLibrary:
        """The rack with a brake retired, or taken back."""
        return self.with_retired_keys(self.retired | {key} if retired else self.retired - {key})

    def with_retired_keys(self, retired: Iterable[str]) -> MachineLibrary:
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
        raise BrakeError(
            tr("The brake {key!r} is not in this shop. Known: {known}.").format(
                key=cut(key), known=known
            )
        )

    def find(self, key: str) -> Brake | None:
        """The brake of that key; None where this shop does not have it."""
        return next((brake for brake in self.brakes if brake.key == key), None)

    def under_a_free_key(self, brake: Brake) -> Brake:
        """A brake under a key that none of these has: its own with a number behind it."""
        key = next(key for n in range(2, 1000) if self.find(key := f"{brake.key}-{n}") is None)
        return brake.model_copy(update={"key": key})

    def with_brakes(self, more: Iterable[Brake], *, own: bool = False) -> MachineLibrary:
        """A rack with further brakes; one with a known key takes its place. ``own`` brakes are the
        shop's from now on."""
        added = {brake.key: brake for brake in more}
        kept = tuple(brake for brake in self.brakes if brake.key not in added)
        return replace(
            self,
            brakes=kept + tuple(added.values()),
            own=self.own | added.keys() if own else self.own,
        )


def read_brake(path: Path) -> Brake:
    """Read a brake file.

    Raises:
        BrakeError: not readable, not JSON, or not a brake.
    """
    try:
        data = read_json(path, LARGEST)
    except (OSError, InputError) as error:
        why = (error.strerror if isinstance(error, OSError) else None) or cut(error)
        raise BrakeError(
            tr("{name} could not be read as a brake file: {why}.").format(
                name=cut(path.name), why=why
            )
        ) from None
    try:
        return BRAKE.validate_python(data)
    except ValidationError as error:
        raise BrakeError(f"{cut(path.name)}: {readable(error)}") from None
    except RecursionError:
        raise BrakeError(
            tr("{name} is nested far too deeply to be a brake file.").format(name=cut(path.name))
        ) from None


def shipped_rack() -> MachineLibrary:
    """The invented brakes that ship with the program."""
    folder = resources.files(__package__) / "shipped"
    files = sorted(
        (entry for entry in folder.iterdir() if entry.name.endswith(".json")), key=lambda e: e.name
    )
    return MachineLibrary(
        tuple(BRAKE.validate_json(entry.read_text(encoding="utf-8")) for entry in files)
    )


def shop_rack(folder: Path | None = None) -> tuple[MachineLibrary, tuple[str, ...]]:
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
        return tuple(
            line.strip()
            for line in (folder / RETIRED).read_text(encoding="utf-8-sig").splitlines()
            if line.strip()
        )
    except (OSError, UnicodeDecodeError):
        return ()


@dataclass(frozen=True)
class NewBrake:
    """A kind of machine to begin with.

    Attributes:
        label: as the shop calls it.
        make: makes one from a key and a name, in the sizes of shops that measure in these units.
    """

    label: Message
    make: Callable[[str, str, Units], Brake]

    def begin(self, rack: MachineLibrary, units: Units) -> Brake:
        """One with a name and a key the rack does not have yet.

        Args:
            rack: the machines there are.
            units: its sizes are round figures in these.
        """
        names, keys = {b.name for b in rack.brakes}, {b.key for b in rack.brakes}
        number = next(
            n for n in range(1, 1000) if self._name(n) not in names and f"own-{n}" not in keys
        )
        return brake_in_round_figures(self.make(f"own-{number}", self._name(number), units), units)

    def _name(self, number: int) -> str:
        return str(self.label) if number == 1 else f"{self.label} {number}"


SMALL = 2.0
"""mm; a radius or clearance below this stays as it is."""


def brake_in_round_figures(brake: Brake, units: Units) -> Brake:
    """A machine with its sizes in round figures of these units, as somebody with a rule would read
    them; its pieces stay as they are marked."""
    record = brake.model_dump()
    for name, info in type(brake).model_fields.items():
        _, metadata, _ = unwrapped(info.annotation, list(info.metadata))
        value = record[name]
        if is_length(metadata) and isinstance(value, float) and abs(value) >= SMALL:
            record[name] = round_figure(value, units)
    return type(brake).model_validate(record)


def _fingers(key: str, name: str, units: Units) -> Brake:
    widths = (1, 2, 3, 4)
    return LeafBrake(
        key=key,
        name=name,
        bed_length=48 * INCH,
        rated=0.0598 * INCH,
        finger_height=4 * INCH,
        open_ends=True,
        fingers=tuple(
            Segment(width=w * INCH, count=c) for w, c in zip(widths, (4, 4, 4, 6), strict=True)
        ),
        leaf_bar=0.5 * INCH,
        bare_bar=0.25 * INCH,
    )


def _straight(key: str, name: str, units: Units) -> Brake:
    # One bar over the whole bed instead of fingers; nothing stands between it and the beam, so it
    # is low.
    return LeafBrake(
        key=key,
        name=name,
        bed_length=96 * INCH,
        rated=0.0478 * INCH,
        finger_height=1.5 * INCH,
        throat=10.0,
        fingers=(Segment(width=96 * INCH),),
        leaf_bar=0.625 * INCH,
        bare_bar=0.25 * INCH,
        nose_radius=0.8,
    )


def _press(key: str, name: str, units: Units) -> Brake:
    # A cut set that reaches over the whole bed, and every 5 mm, or quarter of an inch, below it.
    if units.is_inch:
        bed = 48 * INCH
        widths = [w * INCH for w in (0.5, 0.75, 1, 1.5, 2, 4, 8, 12, 20)]
        openings = [v * INCH for v in (0.3125, 0.5, 0.625, 1)]
    else:
        bed, openings = 1200.0, [8.0, 12.0, 16.0, 24.0]
        widths = [10.0, 15.0, 20.0, 40.0, 50.0, 100.0, 200.0, 300.0, 500.0]
    pieces = tuple(Segment(width=w) for w in widths)
    return PressBrake(
        key=key,
        name=name,
        bed_length=bed,
        force=400.0,
        open_height=350.0,
        shut_height=150.0,
        punches=(
            straight_punch(tr("Straight punch"), pieces=pieces),
            gooseneck_punch(tr("Gooseneck punch"), pieces=pieces),
        ),
        dies=tuple(
            v_die(f"V {show_length(v, units, mark=units.is_inch)}", v, pieces=pieces)
            for v in openings
        ),
    )


def _hand(key: str, name: str, units: Units) -> Brake:
    widths = [w * INCH for w in (4, 8, 12, 24)] if units.is_inch else [100.0, 200.0, 300.0, 600.0]
    return HandFolder(
        key=key,
        name=name,
        bed_length=widths[-1],
        rated=0.8,
        bars=tuple(Segment(width=w) for w in widths),
    )


NEW: tuple[NewBrake, ...] = (
    NewBrake(msg("Finger brake"), _fingers),
    NewBrake(msg("Straight leaf brake"), _straight),
    NewBrake(msg("Press brake"), _press),
    NewBrake(msg("Bench edge and bars"), _hand),
)
"""Every kind of machine that can be begun with. What is usual of each is common practice, no
source."""


def with_available_pieces(brake: Brake, job: Job) -> Brake:
    """The brake with only the pieces that a job says are available today."""
    today = {(t.rack, t.width): t.there for t in job.tools.of(brake.key).today}
    return brake.with_pieces(lambda rack, width: today.get((rack, width))) if today else brake
