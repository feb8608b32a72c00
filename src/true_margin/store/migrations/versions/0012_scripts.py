"""The script of a shootout, with the verdicts that its claims had when they were seen."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add it."""
    op.create_table(
        "scripts",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("verdicts", JSONB(), nullable=False),
        sa.Column("names", JSONB(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, server_default="1"),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(),
                  nullable=False),
        sa.ForeignKeyConstraint(["shootout_id"], ["shootouts.id"],
                                name=op.f("fk_scripts_shootout_id"), ondelete="RESTRICT"),
        sa.UniqueConstraint("shootout_id", name=op.f("uq_scripts_shootout_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_scripts")),
    )
    op.execute(
        "create trigger keep_scripts before delete on scripts "
        "for each row execute function keep_rows()"
    )


def downgrade() -> None:
    """Take it back."""
    op.execute("drop trigger keep_scripts on scripts")
    op.drop_table("scripts")
