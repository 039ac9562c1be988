"""The ready kinds: each a few sizes and a short function that returns a design tree."""

from typing import Annotated

from pydantic import Field

from ..template import PartTemplate
from .box import FoldedPan, HemmedTray, LockingBox, OpenBox
from .cover import EnclosureBase, EnclosureLid, JawCover
from .duct import Cap, ReducerHalf, Sleeve
from .duct_side import DuctSide
from .strip import LongSkin, Plate, SingleBend, SlottedChannel, Strip

KINDS: tuple[type[PartTemplate], ...] = (
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

PartKind = Annotated[
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
