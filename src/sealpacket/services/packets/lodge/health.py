"""How desks are reached: one breaker for each, and how many calls it is given at a time."""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta

from sqlalchemy import text
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.app.queue import pause_before
from sealpacket.core.sheets import Sheet
from sealpacket.store.models import DeskHealth

MANY_FAILURES = 3
"""Number of failures in a row after which a desk is not called for a while."""
LONGEST_CLOSED = 300
"""Seconds for which a desk is left alone at most: one try in that time costs nobody anything."""
_ONE_TRY = timedelta(seconds=90)
"""For so long one try has the closed desk to itself."""


def closed_until(session: Session, desk: str) -> tuple[datetime, str] | None:
    """Until when nothing is sent to a desk, and why; None if it may be called.

    Once the time is up the first who asks may call, and others wait for what comes of it.
    """
    now = datetime.now(UTC)
    if not _is_closed(session.get(DeskHealth, desk)):
        return None
    health = _read_locked(session, desk)
    if health.closed_until is None or not _is_closed(health):
        return None
    if health.closed_until > now:
        return health.closed_until, health.words
    health.closed_until = now + _ONE_TRY
    return None


def _is_closed(health: DeskHealth | None) -> bool:
    return (
        health is not None and health.failures >= MANY_FAILURES and health.closed_until is not None
    )


def open_for_one(session: Session, desk: str) -> None:
    """A person wants it tried now: the next call is let through."""
    health = session.get(DeskHealth, desk)
    if health is not None and health.closed_until is not None:
        _read_locked(session, desk).closed_until = datetime.now(UTC)


def is_failing(session: Session, desk: str) -> bool:
    """Whether a desk could not be reached when it was called last."""
    health = session.get(DeskHealth, desk)
    return health is not None and health.failures > 0


def was_reached(app: AppContext, desk: str) -> bool:
    """Note that a desk answered; gives whether it had been closed, so that what waits for it can go at once."""
    with app.database.transaction() as session:
        if not is_failing(session, desk):
            return False
        health = _read_locked(session, desk)
        was_closed = health.failures >= MANY_FAILURES
        health.failures, health.words = 0, ""
        health.since = health.closed_until = None
        return was_closed


def was_away(app: AppContext, desk: str, words: str) -> None:
    """Note that a desk could not be reached."""
    now = datetime.now(UTC)
    with app.database.transaction() as session:
        health = _locked(session, desk)
        health.failures += 1
        health.words, health.since = words[:500], health.since or now
        if health.failures >= MANY_FAILURES:
            pause = min(pause_before(health.failures), LONGEST_CLOSED)
            health.closed_until = now + timedelta(seconds=pause)


def _read_locked(session: Session, desk: str) -> DeskHealth:
    """The health of a known desk, locked until the end of the transaction."""
    return session.get_one(DeskHealth, desk, with_for_update=True, populate_existing=True)


def _locked(session: Session, desk: str) -> DeskHealth:
    made = insert(DeskHealth).values(desk=desk, failures=0, words="")
    session.execute(made.on_conflict_do_nothing())
    return session.get_one(DeskHealth, desk, with_for_update=True)


@contextmanager
def turn_at(app: AppContext, sheet: Sheet) -> Iterator[None]:
    """Wait until the desk may be called: not more calls at once, and not more in a minute, than its sheet allows."""
    pace = sheet.pace
    if pace.in_a_minute:
        _wait_for_minute(app, sheet.desk, 60 / pace.in_a_minute)
    if not pace.at_once:
        yield
        return
    with app.database.engine.connect() as connection:
        place = 0
        while not connection.scalar(_TRY_LOCK, {"name": f"desk {sheet.desk} {place}"}):
            place = (place + 1) % pace.at_once
            connection.commit()
            if place == 0:
                time.sleep(0.05)
        connection.commit()
        try:
            yield
        finally:
            connection.execute(_UNLOCK, {"name": f"desk {sheet.desk} {place}"})
            connection.commit()


_TRY_LOCK = text("SELECT pg_try_advisory_lock(hashtextextended(:name, 0))")
_UNLOCK = text("SELECT pg_advisory_unlock(hashtextextended(:name, 0))")


_LONGEST_TURN = timedelta(minutes=10)


def _wait_for_minute(app: AppContext, desk: str, seconds: float) -> None:
    now = datetime.now(UTC)
    with app.database.transaction() as session:
        health = _locked(session, desk)
        # A clock that was set back must not stop a desk until its old time comes again.
        mine = min(max(now, health.free_at or now), now + _LONGEST_TURN)
        health.free_at = mine + timedelta(seconds=seconds)
    time.sleep((mine - now).total_seconds())
