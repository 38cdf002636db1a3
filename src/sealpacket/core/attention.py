"""Why a packet needs us, and in which order what needs us is dealt with."""

from __future__ import annotations

from datetime import datetime, timedelta
from enum import StrEnum


class Attention(StrEnum):
    """Why a packet needs us: the most urgent of its reasons; `theirs` and `over` do not."""

    OVERDUE = "overdue"
    DUE_SOON = "due_soon"
    ASKED = "asked"
    REFUSED = "refused"
    DOUBTFUL = "doubtful"
    BY_HAND = "by_hand"
    WAITING = "waiting"
    THEIRS = "theirs"
    OVER = "over"


ORDER = tuple(Attention)
"""The order in which packets are dealt with; within one reason, those that have waited longest come first."""
SOON = timedelta(hours=1)
"""How long before it is due a packet counts as due soon."""


def due_as(reason: Attention, due_at: datetime | None, at: datetime) -> Attention:
    """The reason at a moment: what is due goes before why it needs us otherwise."""
    if due_at is None or reason == Attention.OVER:
        return reason
    if due_at <= at:
        return Attention.OVERDUE
    return Attention.DUE_SOON if due_at <= at + SOON else reason
