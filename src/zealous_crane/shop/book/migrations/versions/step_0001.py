"""The book as it began: bends, test strips, sizes, jobs done, stock, cautions."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def _record() -> list[sa.Column[str]]:
    return [
        sa.Column("id", sa.String(200), primary_key=True, nullable=False),
        sa.Column("made", sa.String(200), nullable=False),
        sa.Column("replaces", sa.String(200), nullable=True),
        sa.Column("who", sa.String(200), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
    ]


def _words(*names: str) -> list[sa.Column[str]]:
    return [sa.Column(name, sa.String(200), nullable=False) for name in names]


def _prose(*names: str) -> list[sa.Column[str]]:
    return [sa.Column(name, sa.Text(), nullable=False) for name in names]


def _numbers(*names: str, empty: bool = False) -> list[sa.Column[float]]:
    return [sa.Column(name, sa.Float(), nullable=empty) for name in names]


def _counts(*names: str) -> list[sa.Column[int]]:
    return [sa.Column(name, sa.Integer(), nullable=False) for name in names]


def upgrade() -> None:
    """Make the tables."""
    tables = {
        "bend": [
            *_words("job"),
            *_counts("part"),
            *_words("stroke", "machine", "tool", "metal"),
            *_numbers("thickness"),
            *_words("lot"),
            *_numbers("angle", "stop"),
            *_numbers("got", empty=True),
            *_words("end"),
        ],
        "strip": [
            *_words("metal"),
            *_numbers("thickness"),
            *_words("lot", "machine", "tool"),
            *_numbers("width", "flat", "line", "leg_one", "leg_two"),
            *_words("legs"),
            *_numbers("angle", "stop"),
            *_numbers("radius", empty=True),
        ],
        "size": [*_words("job"), *_counts("part"), *_words("what"), *_numbers("wanted", "got")],
        "done": [
            *_words("job"),
            *_counts("quantity"),
            *_words("machine"),
            *_prose("order", "set_up", "next_time"),
        ],
        "stock": [
            *_words("what", "name", "metal"),
            *_numbers("thickness", "length", "width"),
            *_counts("count"),
        ],
        "caution": [*_words("job"), *_prose("text")],
    }
    for kind, columns in tables.items():
        op.create_table(f"book_{kind}", *_record(), *columns, *_prose("words"))  # type: ignore[misc]
        op.create_index(f"ix_book_{kind}_made", f"book_{kind}", ["made"])
        if kind in ("bend", "strip", "stock"):
            op.create_index(f"ix_book_{kind}_metal", f"book_{kind}", ["metal", "thickness"])
