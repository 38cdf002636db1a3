"""Promises of a desk that it has not kept yet, and when they are due."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import UTC, datetime
from typing import NamedTuple

from sealpacket.core.coverage import Ruling
from sealpacket.core.life import OPEN, Life, Turn
from sealpacket.core.sheets import Answer, severity_of
from sealpacket.core.sheets.clock import Due, Span, covered_hours, due_at, promised
from sealpacket.services.desks import parsed
from sealpacket.store.models import Packet


class NextDue(NamedTuple):
    """The promise that is due next, and when."""

    what: Due
    at: datetime


def next_due(packet: Packet, ruling: Ruling | None, answers: Sequence[Answer]) -> NextDue | None:
    """The promise that the desk has to keep next; None if there is none, or while it is our turn."""
    if packet.life not in OPEN or packet.turn != Turn.VENDOR or packet.lodged_at is None:
        return None
    sheet = parsed(packet.sheet) if packet.sheet else None
    if sheet is None or sheet.severity is None:
        return None
    promises = sheet.severity.promises.get(severity_of(sheet, answers))
    if promises is None:
        return None
    hours = covered_hours((ruling.hours if ruling else None) or "", sheet.hours)
    pauses = our_turns(packet)
    begun = _begun(packet, packet.lodged_at)
    dues = [
        NextDue(what, at)
        for what, since in begun.items()
        if (text := getattr(promises, what))
        and (at := due_at(hours, since, promised(text), pauses)) is not None
    ]
    return min(dues, key=lambda due: due.at, default=None)


def _begun(packet: Packet, lodged_at: datetime) -> dict[Due, datetime]:
    """By each promise that is not kept yet, the moment from which its time counts."""
    heard = [one.at for one in packet.messages if one.direction == "in" and not one.stranger]
    owed: dict[Due, datetime] = {}
    if heard:
        owed["next_word"] = max(heard[-1], packet.turn_since)
    else:
        owed["first_answer"] = lodged_at
    if packet.life != Life.ANSWERED:
        owed["repair"] = lodged_at
    return owed


def our_turns(packet: Packet) -> list[Span]:
    """The periods in which it was our turn: clocks of the desk are stopped."""
    return list(_ours(packet, datetime.now(UTC)))


def _ours(packet: Packet, now: datetime) -> Iterator[Span]:
    since: datetime | None = None
    for change in packet.turns:
        if change.turn == Turn.OURS and since is None:
            since = change.at
        elif change.turn != Turn.OURS and since is not None:
            yield since, change.at
            since = None
    if since is not None:
        yield since, now
