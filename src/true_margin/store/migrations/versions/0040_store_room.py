"""The store room, what every new shootout begins with, and figures that were published."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0040"
down_revision = "0039"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add the tables."""
    op.create_table(
        "room_machines",
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("model", sa.String(length=120), nullable=True),
        sa.Column("sample", sa.String(length=120), nullable=True),
        sa.Column("keeping", sa.String(length=10), server_default="owned", nullable=False),
        sa.Column("until", sa.Date(), nullable=True),
        sa.Column("note", sa.String(length=2000), nullable=True),
        sa.Column("demo", sa.Boolean(), server_default="false", nullable=False),
        sa.Column("merged_into_id", sa.Uuid(), nullable=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column(
            "created_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("btrim(name) <> ''", name=op.f("ck_room_machines_name_filled")),
        sa.CheckConstraint(
            "keeping IN ('owned', 'lent', 'sold', 'gone')",
            name=op.f("ck_room_machines_keeping_known"),
        ),
        sa.ForeignKeyConstraint(
            ["merged_into_id"],
            ["room_machines.id"],
            name=op.f("fk_room_machines_merged_into_id"),
            ondelete="RESTRICT",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_room_machines")),
    )
    op.create_index(
        "uq_room_machines_name",
        "room_machines",
        [sa.literal_column("lower(name)"), "demo"],
        unique=True,
        postgresql_where=sa.text("merged_into_id IS NULL"),
    )
    op.create_table(
        "room_specs",
        sa.Column("machine_id", sa.Uuid(), nullable=False),
        sa.Column("field", sa.String(length=60), nullable=False),
        sa.Column("value", JSONB(), nullable=False),
        sa.Column("since", sa.Date(), nullable=True),
        sa.Column("who", sa.String(length=120), nullable=False),
        sa.Column(
            "made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False
        ),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("btrim(field) <> ''", name=op.f("ck_room_specs_field_filled")),
        sa.ForeignKeyConstraint(
            ["machine_id"],
            ["room_machines.id"],
            name=op.f("fk_room_specs_machine_id"),
            ondelete="RESTRICT",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_room_specs")),
    )
    op.create_index("ix_room_specs_machine_id", "room_specs", ["machine_id", "place"], unique=False)
    op.create_table(
        "room_setups",
        sa.Column("setup_id", sa.Uuid(), nullable=False),
        sa.Column("machine_id", sa.Uuid(), nullable=False),
        sa.Column("state", sa.String(length=120), nullable=False),
        sa.CheckConstraint("btrim(state) <> ''", name=op.f("ck_room_setups_state_filled")),
        sa.ForeignKeyConstraint(
            ["machine_id"],
            ["room_machines.id"],
            name=op.f("fk_room_setups_machine_id"),
            ondelete="RESTRICT",
        ),
        sa.ForeignKeyConstraint(
            ["setup_id"], ["setups.id"], name=op.f("fk_room_setups_setup_id"), ondelete="RESTRICT"
        ),
        sa.PrimaryKeyConstraint("setup_id", name=op.f("pk_room_setups")),
    )
    op.create_index(op.f("ix_room_setups_machine_id"), "room_setups", ["machine_id"], unique=False)
    op.create_table(
        "room_tasks",
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("app", sa.String(length=120), nullable=False),
        sa.Column("timeline", sa.String(length=120), nullable=True),
        sa.Column("timeline_length_s", sa.Double(), nullable=True),
        sa.Column("operation", sa.String(length=120), nullable=True),
        sa.Column("settings", JSONB(), server_default="{}", nullable=False),
        sa.Column("starts_when", sa.String(length=60), nullable=True),
        sa.Column("ends_when", sa.String(length=60), nullable=True),
        sa.Column("measure", sa.String(length=20), nullable=False),
        sa.Column("work", sa.Double(), nullable=True),
        sa.Column("unit", sa.String(length=40), nullable=True),
        sa.Column("note", sa.String(length=2000), nullable=True),
        sa.Column("demo", sa.Boolean(), server_default="false", nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column(
            "created_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("btrim(app) <> ''", name=op.f("ck_room_tasks_app_filled")),
        sa.CheckConstraint("btrim(name) <> ''", name=op.f("ck_room_tasks_name_filled")),
        sa.CheckConstraint(
            "measure IN ('time', 'amount', 'observation')", name=op.f("ck_room_tasks_measure_known")
        ),
        sa.CheckConstraint(
            "operation IN ('export', 'background render', 'transcode', 'stabilise', 'denoise', 'retime', 'photo batch', 'audio bounce', 'app launch', 'project load', 'playback', 'score', 'other')",
            name=op.f("ck_room_tasks_operation_known"),
        ),
        sa.CheckConstraint("work > 0", name=op.f("ck_room_tasks_work_positive")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_room_tasks")),
    )
    op.create_index(
        "uq_room_tasks_name",
        "room_tasks",
        [sa.literal_column("lower(name)"), sa.literal_column("lower(app)"), "demo"],
        unique=True,
    )
    op.create_table(
        "room_task_uses",
        sa.Column("task_id", sa.Uuid(), nullable=False),
        sa.Column("standing_id", sa.Uuid(), nullable=False),
        sa.ForeignKeyConstraint(
            ["standing_id"],
            ["room_tasks.id"],
            name=op.f("fk_room_task_uses_standing_id"),
            ondelete="RESTRICT",
        ),
        sa.ForeignKeyConstraint(
            ["task_id"], ["tasks.id"], name=op.f("fk_room_task_uses_task_id"), ondelete="RESTRICT"
        ),
        sa.PrimaryKeyConstraint("task_id", name=op.f("pk_room_task_uses")),
    )
    op.create_index(
        op.f("ix_room_task_uses_standing_id"), "room_task_uses", ["standing_id"], unique=False
    )
    op.create_table(
        "room_events",
        sa.Column("subject_id", sa.Uuid(), nullable=False),
        sa.Column("what", sa.String(length=40), nullable=False),
        sa.Column("details", JSONB(), server_default="{}", nullable=False),
        sa.Column("who", sa.String(length=120), nullable=False),
        sa.Column(
            "made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False
        ),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("btrim(what) <> ''", name=op.f("ck_room_events_what_filled")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_room_events")),
    )
    op.create_index(op.f("ix_room_events_subject_id"), "room_events", ["subject_id"], unique=False)
    op.create_table(
        "series",
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("continues_id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("shootout_id <> continues_id", name=op.f("ck_series_two_shootouts")),
        sa.ForeignKeyConstraint(
            ["continues_id"],
            ["shootouts.id"],
            name=op.f("fk_series_continues_id"),
            ondelete="RESTRICT",
        ),
        sa.ForeignKeyConstraint(
            ["shootout_id"],
            ["shootouts.id"],
            name=op.f("fk_series_shootout_id"),
            ondelete="RESTRICT",
        ),
        sa.PrimaryKeyConstraint("shootout_id", name=op.f("pk_series")),
    )
    op.create_index(op.f("ix_series_continues_id"), "series", ["continues_id"], unique=False)
    op.create_table(
        "house",
        sa.Column("single", sa.Boolean(), server_default="true", nullable=False),
        sa.Column("channel", sa.String(length=120), nullable=True),
        sa.Column("disclosure", sa.String(length=500), nullable=True),
        sa.Column("currency", sa.String(length=3), server_default="EUR", nullable=False),
        sa.Column("price_kind", sa.String(length=10), server_default="list", nullable=False),
        sa.Column("confidence", sa.Double(), server_default="0.95", nullable=False),
        sa.Column("materiality", sa.Double(), server_default="0.03", nullable=False),
        sa.Column("planned_runs", sa.Integer(), nullable=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column(
            "created_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("currency ~ '^[A-Z]{3}$'", name=op.f("ck_house_currency_code")),
        sa.CheckConstraint(
            "price_kind IN ('list', 'street', 'paid', 'used')",
            name=op.f("ck_house_price_kind_known"),
        ),
        sa.CheckConstraint(
            "confidence > 0 AND confidence < 1", name=op.f("ck_house_confidence_range")
        ),
        sa.CheckConstraint(
            "materiality >= 0 AND materiality <= 1", name=op.f("ck_house_materiality_range")
        ),
        sa.CheckConstraint(
            "planned_runs >= 1 AND planned_runs <= 1000", name=op.f("ck_house_planned_runs_range")
        ),
        sa.CheckConstraint("single", name=op.f("ck_house_single_one")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_house")),
        sa.UniqueConstraint("single", name=op.f("uq_house_single")),
    )
    op.create_table(
        "edition_figures",
        sa.Column("edition_id", sa.Uuid(), nullable=False),
        sa.Column("task", sa.String(length=300), nullable=False),
        sa.Column("label", sa.String(length=300), nullable=False),
        sa.Column("shown", sa.String(length=80), nullable=False),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.ForeignKeyConstraint(
            ["edition_id"],
            ["editions.id"],
            name=op.f("fk_edition_figures_edition_id"),
            ondelete="RESTRICT",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_edition_figures")),
        sa.UniqueConstraint(
            "edition_id", "task", "label", name=op.f("uq_edition_figures_edition_id_task_label")
        ),
    )
    op.add_column("editions", sa.Column("channel", sa.String(120), nullable=True))
    op.add_column("editions", sa.Column("disclosure", sa.String(500), nullable=True))


def downgrade() -> None:
    """Take them away."""
    op.drop_column("editions", "disclosure")
    op.drop_column("editions", "channel")
    for table in (
        "edition_figures",
        "house",
        "series",
        "room_events",
        "room_task_uses",
        "room_tasks",
        "room_setups",
        "room_specs",
        "room_machines",
    ):
        op.drop_table(table)
