"""People, what they may do, invitations, where they are signed in; whose a paired device is."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

ROLE = "role IN ('owner', 'editor', 'reader')"
KEPT = ("people", "memberships", "invitations", "signed_in")
AT = sa.DateTime(timezone=True)


def _key(table):
    return (sa.Column("id", sa.Uuid(), nullable=False),
            sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{table}")))


def _made():
    return sa.Column("made_at", AT, server_default=sa.func.now(), nullable=False)


def _refers(table, column, to):
    return sa.ForeignKeyConstraint([column], [f"{to}.id"], name=op.f(f"fk_{table}_{column}"),
                                   ondelete="RESTRICT")


def upgrade() -> None:
    """Add them."""
    op.create_table(
        "people", *_key("people"),
        sa.Column("email", sa.String(254), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("password_hash", sa.String(200), nullable=False),
        _made(), sa.Column("ended_at", AT),
        sa.CheckConstraint("btrim(name) <> ''", name=op.f("ck_people_name_filled")),
        sa.CheckConstraint("btrim(email) <> ''", name=op.f("ck_people_email_filled")),
        sa.UniqueConstraint("email", name=op.f("uq_people_email")),
    )
    op.create_table(
        "memberships", *_key("memberships"),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid()),
        sa.Column("role", sa.String(10), nullable=False),
        _made(), sa.Column("made_by", sa.String(80), nullable=False),
        sa.Column("ended_at", AT),
        sa.CheckConstraint(ROLE, name=op.f("ck_memberships_role_known")),
        _refers("memberships", "person_id", "people"),
        _refers("memberships", "shootout_id", "shootouts"),
    )
    op.create_index("uq_memberships_standing", "memberships", ["person_id", "shootout_id"],
                    unique=True, postgresql_where="ended_at IS NULL",
                    postgresql_nulls_not_distinct=True)
    op.create_table(
        "invitations", *_key("invitations"),
        sa.Column("token_hash", sa.String(64), nullable=False),
        sa.Column("role", sa.String(10)),
        sa.Column("shootout_id", sa.Uuid()),
        sa.Column("person_id", sa.Uuid()),
        sa.Column("note", sa.String(120)),
        _made(), sa.Column("made_by", sa.String(80), nullable=False),
        sa.Column("expires_at", AT, nullable=False),
        sa.Column("used_at", AT), sa.Column("withdrawn_at", AT),
        sa.CheckConstraint(ROLE, name=op.f("ck_invitations_role_known")),
        sa.CheckConstraint("(role IS NULL) = (person_id IS NOT NULL)",
                           name=op.f("ck_invitations_role_or_person")),
        _refers("invitations", "person_id", "people"),
        _refers("invitations", "shootout_id", "shootouts"),
        sa.UniqueConstraint("token_hash", name=op.f("uq_invitations_token_hash")),
    )
    op.create_table(
        "signed_in", *_key("signed_in"),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("token_hash", sa.String(64), nullable=False),
        sa.Column("browser", sa.String(200), nullable=False),
        sa.Column("address", sa.String(80), nullable=False),
        _made(), sa.Column("seen_at", AT, nullable=False), sa.Column("ended_at", AT),
        _refers("signed_in", "person_id", "people"),
        sa.UniqueConstraint("token_hash", name=op.f("uq_signed_in_token_hash")),
    )
    for table in ("memberships", "invitations", "signed_in"):
        op.create_index(op.f(f"ix_{table}_person_id"), table, ["person_id"])
    for table in ("memberships", "invitations"):
        op.create_index(op.f(f"ix_{table}_shootout_id"), table, ["shootout_id"])
    op.create_table(
        "sign_in_tries", *_key("sign_in_tries"),
        sa.Column("email", sa.String(254), nullable=False),
        sa.Column("address", sa.String(80), nullable=False),
        sa.Column("at", AT, nullable=False),
        sa.Column("worked", sa.Boolean(), nullable=False),
    )
    op.create_index("ix_sign_in_tries_email_at", "sign_in_tries", ["email", "at"])
    op.create_index("ix_sign_in_tries_address_at", "sign_in_tries", ["address", "at"])
    for table in ("pair_codes", "paired_devices"):
        op.add_column(table, sa.Column("person_id", sa.Uuid()))
        op.create_foreign_key(op.f(f"fk_{table}_person_id"), table, "people", ["person_id"],
                              ["id"], ondelete="RESTRICT")
        op.create_index(op.f(f"ix_{table}_person_id"), table, ["person_id"])
    for table in KEPT:
        op.execute(
            f"create trigger keep_{table} before delete on {table} "
            "for each row execute function keep_rows()"
        )


def downgrade() -> None:
    """Take them back."""
    for table in ("pair_codes", "paired_devices"):
        op.drop_index(op.f(f"ix_{table}_person_id"), table)
        op.drop_constraint(op.f(f"fk_{table}_person_id"), table, type_="foreignkey")
        op.drop_column(table, "person_id")
    op.drop_table("sign_in_tries")
    for table in reversed(KEPT):
        op.execute(f"drop trigger keep_{table} on {table}")
        op.drop_table(table)
