"""Measures for monitoring: the age of queues, the state of packets, exhibits and desks, the last backup."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any

from prometheus_client.core import GaugeMetricFamily, Metric
from sqlalchemy import func, select, text
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.services.liveness import worker_state
from sealpacket.services.packets.inbound_mail import poll
from sealpacket.store.models import DeskHealth, Exhibit, Packet

_QUEUES = text(
    """
    SELECT task_name, status::text, count(*), extract(epoch FROM now() - min(coalesce(scheduled_at, begun)))
    FROM procrastinate_jobs LEFT JOIN LATERAL (
        SELECT min(at) AS begun FROM procrastinate_events WHERE job_id = procrastinate_jobs.id
    ) AS first ON true
    WHERE status IN ('todo', 'doing', 'failed') AND (status <> 'todo' OR coalesce(scheduled_at, now()) <= now())
    GROUP BY task_name, status
    """
)


def measured(app: AppContext) -> list[Metric]:
    """The measures of this house at this moment, all in one look. Raises DatabaseUnreachable."""
    with app.database.transaction() as session:
        return [
            *_queues(session),
            *_states(session),
            *_desks(session),
            _one(
                "sealpacket_worker_present",
                "Whether a worker was seen lately.",
                float(worker_state(session)["worker"]),
            ),
            _one(
                "sealpacket_mailbox_readable",
                "Whether the last attempt to read the configured mailbox succeeded.",
                float(not poll.trouble(app, session)),
            ),
            *_backup(app),
        ]


def _one(name: str, words: str, value: float) -> Metric:
    return GaugeMetricFamily(name, words, value=value)


def _queues(session: Session) -> Iterator[Metric]:
    number = GaugeMetricFamily(
        "sealpacket_queue_jobs", "Jobs whose time has come, by task and state.", labels=("task", "state")
    )  # fmt: skip
    age = GaugeMetricFamily(
        "sealpacket_queue_oldest_seconds", "How long the oldest job of a task has waited.", labels=("task",)
    )  # fmt: skip
    for task, state, count, seconds in session.execute(_QUEUES):
        number.add_metric((task, state), count)
        if state == "todo":
            age.add_metric((task,), max(0.0, float(seconds or 0)))
    yield number
    yield age


def _states(session: Session) -> Iterator[Metric]:
    columns: tuple[tuple[str, str, Any], ...] = (
        ("sealpacket_packets", "Packets by their life.", Packet.life),
        ("sealpacket_exhibits", "Exhibits by state.", Exhibit.state),
    )
    for name, words, column in columns:
        found = GaugeMetricFamily(name, words, labels=("state",))
        for state, count in session.execute(select(column, func.count()).group_by(column)):
            found.add_metric((state,), count)
        yield found
    leaks = func.count().filter(Exhibit.leaks > 0)
    looked, leaking, size = session.execute(
        select(
            func.count().filter(Exhibit.state == "ready"),
            leaks,
            func.coalesce(func.sum(Exhibit.size).filter(Exhibit.state == "ready"), 0),
        )
    ).one()
    checks = GaugeMetricFamily(
        "sealpacket_leak_checks", "Outgoing copies that are kept, by what the leak check found.", labels=("found",)
    )  # fmt: skip
    checks.add_metric(("nothing",), looked - leaking)
    checks.add_metric(("originals",), leaking)
    yield checks
    yield _one(
        "sealpacket_redacted_bytes", "Bytes of redacted exhibits that are kept.", float(size)
    )


def _desks(session: Session) -> Iterator[Metric]:
    failures = GaugeMetricFamily(
        "sealpacket_desk_failures", "Failed calls of a desk in a row; 0 once it has answered.", labels=("desk",)
    )  # fmt: skip
    away = GaugeMetricFamily(
        "sealpacket_desk_away_seconds", "For how long a desk has not answered.", labels=("desk",)
    )  # fmt: skip
    now = datetime.now(UTC)
    for one in session.scalars(select(DeskHealth).order_by(DeskHealth.desk)):
        failures.add_metric((one.desk,), one.failures)
        since = one.since if one.failures else None
        away.add_metric((one.desk,), (now - since).total_seconds() if since else 0.0)
    yield failures
    yield away


def _backup(app: AppContext) -> Iterator[Metric]:
    mark = app.settings.backup_mark
    if mark is None:
        return
    at = mark.stat().st_mtime if mark.exists() else 0.0
    yield _one(
        "sealpacket_last_backup_timestamp_seconds",
        "When the file of SEALPACKET_BACKUP_MARK was touched last; 0 if it is not there.",
        at,
    )
