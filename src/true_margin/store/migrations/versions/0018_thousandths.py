"""Prices keep three decimals: some currencies have that many."""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None

TABLES = ("prices", "extras")


def upgrade() -> None:
    """Widen the amounts."""
    for table in TABLES:
        op.alter_column(table, "amount", type_=sa.Numeric(14, 3))


def downgrade() -> None:
    """Narrow them; thousandths are rounded."""
    for table in TABLES:
        op.alter_column(table, "amount", type_=sa.Numeric(12, 2))
