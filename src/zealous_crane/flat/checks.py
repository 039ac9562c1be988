"""What a careful hand would say about a flat before cutting it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from .._typing import Array
from ..i18n import msg, the, the_first
from ..job.job import Job
from ..units.length import show_length
from .blank import Blank
from .crossing import crossings
from .element import MadeBy
from .features import Finding, Fold, Hole
from .ring import polygons

HOLE_CLEAR, SLOT_CLEAR = 2.0, 2.5
"""Thicknesses a hole's and a slot's edge keep from the bend's tangent line. Common practice, no
source."""

LARGE_CLEAR = 1 / 16
"""Of an opening's size along a bend: what is left between the two, or the strip bows. Common
practice, from memory."""

HEM_LEAST = 4.0
"""Thicknesses; a hem caught shorter leaves the raw edge proud. Common practice, no source."""

HEM_THICKEST = 1.6
"""mm; 16 gauge is about the thickest sheet that is hemmed flat. Common practice, no source."""

LEAST_HOLE = 1.0
"""Thicknesses below which a hole breaks its punch. Common practice, no source."""

HOLE_EDGE, HOLE_HOLE = 1.5, 2.0
"""Thicknesses of metal to leave between a hole and an edge, and between two holes, when they are
punched. Common practice, no source."""


@dataclass(frozen=True, eq=False)
class FlatCheck:
    """A flat to be looked over, once, when somebody asks for what is found.

    Attributes:
        job: for school, metal and units.
        blank: the developed part, without its rows.
        strips: (4, 2) bend strips on the flat, in the order of the folds.
    """

    job: Job
    blank: Blank
    strips: tuple[Array, ...]

    def __call__(self) -> tuple[Finding, ...]:
        """Everything worth saying, each once."""
        return self._found

    @cached_property
    def _found(self) -> tuple[Finding, ...]:
        with np.errstate(all="ignore"):
            return _findings(self.job, self.blank, self.strips)


def _findings(job: Job, blank: Blank, strips: tuple[Array, ...]) -> tuple[Finding, ...]:
    lines = [
        *_school(job, blank),
        *_metal(job, blank),
        *_shared(blank, strips),
        *_reliefs(job, blank),
    ]
    lines += [*_hems(job, blank), *_holes(job, blank), *_punched(job, blank), *crossings(blank)]
    kept: list[Finding] = []
    for finding in lines:
        if all(finding.says != k.says for k in kept):
            kept.append(finding)
    return tuple(kept)


def _school(job: Job, blank: Blank) -> list[Finding]:
    findings: list[Finding] = []
    for fold in blank.folds:
        if fold.made_by is MadeBy.BRAKE:
            doubt = job.chosen_school.doubt(
                fold.bend.angle, fold.bend.radius, fold.bend.thickness, job.units
            )
            if doubt:
                findings.append(Finding(doubt, None, "school"))
    return findings


def _metal(job: Job, blank: Blank) -> list[Finding]:
    sheet = blank.sheet
    least = sheet.least_radius
    for fold in blank.folds:
        if fold.made_by is not MadeBy.HAND and fold.bend.radius < least - 1e-9:
            return [
                Finding(
                    msg(
                        "{name} may crack folded at {radius} inside radius; about {least} is safe "
                        "across the grain, "
                        "{least_radius_along} along it.",
                        name=sheet.metal.name,
                        radius=show_length(fold.bend.radius, job.units),
                        least=show_length(least, job.units),
                        least_radius_along=show_length(sheet.least_radius_along, job.units),
                    ),
                    None,
                    "metal",
                )
            ]
    return []


def _shared(blank: Blank, strips: tuple[Array, ...]) -> list[Finding]:
    """Two bends that meet may never share metal."""
    folds = [f for f in blank.folds if f.bend.allowance > 1e-9]
    findings: list[Finding] = []
    if len(folds) != len(strips):
        return findings
    shapes = np.array(polygons(strips), dtype=object)
    one, other = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    pairs = sorted((i, j) for i, j in zip(one.tolist(), other.tolist(), strict=True) if j < i)
    if not pairs:
        return findings
    outline = shapely.Polygon(blank.outline.flattened())
    for i, j in pairs:
        both = shapes[i].intersection(shapes[j]).intersection(outline)
        if both.area > 1e-4:
            findings.append(
                Finding(
                    msg(
                        "The folds of {name} and {name_2} share metal where they meet and will "
                        "bunch or tear. "
                        "Choose a round or a square relief.",
                        name=the(folds[j].name),
                        name_2=the(folds[i].name),
                    ),
                    np.array(both.centroid.coords[0]),
                    "relief",
                )
            )
    if len(findings) > 1:
        return [
            Finding(
                msg(
                    "With no relief large enough, folds share metal at their corners and will "
                    "bunch or tear. Choose a"
                    " round or a square relief."
                ),
                findings[0].where,
                "relief",
            )
        ]
    return findings


def _reliefs(job: Job, blank: Blank) -> list[Finding]:
    findings: list[Finding] = []
    for relief in blank.reliefs:
        if relief.shape != "slot" and relief.size < relief.least - 1e-6:
            findings.append(
                Finding(
                    msg(
                        "The relief of {size} is smaller than the rule's {least} (r + T past both "
                        "tangent lines): the "
                        "corner may tear.",
                        size=show_length(relief.size, job.units),
                        least=show_length(relief.least, job.units),
                    ),
                    relief.centre,
                    "relief",
                )
            )
    return findings[:1]


def _hems(job: Job, blank: Blank) -> list[Finding]:
    findings: list[Finding] = []
    t = blank.thickness
    for fold in blank.folds:
        if fold.made_by is not MadeBy.HEM:
            continue
        ring = blank.panels[fold.child].polygon
        length = (
            float(((ring - fold.start) @ fold.outward).max())
            - fold.bend.allowance / 2
            + fold.bend.inside_setback
        )
        where = (fold.start + fold.end) / 2
        if length < HEM_LEAST * t:
            findings.append(
                Finding(
                    msg(
                        "{name} is short: {length} is less than four thicknesses, {length_2}, "
                        "and its raw edge will stand proud.",
                        name=the_first(fold.name),
                        length=show_length(length, job.units),
                        length_2=show_length(HEM_LEAST * t, job.units),
                    ),
                    where,
                    "hem",
                )
            )
        if (
            t > max(HEM_THICKEST, blank.sheet.metal.gauge.thickness(16)) + 1e-6
            and fold.bend.radius < t / 2
        ):
            findings.append(
                Finding(
                    msg(
                        "Metal of {t} is too thick to hem flat; about {HEM_THICKEST} is the most. "
                        "Take an open hem or a "
                        "rolled edge.",
                        t=show_length(t, job.units),
                        HEM_THICKEST=show_length(HEM_THICKEST, job.units),
                    ),
                    where,
                    "hem",
                )
            )
        if t < blank.sheet.metal.gauge.thickness(28) + 0.01 and not any(
            f.parent == fold.child for f in blank.folds
        ):
            findings.append(
                Finding(
                    msg("Metal of about 28 gauge and thinner needs a double hem."), where, "hem"
                )
            )
    return findings


def _holes(job: Job, blank: Blank) -> list[Finding]:
    findings: list[Finding] = []
    t = blank.thickness
    for hole in blank.holes:
        if hole.kind in ("relief", "fold slot") or hole.after_bending:
            continue
        shape = shapely.Polygon(hole.path.flattened())
        round_ = hole.kind == "round"
        clear = (HOLE_CLEAR if round_ else SLOT_CLEAR) * t
        for fold in blank.folds:
            away = (
                shape.distance(shapely.LineString([fold.start, fold.end])) - fold.bend.allowance / 2
            )
            along = float(
                np.ptp(hole.path.flattened() @ np.array([-fold.outward[1], fold.outward[0]]))
            )
            if clear - 1e-9 <= away < along * LARGE_CLEAR:
                findings.append(_narrow(job, hole, fold, away, along))
            elif away < clear - 1e-9:
                findings.append(
                    _near(
                        job, hole.name, hole.centre, fold, away, clear, "2" if round_ else "2 1/2"
                    )
                )
    return findings


def _punched(job: Job, blank: Blank) -> list[Finding]:
    """Holes too small for a punch, too near an edge, or too near each other."""
    findings: list[Finding] = []
    holes = [h for h in blank.holes if h.kind not in ("relief", "fold slot")]
    if not holes:
        return findings
    edge = shapely.Polygon(blank.outline.flattened()).exterior
    shapes = polygons([h.path.flattened() for h in holes])
    tree = shapely.STRtree(shapes)
    least = HOLE_HOLE * blank.thickness
    for i, (hole, shape) in enumerate(zip(holes, shapes, strict=True)):
        findings += _hole_alone(hole, shape, edge, blank.thickness, job)
        for k in tree.query(shape, predicate="dwithin", distance=least - 1e-9).tolist():
            if k > i:
                apart = shape.distance(shapes[k])
                if apart <= 0:
                    continue  # One opening, cut in one go.
                text = msg(
                    "{name} and {name_2} leave {apart} between them; punched nearer than 2 "
                    "thicknesses, {length}, they will distort each other.",
                    name=the_first(hole.name),
                    name_2=the(holes[k].name),
                    apart=show_length(apart, job.units),
                    length=show_length(least, job.units),
                )
                findings.append(Finding(text, hole.centre, "hole"))
        if len(findings) > MOST_SAID:
            break
    return findings


def _hole_alone(hole: Hole, shape: Any, edge: Any, t: float, job: Job) -> Iterator[Finding]:
    """What a careful hand would say of a hole by itself.

    Args:
        hole: the hole.
        shape: its outline on the flat, a polygon.
        edge: the line round the flat.
        t: thickness of the sheet, mm.
        job: says how lengths are shown.
    """
    low, left, high, right = shape.bounds
    small = min(high - low, right - left)
    name = the_first(hole.name)
    if small < LEAST_HOLE * t - 1e-9:
        text = msg(
            "{name}, {small}, is smaller than the sheet is thick: drill it, a punch would break.",
            name=name,
            small=show_length(small, job.units),
        )
        yield Finding(text, hole.centre, "hole")
    left_over = edge.distance(shape)
    if left_over < HOLE_EDGE * t - 1e-9:
        text = msg(
            "{name} leaves {edge} to the edge; less than 1 1/2 thicknesses, {length}, bulges when "
            "it is punched.",
            name=name,
            edge=show_length(left_over, job.units),
            length=show_length(HOLE_EDGE * t, job.units),
        )
        yield Finding(text, hole.centre, "hole")
    from_centre = edge.distance(shapely.Point(hole.centre))
    if from_centre < hole.edge - 1e-6:
        text = msg(
            "{name} lies {from_centre} from the edge; a rivet holds from two diameters, {edge}. "
            "Make the tab longer or the rivet smaller.",
            name=name,
            from_centre=show_length(from_centre, job.units),
            edge=show_length(hole.edge, job.units),
        )
        yield Finding(text, hole.centre, "hole")


def _narrow(job: Job, hole: Hole, fold: Fold, away: float, along: float) -> Finding:
    text = msg(
        "{name} leaves {away} to the bend of {fold} over {along} of its length; a strip narrower "
        "than a sixteenth of the opening, "
        "{clear}, bows when it is bent. Move it, or cut it after bending.",
        name=the_first(hole.name),
        away=show_length(away, job.units),
        fold=the(fold.name),
        along=show_length(along, job.units),
        clear=show_length(along * LARGE_CLEAR, job.units),
    )
    return Finding(text, hole.centre, "hole")


MOST_SAID = 40
"""Warnings of one kind after which it is plain that there are many."""


def _near(  # noqa: PLR0913
    job: Job, name: str, centre: Array, fold: Fold, away: float, clear: float, times: str
) -> Finding:
    if away <= 0:
        says = msg(
            "{name} lies on the fold of {fold} and will be torn. Move it, or cut it after bending.",
            name=the_first(name),
            fold=the(fold.name),
        )
    else:
        says = msg(
            "{name} is {away} from the bend of {fold}; nearer than {times} thicknesses, "
            "{clear}, it will distort. Move it, or cut it after bending.",
            name=the_first(name),
            away=show_length(away, job.units),
            fold=the(fold.name),
            times=times,
            clear=show_length(clear, job.units),
        )
    return Finding(says, centre, "hole")
