"""What the window remembers from one day to the next: recent files, where it stood, its stage and its look."""

from __future__ import annotations

from pathlib import Path

import platformdirs
from PySide6.QtCore import QByteArray, QSettings

MOST = 10
"""Recent files kept."""


class Remembered:
    """A file of settings.

    Args:
        path: the file; None takes that of the person at this desk.
    """

    def __init__(self, path: Path | None = None) -> None:
        where = path or Path(platformdirs.user_config_dir("zealous-crane", appauthor=False)) / "window.ini"
        self._settings = QSettings(str(where), QSettings.Format.IniFormat)

    @property
    def recent(self) -> tuple[Path, ...]:
        """Files opened or saved lately that are still there, the latest first."""
        said = self._settings.value("recent", [])
        names = [said] if isinstance(said, str) else list(said) if isinstance(said, (list, tuple)) else []
        return tuple(path for path in (Path(str(name)) for name in names) if path.exists())[:MOST]

    def opened(self, path: Path) -> None:
        """A file was opened or saved: it comes first."""
        names = [str(path.resolve()), *(str(p) for p in self.recent if p.resolve() != path.resolve())]
        self._settings.setValue("recent", names[:MOST])

    @property
    def geometry(self) -> QByteArray | None:
        """Where the window stood; None the first time."""
        said = self._settings.value("geometry")
        return said if isinstance(said, QByteArray) else None

    @property
    def dark(self) -> bool:
        """True when the dark look was chosen last."""
        return str(self._settings.value("dark", "false")) == "true"

    def leave(self, geometry: QByteArray, *, dark: bool) -> None:
        """Keep where the window stands and how it looks."""
        self._settings.setValue("geometry", geometry)
        self._settings.setValue("dark", "true" if dark else "false")
        self._settings.sync()
