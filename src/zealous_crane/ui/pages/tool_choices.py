"""Which fingers and pieces of tools are there today."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ...bending.machine import Least
from ...bending.machines import toolings
from ...brake.brake import Brake
from ...brake.tools import Segment
from ...flat.element import MadeBy
from ...i18n import Message, msg, tr
from ...job.tools import ToolChoice, ToolWishes
from ...planning.remedies.sizes import least_sizes
from ...units.length import Units, show_length
from ..state.background_call import Beside
from ..state.session import Session
from ..widgets.widget import (
    Choice,
    Count,
    FormDialog,
    LazyView,
    Table,
    as_text,
    emptied,
    heading,
    prose,
    run_dialog,
    worded,
)


def racks(brake: Brake) -> list[tuple[str, str, tuple[Segment, ...]]]:
    """Everything that stands in racks: key, what it is called, and its pieces."""
    result = [(field, str(name), getattr(brake, field)) for field, name in brake.pieces.items()]
    for field in brake.tools:
        result += [(tool.name, tool.name, tool.pieces) for tool in getattr(brake, field)]
    return [(key, name, pieces) for key, name, pieces in result if pieces]


class PiecesDialog(FormDialog):
    """How many of each width are there today.

    Args:
        brake: the machine with all its pieces.
        wishes: what is asked for as it stands.
        parent: the window.
    """

    def __init__(self, brake: Brake, wishes: ToolWishes, parent: QWidget) -> None:
        super().__init__(parent)
        self.brake, self.wishes = brake, wishes
        self.setWindowTitle(tr("Pieces available today"))
        self.resize(420, 460)
        self.counts: dict[tuple[str, float], Count] = {}
        grid = QGridLayout()
        grid.setColumnStretch(0, 1)
        today = {(t.rack, t.width): t.there for t in wishes.of(brake.key).today}
        line = 0
        for key, name, pieces in racks(brake):
            grid.addWidget(heading(name), line, 0, 1, 3)
            line += 1
            for piece in pieces:
                says = show_length(piece.width, brake.marked_in)
                count = Count()
                count.setRange(0, piece.count)
                count.setValue(min(piece.count, today.get((key, piece.width), piece.count)))
                count.setAccessibleName(f"{name} {says}")
                self.counts[key, piece.width] = count
                grid.addWidget(QLabel(says), line, 0)
                grid.addWidget(count, line, 1)
                grid.addWidget(QLabel(tr("of {count}").format(count=piece.count)), line, 2)
                line += 1
        inner = QWidget()
        inner.setLayout(grid)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inner)
        note = worded(
            tr("This part is planned with what is there; the brake itself stays as it is.")
        )
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        everything = buttons.addButton(tr("All of them"), QDialogButtonBox.ButtonRole.ResetRole)
        everything.clicked.connect(self._all)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        outer = QVBoxLayout(self)
        outer.addWidget(note)
        outer.addWidget(scroll, 1)
        outer.addWidget(buttons)

    def _all(self) -> None:
        for count in self.counts.values():
            count.setValue(count.maximum())

    def accept(self) -> None:
        """Take over what is there."""
        for (rack, width), count in self.counts.items():
            there = None if count.value() == count.maximum() else count.value()
            self.wishes = self.wishes.there(self.brake.key, rack, width, there)
        super().accept()


WIDE = 720
"""Painter units of the table."""


def ask_least(beside: Beside, session: Session, then: Callable[[tuple[Least, ...]], None]) -> None:
    """Have the least sizes on the brake of the bench in its sheet worked out, and told.

    Args:
        beside: computes in a process of its own.
        session: the state behind the window.
        then: given the answer.
    """

    def told(answer: object) -> None:
        then(answer if isinstance(answer, tuple) else ())

    beside.ask(told, (least_sizes, (session.brake, session.job.sheet)))


def least_line(leasts: tuple[Least, ...], units: Units) -> str:
    """All of them in a line."""
    sizes = "; ".join(
        f"{one.what} {show_length(one.size, units.fine, pretty=True)}" for one in leasts
    )
    return tr("Least here, outside: {least}.").format(least=sizes) if sizes else ""


class LeastDialog(QDialog):
    """The least sizes in a table, each with its reason.

    Args:
        session: the brake and the sheet.
        parent: the window.
    """

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Least sizes on this brake"))
        self._units = session.job.units
        self.says = prose()
        self.says.setText(
            tr("{brake}, {sheet}: outside, at 90°. Trying …").format(
                brake=session.brake.name, sheet=session.job.sheet.name
            )
        )
        self._of = tr("{brake}, {sheet}: outside, at 90°.").format(
            brake=session.brake.name, sheet=session.job.sheet.name
        )
        self.table = Table(3, tr("Least sizes"))
        self.table.setHorizontalHeaderLabels([tr("What"), tr("Least"), tr("Why")])
        modes = QHeaderView.ResizeMode
        for column, mode in enumerate(
            (modes.ResizeToContents, modes.ResizeToContents, modes.Stretch)
        ):
            self.table.horizontalHeader().setSectionResizeMode(column, mode)
        self.table.setMinimumWidth(WIDE)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        box = QVBoxLayout(self)
        box.addWidget(self.says)
        box.addWidget(self.table, 1)
        box.addWidget(buttons)
        self._beside = Beside(self, session.crew)
        ask_least(self._beside, session, self._show)

    def _show(self, leasts: tuple[Least, ...]) -> None:
        none = tr("No least sizes are known for this machine and sheet.")
        self.says.setText(self._of if leasts else none)
        rows = [
            (str(one.what), show_length(one.size, self._units.fine, pretty=True), str(one.why))
            for one in leasts
        ]
        self.table.show_rows(rows)


NAMED: dict[ToolChoice, Message] = {
    "punch": msg("Punch"),
    "hung": msg("Punch"),
    "die": msg("Die"),
    "angle": msg("Leaf's angle"),
    "place": msg("Fold"),
}
"""What is chosen, as the shop says it."""

IDS: dict[str, Message] = {
    "as it is": msg("normal"),
    "turned": msg("reversed"),
    "on": msg("on"),
    "off": msg("off"),
    "on the bed": msg("anywhere on the bed"),
    "left end": msg("at the bed's left end"),
    "right end": msg("at the bed's right end"),
}
"""What is chosen that is no name of a tool."""

SIDES = {"base": msg("the side nearer the base"), "far": msg("its far side")}


class ToolChoices(LazyView):
    """A row of choices: for which bend, then one for each thing there is to choose on this brake.
    Every choice is a step of the work, judged at once and undone like any other.

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
        self.pieces.setToolTip(tr("Untick a finger or a piece that is not available today."))
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
        result: str | None = self.scope.currentData()
        return result

    def refresh(self) -> None:
        """Show the job on the bench."""
        session = self.session
        if self.waits():
            return
        kept, plan = self.fold, session.plan
        bent = (
            [stroke.verdict.stroke.setting.line.name for stroke in plan.strokes]
            if plan is not None
            else []
        )
        # While it is planned anew, and where it cannot be made, the bend that was chosen stays
        # chosen.
        names = [
            *bent,
            *(f.name for f in session.blank.folds if f.made_by in (MadeBy.BRAKE, MadeBy.HEM)),
        ]
        self.scope.clear()
        self.scope.addItem(tr("every bend"), None)
        for name in dict.fromkeys(names):
            self.scope.addItem(name, name)
        self.scope.setCurrentIndex(max(0, self.scope.findData(kept)))
        self._offered = self._all_values()
        self._lay_out()
        self._fill()

    def _all_values(self) -> dict[ToolChoice, list[str]]:
        """What there is to choose from on this brake, for this sheet; what leaves no choice is left
        out."""
        session = self.session
        result: dict[ToolChoice, list[str]] = {}
        for tooling in toolings(session.brake, session.blank, session.job.bottomed, every=True):
            for choice, value in tooling.chosen.items():
                values = result.setdefault(choice, [])
                if value not in values:
                    values.append(value)
        return {choice: values for choice, values in result.items() if len(values) > 1}

    def _lay_out(self) -> None:
        """A choice for everything there is to choose."""
        wanted = list(self._offered)
        if self._laid != wanted:
            self._laid = wanted
            emptied(self._grid)
            self.choices = {}
            for choice in wanted:
                box = Choice()
                box.setAccessibleName(str(NAMED[choice]))
                box.activated.connect(lambda _, choice=choice: self._choose(choice))
                self.choices[choice] = box
            self.held = Choice()
            self.held.setAccessibleName(tr("Held at"))
            self.held.activated.connect(lambda _: self._hold())
            labels = [QLabel(str(NAMED[choice])) for choice in wanted] + [QLabel(tr("Held at"))]
            for k, (label, box) in enumerate(
                zip(labels, (*self.choices.values(), self.held), strict=True)
            ):
                box.setMinimumContentsLength(8)
                box.setSizeAdjustPolicy(
                    Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
                )
                box.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
                self._grid.addWidget(label, 0, 2 * k)
                self._grid.addWidget(box, 0, 2 * k + 1)
                self._grid.setColumnStretch(2 * k + 1, 3 if k == 0 else 2)
            self._held_label = labels[-1]

    def _fill(self) -> None:
        mine, plan, fold = self.wishes, self.session.plan, self.fold
        own = mine.every if fold is None else mine.at.get(fold, {})
        strokes = (
            []
            if plan is None
            else [s for s in plan.strokes if fold in (None, s.verdict.stroke.setting.line.name)]
        )
        for choice, box in self.choices.items():
            box.clear()
            taken = dict.fromkeys(s.verdict.tooling.chosen.get(choice, "") for s in strokes)
            text = ", ".join(str(IDS.get(value, value)) for value in taken if value)
            # What every bend was asked for is no choice of the program's.
            usual = (
                tr("{said} (every bend)")
                if fold is not None and choice in mine.every
                else tr("{said} (program)")
            )
            box.addItem(
                usual.format(said=text or "–")
                if choice not in own
                else tr("leave it to the program"),
                None,
            )
            for value in dict.fromkeys(
                (*self._offered[choice], *([own[choice]] if choice in own else []))
            ):
                box.addItem(str(IDS.get(value, value)), value)
            box.setCurrentIndex(max(0, box.findData(own.get(choice))))
            box.setToolTip(as_text(box.currentText()))
        for widget in (self.held, self._held_label):
            widget.setVisible(fold is not None)
        self.held.clear()
        self.held.addItem(tr("either (program)"), None)
        for side, says in SIDES.items():
            self.held.addItem(str(says), side)
        self.held.setCurrentIndex(
            max(0, self.held.findData(self.session.job.order.clamp.get(fold or "")))
        )
        out = len(mine.today)
        self.pieces.setText(
            tr("Pieces …") if not out else tr("Pieces: {out} short …").format(out=out)
        )

    def _choose(self, choice: ToolChoice) -> None:
        self._edit(
            self.wishes.choosing(
                self.session.brake.key, choice, self.choices[choice].currentData(), self.fold
            )
        )

    def _edit(self, wishes: ToolWishes) -> None:
        refusal = self.session.edit("", tools=wishes)
        if refusal:
            self.session.complained.emit(refusal)

    def _hold(self) -> None:
        """Which side of the bend is held under the tools."""
        order, fold, side = self.session.job.order, self.fold, self.held.currentData()
        if fold is None:
            return
        clamp = {name: kept for name, kept in order.clamp.items() if name != fold} | (
            {} if side is None else {fold: side}
        )
        refusal = self.session.edit("", order=order.model_copy(update={"clamp": clamp}))
        if refusal:
            self.session.complained.emit(refusal)

    def _pieces(self) -> None:
        dialog = PiecesDialog(self.session.brake, self.wishes, self)
        if run_dialog(dialog):
            self._edit(dialog.wishes)
