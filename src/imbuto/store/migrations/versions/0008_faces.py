"""What a watched station showed."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "faces",
        sa.Column("home_id", sa.String(), sa.ForeignKey("homes.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("source", sa.String(), primary_key=True),
        sa.Column("at", sa.DateTime(), primary_key=True),
        sa.Column("charge", sa.Float(), nullable=False),
        sa.Column("out_w", sa.Float(), nullable=False),
        sa.Column("in_w", sa.Float(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("faces")
