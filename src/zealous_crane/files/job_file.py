"""Job files: plain JSON, checked when read, written in one step."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..job import FORMAT, VERSION, Job
from ..measure.report import readable
from .atomic import write_atomically

LARGEST = 20_000_000
"""Bytes; a job file is a few kilobytes, so anything near this is something else."""


class JobFileError(ValueError):
    """A job file that could not be used; the message says what is wrong and where."""


def read_job(path: Path) -> Job:
    """Read a job file.

    Raises:
        JobFileError: missing, unreadable, not JSON, foreign, from a newer program, or a field that is wrong.
    """
    path = Path(path)
    try:
        if path.stat().st_size > LARGEST:
            raise JobFileError(f"{path.name} is far too large to be a job file.")
        text = path.read_text(encoding="utf-8")
    except OSError as error:
        raise JobFileError(f"{path} could not be read: {error.strerror or error}.") from None
    except UnicodeDecodeError:
        raise JobFileError(f"{path.name} is not a job file: it is not text.") from None
    try:
        data: Any = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise JobFileError(f"{path.name} is damaged or not a job file: {error}.") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise JobFileError(f'{path.name} is not a job file of this program: it does not say "format": "{FORMAT}".')
    if isinstance(data.get("version"), int) and data["version"] > VERSION:
        raise JobFileError(f"{path.name} was written by a newer version of this program (file version {data['version']}).")
    try:
        return Job.model_validate(data)
    except ValidationError as error:
        raise JobFileError(f"{path.name}: {readable(error)}") from None


def write_job(job: Job, path: Path) -> None:
    """Write a job file in one step.

    Raises:
        FileError: it could not be written; what stood there is untouched.
    """
    write_atomically(Path(path), (job.model_dump_json(indent=2) + "\n").encode())


def job_schema() -> dict[str, Any]:
    """JSON Schema of the job file."""
    schema = Job.model_json_schema(mode="validation")
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["required"] = sorted({*schema.get("required", []), "format"})
    return schema
