"""The exchange rates that an edition was published by, so that its answers stay what they were."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0038"
down_revision = "0037"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add them; of editions before, none are known."""
    op.add_column("editions", sa.Column("rates", JSONB(), nullable=True))


def downgrade() -> None:
    """Take them away."""
    op.drop_column("editions", "rates")
