"""Entries of the log without a task, with a number and a picture of their own."""

import sqlalchemy as sa
from alembic import op

revision = "0029"
down_revision = "0028"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Let an entry be of an app alone, or of the machine; let a picture belong to an entry."""
    for table in ("trials", "troubles"):
        op.alter_column(table, "task_id", nullable=True)
        op.add_column(table, sa.Column("app_id", sa.Uuid(), nullable=True))
        op.add_column(table, sa.Column("measured", sa.String(60), nullable=True))
        op.create_foreign_key(
            op.f(f"fk_{table}_app_id_apps"), table, "apps", ["app_id"], ["id"], ondelete="RESTRICT"
        )
        op.create_check_constraint(
            op.f(f"ck_{table}_one_place"), table, "num_nonnulls(task_id, app_id) <= 1"
        )
    op.add_column("troubles", sa.Column("times", sa.Integer(), nullable=True))
    op.create_check_constraint(op.f("ck_troubles_times_range"), "troubles", "times >= 1")
    op.alter_column("run_pictures", "run_id", nullable=True)
    for column, table in (("trial_id", "trials"), ("trouble_id", "troubles")):
        op.add_column("run_pictures", sa.Column(column, sa.Uuid(), nullable=True))
        op.create_foreign_key(
            op.f(f"fk_run_pictures_{column}_{table}"),
            "run_pictures",
            table,
            [column],
            ["id"],
            ondelete="RESTRICT",
        )
    op.create_check_constraint(
        op.f("ck_run_pictures_of_one_thing"),
        "run_pictures",
        "num_nonnulls(run_id, trial_id, trouble_id) = 1",
    )


def downgrade() -> None:
    """Take it away; refused by the database while there are entries without a task."""
    op.drop_constraint(op.f("ck_run_pictures_of_one_thing"), "run_pictures")
    for column in ("trouble_id", "trial_id"):
        op.drop_column("run_pictures", column)
    op.alter_column("run_pictures", "run_id", nullable=False)
    op.drop_constraint(op.f("ck_troubles_times_range"), "troubles")
    op.drop_column("troubles", "times")
    for table in ("troubles", "trials"):
        op.drop_constraint(op.f(f"ck_{table}_one_place"), table)
        op.drop_column(table, "measured")
        op.drop_column(table, "app_id")
        op.alter_column(table, "task_id", nullable=False)
