"""JSON Schemas of the files other programs read and write: jobs, works, brakes, plans (JSON Schema
2020-12)."""

from __future__ import annotations

import json
from collections.abc import Callable, Generator
from dataclasses import dataclass
from enum import StrEnum
from importlib import resources
from typing import TYPE_CHECKING, Any

from ..brake.library import BRAKE
from ..errors import InputError
from ..flat.blank import Blank
from ..i18n import Message, msg, tr
from ..job.job import Job
from ..work.work import Work

if TYPE_CHECKING:
    from ..planning.plan import Plan

DRAFT = "https://json-schema.org/draft/2020-12/schema"

KEYWORDS = {"ge": "minimum", "le": "maximum", "gt": "exclusiveMinimum", "lt": "exclusiveMaximum"}
"""Limits as the library leaves them where a value is read by a function of ours, and the keywords
of the standard, which validators heed."""


def _standard(schema: Any, names: bool = False) -> Any:
    """A schema with the standard's keywords; ``names`` where the keys are names of fields or of
    definitions."""
    if isinstance(schema, list):
        return [_standard(part) for part in schema]
    if not isinstance(schema, dict):
        return schema
    return {
        key if names else KEYWORDS.get(key, key): _standard(
            value, key in ("properties", "$defs", "patternProperties") and not names
        )
        for key, value in schema.items()
        # What an empty field says on a form is no matter of the file.
        if names or key != "empty"
    }


KINDS = ("job", "work", "brake", "plan")
"""Files that have a schema."""


def schema_of(kind: str) -> dict[str, Any]:
    """The schema of a kind of file.

    Args:
        kind: one of :data:`KINDS`.

    Raises:
        InputError: there is no such kind.
    """
    if kind == "plan":
        # A plan is written, never read: its schema is a file of its own, held against every plan of
        # the tests.
        result: dict[str, Any] = json.loads(
            (resources.files(__package__) / "plan.schema.json").read_text(encoding="utf-8")
        )
        return result
    if kind == "brake":
        made = BRAKE.json_schema(mode="validation")
    elif kind in ("job", "work"):
        made = (Job if kind == "job" else Work).model_json_schema(mode="validation")
    else:
        raise InputError(
            tr("{kind!r} has no schema. Known: {known}.").format(kind=kind, known=", ".join(KINDS))
        )
    schema: dict[str, Any] = _standard(made)
    schema["$schema"] = DRAFT
    # A brake is one of several kinds; every other file is one thing.
    for one in schema["$defs"].values() if kind == "brake" else (schema,):
        if "format" in one.get("properties", {}):
            one["required"] = sorted({*one.get("required", []), "format"})
    return schema


class Needs(StrEnum):
    """What has to be worked out before something can be written."""

    BLANK = "blank"
    PLAN = "plan"


@dataclass(frozen=True)
class Subject:
    """What is written.

    Attributes:
        job: the part.
        blank: its flat.
        plan: its plan; None while there is none.
        inches: lengths of a drawing are inches, not millimetres; None takes the job's, and mm for a
            shape.
        dxf: version of a DXF drawing.
    """

    job: Job
    blank: Blank
    plan: Plan | None = None
    inches: bool | None = None
    dxf: str = "r2010"

    @property
    def in_inches(self) -> bool:
        """True where a drawing is in inches."""
        return self.job.units.is_inch if self.inches is None else self.inches

    @property
    def planned(self) -> Plan:
        """The plan.

        Raises:
            InputError: there is none; whoever writes looks at :attr:`Writer.needs` first.
        """
        if self.plan is None:
            raise InputError(tr("there is no plan to be written"))
        return self.plan


@dataclass(frozen=True)
class Writer:
    """One kind of file.

    Attributes:
        id: its name in the program; the command that asks for it is ``hand-over.`` and this.
        ending: of the file, without the dot.
        needs: what has to be there.
        write: writes a subject to a file; raises FileError when it could not be.
        command: as it is read in the menu, its letter marked.
        key: that asks for it.
        pages: it is pages, which can be printed; ``write`` then takes a printer too.
        suffix: goes behind the part's name where several kinds have one ending.
        steps: writes it in steps, and yields the share that is done after each, where that takes
            long; whoever stops in between leaves nothing written.
    """

    id: str
    ending: str
    needs: Needs
    write: Callable[[Subject, Any], None]
    command: Message
    key: str
    suffix: str = ""
    pages: bool = False
    steps: Callable[[Subject, Any], Generator[float]] | None = None


def _dxf(subject: Subject, path: Any) -> None:
    from .dxf_write import write_dxf

    write_dxf(subject.blank, path, inches=subject.in_inches, version=subject.dxf)


def _svg(subject: Subject, path: Any) -> None:
    from .dxf_write import write_svg

    write_svg(subject.blank, path, inches=subject.in_inches)


def _mesh(subject: Subject, path: Any) -> None:
    from .mesh import write_mesh

    write_mesh(subject.blank, path, inches=bool(subject.inches))


def _plan(subject: Subject, path: Any) -> None:
    from .plan_file import write_plan

    write_plan(subject.planned, path)


def _motion(subject: Subject, path: Any) -> Generator[float]:
    from .motion_file import motion_steps

    return motion_steps(subject.planned, path)


def at_once(steps: Callable[[Subject, Any], Generator[float]]) -> Callable[[Subject, Any], None]:
    """What is written in steps, written in one go.

    Args:
        steps: see :attr:`Writer.steps`.
    """

    def write(subject: Subject, path: Any) -> None:
        for _ in steps(subject, path):
            pass

    return write


DRAWINGS = (
    Writer("dxf", "dxf", Needs.BLANK, _dxf, msg("&Drawing of the blank (DXF) …"), "Ctrl+D"),
    Writer("svg", "svg", Needs.BLANK, _svg, msg("Drawing of the blank (S&VG) …"), "Ctrl+Shift+D"),
)
"""Drawings of the blank."""

SHAPES = (
    Writer("stl", "stl", Needs.BLANK, _mesh, msg("Folded part (ST&L) …"), "Ctrl+Shift+T"),
    Writer("glb", "glb", Needs.BLANK, _mesh, msg("Folded part (&glTF) …"), "Ctrl+Shift+G"),
)
"""The folded part."""

WRITERS = (
    *DRAWINGS,
    *SHAPES,
    Writer("plan", "json", Needs.PLAN, _plan, msg("&Plan for other programs (JSON) …"), "Ctrl+J"),
    Writer(
        "motion",
        "glb",
        Needs.PLAN,
        at_once(_motion),
        msg("Film of the bends for a 3D &viewer (glTF) …"),
        "Ctrl+Alt+V",
        "-film",
        steps=_motion,
    ),
)
"""Everything that is written without pages. A new format is one line here; its command follows."""
