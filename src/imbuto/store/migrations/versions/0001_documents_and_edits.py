"""Homes, documents and edits."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "homes",
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("rev", sa.Integer(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
    )
    home = sa.ForeignKey("homes.id", ondelete="CASCADE")
    op.create_table(
        "documents",
        sa.Column("home_id", sa.String(), home, primary_key=True),
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("rev", sa.Integer(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("body", sa.JSON(), nullable=False),
    )
    op.create_table(
        "edits",
        sa.Column("seq", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("home_id", sa.String(), sa.ForeignKey("homes.id", ondelete="CASCADE"), nullable=False),
        sa.Column("edit_id", sa.String(), nullable=False),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column("rev", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("forward", sa.JSON(), nullable=False),
        sa.Column("inverse", sa.JSON(), nullable=False),
        sa.Column("undone", sa.Boolean(), nullable=False),
        sa.Column("counts", sa.Boolean(), nullable=False),
        sa.UniqueConstraint("edit_id"),
    )
    op.create_index("ix_edits_home_rev", "edits", ["home_id", "rev"])


def downgrade() -> None:
    op.drop_table("edits")
    op.drop_table("documents")
    op.drop_table("homes")
