"""How rows of rivets, spots, screws and tacks are made, as steps of work."""

from __future__ import annotations

from ..measure import Units, show_length
from ..measure.words import counted, the, tr
from ..part import Drilled, Joined
from .blank import Blank
from .fastener import SOLID_SHANK
from .joined_row import JoinedRow


def join_steps(blank: Blank, units: Units) -> tuple[str, ...]:
    """One step for every kind of row, rows that are alike together; a last one tries what was joined.

    Common practice, no source: from the middle out, pins set while drilling, a pull by hand at the end.
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
        steps.append(tr("Pull it by hand: a spot that pops off was too short; longer burns through. Try two scraps first."))
    elif kinds & {Joined.RIVET, Joined.SCREW}:
        steps.append(tr("Try by hand to pull it apart and to rock it before anything is sealed or painted."))
    return tuple(steps)


def _step(rows: list[JoinedRow], units: Units) -> str:
    row, n = rows[0], len(rows[0].places)
    where = (
        tr(" and ").join(_where(each) for each in rows)
        if len(rows) < 3
        else counted("{count} row alike", "{count} rows alike", len(rows))
    )
    pitch = tr(", {pitch} apart").format(pitch=show_length(row.pitch, units, pretty=True)) if row.pitch else ""
    figure = tr("{n} of {size}{pitch}, from the middle out").format(n=n, size=_size(row, units), pitch=pitch)
    grip = show_length(row.grip, units.fine, pretty=True)
    if row.by is Joined.SPOT:
        return tr("Spot {where}: {figure}, through {grip} of metal in all. Tips filed clean; trial on scraps.").format(
            where=where, figure=figure, grip=grip
        )
    if row.by is Joined.TACK:
        return tr(
            "Tack {where}: {figure}; a spacer between the legs, then weld between the tacks, from the middle too."
        ).format(where=where, figure=figure)
    drilling = (
        tr("drill through with a pin in every hole as you go")
        if row.through and row.drilled is Drilled.THROUGH
        else tr("pins in the middle hole and its neighbours first; a hole that does not meet is drilled through, not forced")
    )
    if row.by is Joined.SCREW:
        return tr("Screw {where}: {figure}; {drilling}. Deburr behind.").format(where=where, figure=figure, drilling=drilling)
    solid = show_length(row.grip + SOLID_SHANK * row.size, units.fine, pretty=True)
    return tr(
        "Rivet {where}: {figure}; {drilling}. Deburr behind. A blind rivet's grip must hold {grip}; a solid one is {solid} long."
    ).format(where=where, figure=figure, drilling=drilling, grip=grip, solid=solid)


def _size(row: JoinedRow, units: Units) -> str:
    size = show_length(row.size, units, pretty=True)
    return size if row.by is Joined.TACK else f"⌀ {size}"


def _where(row: JoinedRow) -> str:
    if row.through:
        return tr("{panel} to {through}").format(panel=the(row.panel), through=the(row.through))
    return tr("{panel} to the other part").format(panel=the(row.panel))
