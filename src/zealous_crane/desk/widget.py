"""Small pieces that several parts of the window are put together from."""

from __future__ import annotations

from PySide6.QtWidgets import QLabel, QLayout, QSizePolicy, QVBoxLayout, QWidget

from .theme import font


def heading(text: str) -> QLabel:
    """A heading within a stage."""
    label = QLabel(text)
    label.setFont(font(11.5, bold=True))
    label.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
    return label


def labelled(text: str, widget: QWidget) -> QVBoxLayout:
    """A small caption over a widget."""
    caption = QLabel(text)
    caption.setObjectName("faint")
    caption.setFont(font(8.5))
    box = QVBoxLayout()
    box.setSpacing(1)
    box.addWidget(caption)
    box.addWidget(widget)
    box.addStretch(1)
    return box


def clear(layout: QLayout) -> None:
    """Take everything out of a layout and let its widgets go."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.deleteLater()
