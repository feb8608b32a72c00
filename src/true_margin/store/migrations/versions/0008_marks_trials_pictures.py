"""Marks of every kind; what a run was started under; editing trials, troubles, pictures."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

MORE = ("memory_gb", "swap_gb", "cpu_load", "gpu_load", "gpu_memory_gb", "noise_db", "left_s")
SAYS = "num_nonnulls(fraction, frames_per_s, temperature_c, power_w, memory_gb, swap_gb, " \
    "cpu_load, gpu_load, gpu_memory_gb, noise_db, left_s, event) > 0"
KEPT = ("trials", "troubles", "run_pictures")


def _noted(table: str, *columns: sa.Column, checks: dict[str, str]) -> None:
    op.create_table(
        table,
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("task_id", sa.Uuid(), nullable=False),
        sa.Column("setup_id", sa.Uuid(), nullable=False),
        *columns,
        sa.Column("who", sa.String(120), nullable=False),
        sa.Column("noted_at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{table}")),
        sa.ForeignKeyConstraint(
            ["task_id"], ["tasks.id"], name=op.f(f"fk_{table}_task_id"), ondelete="RESTRICT"
        ),
        sa.ForeignKeyConstraint(
            ["setup_id"], ["setups.id"], name=op.f(f"fk_{table}_setup_id"), ondelete="RESTRICT"
        ),
        *(
            sa.CheckConstraint(rule, name=op.f(f"ck_{table}_{name}"))
            for name, rule in checks.items()
        ),
    )
    op.create_index(op.f(f"ix_{table}_task_id"), table, ["task_id"])


def upgrade() -> None:
    """Widen marks and runs; add what is noted between runs."""
    op.alter_column("marks", "fraction", nullable=True)
    for name in MORE:
        op.add_column("marks", sa.Column(name, sa.Double()))
    op.add_column("marks", sa.Column("event", sa.String(200)))
    op.create_check_constraint(op.f("ck_marks_says_something"), "marks", SAYS)
    op.add_column("runs", sa.Column("reached", sa.Double()))
    op.create_check_constraint(
        op.f("ck_runs_reached_range"), "runs", "reached >= 0 AND reached <= 1"
    )
    op.add_column("runs", sa.Column("poll_s", sa.Double()))
    op.add_column("runs", sa.Column("placed_u", sa.Double(), nullable=False, server_default="0"))
    op.create_check_constraint(
        op.f("ck_runs_placed_u_not_negative"), "runs", "placed_u >= 0 AND placed_u < 'infinity'"
    )
    op.add_column(
        "runs", sa.Column("simulated", sa.Boolean(), nullable=False, server_default="false")
    )
    op.add_column(
        "runs", sa.Column("conditions", postgresql.JSONB(), nullable=False, server_default="{}")
    )
    _noted(
        "trials",
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("grade", sa.String(10), nullable=False),
        sa.Column("freezes", sa.Integer()),
        sa.Column("dropped", sa.Integer()),
        sa.Column("total", sa.Integer()),
        sa.Column("note", sa.String(500)),
        checks={
            "kind_known": "kind IN ('scrub', 'seek', 'playback full', 'playback half', "
            "'playback quarter', 'page switch', 'import')",
            "grade_known": "grade IN ('smooth', 'slow', 'stutters', 'unusable')",
            "freezes_not_negative": "freezes >= 0",
            "dropped_range": "dropped >= 0 AND total > 0 AND dropped <= total",
            "dropped_whole": "(dropped IS NULL) = (total IS NULL)",
        },
    )
    _noted(
        "troubles",
        sa.Column("run_id", sa.Uuid()),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("note", sa.String(500)),
        checks={"kind_known": "kind IN ('crash', 'work lost', 'wrong colours', 'device fails', "
                "'other')"},
    )
    op.create_foreign_key(
        op.f("fk_troubles_run_id"), "troubles", "runs", ["run_id"], ["id"], ondelete="RESTRICT"
    )
    op.create_table(
        "run_pictures",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("run_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("media_type", sa.String(20), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("who", sa.String(120), nullable=False),
        sa.Column("added_at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_run_pictures")),
        sa.ForeignKeyConstraint(
            ["run_id"], ["runs.id"], name=op.f("fk_run_pictures_run_id"), ondelete="RESTRICT"
        ),
        sa.CheckConstraint(
            "media_type IN ('image/png', 'image/jpeg')",
            name=op.f("ck_run_pictures_media_type_known"),
        ),
        sa.CheckConstraint("btrim(name) <> ''", name=op.f("ck_run_pictures_name_filled")),
    )
    op.create_index(op.f("ix_run_pictures_run_id"), "run_pictures", ["run_id"])
    for table in KEPT:
        op.execute(
            f"create trigger keep_{table} before delete on {table} "
            "for each row execute function keep_rows()"
        )


def downgrade() -> None:
    """Take back; what the older tables cannot hold is lost."""
    for table in KEPT:
        op.execute(f"drop trigger keep_{table} on {table}")
        op.drop_table(table)
    for name in ("conditions", "simulated", "placed_u", "poll_s", "reached"):
        op.drop_column("runs", name)
    op.drop_constraint(op.f("ck_marks_says_something"), "marks")
    op.execute("alter table marks disable trigger user")
    op.execute("delete from marks where fraction is null")
    op.execute("alter table marks enable trigger user")
    for name in (*MORE, "event"):
        op.drop_column("marks", name)
    op.alter_column("marks", "fraction", nullable=False)
