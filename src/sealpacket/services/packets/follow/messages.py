"""Messages to a desk: comments, answers to its questions, and taking them back."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import UTC, datetime

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, NotFound
from sealpacket.core.life import Turn
from sealpacket.services.packets import workbench
from sealpacket.services.packets.acting import packet_act
from sealpacket.services.packets.follow import outbox
from sealpacket.services.packets.follow.outbox import NewUpdate, need_open
from sealpacket.services.packets.redaction import typed_text
from sealpacket.services.packets.redaction.schemas import TypedShown
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Asked, Message, Packet, PacketCase


def preview_reply(app: AppContext, number: str, text: str) -> TypedShown:
    """Preview an answer to the desk: as typed and as it would leave."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        found = typed_text.message_text(
            app, session, workbench.evaluate(app, session, packet), text
        )
        return typed_text.show_text(found, found.texts[0])


def comment(
    app: AppContext,
    actor: Actor,
    number: str,
    text: str,
    *,
    case: str = "",
    files: Sequence[str] = (),
) -> PacketShown:
    """Send a comment to the desk, with files added since. It answers none of the desk's questions."""
    with packet_act(app, actor, "comment written", number, characters=len(text)) as act:
        packet = need_open(act.packet)
        update = NewUpdate(text, case=case or _case_of_one(packet), files=files)
        outbox.write(app, act.session, packet, actor.name, update)
        act.detail["files"] = list(files)
    return act.shown


def reply(
    app: AppContext,
    actor: Actor,
    number: str,
    text: str,
    *,
    case: str = "",
    questions: Sequence[str] | None = None,
    files: Sequence[str] = (),
) -> PacketShown:
    """Answer what the desk asks, with files that were added since; `questions` are those that it answers.

    Without `questions` it answers all that are open of its case, where only one case has any.
    Raises Conflict for a question that somebody has answered meanwhile, or where the words hold a secret.
    """
    with packet_act(app, actor, "answer written", number, characters=len(text)) as act:
        packet = need_open(act.packet)
        answered = _asked(packet, questions) if questions is not None else _open(packet, case)
        label = (
            case
            or next((one.message.case.called for one in answered if one.message.case), "")
            or _case_of_one(packet)
        )
        update = NewUpdate(text, case=label, files=files)
        message = outbox.write(app, act.session, packet, actor.name, update)
        for one in answered:
            one.answer_id, one.done_at, one.done_by = message.id, datetime.now(UTC), actor.name
        if message.case is not None and not _asks(packet, message.case):
            message.case.turn = Turn.VENDOR
        packet.update_turn()
        act.detail |= {"questions": len(answered), "files": list(files)}
    return act.shown


def _case_of_one(packet: Packet) -> str:
    """The only case whose turn is ours, where there are several; else it has to be named."""
    if len(packet.cases) == 1:
        return ""
    return workbench.only_case([one for one in packet.cases if one.turn == Turn.OURS])


def _asked(packet: Packet, idents: Sequence[str]) -> list[Asked]:
    """The questions of these ids. Raises Conflict where one is over, or where they are of several cases."""
    known = {one.id: one for message in packet.messages for one in message.questions}
    found: list[Asked] = []
    for ident in idents:
        one = known.get(ident)
        if one is None:
            raise NotFound(f"{packet.number} has no question {ident}.", "Open the packet again.")
        if not one.open:
            raise Conflict(
                f"{one.done_by or 'Somebody'} has dealt with “{one.text[:80]}” already.",
                "Read what was answered; if something is missing, write a comment.",
                code="answered-before",
            )
        found.append(one)
    if len({one.message.case_id for one in found}) > 1:
        raise Conflict(
            "These questions are of several cases; one answer goes to one case.",
            "Answer them case by case.",
            code="several-cases",
        )
    return found


def _open(packet: Packet, case: str) -> list[Asked]:
    """All open questions of the case that is named, or of the only one that has any."""
    asked = [one for message in packet.messages for one in message.open_questions]
    if case:
        named = workbench.case_named(packet, case)
        return [one for one in asked if one.message.case is named]
    if len({one.message.case_id for one in asked if one.message.case_id}) > 1:
        workbench.case_named(packet, "")
    return asked


def dismiss_question(app: AppContext, actor: Actor, number: str, question: str) -> PacketShown:
    """Dismiss a question that needs no answer."""
    with packet_act(app, actor, "question dismissed", number) as act:
        packet = act.packet
        (one,) = _asked(packet, [question])
        one.done_at, one.done_by = datetime.now(UTC), actor.name
        case = one.message.case
        if case is not None and one.doubtful and not _asks(packet, case):
            case.turn = Turn.VENDOR
        packet.update_turn()
    return act.shown


def _asks(packet: Packet, case: PacketCase) -> bool:
    """Whether something that the desk wants for a case is still open."""
    return any(message.open_questions for message in packet.messages if message.case is case)


def take_back(app: AppContext, actor: Actor, number: str, message_id: str) -> PacketShown:
    """Take back what has not gone to the desk yet; its files can go with another message.

    Raises Conflict for what the desk has, or may have: then a correction has to follow.
    """
    with packet_act(app, actor, "message taken back", number) as act:
        packet = act.packet
        message = find_message(packet, message_id)
        if message.direction != "out" or message.taken_back_at is not None:
            raise Conflict(
                "This is nothing of ours that could be taken back.",
                "Choose one of our messages.",
                code="not-ours",
            )
        if message.sent_at is not None or message.begun:
            raise Conflict(
                "The desk has this message, or may have it.",
                "Write a comment that corrects it.",
                code="sent-before",
            )
        message.taken_back_at = datetime.now(UTC)
        for file in list(message.files):
            file.message_id = None
        for other in packet.messages:
            for one in other.questions:
                if one.answer_id == message.id:
                    one.answer_id = one.done_at = None
                    one.done_by = ""
        packet.update_turn()
        act.session.flush()
        act.session.expire(message, ["files"])
    return act.shown


def mark_unwished(
    app: AppContext, actor: Actor, number: str, message_id: str, *, unwished: bool = True
) -> PacketShown:
    """Note of a call that the desk called although mail was asked for, or that it did not. Raises Conflict for a
    message that is no call."""
    with packet_act(app, actor, "call unwished", number, unwished=unwished) as act:
        message = find_message(act.packet, message_id)
        if message.how != "call":
            raise Conflict("This message is no call.", "Choose a call.", code="no-call")
        message.unwished = unwished
    return act.shown


def pass_on(app: AppContext, actor: Actor, number: str, message_id: str) -> PacketShown:
    """Note that a message for a desk that is reached by hand was said, written or entered there. Raises Conflict for
    any other message."""
    with packet_act(app, actor, "message passed on", number) as act:
        packet = act.packet
        message = find_message(packet, message_id)
        if message.direction != "out" or message.how != "hand" or message.taken_back_at:
            raise Conflict(
                "This message is not one that a person passes on.",
                "Choose a message that waits for it.",
                code="not-by-hand",
            )
        message.sent_at = message.sent_at or datetime.now(UTC)
        for file in message.files:
            file.arrived = True
        packet.update_turn()
    return act.shown


def find_message(packet: Packet, ident: str) -> Message:
    """The message of that id. Raises NotFound."""
    found = next((message for message in packet.messages if message.id == ident), None)
    if found is None:
        raise NotFound(f"{packet.number} has no such message.", "Open the packet again.")
    return found


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
