"""Where a file goes: asked with its ending, and nothing that is there already is written over
without a word."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from ...i18n import tr
from .widget import as_text


def with_ending(path: Path, kind: str) -> Path:
    """A file's name with the ending of what is written into it, however it was typed."""
    return path if path.suffix.lower() == f".{kind}" else path.with_name(f"{path.name}.{kind}")


def ask_where(parent: QWidget, title: str, name: str, filters: str, *endings: str) -> Path | None:
    """Ask where to write a file.

    The dialog asks before a file is replaced, but by the name as it was typed; what the name
    becomes with its ending is asked about here.

    Args:
        parent: the window it belongs to.
        title: of the dialog.
        name: offered.
        filters: kinds of files, as the dialog takes them.
        endings: those a name may have; one with none of them takes the first, or the one of the
            filter chosen.

    Returns:
        the place, with its ending; None where it was called off.
    """
    while True:
        typed, chosen = QFileDialog.getSaveFileName(parent, title, name, filters)
        if not typed:
            return None
        path = Path(typed)
        if path.suffix.lower().removeprefix(".") in endings:
            return path
        path = with_ending(
            path, next((ending for ending in endings if f"*.{ending}" in chosen), endings[0])
        )
        if not path.exists() or _replaced(parent, path):
            return path
        name = str(path)


def _replaced(parent: QWidget, path: Path) -> bool:
    """Ask whether what is there may be written over."""
    buttons = QMessageBox.StandardButton
    answer = QMessageBox.question(
        parent,
        "Zealous Crane",
        as_text(
            tr("{name} is there already. Replace it? “No” asks for another name.").format(
                name=path.name
            )
        ),
        buttons.Yes | buttons.No,
        buttons.No,
    )
    return answer == buttons.Yes
