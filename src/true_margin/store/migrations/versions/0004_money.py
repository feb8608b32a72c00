"""Price date and kind of a shootout, more about a price, extras of a setup."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

FLAGS = ("tax_included", "shipping_included", "paid_link")


def upgrade() -> None:
    """Add columns and the table."""
    op.add_column("shootouts", sa.Column("price_date", sa.Date(), nullable=True))
    op.execute("update shootouts set price_date = created_at::date")
    op.alter_column("shootouts", "price_date", nullable=False)
    op.add_column(
        "shootouts",
        sa.Column("price_kind", sa.String(length=10), nullable=False, server_default="list"),
    )
    op.create_check_constraint(
        op.f("ck_shootouts_price_kind_known"), "shootouts",
        "price_kind IN ('list', 'street', 'paid', 'used')",
    )
    op.add_column("prices", sa.Column("configuration", sa.String(length=200), nullable=True))
    op.add_column("prices", sa.Column("coupon", sa.String(length=60), nullable=True))
    op.add_column("prices", sa.Column("note", sa.String(length=500), nullable=True))
    for flag in FLAGS:
        op.add_column("prices", sa.Column(flag, sa.Boolean(), nullable=True))
    op.create_table(
        "extras",
        sa.Column("setup_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("amount", sa.Numeric(precision=12, scale=2), nullable=False),
        sa.Column("currency", sa.String(length=3), nullable=False),
        sa.Column("dated", sa.Date(), nullable=False),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint("btrim(name) <> ''", name=op.f("ck_extras_name_filled")),
        sa.CheckConstraint("amount >= 0", name=op.f("ck_extras_amount_not_negative")),
        sa.CheckConstraint("currency ~ '^[A-Z]{3}$'", name=op.f("ck_extras_currency_code")),
        sa.ForeignKeyConstraint(
            ["setup_id"], ["setups.id"], name=op.f("fk_extras_setup_id"), ondelete="RESTRICT"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_extras")),
    )
    op.create_index(op.f("ix_extras_setup_id"), "extras", ["setup_id"], unique=False)


def downgrade() -> None:
    """Take back."""
    op.drop_table("extras")
    for column in ("configuration", "coupon", "note", *FLAGS):
        op.drop_column("prices", column)
    op.drop_constraint(op.f("ck_shootouts_price_kind_known"), "shootouts")
    op.drop_column("shootouts", "price_kind")
    op.drop_column("shootouts", "price_date")
