"""Following: how the case stands at the desk, what it asks, and what we answer."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from email.utils import parseaddr
from typing import Any
from urllib.parse import urlsplit

from sqlalchemy import and_, func, or_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.app.queue import wait_before
from sealpacket.channels import Desk, DeskAway, DeskRefused
from sealpacket.core.errors import Conflict, DatabaseUnreachable, Invalid, NotFound, Unavailable
from sealpacket.core.outgoing import OutgoingText
from sealpacket.core.sheets import (
    CaseNews,
    Refusal,
    Sheet,
    has_reference,
    read_case,
    read_ours,
    read_reference,
    read_refusals,
    read_reply,
)
from sealpacket.core.sheets.checks.typed import say_kinds
from sealpacket.services.desks import parsed
from sealpacket.services.packets import serialize, workbench
from sealpacket.services.packets.lodge.deliveries import desk_of, note_refusal, references
from sealpacket.services.packets.redaction import typed_text
from sealpacket.services.packets.schemas import PacketShown, TypedShown
from sealpacket.services.packets.workbench import OPEN
from sealpacket.store.models import Message, Packet, PacketCase, PickedUp

SEND = "send_message"
FOLLOW = "follow_packet"
ASKING = "asking"
_LONGEST_REFERENCE = 200
_LIVES = ("lodged", "answered", "settled")
_SETTLED_EVERY, _REOPENED_WITHIN = timedelta(hours=1), timedelta(days=90)


def follow(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Ask the worker to look at the desk. `follow_state` says whether it has, `follow_status_text` what went wrong."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number, lock=True)
        if packet.life not in _LIVES:
            raise Conflict(
                f"{packet.number} is {packet.life}; there is no case to follow.",
                "Lodge it first."
                if packet.life in ("drafting", "sealed", "refused")
                else "Nothing is left to be done.",
                code="not-lodged",
            )
        ask(app, session, packet)
        session.flush()
        return serialize.show(workbench.lay_out(app, session, packet))


def ask(app: AppContext, session: Session, packet: Packet) -> None:
    """Put a look at the desk into the queue, unless one is on its way already."""
    if packet.follow_state != ASKING:
        packet.follow_state, packet.follow_status_text = ASKING, ""
        app.enqueue(session, FOLLOW, {"number": packet.number}, packet.id)


def look(app: AppContext, number: str) -> None:
    """Look now how a case stands, and keep what came of it. The worker calls this; a desk that is away is noted."""
    words = ""
    try:
        _look(app, number)
    except (Unavailable, Conflict, Invalid, NotFound) as problem:
        if isinstance(problem, DatabaseUnreachable):
            raise
        words = f"{problem.detail} {problem.remedy}"
    except Exception:
        _looked(app, number, "Looking at the desk met an error that was not foreseen.")
        raise
    _looked(app, number, words)


def give_up_looking(app: AppContext, number: str) -> None:
    """Stop looking for now: it took the worker down with it."""
    _looked(app, number, "Looking at the desk broke off several times, each time unforeseen.")


def _looked(app: AppContext, number: str, words: str) -> None:
    with app.database.transaction() as session, suppress(NotFound):
        packet = workbench.find_packet(session, number, lock=True)
        packet.followed_at = datetime.now(UTC)
        packet.follow_state, packet.follow_status_text = ("failed", words) if words else (None, "")


def _look(app: AppContext, number: str) -> None:
    """One look. Raises Unavailable if the desk cannot be asked."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        if packet.life not in _LIVES:
            raise Conflict(f"{packet.number} is {packet.life}; there is no case to follow.", "Lodge it first.",
                           code="not-lodged")  # fmt: skip
        desk, packet_id = desk_of(app, packet), packet.id
        open_cases = [one.reference for one in packet.cases if one.reference]
    try:
        with desk:
            if desk.sheet.replies.by == "drop":
                _pick_up(app, WORKER, desk)
            told = [(reference, desk.follow(reference)) for reference in open_cases]
    except DeskAway as away:
        raise Unavailable(str(away), "Look again in a while.", code="desk-away") from away
    except DeskRefused as refusal:
        raise Unavailable(
            f"The desk does not say how {', '.join(open_cases)} stands ({refusal.status}).",
            "Check the secret of the vendor login, then look again.",
            code="desk-refused",
        ) from refusal
    for reference, body in told:
        if body is not None:
            _take_in(app, WORKER, packet_id, desk.sheet, body, reference)


def take_in(app: AppContext, actor: Actor, number: str, body: Any, original: str | None = None) -> bool:
    """What a desk sent of its own accord about a packet: its reference, a status, a message, a refusal.

    `original` is the blob with what came as it came; gives whether it is kept. Of a mail from somebody who is not the
    desk, only the words are taken: they wait for a person, and change nothing.
    """
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        if packet.sheet is None or packet.life not in ("sealed", "refused", *_LIVES):
            raise Conflict(
                f"{number} is {packet.life}; no desk can know of it.", "Nothing was taken in.", code="not-lodged"
            )
        packet_id, sheet = packet.id, parsed(packet.sheet)
    sender = str(body.get("mail", {}).get("from", "")) if isinstance(body, dict) else ""
    stranger = sheet.replies.by == "mail" and not _is_desk(app, sheet, sender)
    return _take_in(app, actor, packet_id, sheet, body, None, original, sender, stranger=stranger)


def _is_desk(app: AppContext, sheet: Sheet, sender: str) -> bool:
    """Whether a mail says that it comes from the domain to which we write."""
    ours = urlsplit(app.settings.desks.get(sheet.desk, "")).path.rpartition("@")[2].lower()
    theirs = parseaddr(sender)[1].rpartition("@")[2].lower()
    return bool(ours) and (theirs == ours or theirs.endswith(f".{ours}"))


def _take_in(
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
            message.original_blob, message.sender, message.stranger = original, sender[:300], stranger
        tx.worth_noting = bool(tx.detail.pop("changed"))
        return bool(original and new)


def _words_only(packet: Packet, news: CaseNews) -> dict[str, Any]:
    """Keep the words of somebody who is not the desk; they wait for us."""
    words = tuple(message.model_copy(update={"asks": True}) for message in news.messages)
    new = _new_messages(packet, news.model_copy(update={"messages": words}), None)
    packet.turn = _turn(packet)
    return {"messages": new, "changed": bool(new)}


def _id_of(app: AppContext, number: str) -> str:
    with app.database.transaction() as session:
        return workbench.find_packet(session, number).id


def _noted(packet: Packet, news: CaseNews, refusals: tuple[Refusal, ...], reference: str | None) -> dict[str, Any]:
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
    packet.life = min((one.life or "lodged" for one in packet.cases), key=_LIVES.index)
    packet.settled_at = (packet.settled_at or packet.followed_at) if packet.life == "settled" else None
    packet.turn = _turn(packet)


def _turn(packet: Packet) -> str:
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
            Message(case=case, desk_id=message.id, direction="in", text=message.text[:20_000], asks=message.asks,
                    at=at, by=vendor)
        )  # fmt: skip
    return count


def _after(packet: Packet, moment: datetime) -> datetime:
    """Desks tell the time in whole seconds: of two messages within one, the one that came later is the later one."""
    latest = max((message.at for message in packet.messages), default=moment - timedelta(days=1))
    return latest + timedelta(microseconds=1) if timedelta(0) <= latest - moment < timedelta(seconds=1) else moment


def _moment(text: str) -> datetime:
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        return datetime.now(UTC)
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)


def _pick_up(app: AppContext, actor: Actor, desk: Desk) -> None:
    """Read what the desk has left in its folder, whichever packet it is about; each paper once."""
    key = desk.sheet.desk
    with app.database.transaction() as session:
        known = set(session.scalars(select(PickedUp.name).where(PickedUp.desk == key)))
    for paper in desk.papers(lambda name: name in known):
        body = read_reply(desk.sheet, paper.content)
        number = read_ours(desk.sheet, body) if body is not None else ""
        packet_id = None
        with suppress(NotFound, Conflict):
            if number:
                take_in(app, actor, number, body)
                packet_id = _id_of(app, number)
        sha256 = hashlib.sha256(paper.content).hexdigest()
        picked = insert(PickedUp).values(desk=key, name=paper.name, sha256=sha256, packet_id=packet_id)
        with app.database.transaction() as session:
            # Somebody else may have picked it up in the meantime: then it is read already.
            session.execute(picked.on_conflict_do_nothing())


def follow_all(app: AppContext) -> None:
    """Look at every open case that was not lodged or looked at lately; one desk that is away stops no other.

    A settled one is looked at now and then for a while: its desk may open it again.
    """
    now = datetime.now(UTC)
    since = now - timedelta(seconds=app.settings.follow_every)
    settled = and_(Packet.life == "settled", Packet.followed_at < min(since, now - _SETTLED_EVERY),
                   Packet.lodged_at > now - _REOPENED_WITHIN)  # fmt: skip
    last = func.coalesce(Packet.followed_at, Packet.lodged_at)
    with app.database.transaction() as session:
        query = select(Packet.number).where(
            or_(and_(Packet.life.in_(OPEN), or_(last.is_(None), last < since)), settled)
        )
        numbers = list(session.scalars(query.order_by(Packet.followed_at.nulls_first()).limit(200)))
    for number in numbers:
        look(app, number)


def preview_reply(app: AppContext, number: str, text: str) -> TypedShown:
    """What would leave of an answer to the desk, beside what was typed."""
    with app.database.transaction() as session:
        packet = _answerable(workbench.find_packet(session, number))
        found = typed_text.message_text(app, session, workbench.lay_out(app, session, packet), text)
        return typed_text.show_text(found, found.texts[0])


def reply(app: AppContext, actor: Actor, number: str, text: str) -> PacketShown:
    """Answer the desk. It is redacted and kept at once, and sent by the worker, however long the desk is away.

    Raises Conflict where it holds a secret or its like about which nobody has decided.
    """
    with app.transaction(actor, "answer written", f"packet {number}", characters=len(text)) as tx:
        packet = _answerable(workbench.find_packet(tx.session, number, lock=True))
        message = _redacted(app, tx.session, packet, text)
        asking = next((m for m in reversed(packet.messages) if m.asks and m.answered_at is None), None)
        to = _case_of(packet, asking)
        message.by, message.case = actor.name, to
        packet.messages.append(message)
        for asked in packet.messages:
            if asked.asks and asked.answered_at is None and _case_of(packet, asked) is to:
                asked.answered_at = datetime.now(UTC)
        to.turn = "vendor"
        packet.turn = _turn(packet)
        tx.session.flush()
        app.enqueue(tx.session, SEND, {"message": message.id, "tried": 0}, packet.id)
        return serialize.show(workbench.lay_out(app, tx.session, packet))


def _answerable(packet: Packet) -> Packet:
    if packet.life in OPEN:
        return packet
    over = packet.life in ("settled", "withdrawn")
    raise Conflict(
        f"{packet.number} is {packet.life}; nobody waits for an answer.",
        "Note a new packet that names this one." if over else "Lodge it first.", code="not-lodged",
    )  # fmt: skip


def _redacted(app: AppContext, session: Session, packet: Packet, text: str) -> Message:
    """A message of ours with its outgoing text. Raises Conflict where it must not go, even masked, unseen."""
    found = typed_text.message_text(app, session, workbench.lay_out(app, session, packet), text)
    for _, kinds in found.grave():
        raise Conflict(
            f"The message holds {say_kinds(kinds)}. It was not sent.",
            "Take it out, or have the value masked for a reason; then send it again.", code="typed-secret",
        )  # fmt: skip
    if found.leaking:
        raise Conflict(
            f"The message holds a value that is masked elsewhere and cannot be masked here: {found.leaking[0]}.",
            "Word it without that value.", code="typed-leak",
        )  # fmt: skip
    piece = found.texts[0]
    result = found.found[piece.path]
    return Message(
        direction="out",
        text=text,
        outgoing=result.outgoing(text),
        found_sealed=typed_text.seal_found(app, packet, result),
    )


def original(app: AppContext, actor: Actor, number: str, message_id: str) -> Iterator[bytes]:
    """A desk's mail as it came. Raises NotFound if the message did not come as one."""
    with app.transaction(actor, "mail fetched", f"packet {number}") as tx:
        packet = workbench.find_packet(tx.session, number)
        found = next((message for message in packet.messages if message.id == message_id), None)
        if found is None or found.original_blob is None:
            raise NotFound("There is no mail to this message.", "Look at the packet's messages.", code="no-mail")
        return app.blobs.read(found.original_blob)


def _case_of(packet: Packet, asking: Message | None) -> PacketCase:
    """Which of the packet's cases an answer belongs to: the one that asked, else the first."""
    return (asking.case if asking else None) or packet.cases[0]


def give_up(app: AppContext, message_id: str, words: str = "Sending it broke off several times.") -> None:
    """Stop trying to send an answer."""
    with app.transaction(WORKER, "answer not sent", "packet", words=words) as tx:
        message = tx.session.get_one(Message, message_id)
        tx.subject = f"packet {message.packet.number}"
        message.failure = words
        message.packet.turn = "ours"


def send(app: AppContext, message_id: str, tried: int) -> None:
    """One try at sending an answer; while the desk is away the next one is put into the queue."""
    with app.database.transaction() as session:
        message = session.get_one(Message, message_id)
        packet = message.packet
        reference = (message.case.reference if message.case else None) or packet.reference
        if message.sent_at is not None or reference is None:
            return
        if message.outgoing is None:  # written before messages were redacted
            redacted = _redacted(app, session, packet, message.text)
            message.outgoing, message.found_sealed = redacted.outgoing, redacted.found_sealed
        number, text = packet.number, OutgoingText(message.outgoing or "")
    try:
        with app.database.transaction() as session:
            desk = desk_of(app, session.get_one(Message, message_id).packet)
        with desk:
            desk.answer(reference, number, message_id, text)
    except DatabaseUnreachable:
        raise
    except (DeskAway, DeskRefused, Conflict) as problem:
        again = isinstance(problem, DeskAway) and tried + 1 < app.settings.lodge_tries
        with app.transaction(WORKER, "answer put off" if again else "answer not sent", f"packet {number}") as tx:
            tx.detail["words"] = str(problem)
            packet = workbench.find_packet(tx.session, number, lock=True)
            tx.session.get_one(Message, message_id).failure = "" if again else str(problem)
            if again:
                arguments = {"message": message_id, "tried": tried + 1}
                app.enqueue(tx.session, SEND, arguments, packet.id, wait_before(tried))
            else:
                packet.turn = "ours"
        return
    except Exception:
        give_up(app, message_id, "Sending it met an error that was not foreseen.")
        raise
    with app.transaction(WORKER, "answer sent", f"packet {number}") as tx:
        sent = tx.session.get_one(Message, message_id)
        sent.sent_at, sent.failure = datetime.now(UTC), ""
