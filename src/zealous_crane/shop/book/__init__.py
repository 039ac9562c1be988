"""The book of the shop: what was bent, measured and done. Its store is in ``store``, loaded when it is first opened."""

from .record import (
    KINDS,
    READER,
    AnyRecord,
    BendRecord,
    BookError,
    CautionRecord,
    DoneRecord,
    PracticeRecord,
    Record,
    SizeRecord,
    StockRecord,
    StripRecord,
)

__all__ = [
    "KINDS",
    "READER",
    "AnyRecord",
    "BendRecord",
    "BookError",
    "CautionRecord",
    "DoneRecord",
    "PracticeRecord",
    "Record",
    "SizeRecord",
    "StockRecord",
    "StripRecord",
]
