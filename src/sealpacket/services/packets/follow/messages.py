"""Our answers to a desk: looked over, sent by the worker, and what went wrong with them."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.app.queue import wait_before
from sealpacket.channels import DeskAway, DeskRefused
from sealpacket.core.errors import Conflict, DatabaseUnreachable, NotFound
from sealpacket.core.outgoing import OutgoingText
from sealpacket.core.sheets.checks.typed import say_kinds
from sealpacket.services.packets import serialize, workbench
from sealpacket.services.packets.follow.news import whose_turn
from sealpacket.services.packets.lodge.deliveries import desk_of
from sealpacket.services.packets.redaction import typed_text
from sealpacket.services.packets.schemas import PacketShown, TypedShown
from sealpacket.services.packets.workbench import OPEN
from sealpacket.store.models import Message, Packet, PacketCase

SEND = "send_message"


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
        asking = next(
            (m for m in reversed(packet.messages) if m.asks and m.answered_at is None), None
        )
        to = _case_of(packet, asking)
        message.by, message.case = actor.name, to
        packet.messages.append(message)
        for asked in packet.messages:
            if asked.asks and asked.answered_at is None and _case_of(packet, asked) is to:
                asked.answered_at = datetime.now(UTC)
        to.turn = "vendor"
        packet.turn = whose_turn(packet)
        tx.session.flush()
        app.enqueue(tx.session, SEND, {"message": message.id, "tried": 0}, packet.id)
        return serialize.show(workbench.lay_out(app, tx.session, packet))


def _answerable(packet: Packet) -> Packet:
    if packet.life in OPEN:
        return packet
    over = packet.life in ("settled", "withdrawn")
    raise Conflict(
        f"{packet.number} is {packet.life}; the desk expects no answer.",
        "Note a new packet that names this one." if over else "Lodge it first.",
        code="not-lodged",
    )


def _redacted(app: AppContext, session: Session, packet: Packet, text: str) -> Message:
    """A message of ours with its outgoing text. Raises Conflict where it must not go, even masked, unseen."""
    found = typed_text.message_text(app, session, workbench.lay_out(app, session, packet), text)
    for _, kinds in found.grave():
        raise Conflict(
            f"The message holds {say_kinds(kinds)}. It was not sent.",
            "Take it out, or have the value masked for a reason; then send it again.",
            code="typed-secret",
        )
    if found.leaking:
        raise Conflict(
            f"The message holds a value that is masked elsewhere and cannot be masked here: {found.leaking[0]}.",
            "Word it without that value.",
            code="typed-leak",
        )
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
            raise NotFound(
                "This message did not come by mail.",
                "Open the packet's messages.",
                code="no-mail",
            )
        return app.blobs.read(found.original_blob)


def _case_of(packet: Packet, asking: Message | None) -> PacketCase:
    """Which of the packet's cases an answer belongs to: the one that asked, else the first."""
    return (asking.case if asking else None) or packet.cases[0]


def give_up(
    app: AppContext, message_id: str, words: str = "Sending it broke off several times."
) -> None:
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
        with app.transaction(
            WORKER, "answer put off" if again else "answer not sent", f"packet {number}"
        ) as tx:
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
