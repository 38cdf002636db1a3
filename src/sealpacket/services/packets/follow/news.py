"""What a desk says about a case, noted in the packet."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from email.utils import parseaddr
from typing import Any
from urllib.parse import urlsplit

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict
from sealpacket.core.sheets import (
    CaseNews,
    Refusal,
    Sheet,
    has_reference,
    read_case,
    read_reference,
    read_refusals,
)
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.lodge.deliveries import note_refusal, references
from sealpacket.services.packets.workbench import OPEN
from sealpacket.store.models import Message, Packet, PacketCase

_LONGEST_REFERENCE = 200


LIVES = ("lodged", "answered", "settled")


def take_in(
    app: AppContext, actor: Actor, number: str, body: Any, original: str | None = None
) -> bool:
    """What a desk sent of its own accord about a packet: its reference, a status, a message, a refusal.

    `original` is the blob with what came as it came; gives whether it is kept. Of a mail from somebody who is not the
    desk, only the words are taken: they wait for a person, and change nothing.
    """
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        if packet.sheet is None or packet.life not in ("sealed", "refused", *LIVES):
            raise Conflict(
                f"{number} is {packet.life}; no desk can know of it.",
                "Nothing was taken in.",
                code="not-lodged",
            )
        packet_id, sheet = packet.id, parsed(packet.sheet)
    sender = str(body.get("mail", {}).get("from", "")) if isinstance(body, dict) else ""
    stranger = sheet.replies.by == "mail" and not _is_desk(app, sheet, sender)
    return note_news(app, actor, packet_id, sheet, body, None, original, sender, stranger=stranger)


def _is_desk(app: AppContext, sheet: Sheet, sender: str) -> bool:
    """Whether a mail says that it comes from the domain to which we write."""
    ours = urlsplit(app.settings.desks.get(sheet.desk, "")).path.rpartition("@")[2].lower()
    theirs = parseaddr(sender)[1].rpartition("@")[2].lower()
    return bool(ours) and (theirs == ours or theirs.endswith(f".{ours}"))


def note_news(
    app: AppContext,
    actor: Actor,
    packet_id: str,
    sheet: Sheet,
    body: Any,
    reference: str | None,
    original: str | None = None,
    sender: str = "",
    *,
    stranger: bool = False,
) -> bool:
    news, refusals = read_case(sheet, body), read_refusals(sheet, body)
    if reference is None and has_reference(sheet, body):
        reference = " ".join(read_reference(sheet, body).split())[:_LONGEST_REFERENCE]
    with app.transaction(actor, "news of the case", "packet") as tx:
        packet = tx.session.get_one(Packet, packet_id, with_for_update=True)
        tx.subject = f"packet {packet.number}"
        before = {message.id for message in packet.messages}
        if stranger:
            tx.detail = {"from": sender[:300], **_words_only(packet, news)}
        else:
            tx.detail = {"status": news.status, **_noted(packet, news, refusals, reference)}
        new = [message for message in packet.messages if message.id not in before]
        for message in new:
            message.original_blob, message.sender, message.stranger = (
                original,
                sender[:300],
                stranger,
            )
        tx.worth_noting = bool(tx.detail.pop("changed"))
        return bool(original and new)


def _words_only(packet: Packet, news: CaseNews) -> dict[str, Any]:
    """Keep the words of somebody who is not the desk; they wait for us."""
    words = tuple(message.model_copy(update={"asks": True}) for message in news.messages)
    new = _new_messages(packet, news.model_copy(update={"messages": words}), None)
    packet.turn = whose_turn(packet)
    return {"messages": new, "changed": bool(new)}


def _noted(
    packet: Packet, news: CaseNews, refusals: tuple[Refusal, ...], reference: str | None
) -> dict[str, Any]:
    case = _case_for(packet, reference)
    new = _new_messages(packet, news, case)
    before = (case.desk_status, case.reference, dict(case.desk_facts))
    case.desk_status = news.status or case.desk_status
    case.reference = reference or case.reference
    if news.life == "refused":
        if packet.life in ("sealed", *OPEN):
            for one in packet.cases:
                one.sent = False
            note_refusal(packet, [reason.model_dump() for reason in refusals], news.status)
        return {"messages": new, "changed": True, "refused": [reason.code for reason in refusals]}
    case.life, case.turn = news.life, news.turn
    case.desk_facts = {**case.desk_facts, **news.told}
    packet.followed_at = datetime.now(UTC)
    _sum_up(packet)
    after = (case.desk_status, case.reference, dict(case.desk_facts))
    return {"messages": new, "changed": bool(new) or before != after}


def _case_for(packet: Packet, reference: str | None) -> PacketCase:
    """The case of this reference; else the first that waits for one."""
    known = (one for one in packet.cases if reference and one.reference == reference)
    waiting = (one for one in packet.cases if not one.reference)
    return next(known, None) or next(waiting, packet.cases[0])


def _sum_up(packet: Packet) -> None:
    """How the packet stands, from how its cases stand: as far as the one that is furthest behind."""
    packet.reference = references(packet)
    packet.desk_status = ", ".join(
        f"{one.label}: {one.desk_status or 'sent'}" if len(packet.cases) > 1 else one.desk_status
        for one in packet.cases
    )
    packet.life = min((one.life or "lodged" for one in packet.cases), key=LIVES.index)
    packet.settled_at = (
        (packet.settled_at or packet.followed_at) if packet.life == "settled" else None
    )
    packet.turn = whose_turn(packet)


def whose_turn(packet: Packet) -> str:
    """Whose turn it is: ours while any case waits for us."""
    waiting = any(message.asks and message.answered_at is None for message in packet.messages)
    ours = any(one.turn == "ours" for one in packet.cases)
    return "ours" if waiting or ours else "vendor"


def _new_messages(packet: Packet, news: CaseNews, case: PacketCase | None) -> int:
    known = {message.desk_id for message in packet.messages if message.case is case}
    vendor = packet.asset.vendor.name if packet.asset else ""
    count = 0
    for message in news.messages:
        if message.id in known or not message.text:
            continue
        count += 1
        at = _after(packet, _moment(message.at))
        packet.messages.append(
            Message(
                case=case,
                desk_id=message.id,
                direction="in",
                text=message.text[:20_000],
                asks=message.asks,
                at=at,
                by=vendor,
            )
        )
    return count


def _after(packet: Packet, moment: datetime) -> datetime:
    """Desks tell the time in whole seconds: of two messages within one, the one that came later is the later one."""
    latest = max((message.at for message in packet.messages), default=moment - timedelta(days=1))
    return (
        latest + timedelta(microseconds=1)
        if timedelta(0) <= latest - moment < timedelta(seconds=1)
        else moment
    )


def _moment(text: str) -> datetime:
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        return datetime.now(UTC)
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)
