"""Whether the worker is there: without it nothing is redacted, sent or followed."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from typing import Any

from pydantic import BaseModel
from sqlalchemy import text
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.errors import ProblemError
from sealpacket.services.packets.inbound_mail import poll
from sealpacket.store.migrate import newest


class Health(BaseModel):
    """The service answers, and so does its database; whether a worker is there, and when one was seen last.

    `mailbox` is false if the last attempt to read the configured mailbox failed; it is true if none is configured.
    """

    database: bool
    worker: bool
    worker_seen_at: datetime | None
    mailbox: bool


class Ready(BaseModel):
    """Whether a copy of the service can serve, and the parts that it needs; without a worker it still serves."""

    ready: bool
    database: bool
    tables: bool
    keys: bool
    files: bool
    worker: bool


BEAT, SILENT = 5, 20
"""Seconds between heartbeats of a worker, and of silence after which it counts as dead and others take its jobs."""


def health(app: AppContext) -> Health:
    """Whether database, worker and mailbox are there. Raises DatabaseUnreachable."""
    with app.database.transaction() as session:
        return Health(
            database=True, **worker_state(session), mailbox=not poll.trouble(app, session)
        )


def ready(app: AppContext) -> Ready:
    """Whether this copy of the service can answer: its database with tables that it knows, its keys, its files."""
    parts = {"database": False, "tables": False, "worker": False}
    with suppress(ProblemError), app.database.transaction() as session:
        parts["database"] = True
        parts["tables"] = _tables(session) >= newest()
        parts["worker"] = worker_state(session)["worker"]
    parts["keys"] = _works(lambda: (app.ring, app.seal_keys))
    parts["files"] = _works(app.blobs.look)
    needed = all(parts[name] for name in ("database", "tables", "keys", "files"))
    return Ready(ready=needed, **parts)


def tables(app: AppContext) -> str:
    """The version of the tables. Raises DatabaseUnreachable."""
    with app.database.transaction() as session:
        return _tables(session)


def _tables(session: Session) -> str:
    return str(session.scalar(text("SELECT version_num FROM alembic_version")) or "")


def _works(act: Callable[[], object]) -> bool:
    try:
        act()
    except (ProblemError, OSError, ValueError):
        return False
    return True


def worker_state(session: Session) -> dict[str, Any]:
    """Whether a worker is there, and when one was seen last; None if there never was one since the last clean end."""
    seen: datetime | None = session.scalar(
        text("SELECT max(last_heartbeat) FROM procrastinate_workers")
    )
    return {
        "worker": seen is not None and datetime.now(UTC) - seen < timedelta(seconds=SILENT),
        "worker_seen_at": seen,
    }
