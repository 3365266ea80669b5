"""Which sheets were printed, and what they said."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.create_table(
        "prints",
        sa.Column("home_id", sa.String(), sa.ForeignKey("homes.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("plan", sa.String(), primary_key=True),
        sa.Column("sheet", sa.String(), primary_key=True),
        sa.Column("outage", sa.String(), nullable=False),
        sa.Column("rev", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("words", sa.String(), nullable=False),
        sa.Column("circuits", sa.JSON(), nullable=False),
        sa.Column("steps", sa.JSON(), nullable=False),
        sa.Column("hours", sa.String(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("prints")
