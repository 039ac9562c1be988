"""What meets what, as data; how it is said comes last."""

from __future__ import annotations

from enum import StrEnum
from typing import NamedTuple

from ...measure.words import the, tr


class BodyKind(StrEnum):
    """What it is of the part."""

    PANEL = "panel"
    STRIP = "bent strip"
    FOLD = "fold"
    """The fold that is being made."""

    PART = "part"
    BOARD = "board"
    """The board, leaf, V and punch come to an end of their own."""

    LEAF = "leaf"
    PUNCH = "punch"
    V = "V"


class Body(NamedTuple):
    """A piece of the part that meets something.

    Attributes:
        kind: what it is.
        name: of the panel, or of the fold whose strip it is; empty for what has no name of its own.
        across: True where it is metal on the wrong side of the bend line that meets.
    """

    kind: BodyKind
    name: str = ""
    across: bool = False

    @property
    def said(self) -> str:
        """``the left wall``, ``the right hem fold``, ``the part``."""
        if self.kind is BodyKind.PANEL:
            name = self.name
        elif self.kind is BodyKind.STRIP:
            name = tr("{name} fold").format(name=self.name)
        else:
            return OWN[self.kind]
        return the(tr("{name}, reaching across the bend line,").format(name=name) if self.across else name)


OWN = {
    BodyKind.FOLD: tr("the fold"), BodyKind.PART: tr("the part"), BodyKind.BOARD: tr("the board"), BodyKind.LEAF: tr("the leaf"),
    BodyKind.PUNCH: tr("the punch"), BodyKind.V: tr("the V"),
}  # fmt: skip

FOLD, PART = Body(BodyKind.FOLD), Body(BodyKind.PART)


class ToolSide(StrEnum):
    """What of a tool ends a stroke."""

    SIDES = "sides"
    TIP = "tip"


class OfTool(NamedTuple):
    """A part of a tool that has a name of its own.

    Attributes:
        kind: what of it.
        name: of the tool.
    """

    kind: ToolSide
    name: str

    @property
    def said(self) -> str:
        """``the wide V's sides``."""
        words = {ToolSide.SIDES: tr("{name}'s sides"), ToolSide.TIP: tr("{name}'s tip")}
        return the(words[self.kind].format(name=self.name))


Met = str | Body | OfTool
"""What is met: a part of the machine by its kind, the part itself, or a part of a tool."""
