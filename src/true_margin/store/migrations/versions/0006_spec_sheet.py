"""Specs as rows of a sheet, free rows among them; markers, archive and assumed speeds.

Specs of a machine, and a setup's own values of them, move from columns into one
document each, so that a free row is stored as any other.
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

MACHINE = {
    "form": sa.String(120), "processor": sa.String(120), "cores": sa.Integer(),
    "clock_ghz": sa.Float(), "graphics": sa.String(120), "graphics_memory_gb": sa.Float(),
    "memory_gb": sa.Float(), "storage_gb": sa.Float(), "system": sa.String(120),
    "obtained": sa.String(40), "note": sa.String(2000),
}
SETUP = {"clock_ghz": sa.Float(), "memory_gb": sa.Float(), "note": sa.String(2000)}
POSITIVE = {
    "machines": {"cores": "cores", "clock_ghz": "clock", "memory_gb": "memory",
                 "graphics_memory_gb": "graphics_memory", "storage_gb": "storage"},
    "setups": {"clock_ghz": "clock", "memory_gb": "memory"},
}


def _document(name: str, default: str) -> sa.Column:
    return sa.Column(name, postgresql.JSONB(), nullable=False, server_default=default)


def _pairs(columns) -> str:
    return ", ".join(f"'{name}', {name}" for name in columns)


def upgrade() -> None:
    """Move the columns into documents."""
    op.add_column("machines", _document("specs", "{}"))
    op.add_column("machines", sa.Column("archived_at", sa.DateTime(timezone=True)))
    op.execute(
        f"update machines set specs = jsonb_strip_nulls(jsonb_build_object({_pairs(MACHINE)}))"
    )
    op.add_column("setups", _document("specs", "{}"))
    op.execute(
        f"update setups set specs = jsonb_strip_nulls(jsonb_build_object({_pairs(SETUP)}, "
        "'driver', conditions -> 'driver')), "
        "conditions = jsonb_strip_nulls((conditions - 'driver' - 'screen') || "
        "jsonb_build_object('power', power, 'screens', conditions -> 'screen'))"
    )
    for table, named in POSITIVE.items():
        for short in named.values():
            op.drop_constraint(op.f(f"ck_{table}_{short}_positive"), table)
    for name in MACHINE:
        op.drop_column("machines", name)
    for name in (*SETUP, "power"):
        op.drop_column("setups", name)
    op.add_column("setups", sa.Column("mark", sa.Integer(), nullable=False, server_default="0"))
    op.execute(
        "update setups s set mark = p.place from (select setups.id, row_number() over "
        "(partition by shootout_id order by machines.position, machines.created_at, "
        "setups.position, setups.created_at) - 1 as place from setups "
        "join machines on machines.id = setups.machine_id) p where p.id = s.id"
    )
    op.add_column("setups", sa.Column("assumed_ratio", sa.Float()))
    op.add_column("setups", sa.Column("assumed_against_id", sa.Uuid()))
    op.add_column("setups", sa.Column("assumed_source", sa.String(200)))
    op.create_check_constraint(
        op.f("ck_setups_assumed_ratio_range"), "setups",
        "assumed_ratio > 0 AND assumed_ratio <= 1000",
    )
    op.create_check_constraint(
        op.f("ck_setups_assumed_whole"), "setups",
        "(assumed_ratio IS NULL) = (assumed_against_id IS NULL) AND "
        "(assumed_ratio IS NULL) = (assumed_source IS NULL)",
    )
    op.create_foreign_key(
        op.f("fk_setups_assumed_against_id"), "setups", "setups", ["assumed_against_id"], ["id"],
        ondelete="RESTRICT",
    )
    op.add_column("shootouts", _document("trial_rows", "[]"))
    op.create_table(
        "free_rows",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("title", sa.String(60), nullable=False),
        sa.Column("unit", sa.String(20)),
        sa.Column("number", sa.Boolean(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_free_rows")),
        sa.UniqueConstraint("shootout_id", "title", name=op.f("uq_free_rows_shootout_id_title")),
        sa.CheckConstraint("btrim(title) <> ''", name=op.f("ck_free_rows_title_filled")),
        sa.ForeignKeyConstraint(
            ["shootout_id"], ["shootouts.id"], name=op.f("fk_free_rows_shootout_id"),
            ondelete="RESTRICT",
        ),
    )
    op.create_index(op.f("ix_free_rows_shootout_id"), "free_rows", ["shootout_id"])


def downgrade() -> None:
    """Move them back; rows that the older sheet has not are lost."""
    op.drop_table("free_rows")
    op.drop_column("shootouts", "trial_rows")
    for name in ("ck_setups_assumed_whole", "ck_setups_assumed_ratio_range"):
        op.drop_constraint(op.f(name), "setups")
    op.drop_constraint(op.f("fk_setups_assumed_against_id"), "setups")
    for name in ("assumed_ratio", "assumed_against_id", "assumed_source", "mark"):
        op.drop_column("setups", name)
    for table, columns in (("machines", MACHINE), ("setups", SETUP)):
        for name, kind in columns.items():
            op.add_column(table, sa.Column(name, kind))
            op.execute(f"update {table} set {name} = cast(specs ->> '{name}' as {_cast(kind)})")
        for name, short in POSITIVE[table].items():
            op.create_check_constraint(op.f(f"ck_{table}_{short}_positive"), table, f"{name} > 0")
    op.add_column("setups", sa.Column("power", sa.String(120)))
    op.execute("update setups set power = conditions ->> 'power'")
    op.execute(
        "update setups set conditions = jsonb_strip_nulls((conditions - 'power' - 'screens') || "
        "jsonb_build_object('screen', conditions -> 'screens', 'driver', specs -> 'driver'))"
    )
    op.drop_column("machines", "specs")
    op.drop_column("setups", "specs")
    op.drop_column("machines", "archived_at")


def _cast(kind) -> str:
    if isinstance(kind, sa.String):
        return f"varchar({kind.length})"
    return "integer" if isinstance(kind, sa.Integer) else "double precision"
