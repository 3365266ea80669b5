"""What a paired device may do; those paired before could do everything."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.add_column("devices", sa.Column("rights", sa.String(), nullable=False, server_default="edit"))


def downgrade() -> None:
    op.drop_column("devices", "rights")
