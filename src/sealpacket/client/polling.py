"""Asking again whether the worker is done: soon at first, then at growing intervals."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TypeVar

from sealpacket.client.errors import ClientError, NoWorker

T = TypeVar("T")
AT_ONCE, FIRST, LONGEST, GROWTH = True, 0.25, 1.5, 1.5
"""Whether to look without a pause, the first pause (seconds), the longest, and the factor between one and the next."""


WORKER_EVERY = 30.0
"""Seconds between two looks whether there is a worker at all."""


def poll(
    look: Callable[[], T],
    done: Callable[[T], bool],
    *,
    seconds: float,
    overdue: Callable[[T], ClientError],
    has_worker: Callable[[], bool],
    progress: Callable[[T], None] | None = None,
) -> T:
    """Return what `look` gives as soon as it is `done`; `progress` gets everything that it gives.

    Raises:
        NoWorker: `has_worker` was false twice, half a minute apart.
        ClientError: as `overdue` says, after `seconds`.
    """
    end, pause = time.monotonic() + seconds, FIRST
    next_look, missing = time.monotonic() + WORKER_EVERY, False
    if not AT_ONCE:
        time.sleep(pause)
    while True:
        found = look()
        if progress:
            progress(found)
        if done(found):
            return found
        if time.monotonic() > end:
            raise overdue(found)
        if time.monotonic() > next_look:
            next_look = time.monotonic() + WORKER_EVERY
            missing, before = not has_worker(), missing
            if missing and before:
                raise NoWorker(
                    "No worker runs, so nothing is redacted, lodged or followed.",
                    "Have one started: sealpacket-service work. What waits then goes on.",
                )
        time.sleep(pause)
        pause = min(pause * GROWTH, LONGEST)
