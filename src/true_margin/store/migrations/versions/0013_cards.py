"""Cards that are kept, links to public pages, their editions, and reports."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

KEPT = ("cards", "links", "editions")


def _stamps(version=True):
    columns = [sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(),
                         nullable=False)]
    if version:
        columns.append(sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
    return columns


def upgrade() -> None:
    """Add them."""
    op.create_table(
        "cards",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(10), nullable=False),
        sa.Column("task_id", sa.Uuid(), nullable=True),
        sa.Column("viewer_id", sa.Uuid(), nullable=True),
        sa.Column("setups", JSONB(), nullable=False),
        sa.Column("title", sa.String(200), nullable=True),
        sa.Column("subtitle", sa.String(300), nullable=True),
        sa.Column("source", sa.String(300), nullable=True),
        sa.Column("seconds", sa.Double(), nullable=False),
        sa.Column("retired_at", sa.DateTime(timezone=True), nullable=True),
        *_stamps(),
        sa.CheckConstraint("kind IN ('bar', 'rule', 'price', 'pick', 'spec', 'progress')",
                           name=op.f("ck_cards_kind_known")),
        sa.CheckConstraint("seconds > 0 AND seconds <= 3600", name=op.f("ck_cards_seconds_range")),
        sa.ForeignKeyConstraint(["shootout_id"], ["shootouts.id"],
                                name=op.f("fk_cards_shootout_id"), ondelete="RESTRICT"),
        sa.ForeignKeyConstraint(["task_id"], ["tasks.id"],
                                name=op.f("fk_cards_task_id"), ondelete="RESTRICT"),
        sa.ForeignKeyConstraint(["viewer_id"], ["viewers.id"],
                                name=op.f("fk_cards_viewer_id"), ondelete="RESTRICT"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_cards")),
    )
    op.create_index(op.f("ix_cards_shootout_id"), "cards", ["shootout_id"])
    op.add_column("shootouts", sa.Column("edition_of", sa.Uuid(), nullable=True))
    op.create_foreign_key(op.f("fk_shootouts_edition_of"), "shootouts", "shootouts",
                          ["edition_of"], ["id"], ondelete="RESTRICT")
    op.create_table(
        "links",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("token", sa.String(64), nullable=False),
        sa.Column("revoked_at", sa.DateTime(timezone=True), nullable=True),
        *_stamps(version=False),
        sa.ForeignKeyConstraint(["shootout_id"], ["shootouts.id"],
                                name=op.f("fk_links_shootout_id"), ondelete="RESTRICT"),
        sa.UniqueConstraint("token", name=op.f("uq_links_token")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_links")),
    )
    op.create_index(op.f("ix_links_shootout_id"), "links", ["shootout_id"])
    op.create_table(
        "editions",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("frozen_id", sa.Uuid(), nullable=False),
        sa.Column("note", sa.Text(), nullable=True),
        sa.Column("changes", JSONB(), nullable=False),
        sa.Column("who", sa.String(80), nullable=False),
        *_stamps(version=False),
        sa.ForeignKeyConstraint(["shootout_id"], ["shootouts.id"],
                                name=op.f("fk_editions_shootout_id"), ondelete="RESTRICT"),
        sa.ForeignKeyConstraint(["frozen_id"], ["shootouts.id"],
                                name=op.f("fk_editions_frozen_id"), ondelete="RESTRICT"),
        sa.UniqueConstraint("shootout_id", "number", name=op.f("uq_editions_shootout_id_number")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_editions")),
    )
    for table in KEPT:
        op.execute(
            f"create trigger keep_{table} before delete on {table} "
            "for each row execute function keep_rows()"
        )
    # What an edition shows stays as it was, whoever writes.
    op.execute("""
        create function stay_frozen() returns trigger language plpgsql as $$
        begin
          if old.edition_of is not null then
            raise exception 'an edition is never changed'
              using errcode = 'integrity_constraint_violation',
                    constraint = 'ck_shootouts_edition_frozen';
          end if;
          return new;
        end $$
    """)
    op.execute(
        "create trigger stay_frozen before update on shootouts "
        "for each row execute function stay_frozen()"
    )
    op.create_table(
        "reports",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shootout_id", sa.Uuid(), nullable=False),
        sa.Column("revision", sa.BigInteger(), nullable=False),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("step", sa.String(200), nullable=False),
        sa.Column("done", sa.Double(), nullable=False),
        sa.Column("problem", sa.Text(), nullable=True),
        sa.Column("html", sa.LargeBinary(), nullable=True),
        sa.Column("pdf", sa.LargeBinary(), nullable=True),
        sa.Column("seen_at", sa.DateTime(timezone=True), nullable=False),
        *_stamps(version=False),
        sa.CheckConstraint("state IN ('running', 'done', 'failed', 'ended')",
                           name=op.f("ck_reports_state_known")),
        sa.ForeignKeyConstraint(["shootout_id"], ["shootouts.id"],
                                name=op.f("fk_reports_shootout_id"), ondelete="RESTRICT"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_reports")),
    )
    op.create_index(op.f("ix_reports_shootout_id"), "reports", ["shootout_id"])


def downgrade() -> None:
    """Take them back."""
    op.drop_table("reports")
    op.execute("drop trigger stay_frozen on shootouts")
    op.execute("drop function stay_frozen()")
    for table in reversed(KEPT):
        op.execute(f"drop trigger keep_{table} on {table}")
        op.drop_table(table)
    op.drop_constraint(op.f("fk_shootouts_edition_of"), "shootouts", type_="foreignkey")
    op.drop_column("shootouts", "edition_of")
