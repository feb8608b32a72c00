"""Prices that were mistyped are corrected or withdrawn and stay on record; a link to the offer."""

import sqlalchemy as sa
from alembic import op

revision = "0025"
down_revision = "0024"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add the link, and how a price was put right."""
    op.add_column("prices", sa.Column("link", sa.String(500), nullable=True))
    op.add_column("prices", sa.Column("corrects_id", sa.Uuid(), nullable=True))
    op.add_column("prices", sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column("prices", sa.Column("withdrawn_why", sa.String(500), nullable=True))
    op.create_foreign_key(
        op.f("fk_prices_corrects_id_prices"),
        "prices",
        "prices",
        ["corrects_id"],
        ["id"],
        ondelete="RESTRICT",
    )
    op.create_check_constraint(
        op.f("ck_prices_withdrawn_whole"),
        "prices",
        "(withdrawn_at IS NULL) = (withdrawn_why IS NULL)",
    )


def downgrade() -> None:
    """Take them away; what was withdrawn would count again."""
    op.drop_constraint(op.f("ck_prices_withdrawn_whole"), "prices")
    op.drop_constraint(op.f("fk_prices_corrects_id_prices"), "prices")
    for column in ("withdrawn_why", "withdrawn_at", "corrects_id", "link"):
        op.drop_column("prices", column)
