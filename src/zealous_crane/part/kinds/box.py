"""Boxes, trays and pans: a base and four walls."""

from collections.abc import Callable
from typing import ClassVar, Literal

from pydantic import Field

from ...schema.model import PositiveLength, TextLine
from ..corner import Corner, CornerRule, Fastening, ReliefRule, Tab, Walls
from ..design import Base, Design, Flange
from ..edge import Edge, Hem, HemForm, Measured
from ..template import PartTemplate


def _bare(edge: Edge) -> tuple[Hem, ...]:
    """Nothing on the wall of an edge."""
    return ()


class FourWalls(PartTemplate):
    """What every kind with a base and four walls has: its three sizes.

    Attributes:
        length: left to right, mm.
        width: away from you, mm.
        depth: height of the walls, mm.
        measured: which faces the three sizes are read between.
    """

    walled: ClassVar[frozenset[str]] = frozenset({"length", "width"})

    kind: TextLine
    length: PositiveLength
    width: PositiveLength
    depth: PositiveLength
    measured: Measured = Measured.INSIDE

    def tree(self, corner: Corner, on_a_wall: Callable[[Edge], tuple[Hem, ...]] = _bare) -> Design:
        """The base with its four walls.

        Args:
            corner: how its corners close.
            on_a_wall: what stands on the wall of an edge.
        """
        return Design(
            base=Base(length=self.length, width=self.width, measured=self.measured),
            flanges=tuple(
                Flange(
                    edge=edge,
                    height=self.depth,
                    measured=self.measured,
                    name=f"{edge} wall",
                    flanges=on_a_wall(edge),
                )
                for edge in Edge
            ),
            corner=corner,
        )


class OpenBox(FourWalls):
    """A ready kind: an open box by its three sizes.

    Attributes:
        corner: notch gap and relief.
    """

    label: ClassVar[str] = "Open box"
    about: ClassVar[str] = (
        "A base and four walls, square notches, open corners. The depth of the brake is its limit."
    )

    kind: Literal["open-box"] = "open-box"
    corner: Corner = Corner()

    def design(self, thickness: float) -> Design:
        return self.tree(self.corner)


class HemmedTray(FourWalls):
    """A tray with a hem or safety edge all round and tabs fastened to the next wall.

    Attributes:
        depth: height of the walls once hemmed, mm.
        edge: form of the hem; closed, rolled and so on.
        hem: its length, mm; for a safety edge the flat it uses.
        tab: length of the tabs, mm; inside or outside the next wall, on which walls, how fastened
            and how far apart.
    """

    label: ClassVar[str] = "Hemmed tray with tabs"
    about: ClassVar[str] = (
        "Walls with a hem or safety edge, corners closed by tabs that are spotted or riveted."
    )

    kind: Literal["hemmed-tray"] = "hemmed-tray"
    edge: HemForm = Field(default=HemForm.CLOSED, title="Edge")
    hem: PositiveLength = Field(default=12.7, title="Hem length")
    tab: PositiveLength = Field(default=15.0, title="Tab length")
    tabs_inside: bool = Field(default=False, title="Tabs inside the next wall")
    tabs_on: Walls = Field(default=Walls.ENDS, title="Tabs on")
    fastening: Fastening = Fastening.SPOT
    pitch: PositiveLength = Field(default=40.0, title="Farthest apart")
    relief: ReliefRule = ReliefRule()

    def design(self, thickness: float) -> Design:
        # A tab inside lies under the hem of the wall it is fastened to.
        top = self.hem + thickness if self.tabs_inside else thickness
        tab = Tab(
            length=self.tab,
            inside=self.tabs_inside,
            top=top,
            fastening=self.fastening,
            pitch=self.pitch,
        )
        hems = (Hem(edge="back", form=self.edge, length=self.hem),)
        corner = Corner(rule=CornerRule.TAB, by=self.tabs_on, tab=tab, relief=self.relief)
        return self.tree(corner, lambda edge: hems)


class FoldedPan(FourWalls):
    """A water-tight pan: nothing is cut, the corners are folded into ears.

    Attributes:
        depth: height of the walls, once hemmed where they have a hem, mm.
        ears_on: the walls the ears are laid against; they are closed last.
        ears_outside: the ears lie outside the walls.
        hem: closed hem on the walls' edges, turned outwards, mm; none without one.
    """

    label: ClassVar[str] = "Water-tight folded pan"
    about: ClassVar[str] = (
        "Corners folded, not cut: two walls to 30°, the others to 90°, the ears by hand, then the "
        "first two."
    )

    kind: Literal["folded-pan"] = "folded-pan"
    ears_on: Walls = Field(default=Walls.ENDS, title="Ears against")
    ears_outside: bool = Field(default=True, title="Ears outside")
    hem: PositiveLength | None = Field(
        default=None, title="Hem on the edges", json_schema_extra={"empty": "none"}
    )

    def design(self, thickness: float) -> Design:
        hems = () if self.hem is None else (Hem(edge="back", length=self.hem, inwards=False),)
        corner = Corner(rule=CornerRule.GUSSET, by=self.ears_on, ear_outside=self.ears_outside)
        return self.tree(corner, lambda edge: hems)


class LockingBox(FourWalls):
    """A box whose tapered tabs slide under the open hem of the next wall.

    Attributes:
        depth: height of the walls once hemmed, mm.
        hem: length of the hems, mm.
        tab: length of the tabs, mm.
        taper: of the tabs, degrees.
        tabs_on: the walls that carry them.
    """

    label: ClassVar[str] = "Locking-tab box"
    about: ClassVar[str] = (
        "No rivets: each tab slides under its neighbour's open hem. Wall and tab are bent together."
    )

    kind: Literal["locking-box"] = "locking-box"
    hem: PositiveLength = Field(default=12.7, title="Hem length")
    tab: PositiveLength = Field(default=25.0, title="Tab length")
    taper: float = Field(default=8.0, ge=0, le=45, title="Taper of the tabs")
    tabs_on: Walls = Field(default=Walls.ENDS, title="Tabs on")

    def design(self, thickness: float) -> Design:
        gap = 1.6 * thickness
        ends = (Edge.LEFT, Edge.RIGHT)

        def hem(edge: Edge) -> Hem:
            carries = (edge in ends) is (self.tabs_on is Walls.ENDS)
            form = HemForm.CLOSED if carries else HemForm.OPEN
            return Hem(edge="back", form=form, length=self.hem, gap=None if carries else gap)

        # The tab ends below the inside of the open hem's bend.
        tab = Tab(
            length=self.tab,
            inside=True,
            taper=self.taper,
            top=gap / 2 + 1.5 * thickness,
            clearance=0.3 * thickness,
        )
        corner = Corner(rule=CornerRule.TAB, by=self.tabs_on, tab=tab)
        return self.tree(corner, lambda edge: (hem(edge),))
