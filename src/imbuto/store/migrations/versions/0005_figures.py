"""A reading's figures at full precision beside its sentence."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.add_column("readings", sa.Column("figures", sa.JSON(), nullable=False, server_default="{}"))


def downgrade() -> None:
    op.drop_column("readings", "figures")
