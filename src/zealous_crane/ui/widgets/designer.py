"""The lines of the design tree, and what can be put on a free edge."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from pydantic import BaseModel
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QMenu, QPushButton, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from ...errors import INPUT_ERRORS, InputError
from ...flat.handles import CornerHandle, EdgeHandle
from ...i18n import choice_words, the, the_first, tr
from ...job.job import DrawnPart, FlatPart
from ...part.corner import Corner, CornerAt, CornerPlace, CornerRule, Tab
from ...part.design import Base, Design, Facet, Flange, Standing, added, at, replaced
from ...part.edge import HEM_WORDS, Hem, HemForm, Joggle, Seam, SeamForm, edge_names, edge_words
from ...part.hole import Cutout, HolePlace, HoleShape, MarkForm, Stiffener
from ...part.size import BASE, names_of
from ...schema.reading import plain
from ...units.length import INCH, round_figure
from ...units.quantities import show_angle
from ..dialogs.take_over import TakeOverDialog, can_be_taken_over
from ..state.session import Session
from .form import ModelForm, drop
from .pick import Handle, HoleHandle, PanelHandle
from .widget import Wrapped, run_dialog

Chosen = tuple[Any, ...]
"""What is chosen in the tree: ("base",), ("standing", path), ("corner", place or None), ("hole",
i), ("mark", i), ("fold", i)."""


def standing_choices(session: Session, edge: str) -> list[tuple[str, Standing]]:
    """What can be put on a free edge, in shop words, with sizes in round figures of the job's
    units."""
    inch = session.job.units.is_inch
    flange, hem = (INCH, INCH / 2) if inch else (25.0, 12.0)
    choices: list[tuple[str, Standing]] = [
        (tr("Flange, 90°"), Flange(edge=edge, height=flange)),
        (tr("Flange, 90° the other way"), Flange(edge=edge, height=flange, angle=-90)),
    ]
    for form in HemForm:
        name = {
            "rolled": tr("Rolled safety edge"),
            "double": tr("Double hem"),
            "teardrop": tr("Teardrop hem"),
        }.get(form.value, f"{form.value.capitalize()} hem")
        length = {HemForm.DOUBLE: 2 * hem, HemForm.ROLLED: 1.5 * hem}.get(form, hem)
        choices.append((name, Hem(edge=edge, form=form, length=length)))
    choices.append((tr("Joggle"), Joggle(edge=edge, lap=hem)))
    choices += [
        (tr("Seam: {words}").format(words=form.words), Seam(edge=edge, form=form))
        for form in SeamForm
    ]
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
        return [
            (0, f"{fold.name or f'fold {i + 1}'}   {fold.angle:g}°", ("fold", i))
            for i, fold in enumerate(part.flat.folds)
        ]
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
    lines += [
        (1, f"{choice_words(one.at)}: {one.corner.rule.words}", ("corner", one.at))
        for one in design.corners
    ]
    lines += [
        (0, f"{hole.name or hole.shape.words}, {hole.panel}", ("hole", i))
        for i, hole in enumerate(design.cutouts)
    ]
    lines += [
        (0, f"{mark.form.words}, {mark.panel}", ("mark", i)) for i, mark in enumerate(design.marks)
    ]
    return lines


def fill_tree(tree: QTreeWidget, lines: list[Line]) -> None:
    """Write the lines of a part into a tree, in place of those that stand there."""
    tree.clear()
    above: list[QTreeWidget | QTreeWidgetItem] = [tree]
    for deep, words, chosen in lines:
        del above[deep + 1 :]
        above.append(TreeRow(above[deep], words, chosen))
    tree.expandAll()


class TreeRow(QTreeWidgetItem):
    """A line of the tree with what it stands for."""

    def __init__(self, parent: QTreeWidget | QTreeWidgetItem, text: str, chosen: Chosen) -> None:
        super().__init__(parent, [text])
        self.chosen = chosen


def all_items(tree: QTreeWidget) -> list[TreeRow]:
    tree_rows: list[TreeRow] = []
    waiting: list[QTreeWidgetItem | None] = [
        tree.topLevelItem(i) for i in range(tree.topLevelItemCount())
    ]
    while waiting:
        item = waiting.pop(0)
        if isinstance(item, TreeRow):
            tree_rows.append(item)
            waiting[:0] = [item.child(i) for i in range(item.childCount())]
    return tree_rows


def words_of(one: Standing, name: str) -> str:
    """What stands on an edge, as a line of the tree: its name and how far it turns or what hem it
    is; where a person gave the name, what and where it is."""
    if isinstance(one, Flange | Facet):
        return f"{name}   {show_angle(one.angle)}"
    if not one.name:
        return f"{name}   {one.form.words}" if isinstance(one, Hem) else name
    what = (
        HEM_WORDS[one.form]
        if isinstance(one, Hem)
        else one.form.words
        if isinstance(one, Seam)
        else tr("joggle")
    )
    return tr("{name}: {what} on the {edge} edge").format(
        name=name, what=what, edge=edge_words(one.edge)
    )


class Designer(QWidget):
    """Tree and form of the part on the bench.

    Args:
        session: the state behind it.
        tell: says a sentence aloud.
    """

    def __init__(self, session: Session, tell: Callable[[str], None]) -> None:
        super().__init__()
        self.session, self.tell = session, tell
        self.chosen: Chosen = ("base",)
        self.tree = QTreeWidget()
        self.tree.setHeaderHidden(True)
        self.tree.setAccessibleName(tr("The design as a tree"))
        self.tree.setMinimumHeight(150)
        self.tree.setMaximumHeight(230)
        self.tree.itemSelectionChanged.connect(self._selected)
        self.tree.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.tree.customContextMenuRequested.connect(self._tree_menu)
        away = QShortcut(QKeySequence(QKeySequence.StandardKey.Delete), self.tree)
        away.setContext(Qt.ShortcutContext.WidgetShortcut)
        away.activated.connect(self._delete)
        self.caption = Wrapped()
        self._lines: list[Line] = []
        self.form: ModelForm | None = None
        self._form_of: tuple[object, type[BaseModel]] | None = None
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(0, 0, 0, 0)
        self.take_over = QPushButton(tr("Take o&ver from a part …"))
        self.take_over.setToolTip(
            tr("Measure points on the hole's edge; its centre and size follow.")
        )
        self.take_over.clicked.connect(self._take_over)
        self.take_over.hide()
        self.box.addWidget(self.tree)
        self.box.addWidget(self.caption)

    # --- showing ---------------------------------------------------------------------------------

    @property
    def design(self) -> Design:
        """The tree of the part, whichever kind it is.

        Raises:
            InputError: the part is a drawn flat.
        """
        job = self.session.job
        if isinstance(job.part, FlatPart):
            raise InputError(tr("A drawn flat has fold lines, not a tree."))
        return job.part.design(job.sheet.thickness)

    def refresh(self) -> None:
        """Show the part."""
        part = self.session.job.part
        self.tree.blockSignals(True)
        lines = lines_of(part) if isinstance(part, DrawnPart | FlatPart) else []
        # A size that is typed changes none of them.
        if lines != self._lines:
            self._lines = lines
            fill_tree(self.tree, lines)
        items = all_items(self.tree)
        if items:
            wanted = next((i for i in items if i.chosen == self.chosen), items[0])
            self.tree.setCurrentItem(wanted)
            self.chosen = wanted.chosen
        self.tree.blockSignals(False)
        self._show_form()

    def _selected(self) -> None:
        item = self.tree.currentItem()
        if isinstance(item, TreeRow):
            self.chosen = item.chosen
            self._show_form()

    def _model(self) -> BaseModel | None:  # noqa: PLR0911
        part = self.session.job.part
        kind = self.chosen[0]
        try:
            if isinstance(part, FlatPart):
                return part.flat.folds[self.chosen[1]] if kind == "fold" else None
            if not isinstance(part, DrawnPart):
                return None
            tree = part.tree
            if kind == "base":
                return tree.base
            if kind == "standing":
                return at(tree, self.chosen[1])
            if kind == "corner":
                return next((c.corner for c in tree.corners if c.at == self.chosen[1]), tree.corner)
            if kind in ("hole", "mark"):
                return (tree.cutouts if kind == "hole" else tree.marks)[self.chosen[1]]
        except (IndexError, AttributeError):
            return None
        return None

    def _show_form(self) -> None:
        model = self._model()
        key = None if model is None else (self.chosen, type(model))
        if self.form is not None and (key is None or key != self._form_of):
            drop(self.form)
            self.form = None
        self._form_of = key
        if model is None:
            self.take_over.hide()
            return
        if self.form is None:
            skip = frozenset(
                {"edge", "flanges", "corners", "start", "end", "crease", "panel"}
                - ({"panel"} if self.chosen[0] in ("hole", "mark") else set())
            )
            self.form = ModelForm(
                model,
                self._changed,
                lambda: self.session.job.units,
                skip,
                lambda: self.session.job.angles,
            )
            self.form.refused.connect(self.tell)
            self.box.addWidget(self.form)
            self.box.addWidget(self.take_over)
        else:
            self.form.show_model(model)
        self.take_over.setVisible(can_be_taken_over(model))

    # --- changing --------------------------------------------------------------------------------

    def _changed(self, model: BaseModel) -> str | None:
        kind, part = self.chosen[0], self.session.job.part
        if isinstance(part, FlatPart):
            folds = [
                model.model_dump() if i == self.chosen[1] else f.model_dump()
                for i, f in enumerate(part.flat.folds)
            ]
            return self.session.edit(
                tr("fold {chosen}").format(chosen=self.chosen[1]),
                part={"kind": "flat", "flat": {**part.flat.model_dump(), "folds": folds}},
            )
        if not isinstance(part, DrawnPart):
            return None
        tree = part.tree
        try:
            if kind == "standing":
                return self._take(replaced(tree, self.chosen[1], model), str(self.chosen))  # type: ignore[arg-type]
            record = tree.model_dump()
            if kind == "base":
                record["base"] = model.model_dump()
            elif kind == "corner" and self.chosen[1] is None:
                record["corner"] = model.model_dump()
            elif kind == "corner":
                record["corners"] = [c.model_dump() for c in tree.corners if c.at != self.chosen[1]]
                record["corners"].append({"at": self.chosen[1], "corner": model.model_dump()})
            else:
                key = "cutouts" if kind == "hole" else "marks"
                record[key] = [
                    model.model_dump() if i == self.chosen[1] else one
                    for i, one in enumerate(record[key])
                ]
            return self._take(Design.model_validate(record), str(self.chosen))
        except INPUT_ERRORS as error:
            return plain(error)

    def _take(self, design: Design, what: str = "") -> str | None:
        return self.session.change(
            self.session.job.model_copy(update={"part": DrawnPart(tree=design)}), what
        )

    def _take_over(self) -> None:
        hole = self._model()
        if isinstance(hole, Cutout):
            dialog = TakeOverDialog(hole, self.session.job.units, self)
            if run_dialog(dialog):
                text = self._changed(dialog.taken_over())
                if text:
                    self.tell(text)
                self.refresh()
            dialog.deleteLater()

    def open_up(self) -> str | None:
        """Go on with the tree a ready kind stands for."""
        try:
            return self._take(self.design)
        except INPUT_ERRORS as error:
            return plain(error)

    def do(self, change: Callable[[Design], tuple[Design, Chosen]]) -> None:
        """Change the design, opening a ready kind up where needed, and choose what came of it."""
        before = self.chosen
        try:
            design, chosen = change(self.design)
            self.chosen = chosen
            refusal = self._take(design)
        except INPUT_ERRORS as error:
            refusal = plain(error)
        if refusal:
            self.chosen = before
            self.tell(refusal)
        self.refresh()

    def put(self, carrier: tuple[int, ...], standing: Standing) -> None:
        """Put something on a free edge."""

        def change(design: Design) -> tuple[Design, Chosen]:
            grown, path = added(design, carrier, standing)
            return grown, ("standing", path)

        self.do(change)

    def _delete(self) -> None:
        """The Delete key in the tree."""
        if self.chosen not in (("base",), ("corner", None)) and self.chosen[0] != "fold":
            self.take_away()

    def take_away(self) -> None:
        """Take away what is chosen."""
        kind = self.chosen[0]
        key = {"hole": "cutouts", "mark": "marks", "corner": "corners"}.get(kind)

        def change(design: Design) -> tuple[Design, Chosen]:
            if kind == "standing":
                return replaced(design, self.chosen[1], None), ("base",)
            record = design.model_dump()
            if kind == "corner":
                record["corners"] = [c for c in record["corners"] if c["at"] != self.chosen[1]]
            elif key is not None:
                record[key] = [one for i, one in enumerate(record[key]) if i != self.chosen[1]]
            return Design.model_validate(record), ("base",)

        self.do(change)

    def erase(self, handle: Handle, paths: dict[str, Any]) -> str | None:
        """Take away what was pointed at; why not, where it cannot be."""
        if isinstance(handle, HoleHandle):
            if handle.index >= len(self.design.cutouts):
                return tr("This hole comes from a rule; change the rule.")
            self.chosen = ("hole", handle.index)
        elif isinstance(handle, CornerHandle):
            if all(c.at != handle.at for c in self.design.corners):
                return tr(
                    "This corner closes like all the others; there is nothing of its own to take "
                    "away."
                )
            self.chosen = ("corner", handle.at)
        elif isinstance(handle, EdgeHandle) and handle.path is not None:
            self.chosen = ("standing", handle.path)
        elif isinstance(handle, PanelHandle) and (path := paths.get(handle.name)):
            self.chosen = ("standing", path)
        else:
            return tr("There is nothing here to take away.")
        self.take_away()
        return None

    def set_corner(self, place: CornerPlace | None, rule: CornerRule) -> None:
        """Change how one corner closes, or all of them."""

        def change(design: Design) -> tuple[Design, Chosen]:
            old = next((c.corner for c in design.corners if c.at == place), design.corner)
            tab = (
                (old.tab or Tab(length=round_figure(15.0, self.session.job.units)))
                if rule is CornerRule.TAB
                else None
            )
            corner = Corner.model_validate(
                {**old.model_dump(), "rule": rule, "tab": tab.model_dump() if tab else None}
            )
            if place is None:
                return design.model_copy(update={"corner": corner, "corners": ()}), ("corner", None)
            others = tuple(c for c in design.corners if c.at != place)
            return design.model_copy(
                update={"corners": (*others, CornerAt(at=place, corner=corner))}
            ), ("corner", place)

        self.do(change)

    def add_hole(self, panel: str, shape: HoleShape, u: float, v: float) -> None:
        """Cut a hole where a panel was pointed at, ``u`` and ``v`` mm off its middle.

        Args:
            panel: name of the panel.
            shape: of the hole.
            u: mm along the panel from its middle.
            v: mm across the panel from its middle.
        """
        size = INCH / 4 if self.session.job.units.is_inch else 6.0
        width = None if shape is HoleShape.ROUND else size
        length = size if shape is HoleShape.ROUND else 3 * size

        def change(design: Design) -> tuple[Design, Chosen]:
            cutout = Cutout(
                panel=panel,
                shape=shape,
                length=length,
                width=width,
                x=HolePlace(value=round(u, 1)),
                y=HolePlace(value=round(v, 1)),
            )
            return design.model_copy(update={"cutouts": (*design.cutouts, cutout)}), (
                "hole",
                len(design.cutouts),
            )

        self.do(change)

    def add_mark(self, panel: str, form: MarkForm) -> None:
        """Stiffen a panel."""

        def change(design: Design) -> tuple[Design, Chosen]:
            return design.model_copy(
                update={"marks": (*design.marks, Stiffener(panel=panel, form=form))}
            ), (
                "mark",
                len(design.marks),
            )

        self.do(change)

    def move_hole(self, index: int, along: float, out: float) -> None:
        """Move a hole by mm along its panel's own axes, as one step of undo while it is dragged.

        Args:
            index: which hole.
            along: mm along the panel.
            out: mm across the panel.
        """
        part = self.session.job.part
        if not isinstance(part, DrawnPart) or index >= len(part.tree.cutouts):
            return
        old = part.tree.cutouts[index]
        x = old.x.value + (-along if old.x.edge == "right" else along)
        y = old.y.value + (-out if old.y.edge == "back" else out)
        cutouts = list(part.tree.cutouts)
        cutouts[index] = old.model_copy(
            update={
                "x": old.x.model_copy(update={"value": x}),
                "y": old.y.model_copy(update={"value": y}),
            }
        )
        refusal = self._take(
            part.tree.model_copy(update={"cutouts": tuple(cutouts)}),
            tr("drag {index}").format(index=index),
        )
        if refusal:
            self.tell(refusal)

    # --- menus -----------------------------------------------------------------------------------

    def menu_for(self, handle: Handle, axes: dict[str, Any], paths: dict[str, Any]) -> QMenu | None:  # noqa: C901, PLR0911
        """What can be done with what was pointed at; None when pointing at it already chose it.

        Args:
            handle: what was pointed at.
            axes: along and across the panel, on the picture.
            paths: where things stand in the tree.
        """
        if isinstance(self.session.job.part, FlatPart):
            return None
        menu = QMenu(self)
        if isinstance(handle, HoleHandle):
            opened = isinstance(self.session.job.part, DrawnPart)
            if opened and handle.index < len(self.design.cutouts):
                self.chosen = ("hole", handle.index)
                self.refresh()
            return None
        if isinstance(handle, CornerHandle):
            words = {
                "open": tr("open, both end at the other"),
                "butt": tr("one runs over the other"),
                "tab": "tab",
                "gusset": tr("folded ear"),
                "mitre": tr("mitred lips"),
            }
            for rule in CornerRule:
                menu.addAction(
                    tr("This corner: {words}").format(words=words[rule.value]),
                    lambda r=rule: self.set_corner(handle.at, r),
                )
            menu.addSeparator()
            for rule in CornerRule:
                menu.addAction(
                    tr("All corners: {words}").format(words=words[rule.value]),
                    lambda r=rule: self.set_corner(None, r),
                )
            return menu
        if isinstance(handle, PanelHandle):
            return self._panel_menu(menu, handle, axes, paths)
        if handle.name:
            if handle.path is None:
                menu.addAction(
                    tr("{name} comes from the corner's rule").format(name=the_first(handle.name))
                ).setEnabled(False)
                return menu
            if isinstance(self.session.job.part, DrawnPart):
                self.chosen = ("standing", handle.path)
                self.refresh()
            path = handle.path
            menu.addAction(
                tr("Change {name}").format(name=the(handle.name)),
                lambda: self.do(lambda d: (d, ("standing", path))),
            )
            menu.addAction(
                tr("Take {name} away").format(name=the(handle.name)),
                lambda: self.do(lambda d: (replaced(d, path, None), ("base",))),
            )
            return menu
        if handle.carrier is None:
            return None
        for words_, standing in standing_choices(self.session, handle.edge):
            menu.addAction(words_, lambda s=standing, c=handle.carrier: self.put(c, s))
        return menu

    def _panel_menu(
        self, menu: QMenu, handle: PanelHandle, axes: dict[str, Any], paths: dict[str, Any]
    ) -> QMenu:
        blank = self.session.blank
        panel = next(p for p in blank.panels if p.name == handle.name)
        middle = (panel.polygon.min(axis=0) + panel.polygon.max(axis=0)) / 2
        u, v = axes[handle.name] @ (handle.at - middle) if handle.name in axes else (0.0, 0.0)
        for shape in HoleShape:
            word = {
                "round": tr("Round hole here"),
                "slot": tr("Slot here"),
                "rectangle": tr("Rectangle cut-out here"),
            }[shape.value]
            menu.addAction(word, lambda s=shape: self.add_hole(handle.name, s, float(u), float(v)))
        menu.addSeparator()
        for form in MarkForm:
            text = {
                MarkForm.CROSS_BREAK: tr("Stiffen with a cross-break"),
                MarkForm.BEAD: tr("Stiffen with a bead"),
            }[form]
            menu.addAction(text, lambda f=form: self.add_mark(handle.name, f))
        path = paths.get(handle.name)
        if path:
            menu.addSeparator()
            menu.addAction(
                tr("Change {name}").format(name=the(handle.name)),
                lambda: self.do(lambda d: (d, ("standing", path))),
            )
        return menu

    def _tree_menu(self, where: QPoint) -> None:
        menu = QMenu(self)
        if self.chosen[0] != "fold":
            carrier: tuple[int, ...] | None = (
                ()
                if self.chosen[0] == "base"
                else self.chosen[1]
                if self.chosen[0] == "standing"
                else None
            )
            if carrier is not None:
                for edge in free_edges(self.design, carrier):
                    sub = menu.addMenu(tr("Put on the {edge} edge").format(edge=edge_words(edge)))
                    for words, standing in standing_choices(self.session, edge):
                        sub.addAction(words, lambda s=standing, c=carrier: self.put(c, s))
            if self.chosen not in (("base",), ("corner", None)):
                menu.addAction(tr("Take away"), self.take_away)
        if not menu.isEmpty():
            menu.popup(self.tree.viewport().mapToGlobal(where))
