"""The book of the shop: what was bent, measured and done."""

from .record import (
    KINDS,
    AnyRecord,
    BendRecord,
    CautionRecord,
    DoneRecord,
    Record,
    SizeRecord,
    StockRecord,
    StripRecord,
)
from .store import Book, BookError, json_text, read_records, write_csv

__all__ = [
    "KINDS",
    "AnyRecord",
    "BendRecord",
    "Book",
    "BookError",
    "CautionRecord",
    "DoneRecord",
    "Record",
    "SizeRecord",
    "StockRecord",
    "StripRecord",
    "json_text",
    "read_records",
    "write_csv",
]
