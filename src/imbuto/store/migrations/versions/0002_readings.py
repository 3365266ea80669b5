"""Readings, append-only; edits that carry one."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.create_table(
        "readings",
        sa.Column("home_id", sa.String(), sa.ForeignKey("homes.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("load", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("raw", sa.String(), nullable=False),
        sa.Column("side", sa.String(), nullable=False),
        sa.Column("setting", sa.String(), nullable=False),
        sa.Column("season", sa.String(), nullable=False),
        sa.Column("withdrawn", sa.Boolean(), nullable=False),
    )
    with op.batch_alter_table("edits") as table:
        table.add_column(sa.Column("reading_id", sa.String(), nullable=True))
        table.add_column(sa.Column("withdraws", sa.Boolean(), nullable=False, server_default=sa.false()))


def downgrade() -> None:
    with op.batch_alter_table("edits") as table:
        table.drop_column("withdraws")
        table.drop_column("reading_id")
    op.drop_table("readings")
