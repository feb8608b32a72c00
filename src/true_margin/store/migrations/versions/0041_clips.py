"""Cards that move, four more kinds of card, and links that show a race as it runs."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0041"
down_revision = "0040"
branch_labels = None
depends_on = None

_BEFORE = "kind IN ('bar', 'rule', 'price', 'pick', 'spec', 'progress', 'feel')"
_NOW = (
    "kind IN ('bar', 'rule', 'price', 'pick', 'spec', 'progress', 'feel', 'race', 'worth', "
    "'versions', 'correction')"
)


def upgrade() -> None:
    """Add the table, the kinds and what a link opens."""
    op.drop_constraint(op.f("ck_cards_kind_known"), "cards")
    op.create_check_constraint(op.f("ck_cards_kind_known"), "cards", _NOW)
    op.add_column(
        "links", sa.Column("opens", sa.String(length=10), server_default="page", nullable=False)
    )
    op.create_check_constraint(op.f("ck_links_opens_known"), "links", "opens IN ('page', 'race')")
    op.create_table(
        "clips",
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("card_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(length=300), nullable=False),
        sa.Column("asked", JSONB(), nullable=False),
        sa.Column("revision", sa.BigInteger(), nullable=False),
        sa.Column("state", sa.String(length=10), nullable=False),
        sa.Column("step", sa.String(length=200), nullable=False),
        sa.Column("done", sa.Float(), nullable=False),
        sa.Column("problem", sa.Text(), nullable=True),
        sa.Column("size", sa.BigInteger(), nullable=True),
        sa.Column("film", sa.LargeBinary(), nullable=True),
        sa.Column("seen_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column(
            "created_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint(
            "state IN ('running', 'done', 'failed', 'ended')", name=op.f("ck_clips_state_known")
        ),
        sa.ForeignKeyConstraint(
            ["card_id"], ["cards.id"], name=op.f("fk_clips_card_id"), ondelete="RESTRICT"
        ),
        sa.ForeignKeyConstraint(
            ["shootout_id"],
            ["shootouts.id"],
            name=op.f("fk_clips_shootout_id"),
            ondelete="RESTRICT",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_clips")),
    )
    op.create_index(op.f("ix_clips_shootout_id"), "clips", ["shootout_id"])


def downgrade() -> None:
    """Take them away; refused by the database while there are such cards."""
    op.drop_table("clips")
    op.drop_constraint(op.f("ck_links_opens_known"), "links")
    op.drop_column("links", "opens")
    op.drop_constraint(op.f("ck_cards_kind_known"), "cards")
    op.create_check_constraint(op.f("ck_cards_kind_known"), "cards", _BEFORE)
