"""On which lines the instrument and the back gauge hang."""

from __future__ import annotations

from PySide6.QtWidgets import QDialogButtonBox, QFormLayout, QLineEdit, QVBoxLayout, QWidget

from ..measure.words import tr
from .device_desk import DeviceDesk
from .widget import FormDialog, prose, worded


class DeviceDialog(FormDialog):
    """Two names of serial lines.

    Args:
        desk: what is connected.
        parent: the window.
    """

    def __init__(self, desk: DeviceDesk, parent: QWidget) -> None:
        super().__init__(parent)
        self.desk = desk
        self.setWindowTitle(tr("Instrument and back gauge"))
        self.resize(460, 260)
        about = worded(
            tr(
                "A caliper or protractor that sends its readings, and a stop that is driven to a number. Leave a line empty where none is."
                " Keep hands clear of a stop that moves by itself; its own manual comes first."
            )
        )
        self.instrument, self.gauge = QLineEdit(), QLineEdit()
        for line, port, name in (
            (self.instrument, desk.instrument, tr("Line of the instrument")), (self.gauge, desk.gauge, tr("Line of the back gauge")),
        ):  # fmt: skip
            line.setAccessibleName(name)
            line.setPlaceholderText("/dev/ttyUSB0")
            line.setText(port.name if port is not None else "")
        form = QFormLayout()
        form.addRow(tr("&Instrument"), self.instrument)
        form.addRow(tr("&Back gauge"), self.gauge)
        self.complaint = prose("complaint")
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        box = QVBoxLayout(self)
        box.addWidget(about)
        box.addLayout(form)
        box.addWidget(self.complaint)
        box.addStretch(1)
        box.addWidget(self.buttons)

    def accept(self) -> None:
        """Connect; stay where a line cannot be opened."""
        said = self.desk.connect_to(self.instrument.text(), self.gauge.text())
        self.complaint.setText("\n".join(said))
        if not said:
            super().accept()
