"""Searching a book of many years: by words in the order they were written, and what was
corrected."""

from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

KINDS = ("bend", "strip", "size", "done", "stock", "caution", "practice")


def upgrade() -> None:
    """Add the indexes; in a file the new one takes the place of the old."""
    for kind in KINDS:
        op.create_index(f"ix_book_{kind}_replaces", f"book_{kind}", ["replaces"])
        if op.get_bind().dialect.name == "sqlite":
            op.create_index(f"ix_book_{kind}_newest", f"book_{kind}", ["made", "id", "words"])
            op.drop_index(f"ix_book_{kind}_made", f"book_{kind}")
