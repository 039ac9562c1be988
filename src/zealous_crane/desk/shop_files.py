"""The shop's own brakes and settings as files, kept in line with what is on the bench."""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from pathlib import Path

from pydantic import BaseModel

from ..brake import Rack
from ..brake.rack import RETIRED
from ..files.atomic import FileError, write_atomically
from ..shop.settings import SETTINGS, ShopSettings, read_settings


def write_brakes(shop: Path, before: Rack, now: Rack, always: Iterable[str] = ()) -> tuple[str, ...]:
    """Bring the files of a shop in line with its rack, for brakes that changed and are kept there.

    Args:
        shop: folder of the files; made when it is not there.
        before: the rack the files are of.
        now: the rack they shall be of.
        always: keys of brakes that are written though no file of them is there yet.

    Returns:
        a sentence for every file that could not be written.
    """
    said = []
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
            said.append(str(error))
    if before.retired != now.retired:
        try:
            shop.mkdir(parents=True, exist_ok=True)
            write_atomically(shop / RETIRED, "".join(f"{key}\n" for key in sorted(now.retired)).encode())
        except (FileError, OSError) as error:
            said.append(str(error))
    return tuple(said)


def write_settings(home: Path, settings: ShopSettings) -> str | None:
    """Write what a shop says of itself into its folder; a sentence where that could not be.

    A file there that cannot be read holds what somebody typed all the same: it is kept beside, never written over.
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
