"""How many runs were planned, and how much samples of one model are taken to differ."""

import sqlalchemy as sa
from alembic import op

revision = "0032"
down_revision = "0031"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add both to the settings of a shootout; no plan, and 1.5 % as the computation has it."""
    op.add_column(
        "shootouts",
        sa.Column("unit_prior_cv", sa.Float(), nullable=False, server_default="0.015"),
    )
    op.add_column("shootouts", sa.Column("planned_runs", sa.Integer(), nullable=True))
    op.create_check_constraint(
        op.f("ck_shootouts_unit_prior_range"),
        "shootouts",
        "unit_prior_cv >= 0 AND unit_prior_cv <= 0.5",
    )
    op.create_check_constraint(
        op.f("ck_shootouts_planned_runs_range"),
        "shootouts",
        "planned_runs >= 1 AND planned_runs <= 1000",
    )


def downgrade() -> None:
    """Take them away."""
    op.drop_constraint(op.f("ck_shootouts_planned_runs_range"), "shootouts")
    op.drop_constraint(op.f("ck_shootouts_unit_prior_range"), "shootouts")
    op.drop_column("shootouts", "planned_runs")
    op.drop_column("shootouts", "unit_prior_cv")
