"""Exercises done."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the table."""
    op.create_table(
        "book_practice",
        sa.Column("id", sa.String(200), primary_key=True, nullable=False),
        sa.Column("made", sa.String(200), nullable=False),
        sa.Column("replaces", sa.String(200), nullable=True),
        sa.Column("who", sa.String(200), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("exercise", sa.String(200), nullable=False),
        sa.Column("right", sa.Integer(), nullable=False),
        sa.Column("asked", sa.Integer(), nullable=False),
        sa.Column("words", sa.Text(), nullable=False),
    )
    op.create_index("ix_book_practice_made", "book_practice", ["made"])
