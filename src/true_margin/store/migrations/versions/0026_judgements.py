"""A person's word on whether it was the same work: looked at, nearly the same, not the same."""

import sqlalchemy as sa
from alembic import op

revision = "0026"
down_revision = "0025"
branch_labels = None
depends_on = None

_JUDGED = "judged_as IN ('looked at', 'nearly the same', 'not the same')"
_PARTS = "part IN ('timeline', 'settings', 'output')"
_TWO = (
    "CASE WHEN part IS NOT NULL THEN setup_id IS NOT NULL AND other_setup_id IS NULL "
    "AND other_task_id IS NULL ELSE reason IS NOT NULL AND "
    "(other_task_id IS NULL) = (setup_id IS NOT NULL) AND "
    "(setup_id IS NULL) = (other_setup_id IS NULL) END"
)


def upgrade() -> None:
    """Make the table of words."""

    def to(column: str, table: str) -> sa.ForeignKeyConstraint:
        name = op.f(f"fk_judgements_{column}_{table}")
        return sa.ForeignKeyConstraint([column], [f"{table}.id"], name=name, ondelete="RESTRICT")

    def check(rule: str, name: str) -> sa.CheckConstraint:
        return sa.CheckConstraint(rule, name=op.f(f"ck_judgements_{name}"))

    op.create_table(
        "judgements",
        sa.Column("task_id", sa.Uuid(), nullable=False),
        sa.Column("other_task_id", sa.Uuid(), nullable=True),
        sa.Column("setup_id", sa.Uuid(), nullable=True),
        sa.Column("other_setup_id", sa.Uuid(), nullable=True),
        sa.Column("judged_as", sa.String(20), nullable=False),
        sa.Column("part", sa.String(20), nullable=True),
        sa.Column("reason", sa.String(500), nullable=True),
        sa.Column("who", sa.String(120), nullable=False),
        sa.Column("noted_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("withdrawn_why", sa.String(500), nullable=True),
        sa.Column("id", sa.Uuid(), nullable=False),
        check(_JUDGED, "judged_as_known"),
        check(_PARTS, "part_known"),
        check("(judged_as = 'looked at') = (part IS NOT NULL)", "looked_at_something"),
        check(_TWO, "about_two"),
        check("setup_id <> other_setup_id", "two_setups"),
        check("task_id <> other_task_id", "two_tasks"),
        check("btrim(reason) <> ''", "reason_filled"),
        check("(withdrawn_at IS NULL) = (withdrawn_why IS NULL)", "withdrawn_whole"),
        to("task_id", "tasks"),
        to("other_task_id", "tasks"),
        to("setup_id", "setups"),
        to("other_setup_id", "setups"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_judgements")),
    )
    op.create_index(op.f("ix_judgements_task_id"), "judgements", ["task_id"])


def downgrade() -> None:
    """Drop the table of words."""
    op.drop_table("judgements")
