"""Whether a person looked at a run that stands out, and found it right."""

import sqlalchemy as sa
from alembic import op

revision = "0035"
down_revision = "0034"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add the column; nobody has looked yet."""
    op.add_column(
        "runs", sa.Column("checked", sa.Boolean(), server_default="false", nullable=False)
    )


def downgrade() -> None:
    """Take it away again."""
    op.drop_column("runs", "checked")
