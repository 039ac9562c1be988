"""A duct fitting given once: its sizes on the left, the pieces, cleats and assembly that follow on
the right."""

from __future__ import annotations

from pydantic import BaseModel
from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QDialogButtonBox,
    QHBoxLayout,
    QLabel,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...brake.library import MachineLibrary
from ...errors import INPUT_ERRORS
from ...flat.on_brake import flat_for
from ...i18n import tr
from ...job.job import Job
from ...paint.theme import font
from ...schema.reading import plain
from ...units.length import show_length
from ...work.duct_fitting import DuctFitting
from ..widgets.form import ModelForm
from ..widgets.widget import FormDialog, Wrapped

FROM_THE_BENCH = frozenset({"metal", "own_metal", "thickness", "brake", "units"})
"""What a fitting takes from the part on the bench."""


def usual_fitting(job: Job) -> DuctFitting:
    """What the dialog begins with, in the metal of the part on the bench."""
    inch = 25.4
    return DuctFitting(
        length=12 * inch,
        width=8 * inch,
        small_length=8 * inch,
        small_width=6 * inch,
        height=14 * inch,
        metal=job.metal,
        own_metal=job.own_metal,
        thickness=job.thickness,
        brake=job.brake,
        units=job.units,
    )


class FittingDialog(FormDialog):
    """Sizes of a duct fitting.

    Args:
        fitting: as it is; None begins a new one.
        job: the part on the bench, whose metal, thickness, brake and units all pieces take.
        rack: the brakes of the shop, whose tools decide the inside radius.
        parent: the window.
    """

    def __init__(
        self, fitting: DuctFitting | None, job: Job, rack: MachineLibrary, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._rack = rack
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(tr("Duct fitting as a set"))
        self.resize(960, 660)
        self.fitting = (
            usual_fitting(job)
            if fitting is None
            else fitting.model_copy(update={name: getattr(job, name) for name in FROM_THE_BENCH})
        )
        self.form = ModelForm(self.fitting, self._take, lambda: self.fitting.units, FROM_THE_BENCH)
        holder = QWidget()
        box = QVBoxLayout(holder)
        box.addWidget(self.form)
        box.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(holder)
        scroll.setMinimumWidth(380)
        self.pieces = Wrapped()
        self.pieces.setTextFormat(Qt.TextFormat.PlainText)
        self.pieces.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.pieces.setAlignment(Qt.AlignmentFlag.AlignTop)
        heading = QLabel(tr("What it is made of"))
        heading.setFont(font(12, bold=True))
        told = QScrollArea()
        told.setWidgetResizable(True)
        told.setWidget(self.pieces)
        right = QVBoxLayout()
        right.addWidget(heading)
        right.addWidget(told, 1)
        middle = QHBoxLayout()
        middle.addWidget(scroll, 3)
        middle.addLayout(right, 4)
        self.complaint = Wrapped()
        self.complaint.setObjectName("complaint")
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        self.buttons.button(QDialogButtonBox.StandardButton.Ok).setText(tr("Make the pieces"))
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        whole = QVBoxLayout(self)
        whole.addLayout(middle, 1)
        whole.addWidget(self.complaint)
        whole.addWidget(self.buttons)
        self.form.refused.connect(self.complaint.setText)
        self._tell()

    def _take(self, model: BaseModel) -> str | None:
        assert isinstance(model, DuctFitting)
        try:
            text = told_of(model, self._rack)
        except INPUT_ERRORS as error:
            return plain(error)
        self.fitting = model
        self.form.show_model(model)
        self.complaint.clear()
        self.pieces.setText(text)
        return None

    def _tell(self) -> None:
        self.pieces.setText(told_of(self.fitting, self._rack))


def told_of(fitting: DuctFitting, rack: MachineLibrary) -> str:
    """Pieces with their blanks, cleats and assembly, in lines.

    Raises:
        InputError: a piece cannot be developed.
    """
    units = fitting.units
    lines = []
    for job in fitting.pieces():
        blank = flat_for(job, rack.find(job.brake))
        lines.append(
            tr("{quantity} × {name}: blank {length} × {width}").format(
                quantity=job.quantity,
                name=job.name,
                length=show_length(blank.size[0], units, pretty=True),
                width=show_length(blank.size[1], units, pretty=True),
            )
        )
    lines += ["", *(cleat.text(units) for cleat in fitting.cleats())]
    lines += ["", tr("How it goes together:")]
    lines += [f"{i}.  {step}" for i, step in enumerate(fitting.assembly(), start=1)]
    metal = tr("All pieces are of the metal, thickness and brake of the part on the bench.")
    return "\n".join([*lines, "", metal])
