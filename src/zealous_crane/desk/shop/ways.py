"""Pages of forms: how the shop measures and marks, and what it has besides brakes."""

from __future__ import annotations

from functools import partial

from pydantic import BaseModel
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from ...measure.words import tr
from ..form import ModelForm
from ..session import Session
from ..widget import heading, prose


class FormsPage(QWidget):
    """Forms of some fields of the shop's settings, side by side; what is typed is kept at once, as a step of undo.

    Args:
        session: whose shop it is.
        parts: field of the settings, its heading, and fields that are not shown.
        about: a sentence above them.
    """

    def __init__(self, session: Session, parts: tuple[tuple[str, str, frozenset[str]], ...], about: str) -> None:
        super().__init__()
        self.session = session
        self.forms: dict[str, ModelForm] = {}
        self.complaint = prose("complaint")
        row = QHBoxLayout()
        row.setSpacing(24)
        for name, words, skip in parts:
            form = ModelForm(
                getattr(session.settings, name),
                partial(self._take, name),
                lambda: session.job.units,
                skip,
            )
            form.refused.connect(self.complaint.setText)
            self.forms[name] = form
            column = QVBoxLayout()
            column.addWidget(heading(words))
            column.addWidget(form)
            column.addStretch(1)
            row.addLayout(column, 1)
        inner = QWidget()
        inner.setLayout(row)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inner)
        box = QVBoxLayout(self)
        said = prose("faint")
        said.setText(about)
        box.addWidget(said)
        box.addWidget(scroll, 1)
        box.addWidget(self.complaint)
        session.changed.connect(self.refresh)

    def _take(self, name: str, model: BaseModel) -> str | None:
        said = self.session.keep_settings(self.session.settings.model_copy(update={name: model}), f"shop {name}")
        if said is None:
            self.complaint.clear()
        return said

    def refresh(self) -> None:
        """Show the settings as they are."""
        for name, form in self.forms.items():
            form.show_model(getattr(self.session.settings, name))


def ways_page(session: Session) -> FormsPage:
    """Units, angles, tolerances, datum and rounding."""
    return FormsPage(
        session,
        (("ways", tr("Measuring and marking"), frozenset()),),
        tr(
            "New parts begin so. Parts on the bench that stand as the shop said before follow; what was chosen for one part stays."
        ),
    )


def tools_page(session: Session) -> FormsPage:
    """Small tools, the sheet that is bought, the shear."""
    return FormsPage(
        session,
        (
            ("small_tools", tr("On the wall and in the hand"), frozenset()),
            ("cut_from", tr("Sheet and shear"), frozenset({"offcuts"})),
        ),
        tr(
            "Reliefs, holes and notches take what hangs on the wall; blanks are cut from this sheet by this shear, where a work says "
            "nothing else."
        ),
    )
