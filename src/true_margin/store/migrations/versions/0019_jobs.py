"""What a request asked for and a process beside the requests does is called a job."""

from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None

RENAMED = ("ck_{}_state_known", "fk_{}_person_id", "pk_{}")
QUEUED = (
    "UPDATE procrastinate_jobs SET task_name = '{new}', "
    "args = (args - '{old}_id') || jsonb_build_object('{new}_id', args -> '{old}_id') "
    "WHERE task_name = '{old}'"
)


def upgrade() -> None:
    """Rename the table, and what waits in the queue."""
    _rename("errands", "jobs", "told", "request")
    op.execute(QUEUED.format(old="errand", new="job"))


def downgrade() -> None:
    """Give them their old names again."""
    _rename("jobs", "errands", "request", "told")
    op.execute(QUEUED.format(old="job", new="errand"))


def _rename(old: str, new: str, old_column: str, new_column: str) -> None:
    op.rename_table(old, new)
    op.alter_column(new, old_column, new_column_name=new_column)
    for name in RENAMED:
        op.execute(
            f"ALTER TABLE {new} RENAME CONSTRAINT {name.format(old)} TO {name.format(new)}"
        )
    op.execute(f"ALTER INDEX ix_{old}_person_id RENAME TO ix_{new}_person_id")
