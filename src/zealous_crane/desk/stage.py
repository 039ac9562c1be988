"""What a stage of the work is to the window: its name, its picture on the rail, and the page it makes."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from ..measure.dataclass import dataclass
from .session import Session
from .theme import Look

Drawing = tuple[tuple[tuple[float, float], ...], ...]
"""Lines of a picture, each through some points; x and y from 0 to 1, y downwards."""


@dataclass(frozen=True)
class Doors:
    """What a page may ask of the window.

    Attributes:
        add_part: show the page where a part is added.
        edit_brake: let the person edit the brake in use.
    """

    add_part: Callable[[], None]
    edit_brake: Callable[[], None]


@dataclass(frozen=True)
class Stage:
    """One stage of the work.

    Attributes:
        id: its name in the program, which stays when its words change; the command that opens it is ``stage.`` and this.
        title: as it is read.
        drawing: what is seen on the rail.
        make: makes its page.
    """

    id: str
    title: str
    drawing: Drawing
    make: Callable[[Session, Look, Doors], QWidget]
