"""What can be written of a job: each kind of file once, for the window and the command line alike.

What writes a file is brought in when one is written.
"""

from __future__ import annotations

from collections.abc import Callable
from enum import StrEnum
from typing import TYPE_CHECKING, Any

from ..blank import Blank
from ..job import Job
from ..measure.dataclass import dataclass
from ..measure.input_error import InputError
from ..measure.words import tr

if TYPE_CHECKING:  # whoever only hands plans on brings no engine in
    from ..plan.result.plan import Plan


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
        inches: lengths of a drawing are inches, not millimetres; None takes the job's, and mm for a shape.
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
        pages: it is pages, which can be printed; ``write`` then takes a printer too.
        suffix: goes behind the part's name where several kinds have one ending.
    """

    id: str
    ending: str
    needs: Needs
    write: Callable[[Subject, Any], None]
    suffix: str = ""
    pages: bool = False


def _dxf(subject: Subject, path: Any) -> None:
    from .drawing import write_dxf

    write_dxf(subject.blank, path, inches=subject.in_inches, version=subject.dxf)


def _svg(subject: Subject, path: Any) -> None:
    from .svg import write_svg

    write_svg(subject.blank, path, inches=subject.in_inches)


def _mesh(subject: Subject, path: Any) -> None:
    from .mesh import write_mesh

    write_mesh(subject.blank, path, inches=bool(subject.inches))


def _plan(subject: Subject, path: Any) -> None:
    from .plan_file import write_plan

    write_plan(subject.planned, path)


DRAWINGS = (
    Writer("dxf", "dxf", Needs.BLANK, _dxf),
    Writer("svg", "svg", Needs.BLANK, _svg),
)
"""Drawings of the blank."""

SHAPES = tuple(Writer(ending, ending, Needs.BLANK, _mesh) for ending in ("stl", "glb"))
"""The folded part."""

WRITERS = (*DRAWINGS, *SHAPES, Writer("plan", "json", Needs.PLAN, _plan))
"""Everything that is written without pages."""
