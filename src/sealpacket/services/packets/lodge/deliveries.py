"""Lodging: deliver the sealed packet to its desk and get its reference. Repeating it never makes a second case."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from functools import partial
from typing import Any

from sqlalchemy.orm import Session

from sealpacket.app.context import WORKER, Actor, AppContext, AuditedTransaction
from sealpacket.channels import Desk, DeskAway, DeskRefused, Login, Parcel, open_desk
from sealpacket.core.errors import Conflict, DatabaseUnreachable, ProblemError, Unavailable
from sealpacket.core.life import ON_ITS_WAY, Event, Life
from sealpacket.core.sheets import ByHand, Case, Sheet, read_reference, refused
from sealpacket.core.words import joined
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.acting import packet_act
from sealpacket.services.packets.lodge import health, waiting
from sealpacket.services.packets.lodge.parcels import FileNames, parcel_files, sealed_names
from sealpacket.services.packets.lodge.reply_addresses import message_id, reply_address
from sealpacket.services.packets.lodge.waiting import LODGE
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Exhibit, Message, Packet, PacketCase


def lodge(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Put the delivery into the queue; at a desk that is reached by hand, have it entered by a person.

    A packet that is on its way or lodged already is shown as it is.
    """
    with packet_act(app, actor, "lodging asked for", number) as act:
        packet = act.packet
        sheet, before = parsed(packet.sheet) if packet.sheet else None, packet.state
        by_hand = sheet is not None and isinstance(sheet.send, ByHand)
        packet.advance(Event.LODGE_BY_HAND if by_hand else Event.LODGE)
        act.audited = packet.state != before
        if packet.state != before and not by_hand:
            _need_desk(app, sheet)
            waiting.begin(app, act.session, packet, LODGE)
    return act.shown


def _need_desk(app: AppContext, sheet: Sheet | None) -> str:
    if sheet is None or sheet.desk not in app.settings.desks:
        name = sheet.desk if sheet else "this desk"
        raise Conflict(
            f"No address is configured for {name}.",
            "Set it in SEALPACKET_DESKS and restart the service; nothing is sent to an address that is not set there.",
            code="desk-address",
        )
    return app.settings.desks[sheet.desk]


def login_of(app: AppContext, packet: Packet) -> Login:
    """Who signs in at the packet's desk, with the secret of the login in clear."""
    settings, name, secret = app.settings, "", ""
    if packet.login:
        name = packet.login.name
        secret = (
            app.open_value(packet.login.secret_sealed, "login secret")
            if packet.login.secret_sealed
            else ""
        )
    return Login(
        name,
        secret,
        settings.desk_timeout,
        settings.mail,
        reply_address(app, packet.number),
        str(settings.known_hosts or ""),
        partial(message_id, app),
    )


def desk_of(app: AppContext, packet: Packet) -> Desk:
    """The way to a packet's desk, with the secret of its login."""
    sheet = workbench.sheet_of(packet)
    return open_desk(sheet, _need_desk(app, sheet), login_of(app, packet))


@dataclass(frozen=True)
class _Case:
    """A case that is not at its desk yet; if `begun`, it may be."""

    ident: str
    key: str
    written: dict[str, Any]
    begun: bool


@dataclass(frozen=True)
class _Delivery:
    """The cases and files of one delivery."""

    packet_id: str
    number: str
    desk: Desk
    cases: list[_Case]
    exhibits: list[Exhibit]
    names: FileNames
    sealed_at: datetime | None


def deliver(app: AppContext, packet_id: str, tried: int) -> None:
    """One try at delivering; while the desk is away the next one is put into the queue. The worker calls this."""
    desk_key = ""
    try:
        errand = _claim(app, packet_id, tried)
        if errand is None:
            return
        desk_key = errand.desk.sheet.desk
        if _deliver(app, errand):
            waiting.reached(app, desk_key)
    except DeskRefused as refusal:
        waiting.reached(app, desk_key)
        _refused(app, packet_id, refusal)
    except DeskAway as away:
        if desk_key:
            health.was_away(app, desk_key, str(away))
        _not_there(app, packet_id, str(away))
    except DatabaseUnreachable:
        raise
    except ProblemError as problem:
        words = f"{problem.detail} {problem.remedy}"
        if isinstance(problem, Unavailable):
            _not_there(app, packet_id, words)
        else:
            _stalled(app, packet_id, words)
    except Exception:
        _stalled(app, packet_id, "The delivery met an error that was not foreseen.")
        raise


def _claim(app: AppContext, packet_id: str, tried: int) -> _Delivery | None:
    """Claim the current delivery of a packet. Returns None if this try is outdated or was put off.

    From now on the desk may have the first case, whatever we hear.
    """
    with app.database.transaction() as session:
        packet = session.get(
            Packet,
            packet_id,
            with_for_update=True,
        )
        if packet is None or packet.delivery.state not in ON_ITS_WAY:
            return None
        if not packet.can(Event.SEND):
            packet.advance(Event.DELIVERED)
            return None
        if not waiting.due(packet, tried):
            return None
        desk = desk_of(app, packet)
        closed = health.closed_until(session, desk.sheet.desk)
        if closed is None:
            packet.advance(Event.SEND)
            packet.delivery.next_at = None
            several = len(packet.cases) > 1
            cases = [
                _Case(
                    one.id,
                    f"{packet.number}/{one.place + 1}" if several else packet.number,
                    one.written,
                    one.begun,
                )
                for one in packet.cases
                if not (one.reference or one.sent)
            ]
            _may_be_there(session, cases[:1])
            return _Delivery(
                packet_id=packet_id,
                number=packet.number,
                desk=desk,
                cases=cases,
                exhibits=[one for one in packet.exhibits if not one.later],
                names=sealed_names(app, session, packet, desk.sheet),
                sealed_at=packet.sealed_at,
            )
    _not_there(app, packet_id, closed[1], closed[0])
    return None


def _may_be_there(session: Session, cases: list[_Case]) -> None:
    """Record that these cases may have reached the desk."""
    for one in cases:
        session.get_one(PacketCase, one.ident).begun = True


def _deliver(app: AppContext, errand: _Delivery) -> bool:
    """Send every case that is not there yet; gives whether the desk has been away before.

    Of a case whose sending broke off, the desk is asked first.
    """
    desk, number = errand.desk, errand.number
    with health.turn_at(app, desk.sheet), desk:
        files = parcel_files(app, desk.sheet, errand.exhibits, errand.names, errand.sealed_at)
        for place, one in enumerate(errand.cases):
            reference = desk.find(one.key) if one.begun else None
            if reference is None:
                answer = desk.lodge(
                    Parcel(one.key, number, Case.model_validate(one.written), files)
                )
                reference = None if answer is None else read_reference(desk.sheet, answer)
            left = errand.cases[place + 1 :]
            if left:
                _case_sent(app, errand.packet_id, one, reference, left[:1])
            else:
                return _lodged(app, errand, one, reference)
    return _lodged(app, errand)


def _case_sent(
    app: AppContext, packet_id: str, one: _Case, reference: str | None, then: list[_Case]
) -> None:
    """Keep at once that a case is with the desk: whatever comes next, it is not sent again."""
    with app.database.transaction() as session:
        packet = session.get_one(Packet, packet_id, with_for_update=True)
        _note_sent(packet, one, reference)
        _may_be_there(session, then)


def _note_sent(packet: Packet, one: _Case, reference: str | None) -> None:
    if packet.life == Life.REFUSED:
        return
    for case in packet.cases:
        if case.id == one.ident:
            case.sent, case.life = True, case.life or Life.LODGED
            case.reference = reference or case.reference
            packet.reference = references(packet)


def references(packet: Packet) -> str | None:
    """The references of all cases in one line, for lists and for looking up."""
    return ", ".join(one.reference for one in packet.cases if one.reference) or None


def _lodged(
    app: AppContext, errand: _Delivery, last: _Case | None = None, reference: str | None = None
) -> bool:
    """All of the packet is with its desk, the `last` case since just now; gives whether the desk was away before."""
    with app.transaction(WORKER, "packet lodged", f"packet {errand.number}") as tx:
        packet = tx.session.get_one(Packet, errand.packet_id, with_for_update=True)
        if last is not None:
            _note_sent(packet, last, reference)
        tx.detail["reference"] = packet.reference or ""
        packet.advance(Event.DELIVERED)
        return health.is_failing(tx.session, errand.desk.sheet.desk)


def _refused(app: AppContext, packet_id: str, refusal: DeskRefused) -> None:
    with app.transaction(WORKER, "packet refused", "packet", status=refusal.status) as tx:
        packet = tx.session.get_one(Packet, packet_id, with_for_update=True)
        sheet = parsed(packet.sheet) if packet.sheet else None
        found = refused(sheet, refusal.body, refusal.status) if sheet else ()
        reasons = [reason.model_dump() for reason in found]
        tx.subject = f"packet {packet.number}"
        if not packet.can(Event.REFUSE):  # its desk was faster by another way, and is believed
            tx.audited = False
            return
        note_refusal(packet, reasons, f"http-{refusal.status}")
        _keep_words(packet)
        tx.detail["reasons"] = [reason["code"] for reason in packet.refusals or []]


def _keep_words(packet: Packet) -> None:
    """Keep the refusal as a message; the next try clears it from the packet."""
    said = " ".join(f"{reason['text'].rstrip('.')}." for reason in packet.refusals or [])
    vendor = packet.vendor_name
    packet.messages.append(
        Message(direction="in", text=f"Refused: {said}"[:20_000], by=vendor, at=datetime.now(UTC))
    )


def note_refusal(packet: Packet, reasons: list[dict[str, Any]], code: str) -> None:
    """The packet is refused for these reasons; cases of it that the desk has taken keep their references."""
    taken = [one for one in packet.cases if one.reference]
    if not reasons:
        reasons = [
            {
                "code": code,
                "text": "The desk gave no reason that can be read.",
                "cure": "Ask the desk, then mend the packet and lodge it again.",
                "act": "",
            }
        ]
    if taken and len(packet.cases) > 1:
        names = ", ".join(f"{one.label} as {one.reference}" for one in taken)
        reasons = [
            {**reason, "text": f"{reason['text']} (Taken already: {names}.)"} for reason in reasons
        ]
    packet.advance(Event.REFUSE)
    packet.refusals = reasons


def give_up(app: AppContext, packet_id: str) -> None:
    """Stop trying: the delivery took the worker down with it."""
    _stalled(app, packet_id, "The delivery broke off several times, each time unforeseen.")


def _not_there(app: AppContext, packet_id: str, words: str, until: datetime | None = None) -> None:
    """Schedule a retry; the desk is unreachable."""
    with app.transaction(WORKER, "lodging put off", "packet", words=words) as tx:
        packet = tx.session.get_one(Packet, packet_id, with_for_update=True)
        tx.subject = f"packet {packet.number}"
        tx.audited = packet.delivery.tried == 0
        if not packet.can(Event.PUT_OFF):
            _give_way(tx, packet)
        elif waiting.put_off(app, tx.session, packet, LODGE, words, until):
            packet.advance(Event.PUT_OFF)
            packet.delivery.status_text = f"Waiting for the desk: {_parts_there(packet)}{words}"
        else:
            tx.audited = True
            _stall(packet, words)


def _give_way(tx: AuditedTransaction, packet: Packet) -> None:
    """End a delivery that its desk has overtaken: by another way it said that it has the packet, or refused it."""
    tx.audited = False
    if packet.can(Event.DELIVERED):
        packet.advance(Event.DELIVERED)


def _parts_there(packet: Packet) -> str:
    """How much of a packet is at its desk."""
    cases = [one for one in packet.cases if one.sent or one.reference]
    files = [one for one in packet.exhibits if not one.later]
    there = [one for one in files if one.arrived]
    parts = [f"{len(there)} of {len(files)} files"] if there else []
    parts += [f"{len(cases)} of {len(packet.cases)} cases"] if cases else []
    verb = "are" if len(there) + len(cases) > 1 else "is"
    return f"{joined(parts, 'and')} {verb} there. " if parts else ""


def _stalled(app: AppContext, packet_id: str, words: str) -> None:
    with app.transaction(WORKER, "lodging given up", "packet", words=words) as tx:
        packet = tx.session.get_one(Packet, packet_id, with_for_update=True)
        tx.subject = f"packet {packet.number}"
        if packet.can(Event.STALL):
            _stall(packet, words)
        else:
            _give_way(tx, packet)


def _stall(packet: Packet, words: str) -> None:
    packet.advance(Event.STALL)
    packet.delivery.status_text = f"{words} Nothing was lost: lodge it again when the desk is back."
