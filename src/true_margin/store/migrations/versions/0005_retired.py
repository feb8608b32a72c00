"""Machines that are retired: kept with their runs, no longer on the desk."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add the column."""
    op.add_column("machines", sa.Column("retired_at", sa.DateTime(timezone=True), nullable=True))


def downgrade() -> None:
    """Take back."""
    op.drop_column("machines", "retired_at")
