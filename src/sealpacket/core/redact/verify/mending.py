"""Redact again what still leaks."""

from __future__ import annotations

from collections.abc import Callable

from sealpacket.core.redact.search import Catalogue

MENDS = 2
"""Maximum number of times that leaking copies are redacted again."""

Leaking = set[tuple[str, bytes]]
"""Kinds and originals that are still in a copy."""


def mend(
    catalogue: Catalogue,
    check: Callable[[], Leaking | None],
    redact: Callable[[Catalogue], None],
) -> bool:
    """Check copies; redact those that leak again, with what leaked as known values, until none leaks.

    `check` returns None if all copies are clean. Returns whether they are in the end.
    """
    for attempt in range(MENDS + 1):
        leaking = check()
        if leaking is None:
            return True
        if attempt < MENDS:
            catalogue = catalogue.with_values(leaking)
            redact(catalogue)
    return False
