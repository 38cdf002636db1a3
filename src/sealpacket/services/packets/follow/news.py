"""Record what a desk says about a case."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from typing import Any
from urllib.parse import urlsplit

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict
from sealpacket.core.life import AT_DESK, HEARD, ON_ITS_WAY, Event, Life, Turn
from sealpacket.core.sheets import (
    CaseNews,
    Refusal,
    Sheet,
    has_reference,
    read_case,
    read_reference,
    read_refusals,
)
from sealpacket.core.sheets.hours import working_days_later
from sealpacket.core.sheets.mails import address_of, is_authentic
from sealpacket.core.sheets.replies import Message as Words
from sealpacket.core.sheets.replies import word_in
from sealpacket.core.sheets.reply_rules import WORDS
from sealpacket.core.wants import Want, wants_in
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.follow import vendor_files
from sealpacket.services.packets.follow.granting import offer
from sealpacket.services.packets.limits import note_grant
from sealpacket.services.packets.lodge.deliveries import note_refusal, references
from sealpacket.services.packets.lodge.waiting import SEND, begin
from sealpacket.store.models import Asked, DeskSheet, Message, Packet, PacketCase

_LONGEST_REFERENCE = 200


@dataclass(frozen=True)
class Arrival:
    """How something came: the blob with it as it came, who says that it is from them, files that came with it.

    A `stranger` is not the desk: only the words are kept. Of what nobody wrote (`automatic`) nothing waits for us. `at`
    is when a mail was written: mails may overtake each other.
    """

    original: str | None = None
    sender: str = ""
    stranger: bool = False
    automatic: bool = False
    at: datetime | None = None
    attached: Sequence[vendor_files.Attached] = ()


def take_in(
    app: AppContext,
    actor: Actor,
    number: str,
    body: Any,
    came: Arrival | None = None,
    *,
    proven: bool = False,
) -> bool:
    """Take in what a desk sent unasked about a packet: its reference, a status, a message, a refusal. Raises Conflict
    if no desk can know the packet.

    Gives whether what came with it is kept. Of a mail that does not prove that it answers us, or is not from the desk's
    domain, only the words are taken: they wait for a person, and change nothing.
    """
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        if packet.sheet is None or packet.life not in (Life.SEALED, Life.REFUSED, *AT_DESK):
            raise Conflict(
                f"{number} is {packet.life}; no desk can know of it.",
                "Nothing was taken in.",
                code="not-lodged",
            )
        packet_id, sheet = packet.id, parsed(packet.sheet)
    mail = _mail_in(body)
    sender = str(mail.get("from", ""))
    came = replace(
        came or Arrival(),
        sender=sender,
        stranger=bool(mail) and not (proven and is_desk(app, sheet, mail)),
        automatic=mail.get("automatic") in ("bounce", "reply"),
        at=written_at(body),
    )
    return note_news(app, actor, packet_id, sheet, body, None, came)


def written_at(body: Any) -> datetime | None:
    """When a mail was written, at the latest now; None for what is no mail, or says no date."""
    date = _mail_in(body).get("date")
    return min(moment_of(str(date)), datetime.now(UTC)) if date else None


def _mail_in(body: Any) -> Mapping[str, Any]:
    mail = body.get("mail") if isinstance(body, dict) else None
    return mail if isinstance(mail, dict) else {}


def is_desk(app: AppContext, sheet: Sheet, mail: Mapping[str, Any]) -> bool:
    """Whether a mail says that it comes from the domain to which we write; a desk of another way writes none.

    Where a server is trusted to look whether senders are who they say, it has to have found so.
    """
    address = urlsplit(app.settings.desks.get(sheet.desk, ""))
    ours = address.path.rpartition("@")[2].lower() if address.scheme == "mailto" else ""
    theirs = address_of(str(mail["from"])).rpartition("@")[2]
    if not ours or not (theirs == ours or theirs.endswith(f".{ours}")):
        return False
    authority = app.settings.mail_authority
    return not authority or is_authentic(mail, authority)


def note_news(
    app: AppContext,
    actor: Actor,
    packet_id: str,
    sheet: Sheet,
    body: Any,
    reference: str | None,
    came: Arrival | None = None,
) -> bool:
    """Keep what a desk says of a case; gives whether what came with it is kept.

    Raises Conflict for what is about another packet.
    """
    came = came or Arrival()
    news, refusals = _news_in(sheet, body, came), read_refusals(sheet, body)
    told = reference is None and has_reference(sheet, body)
    if told:
        reference = " ".join(read_reference(sheet, body).split())[:_LONGEST_REFERENCE]
    with app.transaction(actor, "news of the case", "packet") as tx:
        packet = tx.session.get_one(Packet, packet_id, with_for_update=True)
        tx.subject = f"packet {packet.number}"
        before = {message.id for message in packet.messages}
        if told and reference and not (came.automatic or came.stranger):
            _need_no_other(tx.session, packet, reference)
        if came.automatic:
            tx.detail = {"automatic": True, **_words_only(packet, news, asks=False)}
        elif came.stranger:
            tx.detail = {"from": came.sender[:300], **_words_only(packet, news)}
        else:
            if not news.listed and packet.sheet is not None:
                # Somebody may have put the word into the sheet since the packet was sealed.
                news = _news_in(parsed(packet.sheet.desk.sheets[-1]), body, came)
            noted = _noted(packet, sheet, news, refusals, reference, came.at)
            tx.detail = {"status": news.status, **noted}
        new = [message for message in packet.messages if message.id not in before]
        for message in new:
            message.original_blob, message.sender = came.original, came.sender[:300]
            message.stranger = came.stranger
        if new:
            vendor_files.keep(new[0], came.attached)
        tx.audited = bool(tx.detail.pop("changed"))
        if packet.delivery.next_at is None and any(one.is_unsent for one in packet.messages):
            begin(app, tx.session, packet, SEND)  # what waited for a reference
        return bool((came.original or came.attached) and new)


def _news_in(sheet: Sheet, body: Any, came: Arrival) -> CaseNews:
    """Read what a desk says by its sheet. Some text of a mail is always kept: all of it if a stranger wrote it; as an
    open question if the sheet's paths find none."""
    mail = _mail_in(body)
    if not mail:
        return read_case(sheet, body)
    news = (
        CaseNews(status="", life=Life.LODGED, turn=Turn.VENDOR, messages=())
        if came.stranger
        else read_case(sheet, body)
    )
    if any(one.text or one.files for one in news.messages):
        return news
    text = str(mail["text"]) or "[A mail without words]"
    silent = not news.status or not news.listed
    words = Words(
        id=str(mail["id"]), text=text, at=str(mail["date"]), author=str(mail["from"]),
        asks=silent, wants=_supposed(text) if silent else (),
    )  # fmt: skip
    return news.model_copy(update={"messages": (words,)})


def _need_no_other(session: Session, packet: Packet, reference: str) -> None:
    """Raise Conflict where a reference is that of another packet at the same desk."""
    query = (
        select(Packet.number)
        .join(Packet.cases)
        .join(DeskSheet, Packet.sheet_id == DeskSheet.id)
        .where(PacketCase.reference == reference, Packet.id != packet.id)
        .where(DeskSheet.desk_id == (packet.sheet.desk_id if packet.sheet else None))
    )
    other = session.scalars(query.limit(1)).one_or_none()
    if other is not None:
        raise Conflict(
            f"This is about {reference}, which is {other} and not {packet.number}.",
            f"Take it in at {other}.",
            code="other-packet",
        )


def _words_only(packet: Packet, news: CaseNews, *, asks: bool = True) -> dict[str, Any]:
    """Keep the words of somebody who is not the desk, and change nothing; they wait for us unless nobody wrote them."""
    words = tuple(
        message.model_copy(update={"asks": asks, "wants": _supposed(message.text) if asks else ()})
        for message in news.messages
    )
    new = _new_messages(packet, news.model_copy(update={"messages": words}), None)
    packet.update_turn()
    return {"messages": new, "changed": bool(new)}


def _supposed(text: str) -> tuple[Want, ...]:
    """Doubtful questions in a stranger's text; the whole text if none is recognised."""
    found = wants_in(text) or (Want(text=text[:400]),)
    return tuple(one.model_copy(update={"doubtful": True}) for one in found)


def _noted(
    packet: Packet,
    sheet: Sheet,
    news: CaseNews,
    refusals: tuple[Refusal, ...],
    reference: str | None,
    at: datetime | None,
) -> dict[str, Any]:
    case = _case_for(packet, reference)
    new = _new_messages(packet, news, case)
    if sheet.replies.settled_by == "us" and packet.life == Life.SETTLED and not new:
        return {"messages": 0, "changed": False}
    if at is not None and case.desk_said_at is not None and at < case.desk_said_at:
        case.desk_facts = {**news.facts, **case.desk_facts}
        case.reference = case.reference or reference
        packet.reference = references(packet)
        packet.update_turn()
        return {"messages": new, "changed": bool(new), "overtaken": True}
    before = (case.desk_status, case.reference, dict(case.desk_facts))
    case.desk_said_at = at or case.desk_said_at
    if not news.listed:
        if news.status != case.desk_status:
            packet.messages.append(_strange_word(packet, case, news.status, at))
        news = news.model_copy(update={"life": case.life or news.life, "turn": Turn.VENDOR})
    case.reference = reference or case.reference
    if not note_state(packet, sheet, case, news, refusals):
        return {"messages": new, "changed": True, "refused": [reason.code for reason in refusals]}
    after = (case.desk_status, case.reference, dict(case.desk_facts))
    return {"messages": new, "changed": bool(new) or before != after}


def note_state(
    packet: Packet, sheet: Sheet, case: PacketCase, news: CaseNews, refusals: Sequence[Refusal] = ()
) -> bool:
    """Record the status of a case at its desk. Returns False if the desk has refused it."""
    _settle_later(case, sheet, news)
    case.desk_status = news.status or case.desk_status
    if news.life == Life.REFUSED:
        if packet.can(Event.REFUSE):
            for one in packet.cases:
                one.sent = False
            note_refusal(packet, [reason.model_dump() for reason in refusals], news.status)
        return False
    case.life, case.turn = news.life, news.turn
    case.desk_facts = {**case.desk_facts, **news.facts}
    offer(packet, sheet, case)
    note_grant(packet, sheet, case)
    packet.following.followed_at = datetime.now(UTC)
    sum_up(packet)
    return True


def note_words(packet: Packet, sheet: Sheet, case: PacketCase | None, text: str) -> None:
    """Record the status that a person's text states, if it holds one of the sheet's status words."""
    word = word_in(sheet, text) if sheet.replies.status in ("", WORDS) else ""
    if word:
        meaning = sheet.replies.statuses[word]
        news = CaseNews(status=word, messages=(), **dict(meaning))
        note_state(packet, sheet, case or packet.cases[0], news)


def _settle_later(case: PacketCase, sheet: Sheet, news: CaseNews) -> None:
    """Keep the day from which we settle the case, counted in working days from the day it came into this state."""
    if not news.settle_after_days:
        case.settle_on = None
    elif news.status != case.desk_status or case.settle_on is None:
        today = datetime.now(UTC).date()
        case.settle_on = working_days_later(sheet.hours, today, news.settle_after_days)


def _strange_word(packet: Packet, case: PacketCase, word: str, at: datetime | None) -> Message:
    """An open question for a status that the sheet does not list."""
    vendor = packet.vendor_name
    moment = _after(packet, at or datetime.now(UTC))
    said = Message(case=case, direction="in", text=f"Status: {word}"[:20_000], by=vendor, at=moment)
    asked = f"What “{word[:200]}” means is not in the desk’s sheet."
    said.asks, said.questions = True, questions_of([Want(text=asked, doubtful=True)])
    return said


def _case_for(packet: Packet, reference: str | None) -> PacketCase:
    """The case of this reference; else the first that waits for one."""
    known = (one for one in packet.cases if reference and one.reference == reference)
    waiting = (one for one in packet.cases if not one.reference)
    return next(known, None) or next(waiting, packet.cases[0])


def sum_up(packet: Packet) -> None:
    """Derive the packet's life from its cases: it is as far as the case that is furthest behind.

    While the rest of its cases is on its way it stays sealed, or they would not be sent any more.
    """
    packet.reference = references(packet)
    packet.desk_status = ", ".join(
        f"{one.label}: {one.desk_status or 'sent'}" if len(packet.cases) > 1 else one.desk_status
        for one in packet.cases
    )
    waits = packet.delivery.state in ON_ITS_WAY and any(one.life is None for one in packet.cases)
    if packet.life != Life.SEALED or not waits:
        furthest_behind = min((one.life or Life.LODGED for one in packet.cases), key=AT_DESK.index)
        packet.advance(HEARD[furthest_behind], packet.following.followed_at)
    packet.update_turn()


def questions_of(wants: Sequence[Want]) -> list[Asked]:
    """The questions of a desk's message, each of which can be closed separately."""
    return [
        Asked(place=place, text=one.text, doubtful=one.doubtful) for place, one in enumerate(wants)
    ]


def _new_messages(packet: Packet, news: CaseNews, case: PacketCase | None) -> int:
    known = {message.desk_id for message in packet.messages if message.case is case}
    vendor = packet.vendor_name
    count = 0
    for message in news.messages:
        if message.id in known or not (message.text or message.files):
            continue
        count += 1
        at = _after(packet, moment_of(message.at))
        text = message.text[:20_000]
        kept = Message(
            case=case,
            desk_id=message.id,
            direction="in",
            text=text,
            asks=message.asks,
            at=at,
            by=(message.author or vendor)[:200],
        )
        kept.questions = questions_of(message.wants)
        packet.messages.append(kept)
        vendor_files.note(kept, message.files)
    return count


def _after(packet: Packet, moment: datetime) -> datetime:
    """Desk times have one-second resolution; keep arrival order within a second."""
    latest = max((message.at for message in packet.messages), default=moment - timedelta(days=1))
    return (
        latest + timedelta(microseconds=1)
        if timedelta(0) <= latest - moment < timedelta(seconds=1)
        else moment
    )


def moment_of(text: str) -> datetime:
    """The time that a desk gave; now, if it cannot be read."""
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        return datetime.now(UTC)
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)
