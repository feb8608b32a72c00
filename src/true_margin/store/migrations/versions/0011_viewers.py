"""Viewers whom machines are picked for; the region that a price is good for."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def _check(table: str, name: str, rule: str) -> sa.CheckConstraint:
    return sa.CheckConstraint(rule, name=op.f(f"ck_{table}_{name}"))


def _to(table: str, column: str, to: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint(
        [column], [f"{to}.id"], name=op.f(f"fk_{table}_{column}"), ondelete="RESTRICT"
    )


def upgrade() -> None:
    """Add them."""
    op.add_column("prices", sa.Column("region", sa.String(60)))
    # Of two prices of one day the one that was added later counts.
    op.add_column("prices", sa.Column("place", sa.BigInteger(), sa.Identity(), nullable=False))
    money = sa.Numeric(14, 3)
    op.create_table(
        "viewers",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("weekly", sa.Boolean(), nullable=False),
        sa.Column("rule", sa.String(10), nullable=False),
        sa.Column("currency", sa.String(3), nullable=False),
        sa.Column("region", sa.String(60)),
        sa.Column("tax_percent", sa.Numeric(6, 3)),
        sa.Column("budget", money),
        sa.Column("owned_setup_id", sa.Uuid()),
        sa.Column("resale", money, nullable=False),
        sa.Column("hour_value", money, nullable=False),
        sa.Column("attended", sa.Double(), nullable=False),
        sa.Column("weeks", sa.Double(), nullable=False),
        sa.Column("horizon_years", sa.Double(), nullable=False),
        sa.Column("energy_price", money),
        sa.Column("needs", JSONB(), nullable=False),
        sa.Column("retired_at", sa.DateTime(timezone=True)),
        sa.Column("version", sa.Integer(), nullable=False, server_default="1"),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(),
                  nullable=False),
        _to("viewers", "shootout_id", "shootouts"),
        _to("viewers", "owned_setup_id", "setups"),
        _check("viewers", "name_filled", "btrim(name) <> ''"),
        _check("viewers", "currency_code", "currency ~ '^[A-Z]{3}$'"),
        _check("viewers", "rule_known", "rule IN ('fastest', 'value', 'worth', 'enough')"),
        _check("viewers", "budget_range", "budget >= 0"),
        _check("viewers", "resale_range", "resale >= 0"),
        _check("viewers", "hour_value_range", "hour_value >= 0"),
        _check("viewers", "energy_price_range", "energy_price >= 0"),
        _check("viewers", "tax_percent_range", "tax_percent >= 0 AND tax_percent <= 100"),
        _check("viewers", "attended_range", "attended >= 0 AND attended <= 1"),
        _check("viewers", "weeks_range", "weeks > 0 AND weeks <= 52"),
        _check("viewers", "horizon_years_range", "horizon_years > 0 AND horizon_years <= 50"),
        sa.UniqueConstraint("shootout_id", "name", name=op.f("uq_viewers_shootout_id_name")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_viewers")),
    )
    op.create_index(op.f("ix_viewers_shootout_id"), "viewers", ["shootout_id"])
    op.create_table(
        "viewer_tasks",
        sa.Column("viewer_id", sa.Uuid(), nullable=False),
        sa.Column("task_id", sa.Uuid(), nullable=False),
        sa.Column("weight", sa.Double(), nullable=False),
        sa.Column("amount", sa.Double(), nullable=False),
        sa.Column("by_run", sa.Boolean(), nullable=False),
        sa.Column("accepted_s", sa.Double()),
        _to("viewer_tasks", "viewer_id", "viewers"),
        _to("viewer_tasks", "task_id", "tasks"),
        _check("viewer_tasks", "weight_range", "weight >= 0 AND weight < 'infinity'::float8"),
        _check("viewer_tasks", "amount_range", "amount >= 0 AND amount < 'infinity'::float8"),
        _check("viewer_tasks", "accepted_s_range",
               "accepted_s > 0 AND accepted_s < 'infinity'::float8"),
        sa.PrimaryKeyConstraint("viewer_id", "task_id", name=op.f("pk_viewer_tasks")),
    )
    for table in ("viewers", "viewer_tasks"):
        op.execute(
            f"create trigger keep_{table} before delete on {table} "
            "for each row execute function keep_rows()"
        )


def downgrade() -> None:
    """Take them back."""
    for table in ("viewer_tasks", "viewers"):
        op.execute(f"drop trigger keep_{table} on {table}")
        op.drop_table(table)
    op.drop_column("prices", "place")
    op.drop_column("prices", "region")
