"""Errands: what a request asked for and a process beside the requests does."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

AT = sa.DateTime(timezone=True)


def upgrade() -> None:
    """Add them."""
    op.create_table(
        "errands",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("person_id", sa.Uuid()),
        sa.Column("told", JSONB(), nullable=False),
        sa.Column("file", sa.LargeBinary()),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("step", sa.String(200), nullable=False),
        sa.Column("done", sa.Double(), nullable=False),
        sa.Column("answer", JSONB()),
        sa.Column("problem", JSONB()),
        sa.Column("seen_at", AT, nullable=False),
        sa.Column("made_at", AT, server_default=sa.func.now(), nullable=False),
        sa.CheckConstraint("state IN ('running', 'done', 'failed')",
                           name=op.f("ck_errands_state_known")),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"],
                                name=op.f("fk_errands_person_id"), ondelete="RESTRICT"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_errands")),
    )
    op.create_index(op.f("ix_errands_person_id"), "errands", ["person_id"])


def downgrade() -> None:
    """Take them back."""
    op.drop_table("errands")
