"""Thin sheet that gives: an outermost flange that meets the bar as it comes round is let past it, and springs back.

The flange is a cantilever fixed at its fold and held off by the bar. A point at s from the fold may be pushed aside by
w(s) = f · 2 · Y · s² / (3 · E · T) before the metal at the fold begins to yield: elementary beam theory, w = F·s³ / (3·E·I) and
σ = F·s·T / (2·I) = Y; f leaves a fifth unused. That parabola lies within the triangle of its ends and the point where the tangents at
them cross, so the hull of these holds the flange as it is pushed farthest.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ....metal import Sheet
from ...geometry.contact import hull
from ...geometry.solid import Solid
from ...memory import kept
from ..posing import pose
from ..setting import Setting

Array = NDArray[np.float64]

THIN = 0.5
"""mm; thicker sheet is not sprung past a bar by hand. Common practice, no source."""

SHARE = 0.8
"""Of what the metal stands before it yields."""

STANDS = 45.0
"""Degrees from which a flange stands off its panel, and has a root it can give about."""


def give(sheet: Sheet, height: float) -> float:
    """How far (mm) the edge of a flange ``height`` mm high may be pushed aside and still springs back."""
    metal = sheet.metal
    return SHARE * 2.0 * metal.yield_strength * height**2 / (3.0 * metal.modulus * sheet.thickness)


def sprung_flanges(setting: Setting) -> dict[int, float]:
    """Flanges that may give on the swing, by panel: how far (mm) the edge of each."""
    blank, held = setting.blank, setting.held
    if blank.thickness > THIN:
        return {}
    carries = {fold.parent for fold in blank.folds}
    found: dict[int, float] = {}
    for i, fold in enumerate(blank.folds):
        panel = fold.child
        if panel in carries or panel not in setting.swinging or panel in setting.folding_panels or i in held.folds:
            continue
        if abs(setting.angles[i]) < STANDS:
            continue
        height = _height(setting, i)
        along = pose(held, panel, setting.angles_to(panel)).turn @ np.array([*(fold.end - fold.start), 0.0])
        if abs(along[0]) > 0.9999 * fold.length and height > 0:
            found[panel] = give(blank.sheet, height)
    return found


def _height(setting: Setting, fold: int) -> float:
    line = setting.blank.folds[fold]
    corners = np.array(setting.blank.panels[line.child].polygon)
    away = (corners - line.start) @ line.outward
    return float(away.max() - away.min())


def given_way(setting: Setting, solids: tuple[Solid, ...], *, swept: bool) -> tuple[Solid, ...]:
    """The swinging pieces with every flange that may give pushed back against the turn as far as it may be.

    Args:
        setting: how the part is held.
        solids: what swings.
        swept: with every place on the way there, as the part itself and the leaf meet it.
    """
    flanges = sprung_flanges(setting)
    if not flanges:
        return solids
    roots = {fold.child: fold for fold in setting.blank.folds}
    made = []
    for solid in solids:
        by = flanges.get(solid.panel)
        if by is None:
            made.append(solid)
            continue
        line = roots[solid.panel]
        at = pose(setting.held, solid.panel, setting.angles_to(solid.panel))
        y, z = at.apply(np.array([[*line.start, 0.0]]))[0, 1:].tolist()
        out_y, out_z = (at.turn @ np.array([*line.outward, 0.0]))[1:].tolist()
        made.append(_bent(solid, (y, z), (out_y, out_z), by, swept))
    return tuple(made)


@kept(4096)
def _bent(solid: Solid, root: tuple[float, float], out: tuple[float, float], by: float, swept: bool) -> Solid:
    """A flange pushed back by ``by`` mm at its edge, as a prism along the fold that holds it."""
    along = np.array(out)
    points = solid.corners[:, 1:]
    away = (points - np.array(root)) @ along
    near, far = float(away.min()), float(away.max())
    foot, edge = points[away < near + 1e-6], points[away > far - 1e-6]
    middle = foot + along * (far - near) / 2
    # The swing turns the front up and over to the back; what is pushed back turns the other way.
    back = np.array([-along[1], along[0]]) * by
    ring = hull(np.concatenate([foot, middle, edge + back, *([edge] if swept else [])]))
    low, high = solid.x_range
    corners = np.concatenate([np.column_stack([np.full(len(ring), x), ring]) for x in (low, high)])
    return Solid(solid.name, solid.panel, corners)
