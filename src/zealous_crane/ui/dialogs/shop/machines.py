"""The shop's machines: begun, copied, renamed, retired, brought in and handed out."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QFileDialog,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
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
from .library_page import LibraryPage


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


class MachinesPage(LibraryPage):
    """The machines of the shop.

    Args:
        session: whose shop it is.
        look: colours.
        doors: what the window does.
    """

    def __init__(self, session: Session, look: Theme, doors: ShopDoors) -> None:
        super().__init__(session, tr("Machines of the shop"))
        self.look, self.doors = look, doors
        self.name = QLineEdit()
        self.name.setAccessibleName(tr("Name of the machine"))
        self.name.editingFinished.connect(self._rename)
        self.facts = prose()
        self.picture = Canvas(tr("The machine in section"), self._paint, QSize(380, 300))
        self.use = QPushButton(tr("&Use for this job"))
        self.new, self.edit = QPushButton(tr("&New …")), QPushButton(tr("&Edit …"))
        self.copy, self.retire = QPushButton(tr("Co&py")), QPushButton(tr("&Retire"))
        self.bring, self.hand = QPushButton(tr("&Import …")), QPushButton(tr("E&xport …"))
        row = self.row_with(
            (
                (self.use, self._use),
                (self.new, self._new),
                (self.edit, self._edit),
                (self.copy, self._copy),
                (self.retire, self._retire),
                (self.bring, self._bring),
                (self.hand, self._hand),
            )
        )
        right = QVBoxLayout()
        right.addWidget(QLabel(tr("Name")))
        right.addWidget(self.name)
        right.addWidget(self.picture, 1)
        right.addWidget(self.facts)
        row.addLayout(right, 1)
        session.changed.connect(self.refresh)
        self.refresh()

    @property
    def brake(self) -> Brake | None:
        """The machine chosen in the list."""
        return self.session.rack.find(self.chosen_key or "")

    def refresh(self) -> None:
        """Show the shop as it is."""
        rack, job = self.session.rack, self.session.job
        entries = []
        for brake in rack.brakes:
            notes = [tr("your own") if brake.key in rack.own else tr("an example")]
            notes += [tr("in use for this job")] if brake.key == job.brake else []
            notes += [tr("retired")] if brake.key in rack.retired else []
            entries.append((brake.key, brake.name, notes))
        self.fill(entries, self.chosen_key or job.brake)

    def show_chosen(self) -> None:
        """See :meth:`LibraryPage.show_chosen`."""
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

    def _use(self) -> None:
        if self.brake is not None:
            self.complain(self.session.edit("", brake=self.brake.key))

    def _new(self) -> None:
        self.doors.new()
        self.refresh()

    def _edit(self) -> None:
        """Edit the machine chosen: it is that of the job from then on, so that what a change does
        is seen at once."""
        if self.brake is not None:
            refusal = self.session.edit("", brake=self.brake.key)
            self.complain(refusal)
            if not refusal:
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
        self.complain(self.session.shop_edits.keep_brake(made))
        self.choose(made.key)

    def _rename(self) -> None:
        brake, name = self.brake, self.name.text().strip()
        if brake is None or name == brake.name:
            return
        if not name:
            self.complain(tr("A machine needs a name."))
            self.name.setText(brake.name)
            return
        try:
            made = type(brake).model_validate({**brake.model_dump(), "name": name})
        except INPUT_ERRORS:
            self.complain(tr("A name is one line of letters, figures and signs."))
            return
        self.complain(self.session.shop_edits.keep_brake(made))
        self.choose(made.key)

    def _retire(self) -> None:
        brake = self.brake
        if brake is not None:
            retired = brake.key not in self.session.rack.retired
            if retired and len(self.session.rack.in_use) == 1:
                self.complain(tr("This is the last machine in use; a shop keeps one."))
                return
            self.complain(self.session.shop_edits.retire(brake.key, retired=retired))

    def _bring(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self, tr("Import a machine"), "", tr("Brake files (*.json)")
        )
        if path and self.doors.bring_in(Path(path)):
            self.refresh()

    def _hand(self) -> None:
        if self.brake is None:
            return
        path = ask_where(
            self,
            tr("Export a machine"),
            f"{self.brake.key}.json",
            tr("Brake files (*.json)"),
            "json",
        )
        if path:
            self.hand_out(path)

    def hand_out(self, path: Path) -> None:
        """Write the machine chosen as a file for another shop."""
        if self.brake is not None:
            self.complain(hand_out(path, self.brake))

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
