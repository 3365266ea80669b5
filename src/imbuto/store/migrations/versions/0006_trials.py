"""Whether an edit only tries something is a field of its own, not the beginning of its label."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.add_column("edits", sa.Column("trial", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.execute("UPDATE edits SET trial = 1, label = substr(label, 6) WHERE label LIKE 'Try: %'")


def downgrade() -> None:
    op.execute("UPDATE edits SET label = 'Try: ' || label WHERE trial = 1")
    op.drop_column("edits", "trial")
