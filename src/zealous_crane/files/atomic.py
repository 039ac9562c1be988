"""Writing so that a full disk or a crash leaves the old file whole."""

from __future__ import annotations

import contextlib
import os
import tempfile
from pathlib import Path


class FileError(OSError):
    """A file that could not be written; the message says which and why."""


def write_atomically(path: Path, data: bytes) -> None:
    """Write ``data`` beside ``path`` and put it in place in one step.

    Raises:
        FileError: the folder is missing or read-only, or the disk is full; what stood at ``path`` is untouched.
    """
    path = Path(path)
    temporary: str | None = None
    try:
        handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        # mkstemp makes files private; a saved job has the rights any new file would have.
        mask = os.umask(0)
        os.umask(mask)
        os.chmod(temporary, 0o666 & ~mask)
        os.replace(temporary, path)
    except OSError as error:
        if temporary is not None:
            with contextlib.suppress(OSError):
                os.unlink(temporary)
        why = error.strerror or str(error)
        raise FileError(f"{path} could not be written: {why}. Nothing was changed; save it somewhere else.") from None
