"""Where the shop keeps its things."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Annotated, Literal, Self

import platformdirs
from pydantic import Field, ValidationError, field_validator

from ..cutting.piece import CutFrom
from ..errors import InputError
from ..i18n import tr
from ..job.job import Job, Ruler, StrikeFrom
from ..job.tools import SmallTools
from ..metal.material import MATERIALS, Material
from ..schema.model import InputModel, PositiveLength
from ..schema.reading import plain, read_json
from ..units.length import Units
from ..units.quantities import AngleReading, Tonnage

ADDRESS = "book-address.txt"
"""A file in the shop's folder that holds the address of a book several benches share."""


def shop_home() -> Path:
    """The shop's folder of the person at this bench."""
    return Path(platformdirs.user_data_dir("zealous-crane", appauthor=False))


def brakes_place() -> Path:
    """The folder of the shop's own brake files."""
    return shop_home() / "brakes"


def book_place(home: Path) -> Path | str:
    """Where the book is: what ``ZEALOUS_CRANE_BOOK`` or the shop's address file says, else a file
    in the shop's folder."""
    text = os.environ.get("ZEALOUS_CRANE_BOOK", "").strip()
    if not text:
        try:
            text = (home / ADDRESS).read_text(encoding="utf-8-sig").strip()
        except (OSError, UnicodeDecodeError):
            text = ""
    return text or home / "book.db"


SETTINGS = "shop.json"
"""The file, in the shop's folder."""

LARGEST = 2_000_000
"""Bytes; no shop says more."""


class Ways(InputModel):
    """How a shop measures, marks and judges; a new job begins so.

    Attributes:
        units: how lengths are shown and what a bare number means.
        angles: how the angles of folds are read and typed.
        tolerance: degrees by which an angle may be off and still counts as reached.
        sizes_within: by which a size of the finished part may be off; none takes the general
            tolerance.
        strike_from: what lines are struck from.
        tonnage: what the force of a press is said in; of the shop, not of one job.
        drawings: version of DXF in which drawings are written, for whoever cuts from them.
        ruler: the ticks notch lines are put on where the metal is folded on the line; none leaves
            them where they fall.
    """

    units: Units = Units.FRACTIONS
    angles: AngleReading = AngleReading.BEND
    tolerance: Annotated[float, Field(ge=0.1, le=10)] = Field(default=1.0, title="Angles within, °")
    sizes_within: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "general tolerance"}
    )
    strike_from: StrikeFrom = Field(default="nearest", title="Lines struck from")
    tonnage: Tonnage = Field(default=Tonnage.BY_UNITS, title="Forces of a press")
    drawings: Literal["r12", "r2010", "r2018"] = Field(default="r2010", title="Drawings (DXF)")
    ruler: Ruler | None = Field(
        default=None,
        title="Notch lines on the rule",
        json_schema_extra={"empty": "exact"},
    )


OF_A_JOB = tuple(name for name in Ways.model_fields if name in Job.model_fields)
"""Ways every job has too, and may have otherwise."""


class ShopSettings(InputModel):
    """Everything a shop says of itself besides its machines.

    Attributes:
        ways: how it measures and marks.
        metals: metals of its own.
        small_tools: what hangs on the wall.
        cut_from: the sheet it buys and its shear.
    """

    format: Literal["zealous-crane-shop"] = "zealous-crane-shop"
    version: Literal[1] = 1
    ways: Ways = Field(default_factory=Ways)
    metals: Annotated[tuple[Material, ...], Field(max_length=500)] = ()
    small_tools: SmallTools = Field(default_factory=SmallTools)
    cut_from: CutFrom = Field(default_factory=CutFrom)

    @field_validator("metals")
    @classmethod
    def _keys_differ(cls, value: tuple[Material, ...]) -> tuple[Material, ...]:
        keys = [*MATERIALS, *(metal.key for metal in value)]
        twice = sorted({key for key in keys if keys.count(key) > 1})
        if twice:
            raise InputError(tr("two metals have the key {twice}").format(twice=", ".join(twice)))
        return value

    @property
    def every_metal(self) -> dict[str, Material]:
        """The metals that ship and the shop's own, by key."""
        return {**MATERIALS, **{metal.key: metal for metal in self.metals}}

    def own_metal(self, key: str) -> Material | None:
        """The shop's own metal of a key; None for one that ships."""
        return next((metal for metal in self.metals if metal.key == key), None)

    def copied(self, key: str) -> Material:
        """A metal of the shop's own that begins as another one, under a key and a name nobody
        has."""
        old, known = self.every_metal[key], self.every_metal
        number = next(n for n in range(2, 10_000) if f"{key}-{n}" not in known)
        return old.model_copy(
            update={"key": f"{key}-{number}", "name": tr("{name}, our own").format(name=old.name)}
        )

    def with_metal(self, metal: Material) -> Self:
        """The settings with a metal of the shop's own in place of the one of its key, or beside the
        others."""
        others = tuple(m for m in self.metals if m.key != metal.key)
        return self.model_validate({**self.model_dump(), "metals": [*others, metal]})

    def follows(self, job: Job, before: ShopSettings) -> Job:
        """The job after the shop's settings changed: fields still at the old shop default take the
        new one, and its metal is the shop's as it is now.

        Raises:
            InputError: the job cannot be so.
        """
        fields: dict[str, object] = {
            name: getattr(self.ways, name)
            for name in OF_A_JOB
            if name != "units"
            and getattr(job, name) == getattr(before.ways, name) != getattr(self.ways, name)
        }
        if job.small_tools == before.small_tools:
            fields["small_tools"] = self.small_tools
        if job.own_metal is not None and job.own_metal == before.own_metal(job.metal):
            fields["own_metal"] = self.own_metal(job.metal) or job.own_metal
        return Job.model_validate({**job.model_dump(), **fields}) if fields else job

    def apply_to_new_job(self, job: Job) -> Job:
        """A job that begins in this shop."""
        return job.model_copy(
            update={
                **{name: getattr(self.ways, name) for name in OF_A_JOB},
                "small_tools": self.small_tools,
            }
        )


def read_settings(home: Path | None) -> tuple[ShopSettings, str | None]:
    """The settings of a shop, and a sentence where its file could not be used; what is usual then
    holds, and the file stays."""
    path = None if home is None else home / SETTINGS
    try:
        if path is None or not path.exists():
            return ShopSettings(), None
        return ShopSettings.model_validate(read_json(path, LARGEST)), None
    except ValidationError as error:
        text = plain(error)
    except (OSError, InputError) as error:
        text = str(error)
    told = tr(
        "The shop's settings in {path} could not be used: {said} The defaults are used; the "
        "file is kept beside once they change."
    )
    return ShopSettings(), told.format(path=path, said=text if text.endswith(".") else text + ".")
