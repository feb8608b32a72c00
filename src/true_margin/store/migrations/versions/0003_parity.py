"""Conditions of setups, and overrules of parity."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add the column and the table."""
    op.add_column(
        "setups",
        sa.Column(
            "conditions", postgresql.JSONB(astext_type=sa.Text()), nullable=False,
            server_default="{}",
        ),
    )
    op.create_table(
        "overrules",
        sa.Column("task_id", sa.Uuid(), nullable=False),
        sa.Column("setup_a_id", sa.Uuid(), nullable=False),
        sa.Column("setup_b_id", sa.Uuid(), nullable=False),
        sa.Column("reason", sa.String(length=500), nullable=False),
        sa.Column("who", sa.String(length=120), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("btrim(reason) <> ''", name=op.f("ck_overrules_reason_filled")),
        sa.CheckConstraint("setup_a_id < setup_b_id", name=op.f("ck_overrules_pair_ordered")),
        sa.ForeignKeyConstraint(
            ["setup_a_id"], ["setups.id"], name=op.f("fk_overrules_setup_a_id"),
            ondelete="RESTRICT",
        ),
        sa.ForeignKeyConstraint(
            ["setup_b_id"], ["setups.id"], name=op.f("fk_overrules_setup_b_id"),
            ondelete="RESTRICT",
        ),
        sa.ForeignKeyConstraint(
            ["task_id"], ["tasks.id"], name=op.f("fk_overrules_task_id"), ondelete="RESTRICT"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_overrules")),
    )
    op.create_index(op.f("ix_overrules_task_id"), "overrules", ["task_id"], unique=False)
    op.execute(
        "create trigger keep_overrules before delete on overrules "
        "for each row execute function keep_rows()"
    )


def downgrade() -> None:
    """Take back."""
    op.execute("drop trigger keep_overrules on overrules")
    op.drop_table("overrules")
    op.drop_column("setups", "conditions")
