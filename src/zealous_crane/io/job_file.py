"""Job and work files: plain JSON, checked when read, written in one step."""

from __future__ import annotations

import hashlib
import json
import sys
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..errors import InputError
from ..flat.on_brake import OnBrake, as_it_is
from ..i18n import tr
from ..job.job import FORMAT, VERSION, Job
from ..schema.reading import json_from, read_json, readable
from ..units.length import cut
from ..work.duct_fitting import DuctFitting
from ..work.fit import FitError
from ..work.work import WORK_FORMAT, Work
from .atomic import shown, write_atomically

LARGEST = 20_000_000
"""Bytes; a job file is a few kilobytes, so anything near this is something else."""


class JobFileError(InputError):
    """A job file that could not be used; the message says what is wrong and where."""


def _read(path: Path) -> dict[str, Any]:
    return _checked(_json(path), cut(path.name))


def _json(path: Path) -> Any:
    name = cut(path.name)
    try:
        return read_json(path, LARGEST)
    except OSError as error:
        raise JobFileError(
            tr("{path} could not be read: {value}.").format(
                path=shown(path), value=error.strerror or error
            )
        ) from None
    except InputError as error:
        raise JobFileError(
            tr("{name} is damaged or not a job file: {error}.").format(name=name, error=cut(error))
        ) from None


def _from_stdin() -> Any:
    try:
        return json_from(sys.stdin.buffer.read(LARGEST + 1), LARGEST)
    except InputError as error:
        raise JobFileError(
            tr("Standard input is damaged or not a job file: {error}.").format(error=cut(error))
        ) from None


def _checked(data: Any, name: str) -> dict[str, Any]:
    if not isinstance(data, dict) or data.get("format") not in (FORMAT, WORK_FORMAT):
        raise JobFileError(
            tr(
                '{name} is not a job file of this program: it does not say "format": "{FORMAT}".'
            ).format(name=name, FORMAT=FORMAT)
        )
    if isinstance(data.get("version"), int) and data["version"] > VERSION:
        raise JobFileError(
            tr(
                "{name} was written by a newer version of this program (file version {data})."
            ).format(name=name, data=data["version"])
        )
    return data


def read_work(path: Path, on: OnBrake = as_it_is) -> Work:
    """Read a work file, or a job file as work of one part; sizes that follow from a fit are set.

    Args:
        path: the file.
        on: writes into a part what its brake's tools give its bends, as it is measured for a fit.

    Raises:
        JobFileError: missing, unreadable, not JSON, foreign, from a newer program, a field that is
            wrong, or a fit that cannot hold.
    """
    path = Path(path)
    if str(path) == "-":
        return work_from(_checked(_from_stdin(), tr("standard input")), tr("standard input"), on)
    return work_from(_read(path), cut(path.name), on)


def work_from(data: Any, name: str, on: OnBrake = as_it_is) -> Work:
    """Work from what a file holds.

    Args:
        data: fields and their values.
        name: of the file, for what is said.
        on: as for :func:`read_work`.

    Raises:
        JobFileError: as :func:`read_work`.
    """
    try:
        if isinstance(data, dict) and data.get("format") == FORMAT:
            return Work.of(Job.model_validate(data))
        return Work.model_validate(data).resolved(on)
    except ValidationError as error:
        raise JobFileError(f"{name}: {readable(error)}") from None
    except FitError as error:
        raise JobFileError(f"{name}: {error}") from None
    except RecursionError:
        raise JobFileError(
            tr("{name}: its design is nested far too deeply.").format(name=name)
        ) from None


def read_fitting(path: Path) -> DuctFitting:
    """Read the sizes of a duct fitting.

    Raises:
        JobFileError: missing, unreadable, not JSON, or a size that is wrong.
    """
    standard = str(path) == "-"
    name, data = (
        (tr("standard input"), _from_stdin())
        if standard
        else (cut(Path(path).name), _json(Path(path)))
    )
    try:
        return DuctFitting.model_validate(data)
    except ValidationError as error:
        raise JobFileError(f"{name}: {readable(error)}") from None


def read_job(path: Path, part: str | None = None, on: OnBrake = as_it_is) -> Job:
    """Read one part of a job or work file.

    Args:
        path: the file.
        part: its number from 1 or its name, in a file of several; None where it holds one.
        on: as for :func:`read_work`.

    Raises:
        JobFileError: as :func:`read_work`, no such part, or several parts and none named.
    """
    work = read_work(path, on)
    if part is None and len(work.parts) == 1:
        return work.parts[0]
    for number, job in enumerate(work.parts, start=1):
        if part in (str(number), job.name):
            return job
    known = "; ".join(f"{i} {job.name}" for i, job in enumerate(work.parts, start=1))
    if part is None:
        raise JobFileError(
            tr("{name} holds several parts: {known}. Say which with --part.").format(
                name=Path(path).name, known=known
            )
        )
    raise JobFileError(
        tr("{name} has no part {part}. It has: {known}.").format(
            name=Path(path).name, part=part, known=known
        )
    )


def write_job(job: Job, path: Path) -> None:
    """Write a job file in one step.

    Raises:
        FileError: it could not be written; what stood there is untouched.
    """
    write_atomically(Path(path), (job.model_dump_json(indent=2) + "\n").encode())


def write_work(work: Work, path: Path) -> None:
    """Write work in one step; work of one part and nothing besides is written as a plain job file.

    Raises:
        FileError: it could not be written; what stood there is untouched.
    """
    if work == Work.of(work.parts[0]).model_copy(update={"name": work.name}):
        write_job(work.parts[0], path)
    else:
        write_atomically(Path(path), (work.model_dump_json(indent=2) + "\n").encode())


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
    """Parts of files that a code names, those that are unchanged first; what cannot be read is
    passed over."""
    result: list[Match] = []
    for path in dict.fromkeys(files):
        try:
            parts = read_work(path).parts
        except (JobFileError, OSError):
            continue
        own = [page_code(part) for part in parts]
        result += [
            Match(path, k, other == code)
            for k, other in enumerate(own)
            if other.split("-")[0] == code.split("-", maxsplit=1)[0]
        ]
    return sorted(result, key=lambda match: not match.same)


def beside(files: Iterable[Path]) -> list[Path]:
    """Some files, then what else lies in their folders and may be a job."""
    known = list(files)
    folders = dict.fromkeys(path.parent for path in known)
    others = [
        sorted(p for p in folder.iterdir() if p.suffix in ENDINGS)[:MOST]
        for folder in folders
        if folder.is_dir()
    ]
    return list(dict.fromkeys([*known, *(path for some in others for path in some)]))
