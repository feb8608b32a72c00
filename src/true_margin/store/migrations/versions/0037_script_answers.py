"""What a person said that a sentence of the script means, and what was learnt of it."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0037"
down_revision = "0036"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add both; nobody has said anything yet."""
    for name in ("answers", "phrasings"):
        column = sa.Column(name, JSONB(), nullable=False, server_default=sa.text("'{}'::jsonb"))
        op.add_column("scripts", column)
        op.alter_column("scripts", name, server_default=None)


def downgrade() -> None:
    """Take both away."""
    op.drop_column("scripts", "phrasings")
    op.drop_column("scripts", "answers")
