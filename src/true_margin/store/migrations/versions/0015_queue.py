"""Work that waits: the tables of the queue library, as its pinned version makes them."""

from alembic import op
from procrastinate import App, PsycopgConnector

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add them."""
    script = App(connector=PsycopgConnector()).schema_manager.get_schema()
    # Several statements and percent signs: only the driver itself takes them as they are.
    op.get_bind().connection.driver_connection.execute(script)


def downgrade() -> None:
    """Take them back."""
    op.execute("""
        do $$
        declare found record;
        begin
          for found in select tablename from pg_tables
            where schemaname = 'public' and tablename like 'procrastinate\\_%' loop
            execute format('drop table %I cascade', found.tablename);
          end loop;
          for found in select p.oid::regprocedure as name from pg_proc p
            join pg_namespace n on n.oid = p.pronamespace
            where n.nspname = 'public' and p.proname like 'procrastinate\\_%' loop
            execute format('drop function %s cascade', found.name);
          end loop;
          for found in select typname from pg_type t
            join pg_namespace n on n.oid = t.typnamespace
            where n.nspname = 'public' and t.typname like 'procrastinate\\_%'
              and t.typtype in ('e', 'c') loop
            execute format('drop type %I cascade', found.typname);
          end loop;
        end $$
    """)
