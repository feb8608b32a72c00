"""Overrules say who withdrew them; of earlier withdrawals nobody knows."""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add the column."""
    op.add_column("overrules", sa.Column("withdrawn_by", sa.String(120)))


def downgrade() -> None:
    """Take it back."""
    op.drop_column("overrules", "withdrawn_by")
