"""A card of how editing felt."""

from alembic import op

revision = "0030"
down_revision = "0029"
branch_labels = None
depends_on = None

_BEFORE = "kind IN ('bar', 'rule', 'price', 'pick', 'spec', 'progress')"
_NOW = "kind IN ('bar', 'rule', 'price', 'pick', 'spec', 'progress', 'feel')"


def upgrade() -> None:
    """Let a card be of how editing felt."""
    op.drop_constraint(op.f("ck_cards_kind_known"), "cards")
    op.create_check_constraint(op.f("ck_cards_kind_known"), "cards", _NOW)


def downgrade() -> None:
    """Take the kind away; refused by the database while there is such a card."""
    op.drop_constraint(op.f("ck_cards_kind_known"), "cards")
    op.create_check_constraint(op.f("ck_cards_kind_known"), "cards", _BEFORE)
