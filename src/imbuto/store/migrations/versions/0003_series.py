"""Metered series in blocks of a day; readings of circuits and of the whole home; edits that carry several."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    with op.batch_alter_table("readings") as table:
        table.alter_column("load", existing_type=sa.String(), nullable=True)
        table.add_column(sa.Column("circuit", sa.String(), nullable=True))
    with op.batch_alter_table("edits") as table:
        table.add_column(sa.Column("readings", sa.JSON(), nullable=False, server_default="[]"))
    op.execute("UPDATE edits SET readings = json_array(reading_id) WHERE reading_id IS NOT NULL")
    with op.batch_alter_table("edits") as table:
        table.drop_column("reading_id")
    op.create_table(
        "series",
        sa.Column("home_id", sa.String(), sa.ForeignKey("homes.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("reading_id", sa.String(), nullable=False),
        sa.Column("channel", sa.String(), nullable=False),
        sa.Column("file", sa.String(), nullable=False),
        sa.Column("zone", sa.String(), nullable=False),
        sa.Column("unit", sa.String(), nullable=False),
        sa.Column("cumulative", sa.Boolean(), nullable=False),
        sa.Column("interval_s", sa.Float(), nullable=True),
        sa.Column("samples", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["home_id", "reading_id"], ["readings.home_id", "readings.id"], ondelete="CASCADE"),
    )
    op.create_table(
        "series_blocks",
        sa.Column("home_id", sa.String(), primary_key=True),
        sa.Column("series_id", sa.String(), primary_key=True),
        sa.Column("day", sa.Integer(), primary_key=True),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["home_id", "series_id"], ["series.home_id", "series.id"], ondelete="CASCADE"),
    )


def downgrade() -> None:
    op.drop_table("series_blocks")
    op.drop_table("series")
    with op.batch_alter_table("edits") as table:
        table.add_column(sa.Column("reading_id", sa.String(), nullable=True))
        table.drop_column("readings")
    op.execute("DELETE FROM readings WHERE load IS NULL")
    with op.batch_alter_table("readings") as table:
        table.drop_column("circuit")
        table.alter_column("load", existing_type=sa.String(), nullable=False)
