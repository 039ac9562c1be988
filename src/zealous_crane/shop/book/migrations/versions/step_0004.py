"""A bend is a series of hits; any record may be struck out."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

KINDS = ("bend", "strip", "size", "done", "stock", "caution", "practice")


def upgrade() -> None:
    """Add the columns; what stands there has one hit a bend and is not struck out."""
    for kind in KINDS:
        op.add_column(
            f"book_{kind}", sa.Column("struck", sa.Integer(), nullable=False, server_default="0")
        )
        if op.get_bind().dialect.name == "sqlite":
            # What a search asks of every record stands in the index it goes along.
            op.drop_index(f"ix_book_{kind}_newest", f"book_{kind}")
            op.create_index(
                f"ix_book_{kind}_newest", f"book_{kind}", ["made", "id", "words", "struck"]
            )
    op.add_column("book_bend", sa.Column("hits", sa.Text(), nullable=False, server_default=""))
