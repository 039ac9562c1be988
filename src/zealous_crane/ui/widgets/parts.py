"""The parts of the work, and what follows from what."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QToolButton, QVBoxLayout, QWidget

from ...i18n import tr
from ...paint.theme import Theme
from ...part.size import size_title
from ...units.length import show_length
from ...work.fit import Fit
from ..state.session import Session
from ..window.commands import keys_of
from .widget import Choice, Wrapped


class PartsBar(QWidget):
    """Which part of the work lies on the bench; add one, take one out, let one follow another.

    Args:
        session: the state behind it.
        look: its colours.
        tell: says a sentence aloud.
        add: opens the page where a new part is chosen.
    """

    def __init__(
        self, session: Session, look: Theme, tell: Callable[[str], None], add: Callable[[], None]
    ) -> None:
        super().__init__()
        self.session, self.look, self.tell = session, look, tell
        self.parts = Choice()
        self.parts.setAccessibleName(tr("Part of the work"))
        self.parts.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.parts.setMinimumContentsLength(10)
        self.parts.activated.connect(lambda _: self._choose())
        self.add, self.remove, self.fit = QToolButton(), QToolButton(), QPushButton(tr("Fit …"))
        self.add.setText("+")
        self.add.setAccessibleName(tr("Add a part"))
        self.add.setToolTip(tr("Add a part to this work"))
        self.add.clicked.connect(add)
        self.remove.setText("−")
        self.remove.setAccessibleName(tr("Remove this part"))
        self.remove.setToolTip(tr("Remove this part from the work"))
        self.remove.clicked.connect(self._remove)
        self.fit.setToolTip(tr("Let this part's sizes follow from another part"))
        self.fit.clicked.connect(self._open_fit)
        self.together = QPushButton(tr("Together …"))
        self.together.setToolTip(
            tr(
                "This part and the one it follows in one picture: what meets, what room is left, "
                "how it tips out"
            )
        )
        self.together.clicked.connect(self.open_together)
        self.follows = Wrapped()
        self.follows.setObjectName("faint")
        row = QHBoxLayout()
        row.setSpacing(4)
        row.addWidget(self.parts, 1)
        for widget in (self.add, self.remove, self.fit, self.together):
            row.addWidget(widget)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addLayout(row)
        box.addWidget(self.follows)
        session.changed.connect(self.refresh)
        self.refresh()

    def _choose(self) -> None:
        refused = self.session.parts.choose(self.parts.currentIndex())
        if refused:
            self.tell(refused)
            self.refresh()

    def refresh(self) -> None:
        """Show the work."""
        work, at = self.session.work, self.session.at
        texts = [
            tr("{i} of {parts}:  {name} × {quantity}").format(
                i=i, parts=len(work.parts), name=p.name, quantity=p.quantity
            )
            for i, p in enumerate(work.parts, start=1)
        ]
        if [self.parts.itemText(i) for i in range(self.parts.count())] != texts:
            self.parts.clear()
            self.parts.addItems(texts)
        self.parts.setCurrentIndex(at)
        several = len(work.parts) > 1
        self.remove.setEnabled(several)
        self.fit.setEnabled(several)
        self.together.setVisible(bool(work.follows(at)))
        lines = [_fit_words(self.session, fit) for fit in work.follows(at)]
        led = sorted({work.parts[f.follower].name for f in work.fits if f.master == at})
        if led:
            lines.append(
                tr("{led} {which} this part.").format(
                    led=", ".join(led), which=tr("follows") if len(led) == 1 else tr("follow")
                )
            )
        if work.fitting is not None:
            lines.append(
                tr("Piece of a duct fitting; {keys} changes the sizes of all.").format(
                    keys=keys_of("job.fitting")
                )
            )
        self.follows.setText("\n".join(lines))
        self.follows.setVisible(bool(lines))

    def _remove(self) -> None:
        text = self.session.parts.remove()
        if text:
            self.tell(text)

    def _open_fit(self) -> None:
        from ..dialogs.fit import FitDialog

        FitDialog(self.session, self).open()

    def open_together(self) -> None:
        """Both parts in one picture."""
        from ..dialogs.fit import FitView

        FitView(self.session, self.session.work.follows(self.session.at)[0], self.look, self).open()


def _fit_words(session: Session, fit: Fit) -> str:
    units = session.job.units
    sizes = ", ".join(
        size_title(session.work.parts[fit.follower].part, pair.follower).lower()
        for pair in fit.sizes
    )
    text = (
        tr("{sizes} follows from {master}: {rule}, {clearance} clearance.")
        if len(fit.sizes) == 1
        else tr("{sizes} follow from {master}: {rule}, {clearance} clearance.")
    )
    master = session.work.parts[fit.master].name
    return text.format(
        sizes=sizes.capitalize(),
        master=master,
        rule=fit.rule.words,
        clearance=show_length(fit.clearance, units, pretty=True),
    )
