"""How a part is held for a fold: all of it that does not depend on how the other folds stand."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np

from .._typing import Array
from ..cache import cached
from ..flat.blank import IN_LINE, Blank
from ..flat.features import Fold
from ..flat.folding import IDENTITY, Pose, fold_pose, pole_height, strip_prisms
from ..kernel.plane import turned
from ..kernel.solid import Solid, plate
from ..metal.bend import Bend
from .passage import NoseBatch


class SwingTurn(NamedTuple):
    """How a piece that swings turns.

    Attributes:
        pole: (y, z) mm, what it turns about.
        folded: it belongs to a panel that is folded at the line.
    """

    pole: tuple[float, float]
    folded: bool


@dataclass(frozen=True, eq=False)
class Held:
    """How a part is held: one for all settings in which the same is clamped and the same folds are
    made, see :func:`held_for`.

    Attributes:
        blank: the part.
        fold: index of the fold under the nose.
        clamps_parent: the panel nearer the base is clamped; otherwise the other one.
        folds: indices of every fold the stroke makes, the one under the nose first.
    """

    blank: Blank
    fold: int
    clamps_parent: bool
    folds: tuple[int, ...]

    @cached_property
    def line(self) -> Fold:
        """The fold under the nose."""
        return self.blank.folds[self.fold]

    @cached_property
    def clamped(self) -> int:
        """Index of the panel under the fingers."""
        return self._side(self.fold, clamped=True)

    @cached_property
    def folding(self) -> int:
        """Index of the panel on the leaf."""
        return self._side(self.fold, clamped=False)

    def _side(self, i: int, *, clamped: bool) -> int:
        fold = self.blank.folds[i]
        return fold.parent if self.clamps_parent is clamped else fold.child

    @cached_property
    def clamped_panels(self) -> frozenset[int]:
        """Indices of all panels under the fingers at the line."""
        return frozenset(self._side(i, clamped=True) for i in self.folds)

    @cached_property
    def folding_panels(self) -> frozenset[int]:
        """Indices of all panels on the leaf at the line."""
        return frozenset(self._side(i, clamped=False) for i in self.folds)

    @cached_property
    def others(self) -> tuple[int, ...]:
        """Every fold that is not made in this stroke."""
        return tuple(i for i in range(len(self.blank.folds)) if i not in self.folds)

    @cached_property
    def swinging(self) -> frozenset[int]:
        """Indices of all panels that swing."""
        return self.blank.reached(self.folding_panels, self.others)

    def _behind(self, i: int) -> float:
        return behind(self.blank, self.fold, self.clamps_parent, i)

    @cached_property
    def offsets(self) -> dict[int, float]:
        """For every swinging panel, how far (mm) the line it swings about lies behind the one under
        the nose."""
        result: dict[int, float] = {}
        for i in self.folds:
            group = self.blank.reached((self._side(i, clamped=False),), self.others)
            off = self._behind(i)
            result |= dict.fromkeys(group, 0.0 if abs(off) <= IN_LINE else off)
        return result

    @cached_property
    def turning(self) -> dict[int, SwingTurn]:
        """How everything turns that swings, as :attr:`Solid.panel` counts."""
        y, z = self.pole.tolist()
        result = {
            panel: SwingTurn((y + off, z), panel in self.folding_panels)
            for panel, off in self.offsets.items()
        }
        strips = [
            (-1 - i, self.offsets[f.parent])
            for i, f in enumerate(self.blank.folds)
            if f.parent in self.swinging
        ]
        return result | {strip: SwingTurn((y + off, z), False) for strip, off in strips}

    @cached_property
    def front(self) -> float:
        """How far (mm) the foremost line of the stroke lies before the one under the nose."""
        return max(0.0, -min(self.offsets.values()))

    def own_line(self, panel: int) -> float:
        """Where (y, mm) the bend line of a clamped panel runs: the foremost where it has several, 0
        for any other."""
        lines = [self._behind(i) for i in self.folds if self._side(i, clamped=True) == panel]
        return min((y for y in lines if abs(y) > IN_LINE), default=0.0)

    @cached_property
    def pole(self) -> Array:
        """(2,) mm, the axis of the swing in (y, z)."""
        pole = np.array([0.0, pole_height(self.line.bend)])
        pole.setflags(write=False)
        return pole

    @cached_property
    def ways(self) -> tuple[tuple[int, ...], ...]:
        """For every panel, the indices of the folds on the way to it from the clamped one."""
        result: dict[int, tuple[int, ...]] = {self.clamped: ()}
        open_ = [self.clamped]
        while open_:
            at = open_.pop()
            for i, fold in enumerate(self.blank.folds):
                for here, there in ((fold.parent, fold.child), (fold.child, fold.parent)):
                    if here == at and there not in result:
                        result[there] = (*result[at], i)
                        open_.append(there)
        return tuple(result[i] for i in range(len(self.blank.panels)))

    @cached_property
    def strips(self) -> tuple[tuple[int, int], ...]:
        """The folds whose bent strips are pieces of the part, each with the panel it is folded
        from; not those that are made, which are meant to bend, and none that is bent by hand as it
        lies."""
        folds = self.blank.folds
        return tuple(
            (i, folds[i].parent) for i in self.others if folds[i].child not in self.blank.pliable
        )

    @cached_property
    def ends(self) -> Array:
        """(2, 2) mm on the flat: both ends of everything that is folded on the line."""
        line = self.line
        (x, y), (to_x, to_y) = line.start.tolist(), ((line.end - line.start) / line.length).tolist()
        points = (
            p.tolist()
            for i in self.folds
            for p in (self.blank.folds[i].start, self.blank.folds[i].end)
        )
        at = [(p[0] - x) * to_x + (p[1] - y) * to_y for p in points]
        return np.array([(x + to_x * far, y + to_y * far) for far in (min(at), max(at))])

    @cached_property
    def span(self) -> tuple[float, float]:
        """Ends of what is folded, mm along the line from its middle."""
        half = math.dist(*self.ends.tolist()) / 2
        return -half, half

    @cached_property
    def frame(self) -> Pose:
        """Motion from flat coordinates of the clamped panel into the stroke frame."""
        line = self.line
        up, (y0, y1) = 1.0 if line.angle > 0 else -1.0, line.outward.tolist()
        if self.clamps_parent:
            y0, y1 = -y0, -y1
        # Rows: along the line, which is y × z; to the back; upwards.
        turn = np.array([[y1 * up, -y0 * up, 0.0], [y0, y1, 0.0], [0.0, 0.0, up]])
        first, last = self.ends.tolist()
        middle = np.array(
            [
                (first[0] + last[0]) / 2,
                (first[1] + last[1]) / 2,
                0.0 if up > 0 else self.blank.thickness,
            ]
        )
        return Pose(turn, -turn @ middle)


def behind(blank: Blank, fold: int, clamps_parent: bool, i: int) -> float:
    """How far (mm) the line of fold ``i`` lies behind that of ``fold``, towards the clamped
    side.

    Args:
        blank: the flat.
        fold: index of the bend under the tool.
        clamps_parent: the panel nearer the base is clamped.
        i: index of the other bend.
    """
    line = blank.folds[fold]
    apart = float((blank.folds[i].start - line.start) @ line.outward)
    return -apart if clamps_parent else apart


# Gains nothing by itself: one object for one question, by which others are kept.
@cached(512)
def held_for(blank: Blank, fold: int, clamps_parent: bool, folds: tuple[int, ...]) -> Held:
    """A :class:`Held`, one for all that is asked about it.

    Args:
        blank: the flat.
        fold: index of the bend under the tool.
        clamps_parent: the panel nearer the base is clamped.
        folds: indices of the bends made together.
    """
    return Held(blank, fold, clamps_parent, folds)


Angles = tuple[float, ...]
"""Signed degrees of the folds on the way from the clamped panel to another, one after the other."""


# Saves 2 % of planning.
@cached(4096)
def _turned(blank: Blank, fold: int, angle: float, inverse: bool) -> Pose:
    pose = fold_pose(blank.folds[fold], angle, blank.thickness)
    return pose.inverse if inverse else pose


# Saves 4 to 5 % of planning, most where remedies are tried.
@cached(8192)
def pose(held: Held, panel: int, angles: Angles) -> Pose:
    """Pose of a panel in the stroke frame, the folds on the way to it standing at ``angles``.

    Args:
        held: how the part is held.
        panel: index of the panel.
        angles: degrees every bend stands at.
    """
    way = held.ways[panel]
    if not way:
        return held.frame @ IDENTITY
    last = held.blank.folds[way[-1]]
    before = last.parent if panel == last.child else last.child
    return pose(held, before, angles[:-1]) @ _turned(
        held.blank, way[-1], angles[-1], panel == last.parent
    )


# Saves 1 to 3 % of planning, most where remedies are tried.
@cached(512)
def _plates(blank: Blank, panel: int) -> tuple[np.ndarray, ...]:
    """Corners (2k, 3) of the rigid pieces of a panel that lies flat."""
    return tuple(plate(piece, blank.thickness) for piece in blank.rigid[panel])


# Saves 4 to 5 % of planning, most where remedies are tried.
@cached(4096)
def _prisms(blank: Blank, fold: int, angle: float) -> tuple[np.ndarray, ...]:
    """Corners (2k, 3) of the pieces of a bent strip, the panel it is folded from lying flat."""
    return tuple(strip_prisms(blank.folds[fold], angle, blank.thickness))


# Saves 4 to 6 % of planning, least where remedies are tried.
@cached(8192)
def panel_solids(held: Held, panel: int, angles: Angles) -> tuple[Solid, ...]:
    """The rigid pieces of a panel where it stands.

    Args:
        held: how the part is held.
        panel: index of the panel.
        angles: degrees every bend stands at.
    """
    blank, at = held.blank, pose(held, panel, angles)
    name = blank.panels[panel].name
    return tuple(Solid(name, panel, at.apply(corners)) for corners in _plates(blank, panel))


# Saves 1 to 2 % of planning, least where remedies are tried.
@cached(8192)
def strip_solids(held: Held, fold: int, angle: float, angles: Angles) -> tuple[Solid, ...]:
    """The pieces of a bent strip, its fold at ``angle`` degrees (signed) and its parent panel posed
    by ``angles``.

    Args:
        held: how the part is held.
        fold: index of the bend.
        angle: degrees the bend itself stands at.
        angles: degrees every bend stands at.
    """
    blank, line = held.blank, held.blank.folds[fold]
    at = pose(held, line.parent, angles)
    return tuple(
        Solid(line.name, -1 - fold, at.apply(prism)) for prism in _prisms(blank, fold, angle)
    )


LIES_ON = 0.2
"""Thicknesses by which a tab and the wall it lies against may overlap on paper before that counts
as meeting: metal gives."""


@dataclass(frozen=True, eq=False)
class Setting:
    """One way to hold the part for one fold, with the other folds as they stand.

    Attributes:
        blank: the part.
        fold: index of the fold to be made; every fold that lies on one line with it is made in the
            same stroke.
        clamps_parent: the panel nearer the base lies under the fingers; otherwise the other one.
        angles: signed degrees of every fold before the stroke; the fold itself is flat, or stands
            part way.
    """

    blank: Blank
    fold: int
    clamps_parent: bool
    angles: tuple[float, ...]

    @cached_property
    def line(self) -> Fold:
        """The fold to be made."""
        return self.blank.folds[self.fold]

    @property
    def start(self) -> float:
        """Degrees the fold stands at before the stroke."""
        return abs(self.angles[self.fold])

    @cached_property
    def folds(self) -> tuple[int, ...]:
        """Every fold this stroke makes, the one under the nose first: those on one line, or nearly,
        bent alike, whose panels still lie in one plane. The nose stands at the rearmost of them."""
        near = self.blank.near_line[self.fold]
        if len(near) == 1:
            return near
        mates = [i for i in near if i == self.fold or self._level(i)]
        far = {i: behind(self.blank, self.fold, self.clamps_parent, i) for i in mates}
        # Lines that differ by less than a scriber's width are one.
        return tuple(sorted(mates, key=lambda i: (-round(far[i] / IN_LINE), i)))

    def _level(self, other: int) -> bool:
        """True when another fold stands at the same angle and no standing fold lies between its
        panel and this one's."""
        if self.angles[other] != self.angles[self.fold]:
            return False
        between = self.blank.folds_between(self.line.parent, self.blank.folds[other].parent)
        return all(self.angles[i] == 0 or i in self.blank.near_line[self.fold] for i in between)

    @cached_property
    def held(self) -> Held:
        """How the part is held, as far as the other folds have no say in it."""
        return held_for(self.blank, self.fold, self.clamps_parent, self.folds)

    @property
    def clamped_panels(self) -> frozenset[int]:
        """See :attr:`Held.clamped_panels`."""
        return self.held.clamped_panels

    @property
    def folding_panels(self) -> frozenset[int]:
        """See :attr:`Held.folding_panels`."""
        return self.held.folding_panels

    @cached_property
    def beside(self) -> tuple[frozenset[int], frozenset[int]]:
        """What is clamped and what is folded at the line, as :attr:`Solid.panel` counts: the
        panels, and the flat strips between two of them. These belong together; that they meet at
        the fold is meant."""

        def with_strips(panels: frozenset[int]) -> frozenset[int]:
            flat = (
                i
                for i, f in enumerate(self.blank.folds)
                if self.angles[i] == 0 and {f.parent, f.child} <= panels
            )
            return panels | {-1 - i for i in flat if i not in self.folds}

        return with_strips(self.clamped_panels), with_strips(self.folding_panels)

    @cached_property
    def flush(self) -> frozenset[int]:
        """Bent strips, as :attr:`Solid.panel` counts, that lie on the leaf with the panel they
        belong to: they turn away from it, so they never leave the panel's own plane downwards."""
        return frozenset(
            -1 - i
            for i, fold in enumerate(self.blank.folds)
            if i not in self.folds
            and self.angles[i] * self.line.angle > 0
            and self.folding_panels & {fold.parent, fold.child}
        )

    @property
    def name(self) -> str:
        """What is folded, as the shop calls it."""
        names = [self.blank.folds[i].name for i in self.folds]
        return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"

    @property
    def clamped(self) -> int:
        """Index of the panel under the fingers."""
        return self.held.clamped

    @property
    def folding(self) -> int:
        """Index of the panel on the leaf."""
        return self.held.folding

    @property
    def swinging(self) -> frozenset[int]:
        """See :attr:`Held.swinging`."""
        return self.held.swinging

    @cached_property
    def level(self) -> frozenset[int]:
        """Indices of everything that lies in the plane of the panels beside the fold, as
        :attr:`Solid.panel` counts: the panels that go on flat, their flat strips, and strips that
        turn up from them."""
        flat = [i for i in self.held.others if self.angles[i] == 0]
        group = self.blank.reached(self.folding_panels | self.clamped_panels, flat)
        strips = {
            -1 - i
            for i, fold in enumerate(self.blank.folds)
            if i not in self.folds
            and group & {fold.parent, fold.child}
            and self.angles[i] * self.line.angle >= 0
        }
        return group | strips

    @property
    def offsets(self) -> dict[int, float]:
        """See :attr:`Held.offsets`."""
        return self.held.offsets

    @property
    def pole(self) -> Array:
        """(2,) mm, the axis of the swing in (y, z)."""
        return self.held.pole

    @property
    def frame(self) -> Pose:
        """Motion from flat coordinates of the clamped panel into the stroke frame."""
        return self.held.frame

    def angles_to(self, panel: int) -> tuple[float, ...]:
        """Angles of the folds between the clamped panel and another, the fold that is made lying
        flat."""
        return tuple(0.0 if i in self.folds else self.angles[i] for i in self.held.ways[panel])

    @cached_property
    def poses(self) -> list[Pose]:
        """Pose of every panel with the fold flat, from flat coordinates into the stroke frame."""
        return [pose(self.held, i, self.angles_to(i)) for i in range(len(self.blank.panels))]

    @cached_property
    def solids(self) -> tuple[tuple[Solid, ...], tuple[Solid, ...]]:
        """Resting and swinging solids with the fold flat. The strip of the fold itself is left out:
        it is meant to bend."""
        resting: list[Solid] = []
        swinging: list[Solid] = []
        held, swings = self.held, self.held.swinging
        stand = list(self.angles)
        for i in self.folds:
            stand[i] = 0.0
        reached = [tuple([stand[i] for i in way]) for way in held.ways]
        for i, angles in enumerate(reached):
            (swinging if i in swings else resting).extend(panel_solids(held, i, angles))
        for i, parent in held.strips:
            (swinging if parent in swings else resting).extend(
                strip_solids(held, i, stand[i], reached[parent])
            )
        return tuple(resting), tuple(swinging)

    @cached_property
    def batch(self) -> NoseBatch:
        """Every solid as the engine is asked about all of them, those that rest first."""
        return self.batch_of(*self.solids)

    def batch_of(self, resting: Sequence[Solid], swinging: Sequence[Solid]) -> NoseBatch:
        """The same of some solids."""
        turning = self.held.turning
        return NoseBatch.about(resting, [(solid, *turning[solid.panel]) for solid in swinging])

    @property
    def span(self) -> tuple[float, float]:
        """See :attr:`Held.span`."""
        return self.held.span

    @cached_property
    def fold_ranges(self) -> tuple[tuple[float, float], ...]:
        """Extent of each of its bend lines along x, mm, from the middle of what is bent."""
        turn, shift = self.frame.turn, self.frame.shift
        result = []
        for fold in (self.blank.folds[i] for i in self.folds):
            ends = [
                float((turn @ np.array([*end, 0.0]) + shift)[0]) for end in (fold.start, fold.end)
            ]
            result.append((min(ends), max(ends)))
        return tuple(sorted(result))

    @cached_property
    def x_range(self) -> tuple[float, float]:
        """Extent of the whole part along the bed, mm."""
        ranges = [solid.x_range for group in self.solids for solid in group]
        return min(r[0] for r in ranges), max(r[1] for r in ranges)

    def offset(self, solid: Solid) -> float:
        """How far (mm) the line a swinging solid turns about lies behind the one under the nose."""
        turning = self.held.turning.get(solid.panel)
        return 0.0 if turning is None else turning.pole[0]

    @property
    def front(self) -> float:
        """See :attr:`Held.front`."""
        return self.held.front

    def own_line(self, panel: int) -> float:
        """See :meth:`Held.own_line`."""
        return self.held.own_line(panel)

    def _panel(self, solid: Solid) -> int:
        """Index of the panel a solid belongs to: of a bent strip, the one that is folded there."""
        return solid.panel if solid.panel >= 0 else self.blank.folds[-1 - solid.panel].child

    def touching(self, one: Solid, other: Solid) -> float:
        """How far (mm) two pieces may overlap on paper because one is made to lie against the
        other; 0 when neither is."""
        a, b, lying = self._panel(one), self._panel(other), self.blank.lying
        return LIES_ON * self.blank.thickness if (a, b) in lying or (b, a) in lying else 0.0

    def guided(self, one: Solid, other: Solid) -> bool:
        """True for a tab and the hem of the wall it lies against: it is guided under the hem by
        hand while the wall comes up."""
        tucked = self.blank.tucked
        if not tucked:
            return False
        a, b = self._panel(one), self._panel(other)
        return (a, b) in tucked or (b, a) in tucked

    def after(self, degrees: float) -> tuple[float, ...]:
        """Angles of all folds once this one stands at ``degrees``."""
        done = math.copysign(degrees, self.line.angle)
        return tuple(done if i in self.folds else angle for i, angle in enumerate(self.angles))


# Gains nothing by itself: one object for one question, by which others are kept.
@cached(8192)
def setting_for(blank: Blank, fold: int, clamps_parent: bool, angles: tuple[float, ...]) -> Setting:
    """A :class:`Setting`, one for all that is asked about it: each set-up of the machine, each
    angle it may be taken to.

    Args:
        blank: the flat.
        fold: index of the bend under the tool.
        clamps_parent: the panel nearer the base is clamped.
        angles: degrees every bend stands at.
    """
    return Setting(blank, fold, clamps_parent, angles)


def swung(shadow: Array, pole: Array, degrees: float) -> Array:
    """A swinging shadow (n, 2) at an angle of the swing.

    Args:
        shadow: (n, 2) mm.
        pole: (2,) mm, the axis.
        degrees: the angle the bend stands at.
    """
    return turned(shadow, pole, math.radians(degrees))


# Saves 3 to 4 % of planning, most where remedies are tried.
@cached(256)
def wander(bend: Bend, degrees: float) -> float:
    """Bound (mm) on how far the swinging part strays from its turn about the pole on the way to
    ``degrees``.

    The turn about the pole is exact at the start and at the bend's own angle. In between the metal
    may wrap from the nose outwards, from the free side inwards, or bend evenly; each keeps the
    direction of the swinging side, so it differs from the turn by a shift only. The largest shift
    of the three is taken at 1025 angles and half a step of the fastest possible change is added
    (docs/theory.md).
    """
    full = math.radians(bend.angle)
    ba, r, t = bend.allowance, bend.radius, bend.thickness
    if ba < 1e-12 or degrees <= 0:
        return 0.0
    h = pole_height(bend)
    last = max(full, math.radians(degrees))
    phi = np.linspace(0.0, last, 1025)
    c, s = np.cos(phi), np.sin(phi)
    turn = np.column_stack([-ba / 2 * c + (t - h) * s, h + ba / 2 * s + (t - h) * c])
    rest = ba * (1 - phi / full)
    from_nose = np.column_stack([ba / 2 - r * s - rest * c, t + r - r * c + rest * s])
    from_free = np.column_stack([ba / 2 - rest - r * s, t + r - r * c])
    even_r = ba / np.maximum(phi, 1e-12) - (ba / full - r)
    even = np.column_stack([ba / 2 - even_r * s, t + even_r * (1 - c)])
    even[0] = turn[0]
    largest = max(float(np.hypot(*(path - turn).T).max()) for path in (from_nose, from_free, even))
    fastest = r + ba + ba / full + ba / 2 + abs(t - h)
    return largest + fastest * last / 1024 / 2
