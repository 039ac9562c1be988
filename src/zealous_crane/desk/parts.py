"""The parts of the work, and what follows from what."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from ..measure import show_length
from ..measure.words import tr
from ..work import Fit, FitRule, Pairing
from .commands import keys_of
from .field import LengthField
from .session import Session
from .widget import Choice


class PartsBar(QWidget):
    """Which part of the work lies on the bench; add one, take one out, let one follow another.

    Args:
        session: the state behind it.
        tell: says a sentence aloud.
        add: opens the page where a new part is chosen.
    """

    def __init__(self, session: Session, tell: Callable[[str], None], add: Callable[[], None]) -> None:
        super().__init__()
        self.session, self.tell = session, tell
        self.parts = Choice()
        self.parts.setAccessibleName(tr("Part of the work"))
        self.parts.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.parts.setMinimumContentsLength(10)
        self.parts.activated.connect(lambda _: session.choose_part(self.parts.currentIndex()))
        self.add, self.remove, self.fit = QToolButton(), QToolButton(), QPushButton(tr("Fit …"))
        self.add.setText("+")
        self.add.setAccessibleName(tr("Add a part"))
        self.add.setToolTip(tr("Add a part to this work"))
        self.add.clicked.connect(add)
        self.remove.setText("−")
        self.remove.setAccessibleName(tr("Take this part out"))
        self.remove.setToolTip(tr("Take this part out of the work"))
        self.remove.clicked.connect(self._remove)
        self.fit.setToolTip(tr("Let this part's sizes follow from another part"))
        self.fit.clicked.connect(self._open_fit)
        self.follows = QLabel()
        self.follows.setObjectName("faint")
        self.follows.setWordWrap(True)
        row = QHBoxLayout()
        row.setSpacing(4)
        row.addWidget(self.parts, 1)
        for widget in (self.add, self.remove, self.fit):
            row.addWidget(widget)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addLayout(row)
        box.addWidget(self.follows)
        session.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the work."""
        work, at = self.session.work, self.session.at
        texts = [
            tr("{i} of {parts}:  {name} × {quantity}").format(i=i, parts=len(work.parts), name=p.name, quantity=p.quantity)
            for i, p in enumerate(work.parts, start=1)
        ]
        if [self.parts.itemText(i) for i in range(self.parts.count())] != texts:
            self.parts.clear()
            self.parts.addItems(texts)
        self.parts.setCurrentIndex(at)
        several = len(work.parts) > 1
        self.remove.setEnabled(several)
        self.fit.setEnabled(several)
        said = [_fit_words(self.session, fit) for fit in work.follows(at)]
        led = sorted({work.parts[f.follower].name for f in work.fits if f.master == at})
        if led:
            said.append(
                tr("{led} {which} this part.").format(
                    led=", ".join(led), which=tr("follows") if len(led) == 1 else tr("follow")
                )
            )
        if work.fitting is not None:
            said.append(tr("Piece of a duct fitting; {keys} changes the sizes of all.").format(keys=keys_of("job.fitting")))
        self.follows.setText("\n".join(said))
        self.follows.setVisible(bool(said))

    def _remove(self) -> None:
        said = self.session.remove_part()
        if said:
            self.tell(said)

    def _open_fit(self) -> None:
        FitDialog(self.session, self).open()


def _fit_words(session: Session, fit: Fit) -> str:
    units = session.job.units
    sizes = ", ".join(pair.follower.replace("_", " ") for pair in fit.sizes)
    verb = "follows" if len(fit.sizes) == 1 else "follow"
    master = session.work.parts[fit.master].name
    return tr("{capitalize} {verb} from {master}: {rule}, {clearance} clearance.").format(
        capitalize=sizes.capitalize(),
        verb=verb,
        master=master,
        rule=fit.rule,
        clearance=show_length(fit.clearance, units, pretty=True),
    )


class FitDialog(QDialog):
    """How the part on the bench follows another."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle(tr("Fit"))
        work, at = session.work, session.at
        old = work.follows(at)[0] if work.follows(at) else None
        self.clearance_value = old.clearance if old else 1.0
        self.master = Choice()
        self.master.setAccessibleName(tr("Follows"))
        for i, part in enumerate(work.parts):
            if i != at:
                self.master.addItem(part.name, i)
        self.rule = Choice()
        self.rule.setAccessibleName(tr("How it sits"))
        self.rule.addItem(tr("goes inside it"), FitRule.INSIDE)
        self.rule.addItem(tr("goes over it"), FitRule.OVER)
        self.clearance = LengthField(tr("Clearance"), self._clear, lambda: session.job.units)
        self.clearance.show_value(self.clearance_value)
        self.pairs: dict[str, QComboBox] = {}
        form = QFormLayout()
        form.addRow(tr("Follows"), self.master)
        form.addRow(tr("It"), self.rule)
        form.addRow(tr("Clearance in all"), self.clearance)
        for size in _sizes(session, at):
            choice = Choice()
            choice.setAccessibleName(f"{size} follows")
            self.pairs[size] = choice
            form.addRow(f"{size.replace('_', ' ').capitalize()} follows", choice)
        self.said = QLabel()
        self.said.setObjectName("complaint")
        self.said.setWordWrap(True)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        loose = buttons.addButton(tr("Loosen"), QDialogButtonBox.ButtonRole.DestructiveRole)
        loose.clicked.connect(self.loosen)
        buttons.accepted.connect(self.take)
        buttons.rejected.connect(self.reject)
        box = QVBoxLayout(self)
        box.addLayout(form)
        box.addWidget(self.said)
        box.addWidget(buttons)
        self.master.activated.connect(lambda _: self._fill(None))
        if old is not None:
            self.master.setCurrentIndex(self.master.findData(old.master))
            self.rule.setCurrentIndex(self.rule.findData(old.rule))
        self._fill(old)

    def _fill(self, old: Fit | None) -> None:
        theirs = _sizes(self.session, self.master.currentData() or 0)
        for size, choice in self.pairs.items():
            choice.clear()
            choice.addItem("nothing", None)
            for other in theirs:
                choice.addItem(other.replace("_", " "), other)
            now = next((p.master for p in old.sizes if p.follower == size), None) if old is not None else None
            if old is None and size in ("length", "width") and size in theirs:
                now = size
            choice.setCurrentIndex(max(0, choice.findData(now)))

    def _clear(self, value: float | None) -> str | None:
        if value is not None and value < 0:
            return tr("The clearance must not be negative.")
        self.clearance_value = value or 0.0
        return None

    def take(self) -> None:
        """Tie the sizes."""
        pairs = tuple(Pairing(follower=s, master=c.currentData()) for s, c in self.pairs.items() if c.currentData())
        others = tuple(f for f in self.session.work.fits if f.follower != self.session.at)
        if not pairs:
            self.said.setText(tr("Choose at least one size that follows."))
            return
        fit = Fit(
            follower=self.session.at, master=self.master.currentData(), rule=self.rule.currentData(), sizes=pairs,
            clearance=self.clearance_value,
        )  # fmt: skip
        said = self.session.set_fits((*others, fit))
        if said:
            self.said.setText(said)
        else:
            self.accept()

    def loosen(self) -> None:
        """Let the part's sizes stand for themselves again."""
        self.session.set_fits(tuple(f for f in self.session.work.fits if f.follower != self.session.at))
        self.accept()


def _sizes(session: Session, number: int) -> list[str]:
    """Names of the sizes of a part that can take part in a fit."""
    job = session.work.parts[number]
    found = []
    for name in type(job.part).model_fields:
        try:
            job.part.span(name, job.sheet.thickness)
        except ValueError:
            continue
        found.append(name)
    return found
