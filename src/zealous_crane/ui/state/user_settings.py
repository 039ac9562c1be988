"""The file behind the work: where it came from, and whether what stands in it is still the same."""

from __future__ import annotations

import hashlib
import json
from pathlib import Path

import platformdirs
from PySide6.QtCore import QByteArray, QSettings

from ...i18n import tr
from ...io.atomic import FileError
from ...io.job_file import write_work
from ...work.work import Work


class ChangedOnDisk(FileError):  # noqa: N818 - a question, not an error
    """The file was changed by somebody else since it was read or saved."""


class Saved:
    """What is known of the file.

    Args:
        work: as it stands in the file; None when it counts as not saved.
        path: the file; None while there is none.
        stamp: what the file held when the work was read from it; None takes what it holds now.
    """

    def __init__(
        self, work: Work | None, path: Path | None = None, stamp: str | None = None
    ) -> None:
        self._work, self.path = work, path
        self.stamp = stamp or (stamp_of(path) if path is not None else None)

    def holds(self, work: Work) -> bool:
        """True when nothing is lost with the work."""
        return work == self._work

    def mark(self, work: Work) -> None:
        """Hold work for saved."""
        self._work = work

    def write(self, work: Work, path: Path, *, over: bool) -> None:
        """Write the work.

        Args:
            work: what is written.
            path: the file.
            over: write also over what somebody else has changed.

        Raises:
            ChangedOnDisk: the file is not as this window read or wrote it last.
            FileError: it could not be written; nothing is lost.
        """
        if (
            not over
            and path == self.path
            and self.stamp is not None
            and stamp_of(path) not in (None, self.stamp)
        ):
            raise ChangedOnDisk(
                tr(
                    "{name} was changed by another window or program since it was opened here."
                ).format(name=path.name)
            )
        write_work(work, path)
        self._work, self.path, self.stamp = work, path, stamp_of(path)


def stamp_of(path: Path) -> str | None:
    """What tells a file's content from any other's; None when it cannot be read."""
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except OSError:
        return None


MOST = 10
"""Recent files kept."""

MOST_WORKS = 50
"""Works whose place in the work mode is kept."""


class Remembered:
    """A file of settings.

    Args:
        path: the file; None takes that of the person at this desk.
    """

    def __init__(self, path: Path | None = None) -> None:
        where = (
            path
            or Path(platformdirs.user_config_dir("zealous-crane", appauthor=False)) / "window.ini"
        )
        self._settings = QSettings(str(where), QSettings.Format.IniFormat)

    @property
    def recent(self) -> tuple[Path, ...]:
        """Files opened or saved lately that are still there, the latest first."""
        saved = self._settings.value("recent", [])
        names = (
            [saved]
            if isinstance(saved, str)
            else list(saved)
            if isinstance(saved, (list, tuple))
            else []
        )
        return tuple(path for path in (Path(str(name)) for name in names) if path.exists())[:MOST]

    def opened(self, path: Path) -> None:
        """A file was opened or saved: it comes first."""
        names = [
            str(path.resolve()),
            *(str(p) for p in self.recent if p.resolve() != path.resolve()),
        ]
        self._settings.setValue("recent", names[:MOST])

    @property
    def geometry(self) -> QByteArray | None:
        """Where the window stood; None the first time."""
        saved = self._settings.value("geometry")
        return saved if isinstance(saved, QByteArray) else None

    @property
    def dark(self) -> bool | None:
        """True when the dark look was chosen, False for the light one; None follows the desktop."""
        return {"true": True, "false": False}.get(str(self._settings.value("dark", "")))

    @dark.setter
    def dark(self, dark: bool | None) -> None:
        self._settings.setValue(
            "dark", {True: "true", False: "false"}.get(dark, "") if dark is not None else ""
        )

    def work(self, key: str) -> dict[str, object]:
        """Where a work was left in the work mode; empty where it was never begun.

        Args:
            key: what the work is known by.
        """
        kept = self._works.get(key)
        return kept if isinstance(kept, dict) else {}

    def keep_work(self, key: str, place: dict[str, object]) -> None:
        """Keep where a work is left; the works looked at last are kept.

        Args:
            key: what the work is known by.
            place: where it is left.
        """
        works = self._works
        works.pop(key, None)
        works[key] = place
        kept = dict(list(works.items())[-MOST_WORKS:])
        self._settings.setValue("works", json.dumps(kept))

    @property
    def _works(self) -> dict[str, object]:
        try:
            kept = json.loads(str(self._settings.value("works", "{}")))
        except json.JSONDecodeError:
            return {}
        return kept if isinstance(kept, dict) else {}

    @property
    def left(self) -> dict[str, str]:
        """What was on the bench when the window was closed: file, number of the part, stage; empty
        the first time."""
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
    def welcomed(self) -> bool:
        """True when the questions of the first start were put; whoever has worked with the program
        before is not asked."""
        return str(self._settings.value("welcomed", "")) == "true" or bool(self.left)

    @welcomed.setter
    def welcomed(self, on: bool) -> None:
        self._settings.setValue("welcomed", "true" if on else "")

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
        sentence = str(self._settings.value("text", "100"))
        return int(sentence) if sentence.isdigit() and 50 <= int(sentence) <= 300 else 100

    @text.setter
    def text(self, percent: int) -> None:
        self._settings.setValue("text", str(percent))

    def _table(self, name: str) -> dict[str, object]:
        saved = self._settings.value(name, "")
        try:
            result = json.loads(str(saved)) if saved else {}
        except ValueError:
            return {}
        return result if isinstance(result, dict) else {}

    def _texts(self, name: str) -> dict[str, str]:
        return {str(k): str(v) for k, v in self._table(name).items()}

    def leave(self, geometry: QByteArray) -> None:
        """Keep where the window stands."""
        self._settings.setValue("geometry", geometry)
        self._settings.sync()
