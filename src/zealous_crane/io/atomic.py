"""Writing so that a full disk or a crash leaves the old file whole."""

from __future__ import annotations

import contextlib
import os
import stat
import tempfile
import time
from pathlib import Path

from ..i18n import tr

MARK = ".crane-part"
"""Ending of what is being written; what a crash left behind is known by it."""

STALE = 3600.0
"""Seconds after which such a file belongs to no running program."""


class FileError(OSError):
    """A file that could not be written; the message says which and why."""


def write_atomically(path: Path, data: bytes) -> None:
    """Write ``data`` beside ``path`` and put it in place in one step.

    A link is written through, the file keeps its mode, and the folder's own entry is brought to
    disk too. What is not a plain file (a pipe, a device) is written straight into.

    Raises:
        FileError: the folder is missing or read-only, or the disk is full; what stood at ``path``
            is untouched.
    """
    path = Path(path)
    try:
        place = Path(os.path.realpath(path))
        try:
            standing: os.stat_result | None = os.stat(place)
        except FileNotFoundError:
            standing = None
        if standing is not None and not stat.S_ISREG(standing.st_mode):
            if stat.S_ISDIR(standing.st_mode):
                raise IsADirectoryError(21, tr("it is a folder"))
            with open(place, "wb", buffering=0) as device:
                device.write(data)
            return
        _replace(place, data, standing)
    except (OSError, ValueError) as error:
        why = getattr(error, "strerror", None) or str(error)
        raise FileError(
            tr(
                "{path} could not be written: {why}. Nothing was changed; save it somewhere else."
            ).format(path=shown(path), why=why)
        ) from None


def _replace(place: Path, data: bytes, standing: os.stat_result | None) -> None:
    if standing is not None and not os.access(place, os.W_OK):
        raise PermissionError(13, tr("it is not yours to write"))
    # A long name leaves no room for more: the part's own name is kept short.
    handle, temporary = tempfile.mkstemp(
        prefix=f".{place.name[:40]}.", suffix=MARK, dir=place.parent
    )
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        # mkstemp makes files private; a saved job keeps its rights, or has those any new file would
        # have.
        mode = 0o666 & ~_mask() if standing is None else stat.S_IMODE(standing.st_mode)
        os.chmod(temporary, mode)
        os.replace(temporary, place)
    except BaseException:
        with contextlib.suppress(OSError):
            os.unlink(temporary)
        raise
    _settle(place.parent)
    _sweep(place)


def _mask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _settle(folder: Path) -> None:
    """Bring a folder's entries to disk: a rename is only safe once they are there."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | getattr(os, "O_DIRECTORY", 0))
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _sweep(place: Path) -> None:
    """Take away what an earlier crash left half written beside a file."""
    with contextlib.suppress(OSError):
        for entry in os.scandir(place.parent):
            if entry.name.startswith(f".{place.name[:40]}.") and entry.name.endswith(MARK):
                with contextlib.suppress(OSError):
                    if time.time() - entry.stat(follow_symlinks=False).st_mtime > STALE:
                        os.unlink(entry.path)


def shown(path: Path) -> str:
    """A path as it may stand in a sentence: short, and without characters that are not letters or
    signs."""
    text = "".join(c if c.isprintable() else "?" for c in str(path))
    return text if len(text) <= 80 else "…" + text[-79:]
