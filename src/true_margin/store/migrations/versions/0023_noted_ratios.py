"""Ratios noted elsewhere, without the times behind them, with who says so."""

import sqlalchemy as sa
from alembic import op

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the table of noted ratios."""
    op.create_table(
        "noted_ratios",
        sa.Column("against_id", sa.Uuid(), nullable=False),
        sa.Column("typed", sa.String(60), nullable=False),
        sa.Column("source", sa.String(200), nullable=False),
        sa.Column("client_key", sa.String(80), nullable=True),
        sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("withdrawn_why", sa.String(500), nullable=True),
        sa.Column("task_id", sa.Uuid(), nullable=False),
        sa.Column("setup_id", sa.Uuid(), nullable=False),
        sa.Column("who", sa.String(120), nullable=False),
        sa.Column("noted_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("btrim(typed) <> ''", name=op.f("ck_noted_ratios_typed_filled")),
        sa.CheckConstraint("btrim(source) <> ''", name=op.f("ck_noted_ratios_source_filled")),
        sa.CheckConstraint("setup_id <> against_id", name=op.f("ck_noted_ratios_two_setups")),
        sa.CheckConstraint(
            "(withdrawn_at IS NULL) = (withdrawn_why IS NULL)",
            name=op.f("ck_noted_ratios_withdrawn_whole"),
        ),
        sa.ForeignKeyConstraint(
            ["against_id"],
            ["setups.id"],
            name=op.f("fk_noted_ratios_against_id_setups"),
            ondelete="RESTRICT",
        ),
        sa.ForeignKeyConstraint(
            ["setup_id"],
            ["setups.id"],
            name=op.f("fk_noted_ratios_setup_id_setups"),
            ondelete="RESTRICT",
        ),
        sa.ForeignKeyConstraint(
            ["task_id"],
            ["tasks.id"],
            name=op.f("fk_noted_ratios_task_id_tasks"),
            ondelete="RESTRICT",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_noted_ratios")),
        sa.UniqueConstraint(
            "task_id", "client_key", name=op.f("uq_noted_ratios_task_id_client_key")
        ),
    )
    op.create_index(op.f("ix_noted_ratios_task_id"), "noted_ratios", ["task_id"])


def downgrade() -> None:
    """Drop the table of noted ratios."""
    op.drop_table("noted_ratios")
