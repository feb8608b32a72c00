"""The roles of the private cluster: who keeps it, and whom the app works as."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import psycopg
from psycopg import sql

KEEPER = "app"
"""Whom the cluster is made with: it starts, makes databases and roles, and nothing else."""
USER = "true_margin"
"""Whom the app works as: an ordinary role, which runs no program and reads no file of the server,
whatever a dump that is brought back would have it do."""
DATABASE = "true_margin"
Connect = Callable[[str], psycopg.Connection[Any]]


def ensure_database(connect: Connect, password: str) -> None:
    """Make the app's role and its database, where they are not there or are the keeper's.

    Args:
        connect: connects the keeper to a database of the cluster, by name.
        password: of the app's role from now on.
    """
    role = sql.Identifier(USER)
    with connect("postgres") as connection:
        known = "select 1 from pg_roles where rolname = %s"
        if connection.execute(known, (USER,)).fetchone() is None:
            connection.execute(sql.SQL("create role {} login createdb").format(role))
        connection.execute(
            sql.SQL("alter role {} nosuperuser createdb password {}").format(
                role, sql.Literal(password)
            )
        )
        query = (
            "select datname, pg_get_userbyid(datdba) = %s from pg_database "
            "where datname = %s or datname like %s"
        )
        # Those that were kept aside when a backup was brought back are the app's too.
        rows = connection.execute(query, (USER, DATABASE, f"{DATABASE}_%")).fetchall()
        found = {str(name): bool(own) for name, own in rows}
        if DATABASE not in found:
            # kn sorts "Task 2" before "Task 10"; und favours no language.
            connection.execute(
                f"create database {DATABASE} template template0 owner {USER} "
                f"locale_provider icu icu_locale 'und-u-kn-true' locale 'C.UTF-8'"
            )
        for name in (name for name, own in found.items() if not own):
            _hand_over(connect, connection, name)


def _hand_over(connect: Connect, connection: psycopg.Connection[Any], name: str) -> None:
    """Give a database that the keeper made, with all that is in it, to the app's role."""
    with connect(name) as inside:
        inside.execute(_HAND_OVER.format(role=USER))
    owned = sql.SQL("alter database {} owner to {}")
    connection.execute(owned.format(sql.Identifier(name), sql.Identifier(USER)))


_HAND_OVER = """
do $$
declare each record;
begin
  for each in
    select format('alter %s %s owner to {role}',
        case relkind when 'S' then 'sequence' when 'v' then 'view' else 'table' end,
        oid::regclass) as statement
    from pg_class
    where relnamespace = 'public'::regnamespace and relkind in ('r', 'p', 'v', 'S')
      and not exists (select 1 from pg_depend
        where objid = pg_class.oid and deptype in ('a', 'i') and relkind = 'S')
    union all
    select format('alter routine %s owner to {role}', oid::regprocedure)
    from pg_proc where pronamespace = 'public'::regnamespace
    union all
    select format('alter type %s owner to {role}', oid::regtype)
    from pg_type where typnamespace = 'public'::regnamespace and typtype = 'e'
    union all
    select format('alter type %s owner to {role}', pg_type.oid::regtype)
    from pg_type join pg_class on pg_class.oid = typrelid
    where typnamespace = 'public'::regnamespace and typtype = 'c' and relkind = 'c'
  loop
    execute each.statement;
  end loop;
end $$
"""
