"""The file behind the work: where it came from, and whether what stands in it is still the same."""

from __future__ import annotations

import hashlib
from pathlib import Path

from ..files.atomic import FileError
from ..files.job_file import write_work
from ..measure.words import tr
from ..work import Work


class ChangedOnDisk(FileError):  # noqa: N818 - a question, not an error
    """The file was changed by somebody else since it was read or saved."""


class Saved:
    """What is known of the file.

    Args:
        work: as it stands in the file; None when it counts as not saved.
        path: the file; None while there is none.
        stamp: what the file held when the work was read from it; None takes what it holds now.
    """

    def __init__(self, work: Work | None, path: Path | None = None, stamp: str | None = None) -> None:
        self._work, self.path = work, path
        self.stamp = stamp or (stamp_of(path) if path is not None else None)

    def holds(self, work: Work) -> bool:
        """True when nothing is lost with the work."""
        return work == self._work

    def mark(self, work: Work) -> None:
        """Hold work for saved."""
        self._work = work

    def write(self, work: Work, path: Path, *, over: bool) -> None:
        """Write the work.

        Args:
            work: what is written.
            path: the file.
            over: write also over what somebody else has changed.

        Raises:
            ChangedOnDisk: the file is not as this window read or wrote it last.
            FileError: it could not be written; nothing is lost.
        """
        if not over and path == self.path and self.stamp is not None and stamp_of(path) not in (None, self.stamp):
            raise ChangedOnDisk(
                tr("{name} was changed by another window or program since it was opened here.").format(name=path.name)
            )
        write_work(work, path)
        self._work, self.path, self.stamp = work, path, stamp_of(path)


def stamp_of(path: Path) -> str | None:
    """What tells a file's content from any other's; None when it cannot be read."""
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except OSError:
        return None
