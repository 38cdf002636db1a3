"""Which acts on a case are currently possible, and if not, why; and facts from the desk that an act can use."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta

from sealpacket.core.life import AT_DESK, OPEN, Life
from sealpacket.core.sheets import UpdateKind
from sealpacket.services.packets.follow.schemas import ActShown, ToldOfShipment
from sealpacket.services.packets.workbench import sheet_of
from sealpacket.store.models import Packet


def too_late(packet: Packet, days: int) -> str:
    if not days or packet.settled_at is None:
        return ""
    until = packet.settled_at + timedelta(days=days)
    if datetime.now(UTC) <= until:
        return ""
    return f"The desk opens a case again for {days} days; that was until {until:%d %b %Y}."


def possible(packet: Packet) -> Iterator[ActShown]:
    """Every act on a case, whether it is possible now, and if not, why."""
    if packet.sheet is None or packet.life not in AT_DESK:
        return
    sheet = sheet_of(packet)
    is_open, answered = packet.life in OPEN, any(c.life == Life.ANSWERED for c in packet.cases)
    over = "" if is_open else "It is settled."
    rules = sheet.severity.escalation if sheet.severity else ()
    rule = sheet.acts.get("open_again")
    late = too_late(packet, rule.within_days if rule else 0)
    reasons: dict[UpdateKind, str] = {
        "comment": over,
        "severity": over or ("" if sheet.severities else "The desk has no scale of severities."),
        "escalate": over or ("" if rules else "The desk has no rule for it."),
        "contact": over,
        "told": over,
        "accept": over or ("" if answered else "The desk has proposed no answer."),
        "contest": over or ("" if answered else "The desk has proposed no answer."),
        "rate": "" if answered or not is_open else "There is no answer yet.",
        "close": over,
        "open_again": late if not is_open else "It is open.",
    }
    for act, because in reasons.items():
        written = sheet.acts.get(act)
        own = written is not None and bool(written.path or written.words)
        yield ActShown(act=act, possible=not because, because=because, own=own)


def told_of_shipment(packet: Packet) -> ToldOfShipment:
    """Facts about a shipment that the desk has given, by the sheet."""
    sheet = sheet_of(packet) if packet.sheet else None
    labels = {one.means: one.label for one in sheet.replies.facts} if sheet else {}
    known = {label: value for case in packet.cases for label, value in case.desk_facts.items()}
    return ToldOfShipment(
        carrier=str(known.get(labels.get("carrier", ""), "")),
        tracking=str(known.get(labels.get("tracking", ""), "")),
        serial=str(known.get(labels.get("serial", ""), "")),
        return_by=_day(str(known.get(labels.get("return_by", ""), ""))),
    )


def _day(text: str) -> date | None:
    """A day as in ISO 8601; None for any other text."""
    try:
        return date.fromisoformat(text.strip()[:10])
    except ValueError:
        return None
