"""Which model a machine is a sample of."""

import sqlalchemy as sa
from alembic import op

revision = "0033"
down_revision = "0032"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add it; a machine without one stands for a model of its own."""
    op.add_column("machines", sa.Column("model", sa.String(120), nullable=True))
    op.create_check_constraint(
        op.f("ck_machines_model_filled"), "machines", "btrim(model) <> ''"
    )


def downgrade() -> None:
    """Take it away."""
    op.drop_constraint(op.f("ck_machines_model_filled"), "machines")
    op.drop_column("machines", "model")
