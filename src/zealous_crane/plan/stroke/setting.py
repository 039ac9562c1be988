"""The part in the brake for one stroke: what is clamped, what swings, and where all of it stands.

Stroke frame: the fold line is the x axis with x = 0 at its middle; y runs to the back of the brake, into the clamped
side; z up, with the bed at z = 0 and the clamped panel from 0 to the thickness. The swinging side starts at negative y.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ...allowance import Bend
from ...blank import Blank, Fold, MadeBy, Pose, pole_height
from ...blank.blank import IN_LINE
from ..geometry.contact import turned
from ..geometry.solid import Solid
from ..memory import kept
from .batch import NoseBatch
from .posing import Held, ends, frame, panel_solids, pose, strip_solids, ways

Array = NDArray[np.float64]

LIES_ON = 0.2
"""Thicknesses by which a tab and the wall it lies against may overlap on paper before that counts as meeting: metal gives."""


@dataclass(frozen=True, eq=False)
class Setting:
    """One way to hold the part for one fold, with the other folds as they stand.

    Attributes:
        blank: the part.
        fold: index of the fold to be made; every fold that lies on one line with it is made in the same stroke.
        clamps_parent: the panel nearer the base lies under the fingers; otherwise the other one.
        angles: signed degrees of every fold before the stroke; the fold itself is flat, or stands part way.
    """

    blank: Blank
    fold: int
    clamps_parent: bool
    angles: tuple[float, ...]

    @property
    def line(self) -> Fold:
        return self.blank.folds[self.fold]

    @property
    def start(self) -> float:
        """Degrees the fold stands at before the stroke."""
        return abs(self.angles[self.fold])

    @cached_property
    def folds(self) -> tuple[int, ...]:
        """Every fold this stroke makes, the one under the nose first: those on one line, or nearly, bent alike, whose panels
        still lie in one plane. The nose stands at the rearmost of them."""
        mates = [i for i in self.blank.near_line[self.fold] if i == self.fold or self._level(i)]
        # Lines that differ by less than a scriber's width are one.
        return tuple(sorted(mates, key=lambda i: (-round(self.behind(i) / IN_LINE), i)))

    def behind(self, i: int) -> float:
        """How far (mm) another fold's line lies behind this one, towards the clamped side."""
        apart = float((self.blank.folds[i].start - self.line.start) @ self.line.outward)
        return -apart if self.clamps_parent else apart

    def _level(self, other: int) -> bool:
        """True when another fold stands at the same angle and no standing fold lies between its panel and this one's."""
        if self.angles[other] != self.angles[self.fold]:
            return False
        between = self.blank.folds_between(self.line.parent, self.blank.folds[other].parent)
        return all(self.angles[i] == 0 or i in self.blank.near_line[self.fold] for i in between)

    @cached_property
    def clamped_panels(self) -> frozenset[int]:
        """Indices of all panels under the fingers at the line."""
        return frozenset(self._side(i, clamped=True) for i in self.folds)

    @cached_property
    def folding_panels(self) -> frozenset[int]:
        """Indices of all panels on the leaf at the line."""
        return frozenset(self._side(i, clamped=False) for i in self.folds)

    @cached_property
    def beside(self) -> tuple[frozenset[int], frozenset[int]]:
        """What is clamped and what is folded at the line, as :attr:`Solid.panel` counts: the panels, and the flat strips between
        two of them. These belong together; that they meet at the fold is meant."""

        def with_strips(panels: frozenset[int]) -> frozenset[int]:
            flat = (i for i, f in enumerate(self.blank.folds) if self.angles[i] == 0 and {f.parent, f.child} <= panels)
            return panels | {-1 - i for i in flat if i not in self.folds}

        return with_strips(self.clamped_panels), with_strips(self.folding_panels)

    @cached_property
    def flush(self) -> frozenset[int]:
        """Bent strips, as :attr:`Solid.panel` counts, that lie on the leaf with the panel they belong to: they turn away from it, so
        they never leave the panel's own plane downwards."""
        return frozenset(
            -1 - i
            for i, fold in enumerate(self.blank.folds)
            if i not in self.folds and self.angles[i] * self.line.angle > 0 and self.folding_panels & {fold.parent, fold.child}
        )

    def _side(self, i: int, *, clamped: bool) -> int:
        fold = self.blank.folds[i]
        return fold.parent if self.clamps_parent is clamped else fold.child

    @property
    def name(self) -> str:
        """What is folded, as the shop calls it."""
        names = [self.blank.folds[i].name for i in self.folds]
        return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"

    @property
    def clamped(self) -> int:
        """Index of the panel under the fingers."""
        return self.line.parent if self.clamps_parent else self.line.child

    @property
    def folding(self) -> int:
        """Index of the panel on the leaf."""
        return self.line.child if self.clamps_parent else self.line.parent

    @cached_property
    def swinging(self) -> frozenset[int]:
        """Indices of all panels that swing."""
        return self.blank.reached(self.folding_panels, self._others)

    @cached_property
    def _others(self) -> tuple[int, ...]:
        """Every fold that is not made in this stroke."""
        return tuple(i for i in range(len(self.blank.folds)) if i not in self.folds)

    @cached_property
    def level(self) -> frozenset[int]:
        """Indices of everything that lies in the plane of the panels beside the fold, as :attr:`Solid.panel` counts: the panels
        that go on flat, their flat strips, and strips that turn up from them."""
        flat = [i for i in self._others if self.angles[i] == 0]
        group = self.blank.reached(self.folding_panels | self.clamped_panels, flat)
        strips = {
            -1 - i
            for i, fold in enumerate(self.blank.folds)
            if i not in self.folds and group & {fold.parent, fold.child} and self.angles[i] * self.line.angle >= 0
        }
        return group | strips

    @cached_property
    def offsets(self) -> dict[int, float]:
        """For every swinging panel, how far (mm) the line it swings about lies behind the one under the nose."""
        found: dict[int, float] = {}
        for i in self.folds:
            group = self.blank.reached((self._side(i, clamped=False),), self._others)
            behind = self.behind(i)
            found |= dict.fromkeys(group, 0.0 if abs(behind) <= IN_LINE else behind)
        return found

    @cached_property
    def held(self) -> Held:
        """How the part is held, as far as the place of its pieces depends on it."""
        return Held(self.blank, self.fold, self.clamps_parent, self.folds)

    @property
    def pole(self) -> Array:
        """(2,) mm, the axis of the swing in (y, z)."""
        return np.array([0.0, pole_height(self.line.bend)])

    @property
    def frame(self) -> Pose:
        """Motion from flat coordinates of the clamped panel into the stroke frame."""
        return frame(self.held)

    def angles_to(self, panel: int) -> tuple[float, ...]:
        """Angles of the folds between the clamped panel and another, the fold that is made lying flat."""
        return tuple(0.0 if i in self.folds else self.angles[i] for i in ways(self.blank, self.clamped)[panel])

    @cached_property
    def poses(self) -> list[Pose]:
        """Pose of every panel with the fold flat, from flat coordinates into the stroke frame."""
        return [pose(self.held, i, self.angles_to(i)) for i in range(len(self.blank.panels))]

    @cached_property
    def solids(self) -> tuple[tuple[Solid, ...], tuple[Solid, ...]]:
        """Resting and swinging solids with the fold flat. The strip of the fold itself is left out: it is meant to bend."""
        groups: tuple[list[Solid], list[Solid]] = ([], [])
        stand = [0.0 if i in self.folds else angle for i, angle in enumerate(self.angles)]
        reached = [tuple([stand[i] for i in way]) for way in ways(self.blank, self.clamped)]
        for i, angles in enumerate(reached):
            groups[i in self.swinging].extend(panel_solids(self.held, i, angles))
        for i, fold in enumerate(self.blank.folds):
            if i not in self.folds and fold.child not in self.blank.pliable:
                strip = strip_solids(self.held, i, self.angles[i], reached[fold.parent])
                groups[fold.parent in self.swinging].extend(strip)
        return tuple(groups[0]), tuple(groups[1])

    @cached_property
    def batch(self) -> NoseBatch:
        """Every solid as the engine is asked about all of them, those that rest first."""
        return self.batch_of(*self.solids)

    def batch_of(self, resting: Sequence[Solid], swinging: Sequence[Solid]) -> NoseBatch:
        """The same of some solids."""
        y, z = self.pole.tolist()
        turning = [(solid, (y + self.offset(solid), z), solid.panel in self.folding_panels) for solid in swinging]
        return NoseBatch.about(resting, turning)

    @cached_property
    def ends(self) -> Array:
        """(2, 2) mm on the flat: both ends of everything that is folded on the line."""
        return ends(self.blank, self.fold, self.folds)

    @cached_property
    def span(self) -> tuple[float, float]:
        """Ends of what is folded, mm along the line from its middle."""
        half = math.dist(*self.ends.tolist()) / 2
        return -half, half

    @cached_property
    def x_range(self) -> tuple[float, float]:
        """Extent of the whole part along the bed, mm."""
        ranges = [solid.x_range for group in self.solids for solid in group]
        return min(r[0] for r in ranges), max(r[1] for r in ranges)

    def offset(self, solid: Solid) -> float:
        """How far (mm) the line a swinging solid turns about lies behind the one under the nose."""
        panel = solid.panel if solid.panel >= 0 else self.blank.folds[-1 - solid.panel].parent
        return self.offsets.get(panel, 0.0)

    @cached_property
    def front(self) -> float:
        """How far (mm) the foremost line of the stroke lies before the one under the nose."""
        return max(0.0, -min(self.offsets.values()))

    def own_line(self, panel: int) -> float:
        """Where (y, mm) the bend line of a clamped panel runs: the foremost where it has several, 0 for any other."""
        lines = [self.behind(i) for i in self.folds if self._side(i, clamped=True) == panel]
        return min((y for y in lines if abs(y) > IN_LINE), default=0.0)

    def _of(self, solid: Solid) -> frozenset[int]:
        """Panels a solid belongs to: itself, or both of a bent strip."""
        if solid.panel >= 0:
            return frozenset((solid.panel,))
        fold = self.blank.folds[-1 - solid.panel]
        return frozenset((fold.child,))

    def touching(self, one: Solid, other: Solid) -> float:
        """How far (mm) two pieces may overlap on paper because one is made to lie against the other; 0 when neither is."""
        panels = self.blank.panels
        pairs = [(panels[a], panels[b]) for a in self._of(one) for b in self._of(other)]
        lies = any(a.lies_on == b.name or b.lies_on == a.name for a, b in pairs)
        return LIES_ON * self.blank.thickness if lies else 0.0

    def guided(self, one: Solid, other: Solid) -> bool:
        """True for a tab and the hem of the wall it lies against: it is guided under the hem by hand while the wall comes up."""
        panels = self.blank.panels
        if not self.blank.tucks:
            return False
        for tab, hem in ((one, other), (other, one)):
            under = {panels[k].lies_on for k in self._of(tab)} - {""}
            for k in self._of(hem):
                over = [f for f in self.blank.folds if f.child == k and f.made_by is MadeBy.HEM]
                if any(panels[f.parent].name in under for f in over):
                    return True
        return False

    def after(self, degrees: float) -> tuple[float, ...]:
        """Angles of all folds once this one stands at ``degrees``."""
        done = math.copysign(degrees, self.line.angle)
        return tuple(done if i in self.folds else angle for i, angle in enumerate(self.angles))


@kept(8192)
def setting_for(blank: Blank, fold: int, clamps_parent: bool, angles: tuple[float, ...]) -> Setting:
    """A :class:`Setting`, one for all that is asked about it: each set-up of the machine, each angle it may be taken to."""
    return Setting(blank, fold, clamps_parent, angles)


def swung(shadow: Array, pole: Array, degrees: float) -> Array:
    """A swinging shadow (n, 2) at an angle of the swing."""
    return turned(shadow, pole, math.radians(degrees))


@kept(256)
def wander(bend: Bend, degrees: float) -> float:
    """Bound (mm) on how far the swinging part strays from its turn about the pole on the way to ``degrees``.

    The turn about the pole is exact at the start and at the bend's own angle. In between the metal may wrap from the nose
    outwards, from the free side inwards, or bend evenly; each keeps the direction of the swinging side, so it differs from
    the turn by a shift only. The largest shift of the three is taken at 1025 angles and half a step of the fastest
    possible change is added (docs/theory.md).
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
