"""The first tables."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "machines",
        sa.Column("key", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
    )
    op.create_table(
        "visits",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("machine", sa.String, sa.ForeignKey("machines.key"), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("opened_at", sa.DateTime, nullable=False),
        sa.Column("last_act_at", sa.DateTime, nullable=False),
        sa.Column("closed_at", sa.DateTime),
        sa.UniqueConstraint("machine", "number"),
    )
    op.create_table(
        "surveys",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("visit", sa.String, sa.ForeignKey("visits.id"), nullable=False),
        sa.Column("taken_at", sa.DateTime, nullable=False),
        sa.Column("sha256", sa.String, nullable=False),
        sa.Column("folder", sa.String, nullable=False),
        sa.Column("free", sa.String, nullable=False),
    )
    op.create_table(
        "orders",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("visit", sa.String, sa.ForeignKey("visits.id"), nullable=False),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("drawn_at", sa.DateTime, nullable=False),
        sa.Column("survey", sa.String, nullable=False),
        sa.Column("document", sa.LargeBinary, nullable=False),
    )
    op.create_table(
        "runs",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("visit", sa.String, sa.ForeignKey("visits.id"), nullable=False),
        sa.Column("order_name", sa.String, nullable=False),
        sa.Column("folder", sa.String, nullable=False),
        sa.Column("started_at", sa.DateTime, nullable=False),
        sa.Column("result", sa.LargeBinary),
        sa.Column("put_back_at", sa.DateTime),
        sa.Column("emptied_at", sa.DateTime),
    )
    op.create_table(
        "clearances",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("visit", sa.String, sa.ForeignKey("visits.id"), nullable=False),
        sa.Column("run", sa.String, nullable=False),
        sa.Column("looked_at", sa.DateTime, nullable=False),
        sa.Column("document", sa.LargeBinary, nullable=False),
    )
