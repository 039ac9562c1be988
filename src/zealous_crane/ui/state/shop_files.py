"""The shop's own brakes and settings as files, kept in line with what is on the bench."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable
from dataclasses import replace
from pathlib import Path

from pydantic import BaseModel

from ...brake.brake import Brake
from ...brake.library import BRAKE, RETIRED, MachineLibrary, shop_rack
from ...errors import INPUT_ERRORS
from ...io.atomic import FileError, write_atomically
from ...shop.settings import SETTINGS, ShopSettings, read_settings
from .history import HistoryStep


class ShopFolder:
    """The shop's files as this window knows them. What another window has written since is taken
    into every step of this one's history before anything is written, so that undo takes back what
    was typed here and nothing else.

    Args:
        shop: folder of the brake files; the settings stand beside it.
        rack: the brakes as they were read.
        settings: the settings as they were read.
    """

    def __init__(self, shop: Path, rack: MachineLibrary, settings: ShopSettings) -> None:
        self.shop = shop
        self._rack, self._settings = rack, settings
        self._stamps = self._stamped()

    def taken(self) -> Callable[[HistoryStep], HistoryStep] | None:
        """What brings a step in line with what another window has written since; None where nothing
        was written."""
        stamps = self._stamped()
        if stamps == self._stamps:
            return None
        before, settings_before = self._rack, self._settings
        read, _ = shop_rack(self.shop)
        settings, text = read_settings(self.shop.parent)
        # A file that cannot be read, or is gone, says nothing; what is known of it stays.
        now = before.with_brakes(
            (b for b in read.brakes if b.key in read.own), own=True
        ).with_retired_keys(read.retired)
        settings = (
            settings_before if text or not (self.shop.parent / SETTINGS).exists() else settings
        )
        self._rack, self._settings, self._stamps = now, settings, stamps
        if now == before and settings == settings_before:
            return None
        return lambda step: _rebased(step, (before, settings_before), (now, settings))

    def write(
        self, before: HistoryStep, now: HistoryStep, always: Iterable[str] = ()
    ) -> tuple[str, ...]:
        """Bring the files in line with a step, for what differs from the one before it; a sentence
        for each that could not be written.

        Args:
            before: the step the files are of.
            now: the step they shall be of.
            always: keys of brakes that are written though no file of them is there yet.
        """
        text = write_brakes(self.shop, before.rack, now.rack, always)
        if before.settings != now.settings:
            refused = write_settings(self.shop.parent, now.settings)
            text = (*text, refused) if refused else text
        self._rack, self._settings, self._stamps = now.rack, now.settings, self._stamped()
        return text

    def _stamped(self) -> tuple[tuple[str, int, int], ...]:
        """Name, size and time of every file of the shop."""
        files = [*self.shop.glob("*.json"), self.shop / RETIRED, self.shop.parent / SETTINGS]
        result = []
        for path in sorted(files):
            try:
                stat = path.stat()
            except OSError:
                continue
            result.append((path.name, stat.st_size, stat.st_mtime_ns))
        return tuple(result)


Known = tuple[MachineLibrary, ShopSettings]


def _rebased(step: HistoryStep, before: Known, now: Known) -> HistoryStep:
    """A step with what changed between two readings of the files."""
    rack, settings = step.rack, step.settings
    for brake in now[0].brakes:
        old = before[0].find(brake.key)
        if brake != old:
            mine = rack.find(brake.key)
            rack = rack.with_brakes(
                [brake if mine is None or old is None else merged_brake(old, mine, brake)], own=True
            )
    rack = rack.with_retired_keys(
        (rack.retired | (now[0].retired - before[0].retired)) - (before[0].retired - now[0].retired)
    )
    settings = merged_settings(before[1], settings, now[1])
    parts = []
    for part in step.work.parts:
        try:
            parts.append(settings.follows(part, step.settings))
        except INPUT_ERRORS:
            parts.append(part)
    return replace(
        step,
        rack=rack,
        settings=settings,
        work=step.work.model_copy(update={"parts": tuple(parts)}),
    )


def merged_brake(base: Brake, mine: Brake, theirs: Brake) -> Brake:
    """A brake changed at two windows: what either changed; where both changed the same figure,
    mine.

    Args:
        base: as both had it.
        mine: as it is here.
        theirs: as the other window has written it.
    """
    try:
        made: Brake = BRAKE.validate_python(
            merged(*(brake.model_dump() for brake in (base, mine, theirs)))
        )
        return made
    except INPUT_ERRORS:
        return mine


def merged_settings(base: ShopSettings, mine: ShopSettings, theirs: ShopSettings) -> ShopSettings:
    """Settings changed at two windows, as :func:`merged_brake`.

    Args:
        base: as both began.
        mine: as this window has it.
        theirs: as the other window has it.
    """
    try:
        return ShopSettings.model_validate(
            merged(*(settings.model_dump() for settings in (base, mine, theirs)))
        )
    except INPUT_ERRORS:
        return mine


def merged(base: object, mine: object, theirs: object) -> object:
    """Plain values changed at two windows: tables field by field, lists of things with a key by
    their keys, all else as a whole.

    Args:
        base: as both began.
        mine: as this window has it.
        theirs: as the other window has it.
    """
    if theirs in (base, mine):
        return mine
    if mine == base:
        return theirs
    if isinstance(base, dict) and isinstance(mine, dict) and isinstance(theirs, dict):
        keys = dict.fromkeys([*mine, *theirs])
        result = {key: merged(base.get(key), mine.get(key), theirs.get(key)) for key in keys}
        # None stands for what is not there: taken away at one window, it is gone.
        return {
            key: value
            for key, value in result.items()
            if value is not None or (key in mine and key in theirs)
        }
    tables = [_by_key(values) for values in (base, mine, theirs)]
    table = None if None in tables else merged(*tables)
    return list(table.values()) if isinstance(table, dict) else mine


def _by_key(values: object) -> dict[object, object] | None:
    """A list of things with a key as a table; None where it is no such list."""
    if not isinstance(values, (list, tuple)) or not all(
        isinstance(value, dict) and "key" in value for value in values
    ):
        return None
    return {value["key"]: value for value in values}


def write_brakes(
    shop: Path, before: MachineLibrary, now: MachineLibrary, always: Iterable[str] = ()
) -> tuple[str, ...]:
    """Bring the files of a shop in line with its rack, for brakes that changed and are kept there.

    Args:
        shop: folder of the files; made when it is not there.
        before: the rack the files are of.
        now: the rack they shall be of.
        always: keys of brakes that are written though no file of them is there yet.

    Returns:
        a sentence for every file that could not be written.
    """
    lines = []
    old = {brake.key: brake for brake in before.brakes}
    new = {brake.key: brake for brake in now.brakes}
    for key in old.keys() | new.keys():
        path = shop / f"{key}.json"
        if old.get(key) == new.get(key) or not (key in always or path.exists()):
            continue
        try:
            if key in new:
                shop.mkdir(parents=True, exist_ok=True)
                write_atomically(path, new[key].model_dump_json(indent=2).encode())
            else:
                path.unlink(missing_ok=True)
        except (FileError, OSError) as error:
            lines.append(str(error))
    if before.retired != now.retired:
        try:
            shop.mkdir(parents=True, exist_ok=True)
            write_atomically(
                shop / RETIRED, "".join(f"{key}\n" for key in sorted(now.retired)).encode()
            )
        except (FileError, OSError) as error:
            lines.append(str(error))
    return tuple(lines)


def write_settings(home: Path, settings: ShopSettings) -> str | None:
    """Write what a shop says of itself into its folder; a sentence where that could not be.

    A file there that cannot be read holds what somebody typed all the same: it is kept beside,
    never written over.
    """
    try:
        home.mkdir(parents=True, exist_ok=True)
        if read_settings(home)[1] is not None:
            _set_aside(home / SETTINGS)
        write_atomically(home / SETTINGS, settings.model_dump_json(indent=2).encode())
    except (FileError, OSError) as error:
        return str(error)
    return None


def _set_aside(path: Path) -> None:
    """Give a damaged file a name of its own beside where it was."""
    names = (
        path.with_name(f"{path.stem}, damaged{'' if number == 1 else f' {number}'}{path.suffix}")
        for number in itertools.count(1)
    )
    path.rename(next(name for name in names if not name.exists()))


def hand_out(path: Path, model: BaseModel) -> str | None:
    """Write a machine or a metal as a file for another shop; a sentence where that could not be."""
    try:
        write_atomically(path, model.model_dump_json(indent=2).encode())
    except (FileError, OSError) as error:
        return str(error)
    return None
