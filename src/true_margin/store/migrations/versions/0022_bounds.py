"""A bound says on which side of the value the truth lies; so far all were above it."""

import sqlalchemy as sa
from alembic import op

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Turn true into over."""
    op.execute("ALTER TABLE runs ALTER COLUMN bound DROP DEFAULT")
    op.execute("ALTER TABLE runs ALTER COLUMN bound DROP NOT NULL")
    op.alter_column(
        "runs",
        "bound",
        type_=sa.String(1),
        postgresql_using="CASE WHEN bound THEN '>' END",
    )
    op.create_check_constraint(op.f("ck_runs_bound_known"), "runs", "bound IN ('>', '<')")


def downgrade() -> None:
    """Turn over and under into true; which of the two is in what was typed."""
    op.drop_constraint(op.f("ck_runs_bound_known"), "runs")
    op.alter_column(
        "runs",
        "bound",
        type_=sa.Boolean(),
        postgresql_using="bound IS NOT NULL",
    )
    op.alter_column("runs", "bound", nullable=False)
