"""Schema changes of the ledger (Alembic)."""
