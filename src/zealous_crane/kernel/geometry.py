"""The innermost questions of the contact search, as every back end answers them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from .._typing import Array

Found = tuple[float, tuple[float, float], int, bool]
"""A contact: radians turned, (y, z) mm where, the side or corner of the resting outline, and
whether it is a corner."""

Triple = tuple[Array, Array, Array]
"""Corners, normals and offsets of a convex piece."""

Place = tuple[float, float]
Corner = tuple[float, float, float]

Counted = tuple[bytes | None, bytes | None]
"""A byte for each corner and side: whether it counts; None counts all."""

NoseTip = tuple[float, Place]
"""Radians by which a part is tipped, and about what."""

PressWay = tuple[int, bool, bool]
"""Number of the way in and out of a press, whether the tool rises with the ram, and whether the
piece lies on it."""

PressTurn = tuple[float, float, float]
"""Radians a side is up by, its sense, and its offset, mm."""

Moves = tuple[float, float, float, float, float, float, float]
"""mm: opening, how far punch and die stand higher, lift, forward, eased, away."""


class Geometry(Protocol):
    """What the kernel asks. Arrays are float, mm; outlines are counter-clockwise, (n, 2)."""

    def hull(self, points: Array, /) -> Array:
        """Convex hull (k, 2), counter-clockwise, of (n, 2) points."""
        ...

    def meets(self, convex: Array, outline: Array, /) -> bool:
        """True when a convex outline shares anything with another."""
        ...

    def distance(self, outline: Array, point: Place, /) -> float:
        """Distance (mm) from a point to an outline; 0 inside."""
        ...

    def ring(
        self, outline: Array, pole: Place, below: float, /
    ) -> tuple[float, float, float, float]:
        """Least and greatest distance (mm) of an outline from a pole, and first and last direction
        (radians) of its corners, counted from ``below`` the front backwards.

        Args:
            outline: (n, 2) mm.
            pole: (y, z) mm.
            below: radians below the front at which directions begin to be counted.
        """
        ...

    def apart(
        self,
        corners: Array,
        pole: Place,
        sides: Array,
        limit: float,
        backwards: bool,
        counted: Counted,
        /,
    ) -> float:
        """Least distance (mm) of corners that turn from 0 to ``limit`` radians to the sides of an
        outline; ``counted`` says which corners and sides.

        Args:
            corners: (n, 2) mm, at angle 0.
            pole: (y, z) mm, what they turn about.
            sides: (m, 2) mm, the outline that rests.
            limit: radians.
            backwards: they turn the other way.
            counted: which corners, and which sides.
        """
        ...

    def touches(
        self,
        outlines: list[Array],
        resting: Array,
        limit: float,
        about: tuple[Array, Array],
        backwards: tuple[bool, bool],
        counted: Counted,
        /,
    ) -> list[Found | None]:
        """First contact of each outline that turns with a resting one: about what and which way,
        for the moving corners and, as they see it, for the resting ones; ``counted`` says which
        resting sides and corners.

        Args:
            outlines: (n_i, 2) mm each, at angle 0.
            resting: (m, 2) mm.
            limit: radians.
            about: (1 or n, 2) and (1 or m, 2) mm.
            backwards: of the moving corners, and of the resting ones.
            counted: which resting sides, and which resting corners.
        """
        ...

    def advances(
        self,
        outlines: list[Array],
        turns: Array,
        resting: Array,
        rise: tuple[float, float, float, float, float],
        between: tuple[float, float],
        steps: tuple[float, float, int],
        /,
    ) -> list[Found | None]:
        """First contact of each outline, turned as a row (pole y, pole z, sense, offset) says, with
        one that rises meanwhile, ``rise`` as :attr:`Shift.terms`, between two angles, radians.
        ``steps``: mm that no longer matter, radians looked at in one go, and parts it is looked at
        again in.

        Args:
            outlines: (n_i, 2) mm each, at angle 0.
            turns: (k, 4), a row for each.
            resting: (m, 2) mm.
            rise: how it stands higher as they turn.
            between: radians.
            steps: how finely it is looked at.
        """
        ...

    def extent(self, corners: Array, /) -> tuple[Corner, Corner, bool]:
        """Lowest and highest corner of (2k, 3) corners, and whether they are a prism along x."""
        ...

    def within(self, corners: Array, a: float, b: float, low: float, high: float, /) -> Array:
        """(n, 2) points whose hull is the shadow of what of a piece lies between x = a and x = b;
        it goes from ``low`` to ``high``.

        Args:
            corners: (2k, 3) mm.
            a: mm.
            b: mm.
            low: least x of the piece, mm.
            high: greatest x of the piece, mm.
        """
        ...

    def reach(self, solid: Triple, room: Triple, by: Place, /) -> Place | None:
        """Least interval of x (mm) that holds what of a solid is inside a room of outline, normals
        and offsets in the plane, shifted by (y, z).

        Args:
            solid: (2k, 3) corners, (k + 2, 3) normals, (k + 2,) offsets.
            room: (m, 2) corners, (m, 2) normals, (m,) offsets.
            by: (y, z) mm.
        """
        ...

    def meeting(
        self, one: Triple, other: Triple, about: Place, start: float, limit: float, /
    ) -> Found | None:
        """First contact of a convex piece that turns about an axis along x with one that rests.

        Args:
            one: corners at angle 0, normals and offsets.
            other: the same of what rests.
            about: (y, z) mm.
            start: radians.
            limit: radians.
        """
        ...

    def leg(self, points: Array, path: Array, outline: Array, /) -> int:
        """Number, from 1, of the first line of a path on which the hull of points strikes an
        outline; 0 when on none. A path is (m, 2): where it begins, and its lines.

        Args:
            points: (n, 2) mm.
            path: (m, 2) mm.
            outline: (k, 2) mm.
        """
        ...

    def legs(
        self,
        points: Array,
        rows: Array,
        angle: float,
        path: Array,
        tool: tuple[Array, Array],
        tip: NoseTip,
        /,
    ) -> Sequence[int]:
        """The same of every piece of a :class:`NoseBatch`, of a tool's outline and of the same
        without its nose, past which those are looked at that lie on the nose. With a tip the last
        leg but one turns the part about a place.

        Args:
            points: (n, 2) mm, piece after piece, with the fold flat.
            rows: (k, 5), how many points each has and how it turns.
            angle: radians the fold stands at.
            path: (m, 2) mm.
            tool: outline, and outline without its nose.
            tip: by how much and about what the part is tipped; 0 radians where it is not.
        """
        ...

    def reaches(self, points: Array, rows: Array, angle: float, /) -> Array:
        """(k, 3) mm: how far back and how high every piece reaches, and how low.

        Args:
            points: (n, 2) mm, piece after piece, with the fold flat.
            rows: (k, 5), how many points each has and how it turns.
            angle: radians the fold stands at.
        """
        ...

    def passed(
        self,
        points: Array,
        tool: tuple[Array, Array],
        way: PressWay,
        turn: PressTurn,
        poles: tuple[Place, Place],
        moves: Moves,
        /,
    ) -> int:
        """What a piece strikes a tool on, in or out of a press: 0 on nothing, 1 moving, 2 closing.
        ``tool``: its outline, and without its nose; ``poles``: of the side, and of the fold.

        Args:
            points: (n, 2) mm, with the fold flat.
            tool: outline, and outline without its nose.
            way: in or out, and of which tool.
            turn: of the side the piece belongs to.
            poles: (y, z) mm each.
            moves: mm.
        """
        ...

    def passages(
        self,
        points: Array,
        rows: Array,
        tools: tuple[tuple[Array, Array, bool], ...],
        way: int,
        tipped: NoseTip,
        moves: Moves,
        /,
    ) -> Sequence[int]:
        """The same of every piece of a :class:`PressBatch` and every tool.

        Args:
            points: (n, 2) mm, piece after piece, with the fold flat.
            rows: (k, 6), how many points each has and how it turns.
            tools: outline, the same without its nose, whether it rises with the ram; of each.
            way: number of the way in or out.
            tipped: radians each side is up by, and the fold's pole, (y, z) mm.
            moves: mm.
        """
        ...
