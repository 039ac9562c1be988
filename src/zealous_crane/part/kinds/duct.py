"""Ductwork: sleeves in one piece and in several, their caps, and reducers."""

import math
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ...errors import InputError
from ...i18n import LabelledEnum, msg, tr
from ...schema.model import Length, PositiveLength
from ...units.length import INCH, Units, show_length
from ...units.sums import Sum, SumKind, Term
from ..corner import Corner, CornerRule, ReliefRule
from ..design import Base, Design, Facet, Flange, PolygonBase, Standing
from ..edge import End, Hem, HemForm, Measured, Seam, SeamForm
from ..template import PartTemplate
from .duct_side import in_frame, normal, plane

Lip = Literal["none", "in", "out"]


class SleevePiece(LabelledEnum):
    """Which piece of a sleeve is made."""

    WHOLE = "whole"
    HALF = "half"
    PLAIN_SIDE = "plain-side"
    POCKET_SIDE = "pocket-side"


class Sleeve(PartTemplate):
    """A four-sided sleeve: from one strip, in halves, or in four sides.

    Attributes:
        length, width: of the opening, mm.
        height: of the sleeve between its folded edges, mm.
        measured: how the opening is read.
        piece: whole (one strip, its last edge a tab), half (two sides), or one side of four with
            plain or pocket seams.
        pocket, plain: allowances of the lock's two sides, mm.
        tab: seam tab of the one-piece sleeve, mm.
        hem: flat the hem on the front edge uses, mm; none without one.
        hem_form: closed, double …
        lip: on the back edge: none, in or out.
        lip_width: mm; turned in, from the inside of the walls; turned out, from its line to its
            edge.
        left_seam, right_seam: seams of a half or a side; None takes pocket and edge of the lock as
            the piece has them.
    """

    label: ClassVar[str] = "Four-sided sleeve"
    about: ClassVar[str] = (
        "Lines at running sums from one end, V notches across lip and hem; the last fold closes "
        "on itself."
    )
    walled: ClassVar[frozenset[str]] = frozenset({"length", "width"})

    kind: Literal["sleeve"] = "sleeve"
    length: PositiveLength
    width: PositiveLength
    height: PositiveLength
    measured: Measured = Measured.INSIDE
    piece: SleevePiece = SleevePiece.WHOLE
    pocket: PositiveLength = Field(default=25.4, title="Lock pocket")
    plain: PositiveLength = Field(default=6.35, title="Lock edge")
    tab: PositiveLength = Field(default=19.05, title="Seam tab")
    hem: PositiveLength | None = Field(
        default=None, title="Hem on the front edge", json_schema_extra={"empty": "none"}
    )
    hem_form: HemForm = Field(default=HemForm.CLOSED, title="Form of the hem")
    lip: Lip = "none"
    lip_width: PositiveLength = Field(default=12.7, title="Width of the lip")
    left_seam: SeamForm | None = Field(
        default=None, title="Seam on the left", json_schema_extra={"empty": "as the piece has it"}
    )
    right_seam: SeamForm | None = Field(
        default=None, title="Seam on the right", json_schema_extra={"empty": "as the piece has it"}
    )

    def walls(self, size: str) -> tuple[str, str] | None:
        """A sleeve in one piece goes round; halves and sides have no two walls that face each
        other."""
        if self.piece is not SleevePiece.WHOLE:
            return None
        return ("side 4", "side 2") if size == "length" else ("base", "side 3")

    def _seam(self, edge: str, chosen: SeamForm | None, usual: SeamForm) -> Seam:
        form = chosen or usual
        width = {SeamForm.POCKET: self.pocket, SeamForm.PLAIN: self.plain}.get(form)
        return Seam(edge=edge, form=form, allowance=width)

    def _both_seams(self, usual: SeamForm) -> tuple[Seam, ...]:
        return self._seam("left", self.left_seam, usual), self._seam(
            "right", self.right_seam, usual
        )

    def _edges(
        self, front: str, back: str, number: int, thickness: float = 0.0
    ) -> tuple[Standing, ...]:
        made: list[Standing] = []
        if self.hem is not None:
            made.append(
                Hem(edge=front, form=self.hem_form, length=self.hem, name=f"side {number} hem")
            )
        if self.lip != "none":
            angle = 90.0 if self.lip == "in" else -90.0
            # Where the strip closes on itself the lips are notched by hand: no fold lies between
            # them on the flat.
            whole = self.piece is SleevePiece.WHOLE
            left = End(taper=45) if whole and number == 1 else None
            right = End(trim=thickness, taper=45) if whole and number == 4 else None
            made.append(
                Flange(
                    edge=back,
                    height=self.lip_width,
                    angle=angle,
                    # Turned out it is as wide as it is scribed, as the flange of a duct.
                    measured=Measured.INSIDE if self.lip == "in" else Measured.FLAT,
                    name=f"side {number} lip",
                    left=left,
                    right=right,
                )
            )
        return tuple(made)

    def design(self, thickness: float) -> Design:
        def wall(edge: str, size: float, number: int, beyond: tuple[Standing, ...]) -> Flange:
            return Flange(
                edge=edge,
                height=size,
                measured=self.measured,
                name=f"side {number}",
                flanges=(*beyond, *self._edges("right", "left", number, thickness)),
            )

        first = self._edges("front", "back", 1)
        base = Base(length=self.length, width=self.height, measured=self.measured)
        match self.piece:
            case SleevePiece.WHOLE:
                foot = End(trim=self.hem or thickness, taper=10)
                head = End(
                    trim=thickness if self.lip == "none" else self.lip_width * 0.25 + thickness,
                    taper=10,
                )
                # The tab lies inside the first side, so it ends short of hem and lip.
                tab = Flange(edge="back", height=self.tab, name="seam tab", left=head, right=foot)
                # Its outside lies against the first side's inside, so the fourth side is a
                # thickness shorter.
                chain = wall("back", self.width - thickness, 4, (tab,))
                chain = wall("back", self.length, 3, (chain,))
                return self._whole(base, (wall("right", self.width, 2, (chain,)), *first))
            case SleevePiece.HALF:
                one = self._seam("left", self.left_seam, SeamForm.POCKET)
                other = self._seam("back", self.right_seam, SeamForm.PLAIN)
                return self._whole(base, (wall("right", self.width, 2, (other,)), one, *first))
            case SleevePiece.PLAIN_SIDE:
                seams = self._both_seams(SeamForm.PLAIN)
                return self._whole(base, (*seams, *first))
            case SleevePiece.POCKET_SIDE:
                seams = self._both_seams(SeamForm.POCKET)
                wide = Base(length=self.width, width=self.height, measured=self.measured)
                return self._whole(wide, (*seams, *first))

    @staticmethod
    def _whole(base: Base, flanges: tuple[Standing, ...]) -> Design:
        return Design(base=base, flanges=flanges, corner=Corner(relief=ReliefRule()))


class Cap(PartTemplate):
    """A cap that closes an opening: smaller by a clearance, then larger by its edges.

    Attributes:
        length, width: of the opening it goes into, inside, mm.
        clearance: it is smaller than the opening in all, mm (common: 3 to 6).
        depth: how far it reaches in, mm.
        edge: lip outwards that rests on the opening, mm; none without one.
        hem: hem on that lip, mm; none without one.
    """

    label: ClassVar[str] = "Cap for a sleeve"
    about: ClassVar[str] = (
        "Opening less a clearance, walls that reach in, and an edge that rests on the sleeve."
    )
    walled: ClassVar[frozenset[str]] = frozenset({"length", "width"})
    measured: ClassVar[Measured] = Measured.OUTSIDE
    edges_go_in: ClassVar[bool] = False

    kind: Literal["cap"] = "cap"
    length: PositiveLength = Field(title="Opening, length")
    width: PositiveLength = Field(title="Opening, width")
    clearance: Annotated[Length, Field(ge=0, title="Smaller by")] = 4.0
    depth: PositiveLength = Field(title="Reaches in")
    edge: PositiveLength | None = Field(
        default=12.7, title="Resting edge", json_schema_extra={"empty": "none"}
    )
    hem: PositiveLength | None = Field(
        default=None, title="Hem on the edge", json_schema_extra={"empty": "none"}
    )

    def span(self, size: str, thickness: float) -> tuple[float, float]:
        """The cap itself, smaller than the opening it is given by."""
        inside, outside = super().span(size, thickness)
        return (
            (inside - self.clearance, outside - self.clearance)
            if size in self.walled
            else (inside, outside)
        )

    @model_validator(mode="after")
    def _left_over(self) -> Self:
        if self.clearance >= min(self.length, self.width):
            raise InputError(tr("the clearance leaves nothing of the cap"))
        return self

    def design(self, thickness: float) -> Design:
        hem: tuple[Standing, ...] = (
            () if self.hem is None else (Hem(edge="back", length=self.hem, inwards=False),)
        )
        lip: tuple[Standing, ...] = (
            ()
            if self.edge is None
            else (Flange(edge="back", height=self.edge, angle=-90, flanges=hem),)
        )
        return Design(
            base=Base(
                length=self.length - self.clearance,
                width=self.width - self.clearance,
                measured=Measured.OUTSIDE,
            ),
            flanges=tuple(
                Flange(edge=e, height=self.depth, name=f"{e} wall", flanges=lip)
                for e in ("front", "right", "back", "left")
            ),
            corner=Corner(rule=CornerRule.OPEN),
        )

    def sums(self, units: Units = Units.MM) -> tuple[Sum, ...]:
        """How the cap's own size comes from the opening."""
        return tuple(
            Sum(
                msg("Cap length, outside") if word == "length" else msg("Cap width, outside"),
                (
                    Term(
                        msg("opening, length") if word == "length" else msg("opening, width"), size
                    ),
                    Term(msg("clearance"), self.clearance, -1),
                ),
                msg(
                    "The cap goes inside: opening less a clearance of about {low} to {high}. "
                    "Common practice, no source.",
                    low=show_length(INCH / 8 if units.is_inch else 3.0, units),
                    high=show_length(INCH / 4 if units.is_inch else 6.0, units),
                ),
                SumKind.SHAPE,
            )
            for word, size in (("length", self.length), ("width", self.width))
        )


class ReducerHalf(PartTemplate):
    """Half of a reducer between two rectangles: two sides and the fold between them.

    Attributes:
        length, width: of the larger opening, mm.
        small_length, small_width: of the smaller opening, mm.
        height: between the two openings, mm.
        offset_length, offset_width: how far the middle of the small opening lies off that of the
            large one, mm.
        half: which two sides: front and right, or back and left.
        pocket, plain: seam allowances, mm.
        edge: flat edge at both openings for S or drive joints, mm.
    """

    label: ClassVar[str] = "Reducer, in halves"
    about: ClassVar[str] = (
        "Tapered both ways, offset if wanted; every slanted edge is laid out at its true length."
    )

    kind: Literal["reducer-half"] = "reducer-half"
    length: PositiveLength = Field(title="Large opening, length")
    width: PositiveLength = Field(title="Large opening, width")
    small_length: PositiveLength = Field(title="Small opening, length")
    small_width: PositiveLength = Field(title="Small opening, width")
    height: PositiveLength
    offset_length: Length = Field(default=0.0, title="Offset along the length")
    offset_width: Length = Field(default=0.0, title="Offset along the width")
    half: Literal["front-right", "back-left"] = "front-right"
    pocket: PositiveLength = Field(default=25.4, title="Lock pocket")
    plain: PositiveLength = Field(default=6.35, title="Lock edge")
    edge: PositiveLength | None = Field(
        default=25.4, title="Edge at both openings", json_schema_extra={"empty": "none"}
    )

    def corners(self) -> tuple[np.ndarray, np.ndarray]:
        """Inside corners (4, 3) of the large opening (z = 0) and the small one, front left first,
        counter-clockwise."""
        a, b = self.length / 2, self.width / 2
        c, d = self.small_length / 2, self.small_width / 2
        ring = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)], dtype=float)
        low = np.column_stack([ring * (a, b), np.zeros(4)])
        high = np.column_stack(
            [ring * (c, d) + (self.offset_length, self.offset_width), np.full(4, self.height)]
        )
        return low, high

    def _sides(self) -> tuple[np.ndarray, np.ndarray]:
        """The two sides' corners (4, 3): large edge from the seam to the shared edge, then back
        along the small one."""
        low, high = self.corners()
        i = 0 if self.half == "front-right" else 2
        j, k = i + 1, (i + 2) % 4
        return np.array([low[i], low[j], high[j], high[i]]), np.array(
            [low[j], low[k], high[k], high[j]]
        )

    def true_length(self) -> float:
        """Length of the slanted edge between the two sides, mm."""
        one, _ = self._sides()
        return float(np.linalg.norm(one[2] - one[1]))

    def design(self, thickness: float) -> Design:
        one, two = self._sides()
        # Seen from the inside, the face the metal is marked on, left and right change places.
        base = plane(one[[1, 0, 3, 2]])
        n1, n2 = normal(one), normal(two)
        angle = math.degrees(math.acos(max(-1.0, min(1.0, float(n1 @ n2)))))
        if not 1 <= angle <= 150:
            raise InputError(
                tr(
                    "the two sides of this reducer meet at {angle:.1f}° of fold; between 1° and "
                    "150° can be bent"
                ).format(angle=angle)
            )
        # Base corners: shared large, seam large, seam small, shared small; its left edge is the
        # shared one.
        shared_large, shared_small = two[0], two[3]
        u = (shared_small - shared_large) / np.linalg.norm(shared_small - shared_large)
        facet = in_frame(two, shared_large, u)
        edges = self._edges("front", "back")
        seam = Seam(edge="right", form=SeamForm.POCKET, allowance=self.pocket)
        side = Facet(
            edge="left",
            corners=tuple((float(a), float(b)) for a, b in facet),
            angle=angle,
            name="second side",
            flanges=(
                Seam(edge="back", form=SeamForm.PLAIN, allowance=self.plain),
                *self._edges("left", "right"),
            ),
        )
        return Design(
            base=PolygonBase(corners=tuple((float(a), float(b)) for a, b in base)),
            flanges=(side, seam, *edges),
        )

    def _edges(self, large: str, small: str) -> tuple[Seam, ...]:
        if self.edge is None:
            return ()
        return (
            Seam(edge=large, form=SeamForm.S, allowance=self.edge, notch=30, name=None),
            Seam(edge=small, form=SeamForm.S, allowance=self.edge, notch=30, name=None),
        )

    def sums(self, units: Units = Units.MM) -> tuple[Sum, ...]:
        """True length of the slanted fold, from its three parts."""
        one, _ = self._sides()
        x, y, z = np.abs(one[2] - one[1])
        length = self.true_length()
        return (
            Sum(
                msg("True length of the slanted fold"),
                (Term(msg("√(along² + across² + height²)"), length),),
                msg(
                    "Along {length}, across {length_2}, up {length_3}: the edge leans both ways "
                    "and is longer than "
                    "the reducer is high.",
                    length=show_length(float(x), units),
                    length_2=show_length(float(y), units),
                    length_3=show_length(float(z), units),
                ),
                SumKind.SHAPE,
            ),
        )
