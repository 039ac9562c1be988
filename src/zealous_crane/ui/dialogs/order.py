"""What a person wants of the order: this bend before that one, what is held, what is to be
avoided."""

from __future__ import annotations

from typing import get_args

from PySide6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...flat.blank import Blank
from ...flat.element import MadeBy
from ...i18n import Message, msg, the, the_first, tr
from ...job.job import Avoided, OrderWishes
from ...planning.order_requests import WishError, Wishes
from ..widgets.widget import Choice, Wrapped, heading

AVOIDED: dict[Avoided, Message] = {
    "hand": msg("Nothing finished by hand"),
    "part-way": msg("No fold left part way or bent over"),
    "angle-off": msg("The leaf's angle stays on"),
    "bed-end": msg("No fold at an end of the bed"),
    "sprung": msg("No thin sheet sprung past the bar"),
}
"""What can be avoided, as the shop says it."""

ANYWHERE: frozenset[Avoided] = frozenset({"hand", "part-way"})
"""What any machine can do without."""


class OrderDialog(QDialog):
    """The wishes for the order, checked as they are made.

    Args:
        wishes: as they stand.
        blank: the part whose folds they name.
        avoidable: what of the brake's set-ups can be done without.
    """

    def __init__(
        self,
        wishes: OrderWishes,
        blank: Blank,
        *,
        avoidable: frozenset[Avoided],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.wishes, self.blank = wishes, blank
        self.setWindowTitle(tr("Order of the bends"))
        self.resize(520, 430)
        # Walls first: hems come before them anyway.
        names = [
            fold.name
            for kind in (MadeBy.BRAKE, MadeBy.HEM)
            for fold in blank.folds
            if fold.made_by is kind
        ]
        self.first, self.then = Choice(), Choice()
        self.first.setAccessibleName(tr("Bend first"))
        self.then.setAccessibleName(tr("Bend later"))
        for box in (self.first, self.then):
            box.addItems(names)
        self.then.setCurrentIndex(min(1, len(names) - 1))
        self.add, self.remove = QPushButton(tr("Ask for it")), QPushButton(tr("Take it back"))
        self.add.clicked.connect(self.ask)
        self.remove.clicked.connect(self.take_back)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("What is asked for"))
        self.list.currentRowChanged.connect(lambda row: self.remove.setEnabled(row >= 0))
        self.avoid = {key: QCheckBox(str(AVOIDED[key])) for key in get_args(Avoided)}
        for key, check in self.avoid.items():
            check.setChecked(key in wishes.avoid)
            if key not in avoidable | ANYWHERE:
                check.hide()
            check.toggled.connect(lambda _: self.refresh())
        self.complaint = Wrapped()
        self.complaint.setObjectName("complaint")
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        row = QHBoxLayout()
        for widget in (QLabel(tr("The")), self.first, QLabel(tr("before the")), self.then):
            row.addWidget(widget)
        row.addStretch(1)
        row.addWidget(self.add)
        below = QHBoxLayout()
        below.addStretch(1)
        below.addWidget(self.remove)
        outer = QVBoxLayout(self)
        outer.setSpacing(8)
        outer.addWidget(heading(tr("One bend before another")))
        outer.addLayout(row)
        outer.addWidget(heading(tr("What is asked for")))
        outer.addWidget(self.list, 1)
        outer.addLayout(below)
        outer.addWidget(heading(tr("Keep to this")))
        for check in self.avoid.values():
            outer.addWidget(check)
        outer.addWidget(self.complaint)
        outer.addWidget(self.buttons)
        self.refresh()

    def refresh(self) -> None:
        """Show what is asked for, and whether it can be kept."""
        self.wishes = self.wishes.model_copy(
            update={"avoid": tuple(k for k, check in self.avoid.items() if check.isChecked())}
        )
        self.list.clear()
        if self.wishes.sequence:
            self.list.addItem(tr("In this order:  ") + ", ".join(self.wishes.sequence))
        for first, then in self.wishes.before:
            self.list.addItem(
                tr("{first} before {then}").format(first=the_first(first), then=the(then))
            )
        for fold, side in self.wishes.clamp.items():
            self.list.addItem(
                tr("{fold} with {which} clamped").format(
                    fold=the_first(fold),
                    which=tr("the side nearer the base") if side == "base" else tr("its far side"),
                )
            )
        self.remove.setEnabled(self.list.currentRow() >= 0)
        try:
            Wishes(self.wishes).read(self.blank)
            text = ""
        except WishError as error:
            text = str(error)
        self.complaint.setText(text)
        self.buttons.button(QDialogButtonBox.StandardButton.Ok).setEnabled(not text)

    def ask(self) -> None:
        """Ask for one bend before the other."""
        pair = self.first.currentText(), self.then.currentText()
        if pair[0] != pair[1] and pair not in self.wishes.before:
            self.wishes = self.wishes.model_copy(update={"before": (*self.wishes.before, pair)})
        self.refresh()

    def take_back(self) -> None:
        """Take the chosen wish back."""
        row = self.list.currentRow() - bool(self.wishes.sequence)
        before, clamp = list(self.wishes.before), dict(self.wishes.clamp)
        if row < 0:
            self.wishes = self.wishes.model_copy(update={"sequence": ()})
        elif row < len(before):
            del before[row]
        else:
            del clamp[list(clamp)[row - len(before)]]
        self.wishes = self.wishes.model_copy(update={"before": tuple(before), "clamp": clamp})
        self.refresh()
