"""A dialog opened by its key, worked in, and left by Escape."""

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication


def in_dialog(qtbot, window, kind, key, deed):
    """What a deed in a dialog came to.

    Args:
        window: which is made active first.
        kind: of the dialog.
        key: pressed with Ctrl and Shift.
        deed: given the dialog.
    """
    found = []

    def now():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, kind)
        try:
            found.append(deed(dialog))
        finally:
            qtbot.keyClick(dialog, Qt.Key.Key_Escape)

    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    QTimer.singleShot(50, now)
    qtbot.keyClick(
        window, key, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    )
    assert found, "the dialog opened, and what was done in it went through"
    return found[0]
