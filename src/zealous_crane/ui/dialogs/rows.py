"""Rows of rivets, spots, screws and tacks: those of the part on the bench, and those it shares with
another part."""

from __future__ import annotations

from pydantic import BaseModel
from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QDialogButtonBox,
    QFormLayout,
    QHBoxLayout,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...flat.joining import join_steps
from ...i18n import the, tr
from ...paint.flat import FlatOptions, paint_flat
from ...paint.theme import Theme
from ...part.edge import Edge, edge_words
from ...part.hole import FastenerRow, Joined
from ...units.length import INCH, Units
from ...work.fit import Joint, JointSide
from ..state.session import Session
from ..widgets.canvas import Canvas
from ..widgets.form import ModelForm, drop
from ..widgets.widget import Choice, FormDialog, Wrapped

ROW_PLACED = frozenset({"panel", "edge", "through", "under", "joint", "other"})
JOINT_PLACED = frozenset({"near", "far"})
"""Fields that are chosen above the form."""


class RowsDialog(FormDialog):
    """Every change is one of the work, undone like any other.

    Args:
        session: the work.
        look: colours of the picture.
        parent: the window.
    """

    def __init__(self, session: Session, look: Theme, parent: QWidget) -> None:  # noqa: PLR0915
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.session, self.look = session, look
        self.setWindowTitle(tr("Rows of rivets, spots and screws"))
        self.resize(1040, 660)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Rows"))
        self.list.setMaximumHeight(150)
        self.list.currentRowChanged.connect(lambda _: self._open())
        self.add, self.take_out = QPushButton(tr("&Add a row")), QPushButton(tr("&Take out"))
        self.add.clicked.connect(self._add)
        self.take_out.clicked.connect(self._take_out)
        self.panel, self.edge, self.behind, self.its_edge = Choice(), Choice(), Choice(), Choice()
        for choice, name in (
            (self.panel, tr("Panel")),
            (self.edge, tr("Along its edge")),
            (self.behind, tr("What lies behind")),
            (self.its_edge, tr("Along the edge there")),
        ):
            choice.setAccessibleName(name)
            choice.activated.connect(lambda _: self._placed())
        for choice in (self.edge, self.its_edge):
            for edge in Edge:
                choice.addItem(edge.words, edge.value)
        places = QFormLayout()
        places.addRow(tr("Panel"), self.panel)
        places.addRow(tr("Along its edge"), self.edge)
        places.addRow(tr("What lies behind"), self.behind)
        places.addRow(tr("Along the edge there"), self.its_edge)
        self.places = QWidget()
        self.places.setLayout(places)
        self.form: ModelForm | None = None
        self._holder = QVBoxLayout()
        self.complaint = Wrapped()
        self.complaint.setObjectName("complaint")
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        left = QVBoxLayout()
        left.addWidget(self.list)
        both = QHBoxLayout()
        both.addWidget(self.add)
        both.addWidget(self.take_out)
        left.addLayout(both)
        left.addWidget(self.places)
        left.addLayout(self._holder)
        left.addWidget(self.complaint)
        left.addStretch(1)
        side = QWidget()
        side.setFixedWidth(430)
        side.setLayout(left)
        self.picture = Canvas(tr("The blank with its rows"), self._paint, QSize(360, 300))
        self.steps = Wrapped()
        self.steps.setTextFormat(Qt.TextFormat.PlainText)
        right = QVBoxLayout()
        right.addWidget(self.picture, 1)
        right.addWidget(self.steps)
        middle = QHBoxLayout()
        middle.addWidget(side)
        middle.addLayout(right, 1)
        whole = QVBoxLayout(self)
        whole.addLayout(middle, 1)
        whole.addWidget(buttons)
        self._fill_choices()
        self._show(0)

    # --- what there is ---------------------------------------------------------------------------

    def _all(self) -> list[FastenerRow | tuple[int, Joint]]:
        """The part's own rows, then the joints it takes part in with their numbers."""
        at = self.session.at
        own: list[FastenerRow | tuple[int, Joint]] = [
            row for row in self.session.job.rows if row.joint is None
        ]
        return own + [
            (n, j)
            for n, j in enumerate(self.session.work.joints)
            if at in (j.near.part, j.far.part)
        ]

    def _chosen(self) -> FastenerRow | tuple[int, Joint] | None:
        every, at = self._all(), self.list.currentRow()
        return every[at] if 0 <= at < len(every) else None

    def _fill_choices(self) -> None:
        names = [panel.name for panel in self.session.blank.panels]
        self.panel.addItems(names)
        self.behind.addItem(tr("a part not in this work"), ("", None))
        for name in names:
            self.behind.addItem(tr("this part's {name}").format(name=name), (name, None))
        for number, job in enumerate(self.session.work.parts):
            if number != self.session.at:
                for panel in self.session.parts.blank_of(number).panels:
                    self.behind.addItem(f"{job.name}: {panel.name}", (panel.name, number))

    def _show(self, row: int) -> None:
        """List what there is and open one of it."""
        self.list.blockSignals(True)
        self.list.clear()
        for each in self._all():
            self.list.addItem(self._words(each))
        self.list.setCurrentRow(min(row, self.list.count() - 1))
        self.list.blockSignals(False)
        self._open()

    def _words(self, each: FastenerRow | tuple[int, Joint]) -> str:
        if isinstance(each, FastenerRow):
            along = {
                Joined.RIVET: tr("Rivets along the {edge} edge of {panel}"),
                Joined.SPOT: tr("Spots along the {edge} edge of {panel}"),
                Joined.SCREW: tr("Screws along the {edge} edge of {panel}"),
                Joined.TACK: tr("Tacks along the {edge} edge of {panel}"),
            }[each.by]
            return along.format(edge=edge_words(each.edge), panel=the(each.panel))
        return each[1].says(self.session.work.parts)

    def _open(self) -> None:
        chosen = self._chosen()
        self.places.setVisible(chosen is not None)
        self.take_out.setEnabled(chosen is not None)
        drop(self.form)
        self.form = None
        if chosen is not None:
            model: FastenerRow | Joint = chosen if isinstance(chosen, FastenerRow) else chosen[1]
            skip = ROW_PLACED if isinstance(model, FastenerRow) else JOINT_PLACED
            self.form = ModelForm(model, self._changed, lambda: self.session.job.units, skip)
            self.form.refused.connect(self.complaint.setText)
            self._holder.addWidget(self.form)
            mine, theirs = self._sides(model)
            self.panel.setCurrentText(mine[0])
            self.edge.setCurrentIndex(self.edge.findData(mine[1]))
            self.behind.setCurrentIndex(self._behind_at(theirs[0], theirs[2]))
            self.its_edge.setCurrentIndex(self.its_edge.findData(theirs[1]))
            self.its_edge.setEnabled(isinstance(model, Joint))
        self.steps.setText(
            "\n\n".join(join_steps(self.session.blank, self.session.job.units))
            or tr(
                "Nothing is joined in a row yet: add one, then say along which edge it runs and "
                "what lies behind it."
            )
        )
        self.picture.update()

    def _behind_at(self, panel: str, part: int | None) -> int:
        """Place in the list of what lies behind; tuples are not found by their value there."""
        every = [self.behind.itemData(i) for i in range(self.behind.count())]
        return next(
            (i for i, (name, number) in enumerate(every) if (name, number) == (panel, part)), 0
        )

    def _sides(
        self, model: FastenerRow | Joint
    ) -> tuple[tuple[str, str], tuple[str, str, int | None]]:
        """Panel and edge here, and panel, edge and part behind."""
        if isinstance(model, FastenerRow):
            return (model.panel, model.edge), (model.through, Edge.BACK.value, None)
        mine, theirs = (
            (model.near, model.far)
            if model.near.part == self.session.at
            else (model.far, model.near)
        )
        return (mine.panel, mine.edge), (theirs.panel, theirs.edge, theirs.part)

    # --- changing it -----------------------------------------------------------------------------

    def _add(self) -> None:
        panel = self.session.blank.panels[min(1, len(self.session.blank.panels) - 1)].name
        rows = [row for row in self.session.job.rows if row.joint is None]
        inches = self.session.job.units is not Units.MM
        usual = (
            FastenerRow(panel=panel, size=INCH / 8, pitch=1.5 * INCH)
            if inches
            else FastenerRow(panel=panel)
        )
        self._said(self._set_rows([*rows, usual]), len(rows))

    def _take_out(self) -> None:
        chosen, at = self._chosen(), self.list.currentRow()
        if isinstance(chosen, FastenerRow):
            rows = [row for row in self.session.job.rows if row.joint is None]
            self._said(self._set_rows(rows[:at] + rows[at + 1 :]), at)
        elif chosen is not None:
            joints = self.session.work.joints
            self._said(
                self.session.parts.set_joints(joints[: chosen[0]] + joints[chosen[0] + 1 :]), at
            )

    def _set_rows(self, rows: list[FastenerRow]) -> str | None:
        shared = [row for row in self.session.job.rows if row.joint is not None]
        return self.session.edit("rows", rows=[row.model_dump() for row in (*rows, *shared)])

    def _said(self, text: str | None, row: int) -> None:
        """Show what came of a change. What was refused stays chosen, so that the keys can walk on
        past it."""
        self.complaint.setText(text or "")
        if not text:
            self._show(row)

    def _changed(self, model: BaseModel) -> str | None:
        at = self.list.currentRow()
        text = self._put(model, at)
        if text is None:
            self.complaint.clear()
            self._freshen(at)
        return text

    def _freshen(self, at: int) -> None:
        """What follows from a change in the form, with the form left as it is being typed in."""
        chosen, item = self._chosen(), self.list.item(at)
        if chosen is not None and item is not None and self.form is not None:
            item.setText(self._words(chosen))
            self.form.show_model(chosen if isinstance(chosen, FastenerRow) else chosen[1])
        self.steps.setText("\n\n".join(join_steps(self.session.blank, self.session.job.units)))
        self.picture.update()

    def _put(self, model: BaseModel, at: int) -> str | None:
        if isinstance(model, FastenerRow):
            rows = [row for row in self.session.job.rows if row.joint is None]
            return self._set_rows([*rows[:at], model, *rows[at + 1 :]])
        assert isinstance(model, Joint)
        chosen = self._chosen()
        assert isinstance(chosen, tuple)
        joints = self.session.work.joints
        return self.session.parts.set_joints(
            (*joints[: chosen[0]], model, *joints[chosen[0] + 1 :])
        )

    def _placed(self) -> None:
        """A panel, an edge or what lies behind was chosen."""
        chosen, at = self._chosen(), self.list.currentRow()
        if chosen is None:
            return
        panel, edge = self.panel.currentText(), self.edge.currentData()
        behind, part = self.behind.currentData()
        if part is None:
            row = (
                chosen
                if isinstance(chosen, FastenerRow)
                else FastenerRow.model_validate(
                    {**chosen[1].model_dump(exclude={"near", "far"}), "panel": panel}
                )
            )
            row = row.model_copy(update={"panel": panel, "edge": edge, "through": behind})
            self._replace(chosen, row, at)
            return
        here = JointSide(part=self.session.at, panel=panel, edge=edge)
        there = JointSide(part=part, panel=behind, edge=self.its_edge.currentData())
        if isinstance(chosen, FastenerRow):
            kept = chosen.model_dump(include={"by", "size", "pitch", "length"})
            joint = Joint(near=here, far=there, **kept)
        else:
            near = chosen[1].near.part == self.session.at
            joint = chosen[1].model_copy(
                update={"near": here, "far": there} if near else {"near": there, "far": here}
            )
        self._replace(chosen, joint, at)

    def _replace(
        self, old: FastenerRow | tuple[int, Joint], new: FastenerRow | Joint, at: int
    ) -> None:
        """Put one in the place of another, which may be the other kind of thing."""
        rows = [row for row in self.session.job.rows if row.joint is None]
        joints = list(self.session.work.joints)
        if isinstance(old, FastenerRow) and isinstance(new, FastenerRow):
            rows[at] = new
            self._said(self._set_rows(rows), at)
        elif isinstance(old, FastenerRow):
            assert isinstance(new, Joint)
            refusal = self.session.parts.join(tuple(rows[:at] + rows[at + 1 :]), (*joints, new))
            self._said(refusal, at if refusal else len(self._all()) - 1)
        elif isinstance(new, Joint):
            joints[old[0]] = new
            self._said(self.session.parts.set_joints(tuple(joints)), at)
        else:
            del joints[old[0]]
            refusal = self.session.parts.join((*rows, new), tuple(joints))
            self._said(refusal, at if refusal else len(rows))

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        paint_flat(
            p, rect, self.session.blank, self.session.job.units, self.look, FlatOptions(text=14)
        )
