"""What a folded part leaves free between two of its walls, and what it takes up, with its hems,
tabs and lips counted.

What the walls carry, a closed hem, a tab that lies against them, a lip, narrows the room between
them or makes the part larger outside. A fit has to count that, so it is measured on the folded
part, not taken from the size.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .._typing import Array
from ..cache import RecentCache
from ..errors import InputError
from ..i18n import the, tr
from ..job.job import Job
from ..part.template import PartTemplate
from ..units.sums import Term
from .bend_lines import Uncut, uncut
from .element import DevelopmentError
from .folding import Hinged, strip_prisms
from .panel_tree import flat_key

TURNED_BACK = 135.0
"""Degrees of fold from which a bent strip lies on its panel, as a hem's does; the round of a lip's
foot takes no room."""

PARALLEL = 0.94
"""Cosine from which a panel lies along a wall."""

AGAINST = 8.0
"""Thicknesses; a panel along a wall and no farther off than this, as an open hem or a tab is, lies
against it."""

SEEN = 0.02
"""mm; less than this takes no room."""


@dataclass(frozen=True)
class Between:
    """One size of a folded part as another part meets it.

    Attributes:
        inside, outside: bare, between the two walls' faces, mm.
        inward, outward: what narrows the room between them, and what stands out beyond them, mm
            each.
    """

    inside: float
    outside: float
    inward: tuple[Term, ...] = ()
    outward: tuple[Term, ...] = ()

    @property
    def clear(self) -> float:
        """Clear room between the walls and what they carry, mm."""
        return self.inside - sum(term.value for term in self.inward)

    @property
    def over_all(self) -> float:
        """Over the walls and what they carry, mm."""
        return self.outside + sum(term.value for term in self.outward)


KEPT = 256
"""Sizes kept; the oldest go first."""

_kept: RecentCache[Between] = RecentCache(KEPT)


def between(
    job: Job, size: str, faces: tuple[str, str] | None = None, bare: bool = False
) -> Between:
    """One of a part's sizes as another part meets it.

    Where no two walls stand that size apart (a side of a duct), or no panels come of its sizes, it
    is the size as it is read.

    Args:
        job: the part.
        size: one of its sizes; of no account where faces are named.
        faces: names of two panels that face each other; None takes the walls the size stands
            between.
        bare: what those panels carry is not counted.

    Raises:
        InputError: the part has no such size, or no such panels.
    """
    if not isinstance(job.part, PartTemplate):
        raise InputError(tr("{name} is not given by a few sizes").format(name=job.name))
    # Measured once for equal parts: while one size is typed, those of all the others stay.
    key, part = (flat_key(job), f"{faces} {bare}" if faces else size), job.part
    return _kept.of(
        key, lambda: _between(job, faces, bare) if faces else _measured(job, part, size)
    )


def measurable(job: Job) -> bool:
    """Whether panels and folds come of a part's sizes: :func:`between` then measures them, and does
    not only read the sizes."""
    return _folded(job) is not None


def _folded(job: Job) -> Uncut | None:
    """A part's panels and folds; None where its sizes leave none."""
    try:
        return uncut(job)
    except DevelopmentError:
        return None


def _measured(job: Job, part: PartTemplate, size: str) -> Between:
    read = Between(*part.span(size, job.sheet.thickness))
    walls = part.walls(size) if size in part.walled else None
    if walls is None:
        return read
    blank = _folded(job)
    if blank is None:
        return read
    every = {name for size in part.walled for name in part.walls(size) or ()}
    return _apart(blank, walls, every, part.edges_go_in)


def _between(job: Job, faces: tuple[str, str], bare: bool) -> Between:
    """Between two panels that are named.

    Raises:
        InputError: the part cannot be developed, has no such panels, or they do not face each
            other.
    """
    blank = _folded(job)
    if blank is None:
        raise InputError(tr("{name} cannot be laid flat").format(name=job.name))
    names = {panel.name for panel in blank.panels}
    for face in faces:
        if face not in names:
            raise InputError(
                tr("{name} has no panel called {face}; it has {known}").format(
                    name=job.name, face=face, known=", ".join(sorted(names))
                )
            )
    return _apart(blank, faces, set(faces), not bare)


@dataclass(frozen=True, eq=False)
class WallSpan:
    """Where two walls of a folded part stand along the line square to them, with what they carry.

    Attributes:
        axis: (3,) unit vector from the one to the other, in the frame of the folded part.
        near, far: from and to (mm along the axis) the metal of either wall, the one nearer the
            axis' foot first.
        carried: what either carries: name, from, to.
        names: of both walls, as they stand along the axis.
    """

    axis: Array
    near: tuple[float, float]
    far: tuple[float, float]
    carried: tuple[tuple[tuple[str, float, float], ...], tuple[tuple[str, float, float], ...]]
    names: tuple[str, str]

    @property
    def clear(self) -> tuple[float, float]:
        """From and to: the clear room between the walls and what they carry, mm along the axis."""
        low = max([self.near[1], *(high for _, _, high in self.carried[0])])
        return low, min([self.far[0], *(low for _, low, _ in self.carried[1])])

    @property
    def over_all(self) -> tuple[float, float]:
        """From and to, over the walls and what they carry, mm along the axis."""
        low = min([self.near[0], *(low for _, low, _ in self.carried[0])])
        return low, max([self.far[1], *(high for _, _, high in self.carried[1])])


def _apart(blank: Hinged, walls: tuple[str, str], every: set[str], carried: bool) -> Between:
    """Between two panels of a folded part, as :func:`reach` finds them."""
    result = reach(blank, walls, every, carried)
    (before, behind), near, far = result.carried, result.near, result.far
    return Between(
        far[0] - near[1],
        far[1] - near[0],
        (
            *_farthest({name: high - near[1] for name, _, high in before}),
            *_farthest({name: far[0] - low for name, low, _ in behind}),
        ),
        (
            *_farthest({name: near[0] - low for name, low, _ in before}),
            *_farthest({name: high - far[1] for name, _, high in behind}),
        ),
    )


def reach(blank: Hinged, walls: tuple[str, str], every: set[str], carried: bool) -> WallSpan:
    """Where two panels of a folded part stand.

    Args:
        blank: the part.
        walls: names of the two.
        every: names of all panels that others are taken to lie against.
        carried: what they carry counts.

    Raises:
        InputError: they do not face each other.
    """
    names, poses = [panel.name for panel in blank.panels], blank.stood
    one, other = (names.index(wall) for wall in walls)
    axis = poses[one].turn[:, 2]
    if one == other or abs(float(axis @ poses[other].turn[:, 2])) < PARALLEL:
        raise InputError(
            tr("{one} and {other} do not face each other").format(
                one=the(walls[0]), other=the(walls[1])
            )
        )
    if poses[one].shift @ axis > poses[other].shift @ axis:
        axis = -axis
    near, far = _reach(blank, one, axis), _reach(blank, other, axis)
    if near[0] > far[0]:
        one, other, near, far = other, one, far, near
    holder = _holders(blank, {names.index(name) for name in every}) if carried else []
    beside = [
        tuple((names[i], *_reach(blank, i, axis)) for i, held in enumerate(holder) if held == wall)
        for wall in (one, other)
    ]
    return WallSpan(axis, near, far, (beside[0], beside[1]), (names[one], names[other]))


def _farthest(reaches: dict[str, float]) -> tuple[Term, ...]:
    """What reaches farthest past a wall's face, if anything does."""
    name = max(reaches, key=reaches.__getitem__, default="")
    return (Term(name, reaches[name]),) if name and reaches[name] > SEEN else ()


def _holders(blank: Hinged, walls: set[int]) -> list[int | None]:
    """The wall every other panel takes room beside: the one it lies against, else the one that
    carries it."""
    up = {fold.child: fold.parent for fold in blank.folds}
    normals = np.array([pose.turn[:, 2] for pose in blank.stood])
    middles = np.array([_middle(blank, panel) for panel in range(len(blank.panels))])
    along = (np.abs(normals @ normals.T) > PARALLEL).tolist()
    off = np.abs((normals * middles).sum(axis=1)[:, None] - normals @ middles.T).tolist()

    def of(panel: int) -> int | None:
        if panel in walls:
            return None
        against = min(
            (wall for wall in walls if along[panel][wall]), key=off[panel].__getitem__, default=None
        )
        if against is not None and off[panel][against] < AGAINST * blank.thickness:
            return against
        at = panel
        while at in up and at not in walls:
            at = up[at]
        return at if at in walls else None

    return [of(panel) for panel in range(len(blank.panels))]


def _middle(blank: Hinged, panel: int) -> Array:
    """A point in the middle of a panel's metal, (3,)."""
    point: Array = blank.stood[panel].apply(
        np.array([*blank.panels[panel].polygon.mean(axis=0), blank.thickness / 2])
    )
    return point


def _reach(blank: Hinged, panel: int, axis: Array) -> tuple[float, float]:
    """Least and greatest place of a panel along an axis (3,), with the bend that turns it back."""
    t, (turn, shift) = blank.thickness, blank.stood[panel]
    x, y, z = (axis @ turn).tolist()
    across = blank.panels[panel].polygon @ (x, y) + float(shift @ axis)
    low, high = float(across.min()) + min(0.0, z * t), float(across.max()) + max(0.0, z * t)
    for fold in blank.folds:
        if fold.child != panel or abs(fold.angle) < TURNED_BACK:
            continue
        for bent in strip_prisms(fold, fold.angle, t):
            place = blank.stood[fold.parent].apply(bent) @ axis
            low, high = min(low, float(place.min())), max(high, float(place.max()))
    return low, high
