"""Which tools the bends are set up with: the program's choice, or what a person asks for, of every bend or of one."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QSizePolicy, QWidget

from ..blank import MadeBy
from ..measure.words import tr
from ..plan.stroke.machines import toolings
from ..tool_wishes import ToolChoice, ToolWishes
from .pieces_dialog import PiecesDialog
from .session import Session
from .widget import Choice, LookedAt, as_text, asked, emptied

NAMED: dict[ToolChoice, str] = {
    "punch": tr("Punch"),
    "hung": tr("Hung"),
    "die": tr("Die"),
    "angle": tr("Leaf's angle"),
    "place": tr("Fold"),
}
"""What is chosen, as the shop says it."""

IDS: dict[str, str] = {
    "as it is": tr("as it is"),
    "turned": tr("turned round"),
    "on": tr("on"),
    "off": tr("off"),
    "on the bed": tr("anywhere on the bed"),
    "left end": tr("at the bed's left end"),
    "right end": tr("at the bed's right end"),
}
"""What is chosen that is no name of a tool."""

SIDES = {"base": tr("the side nearer the base"), "far": tr("its far side")}


class ToolChoices(LookedAt):
    """A row of choices: for which bend, then one for each thing there is to choose on this brake. Every choice is a step of the work,
    judged at once and undone like any other.

    Args:
        session: the work.
        beside: what else is chosen for every bend; it stands in the same row.
    """

    def __init__(self, session: Session, beside: QWidget) -> None:
        super().__init__()
        self.session = session
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.scope = Choice()
        self.scope.setAccessibleName(tr("Tools for"))
        self.scope.activated.connect(lambda _: self.refresh())
        self.pieces = QPushButton()
        self.pieces.setToolTip(tr("Leave a finger or a piece out that is not there today."))
        self.pieces.clicked.connect(self._pieces)
        self.choices: dict[ToolChoice, Choice] = {}
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(8)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        row.addWidget(QLabel(tr("Tools for")))
        row.addWidget(self.scope)
        row.addLayout(self._grid, 1)
        beside.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        row.addWidget(beside)
        row.addWidget(self.pieces)
        self._offered: dict[ToolChoice, list[str]] = {}
        self._laid: list[ToolChoice] | None = None

    @property
    def wishes(self) -> ToolWishes:
        """What is asked for on the brake of the job."""
        return self.session.job.tools.of(self.session.brake.key)

    @property
    def fold(self) -> str | None:
        """The bend that is chosen for; None for every bend."""
        found: str | None = self.scope.currentData()
        return found

    def refresh(self) -> None:
        """Show the job on the bench."""
        session = self.session
        if self.waits():
            return
        kept, plan = self.fold, session.plan
        bent = [stroke.verdict.stroke.setting.line.name for stroke in plan.strokes] if plan is not None else []
        # While it is planned anew, and where it cannot be made, the bend that was chosen stays chosen.
        names = [*bent, *(f.name for f in session.blank.folds if f.made_by in (MadeBy.BRAKE, MadeBy.HEM))]
        self.scope.clear()
        self.scope.addItem(tr("every bend"), None)
        for name in dict.fromkeys(names):
            self.scope.addItem(name, name)
        self.scope.setCurrentIndex(max(0, self.scope.findData(kept)))
        self._offered = self._all_values()
        self._lay_out()
        self._fill()

    def _all_values(self) -> dict[ToolChoice, list[str]]:
        """What there is to choose from on this brake, for this sheet; what leaves no choice is left out."""
        session = self.session
        found: dict[ToolChoice, list[str]] = {}
        for tooling in toolings(session.brake, session.blank, session.job.bottomed, every=True):
            for choice, value in tooling.chosen.items():
                values = found.setdefault(choice, [])
                if value not in values:
                    values.append(value)
        return {choice: values for choice, values in found.items() if len(values) > 1}

    def _lay_out(self) -> None:
        """A choice for everything there is to choose."""
        wanted = list(self._offered)
        if self._laid != wanted:
            self._laid = wanted
            emptied(self._grid)
            self.choices = {}
            for choice in wanted:
                box = Choice()
                box.setAccessibleName(NAMED[choice])
                box.activated.connect(lambda _, choice=choice: self._choose(choice))
                self.choices[choice] = box
            self.held = Choice()
            self.held.setAccessibleName(tr("Held at"))
            self.held.activated.connect(lambda _: self._hold())
            labels = [QLabel(NAMED[choice]) for choice in wanted] + [QLabel(tr("Held at"))]
            for k, (label, box) in enumerate(zip(labels, (*self.choices.values(), self.held), strict=True)):
                box.setMinimumContentsLength(8)
                box.setSizeAdjustPolicy(Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
                box.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
                self._grid.addWidget(label, 0, 2 * k)
                self._grid.addWidget(box, 0, 2 * k + 1)
                self._grid.setColumnStretch(2 * k + 1, 3 if k == 0 else 2)
            self._held_label = labels[-1]

    def _fill(self) -> None:
        mine, plan, fold = self.wishes, self.session.plan, self.fold
        own = mine.every if fold is None else mine.at.get(fold, {})
        strokes = [] if plan is None else [s for s in plan.strokes if fold in (None, s.verdict.stroke.setting.line.name)]
        for choice, box in self.choices.items():
            box.clear()
            taken = dict.fromkeys(s.verdict.tooling.chosen.get(choice, "") for s in strokes)
            said = ", ".join(IDS.get(value, value) for value in taken if value)
            # What every bend was asked for is no choice of the program's.
            usual = tr("{said} (every bend)") if fold is not None and choice in mine.every else tr("{said} (program)")
            box.addItem(usual.format(said=said or "–") if choice not in own else tr("leave it to the program"), None)
            for value in dict.fromkeys((*self._offered[choice], *([own[choice]] if choice in own else []))):
                box.addItem(IDS.get(value, value), value)
            box.setCurrentIndex(max(0, box.findData(own.get(choice))))
            box.setToolTip(as_text(box.currentText()))
        for widget in (self.held, self._held_label):
            widget.setVisible(fold is not None)
        self.held.clear()
        self.held.addItem(tr("either (program)"), None)
        for side, says in SIDES.items():
            self.held.addItem(says, side)
        self.held.setCurrentIndex(max(0, self.held.findData(self.session.job.order.clamp.get(fold or ""))))
        out = len(mine.today)
        self.pieces.setText(tr("Pieces …") if not out else tr("Pieces: {out} short …").format(out=out))

    def _choose(self, choice: ToolChoice) -> None:
        self._edit(self.wishes.choosing(self.session.brake.key, choice, self.choices[choice].currentData(), self.fold))

    def _edit(self, wishes: ToolWishes) -> None:
        said = self.session.edit("", tools=wishes)
        if said:
            self.session.complained.emit(said)

    def _hold(self) -> None:
        """Which side of the bend is held under the tools."""
        order, fold, side = self.session.job.order, self.fold, self.held.currentData()
        if fold is None:
            return
        clamp = {name: kept for name, kept in order.clamp.items() if name != fold} | ({} if side is None else {fold: side})
        said = self.session.edit("", order=order.model_copy(update={"clamp": clamp}))
        if said:
            self.session.complained.emit(said)

    def _pieces(self) -> None:
        dialog = PiecesDialog(self.session.brake, self.wishes, self)
        if asked(dialog):
            self._edit(dialog.wishes)
