"""Promises of a desk that it has not kept yet, and when they are due."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import UTC, datetime, timedelta
from typing import NamedTuple, TypedDict

from sealpacket.core.coverage import Ruling
from sealpacket.core.life import OPEN, Life, Turn
from sealpacket.core.sheets import Answer, severity_of
from sealpacket.core.sheets.clock import Due, Span, covered_hours, due_at, promised
from sealpacket.core.sheets.model import Escalation, Hours, Promises
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
    promise = _promises(packet, ruling, answers)
    if promise is None:
        return None
    pauses = our_turns(packet)
    begun = _begun(packet, packet.lodged_at)
    dues = [
        NextDue(what, at)
        for what, since in begun.items()
        if (at := promise.due(what, since, pauses)) is not None
    ]
    return min(dues, key=lambda due: due.at, default=None)


def zone_of_desk(packet: Packet) -> str:
    """The time zone of the packet's desk; empty if its sheet has no hours."""
    hours = parsed(packet.sheet).hours if packet.sheet else None
    return hours.zone if hours else ""


def escalation_at(packet: Packet, due: NextDue | None) -> datetime | None:
    """From when the desk's rules let us escalate what it has not kept; None: they do not, or we have done so.

    A desk that promises no times may be escalated when its own time is over and it has not said a word.
    """
    if packet.life not in OPEN or packet.turn != Turn.VENDOR or packet.lodged_at is None:
        return None
    allowed = [at for step in rules_of(packet) if (at := allowed_at(packet, step))]
    first = min(allowed, default=None)
    heard = max(_heard(packet), default=None)
    ours = (one for one in packet.messages if one.act == "escalate" and not one.taken_back_at)
    if first is None or any(heard is None or one.at > heard for one in ours):
        return None
    if due is not None:
        return max(due.at, first)
    return first if heard is None and first > packet.lodged_at else None


def rules_of(packet: Packet) -> Sequence[Escalation]:
    """The steps of escalation that the desk of a packet allows."""
    severity = parsed(packet.sheet).severity if packet.sheet else None
    return severity.escalation if severity else ()


def allowed_at(packet: Packet, step: Escalation) -> datetime | None:
    """From when a step of escalation is allowed; None for a packet that is not lodged yet."""
    if packet.lodged_at is None:
        return None
    return packet.lodged_at + timedelta(hours=step.after_hours)


class Kept(TypedDict):
    """When a desk's first answer and its repair were due, and when they came; None for what is not known yet."""

    answer_due_at: datetime | None
    answered_at: datetime | None
    repair_due_at: datetime | None
    repaired_at: datetime | None


def kept(packet: Packet, ruling: Ruling | None, answers: Sequence[Answer]) -> Kept:
    """Promised and actual times of a packet. A repair counts as done when the desk has answered or it is settled."""
    found = Kept(answer_due_at=None, answered_at=None, repair_due_at=None, repaired_at=None)
    if packet.lodged_at is None:
        return found
    found["answered_at"] = next(_heard(packet), None)
    found["repaired_at"] = _repaired_at(packet)
    promise = _promises(packet, ruling, answers)
    if promise is not None:
        found["answer_due_at"] = _due_of(packet, promise, "first_answer", found["answered_at"])
        found["repair_due_at"] = _due_of(packet, promise, "repair", found["repaired_at"])
    return found


def _repaired_at(packet: Packet) -> datetime | None:
    """When the desk answered for good; when it was settled, if that came without an answer for us to look at."""
    if packet.life not in (Life.ANSWERED, Life.SETTLED):
        return None
    ours = [one for one in packet.turns if one.turn != Turn.NONE][-1:]
    answered = ours[0].at if ours and ours[0].turn == Turn.OURS else None
    return answered or packet.settled_at or packet.turn_since


def _due_of(
    packet: Packet, promise: _Promises, what: Due, kept_at: datetime | None
) -> datetime | None:
    """When a promise is or was due; None while it is our turn, since its time does not count then."""
    begun = packet.lodged_at
    if begun is None or (kept_at is None and packet.turn != Turn.VENDOR):
        return None
    pauses = our_turns(packet)
    return promise.due(what, begun, [one for one in pauses if kept_at is None or one[0] < kept_at])


class _Promises(NamedTuple):
    """The promises of a desk for one severity, and the hours in which their time counts."""

    promises: Promises
    hours: Hours | None

    def due(self, what: Due, since: datetime, pauses: Sequence[Span]) -> datetime | None:
        text: str = getattr(self.promises, what)
        return due_at(self.hours, since, promised(text), pauses) if text else None


def _promises(packet: Packet, ruling: Ruling | None, answers: Sequence[Answer]) -> _Promises | None:
    sheet = parsed(packet.sheet) if packet.sheet else None
    if sheet is None or sheet.severity is None:
        return None
    promises = sheet.severity.promises.get(severity_of(sheet, answers))
    if promises is None:
        return None
    return _Promises(promises, covered_hours((ruling.hours if ruling else None) or "", sheet.hours))


def _heard(packet: Packet) -> Iterator[datetime]:
    return (one.at for one in packet.messages if one.direction == "in" and not one.stranger)


def _begun(packet: Packet, lodged_at: datetime) -> dict[Due, datetime]:
    """By each promise that is not kept yet, the moment from which its time counts."""
    heard = [*_heard(packet)]
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
