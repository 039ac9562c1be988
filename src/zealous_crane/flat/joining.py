"""Fasteners: what is drilled for which rivet or screw, and how near each other they may sit."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import shapely

from .._typing import Array
from ..i18n import counted, msg, the, the_first, tr
from ..job.job import Job
from ..part.edge import edge_words
from ..part.hole import Drilled, FastenerRow, Joined
from ..units.length import INCH, Units, show_length
from .blank import Blank
from .element import DevelopmentError
from .features import Finding, Hole, JoinedRow, MarkLine
from .folding import Hinged
from .path import ClosedPath
from .ring import polygons

HOLES = (
    # Inch sizes: drills 41, 30, 20, 11 and F, as IFI 114 and the drill tables beside it have them.
    (3 / 32 * INCH, 0.0960 * INCH),
    (1 / 8 * INCH, 0.1285 * INCH),
    (5 / 32 * INCH, 0.1610 * INCH),
    (3 / 16 * INCH, 0.1910 * INCH),
    (1 / 4 * INCH, 0.2570 * INCH),
    # Metric sizes: ISO 15977, a tenth over.
    (2.4, 2.5),
    (3.0, 3.1),
    (3.2, 3.3),
    (4.0, 4.1),
    (4.8, 4.9),
    (5.0, 5.1),
    (6.0, 6.1),
    (6.4, 6.5),
)
"""(rivet, hole) diameters of blind rivets, mm; published tables from memory."""

PILOTS = ((2.9, 2.3), (3.5, 2.8), (3.9, 3.1), (4.2, 3.3), (4.8, 3.8), (5.5, 4.5), (6.3, 5.2))
"""(thread, hole it bites in) of tapping screws in thin sheet, mm: DIN 7975 for sheet of about a
millimetre, from memory."""

PITCH = 3.0
"""Least distance between two rivets in a row, in diameters: FAA AC 43.13-1B, 4-57, from memory.
Spots nearer than that let the current pass by the new one through the old (common practice, no
source)."""

CLEARANCE = 0.1
"""mm a hole is larger than a rivet the tables do not have."""

SCREW_ROOM = 0.1
"""Share of its diameter by which a screw's hole in the nearer sheet is larger. Common practice, no
source."""

SOLID_SHANK = 1.5
"""Diameters of shank that a solid rivet's head is driven from: FAA-H-8083-31, from memory."""


def rivet_hole(rivet: float) -> float:
    """Diameter drilled for a rivet of this diameter, mm."""
    return next((hole for size, hole in HOLES if abs(size - rivet) < 0.005), rivet + CLEARANCE)


def screw_hole(screw: float, *, bites: bool) -> float:
    """Diameter drilled for a tapping screw, mm: where its thread bites, or in the sheet it passes
    through."""
    if not bites:
        return screw * (1 + SCREW_ROOM)
    return next((hole for size, hole in PILOTS if abs(size - screw) < 0.005), 0.8 * screw)


AGAINST = 3.0
"""Thicknesses; a panel behind no farther off than this is drawn together by what joins it."""

LIES = 0.97
"""Cosine from which one panel lies along another."""

HEAD = 1.0
"""Diameters from the middle of a rivet or screw to the edge of its head, which must not stand on a
bend. Common practice, no source: heads are about twice the diameter."""


def spread_evenly(span: float, pitch: float, least: float = 0.0) -> list[float]:
    """Places from −span/2 to span/2, evenly out from the middle, none farther apart than ``pitch``
    nor nearer than ``least``, mm.

    Common practice, no source: laid out from the middle both ends match.

    Args:
        span: mm.
        pitch: mm from one to the next, about.
        least: fewest of them.
    """
    if span <= 0:
        return [0.0]
    gaps = max(1, math.ceil(span / pitch - 1e-9))
    if least > 0:
        gaps = min(gaps, math.floor(span / least + 1e-9))
    if gaps == 0:
        return [0.0]
    return [span * (i / gaps - 0.5) for i in range(gaps + 1)]


def joined(blank: Blank, job: Job, tabs: tuple[JoinedRow, ...] = ()) -> Blank:
    """The blank with the rows of its job: their holes and marks, and what a person should know of
    them.

    Args:
        blank: the part, developed.
        job: whose rows.
        tabs: rows of its corner tabs, whose holes and marks the blank has already.

    Raises:
        DevelopmentError: a row on no panel, without room, or through a panel that does not lie
            behind it.
    """
    if not job.rows and not tabs:
        return blank
    tabs = tuple(_on_wall(blank, tab) for tab in tabs)
    rows = tuple(_row(blank, row, job) for row in job.rows)
    holes, marks = list(blank.holes), list(blank.marks)
    for asked, row in zip(job.rows, rows, strict=True):
        of = [panel.name for panel in blank.panels].index(asked.panel)
        holes += _holes(row, row.places, row.hole, row.panel, of, row.edge)
        if row.hole_behind and asked.drilled is Drilled.FLAT and len(row.behind):
            mate = [panel.name for panel in blank.panels].index(row.through)
            holes += _holes(row, row.behind, row.hole_behind, row.through, mate, row.edge)
        if not row.hole:
            word = "tack" if asked.by is Joined.TACK else "spot"
            marks += [MarkLine(f"{word} on the {row.panel}", at, at, "spot") for at in row.places]
    _apart(holes, len(blank.holes))
    result = [
        finding
        for asked, row in zip(job.rows, rows, strict=True)
        for finding in _doubts(blank, job, asked, row)
    ]
    return dataclasses.replace(
        blank,
        holes=tuple(holes),
        marks=tuple(marks),
        rows=(*tabs, *rows),
        noted=(*blank.noted, *result),
    )


def _holes(
    row: JoinedRow, places: Array, size: float, panel: str, index: int, edge: float
) -> list[Hole]:
    if not size:
        return []
    r = size / 2
    circle = ClosedPath(np.array([[r, 0.0], [-r, 0.0]]), np.array([1.0, 1.0]))
    word = "screw hole" if row.by is Joined.SCREW else "rivet hole"
    return [
        Hole(
            f"{word} {i} in {the(panel)}",
            circle.moved(at),
            at,
            "round",
            (size, size),
            index,
            edge=edge,
        )
        for i, at in enumerate(places, start=1)
    ]


def _apart(holes: list[Hole], first: int) -> None:
    """Refuse holes that run into each other; those before ``first`` are known not to."""
    if first == len(holes):
        return
    shapes = np.array(polygons([hole.path.flattened() for hole in holes]), dtype=object)
    met = shapely.STRtree(shapes).query(shapes[first:], predicate="intersects")
    for i, k in sorted(met.T.tolist()):
        if k < first + i:
            raise DevelopmentError(
                tr("{name} and {name_2} run into each other. Move one of them.").format(
                    name=the_first(holes[k].name), name_2=the(holes[first + i].name)
                )
            )


def _frame(blank: Hinged, panel: int) -> tuple[Array, Array]:
    """Directions (2,) of a panel on the flat: along its fold, left to right, and out from it."""
    fold = next((f for f in blank.folds if f.child == panel), None)
    v = np.array([0.0, 1.0]) if fold is None else fold.outward
    return np.array([v[1], -v[0]]), v


def _line(blank: Hinged, panel: int, edge: str, inset: float) -> tuple[Array, Array]:
    """Ends (2,) of the line on a panel's metal that runs along an edge at this distance from it."""
    u, v = _frame(blank, panel)
    ring = blank.panels[panel].polygon
    along, out = (u, v) if edge in ("front", "back") else (v, u)
    across = ring @ out
    at = across.min() + inset if edge in ("front", "left") else across.max() - inset
    reach = ring @ along
    low, high = along * (reach.min() - 1.0) + out * at, along * (reach.max() + 1.0) + out * at
    # The very edge is looked for a hair inside it.
    nudge = out * (1e-6 if edge in ("front", "left") else -1e-6)
    met = shapely.LineString([low + nudge, high + nudge]).intersection(shapely.Polygon(ring))
    pieces = [
        g
        for g in getattr(met, "geoms", [met])
        if isinstance(g, shapely.LineString) and g.length > 0
    ]
    if not pieces:
        raise DevelopmentError("")
    longest = max(pieces, key=lambda g: g.length)
    ends = np.array(longest.coords)
    return ends[0] - nudge, ends[-1] - nudge


def edge_length(blank: Hinged, row: FastenerRow) -> float:
    """Length (mm) a row along this edge of a panel has to spread over, its distances from the ends
    not taken off.

    Raises:
        DevelopmentError: the row is on no panel of this part, or beyond it.
    """
    start, end = _ends(blank, row)
    return float(np.hypot(*(end - start)))


def _ends(blank: Hinged, row: FastenerRow) -> tuple[Array, Array]:
    names = [panel.name for panel in blank.panels]
    if row.panel not in names:
        raise DevelopmentError(
            tr(
                "There is no panel called {name} for a row of fastenings. This part has: {known}."
            ).format(name=row.panel, known=", ".join(names))
        )
    try:
        return _line(blank, names.index(row.panel), row.edge, row.set_in)
    except DevelopmentError:
        raise DevelopmentError(
            tr("A row so far inside the {edge} edge of {panel} lies beyond it.").format(
                edge=edge_words(row.edge), panel=the(row.panel)
            )
        ) from None


def _on_wall(blank: Blank, tab: JoinedRow) -> JoinedRow:
    """A tab's row with its places on the wall behind; without them where the tab stands off it."""
    names = {panel.name for panel in blank.panels}
    if not {tab.panel, tab.through} <= names:
        return tab
    there, well = _places_behind(blank, tab.panel, tab.through, tab.places)
    return dataclasses.replace(tab, behind=there) if well is None else tab


def _row(blank: Blank, row: FastenerRow, job: Job) -> JoinedRow:
    start, end = _ends(blank, row)
    whole = float(np.hypot(*(end - start)))
    length = whole if row.length is None else row.length
    if length > whole + 1e-6:
        raise DevelopmentError(
            tr(
                "A joint of {length} does not fit on the {edge} edge of {panel}: there it is "
                "{whole}."
            ).format(
                length=show_length(length, job.units),
                edge=edge_words(row.edge),
                panel=the(row.panel),
                whole=show_length(whole, job.units),
            )
        )
    keep = row.edge_distance if row.by is not Joined.TACK else row.size / 2
    if length < 2 * keep - 1e-9:
        raise DevelopmentError(
            tr(
                "{panel}: a joint of {length} has no room for a row that keeps {keep} from both "
                "ends."
            ).format(
                panel=row.panel,
                length=show_length(length, job.units),
                keep=show_length(keep, job.units),
            )
        )
    least = 0.0 if row.by is Joined.TACK else PITCH * row.size
    way, middle = (end - start) / whole, (start + end) / 2
    at = spread_evenly(length - 2 * keep, row.pitch, least)
    places = middle + np.outer(at, way)
    behind = _behind(blank, row, places, job) if row.through else np.zeros((0, 2))
    drills = row.by in (Joined.RIVET, Joined.SCREW)
    hole = (
        rivet_hole(row.size)
        if row.by is Joined.RIVET
        else screw_hole(row.size, bites=row.under)
        if drills
        else 0.0
    )
    bites = screw_hole(row.size, bites=True) if row.by is Joined.SCREW else hole
    return JoinedRow(
        panel=row.panel,
        by=row.by,
        size=row.size,
        hole=hole,
        places=places,
        pitch=at[1] - at[0] if len(at) > 1 else 0.0,
        edge=row.edge_distance,
        grip=blank.thickness + (blank.thickness if row.other is None else row.other),
        through=row.through,
        behind=behind,
        hole_behind=bites if row.through else 0.0,
        drilled=row.drilled,
        joint=row.joint,
    )


def _places_behind(
    blank: Blank, panel: str, through: str, places: Array
) -> tuple[Array, float | None]:
    """Where places on one panel come to lie on another when all is bent, (n, 2) on the flat, and
    what is wrong: how far off it stands (mm), 0 where it does not lie behind them at all; None when
    all is well."""
    names = [p.name for p in blank.panels]
    t, one, other = (
        blank.thickness,
        blank.stood[names.index(panel)],
        blank.stood[names.index(through)],
    )
    there = (other.inverse @ one).apply(np.column_stack([places, np.full(len(places), t / 2)]))
    off = float(np.abs(there[:, 2] - t / 2).max()) - t
    metal = shapely.Polygon(blank.panels[names.index(through)].polygon)
    if (
        abs(float(one.turn[:, 2] @ other.turn[:, 2])) < LIES
        or not shapely.contains_xy(metal, there[:, 0], there[:, 1]).all()
    ):
        return there[:, :2], 0.0
    return there[:, :2], off if off > AGAINST * t else None


def _behind(blank: Blank, row: FastenerRow, places: Array, job: Job) -> Array:
    """Where places on one panel come to lie on another when all is bent, (n, 2) on the flat."""
    names = [panel.name for panel in blank.panels]
    if row.through not in names or row.through == row.panel:
        raise DevelopmentError(
            tr("There is no panel called {name} behind {panel}.").format(
                name=row.through, panel=the(row.panel)
            )
        )
    there, off = _places_behind(blank, row.panel, row.through, places)
    if off is not None:
        raise DevelopmentError(
            tr(
                "Once everything is bent, {through} does not lie behind the row on {panel}{off}."
            ).format(
                through=the(row.through),
                panel=the(row.panel),
                off=tr(": it stands {off} off").format(off=show_length(off, job.units))
                if off
                else "",
            )
        )
    return there


def _doubts(blank: Blank, job: Job, asked: FastenerRow, row: JoinedRow) -> list[Finding]:
    if asked.by is Joined.TACK:
        return []
    findings: list[Finding] = []
    edges = shapely.Polygon(blank.outline.flattened()).boundary
    for name, places in ((row.panel, row.places), (row.through, row.behind)):
        if not len(places):
            continue
        away = shapely.distance(shapely.points(places), edges)
        if away.min() < row.edge - 1e-3:
            findings.append(
                Finding(
                    msg(
                        "{row}: {away} to the edge of the metal in {name}; {edge} is the least.",
                        row=row.says(job.units),
                        away=show_length(float(away.min()), job.units),
                        name=the(name),
                        edge=show_length(row.edge, job.units),
                    ),
                    places[int(away.argmin())],
                    "row",
                )
            )
        bent = _to_bends(blank, name, places)
        if row.hole and bent < HEAD * row.size - 1e-6:
            findings.append(
                Finding(
                    msg(
                        "{row}: their heads stand on the bend of {name}; keep {least} from it.",
                        row=row.says(job.units),
                        name=the(name),
                        least=show_length(HEAD * row.size, job.units),
                    ),
                    places[0],
                    "row",
                )
            )
    return findings


def _to_bends(blank: Blank, name: str, places: Array) -> float:
    """Least distance (mm) of places on a panel from the tangent lines of its bends."""
    index = [panel.name for panel in blank.panels].index(name)
    least = math.inf
    for fold in blank.folds:
        if index in (fold.parent, fold.child):
            away = np.abs((places - fold.start) @ fold.outward) - fold.bend.allowance / 2
            least = min(least, float(away.min()))
    return least


def join_steps(blank: Blank, units: Units) -> tuple[str, ...]:
    """One step for every kind of row, rows that are alike together; a last one tries what was
    joined.

    Common practice, no source: from the middle out, pins set while drilling, a pull by hand at the
    end.
    """
    alike: dict[tuple[object, ...], list[JoinedRow]] = {}
    for row in blank.rows:
        key = (
            row.by,
            round(row.size, 3),
            row.drilled,
            bool(row.through),
            len(row.places),
            round(row.pitch, 2),
            round(row.grip, 3),
        )
        alike.setdefault(key, []).append(row)
    steps = [_step(rows, units) for rows in alike.values()]
    kinds = {row.by for row in blank.rows}
    if Joined.SPOT in kinds:
        steps.append(
            tr(
                "Pull it by hand: a spot that pops off was too short; longer burns through. Try "
                "two scraps first."
            )
        )
    elif kinds & {Joined.RIVET, Joined.SCREW}:
        steps.append(
            tr("Try by hand to pull it apart and to rock it before anything is sealed or painted.")
        )
    return tuple(steps)


def _step(rows: list[JoinedRow], units: Units) -> str:
    row, n = rows[0], len(rows[0].places)
    where = (
        tr(" and ").join(_where(each) for each in rows)
        if len(rows) < 3
        else counted("{count} row alike", "{count} rows alike", len(rows))
    )
    pitch = (
        tr(", {pitch} apart").format(pitch=show_length(row.pitch, units, pretty=True))
        if row.pitch
        else ""
    )
    figure = tr("{n} of {size}{pitch}, from the middle out").format(
        n=n, size=_size(row, units), pitch=pitch
    )
    grip = show_length(row.grip, units.fine, pretty=True)
    if row.by is Joined.SPOT:
        return tr(
            "Spot {where}: {figure}, through {grip} of metal in all. Tips filed clean; trial on "
            "scraps."
        ).format(where=where, figure=figure, grip=grip)
    if row.by is Joined.TACK:
        return tr(
            "Tack {where}: {figure}; a spacer between the legs, then weld between the tacks, from "
            "the middle too."
        ).format(where=where, figure=figure)
    drilling = (
        tr("drill through with a pin in every hole as you go")
        if row.through and row.drilled is Drilled.THROUGH
        else tr(
            "pins in the middle hole and its neighbours first; a hole that does not meet is "
            "drilled through, not forced"
        )
    )
    if row.by is Joined.SCREW:
        return tr("Screw {where}: {figure}; {drilling}. Deburr behind.").format(
            where=where, figure=figure, drilling=drilling
        )
    solid = show_length(row.grip + SOLID_SHANK * row.size, units.fine, pretty=True)
    return tr(
        "Rivet {where}: {figure}; {drilling}. Deburr behind. A blind rivet's grip must hold "
        "{grip}; a solid one is {solid} long."
    ).format(where=where, figure=figure, drilling=drilling, grip=grip, solid=solid)


def _size(row: JoinedRow, units: Units) -> str:
    size = show_length(row.size, units, pretty=True)
    return size if row.by is Joined.TACK else f"⌀ {size}"


def _where(row: JoinedRow) -> str:
    if row.through:
        return tr("{panel} to {through}").format(panel=the(row.panel), through=the(row.through))
    return tr("{panel} to the other part").format(panel=the(row.panel))
