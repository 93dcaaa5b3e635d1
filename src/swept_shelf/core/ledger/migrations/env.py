"""Alembic's environment: it works on the connection that the ledger hands over."""

from alembic import context

from swept_shelf.core.ledger.tables import Base

context.configure(connection=context.config.attributes["connection"], target_metadata=Base.metadata)
with context.begin_transaction():
    context.run_migrations()
