"""Asking again whether the worker is done: soon at first, then at growing intervals."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TypeVar

from sealpacket.client.errors import ClientError

T = TypeVar("T")
AT_ONCE, FIRST, LONGEST, GROWTH = True, 0.25, 1.5, 1.5
"""Whether to look without a pause, the first pause (seconds), the longest, and the factor between one and the next."""


def poll(
    look: Callable[[], T],
    done: Callable[[T], bool],
    *,
    seconds: float,
    overdue: Callable[[T], ClientError],
    progress: Callable[[T], None] | None = None,
) -> T:
    """Return what `look` gives as soon as it is `done`; `progress` gets everything that it gives.

    Raises:
        ClientError: as `overdue` says, after `seconds`.
    """
    end, pause = time.monotonic() + seconds, FIRST
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
        time.sleep(pause)
        pause = min(pause * GROWTH, LONGEST)
