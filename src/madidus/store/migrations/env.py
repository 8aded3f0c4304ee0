"""Alembic's entry: the engine comes from the caller, the tables from SQLModel."""

from alembic import context
from sqlmodel import SQLModel

from madidus.store import tables  # noqa: F401  registers the tables

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=SQLModel.metadata)
with context.begin_transaction():
    context.run_migrations()
