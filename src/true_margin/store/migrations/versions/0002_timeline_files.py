"""Files of timelines, as saved on each machine."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the table; like the book of runs it is never emptied."""
    op.create_table(
        "timeline_files",
        sa.Column("timeline_id", sa.Uuid(), nullable=False),
        sa.Column("setup_id", sa.Uuid(), nullable=True),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("edl_rate", sa.Double(), nullable=True),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("fingerprint", sa.String(length=64), nullable=False),
        sa.Column("facts", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("who", sa.String(length=120), nullable=False),
        sa.Column("added_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("btrim(name) <> ''", name=op.f("ck_timeline_files_name_filled")),
        sa.CheckConstraint("edl_rate > 0", name=op.f("ck_timeline_files_edl_rate_positive")),
        sa.ForeignKeyConstraint(
            ["setup_id"], ["setups.id"], name=op.f("fk_timeline_files_setup_id"),
            ondelete="RESTRICT",
        ),
        sa.ForeignKeyConstraint(
            ["timeline_id"], ["timelines.id"], name=op.f("fk_timeline_files_timeline_id"),
            ondelete="RESTRICT",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_timeline_files")),
    )
    op.create_index(
        op.f("ix_timeline_files_timeline_id"), "timeline_files", ["timeline_id"], unique=False
    )
    op.execute(
        "create trigger keep_timeline_files before delete on timeline_files "
        "for each row execute function keep_rows()"
    )


def downgrade() -> None:
    """Take back."""
    op.execute("drop trigger keep_timeline_files on timeline_files")
    op.drop_table("timeline_files")
