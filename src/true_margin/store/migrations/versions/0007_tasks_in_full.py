"""Tasks in full: operations, events, export settings by field, revisions; what came out.

Settings as one text become the field for anything else; an operation that is not in the
list becomes a note, so that no word is lost.
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

OPERATIONS = (
    "'export', 'background render', 'transcode', 'stabilise', 'denoise', 'retime', "
    "'photo batch', 'audio bounce', 'app launch', 'project load', 'playback', 'score', 'other'"
)
KEPT = ("settings_used", "output_files", "output_looks", "playbacks")


def _own(table: str, *columns: sa.Column, checks: dict[str, str] | None = None) -> None:
    """A table of what was noted of a setup on a task; nothing in it is ever deleted."""
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
            for name, rule in (checks or {}).items()
        ),
    )
    op.create_index(op.f(f"ix_{table}_task_id"), table, ["task_id"])
    op.execute(
        f"create trigger keep_{table} before delete on {table} "
        "for each row execute function keep_rows()"
    )


def upgrade() -> None:
    """Widen tasks and add what is noted of their outputs."""
    op.add_column("tasks", sa.Column("note", sa.String(2000)))
    op.execute(
        f"update tasks set note = operation, operation = 'other' "
        f"where operation is not null and operation not in ({OPERATIONS})"
    )
    op.create_check_constraint(
        op.f("ck_tasks_operation_known"), "tasks", f"operation IN ({OPERATIONS})"
    )
    op.alter_column(
        "tasks", "settings", type_=postgresql.JSONB(), server_default="{}",
        postgresql_using="case when settings is null then '{}'::jsonb "
        "else jsonb_build_object('other', settings) end",
    )
    op.alter_column("tasks", "settings", nullable=False)
    op.add_column("tasks", sa.Column("starts_when", sa.String(60)))
    op.add_column("tasks", sa.Column("ends_when", sa.String(60)))
    op.add_column("tasks", sa.Column("revision", sa.Integer(), nullable=False, server_default="1"))
    op.add_column("tasks", sa.Column("follows_id", sa.Uuid()))
    op.create_foreign_key(
        op.f("fk_tasks_follows_id"), "tasks", "tasks", ["follows_id"], ["id"], ondelete="RESTRICT"
    )
    op.create_unique_constraint(op.f("uq_tasks_follows_id"), "tasks", ["follows_id"])
    op.drop_constraint(op.f("ck_tasks_measure_known"), "tasks")
    op.alter_column("tasks", "measure", type_=sa.String(20))
    op.create_check_constraint(
        op.f("ck_tasks_measure_known"), "tasks", "measure IN ('time', 'amount', 'observation')"
    )
    op.create_table(
        "presets",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("settings", postgresql.JSONB(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_presets")),
        sa.UniqueConstraint("name", name=op.f("uq_presets_name")),
        sa.CheckConstraint("btrim(name) <> ''", name=op.f("ck_presets_name_filled")),
    )
    _own("settings_used", sa.Column("settings", postgresql.JSONB(), nullable=False))
    _own(
        "output_files",
        sa.Column("run_id", sa.Uuid()),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("facts", postgresql.JSONB(), nullable=False),
    )
    op.create_foreign_key(
        op.f("fk_output_files_run_id"), "output_files", "runs", ["run_id"], ["id"],
        ondelete="RESTRICT",
    )
    _own(
        "output_looks",
        sa.Column("plays", sa.Boolean()),
        sa.Column("in_sync", sa.Boolean()),
        sa.Column("colour_right", sa.Boolean()),
    )
    _own(
        "playbacks",
        sa.Column("quality", sa.String(10), nullable=False),
        sa.Column("dropped", sa.Integer()),
        sa.Column("total", sa.Integer()),
        sa.Column("note", sa.String(500)),
        checks={
            "quality_known": "quality IN ('full', 'half', 'quarter', 'none')",
            "dropped_range": "dropped >= 0 AND total > 0 AND dropped <= total",
            "dropped_whole": "(dropped IS NULL) = (total IS NULL)",
        },
    )


def downgrade() -> None:
    """Take back; what the older tables cannot hold is lost."""
    for table in KEPT:
        op.execute(f"drop trigger keep_{table} on {table}")
        op.drop_table(table)
    op.drop_table("presets")
    op.drop_constraint(op.f("ck_tasks_measure_known"), "tasks")
    op.execute("update tasks set measure = 'amount' where measure = 'observation'")
    op.alter_column("tasks", "measure", type_=sa.String(10))
    op.create_check_constraint(
        op.f("ck_tasks_measure_known"), "tasks", "measure IN ('time', 'amount')"
    )
    op.drop_constraint(op.f("uq_tasks_follows_id"), "tasks")
    op.drop_constraint(op.f("fk_tasks_follows_id"), "tasks")
    op.drop_constraint(op.f("ck_tasks_operation_known"), "tasks")
    for name in ("starts_when", "ends_when", "revision", "follows_id", "note"):
        op.drop_column("tasks", name)
    op.alter_column("tasks", "settings", nullable=True, server_default=None)
    op.alter_column(
        "tasks", "settings", type_=sa.String(500),
        postgresql_using="left(settings ->> 'other', 500)",
    )
