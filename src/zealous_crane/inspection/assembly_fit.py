"""A folded part as convex pieces, and how far one may go before it meets another."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from .._typing import Array
from ..errors import InputError
from ..flat.blank import Blank
from ..flat.crossing import overlap_depth, separating_axes
from ..flat.folding import Pose, strip_prisms
from ..flat.inside_sizes import WallSpan, reach
from ..i18n import the, tr
from ..kernel.self_contact import Meeting
from ..kernel.solid import Solid, plate
from ..part.size import size_title
from ..part.template import PartTemplate
from ..units.length import Units, show_length
from ..units.quantities import show_angle
from ..work.fit import Faces, Fit, FitRule
from ..work.work import Work

ON = 1e-9
"""Of a unit vector: two directions nearer than this are one."""


def folded_solids(blank: Blank) -> tuple[Solid, ...]:
    """The finished part: its panels and its bent strips, in the frame of its flat with the base in
    place."""
    poses, t = blank.stood, blank.thickness
    result = [
        Solid(panel.name, i, poses[i].apply(plate(piece, t)))
        for i, panel in enumerate(blank.panels)
        for piece in panel.pieces
    ]
    for i, fold in enumerate(blank.folds):
        at = poses[fold.parent]
        result += [
            Solid(fold.name, -1 - i, at.apply(prism)) for prism in strip_prisms(fold, fold.angle, t)
        ]
    return tuple(result)


def moved(solids: tuple[Solid, ...], pose: Pose) -> tuple[Solid, ...]:
    """The same pieces in another place."""
    return tuple(Solid(s.name, s.panel, pose.apply(s.corners)) for s in solids)


def travel(one: Solid, other: Solid, way: Array, give: float) -> tuple[float, float] | None:
    """From and to: how far (mm) one convex piece is shifted along a direction while it meets
    another by more than ``give``.

    None when it passes by. Closed form: along every separating direction they overlap in one
    interval of the shift.

    Args:
        one: the piece that moves.
        other: the piece it may meet.
        way: (3,), the direction.
        give: mm they may lie in each other.
    """
    axes = separating_axes(one.corners, other.corners)
    a, b = one.corners @ axes.T, other.corners @ axes.T
    # Shifted by s, they overlap on an axis by more than give while low < s · speed < high.
    low, high = b.min(axis=0) - a.max(axis=0) + give, b.max(axis=0) - a.min(axis=0) - give
    speed = axes @ way
    still = np.abs(speed) < ON
    if (low[still] >= 0).any() or (high[still] <= 0).any() or (low >= high).any():
        return None
    moving = ~still
    if not moving.any():
        return -math.inf, math.inf
    one_end, other_end = low[moving] / speed[moving], high[moving] / speed[moving]
    begins = float(np.minimum(one_end, other_end).max())
    ends = float(np.maximum(one_end, other_end).min())
    return (begins, ends) if begins < ends else None


GIVE = 0.05
"""mm two parts may lie in each other before it is said: what touches does not meet, and roundings
of a bend are drawn in chords."""

NO_ROOM = 0.005
"""mm of room less than none that is rounding."""

SQUARE = 0.2
"""Of a unit vector: two fits whose directions are nearer than this to one line give no second
direction."""


@dataclass(frozen=True)
class Meets:
    """Two panels that would be in one place.

    Attributes:
        follower, master: their names.
        by: how far (mm) one would have to be shifted to be clear of the other.
    """

    follower: str
    master: str
    by: float


@dataclass(frozen=True)
class Gap:
    """Room left of one fitted size, on either side once it is set in the middle.

    Attributes:
        what: the size, as the fit names it.
        between: names of the panels that face each other on the two sides.
        room: mm on each side.
    """

    what: str
    between: tuple[tuple[str, str], tuple[str, str]]
    room: tuple[float, float]


@dataclass(frozen=True, eq=False)
class PlacedPart:
    """A part in its place.

    Attributes:
        pose: carries the follower's folded frame into the master's.
        way: (3,) the direction it goes in, in the master's frame.
        goes_in: how far (mm) it is inside, or over, the master where it comes to rest.
        stops_on: what it comes to rest on; None when it goes right through.
        meets: panels that run into each other in that place.
        gaps: room left of every fitted size.
        solids: pieces of the follower in its place.
    """

    pose: Pose
    way: Array
    goes_in: float
    stops_on: tuple[str, str] | None
    meets: tuple[Meets, ...]
    gaps: tuple[Gap, ...]
    solids: tuple[Solid, ...]

    @property
    def lacking(self) -> tuple[Gap, ...]:
        """Sizes that leave less than no room, however little: sheet does not go in by giving
        way."""
        return tuple(gap for gap in self.gaps if sum(gap.room) < -NO_ROOM)

    @property
    def fits(self) -> bool:
        """True when nothing runs into anything, and there is room for every size."""
        return not self.meets and not self.lacking

    def says(self, units: Units) -> str:
        """What a hand would find, in a sentence or two."""
        lacking = [
            tr("The {what} lacks {by}.").format(
                what=gap.what, by=show_length(-sum(gap.room), units.fine, pretty=True)
            )
            for gap in self.lacking
        ]
        if self.meets:
            worst = max(self.meets, key=lambda meets: meets.by)
            text = tr(
                "It does not go in: its {follower} and {master} would be in one place."
            ).format(follower=worst.follower, master=the(worst.master))
            return " ".join([text, *lacking])
        if lacking:
            return " ".join([tr("It does not go in."), *lacking])
        room = ", ".join(
            tr("{what} {low} and {high}").format(
                what=gap.what,
                low=show_length(gap.room[0], units.fine, pretty=True),
                high=show_length(gap.room[1], units.fine, pretty=True),
            )
            for gap in self.gaps
        )
        if self.stops_on is None:
            return tr("It goes through. Room on either side: {room}.").format(room=room)
        return tr(
            "It goes in {goes_in} and rests with its {follower} on {master}. Room on either side: "
            "{room}."
        ).format(
            goes_in=show_length(self.goes_in, units, pretty=True),
            follower=self.stops_on[0],
            master=the(self.stops_on[1]),
            room=room,
        )


def whole_fit(work: Work, fit: Fit) -> Fit:
    """A fit with the sizes of every other one between the same two parts: together they say where
    it sits."""
    alike = [
        f
        for f in work.fits
        if (f.follower, f.master, f.rule) == (fit.follower, fit.master, fit.rule)
    ]
    return fit.model_copy(update={"sizes": tuple(pair for f in alike for pair in f.sizes)})


def placed(work: Work, fit: Fit, follower: Blank, master: Blank) -> PlacedPart:
    """Set the part that follows into its place.

    Args:
        work: the two parts, their sizes resolved.
        fit: how one follows the other, see :func:`whole_fit`; sizes that run between no two walls
            say nothing of its place.
        follower, master: their blanks.

    Raises:
        InputError: the fit names no faces by which it could be placed: the size is that of a whole
            piece, not between two walls.
    """
    one, other = work.parts[fit.follower].part, work.parts[fit.master].part
    pairs = [
        (size_title(one, pair.follower).lower(), mine, theirs)
        for pair in fit.sizes
        if (mine := _reach(follower, one, pair.follower, pair.follower_faces)) is not None
        and (theirs := _reach(master, other, pair.master, pair.master_faces)) is not None
    ]
    if not pairs:
        raise InputError(
            tr(
                "None of the sizes that follow runs between two walls of both parts, so that "
                "nothing shows where it sits"
            )
        )
    inside = fit.rule is FitRule.INSIDE
    ends = [
        (_ends(mine, goes_in=inside), _ends(theirs, goes_in=not inside))
        for _, mine, theirs in pairs
    ]
    still, bare = folded_solids(master), folded_solids(follower)
    best: tuple[tuple[float, ...], PlacedPart] | None = None
    for turn in _turns(
        [mine.axis for _, mine, _ in pairs], [theirs.axis for _, _, theirs in pairs], inside
    ):
        free = turn @ _free(pairs[0][1].axis, pairs[1][1].axis if len(pairs) > 1 else None)
        shift = _middle(turn, pairs, ends, free, _box(bare), _box(still))
        for way in (free, -free):
            made = _let_down(bare, still, Pose(turn, shift), way)
            score = (
                -round(made.goes_in, 3),
                sum(m.by for m in made.meets),
                _preference(turn, way, inside=inside),
            )
            if best is None or score < best[0]:
                best = score, made
    assert best is not None
    gaps = tuple(
        _gap(what, mine, theirs, best[1].pose, inside=inside) for what, mine, theirs in pairs
    )
    return PlacedPart(**{**vars(best[1]), "gaps": gaps})


def _reach(blank: Blank, part: PartTemplate, size: str, faces: Faces | None) -> WallSpan | None:
    """Where the walls of a size stand; None where it runs between none."""
    if faces is not None:
        return reach(blank, (faces.one, faces.other), {faces.one, faces.other}, not faces.bare)
    walls = part.walls(size) if size in part.walled else None
    if walls is None:
        return _edges(blank, size)
    every = {name for size in part.walled for name in part.walls(size) or ()}
    return reach(blank, walls, every, part.edges_go_in)


def _edges(blank: Blank, size: str) -> WallSpan | None:
    """A flat piece reaches from edge to edge; None of any other part, or size."""
    if blank.folds or size not in ("length", "width"):
        return None
    axis = int(size == "width")
    ends = (0.0, 0.0), (blank.size[axis], blank.size[axis])
    name = blank.panels[0].name
    return WallSpan(np.eye(3)[axis], *ends, ((), ()), (name, name))


def _ends(of: WallSpan, *, goes_in: bool) -> tuple[float, float]:
    return of.over_all if goes_in else of.clear


def _free(first: Array, second: Array | None) -> Array:
    """The direction in which nothing holds the follower, in its own frame: square to what is
    fitted."""
    if second is not None and np.linalg.norm(np.cross(first, second)) > SQUARE:
        free = np.cross(first, second)
    else:
        up = np.array([0.0, 0.0, 1.0])
        free = up - (up @ first) * first
        if np.linalg.norm(free) < SQUARE:
            free = np.cross(first, [1.0, 0.0, 0.0])
    unit: Array = free / np.linalg.norm(free)
    return unit


def _frame(first: Array, second: Array | None) -> Array:
    """(3, 3) columns: the first fitted direction, the second squared to it, and the free one."""
    free = _free(first, second)
    return np.column_stack([first, np.cross(free, first), free])


def _turns(mine: list[Array], theirs: list[Array], inside: bool) -> list[Array]:
    """Every way the follower may be turned so that its fitted directions lie along the master's."""
    f = _frame(mine[0], mine[1] if len(mine) > 1 else None)
    m = _frame(theirs[0], theirs[1] if len(theirs) > 1 else None)
    signs = [(a, b, a * b) for a in (1.0, -1.0) for b in (1.0, -1.0)]
    return [m @ np.diag(s) @ f.T for s in signs]


def _box(solids: tuple[Solid, ...]) -> Array:
    """(3,) the middle of a part."""
    corners = np.concatenate([s.corners for s in solids])
    middle: Array = (corners.min(axis=0) + corners.max(axis=0)) / 2
    return middle


def _middle(
    turn: Array,
    pairs: list[tuple[str, WallSpan, WallSpan]],
    ends: list[tuple[tuple[float, float], tuple[float, float]]],
    free: Array,
    mine: Array,
    theirs: Array,
) -> Array:
    """(3,) the shift that sets the follower in the middle of what it fits, and of the whole master
    where nothing is fitted."""
    shift = np.zeros(3)
    done: list[Array] = []
    for (_, of, to), (own, place) in zip(pairs, ends, strict=True):
        axis = to.axis
        sign = float(np.sign(turn @ of.axis @ axis))
        now = sign * sum(own) / 2
        by = sum(place) / 2 - now - shift @ axis
        square = axis - sum(((axis @ d) * d for d in done), np.zeros(3))
        if np.linalg.norm(square) > SQUARE:
            square = square / np.linalg.norm(square)
            shift = shift + square * by / (square @ axis)
            done.append(square)
    rest = np.cross(free, done[0])
    if len(done) == 1 and np.linalg.norm(rest) > SQUARE:
        rest = rest / np.linalg.norm(rest)
        shift = shift + rest * float(rest @ (theirs - turn @ mine - shift))
    return shift


def _preference(turn: Array, way: Array, *, inside: bool) -> float:
    """A part set inside stands as the other stands; one that goes over is turned over."""
    upright = float(turn[2, 2])
    return (-upright if inside else upright) + 0.1 * float(way[2])


def _let_down(
    bare: tuple[Solid, ...], still: tuple[Solid, ...], pose: Pose, way: Array
) -> PlacedPart:
    """Bring the follower up from far away along a direction until it meets the master."""
    mine = moved(bare, pose)
    reach_mine = np.concatenate([s.corners @ way for s in mine])
    reach_still = np.concatenate([s.corners @ way for s in still])
    first, stops = math.inf, None
    for a in mine:
        low, high = a.corners.min(axis=0), a.corners.max(axis=0)
        for b in still:
            # What passes by on one side is not looked at closely.
            apart = np.maximum(b.corners.min(axis=0) - high, low - b.corners.max(axis=0))
            if (np.where(np.abs(way) < 1e-9, apart, -1.0) > -GIVE).any():
                continue
            met = travel(a, b, way, GIVE)
            if met is not None and met[0] < first:
                first, stops = met[0], (a.name, b.name)
    begin = float(reach_still.min() - reach_mine.max())
    middle = float(reach_still.mean() - reach_mine.mean())
    at = min(first, middle) if stops is None else first
    there = Pose(pose.turn, pose.shift + way * at)
    solids = moved(bare, there)
    meets: dict[tuple[str, str], float] = {}
    if stops is None or at <= begin + 2 * GIVE:
        # Nothing is inside: what keeps it out is found where it would be set in the middle.
        there = Pose(
            pose.turn, pose.shift + way * (begin + min(np.ptp(reach_mine), np.ptp(reach_still)) / 2)
        )
        solids = moved(bare, there) if stops is not None else solids
        for a in solids:
            for b in still:
                by = overlap_depth(a.corners, b.corners)
                if by > GIVE:
                    key = (a.name, b.name)
                    meets[key] = max(by, meets.get(key, 0.0))
        there = there if meets else Pose(pose.turn, pose.shift + way * at)
        solids = moved(bare, there)
    return PlacedPart(
        there,
        way,
        max(0.0, at - begin - GIVE) if not meets else 0.0,
        stops,
        tuple(Meets(*names, by) for names, by in sorted(meets.items(), key=lambda item: -item[1])),
        (),
        solids,
    )


def _gap(what: str, mine: WallSpan, theirs: WallSpan, pose: Pose, *, inside: bool) -> Gap:
    axis = theirs.axis
    sign, off = float(np.sign(pose.turn @ mine.axis @ axis)), float(pose.shift @ axis)
    own = sorted(sign * end + off for end in _ends(mine, goes_in=inside))
    place = _ends(theirs, goes_in=not inside)
    names = mine.names if sign > 0 else mine.names[::-1]
    room = (own[0] - place[0], place[1] - own[1])
    return Gap(
        what,
        ((names[0], theirs.names[0]), (names[1], theirs.names[1])),
        room if inside else (-room[0], -room[1]),
    )


OUT = 90.0
"""Degrees after which a part is out of its place."""

ACROSS = 0.05
"""Of a unit vector: how nearly square an edge runs to the way in."""


@dataclass(frozen=True, eq=False)
class TiltOut:
    """A part turned over one of its edges.

    Attributes:
        over: the panel of the follower at that edge.
        free: degrees it turns before it meets anything; 90 when it comes out.
        meets: panel of the follower and of the master that meet; None when it comes out.
        pivot: (3,) mm, a point of the edge, in the master's frame.
        axis: (3,) unit vector along the edge; the part turns about it by the right hand.
    """

    over: str
    free: float
    meets: tuple[str, str] | None
    pivot: Array
    axis: Array

    @property
    def clears(self) -> bool:
        """True when it comes out."""
        return self.meets is None

    def says(self) -> str:
        """``over its front wall: comes out``."""
        if self.meets is None:
            return tr("Over its {over}: comes out.").format(over=self.over)
        return tr("Over its {over}: to {free}, then its {mine} meets the {theirs}.").format(
            over=self.over,
            free=show_angle(round(self.free, 1)),
            mine=self.meets[0],
            theirs=self.meets[1],
        )


def tips(
    there: PlacedPart, still: tuple[Solid, ...], directions: tuple[Array, ...]
) -> tuple[TiltOut, ...]:
    """The part tipped over each of its lower edges, those it turns farthest over first.

    Args:
        there: the part in its place.
        still: pieces of what it stands in.
        directions: (3,) unit vectors along which its edges run, in the master's frame.
    """
    up = -there.way
    tilt_outs: list[TiltOut] = []
    # What rests on something is lifted a hair first, or it would be said to meet it.
    mine = [Solid(s.name, s.panel, s.corners + up * (2 * GIVE)) for s in there.solids]
    for direction in directions:
        along = direction - (direction @ up) * up
        size = float(np.linalg.norm(along))
        if size < ACROSS:
            continue
        along = along / size
        for sign in (1.0, -1.0):
            axis = sign * along
            tilt_outs.append(_tip(mine, still, axis, up))
    names = [tip.over for tip in tilt_outs]
    # The open ends of a part have no wall to be named by.
    named = (
        replace(
            tip,
            over=tr("{over}, end {number}").format(
                over=tip.over, number=names[: i + 1].count(tip.over)
            ),
        )
        if names.count(tip.over) > 1
        else tip
        for i, tip in enumerate(tilt_outs)
    )
    return tuple(sorted(named, key=lambda tip: -tip.free))


def _tip(mine: list[Solid], still: tuple[Solid, ...], axis: Array, up: Array) -> TiltOut:
    """Turned over the edge that lies farthest out along ``up × axis``, so that what stands above it
    goes outwards."""
    out = np.cross(up, axis)
    frame = np.stack([axis, out, up])
    ahead = [Solid(s.name, s.panel, s.corners @ frame.T) for s in mine]
    rest = [Solid(s.name, s.panel, s.corners @ frame.T) for s in still]
    y = np.concatenate([s.corners[:, 1] for s in ahead])
    z = np.concatenate([s.corners[:, 2] for s in ahead])
    pole = float(y.max()), float(z.min())
    over = max(ahead, key=lambda s: (round(float(s.corners[:, 1].max()), 3), s.panel >= 0)).name
    meeting = Meeting(0.0, 0.0, math.radians(OUT))
    free, meets = OUT, None
    for one in ahead:
        low, high = one.x_range
        for other in rest:
            if other.x_range[0] >= high or other.x_range[1] <= low:
                continue
            met = meeting.of(one, other, pole)
            if met is not None and met.angle < free:
                free, meets = met.angle, (one.name, other.name)
    pivot = np.array([0.0, *pole]) @ frame
    return TiltOut(over, free, meets, pivot, axis)
