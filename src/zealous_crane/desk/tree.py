"""The lines of the design tree, and what can be put on a free edge."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QTreeWidget, QTreeWidgetItem

from ..job import DrawnPart, FlatPart
from ..measure import INCH, show_angle
from ..measure.worded import choice_words
from ..measure.words import tr
from ..part import Base, Design, Facet, Flange, Hem, HemForm, Joggle, Seam, SeamForm, Standing, edge_names
from ..part.edge import edge_words
from ..part.edging import HEM_WORDS
from ..part.edit import at
from ..part.names import BASE, names_of
from .session import Session

Chosen = tuple[Any, ...]
"""What is chosen in the tree: ("base",), ("standing", path), ("corner", place or None), ("hole", i), ("mark", i), ("fold", i)."""


def standing_choices(session: Session, edge: str) -> list[tuple[str, Standing]]:
    """What can be put on a free edge, in shop words, with sizes in round figures of the job's units."""
    inch = session.job.units.is_inch
    flange, hem = (INCH, INCH / 2) if inch else (25.0, 12.0)
    choices: list[tuple[str, Standing]] = [
        (tr("Flange, 90°"), Flange(edge=edge, height=flange)),
        (tr("Flange, 90° the other way"), Flange(edge=edge, height=flange, angle=-90)),
    ]
    for form in HemForm:
        name = {"rolled": tr("Rolled safety edge"), "double": tr("Double hem"), "teardrop": tr("Teardrop hem")}.get(
            form.value, f"{form.value.capitalize()} hem"
        )
        length = {HemForm.DOUBLE: 2 * hem, HemForm.ROLLED: 1.5 * hem}.get(form, hem)
        choices.append((name, Hem(edge=edge, form=form, length=length)))
    choices.append((tr("Joggle"), Joggle(edge=edge, lap=hem)))
    choices += [(tr("Seam: {words}").format(words=form.words), Seam(edge=edge, form=form)) for form in SeamForm]
    return choices


def free_edges(design: Design, carrier: tuple[int, ...]) -> tuple[str, ...]:
    """Edges of a panel that carry nothing yet; none for a hem, a joggle or a seam."""
    if not carrier:
        names = edge_names(4 if isinstance(design.base, Base) else len(design.base.corners))
        standing = design.flanges
    else:
        panel = at(design, carrier)
        if not isinstance(panel, Flange | Facet):
            return ()
        names = edge_names(4 if isinstance(panel, Flange) else len(panel.corners))[1:]
        standing = panel.flanges
    taken = {one.edge for one in standing}
    return tuple(name for name in names if name not in taken)


Line = tuple[int, str, Chosen]
"""A line of the tree: how deep it lies, its words, and what it stands for."""


def lines_of(part: DrawnPart | FlatPart) -> list[Line]:
    """A part as the lines of its tree, from the top."""
    if isinstance(part, FlatPart):
        return [(0, f"{fold.name or f'fold {i + 1}'}   {fold.angle:g}°", ("fold", i)) for i, fold in enumerate(part.flat.folds)]
    design = part.tree
    lines: list[Line] = [(0, BASE, ("base",))]
    names = names_of(design, twice=True)

    def branch(standing: tuple[Standing, ...], path: tuple[int, ...]) -> None:
        for i, one in enumerate(standing):
            here = (*path, i)
            lines.append((len(here), words_of(one, names[here]), ("standing", here)))
            branch(getattr(one, "flanges", ()), here)

    branch(design.flanges, ())
    lines.append((0, tr("corners: {rule}").format(rule=design.corner.rule.words), ("corner", None)))
    lines += [(1, f"{choice_words(one.at)}: {one.corner.rule.words}", ("corner", one.at)) for one in design.corners]
    lines += [(0, f"{hole.name or hole.shape.words}, {hole.panel}", ("hole", i)) for i, hole in enumerate(design.cutouts)]
    lines += [(0, f"{mark.form.words}, {mark.panel}", ("mark", i)) for i, mark in enumerate(design.marks)]
    return lines


def fill_tree(tree: QTreeWidget, lines: list[Line]) -> None:
    """Write the lines of a part into a tree, in place of those that stand there."""
    tree.clear()
    above: list[QTreeWidget | QTreeWidgetItem] = [tree]
    for deep, words, chosen in lines:
        del above[deep + 1 :]
        above.append(Row(above[deep], words, chosen))
    tree.expandAll()


class Row(QTreeWidgetItem):
    """A line of the tree with what it stands for."""

    def __init__(self, parent: QTreeWidget | QTreeWidgetItem, text: str, chosen: Chosen) -> None:
        super().__init__(parent, [text])
        self.chosen = chosen


def all_items(tree: QTreeWidget) -> list[Row]:
    found: list[Row] = []
    waiting: list[QTreeWidgetItem | None] = [tree.topLevelItem(i) for i in range(tree.topLevelItemCount())]
    while waiting:
        item = waiting.pop(0)
        if isinstance(item, Row):
            found.append(item)
            waiting[:0] = [item.child(i) for i in range(item.childCount())]
    return found


def words_of(one: Standing, name: str) -> str:
    """What stands on an edge, as a line of the tree: its name and how far it turns or what hem it is; where a person gave the name,
    what and where it is."""
    if isinstance(one, Flange | Facet):
        return f"{name}   {show_angle(one.angle)}"
    if not one.name:
        return f"{name}   {one.form.words}" if isinstance(one, Hem) else name
    what = HEM_WORDS[one.form] if isinstance(one, Hem) else one.form.words if isinstance(one, Seam) else tr("joggle")
    return tr("{name}: {what} on the {edge} edge").format(name=name, what=what, edge=edge_words(one.edge))
