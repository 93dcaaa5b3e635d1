"""Surveys and runs of what was found left, findings left on purpose, and clearances that were signed off."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    for table in ("surveys", "runs"):
        op.add_column(table, sa.Column("left_of", sa.String, nullable=False, server_default=""))
    op.create_table(
        "left_findings",
        sa.Column("machine", sa.String, sa.ForeignKey("machines.key"), primary_key=True),
        sa.Column("finding", sa.String, primary_key=True),
        sa.Column("why", sa.String, nullable=False),
        sa.Column("who", sa.String, nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
    )
    op.create_table(
        "sign_offs",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("visit", sa.String, sa.ForeignKey("visits.id"), nullable=False),
        sa.Column("document", sa.LargeBinary, nullable=False),
        sa.Column("place", sa.Integer, nullable=False),
    )
