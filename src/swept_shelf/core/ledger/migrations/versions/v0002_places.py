"""The order in which things came into the ledger, by itself: a clock may be set back."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"

_TIMES = {"surveys": "taken_at", "orders": "drawn_at", "runs": "started_at", "clearances": "looked_at"}


def upgrade() -> None:
    for table, time in _TIMES.items():
        op.add_column(table, sa.Column("place", sa.Integer, nullable=False, server_default="0"))
        op.execute(
            f"UPDATE {table} SET place = (SELECT count(*) FROM {table} AS other WHERE other.{time} <= {table}.{time})"
        )
