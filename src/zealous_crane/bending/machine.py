"""What the program asks of a kind of machine: everything else knows machines by this interface
alone."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, ClassVar, Generic, TypeVar

from ..brake.brake import Brake
from ..flat.blank import Blank
from ..flat.features import Finding
from ..i18n import Message, Phrase, tr
from ..job.job import Avoided
from ..job.tools import ToolChoice
from ..kernel.obstacle import Way
from ..metal.sheet import Sheet
from ..metal.springback import overbend
from ..units.length import Units
from .drawing import Drawn
from .setting import Setting
from .stroke import Stroke, Verdict
from .tooling import Packing, Tooling, packing_text

B = TypeVar("B", bound=Brake)
T = TypeVar("T", bound=Tooling)


@dataclass(frozen=True)
class Words:
    """How a machine is spoken of.

    Attributes:
        set_ups: so many set-ups of its tools: ``2 finger set-ups``.
        held: what is done to the ``{panel}`` that stays: ``base clamped``.
        tried: what was gone through besides every order: ``with either side clamped``.
        other_side: what a person asks for to hold the other side.
        line_under: what a line is sighted under.
        line_over: what the sheet lies on.
    """

    set_ups: Callable[[int], Message]
    held: Message
    tried: Message
    other_side: Message
    line_under: Message
    line_over: Message


class Doing(StrEnum):
    """What is done at a machine when a caution belongs there."""

    ADJUSTING = "adjusting"
    """The machine is adjusted for the first stroke of a set-up."""
    CHANGING_PIECES = "changing pieces"
    """Fingers, bars or sections are set up, of which there are several."""
    BENDING = "bending"
    """Any stroke."""
    COUNTERWEIGHT = "counterweight"
    """A stroke of a leaf that has one."""
    NARROW = "narrow"
    """A stroke under force on a fold of less than :data:`NARROW_FOLD`."""


NARROW_FOLD = 75.0
"""mm of fold below which the force of the part before would crack it. Common practice, no
source."""


class FactKey(StrEnum):
    """What a figure of the set-up is; the words beside it may change."""

    HELD = "held"
    TOOLS = "tools"
    PIECES = "pieces"
    UNDER = "under"
    OTHERS = "others"
    LINE = "line"
    SETBACK = "setback"
    PACKING = "packing"
    SPRUNG = "sprung"
    READS = "reads"
    STOP = "stop"
    TRAVEL = "travel"
    FORCE = "force"
    GAUGE = "gauge"
    STATION = "station"
    WAY = "way"
    BARE = "bare"
    HAND = "hand"
    OVER_BEND = "over-bend"
    RATED = "rated"
    HEIGHT = "height"
    LEAST_LEG = "least leg"
    RADIUS = "radius"


@dataclass(frozen=True)
class Fact:
    """One figure of a set-up in words: what it is, what it is called, and what it is set to."""

    key: FactKey
    label: str
    value: str


def packing_facts(packing: Packing, units: Units) -> list[Fact]:
    """The strip laid under the line, where there is one."""
    if not packing.thickness:
        return []
    return [Fact(FactKey.PACKING, tr("Pack the line with"), packing_text(packing, units))]


@dataclass(frozen=True)
class CardFields:
    """What any machine's card says, for the machine to put in its place.

    Attributes:
        held: which panel is held, and which face is up.
        tooling: what is out of the ordinary, or which tools.
        pieces, under: the pieces over the fold and under it, left to right.
        stop: the angle to stop at, and what it is made of.
        thickness: of the sheet, mm.
        units: of the job.
    """

    held: str
    tooling: str
    pieces: str
    under: str
    stop: str
    thickness: float
    units: Units


@dataclass(frozen=True)
class Least:
    """The least size of something on a machine in a sheet.

    Attributes:
        what: what it is the least of, as a shop calls it.
        size: mm, outside.
        why: what it is made of.
    """

    what: Phrase
    size: float
    why: Phrase


class MachineSettings(ABC):
    """What is set on one kind of machine for one stroke, beyond what every machine has."""

    @abstractmethod
    def record(self) -> dict[str, Any]:
        """The figures as JSON: lengths mm, angles degrees, forces kN."""

    @abstractmethod
    def facts(self, card: CardFields) -> list[Fact]:
        """What is set, the most needed first."""

    @abstractmethod
    def more(self, card: CardFields) -> list[Fact]:
        """Secondary facts."""

    @abstractmethod
    def hold(self, held: str, units: Units) -> str:
        """How the part is held, in a sentence or two for the page at the brake."""


class Machine(ABC, Generic[B, T]):
    """One kind of machine: what it may be set up with, what it refuses, how a stroke of it goes,
    and how it is spoken of."""

    words: ClassVar[Words]
    cautions: ClassVar[tuple[tuple[Doing, Message], ...]]
    bottoms: ClassVar[bool] = False
    folds_boxes: ClassVar[bool] = False
    front_in_hand: ClassVar[bool] = False
    """What hangs in front is held by hand, whichever side it is; else the machine lifts it."""
    """Its pieces are made up to fit between the walls of a box."""
    """Folds may be bottomed on it."""
    avoidable: ClassVar[frozenset[Avoided]] = frozenset()
    """What of its set-ups a person may ask to do without."""

    @abstractmethod
    def toolings(
        self, brake: B, blank: Blank, *, bottomed: bool, every: bool = False
    ) -> tuple[T, ...]:
        """What the brake may be set up with for a sheet, the plainest first; ``every``: those too
        that only a person would ask for.

        Args:
            brake: the machine.
            blank: the flat.
            bottomed: the punch is driven home.
            every: all set-ups, not only those tried first.
        """

    @abstractmethod
    def plain(self, toolings: Sequence[T]) -> list[T]:
        """Those of its set-ups a hand reaches for first."""

    def instead(
        self, now: T, verdict: Verdict, toolings: Sequence[T], *, plain: bool, turned: bool
    ) -> list[tuple[T, float]]:
        """Set-ups out of the ordinary that may help where one did not, with what is to be said
        against each.

        Args:
            now: what was tried.
            verdict: what it came to.
            toolings: all there are.
            plain: what was tried is what a hand reaches for first.
            turned: left and right have changed places in the verdict.
        """
        return []

    @abstractmethod
    def stroke(
        self,
        setting: Setting,
        tooling: T,
        keep: float = 0.0,
        until: float | None = None,
        stop: float | None = None,
    ) -> Stroke:
        """The stroke of a setting; see :class:`Stroke`.

        Args:
            setting: how the part is held.
            tooling: the machine as it is set up.
            keep: clearance to keep, mm.
            until: degrees beyond which contacts are of no interest.
            stop: degrees the machine is set to stop at.
        """

    @abstractmethod
    def refused(
        self, blank: Blank, brake: B, units: Units
    ) -> tuple[Phrase, tuple[Phrase, ...]] | None:
        """Why a brake takes no stroke of this sheet at all: a short and a long way of saying it;
        None when it does.

        Args:
            blank: the flat.
            brake: the machine.
            units: what lengths are shown in.
        """

    def least_sizes(self, brake: B, sheet: Sheet) -> tuple[Least, ...]:
        """The least flange, hem and distance between two bends at 90° in a sheet, as far as they
        are known. Common practice, no source."""
        return ()

    @abstractmethod
    def narrow_flanges(self, blank: Blank, brake: B, units: Units) -> list[Finding]:
        """What the brake cannot hold or carry, seen on the flat before any stroke is judged. Common
        practice, no source.

        Args:
            blank: the flat.
            brake: the machine.
            units: what lengths are shown in.
        """

    def unheld(self, blank: Blank, brake: B, units: Units) -> list[Finding]:
        """Flanges that are bent but shorter than the brake holds well: the plan takes a care sign
        from them. None where the engine refuses such a leg itself.

        Args:
            blank: the flat.
            brake: the machine.
            units: what lengths are shown in.
        """
        return []

    @abstractmethod
    def drawn(self, brake: B) -> Drawn:
        """Its section from the end, with the places its sizes are measured at."""

    def handbook(self, sheet: Sheet) -> float:
        """What the handbook says a plain 90° flange springs back by on such a machine, degrees."""
        return overbend(sheet, 90.0, sheet.thickness, closing=False).angle

    def made_radius(self, stroke: Stroke) -> float | None:
        """Inside radius (mm) that a stroke's tools give its bend; None where the machine is set for
        the radius of the flat."""
        return None

    def asked_tools(self, tooling: T) -> dict[ToolChoice, str]:
        """What of a set-up decides the inside radius, as a person asks for it; empty where nothing
        does."""
        return {}

    @abstractmethod
    def set_up(self, stroke: Stroke, reach: float) -> MachineSettings:
        """What is set on the machine for a stroke that goes to ``reach`` degrees."""

    @abstractmethod
    def record(self, stroke: Stroke, under: Sequence[tuple[float, float]]) -> dict[str, Any]:
        """Where the tools stand in a stroke, as JSON: what another program needs to look at it
        again. Lengths mm.

        Args:
            stroke: of this machine.
            under: intervals (mm along the fold) of the pieces under the fold, where there are any.
        """

    def lifted(self, stroke: Stroke) -> float:
        """How far (mm) the part is lifted over what it lies on where that is its way in and out; 0
        where it never is."""
        return 0.0

    def drawn_off(self, stroke: Stroke, released: float, way: Way) -> float | None:
        """How far (mm) the part is drawn to the operator before it is let go at ``released``
        degrees one way; None where it is not.

        Args:
            stroke: the stroke.
            released: degrees the bend stands at once let go.
            way: the way out that is taken.
        """
        return None

    def most_drawn(self, stroke: Stroke, released: float, way: Way) -> float | None:
        """How far (mm) it may be drawn then at most, for what stands behind the tool; None where
        any distance does.

        Args:
            stroke: the stroke.
            released: degrees the bend stands at once let go.
            way: the way out that is taken.
        """
        return None
