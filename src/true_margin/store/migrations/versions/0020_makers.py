"""Links and presets know who made them; tries to sign in know the browser that made them.

Who made a link that waits is known by name only, so what a person made is withdrawn: whoever
may still make it makes it anew.
"""

import sqlalchemy as sa
from alembic import op

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None

PERSON = ("invitations", "made_by_id"), ("presets", "person_id")


def upgrade() -> None:
    """Add the columns and the table of browsers that are known."""
    for table, column in PERSON:
        op.add_column(table, sa.Column(column, sa.Uuid()))
        name = f"fk_{table}_{column}"
        op.create_foreign_key(name, table, "people", [column], ["id"], ondelete="RESTRICT")
        op.create_index(f"ix_{table}_{column}", table, [column])
    op.execute(
        "UPDATE invitations SET withdrawn_at = now() "
        "WHERE used_at IS NULL AND withdrawn_at IS NULL AND made_by <> 'local person'"
    )
    op.drop_constraint("uq_presets_name", "presets")
    op.create_index(
        "uq_presets_person_id_name",
        "presets",
        ["person_id", "name"],
        unique=True,
        postgresql_nulls_not_distinct=True,
    )
    op.create_table(
        "known_browsers",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("token_hash", sa.String(64), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.Column("forgotten_at", sa.DateTime(timezone=True)),
        sa.PrimaryKeyConstraint("id", name="pk_known_browsers"),
        sa.UniqueConstraint("token_hash", name="uq_known_browsers_token_hash"),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name="fk_known_browsers_person_id",
            ondelete="RESTRICT",
        ),
    )
    op.create_index("ix_known_browsers_person_id", "known_browsers", ["person_id"])
    op.add_column("sign_in_tries", sa.Column("browser_id", sa.Uuid()))
    op.create_foreign_key(
        "fk_sign_in_tries_browser_id", "sign_in_tries", "known_browsers",
        ["browser_id"], ["id"], ondelete="RESTRICT",
    )
    op.create_index("ix_sign_in_tries_browser_id", "sign_in_tries", ["browser_id"])


def downgrade() -> None:
    """Take them back; of presets of one name the oldest keeps it."""
    op.drop_column("sign_in_tries", "browser_id")
    op.drop_table("known_browsers")
    op.drop_index("uq_presets_person_id_name", "presets")
    op.execute(
        "UPDATE presets SET name = left(name, 70) || ' ' || left(id::text, 8) WHERE id NOT IN "
        "(SELECT DISTINCT ON (name) id FROM presets ORDER BY name, person_id NULLS FIRST, id)"
    )
    op.create_unique_constraint("uq_presets_name", "presets", ["name"])
    for table, column in PERSON:
        op.drop_column(table, column)
