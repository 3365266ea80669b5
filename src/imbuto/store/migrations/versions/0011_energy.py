"""Metered energy of a day, for what was saved."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.create_table(
        "energy_days",
        sa.Column("home_id", sa.String(), sa.ForeignKey("homes.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("role", sa.String(), primary_key=True),
        sa.Column("day", sa.Integer(), primary_key=True),
        sa.Column("data", sa.LargeBinary(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("energy_days")
