"""The design tree: a base panel, what stands on its edges, and what stands on theirs."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal, Self

from pydantic import Discriminator, Field, Tag, model_validator

from ..errors import InputError
from ..i18n import tr
from ..schema.model import Angle, InputModel, Length, PositiveLength, TextLine
from .corner import Corner, CornerAt
from .edge import EdgeName, End, FoldSlots, Hem, Joggle, Measured, Seam, edge_names, edge_words
from .hole import Cutout, Stiffener

BendAngle = Annotated[Angle, Field(ge=-150, le=150)]
Point = tuple[Length, Length]


def _one_each(
    standing: tuple[Any, ...], known: tuple[str, ...], taken: tuple[str, ...] = ()
) -> None:
    seen: set[str] = set(taken)
    for one in standing:
        if one.edge not in known:
            raise InputError(
                tr("there is no {edge} edge here; this panel has {known}").format(
                    edge=one.edge, known=", ".join(known)
                )
            )
        if one.edge in taken:
            raise InputError(
                tr(
                    "what stands on a flange stands on its free edge, written back, or on its "
                    "ends, left and right"
                )
            )
        if one.edge in seen:
            raise InputError(
                tr("each edge carries one flange, and {edge} has two").format(
                    edge=edge_words(one.edge)
                )
            )
        seen.add(one.edge)


def _turns(angle: float) -> None:
    if abs(angle) < 1:
        raise InputError(tr("a flange must turn by at least 1°"))


class Flange(InputModel, defer_build=False):
    """A flange on one edge of the panel that carries it.

    Attributes:
        edge: the edge it stands on.
        height: mm, read as ``measured`` says.
        measured: inside (from the carrying panel's inside face), outside, or flat (from the bend's
            line). Up to the free edge, or to the corner of the next fold where its free edge
            carries another flange.
        angle: degrees turned from flat; negative folds to the other face.
        radius: inside radius, mm; None takes the job's.
        name: what the shop calls it; None makes one from the edge.
        left, right: how its ends are cut, seen from the fold looking out; None leaves it to the
            corner.
        slots: slots along its fold line.
        flanges: what stands on its own edges: back (free edge), left and right (its ends).
    """

    kind: Literal["flange"] = "flange"
    edge: EdgeName
    height: PositiveLength
    measured: Measured = Measured.INSIDE
    angle: BendAngle = 90.0
    radius: Length | None = Field(default=None, json_schema_extra={"empty": "the job's"})
    name: TextLine | None = Field(default=None, json_schema_extra={"empty": "after its edge"})
    left: End | None = None
    right: End | None = None
    slots: FoldSlots | None = None
    flanges: tuple[Standing, ...] = ()

    @model_validator(mode="after")
    def _checked(self) -> Self:
        _turns(self.angle)
        if self.radius is not None and self.radius < 0:
            raise InputError(tr("the inside radius must not be negative"))
        _one_each(self.flanges, edge_names(4), ("front",))
        return self


class Facet(InputModel, defer_build=False):
    """A flange of any shape: the sides of a reducer, a gusset, a spout.

    Attributes:
        edge: the edge it stands on.
        corners: its corners, mm, counter-clockwise from the left end of its fold: the first two lie
            on the fold line (second figure 0), the rest beyond it. Between inside corners.
        angle, radius, name: as for a flange.
        flanges: what stands on its own edges; its fold is ``front`` or ``edge-1``.
    """

    kind: Literal["facet"] = "facet"
    edge: EdgeName
    corners: Annotated[tuple[Point, ...], Field(min_length=3, max_length=200)]
    angle: BendAngle = 90.0
    radius: Length | None = Field(default=None, json_schema_extra={"empty": "the job's"})
    name: TextLine | None = Field(default=None, json_schema_extra={"empty": "after its edge"})
    flanges: tuple[Standing, ...] = ()

    @model_validator(mode="after")
    def _checked(self) -> Self:
        _turns(self.angle)
        if self.radius is not None and self.radius < 0:
            raise InputError(tr("the inside radius must not be negative"))
        (u0, v0), (u1, v1) = self.corners[:2]
        if abs(v0) > 1e-9 or abs(v1) > 1e-9 or u1 <= u0:
            raise InputError(
                tr(
                    "the first two corners lie on the fold line, left before right: (0, 0) and "
                    "(its length, 0)"
                )
            )
        if min(v for _, v in self.corners[2:]) < -1e-9:
            raise InputError(tr("all other corners lie beyond the fold line"))
        names = edge_names(len(self.corners))
        _one_each(self.flanges, names, names[:1])
        return self


def _kind(value: Any) -> str:
    return str(
        value.get("kind", "flange") if isinstance(value, dict) else getattr(value, "kind", "flange")
    )


Standing = Annotated[
    Annotated[Flange, Tag("flange")]
    | Annotated[Facet, Tag("facet")]
    | Annotated[Hem, Tag("hem")]
    | Annotated[Joggle, Tag("joggle")]
    | Annotated[Seam, Tag("seam")],
    Discriminator(_kind),
]
"""Anything that stands on an edge; written without a kind it is a flange."""


class Base(InputModel, defer_build=False):
    """The rectangular panel everything else stands on.

    Attributes:
        length: left to right, mm.
        width: away from you, mm.
        measured: between inside or outside faces of the walls, or flat from bend line to bend line
            (the same where none stands).
    """

    length: PositiveLength
    width: PositiveLength
    measured: Measured = Measured.INSIDE


class PolygonBase(InputModel):
    """A base panel of any convex shape.

    Attributes:
        corners: mm, counter-clockwise, between inside corners. With four corners the edges are
            front (first to second), right, back, left; otherwise edge-1, edge-2 …
    """

    corners: Annotated[tuple[Point, ...], Field(min_length=3, max_length=200)]

    @model_validator(mode="after")
    def _sound(self) -> Self:
        p = self.corners
        n = len(p)
        for i in range(n):
            (ax, ay), (bx, by), (cx, cy) = p[i], p[(i + 1) % n], p[(i + 2) % n]
            if (bx - ax) * (cy - by) - (by - ay) * (cx - bx) <= 1e-9:
                raise InputError(
                    tr(
                        "the base's corners must go round counter-clockwise and bulge outwards; "
                        "corner {i} does not"
                    ).format(i=(i + 1) % n + 1)
                )
        area = sum(p[i][0] * p[(i + 1) % n][1] - p[(i + 1) % n][0] * p[i][1] for i in range(n)) / 2
        turns = sum(_turn(p[i], p[(i + 1) % n], p[(i + 2) % n]) for i in range(n))
        if area <= 0 or turns > 7:
            raise InputError(tr("the base's outline crosses itself"))
        return self


def _turn(a: Point, b: Point, c: Point) -> float:
    one, two = math.atan2(b[1] - a[1], b[0] - a[0]), math.atan2(c[1] - b[1], c[0] - b[0])
    return (two - one) % (2 * math.pi)


def _base_kind(value: Any) -> str:
    has = "corners" in value if isinstance(value, dict) else isinstance(value, PolygonBase)
    return "polygon" if has else "rectangle"


class Design(InputModel, defer_build=False):
    """A whole part.

    Attributes:
        base: the panel everything stands on.
        flanges: what stands on its edges.
        corner: the rule for corners where two flanges meet.
        corners: corners of the base that differ.
        cutouts: holes and cut-outs.
        marks: cross-breaks and beads.
        trim: metal left on all sides of the sheared blank and trimmed off after beading or
            cross-breaking, which draw the sheet in, mm.
    """

    base: Annotated[
        Annotated[Base, Tag("rectangle")] | Annotated[PolygonBase, Tag("polygon")],
        Discriminator(_base_kind),
    ]
    flanges: tuple[Standing, ...] = ()
    corner: Corner = Corner()
    corners: tuple[CornerAt, ...] = ()
    cutouts: Annotated[tuple[Cutout, ...], Field(max_length=2000)] = ()
    marks: tuple[Stiffener, ...] = ()
    trim: Annotated[Length, Field(ge=0)] = 0.0

    @model_validator(mode="after")
    def _checked(self) -> Self:
        count = 4 if isinstance(self.base, Base) else len(self.base.corners)
        _one_each(self.flanges, edge_names(count))
        if len({c.at for c in self.corners}) != len(self.corners):
            raise InputError(tr("one corner is described twice"))
        return self


Path = tuple[int, ...]
"""Where something is written in a design: its place among the flanges on every level; empty for the
base."""


def at(design: Design, path: Path) -> Standing:
    """What is written at a path.

    Raises:
        IndexError: nothing is there.
    """
    result: Any = design
    for i in path:
        result = result.flanges[i]
    standing: Standing = result
    return standing


def replaced(design: Design, path: Path, new: Standing | None) -> Design:
    """The design with another thing at a path; None takes it away with all it carries.

    Args:
        design: the design tree.
        path: where it stands in the tree.
        new: what is put there.

    Raises:
        InputError: the result is not a design.
    """
    record = design.model_dump()
    holder = record
    for i in path[:-1]:
        holder = holder["flanges"][i]
    flanges = list(holder["flanges"])
    flanges[path[-1] : path[-1] + 1] = [] if new is None else [new.model_dump()]
    holder["flanges"] = flanges
    return Design.model_validate(record)


def added(design: Design, carrier: Path, new: Standing) -> tuple[Design, Path]:
    """The design with something more on a panel, and where it is written.

    Args:
        design: the design tree.
        carrier: path of the panel it stands on.
        new: what is put there.

    Raises:
        InputError: the panel cannot carry it there.
    """
    if carrier:
        panel = at(design, carrier)
        if not isinstance(panel, Flange | Facet):
            raise InputError(tr("a hem, a joggle or a seam carries nothing more"))
        grown = panel.model_copy(update={"flanges": (*panel.flanges, new)})
        return replaced(design, carrier, grown), (*carrier, len(panel.flanges))
    record = design.model_dump()
    record["flanges"] = [*record["flanges"], new.model_dump()]
    return Design.model_validate(record), (len(design.flanges),)
