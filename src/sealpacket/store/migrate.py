"""Bringing the database to the newest version, and giving the service the least rights that it needs."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine, text
from sqlalchemy.engine import Connection, make_url

from sealpacket.store.database import translated


def migrate(owner_url: str, service_url: str | None = None) -> None:
    """Upgrade as the owner of the tables. If `service_url` is another role, that role gets rights on rows only.

    Two copies that start at once wait for one another.
    """
    engine = create_engine(owner_url, hide_parameters=True)
    try:
        with translated(), engine.begin() as connection:
            connection.execute(text("SELECT pg_advisory_xact_lock(hashtext('sealpacket migrate'))"))
            command.upgrade(alembic_config(connection), "head")
            role = make_url(service_url).username if service_url else None
            if role and role != make_url(owner_url).username:
                _grant(connection, role)
    finally:
        engine.dispose()


def alembic_config(connection: Connection) -> Config:
    """Alembic's settings, without a file."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["connection"] = connection
    return config


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
    ):
        connection.execute(text(statement))
