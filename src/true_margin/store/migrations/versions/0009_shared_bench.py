"""The bench between devices: lanes as they stand, the events behind them, paired devices."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def _of_shootout(table: str, *columns: sa.Column) -> None:
    op.create_table(
        table,
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        *columns,
        sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{table}")),
        sa.ForeignKeyConstraint(
            ["shootout_id"], ["shootouts.id"], name=op.f(f"fk_{table}_shootout_id"),
            ondelete="RESTRICT",
        ),
    )
    op.create_index(op.f(f"ix_{table}_shootout_id"), table, ["shootout_id"])


def upgrade() -> None:
    """Add the shared bench."""
    _of_shootout(
        "bench_events",
        sa.Column("client", sa.String(80), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("at_ms", sa.Double(), nullable=False),
        sa.Column("lane", postgresql.JSONB(), nullable=False),
        sa.Column("received_at", sa.DateTime(timezone=True), server_default=sa.func.now(),
                  nullable=False),
    )
    op.create_unique_constraint(
        op.f("uq_bench_events_shootout_id_client_seq"), "bench_events", ["shootout_id", "client", "seq"]
    )
    op.execute(
        "create trigger keep_bench_events before delete on bench_events "
        "for each row execute function keep_rows()"
    )
    _of_shootout(
        "bench_lanes",
        sa.Column("lane_key", sa.String(80), nullable=False),
        sa.Column("at_ms", sa.Double(), nullable=False),
        sa.Column("client", sa.String(80), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("lane", postgresql.JSONB(), nullable=False),
    )
    op.create_unique_constraint(
        op.f("uq_bench_lanes_shootout_id_lane_key"), "bench_lanes", ["shootout_id", "lane_key"]
    )
    _of_shootout(
        "pair_codes",
        sa.Column("code_hash", sa.String(64), nullable=False),
        sa.Column("expires_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("used_at", sa.DateTime(timezone=True)),
    )
    op.create_unique_constraint(op.f("uq_pair_codes_code_hash"), "pair_codes", ["code_hash"])
    _of_shootout(
        "paired_devices",
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("token_hash", sa.String(64), nullable=False),
        sa.Column("paired_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("seen_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("revoked_at", sa.DateTime(timezone=True)),
    )
    op.create_unique_constraint(
        op.f("uq_paired_devices_token_hash"), "paired_devices", ["token_hash"]
    )


def downgrade() -> None:
    """Take the shared bench back; runs and marks stay in the book."""
    op.execute("drop trigger keep_bench_events on bench_events")
    for table in ("paired_devices", "pair_codes", "bench_lanes", "bench_events"):
        op.drop_table(table)
