"""Marks that were put right stay on record; the size of the file that a run wrote."""

import sqlalchemy as sa
from alembic import op

revision = "0031"
down_revision = "0030"
branch_labels = None
depends_on = None

_NUMBERS = (
    "fraction, frames_per_s, temperature_c, power_w, memory_gb, swap_gb, cpu_load, gpu_load, "
    "gpu_memory_gb, noise_db, left_s, event"
)


def upgrade() -> None:
    """A mark may be withdrawn, and then another may stand at its moment."""
    op.add_column("marks", sa.Column("file_gb", sa.Float(), nullable=True))
    op.add_column("marks", sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column("marks", sa.Column("withdrawn_why", sa.String(500), nullable=True))
    op.create_check_constraint(
        op.f("ck_marks_withdrawn_whole"),
        "marks",
        "(withdrawn_at IS NULL) = (withdrawn_why IS NULL)",
    )
    op.drop_constraint(op.f("ck_marks_says_something"), "marks")
    op.create_check_constraint(
        op.f("ck_marks_says_something"), "marks", f"num_nonnulls({_NUMBERS}, file_gb) > 0"
    )
    op.drop_constraint(op.f("uq_marks_run_id_elapsed_s"), "marks")
    op.create_index(
        op.f("uq_marks_run_id_elapsed_s"),
        "marks",
        ["run_id", "elapsed_s"],
        unique=True,
        postgresql_where=sa.text("withdrawn_at IS NULL"),
    )


def downgrade() -> None:
    """Take it away; refused by the database while two marks stand at one moment."""
    op.drop_index(op.f("uq_marks_run_id_elapsed_s"), "marks")
    op.create_unique_constraint(
        op.f("uq_marks_run_id_elapsed_s"), "marks", ["run_id", "elapsed_s"]
    )
    op.drop_constraint(op.f("ck_marks_says_something"), "marks")
    op.create_check_constraint(
        op.f("ck_marks_says_something"), "marks", f"num_nonnulls({_NUMBERS}) > 0"
    )
    op.drop_constraint(op.f("ck_marks_withdrawn_whole"), "marks")
    for column in ("withdrawn_why", "withdrawn_at", "file_gb"):
        op.drop_column("marks", column)
