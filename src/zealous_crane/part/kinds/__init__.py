"""The ready kinds: each a few sizes and a short function that returns a design tree."""

from typing import Annotated

from pydantic import Field

from ..ready import Ready
from .cover import EnclosureBase, EnclosureLid, JawCover
from .duct import Cap, ReducerHalf, Sleeve, SleevePiece
from .duct_side import DuctEnd, DuctShape, DuctSide, DuctSideName
from .open_box import OpenBox
from .strip import LongSkin, Plate, SingleBend, SlottedChannel, Strip
from .tray import FoldedPan, HemmedTray, LockingBox

KINDS: tuple[type[Ready], ...] = (
    OpenBox,
    HemmedTray,
    FoldedPan,
    LockingBox,
    Strip,
    SlottedChannel,
    Sleeve,
    Cap,
    ReducerHalf,
    DuctSide,
    JawCover,
    EnclosureBase,
    EnclosureLid,
    LongSkin,
    SingleBend,
    Plate,
)
"""Every ready kind, in the order they are offered."""

ReadyKind = Annotated[
    OpenBox
    | HemmedTray
    | FoldedPan
    | LockingBox
    | Strip
    | SlottedChannel
    | Sleeve
    | Cap
    | ReducerHalf
    | DuctSide
    | JawCover
    | EnclosureBase
    | EnclosureLid
    | LongSkin
    | SingleBend
    | Plate,
    Field(discriminator="kind"),
]

__all__ = [
    "KINDS",
    "Cap",
    "DuctEnd",
    "DuctShape",
    "DuctSide",
    "DuctSideName",
    "EnclosureBase",
    "EnclosureLid",
    "FoldedPan",
    "HemmedTray",
    "JawCover",
    "LockingBox",
    "LongSkin",
    "OpenBox",
    "Plate",
    "ReadyKind",
    "ReducerHalf",
    "SingleBend",
    "Sleeve",
    "SleevePiece",
    "SlottedChannel",
    "Strip",
]
