"""Bringing the database to the newest version, and giving the service the least rights that it needs."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine, text
from sqlalchemy.engine import Connection, make_url
from sqlalchemy.exc import ProgrammingError

from sealpacket.core.errors import Conflict, DatabaseUnreachable
from sealpacket.store.database import translated, why_refused


def migrate(owner_url: str, service_url: str | None = None) -> None:
    """Upgrade as the owner of the tables. If `service_url` is another role, that role gets rights on rows only.

    Two copies that start at once wait for one another.
    """
    engine = create_engine(owner_url, hide_parameters=True)
    try:
        with _said(), translated(), engine.begin() as connection:
            connection.execute(text("SELECT pg_advisory_xact_lock(hashtext('sealpacket migrate'))"))
            _refuse_others(connection)
            command.upgrade(alembic_config(connection), "head")
            role = make_url(service_url).username if service_url else None
            if role and role != make_url(owner_url).username:
                _grant(connection, role)
    finally:
        engine.dispose()


def _refuse_others(connection: Connection) -> None:
    """Raise Conflict for a role that does not own the tables, even if there is nothing to upgrade."""
    owns = text(
        "SELECT to_regclass('alembic_version') IS NULL OR has_table_privilege('alembic_version', 'UPDATE')"
    )
    if connection.scalar(owns) is False:
        raise _not_the_owner()


def _not_the_owner() -> Conflict:
    return Conflict(
        "This role may not change tables.",
        "Set SEALPACKET_OWNER_URL to the role that owns them, for this command only.",
        code="not-the-owner",
    )


@contextmanager
def _said() -> Iterator[None]:
    """Say what the database refuses to a role that may not change tables, or to a sign-in."""
    try:
        yield
    except (ProgrammingError, DatabaseUnreachable) as error:
        cause = error if isinstance(error, ProgrammingError) else error.__cause__
        state = getattr(getattr(cause, "orig", None), "sqlstate", None)
        if state == "42501":
            raise _not_the_owner() from error
        if refused := why_refused(cause):
            raise Conflict(
                f"The database refuses the sign-in: {refused}.",
                "Check SEALPACKET_OWNER_URL or SEALPACKET_DATABASE_URL.",
                code="sign-in",
            ) from error
        raise


def alembic_config(connection: Connection) -> Config:
    """Alembic's settings, without a file."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["connection"] = connection
    return config


def newest() -> str:
    """The version of the tables that this code knows."""
    names = (path.name for path in (Path(__file__).parent / "migrations/versions").glob("0*.py"))
    return max(names)[:4]


def _grant(connection: Connection, role: str) -> None:
    """Rows only: no table can be changed, and the custody log can only be added to."""
    name = connection.dialect.identifier_preparer.quote(role)
    for statement in (
        f"GRANT USAGE ON SCHEMA public TO {name}",
        f"GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO {name}",
        f"GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO {name}",
        f"GRANT EXECUTE ON ALL FUNCTIONS IN SCHEMA public TO {name}",
        f"REVOKE UPDATE, DELETE, TRUNCATE ON custody_entry FROM {name}",
        f"REVOKE ALL ON alembic_version FROM {name}",
        f"GRANT SELECT ON alembic_version TO {name}",
    ):
        connection.execute(text(statement))
