"""Inquiries, published figures, rounds of earlier shootouts; what changed since a book was read."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def _key(table: str, column: str, to: str, *, optional: bool = False) -> tuple:
    return (
        sa.Column(column, sa.Uuid(), nullable=optional),
        sa.ForeignKeyConstraint(
            [column], [f"{to}.id"], name=op.f(f"fk_{table}_{column}"), ondelete="RESTRICT"
        ),
    )


def _filled(table: str, column: str) -> sa.CheckConstraint:
    return sa.CheckConstraint(f"btrim({column}) <> ''", name=op.f(f"ck_{table}_{column}_filled"))


def upgrade() -> None:
    """Add them."""
    op.add_column("rounds", sa.Column("brought_from", sa.String(200)))
    op.create_table(
        "inquiries",
        sa.Column("id", sa.Uuid(), nullable=False),
        *_key("inquiries", "shootout_id", "shootouts"),
        *_key("inquiries", "task_id", "tasks", optional=True),
        *_key("inquiries", "setup_a_id", "setups", optional=True),
        *_key("inquiries", "setup_b_id", "setups", optional=True),
        sa.Column("kind", sa.String(40), nullable=False),
        sa.Column("about", sa.String(500), nullable=False),
        sa.Column("suspected", sa.String(1000), nullable=False),
        sa.Column("changed", sa.String(1000)),
        sa.Column("outcome", sa.String(1000)),
        sa.Column("counts", sa.String(10)),
        sa.Column("who", sa.String(120), nullable=False),
        sa.Column("opened_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("closed_at", sa.DateTime(timezone=True)),
        sa.Column("version", sa.Integer(), nullable=False, server_default="1"),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(),
                  nullable=False),
        sa.CheckConstraint("counts IN ('before', 'again', 'both', 'none')",
                           name=op.f("ck_inquiries_counts_known")),
        sa.CheckConstraint("closed_at IS NULL OR (counts IS NOT NULL AND outcome IS NOT NULL)",
                           name=op.f("ck_inquiries_closed_with_outcome")),
        _filled("inquiries", "about"),
        _filled("inquiries", "suspected"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_inquiries")),
    )
    op.create_index(op.f("ix_inquiries_shootout_id"), "inquiries", ["shootout_id"])
    op.create_table(
        "inquiry_runs",
        *_key("inquiry_runs", "inquiry_id", "inquiries"),
        *_key("inquiry_runs", "run_id", "runs"),
        sa.PrimaryKeyConstraint("inquiry_id", "run_id", name=op.f("pk_inquiry_runs")),
    )
    op.create_table(
        "published_figures",
        sa.Column("id", sa.Uuid(), nullable=False),
        *_key("published_figures", "shootout_id", "shootouts"),
        *_key("published_figures", "task_id", "tasks", optional=True),
        *_key("published_figures", "setup_a_id", "setups"),
        *_key("published_figures", "setup_b_id", "setups", optional=True),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("value", sa.Double(), nullable=False),
        sa.Column("source", sa.String(300), nullable=False),
        sa.Column("who", sa.String(120), nullable=False),
        sa.Column("noted_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("withdrawn_at", sa.DateTime(timezone=True)),
        sa.CheckConstraint("kind IN ('times as fast', '% faster', '% less time', 'value')",
                           name=op.f("ck_published_figures_kind_known")),
        sa.CheckConstraint("(kind = 'value') = (setup_b_id IS NULL)",
                           name=op.f("ck_published_figures_pair_where_compared")),
        sa.CheckConstraint("value > 0 AND value < 'infinity'::float8",
                           name=op.f("ck_published_figures_value_positive")),
        _filled("published_figures", "source"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_published_figures")),
    )
    op.create_index(op.f("ix_published_figures_shootout_id"), "published_figures", ["shootout_id"])
    for table in ("inquiries", "inquiry_runs", "published_figures"):
        op.execute(
            f"create trigger keep_{table} before delete on {table} "
            "for each row execute function keep_rows()"
        )
    # A book that is in memory needs only what was written since: a revision for everything
    # but runs and marks, and a rising stamp on each of those.
    op.add_column("shootouts", sa.Column("rest_revision", sa.Integer(), nullable=False,
                                         server_default="1"))
    op.execute("update shootouts set rest_revision = revision")
    op.execute("create sequence change_stamps")
    op.execute(
        "create function stamp_row() returns trigger language plpgsql as "
        "$$ begin new.stamp := nextval('change_stamps'); return new; end $$"
    )
    for table in ("runs", "marks"):
        op.add_column(table, sa.Column("stamp", sa.BigInteger(), nullable=False,
                                       server_default="0"))
        op.execute(
            f"create trigger stamp_{table} before insert or update on {table} "
            "for each row execute function stamp_row()"
        )
    op.create_index("ix_runs_shootout_id_stamp", "runs", ["shootout_id", "stamp"])
    op.create_index("ix_runs_shootout_id_place", "runs", ["shootout_id", "place"])
    op.create_index("ix_marks_stamp", "marks", ["stamp"])


def downgrade() -> None:
    """Take them back; runs and marks stay in the book."""
    for table in ("marks", "runs"):
        op.execute(f"drop trigger stamp_{table} on {table}")
    op.drop_index("ix_marks_stamp", "marks")
    op.drop_index("ix_runs_shootout_id_stamp", "runs")
    op.drop_index("ix_runs_shootout_id_place", "runs")
    op.drop_column("marks", "stamp")
    op.drop_column("runs", "stamp")
    op.execute("drop function stamp_row()")
    op.execute("drop sequence change_stamps")
    op.drop_column("shootouts", "rest_revision")
    for table in ("published_figures", "inquiry_runs", "inquiries"):
        op.execute(f"drop trigger keep_{table} on {table}")
        op.drop_table(table)
    op.drop_column("rounds", "brought_from")
