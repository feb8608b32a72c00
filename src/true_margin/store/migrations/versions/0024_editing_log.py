"""The log of what was seen: conditions, versions, corrections and withdrawals; more kinds."""

import sqlalchemy as sa
from alembic import op

revision = "0024"
down_revision = "0023"
branch_labels = None
depends_on = None

KINDS = {
    "trials": (
        ("scrub", "seek", "playback full", "playback half", "playback quarter", "page switch")
        + ("import",),
        ("fast forward", "import of stills", "own kind"),
    ),
    "troubles": (
        ("crash", "work lost", "wrong colours", "device fails", "other"),
        ("freeze", "wrong colours in preview", "device not found", "feature not available")
        + ("memory paged out", "out of graphics memory"),
    ),
}


def _only(table: str, kinds: tuple[str, ...]) -> None:
    op.drop_constraint(op.f(f"ck_{table}_kind_known"), table)
    words = ", ".join(f"'{kind}'" for kind in kinds)
    op.create_check_constraint(op.f(f"ck_{table}_kind_known"), table, f"kind IN ({words})")


def upgrade() -> None:
    """Add what an entry says besides its grade, and how it is put right."""
    for table, (before, more) in KINDS.items():
        op.alter_column(table, "kind", type_=sa.String(30))
        _only(table, before + more)
        op.add_column(table, sa.Column("app_version", sa.String(60), nullable=True))
        op.add_column(table, sa.Column("seen_under", sa.String(200), nullable=True))
        op.add_column(table, sa.Column("timecode", sa.String(20), nullable=True))
        op.add_column(table, sa.Column("corrects_id", sa.Uuid(), nullable=True))
        op.add_column(table, sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True))
        op.add_column(table, sa.Column("withdrawn_why", sa.String(500), nullable=True))
        op.create_foreign_key(
            op.f(f"fk_{table}_corrects_id_{table}"),
            table,
            table,
            ["corrects_id"],
            ["id"],
            ondelete="RESTRICT",
        )
        op.create_check_constraint(
            op.f(f"ck_{table}_withdrawn_whole"),
            table,
            "(withdrawn_at IS NULL) = (withdrawn_why IS NULL)",
        )
    op.add_column("trials", sa.Column("own_kind", sa.String(60), nullable=True))
    op.create_check_constraint(
        op.f("ck_trials_own_kind_whole"), "trials", "(kind = 'own kind') = (own_kind IS NOT NULL)"
    )
    op.add_column("troubles", sa.Column("fixed_in", sa.String(60), nullable=True))


def downgrade() -> None:
    """Take the columns away; entries of the new kinds stop it."""
    op.drop_column("troubles", "fixed_in")
    op.drop_constraint(op.f("ck_trials_own_kind_whole"), "trials")
    op.drop_column("trials", "own_kind")
    for table, (before, _) in KINDS.items():
        op.drop_constraint(op.f(f"ck_{table}_withdrawn_whole"), table)
        op.drop_constraint(op.f(f"fk_{table}_corrects_id_{table}"), table)
        for column in (
            "withdrawn_why",
            "withdrawn_at",
            "corrects_id",
            "timecode",
            "seen_under",
            "app_version",
        ):
            op.drop_column(table, column)
        _only(table, before)
        op.alter_column(table, "kind", type_=sa.String(20))
