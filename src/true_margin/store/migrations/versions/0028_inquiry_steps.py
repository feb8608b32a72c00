"""Inquiries as dated steps, with runs and entries of the log; what stood there becomes steps."""

import sqlalchemy as sa
from alembic import op

revision = "0028"
down_revision = "0027"
branch_labels = None
depends_on = None

_KINDS = "kind IN ('suspected', 'changed', 'tried again', 'came out', 'opened again')"
_COUNTS = "counts IN ('before', 'again', 'both', 'none')"


def _to(table: str, column: str, other: str) -> sa.ForeignKeyConstraint:
    name = op.f(f"fk_{table}_{column}_{other}")
    return sa.ForeignKeyConstraint([column], [f"{other}.id"], name=name, ondelete="RESTRICT")


def upgrade() -> None:
    """Make the tables of steps, and a step of everything that an inquiry says."""

    def check(rule: str, name: str) -> sa.CheckConstraint:
        return sa.CheckConstraint(rule, name=op.f(f"ck_inquiry_steps_{name}"))

    op.create_table(
        "inquiry_steps",
        sa.Column("inquiry_id", sa.Uuid(), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("words", sa.String(1000), nullable=True),
        sa.Column("counts", sa.String(10), nullable=True),
        sa.Column("who", sa.String(120), nullable=False),
        sa.Column("noted_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("id", sa.Uuid(), nullable=False),
        check(_KINDS, "kind_known"),
        check(_COUNTS, "counts_known"),
        check("btrim(words) <> ''", "words_filled"),
        check("place >= 1", "place_range"),
        check("kind = 'tried again' OR words IS NOT NULL", "words_present"),
        check("counts IS NULL OR kind = 'came out'", "counts_at_the_end"),
        _to("inquiry_steps", "inquiry_id", "inquiries"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_inquiry_steps")),
        sa.UniqueConstraint("inquiry_id", "place", name=op.f("uq_inquiry_steps_inquiry_id_place")),
    )
    op.create_table(
        "inquiry_seen",
        sa.Column("step_id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=True),
        sa.Column("trouble_id", sa.Uuid(), nullable=True),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.CheckConstraint(
            "num_nonnulls(trial_id, trouble_id) = 1", name=op.f("ck_inquiry_seen_one_entry")
        ),
        _to("inquiry_seen", "step_id", "inquiry_steps"),
        _to("inquiry_seen", "trial_id", "trials"),
        _to("inquiry_seen", "trouble_id", "troubles"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_inquiry_seen")),
        sa.UniqueConstraint("step_id", "trial_id", name=op.f("uq_inquiry_seen_step_id_trial_id")),
        sa.UniqueConstraint(
            "step_id", "trouble_id", name=op.f("uq_inquiry_seen_step_id_trouble_id")
        ),
    )
    op.add_column("inquiry_runs", sa.Column("step_id", sa.Uuid(), nullable=True))
    op.create_foreign_key(
        op.f("fk_inquiry_runs_step_id_inquiry_steps"),
        "inquiry_runs",
        "inquiry_steps",
        ["step_id"],
        ["id"],
        ondelete="RESTRICT",
    )
    op.execute(
        """
        insert into inquiry_steps (id, inquiry_id, place, kind, words, counts, who, noted_at)
        select gen_random_uuid(), id, row_number() over (partition by id order by at), kind,
               words, counts, who, noted_at
        from (
            select id, 1 as at, 'suspected' as kind, suspected as words, null as counts, who,
                   opened_at as noted_at
            from inquiries
            union all
            select id, 2, 'changed', changed, null, who, opened_at
            from inquiries where btrim(changed) <> ''
            union all
            select id, 3, 'tried again', null, null, who, opened_at
            from inquiries where id in (select inquiry_id from inquiry_runs)
            union all
            select id, 4, 'came out', outcome, counts, who, coalesce(closed_at, opened_at)
            from inquiries where btrim(outcome) <> ''
        ) as told
        """
    )
    op.execute(
        """
        update inquiry_runs set step_id = inquiry_steps.id from inquiry_steps
        where inquiry_steps.inquiry_id = inquiry_runs.inquiry_id
              and inquiry_steps.kind = 'tried again'
        """
    )


def downgrade() -> None:
    """Take the steps away; what the last ones say stands with the inquiry."""
    op.drop_constraint(op.f("fk_inquiry_runs_step_id_inquiry_steps"), "inquiry_runs")
    op.drop_column("inquiry_runs", "step_id")
    op.drop_table("inquiry_seen")
    op.drop_table("inquiry_steps")
