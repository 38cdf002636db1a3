"""The job queue: Procrastinate in our own PostgreSQL, so that a job is enqueued by the transaction that needs it."""

from __future__ import annotations

import random
from typing import Any

import procrastinate
from sqlalchemy.engine import make_url
from sqlalchemy.orm import Session


def conninfo(database_url: str) -> str:
    """A libpq address from SQLAlchemy's."""
    return make_url(database_url).set(drivername="postgresql").render_as_string(hide_password=False)


def queue_app(database_url: str) -> procrastinate.App:
    """The queue's application, for a worker as for those who only put jobs in."""
    return procrastinate.App(
        connector=procrastinate.PsycopgConnector(conninfo=conninfo(database_url))
    )


class Enqueuer:
    """Puts jobs into the queue through the caller's own session: no commit, no job."""

    def __init__(self, app: procrastinate.App) -> None:
        self._app = app

    def __call__(
        self, session: Session, task: str, arguments: dict[str, Any], lock: str, wait: int = 0
    ) -> None:
        """Enqueue `task`, to run in `wait` seconds at the earliest; jobs with the same lock run one after another.

        Each lies in a queue that is called as its task.
        """
        delay = {"seconds": wait} if wait else None
        connection = session.connection().connection.driver_connection
        self._app.configure_task(
            name=task, queue=task, lock=lock, connection=connection, schedule_in=delay
        ).defer(**arguments)


_CHANCE = random.SystemRandom()
LONGEST_PAUSE = 900
"""Seconds between two tries, at most."""


def pause_before(tried: int) -> int:
    """Seconds before the next try: 2, 4, 8, … up to 15 minutes, less up to a quarter so that not all come at once."""
    whole = min(2 ** (min(tried, 30) + 1), LONGEST_PAUSE)
    return max(1, int(whole * (1 - _CHANCE.random() / 4)))
