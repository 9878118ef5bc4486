"""The database and its owner: the application's role owns its schema and has no powers beyond it."""

from __future__ import annotations

from typing import Any

import psycopg
from psycopg import conninfo, sql

from .errors import translated

__all__ = ["create_database"]

_OWNED = """
SELECT format(
  'ALTER %%s %%s OWNER TO ',
  CASE c.relkind WHEN 'S' THEN 'SEQUENCE' WHEN 'v' THEN 'VIEW' ELSE 'TABLE' END,
  c.oid::regclass
) FROM pg_class c
WHERE c.relnamespace = 'public'::regnamespace AND c.relkind IN ('r', 'v', 'S', 'p') AND c.relowner <> %(role)s::regrole
  AND NOT EXISTS (SELECT FROM pg_depend d WHERE d.objid = c.oid AND d.deptype IN ('e', 'i', 'a'))
UNION ALL
SELECT format('ALTER FUNCTION %%s OWNER TO ', p.oid::regprocedure) FROM pg_proc p
WHERE p.pronamespace = 'public'::regnamespace AND p.proowner <> %(role)s::regrole
  AND NOT EXISTS (SELECT FROM pg_depend d WHERE d.objid = p.oid AND d.deptype = 'e')
UNION ALL
SELECT format('ALTER TYPE %%s OWNER TO ', t.oid::regtype) FROM pg_type t
WHERE t.typnamespace = 'public'::regnamespace AND t.typtype = 'e' AND t.typowner <> %(role)s::regrole
  AND NOT EXISTS (SELECT FROM pg_depend d WHERE d.objid = t.oid AND d.deptype = 'e')
"""
"""What in a database belongs to somebody else, as the beginning of the statement that changes it."""


def create_database(url: str, admin_url: str) -> None:
    """Make the role and the database that a connection string names, where they are not there.

    With another ``admin_url`` the role is made without powers (it may make databases of its
    own, for tests), and what was made in its database by others becomes its own.
    """
    parts = conninfo.conninfo_to_dict(url)
    name, role = str(parts["dbname"]), str(parts["user"])
    with translated(), psycopg.connect(_at(admin_url, "postgres"), autocommit=True) as connection:
        if url != admin_url:
            known = connection.execute("SELECT 1 FROM pg_roles WHERE rolname = %s", (role,)).fetchone()
            statement = sql.SQL("ALTER ROLE {} WITH {}" if known else "CREATE ROLE {} WITH {}")
            powers = sql.SQL("LOGIN NOSUPERUSER CREATEDB NOCREATEROLE PASSWORD {}").format(
                sql.Literal(str(parts.get("password") or ""))
            )
            connection.execute(statement.format(sql.Identifier(role), powers))
        owner = connection.execute(
            "SELECT pg_get_userbyid(datdba) FROM pg_database WHERE datname = %s", (name,)
        ).fetchone()
        if owner is None:
            connection.execute(
                sql.SQL("CREATE DATABASE {} OWNER {}").format(sql.Identifier(name), sql.Identifier(role))
            )
        elif owner[0] != role and url != admin_url:
            connection.execute(
                sql.SQL("ALTER DATABASE {} OWNER TO {}").format(sql.Identifier(name), sql.Identifier(role))
            )
    if url != admin_url:
        _hand_over(_at(admin_url, name), role)


def _at(url: str, database: str) -> str:
    parts: dict[str, Any] = {**conninfo.conninfo_to_dict(url), "dbname": database}
    return conninfo.make_conninfo("", **parts)


def _hand_over(url: str, role: str) -> None:
    """Everything in a database becomes the role's."""
    with psycopg.connect(url) as connection:
        connection.execute(sql.SQL("ALTER SCHEMA public OWNER TO {}").format(sql.Identifier(role)))
        for (statement,) in connection.execute(_OWNED, {"role": role}).fetchall():
            connection.execute(sql.SQL(statement) + sql.Identifier(role))
