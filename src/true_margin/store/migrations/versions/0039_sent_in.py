"""Kits that are given out, and results that others sent in."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0039"
down_revision = "0038"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add both tables."""
    op.create_table(
        "kits",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("secret", sa.String(64), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("made_by", sa.String(120), nullable=False),
        sa.ForeignKeyConstraint(
            ["shootout_id"],
            ["shootouts.id"],
            name=op.f("fk_kits_shootout_id_shootouts"),
            ondelete="RESTRICT",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_kits")),
        sa.UniqueConstraint("shootout_id", name=op.f("uq_kits_shootout_id")),
    )
    op.create_table(
        "sent_results",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("digest", sa.String(64), nullable=False),
        sa.Column("content", JSONB(), nullable=True),
        sa.Column("sealed", sa.Boolean(), nullable=False),
        sa.Column("received_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("received_by", sa.String(120), nullable=False),
        sa.Column("state", sa.String(20), nullable=False),
        sa.Column("setup_id", sa.Uuid(), nullable=True),
        sa.Column("why", sa.String(500), nullable=True),
        sa.Column("judged_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("judged_by", sa.String(120), nullable=True),
        sa.CheckConstraint(
            "state IN ('new', 'accepted', 'declined', 'withdrawn', 'erased')",
            name=op.f("ck_sent_results_state_known"),
        ),
        sa.CheckConstraint(
            "(state = 'erased') = (content IS NULL)", name=op.f("ck_sent_results_erased_whole")
        ),
        sa.CheckConstraint(
            "(state = 'new') = (judged_at IS NULL)", name=op.f("ck_sent_results_judged_whole")
        ),
        sa.ForeignKeyConstraint(
            ["shootout_id"],
            ["shootouts.id"],
            name=op.f("fk_sent_results_shootout_id_shootouts"),
            ondelete="RESTRICT",
        ),
        sa.ForeignKeyConstraint(
            ["setup_id"],
            ["setups.id"],
            name=op.f("fk_sent_results_setup_id_setups"),
            ondelete="RESTRICT",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sent_results")),
        sa.UniqueConstraint(
            "shootout_id", "digest", name=op.f("uq_sent_results_shootout_id_digest")
        ),
    )
    op.create_index(op.f("ix_sent_results_shootout_id"), "sent_results", ["shootout_id"])


def downgrade() -> None:
    """Take both away."""
    op.drop_table("sent_results")
    op.drop_table("kits")
