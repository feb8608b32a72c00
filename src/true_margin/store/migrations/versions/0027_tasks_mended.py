"""A task of one name in two apps, and what the time of a task is sensitive to."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0027"
down_revision = "0026"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Names are of an app's own; sensitivities stand with the task."""
    op.drop_constraint(op.f("uq_tasks_shootout_id_name"), "tasks")
    op.create_unique_constraint(
        op.f("uq_tasks_shootout_id_app_id_name"), "tasks", ["shootout_id", "app_id", "name"]
    )
    op.add_column(
        "tasks",
        sa.Column("sensitivities", postgresql.JSONB(), nullable=False, server_default="[]"),
    )


def downgrade() -> None:
    """Names are of the shootout again; tasks of one name in two apps must be renamed first."""
    op.drop_column("tasks", "sensitivities")
    op.drop_constraint(op.f("uq_tasks_shootout_id_app_id_name"), "tasks")
    op.create_unique_constraint(op.f("uq_tasks_shootout_id_name"), "tasks", ["shootout_id", "name"])
