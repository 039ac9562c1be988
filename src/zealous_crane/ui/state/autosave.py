"""The safety copy of a window: what is on the bench, written as it changes, found again after a
crash.

Every window has its own file and holds a lock on it; a copy whose lock nobody holds belongs to a
window that went down.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from ...errors import INPUT_ERRORS
from ...i18n import tr
from ...io.atomic import write_atomically
from ...io.job_file import read_work, work_from
from ...schema.reading import read_json
from ...work.work import Work

FORMAT = "zealous-crane-safety"

LARGEST = 40_000_000
"""Bytes; a copy is never so long."""


class SafetyCopy:
    """One window's copy.

    Args:
        path: its file; the lock stands beside it.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        path.parent.mkdir(parents=True, exist_ok=True)
        self._lock = _locked(path)

    @classmethod
    def claim(cls, folder: Path) -> SafetyCopy:
        """A copy of its own for a new window."""
        return cls(folder / f"bench-{uuid.uuid4().hex[:12]}.json")

    def write(self, work: Work, at: int, path: Path | None, stamp: str | None = None) -> None:
        """Write what is on the bench.

        Args:
            work: what is being made.
            at: number of the part on the bench.
            path: the file it belongs to.
            stamp: what that file held when it was opened or saved here.

        Raises:
            FileError: it could not be written; the last copy stays.
        """
        record = {
            "format": FORMAT,
            "version": 1,
            "saved": datetime.now().isoformat(timespec="seconds"),
            "path": None if path is None else str(path),
            "stamp": stamp,
            "at": at,
            "work": work.model_dump(mode="json"),
        }
        write_atomically(self.path, json.dumps(record, ensure_ascii=False).encode())

    def forget(self) -> None:
        """Take the copy away: the work was closed on purpose."""
        with contextlib.suppress(OSError):
            self.path.unlink(missing_ok=True)
        self.release()

    def release(self) -> None:
        """Let go of the lock."""
        if self._lock is not None:
            with contextlib.suppress(OSError):
                _lock_of(self.path).unlink(missing_ok=True)
            os.close(self._lock)
            self._lock = None


def _lock_of(path: Path) -> Path:
    return path.with_suffix(".lock")


def _locked(path: Path) -> int | None:
    """A held lock on a copy; None when another window holds it."""
    handle = os.open(_lock_of(path), os.O_RDWR | os.O_CREAT, 0o600)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(handle)
        return None
    return handle


@dataclass
class Found:
    """Work a window left behind.

    Attributes:
        path: its copy.
        saved: when it was written.
        work: what was on the bench.
        at: number of the part on the bench.
        origin: the file the work came from; None when it was never saved.
        stamp: what tells that file's content as it was when it was opened or saved; None when that
            is not known.
    """

    path: Path
    saved: datetime
    work: Work
    at: int
    origin: Path | None
    stamp: str | None = None

    @property
    def names(self) -> tuple[str, ...]:
        """Names of the parts."""
        return tuple(part.name for part in self.work.parts)

    def discard(self) -> None:
        """Take it away for good."""
        with contextlib.suppress(OSError):
            self.path.unlink(missing_ok=True)
            _lock_of(self.path).unlink(missing_ok=True)

    def keep_aside(self) -> Path:
        """Move it out of the way, where it is not offered again; where it now is."""
        return _aside(self.path)


def _aside(path: Path) -> Path:
    folder = path.parent / "kept aside"
    folder.mkdir(exist_ok=True)
    place = folder / path.name
    while place.exists():
        place = folder / f"{path.stem}-{uuid.uuid4().hex[:4]}{path.suffix}"
    os.replace(path, place)
    return place


def left_behind(folder: Path) -> tuple[list[Found], list[str]]:
    """Copies no window holds, the newest first, and a sentence for each that could not be read;
    that one is kept as it is."""
    founds: list[Found] = []
    lines: list[str] = []
    for path in sorted(folder.glob("*.json")) if folder.is_dir() else ():
        lock = _locked(path)
        if lock is None:
            continue
        try:
            founds.append(read_copy(path))
        except (OSError, *INPUT_ERRORS, KeyError, TypeError) as error:
            with contextlib.suppress(OSError):
                place = _aside(path)
                lines.append(
                    tr(
                        "A safety copy could not be read and is kept as it is in {place}: {error}"
                    ).format(place=place, error=error)
                )
        finally:
            with contextlib.suppress(OSError):
                _lock_of(path).unlink(missing_ok=True)
            os.close(lock)
    return sorted(founds, key=lambda f: f.saved, reverse=True), lines


def _when(written: object) -> datetime | None:
    try:
        return datetime.fromisoformat(str(written))
    except ValueError:
        return None


def read_copy(path: Path) -> Found:
    """What a copy holds.

    Raises:
        OSError, InputError, ValidationError, KeyError, TypeError: it cannot be read.
    """
    written = datetime.fromtimestamp(path.stat().st_mtime)
    data = read_json(path, LARGEST)
    if isinstance(data, dict) and data.get("format") == FORMAT:
        work = work_from(data["work"], path.name)
        origin = data.get("path")
        at = data.get("at", 0)
        if not isinstance(at, int) or not 0 <= at < len(work.parts):
            at = 0
        stamp = data.get("stamp")
        return Found(
            path,
            _when(data["saved"]) or written,
            work,
            at,
            Path(origin) if isinstance(origin, str) else None,
            stamp if isinstance(stamp, str) else None,
        )
    # A copy as earlier versions wrote it: the work alone.
    return Found(path, written, read_work(path), 0, None)


KEEP_AFTER = 400
"""Milliseconds after a change until it is written to the safety copy, also while changes go on."""


Kept = tuple[Work, int, Path | None, str | None]


class Keeper(QObject):
    """Writes a safety copy.

    Args:
        copy: where the work is kept; None keeps none.
        kept: tells what is kept: the work, the part on the bench, its file, what that file held.
        parent: goes with it.

    Signals:
        complained: a sentence the person should read.
    """

    complained = Signal(str)

    def __init__(
        self, copy: SafetyCopy | None, kept: Callable[[], Kept], parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self.copy, self._kept = copy, kept
        self._thread = ThreadPoolExecutor(1) if copy is not None else None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(KEEP_AFTER)
        self._timer.timeout.connect(self.now)

    def soon(self) -> None:
        """The work has changed. What waits is not put off: steady typing is kept too."""
        if not self._timer.isActive():
            self._timer.start()

    def now(self) -> None:
        """Write the copy, off the window's thread."""
        if self._thread is not None and self.copy is not None:
            self._thread.submit(self._write, self.copy, *self._kept())

    def write_now(self) -> bool:
        """Write the copy and wait for it; True when it is on disk."""
        if self._thread is None or self.copy is None:
            return False
        return self._thread.submit(self._write, self.copy, *self._kept()).result()

    def close(self) -> None:
        """Wait for what is being written; the work being closed on purpose, forget the copy."""
        self.leave()
        if self.copy is not None:
            self.copy.forget()

    def leave(self) -> None:
        """Wait for what is being written, and write no more."""
        self._timer.stop()
        if self._thread is not None:
            self._thread.shutdown(wait=True, cancel_futures=True)
            self._thread = None

    def _write(
        self, copy: SafetyCopy, work: Work, at: int, path: Path | None, stamp: str | None
    ) -> bool:
        try:
            copy.write(work, at, path, stamp)
        except OSError as error:
            self.complained.emit(
                tr("The safety copy could not be kept: {error}").format(error=error)
            )
            return False
        return True
