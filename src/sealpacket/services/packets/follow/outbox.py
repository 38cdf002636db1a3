"""Messages to a desk about a case: redacted and stored at once, sent by the worker, with retries."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import PurePath
from typing import Any

from sqlalchemy.orm import Session

from sealpacket.app.context import WORKER, AppContext
from sealpacket.channels import DeskAway, DeskRefused, Outgoing, Update
from sealpacket.core.errors import Conflict, DatabaseUnreachable, Invalid
from sealpacket.core.life import OPEN, OVER
from sealpacket.core.outgoing import OutgoingText
from sealpacket.core.sheets import ByHand, Sheet, UpdateKind, refused
from sealpacket.core.sheets.checks.evidence import check_exhibits
from sealpacket.core.sheets.checks.typed import say_kinds
from sealpacket.core.sheets.writing import names_of
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.exhibits import find_exhibit
from sealpacket.services.packets.lodge import health, waiting
from sealpacket.services.packets.lodge.deliveries import desk_of
from sealpacket.services.packets.lodge.parcels import FileNames, parcel_files
from sealpacket.services.packets.lodge.waiting import SEND
from sealpacket.services.packets.redaction import typed_text
from sealpacket.services.packets.redaction.catalogues import named_by
from sealpacket.store.models import Exhibit, Message, Packet


@dataclass(frozen=True)
class NewUpdate:
    """A message for a desk. `case` is a label or a reference, `files` are names of exhibits added after the seal,
    `values` belong to the act."""

    text: str
    act: UpdateKind = "comment"
    case: str = ""
    files: Sequence[str] = ()
    values: dict[str, Any] = field(default_factory=dict)


def need_open(packet: Packet) -> Packet:
    """The packet, if its desk has it. Raises Conflict with the way out."""
    if packet.life in OPEN:
        return packet
    over = packet.life in OVER
    raise Conflict(
        f"{packet.number} is {packet.life}; the desk expects nothing.",
        "Have it opened again, or note a packet that follows it." if over else "Lodge it first.",
        code="not-lodged",
    )


def write(app: AppContext, session: Session, packet: Packet, by: str, update: NewUpdate) -> Message:
    """Store a message of ours and queue it.

    Raises Conflict where it holds a secret about which nobody has decided, or a file that the desk does not take.
    """
    sheet = workbench.sheet_of(packet)
    case = workbench.case_named(packet, update.case)
    files = [_ready_file(packet, name) for name in update.files]
    _within_limits(packet, sheet, files)
    text = update.text.strip() or _instead(update, files)
    message = redacted(app, session, packet, text, named_by(update.values))
    message.by, message.case, message.act = by, case, update.act
    message.act_values = update.values
    message.how = "hand" if isinstance(sheet.send, ByHand) else "desk"
    packet.messages.append(message)
    session.flush()
    for file in files:
        file.message_id = message.id
    if message.how == "desk":
        waiting.begin(app, session, packet, SEND)
    session.flush()
    session.refresh(message, ["files"])
    packet.update_turn()
    return message


def _instead(update: NewUpdate, files: Sequence[Exhibit]) -> str:
    """Words where somebody gave none: the names of the files; an act has words of its own."""
    if files:
        return f"Here {'is' if len(files) == 1 else 'are'} {', '.join(f.goes_as for f in files)}."
    if update.act == "comment":
        raise Invalid("There is nothing to say.", "Write something, or add a file.", field="text")
    return ""


def _ready_file(packet: Packet, name: str) -> Exhibit:
    exhibit = find_exhibit(packet, name)
    if not exhibit.later or exhibit.message_id is not None:
        raise Conflict(
            f"{exhibit.name} is with the desk already.", "Choose another file.", code="sent-before"
        )
    return exhibit


def _within_limits(packet: Packet, sheet: Sheet, files: Sequence[Exhibit]) -> None:
    """Raise Conflict for files that the desk does not take, or that are not redacted yet."""
    if not files:
        return
    states = [workbench.exhibit_state(file) for file in files]
    checks = check_exhibits(sheet.attachments, states, sheet.name, wanted=False)
    stops = [check for check in checks if check.level == "stop"]
    if stops:
        raise Conflict(
            " ".join(stop.sentence for stop in stops[:3]),
            f"{stops[0].remedy}.".replace("..", "."),
            code=stops[0].code,
        )


def redacted(
    app: AppContext, session: Session, packet: Packet, text: str, naming: Sequence[str] = ()
) -> Message:
    """A message of ours with its outgoing text. Raises Conflict where it must not go, even masked, unseen."""
    if not text:
        return Message(direction="out", text="", outgoing="")
    found = typed_text.message_text(
        app, session, workbench.evaluate(app, session, packet), text, naming
    )
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


def give_up(app: AppContext, packet_id: str) -> None:
    """Stop trying: sending took the worker down with it."""
    with app.database.transaction() as session:
        packet = session.get_one(Packet, packet_id)
        ident = next((one.id for one in packet.messages if one.is_unsent), None)
    if ident is not None:
        _failed(app, ident, "Sending it broke off several times.")


def send(app: AppContext, packet_id: str, tried: int) -> None:
    """Send the waiting messages of a packet, the oldest first. The worker calls this.

    While the desk is away the next try is put into the queue; what it refuses is said, and the rest goes on.
    """
    with app.database.transaction() as session:
        packet = session.get(Packet, packet_id, with_for_update=True)
        if packet is None or packet.sheet is None or not waiting.due(packet, tried):
            return
        packet.delivery.next_at = None
        key = parsed(packet.sheet).desk
        closed = health.closed_until(session, key)
    if closed is not None:
        _put_off(app, packet_id, closed[1], closed[0])
        return
    while (ident := _next(app, packet_id)) is not None:
        try:
            _send_one(app, ident)
        except DatabaseUnreachable:
            raise
        except DeskAway as away:
            health.was_away(app, key, str(away))
            _put_off(app, packet_id, str(away))
            return
        except (DeskRefused, Conflict) as problem:
            _failed(app, ident, _words(app, packet_id, problem))
        except Exception:
            _failed(app, ident, "Sending it met an error that was not foreseen.")
            raise
        else:
            _sent(app, ident)
            waiting.reached(app, key)


def _next(app: AppContext, packet_id: str) -> str | None:
    """The oldest message that is still to go and whose case has a reference; from now on the desk may have it."""
    with app.database.transaction() as session:
        packet = session.get_one(Packet, packet_id, with_for_update=True)
        for message in packet.messages:
            reference = message.case.reference if message.case else packet.reference
            if message.is_unsent and message.how == "desk" and reference:
                message.begun = True
                return message.id
        if not any(message.is_unsent for message in packet.messages):
            packet.delivery.stop_trying()
        return None


def _send_one(app: AppContext, ident: str) -> None:
    with app.database.transaction() as session:
        message = session.get_one(Message, ident)
        packet = message.packet
        desk = desk_of(app, packet)
        case = message.case or packet.cases[0]
        ours = [one for one in packet.messages if one.direction == "out" and one.how == "desk"]
        told = Update(
            ident=message.id,
            number=packet.number,
            reference=case.reference or packet.reference or "",
            act=message.act,  # type: ignore[arg-type]
            values={**message.act_values, "message.text": OutgoingText(message.outgoing or "")},
            files=_files(app, packet, desk.sheet, message),
            count=1 + sum(one.sent_at is not None and one.case is message.case for one in ours),
        )
    with health.turn_at(app, desk.sheet), desk:
        desk.tell(told)


def _files(app: AppContext, packet: Packet, sheet: Sheet, message: Message) -> list[Outgoing]:
    """Files that follow: called as the sheet says, numbered after those that went before; or in an archive."""
    if not message.files:
        return []
    earlier = [
        one
        for one in packet.exhibits
        if one not in message.files and (not one.later or one.arrived)
    ]
    called = names_of(
        sheet.attachments.naming.file,
        [one.goes_as for one in (*earlier, *message.files)],
        {"packet.number": packet.number},
    )
    archive = FileNames.model_validate(packet.file_names or {"files": []}).archive
    if archive:
        path = PurePath(archive)
        archive = f"{path.stem}-{1 + len({one.message_id for one in earlier})}{path.suffix}"
    names = FileNames(files=called[len(earlier) :], archive=archive)
    return parcel_files(app, sheet, list(message.files), names, message.at)


def _words(app: AppContext, packet_id: str, problem: DeskRefused | Conflict) -> str:
    """Why a desk did not accept a message."""
    if isinstance(problem, Conflict):
        return f"{problem.detail} {problem.remedy}"
    with app.database.transaction() as session:
        packet = session.get_one(Packet, packet_id)
        reasons = refused(workbench.sheet_of(packet), problem.body, problem.status)
        said = " ".join(f"{reason.text.rstrip('.')}. {reason.cure}" for reason in reasons)
        return f"The desk did not take it ({problem.status}). {said}".strip()


def _failed(app: AppContext, ident: str, words: str) -> None:
    with app.transaction(WORKER, "message not sent", "packet", words=words) as tx:
        message = _locked(tx.session, ident)
        tx.subject = f"packet {message.packet.number}"
        message.failure, message.begun = words[:1000], False
        message.packet.update_turn()


def _sent(app: AppContext, ident: str) -> None:
    with app.transaction(WORKER, "message sent", "packet") as tx:
        message = _locked(tx.session, ident)
        tx.subject = f"packet {message.packet.number}"
        tx.detail["act"] = message.act
        message.sent_at, message.failure = datetime.now(UTC), ""
        for file in message.files:
            file.arrived = True


def _locked(session: Session, ident: str) -> Message:
    message = session.get_one(Message, ident)
    session.get_one(Packet, message.packet_id, with_for_update=True, populate_existing=True)
    session.refresh(message)
    return message


def _put_off(app: AppContext, packet_id: str, words: str, until: datetime | None = None) -> None:
    with app.transaction(WORKER, "message put off", "packet", words=words) as tx:
        packet = tx.session.get_one(Packet, packet_id, with_for_update=True)
        tx.subject = f"packet {packet.number}"
        tx.audited = packet.delivery.tried == 0
        if not waiting.put_off(app, tx.session, packet, SEND, words, until):
            for message in packet.messages:
                if message.is_unsent:
                    message.failure = words
            packet.update_turn()
