"""What the shelf says of each shootout, and when it was worked on last."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0036"
down_revision = "0035"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add both; empty until a change, or until somebody looks at the shelf."""
    op.add_column("shootouts", sa.Column("worked_at", sa.DateTime(timezone=True), nullable=True))
    op.create_table(
        "shelf_lines",
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("signs", sa.String(8), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("answer", sa.String(2000), nullable=False),
        sa.Column("waiting", JSONB(), nullable=False),
        sa.Column("needs_you", sa.Boolean(), nullable=False),
        sa.Column("facts", sa.String(500), nullable=False),
        sa.Column("bars", JSONB(), nullable=False),
        sa.ForeignKeyConstraint(
            ["shootout_id"],
            ["shootouts.id"],
            name=op.f("fk_shelf_lines_shootout_id_shootouts"),
            ondelete="RESTRICT",
        ),
        sa.PrimaryKeyConstraint("shootout_id", "signs", name=op.f("pk_shelf_lines")),
    )


def downgrade() -> None:
    """Take both away."""
    op.drop_table("shelf_lines")
    op.drop_column("shootouts", "worked_at")
