"""Runs the steps on the connection the book holds."""

from alembic import context

from zealous_crane.shop.book.store import METADATA

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=METADATA, render_as_batch=True)
with context.begin_transaction():
    context.run_migrations()
