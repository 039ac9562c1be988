"""The short code at the foot of every printed page: which job it is of, and which version of it."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from pathlib import Path

from ..job import Job
from ..measure.dataclass import dataclass
from .job_file import JobFileError, read_work

LETTERS = "23456789ABCDEFGHJKLMNPQRSTUVWXYZ"
"""What codes are written in: nothing that is read for something else (0 and O, 1 and I)."""

ENDINGS = (".crane", ".json")
MOST = 500
"""Files of a folder looked through."""


def page_code(job: Job) -> str:
    """``K7QF-2MXA9``: of the part's name, then of everything that is written of it."""
    written = json.dumps(job.model_dump(mode="json"), sort_keys=True, ensure_ascii=False)
    return f"{_letters(job.name, 4)}-{_letters(written, 5)}"


def _letters(text: str, count: int) -> str:
    number = int.from_bytes(hashlib.sha256(text.encode()).digest()[:8])
    return "".join(LETTERS[number >> (5 * k) & 31] for k in range(count))


def read_code(text: str) -> str | None:
    """A code as somebody typed it, in its proper form; None when it cannot be one."""
    plain = "".join(c for c in text.upper() if c.isalnum())
    if len(plain) != 9 or any(c not in LETTERS for c in plain):
        return None
    return f"{plain[:4]}-{plain[4:]}"


@dataclass(frozen=True)
class Match:
    """A part whose page a code may be on.

    Attributes:
        path: its file.
        part: its number in it, from 0.
        same: nothing of it was changed since the page was printed.
    """

    path: Path
    part: int
    same: bool


def matches(code: str, files: Iterable[Path]) -> list[Match]:
    """Parts of files that a code names, those that are unchanged first; what cannot be read is passed over."""
    found: list[Match] = []
    for path in dict.fromkeys(files):
        try:
            parts = read_work(path).parts
        except (JobFileError, OSError):
            continue
        own = [page_code(part) for part in parts]
        found += [
            Match(path, k, other == code)
            for k, other in enumerate(own)
            if other.split("-")[0] == code.split("-", maxsplit=1)[0]
        ]
    return sorted(found, key=lambda match: not match.same)


def beside(files: Iterable[Path]) -> list[Path]:
    """Some files, then what else lies in their folders and may be a job."""
    known = list(files)
    folders = dict.fromkeys(path.parent for path in known)
    others = [sorted(p for p in folder.iterdir() if p.suffix in ENDINGS)[:MOST] for folder in folders if folder.is_dir()]
    return list(dict.fromkeys([*known, *(path for some in others for path in some)]))
