"""The top of the window: which part, which metal, which brake, how many, which units."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QApplication, QComboBox, QHBoxLayout, QLabel, QWidget

from ..measure import Units, show_length
from ..measure.input_error import INPUT_ERRORS
from ..measure.report import plain
from ..measure.words import tr
from ..metal import Sheet
from .field import ParsedField, TextField
from .session import Session
from .theme import crowded, font, text_scale
from .widget import Choice, Count, labelled


class Header(QWidget):
    """What every stage needs to know."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("chrome")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        crane = QLabel()
        crane.setPixmap(QApplication.windowIcon().pixmap(QSize(44, 44)))
        self.name = TextField(tr("Part name"), self._rename)
        self.name.edit.editingFinished.connect(lambda: _settled(self.name))
        self.name.edit.setFont(font(11.5, strong=True))
        self.metal = Choice()
        self.metal.setAccessibleName(tr("Metal"))
        self.metal.setMinimumContentsLength(10)
        self.metal.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.metal.activated.connect(lambda _: self._set(metal=self.metal.currentData()))
        self.thickness = ParsedField(tr("Gauge or thickness"), self._thicken, self._sheet, tr('22 ga, 0.030" or 0.8 mm'))
        self.actual = QLabel()
        self.actual.setObjectName("faint")
        self.brake = Choice()
        self.brake.setAccessibleName(tr("Brake"))
        self.brake.setMinimumContentsLength(9)
        self.brake.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.brake.activated.connect(lambda _: self._set(brake=self.brake.currentData()))
        self.quantity = Count()
        self.quantity.setRange(1, 100_000)
        self.quantity.setAccessibleName(tr("Quantity"))
        self.quantity.valueChanged.connect(lambda n: self._set(quantity=n))
        self.units = Choice()
        self.units.setAccessibleName(tr("Units"))
        self.units.setMinimumContentsLength(6)
        self.units.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        for unit in Units:
            self.units.addItem(unit.words, unit)
        self.units.activated.connect(lambda _: self._set(units=self.units.currentData()))
        # Of all that stands in this row the name is what tells one job from another.
        self.name.setMinimumWidth(150)
        self.quantity.setMaximumWidth(round(90 * text_scale()))
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 8, 12, 2)
        row.setSpacing(8 if crowded() else 12)
        if not crowded():
            row.addWidget(crane)
        row.addLayout(labelled(tr("Part"), self.name), 4)
        row.addLayout(labelled(tr("Metal"), self.metal), 3)
        thick = labelled(tr("Thickness"), self.thickness)
        row.addLayout(thick, 1)
        row.addLayout(labelled("is", self.actual))
        row.addLayout(labelled(tr("Brake"), self.brake), 3)
        row.addLayout(labelled(tr("How many"), self.quantity))
        row.addLayout(labelled(tr("Units"), self.units), 2)
        session.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the job."""
        job = self.session.job
        self.name.show_text(job.name)
        if self.name.edit is not QApplication.focusWidget():
            self.name.edit.home(False)
        metals = {key: metal.name for key, metal in self.session.settings.every_metal.items()}
        if job.own_metal is not None:
            # It came with the job: another shop's, or this one's as it was.
            metals[job.metal] = job.own_metal.name
        if [(self.metal.itemData(i), self.metal.itemText(i)) for i in range(self.metal.count())] != list(metals.items()):
            self.metal.clear()
            for key, name in metals.items():
                self.metal.addItem(name, key)
        self.metal.setCurrentIndex(self.metal.findData(job.metal))
        self.metal.setToolTip(self.metal.currentText())
        self.thickness.show_text(job.thickness)
        inch = job.units.fine
        self.actual.setText(show_length(job.sheet.thickness, inch))
        rack = self.session.rack
        offered = [brake for brake in rack.brakes if brake in rack.in_use or brake.key == job.brake]
        names = [brake.name for brake in offered]
        if [self.brake.itemText(i) for i in range(self.brake.count())] != names:
            self.brake.clear()
            for brake in offered:
                self.brake.addItem(brake.name, brake.key)
        self.brake.setCurrentIndex(self.brake.findData(job.brake))
        self.brake.setToolTip(self.brake.currentText())
        self.quantity.blockSignals(True)
        self.quantity.setValue(job.quantity)
        self.quantity.blockSignals(False)
        self.units.setCurrentIndex(self.units.findData(job.units))

    def _rename(self, text: str) -> str | None:
        if not text.strip():
            return tr("The part needs a name.")
        return self.session.edit("name", name=text.strip()[:120])

    def _thicken(self, text: str) -> str | None:
        try:
            # A gauge is kept spelt out: in other units a bare number would be something else.
            text = self._sheet(text).written
        except INPUT_ERRORS as error:
            return plain(error)
        return self.session.edit("thickness", thickness=text)

    def _sheet(self, text: str) -> Sheet:
        """The job's metal at a thickness as written.

        Raises:
            InputError: it cannot be read.
        """
        job = self.session.job
        return Sheet.read(job.material, text, job.units)

    def _set(self, **fields: object) -> None:
        """A choice made from a list; what cannot be is refused with a sentence and the old choice stays."""
        sentence = self.session.edit("", **fields)
        if sentence:
            self.session.complained.emit(sentence)
            self.refresh()


def _settled(field: TextField) -> None:
    if not field.complaint.text():
        field.settled()
        field.edit.setModified(False)
