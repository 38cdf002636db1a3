"""Whether the worker is there: without it nothing is redacted, sent or followed."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from pydantic import BaseModel
from sqlalchemy import text
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.services.packets.inbound_mail import poll


class Health(BaseModel):
    """The service answers, and so does its database; whether a worker is there, and when one was seen last.

    `mailbox` is false if the last attempt to read the configured mailbox failed; it is true if none is configured.
    """

    database: bool
    worker: bool
    worker_seen_at: datetime | None
    mailbox: bool


BEAT, SILENT = 5, 20
"""Seconds between heartbeats of a worker, and of silence after which it counts as dead and others take its jobs."""


def health(app: AppContext) -> Health:
    """Whether database, worker and mailbox are there. Raises DatabaseUnreachable."""
    with app.database.transaction() as session:
        return Health(
            database=True, **worker_state(session), mailbox=not poll.trouble(app, session)
        )


def worker_state(session: Session) -> dict[str, Any]:
    """Whether a worker is there, and when one was seen last; None if there never was one since the last clean end."""
    seen: datetime | None = session.scalar(
        text("SELECT max(last_heartbeat) FROM procrastinate_workers")
    )
    return {
        "worker": seen is not None and datetime.now(UTC) - seen < timedelta(seconds=SILENT),
        "worker_seen_at": seen,
    }
