"""What was planned before the first run: tasks, setups, runs, and what counts as a difference."""

import sqlalchemy as sa
from alembic import op

revision = "0034"
down_revision = "0033"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the tables of plans and of what is in them."""

    def to(table: str, column: str, other: str) -> sa.ForeignKeyConstraint:
        name = op.f(f"fk_{table}_{column}_{other}")
        return sa.ForeignKeyConstraint([column], [f"{other}.id"], name=name, ondelete="RESTRICT")

    op.create_table(
        "plans",
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("runs", sa.Integer(), nullable=False),
        sa.Column("confidence", sa.Float(), nullable=False),
        sa.Column("materiality", sa.Float(), nullable=False),
        sa.Column("words", sa.String(1000), nullable=True),
        sa.Column("who", sa.String(120), nullable=False),
        sa.Column("frozen_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("runs >= 1 AND runs <= 1000", name=op.f("ck_plans_runs_range")),
        sa.CheckConstraint(
            "confidence > 0 AND confidence < 1", name=op.f("ck_plans_confidence_range")
        ),
        sa.CheckConstraint(
            "materiality >= 0 AND materiality <= 1", name=op.f("ck_plans_materiality_range")
        ),
        sa.CheckConstraint("btrim(words) <> ''", name=op.f("ck_plans_words_filled")),
        to("plans", "shootout_id", "shootouts"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_plans")),
    )
    op.create_index(op.f("ix_plans_shootout_id"), "plans", ["shootout_id"])
    op.create_table(
        "plan_parts",
        sa.Column("plan_id", sa.Uuid(), nullable=False),
        sa.Column("task_id", sa.Uuid(), nullable=True),
        sa.Column("setup_id", sa.Uuid(), nullable=True),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint(
            "num_nonnulls(task_id, setup_id) = 1", name=op.f("ck_plan_parts_one_part")
        ),
        to("plan_parts", "plan_id", "plans"),
        to("plan_parts", "task_id", "tasks"),
        to("plan_parts", "setup_id", "setups"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_plan_parts")),
    )
    op.create_index(op.f("ix_plan_parts_plan_id"), "plan_parts", ["plan_id"])


def downgrade() -> None:
    """Drop both."""
    op.drop_table("plan_parts")
    op.drop_table("plans")
