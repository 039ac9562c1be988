"""What the window remembers from one day to the next: recent files, where it stood, its stage and its look."""

from __future__ import annotations

import json
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
    def dark(self) -> bool | None:
        """True when the dark look was chosen, False for the light one; None follows the desktop."""
        return {"true": True, "false": False}.get(str(self._settings.value("dark", "")))

    @dark.setter
    def dark(self, dark: bool | None) -> None:
        self._settings.setValue("dark", {True: "true", False: "false"}.get(dark, "") if dark is not None else "")

    @property
    def left(self) -> dict[str, str]:
        """What was on the bench when the window was closed: file, number of the part, stage; empty the first time."""
        return self._texts("left")

    @left.setter
    def left(self, bench: dict[str, str]) -> None:
        self._settings.setValue("left", json.dumps(bench))

    @property
    def paper(self) -> dict[str, object]:
        """Printer, paper and sides chosen last; empty the first time."""
        return self._table("paper")

    @paper.setter
    def paper(self, chosen: dict[str, object]) -> None:
        self._settings.setValue("paper", json.dumps(chosen))

    @property
    def last(self) -> dict[str, str]:
        """Metal, thickness, brake and units of the last new part; empty the first time."""
        return self._texts("last")

    @last.setter
    def last(self, chosen: dict[str, str]) -> None:
        self._settings.setValue("last", json.dumps(chosen))

    @property
    def text(self) -> int:
        """Size of the text, per cent."""
        said = str(self._settings.value("text", "100"))
        return int(said) if said.isdigit() and 50 <= int(said) <= 300 else 100

    @text.setter
    def text(self, percent: int) -> None:
        self._settings.setValue("text", str(percent))

    def _table(self, name: str) -> dict[str, object]:
        said = self._settings.value(name, "")
        try:
            found = json.loads(str(said)) if said else {}
        except ValueError:
            return {}
        return found if isinstance(found, dict) else {}

    def _texts(self, name: str) -> dict[str, str]:
        return {str(k): str(v) for k, v in self._table(name).items()}

    def leave(self, geometry: QByteArray) -> None:
        """Keep where the window stands."""
        self._settings.setValue("geometry", geometry)
        self._settings.sync()
