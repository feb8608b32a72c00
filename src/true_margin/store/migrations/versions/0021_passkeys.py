"""Passkeys, what they are asked to sign, recovery codes; a bench clock that does not jump."""

import sqlalchemy as sa
from alembic import op

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None


def _person(table: str, *, nullable: bool = False) -> tuple[sa.Column, sa.ForeignKeyConstraint]:
    return sa.Column("person_id", sa.Uuid(), nullable=nullable), sa.ForeignKeyConstraint(
        ["person_id"], ["people.id"], name=f"fk_{table}_person_id", ondelete="RESTRICT"
    )


def upgrade() -> None:
    """Add the tables."""
    moment = sa.DateTime(timezone=True)
    op.create_table(
        "passkeys",
        sa.Column("id", sa.Uuid(), nullable=False),
        *_person("passkeys"),
        sa.Column("credential_id", sa.LargeBinary(), nullable=False),
        sa.Column("public_key", sa.LargeBinary(), nullable=False),
        sa.Column("sign_count", sa.BigInteger(), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("made_at", moment, server_default=sa.func.now(), nullable=False),
        sa.Column("used_at", moment),
        sa.Column("ended_at", moment),
        sa.PrimaryKeyConstraint("id", name="pk_passkeys"),
        sa.UniqueConstraint("credential_id", name="uq_passkeys_credential_id"),
        sa.CheckConstraint("btrim(name) <> ''", name="ck_passkeys_name_filled"),
    )
    op.create_table(
        "passkey_challenges",
        sa.Column("id", sa.Uuid(), nullable=False),
        *_person("passkey_challenges", nullable=True),
        sa.Column("challenge", sa.LargeBinary(), nullable=False),
        sa.Column("at", moment, nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_passkey_challenges"),
        sa.UniqueConstraint("challenge", name="uq_passkey_challenges_challenge"),
    )
    op.create_table(
        "recovery_codes",
        sa.Column("id", sa.Uuid(), nullable=False),
        *_person("recovery_codes"),
        sa.Column("code_hash", sa.String(64), nullable=False),
        sa.Column("made_at", moment, server_default=sa.func.now(), nullable=False),
        sa.Column("used_at", moment),
        sa.Column("withdrawn_at", moment),
        sa.PrimaryKeyConstraint("id", name="pk_recovery_codes"),
        sa.UniqueConstraint("person_id", "code_hash", name="uq_recovery_codes_person_id_code_hash"),
    )
    op.create_table(
        "bench_clocks",
        sa.Column("machine_start", sa.String(120), nullable=False),
        sa.Column("began_ms", sa.Float(), nullable=False),
        sa.Column("made_at", moment, server_default=sa.func.now(), nullable=False),
        sa.PrimaryKeyConstraint("machine_start", name="pk_bench_clocks"),
    )
    for table in ("passkeys", "passkey_challenges", "recovery_codes"):
        op.create_index(f"ix_{table}_person_id", table, ["person_id"])
    op.create_index("ix_passkey_challenges_at", "passkey_challenges", ["at"])


def downgrade() -> None:
    """Take them back: people sign in by their passwords again."""
    for table in ("bench_clocks", "recovery_codes", "passkey_challenges", "passkeys"):
        op.drop_table(table)
