"""What a brake may be set up with for a stroke: the choices beyond which pieces stand where."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterable
from dataclasses import dataclass

from ..brake.brake import Brake
from ..brake.tools import SegmentSet
from ..i18n import Phrase, tr
from ..job.job import Avoided
from ..job.tools import ToolChoice
from ..kernel.obstacle import Obstacle
from ..kernel.outline import ToolOutline
from ..kernel.solid import HAIR, Solid
from ..metal.sheet import Sheet
from ..metal.springback import Springback, overbend
from ..units.length import Units, show_length


class Tooling(ABC):
    """One way a machine is set up. Every machine has its own, a frozen record compared by value.

    Attributes:
        brake: the machine as set up.
    """

    brake: Brake

    @property
    @abstractmethod
    def says(self) -> Phrase:
        """What is out of the ordinary about it, or which tools it is; empty when there is nothing
        to say."""

    @property
    @abstractmethod
    def sections(self) -> SegmentSet:
        """The pieces set over the fold: fingers, bars, pieces of the punch."""

    @property
    def under(self) -> SegmentSet | None:
        """The pieces set under it, along with those over it; None where nothing is."""
        return None

    @property
    def racks(self) -> tuple[SegmentSet, ...]:
        """Everything the blocks are made up from, over the fold and under it."""
        return (self.sections,) if self.under is None else (self.sections, self.under)

    @property
    def marked_in(self) -> Units:
        """Units the pieces are marked in."""
        return self.brake.marked_in

    @property
    @abstractmethod
    def greatest_angle(self) -> float:
        """Farthest a fold can be taken, degrees."""

    @property
    @abstractmethod
    def stop(self) -> Obstacle:
        """What ends a stroke that meets nothing."""

    @property
    def unusual(self) -> frozenset[Avoided]:
        """What about it a person may ask to do without."""
        return frozenset()

    @property
    def chosen(self) -> dict[ToolChoice, str]:
        """What there is to choose about it, and which it is: names of tools, or ids."""
        return {}

    @property
    def key(self) -> str:
        """What of the set-up a bend's springback goes by, as the book keeps it: no words."""
        return " ".join(sorted(self.unusual - {"bed-end", "sprung"}))

    @property
    def mirrored(self) -> Tooling:
        """The set-up as a mirror shows it, left for right."""
        return self

    @property
    def standing(self) -> Tooling:
        """The set-up as it stands between strokes: what a hand does on one stroke only is left
        out."""
        return self

    @property
    def head(self) -> float:
        """How far (mm) what holds a piece hangs down along its upper end."""
        return 0.0

    def springback(
        self,
        sheet: Sheet,
        target: float,
        radius: float,
        *,
        closing: bool,
        measured: float | None,
        whole: bool,
    ) -> Springback:
        """What a fold comes back by on this machine.

        Args:
            sheet: the metal.
            target: degrees wanted after release.
            radius: inside radius, mm.
            closing: a neighbour of the fold stands already.
            measured: what a test strip came back by, degrees at 90°.
            whole: the fold is taken to its own angle, and is no hem.
        """
        return overbend(sheet, target, radius, closing=closing, measured=measured)

    @abstractmethod
    def stands_beside(self, other: Tooling) -> bool:
        """True when both may stand on one bed at once, wanting the same of the machine itself."""


DEEPEST = 3.2
"""mm below the sheet that a strip still makes up for. Common practice, no source."""

STRIP = 12.0
"""mm; how wide the strip is, from the bed's edge back: half an inch holds what is clamped. Common
practice, no source."""

LOW = 1e-6
"""mm below the sheet from which something hangs."""


@dataclass(frozen=True)
class Packing:
    """A strip under the sheet along the line.

    Attributes:
        thickness: mm; 0 where none is needed.
        loaded: something that hangs below the sheet lies on the leaf, too.
        under: names of what lies under the sheet.
    """

    thickness: float = 0.0
    loaded: bool = False
    under: tuple[str, ...] = ()


NONE = Packing()


def packing_text(packing: Packing, units: Units) -> str:
    """What strip is laid, and what it makes up for."""
    return tr(
        "a strip {thickness} thick and {wide} wide along the line: the {under} {lies} under the "
        "sheet"
    ).format(
        thickness=show_length(round(packing.thickness, 2), units.fine),
        wide=show_length(STRIP, units),
        under=tr(" and the ").join(
            (
                *([tr(", ").join(packing.under[:-1])] if packing.under[1:] else []),
                *packing.under[-1:],
            )
        ),
        lies=tr("lie") if len(packing.under) > 1 else tr("lies"),
    )


def packing_for(
    solids: Iterable[Solid],
    bed: ToolOutline,
    leaf: ToolOutline | None,
    over: tuple[float, float] | None,
    span: tuple[float, float],
) -> Packing:
    """The strip that a stroke needs.

    Args:
        solids: the part with the fold flat.
        bed: what it lies on, not lowered yet.
        leaf: what lifts the other side, where that is a tool.
        over: interval of x (mm) in which bed and leaf are; None when they go on past the part.
        span: interval of x along the fold, mm.

    Returns:
        no strip where nothing would lie on bed or leaf, where it is too deep to be packed, or where
        it lies in the strip's own place.
    """
    hanging = [s for s in solids if s.box[0][2] < -LOW]
    depth, loaded, under = 0.0, False, []
    for solid in hanging:
        deep = -solid.box[0][2]
        shadow = solid.shadow if over is None else solid.clipped(*over)
        if deep > DEEPEST or len(shadow) < 3:
            continue
        on_bed, on_leaf = bed.meets(shadow), leaf is not None and leaf.meets(shadow)
        if on_bed or on_leaf:
            depth, loaded = max(depth, deep), loaded or on_leaf
            if solid.panel >= 0:
                under.append(solid.name)
    if depth == 0.0:
        return NONE
    edge = float(bed.outline[:, 0][bed.outline[:, 1] > -0.1].min())
    for solid in hanging:
        points = solid.within(span[0] + HAIR, span[1] - HAIR)
        points = points[points[:, 1] < -LOW] if len(points) else points
        if len(points) and points[:, 0].min() < edge + STRIP and points[:, 0].max() > edge:
            return NONE
    return Packing(depth, loaded, tuple(dict.fromkeys(under)))
