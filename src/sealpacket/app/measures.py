"""Counters and durations of running processes, for monitoring (Prometheus). What the database knows is not counted
here: see services.measures."""

from __future__ import annotations

import os
from functools import cache
from pathlib import Path

from prometheus_client import CollectorRegistry, Counter, Histogram, multiprocess, values

_FOLDER = "PROMETHEUS_MULTIPROC_DIR"
_SECONDS = (0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30, 60, 300)


class Measures:
    """The counters of this process, or those that the processes of one server share."""

    def __init__(self) -> None:
        shared = os.environ.get(_FOLDER)
        self.registry = CollectorRegistry()
        # The files of processes that share a folder are read when they are asked for.
        own = None if shared else self.registry
        if shared:
            multiprocess.MultiProcessCollector(self.registry, path=shared)  # type: ignore[no-untyped-call]
        self.requests = Histogram(
            "sealpacket_request_seconds",
            "Requests by route and status, and how long they took.",
            ("method", "route", "status"),
            buckets=_SECONDS,
            registry=own,
        )
        self.jobs = Histogram(
            "sealpacket_job_seconds",
            "Jobs by task and outcome, and how long they took.",
            ("task", "outcome"),
            buckets=_SECONDS,
            registry=own,
        )
        self.failed_sign_ins = Counter(
            "sealpacket_failed_sign_ins",
            "Sign-ins that were refused, by reason.",
            ("reason",),
            registry=own,
        )


@cache
def measures() -> Measures:
    """The counters of this process, made when they are first needed."""
    return Measures()


def share(folder: Path) -> None:
    """Have the processes that are forked from this one count together, in files of an empty folder."""
    os.environ[_FOLDER] = str(folder)
    values.ValueClass = values.MultiProcessValue()  # type: ignore[no-untyped-call]


def ended(process: int) -> None:
    """A process that counted with others has ended; what it counted stays."""
    if _FOLDER in os.environ:
        multiprocess.mark_process_dead(process)  # type: ignore[no-untyped-call]
