"""The shop's machines: begun, copied, renamed, retired, brought in and handed out."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ....bending.machines import machine_of
from ....brake.brake import Brake
from ....errors import INPUT_ERRORS
from ....i18n import counted, tr
from ....paint.brake import paint_machine
from ....paint.theme import Theme
from ....schema.model import is_angle, unwrapped
from ....units.length import Units, show_length
from ....units.quantities import show_force
from ...state.session import Session
from ...state.shop_files import hand_out
from ...widgets.canvas import Canvas
from ...widgets.form import title
from ...widgets.save_as import ask_where
from ...widgets.widget import prose


@dataclass(frozen=True)
class ShopDoors:
    """What the dialog asks of the window.

    Attributes:
        new: begin a brake.
        edit: edit the brake in use.
        bring_in: take a brake file into the shop; True when that went.
    """

    new: Callable[[], None]
    edit: Callable[[], None]
    bring_in: Callable[[Path], bool]


def machine_facts(brake: Brake, first: tuple[str, ...], units: Units) -> list[str]:
    """What a machine is, in lines: its sizes that matter most, its pieces, its punches and dies.

    Args:
        brake: the machine.
        first: names of those sizes, in order.
        units: of the reader.
    """
    sizes = []
    for name in first:
        info, value = type(brake).model_fields[name], getattr(brake, name)
        if name == "force":
            sizes.append(f"{title(name, info)} {show_force(value, units)}")
        elif isinstance(value, float):
            angle = is_angle(unwrapped(info.annotation, list(info.metadata))[1])
            shown = f"{value:g}°" if angle else show_length(value, units, pretty=True)
            sizes.append(f"{title(name, info)} {shown}")
    lines = [" · ".join(sizes)]
    for name, words in {**brake.pieces, **brake.tools}.items():
        owned = getattr(brake, name)
        if name in brake.tools:
            named = [tool.name for tool in owned]
        else:
            named = [
                f"{s.count} × {show_length(s.width, brake.marked_in, pretty=True)}" for s in owned
            ]
        lines.append(f"{words}: {', '.join(named) or tr('none')}")
    return lines


class MachinesPage(QWidget):
    """The machines of the shop.

    Args:
        session: whose shop it is.
        look: colours.
        doors: what the window does.
    """

    def __init__(self, session: Session, look: Theme, doors: ShopDoors) -> None:
        super().__init__()
        self.session, self.look, self.doors = session, look, doors
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Machines of the shop"))
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(lambda _: self._chosen())
        self.name = QLineEdit()
        self.name.setAccessibleName(tr("Name of the machine"))
        self.name.editingFinished.connect(self._rename)
        self.facts = prose()
        self.picture = Canvas(tr("The machine in section"), self._paint, QSize(380, 300))
        self.use = QPushButton(tr("&Use for this job"))
        self.new, self.edit = QPushButton(tr("&New …")), QPushButton(tr("&Edit …"))
        self.copy, self.retire = QPushButton(tr("Co&py")), QPushButton(tr("&Retire"))
        self.bring, self.hand = QPushButton(tr("&Bring in …")), QPushButton(tr("&Hand out …"))
        self.complaint = prose("complaint")
        grid = QGridLayout()
        for i, (button, run) in enumerate(
            (
                (self.use, self._use),
                (self.new, self._new),
                (self.edit, self._edit),
                (self.copy, self._copy),
                (self.retire, self._retire),
                (self.bring, self._bring),
                (self.hand, self._hand),
            )
        ):
            button.clicked.connect(run)
            button.setAutoDefault(False)
            grid.addWidget(button, i // 2, i % 2)
        left = QVBoxLayout()
        left.addWidget(self.list, 1)
        left.addLayout(grid)
        left.addWidget(self.complaint)
        holder = QWidget()
        holder.setFixedWidth(380)
        holder.setLayout(left)
        right = QVBoxLayout()
        right.addWidget(QLabel(tr("Name")))
        right.addWidget(self.name)
        right.addWidget(self.picture, 1)
        right.addWidget(self.facts)
        row = QHBoxLayout(self)
        row.addWidget(holder)
        row.addLayout(right, 1)
        session.changed.connect(self.refresh)
        self.refresh()

    @property
    def brake(self) -> Brake | None:
        """The machine chosen in the list."""
        at, brakes = self.list.currentRow(), self.session.rack.brakes
        return brakes[at] if 0 <= at < len(brakes) else None

    def refresh(self) -> None:
        """Show the shop as it is."""
        rack, chosen = self.session.rack, self.brake
        key = self.session.job.brake if chosen is None else chosen.key
        self.list.blockSignals(True)
        self.list.clear()
        for brake in rack.brakes:
            notes = [tr("your own") if brake.key in rack.own else tr("an example")]
            notes += [tr("in use for this job")] if brake.key == self.session.job.brake else []
            notes += [tr("retired")] if brake.key in rack.retired else []
            self.list.addItem(f"{brake.name}  ({', '.join(notes)})")
        keys = [brake.key for brake in rack.brakes]
        self.list.setCurrentRow(keys.index(key) if key in keys else 0)
        self.list.blockSignals(False)
        self._chosen()

    def _chosen(self) -> None:
        brake, rack = self.brake, self.session.rack
        if brake is None:
            return
        self.name.setText(brake.name)
        self.retire.setText(tr("Take &back") if brake.key in rack.retired else tr("&Retire"))
        jobs = sum(job.brake == brake.key for job in self.session.work.parts)
        self.facts.setText(
            "\n".join(
                (
                    *machine_facts(
                        brake, machine_of(brake).drawn(brake).first, self.session.job.units
                    ),
                    counted(
                        "{count} part of this work is planned on it.",
                        "{count} parts of this work are planned on it.",
                        jobs,
                    ),
                )
            )
        )
        self.picture.update()

    def _said(self, said: str | None) -> None:
        self.complaint.setText(said or "")

    def _use(self) -> None:
        if self.brake is not None:
            self._said(self.session.edit("", brake=self.brake.key))

    def _new(self) -> None:
        self.doors.new()
        self.refresh()

    def _edit(self) -> None:
        """Edit the machine chosen: it is that of the job from then on, so that what a change does
        is seen at once."""
        if self.brake is not None:
            said = self.session.edit("", brake=self.brake.key)
            self._said(said)
            if not said:
                self.doors.edit()

    def _copy(self) -> None:
        brake = self.brake
        if brake is None:
            return
        known = {b.key for b in self.session.rack.brakes}
        number = next(n for n in range(2, 1000) if f"{brake.key}-{n}" not in known)
        made = brake.model_copy(
            update={
                "key": f"{brake.key}-{number}",
                "name": tr("{name}, copy {n}").format(name=brake.name, n=number - 1),
            }
        )
        self._said(self.session.shop_edits.keep_brake(made))
        self._choose(made.key)

    def _choose(self, key: str) -> None:
        keys = [brake.key for brake in self.session.rack.brakes]
        if key in keys:
            self.list.setCurrentRow(keys.index(key))

    def _rename(self) -> None:
        brake, name = self.brake, self.name.text().strip()
        if brake is None or name == brake.name:
            return
        if not name:
            self._said(tr("A machine needs a name."))
            self.name.setText(brake.name)
            return
        try:
            made = type(brake).model_validate({**brake.model_dump(), "name": name})
        except INPUT_ERRORS:
            self._said(tr("A name is one line of letters, figures and signs."))
            return
        self._said(self.session.shop_edits.keep_brake(made))
        self._choose(made.key)

    def _retire(self) -> None:
        brake = self.brake
        if brake is not None:
            retired = brake.key not in self.session.rack.retired
            if retired and len(self.session.rack.in_use) == 1:
                self._said(tr("This is the last machine in use; a shop keeps one."))
                return
            self._said(self.session.shop_edits.retire(brake.key, retired=retired))

    def _bring(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self, tr("Bring in a machine"), "", tr("Brake files (*.json)")
        )
        if path and self.doors.bring_in(Path(path)):
            self.refresh()

    def _hand(self) -> None:
        if self.brake is None:
            return
        path = ask_where(
            self,
            tr("Hand out a machine"),
            f"{self.brake.key}.json",
            tr("Brake files (*.json)"),
            "json",
        )
        if path:
            self.hand_out(path)

    def hand_out(self, path: Path) -> None:
        """Write the machine chosen as a file for another shop."""
        if self.brake is not None:
            self._said(hand_out(path, self.brake))

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        if self.brake is not None:
            paint_machine(
                p,
                rect,
                machine_of(self.brake).drawn(self.brake),
                None,
                self.session.job.units,
                self.look,
            )
