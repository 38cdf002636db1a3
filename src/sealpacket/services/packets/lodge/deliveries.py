"""Lodging: deliver the sealed packet to its desk and get its reference. Repeating it never makes a second case."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.app.queue import wait_before
from sealpacket.channels import Desk, DeskAway, DeskRefused, Login, Parcel, open_desk
from sealpacket.core.errors import Conflict, ProblemError, Unavailable
from sealpacket.core.sheets import Case, Sheet, read_reference, read_refusals
from sealpacket.services.desks import parsed
from sealpacket.services.packets import serialize, workbench
from sealpacket.services.packets.lodge.parcels import file_names, parcel_files
from sealpacket.services.packets.lodge.reply_addresses import reply_address
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Message, Packet, PacketCase

LODGE = "lodge_packet"
_NEVER_AGAIN = 1 << 30


def lodge(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Put the delivery into the queue. A packet that is on its way or lodged already is shown as it is."""
    with app.transaction(actor, "lodging asked for", f"packet {number}") as tx:
        packet = workbench.find_packet(tx.session, number, lock=True)
        if packet.life in ("lodged", "answered", "settled") or packet.lodge_state in (
            "queued",
            "sending",
        ):
            tx.worth_noting = False
        elif packet.life != "sealed":
            raise Conflict(
                f"{packet.number} is {packet.life}.",
                "Only a sealed packet can be lodged.",
                code="not-sealed",
            )
        else:
            _need_desk(app, parsed(packet.sheet) if packet.sheet else None)
            packet.lodge_state, packet.lodge_status_text = "queued", "Waiting to be sent"
            app.enqueue(tx.session, LODGE, {"packet": packet.id, "tried": 0}, packet.id)
            tx.session.flush()
        return serialize.show(workbench.lay_out(app, tx.session, packet))


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
    )


def desk_of(app: AppContext, packet: Packet) -> Desk:
    """The way to a packet's desk, with the secret of its login."""
    if packet.sheet is None:
        raise Conflict(f"{packet.number} has no desk.", "Name the asset first.", code="no-desk")
    sheet = parsed(packet.sheet)
    return open_desk(sheet, _need_desk(app, sheet), login_of(app, packet))


def deliver(app: AppContext, packet_id: str, tried: int) -> None:
    """One try at delivering; while the desk is away the next one is put into the queue. The worker calls this."""
    with app.database.transaction() as session:
        packet = session.get(Packet, packet_id, with_for_update=True)
        if packet is None or packet.life != "sealed":
            return
        packet.lodge_state = "sending"
        packet.lodge_status_text = "On its way to the desk"
    try:
        with app.database.transaction() as session:
            packet = session.get_one(Packet, packet_id)
            desk = desk_of(app, packet)
            bench = workbench.lay_out(app, session, packet)
            exhibits, cases, number = list(packet.exhibits), list(packet.cases), packet.number
            names, sealed_at = file_names(bench, desk.sheet), packet.sealed_at
        with desk:
            files = parcel_files(app, desk.sheet, exhibits, names, sealed_at)
            for one in cases:
                if one.reference or one.sent:
                    continue
                key = f"{number}/{one.place + 1}" if len(cases) > 1 else number
                answer = desk.lodge(Parcel(key, number, Case.model_validate(one.written), files))
                reference = None if answer is None else read_reference(desk.sheet, answer)
                _case_sent(app, packet_id, one.id, reference)
        _lodged(app, packet_id)
    except DeskRefused as refusal:
        _refused(app, packet_id, refusal)
    except DeskAway as away:
        _not_there(app, packet_id, str(away), tried)
    except ProblemError as problem:
        passing = isinstance(problem, Unavailable)
        _not_there(
            app, packet_id, f"{problem.detail} {problem.remedy}", tried if passing else _NEVER_AGAIN
        )
    except Exception:
        _not_there(app, packet_id, "The delivery met an error that was not foreseen.", _NEVER_AGAIN)
        raise


def _case_sent(app: AppContext, packet_id: str, case_id: str, reference: str | None) -> None:
    """Keep at once that a case is with the desk: whatever comes next, it is not sent again."""
    with app.database.transaction() as session:
        packet = session.get_one(Packet, packet_id, with_for_update=True)
        case = session.get(PacketCase, case_id)
        if case is None or packet.life == "refused":
            return
        case.sent, case.life = True, case.life or "lodged"
        case.reference = reference or case.reference
        packet.reference = references(packet)


def references(packet: Packet) -> str | None:
    """The references of all cases in one line, for lists and for looking up."""
    return ", ".join(one.reference for one in packet.cases if one.reference) or None


def _lodged(app: AppContext, packet_id: str) -> None:
    """The packet is with its desk; one that answers by mail may have said so, or refused it, while we were sending."""
    with app.transaction(WORKER, "packet lodged", "packet") as tx:
        packet = tx.session.get_one(Packet, packet_id, with_for_update=True)
        tx.subject = f"packet {packet.number}"
        tx.detail["reference"] = packet.reference or ""
        packet.lodged_at = packet.lodged_at or datetime.now(UTC)
        packet.lodge_state, packet.lodge_status_text = (
            ("done" if packet.life != "refused" else None),
            "",
        )
        if packet.life == "sealed":
            packet.life, packet.turn, packet.refusals = "lodged", "vendor", None


def _refused(app: AppContext, packet_id: str, refusal: DeskRefused) -> None:
    with app.transaction(WORKER, "packet refused", "packet", status=refusal.status) as tx:
        packet = tx.session.get_one(Packet, packet_id, with_for_update=True)
        sheet = parsed(packet.sheet) if packet.sheet else None
        reasons = [r.model_dump() for r in read_refusals(sheet, refusal.body)] if sheet else []
        tx.subject = f"packet {packet.number}"
        note_refusal(packet, reasons, f"http-{refusal.status}")
        _keep_words(packet)
        tx.detail["reasons"] = [reason["code"] for reason in packet.refusals or []]


def _keep_words(packet: Packet) -> None:
    """What the desk said stays among the messages: the next try forgets the refusal itself."""
    said = " ".join(f"{reason['text'].rstrip('.')}." for reason in packet.refusals or [])
    vendor = packet.asset.vendor.name if packet.asset else ""
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
    packet.life, packet.turn, packet.refusals = "refused", "ours", reasons
    packet.lodge_state, packet.lodge_status_text = None, ""


def give_up(app: AppContext, packet_id: str) -> None:
    """Stop trying: the delivery took the worker down with it."""
    _not_there(
        app, packet_id, "The delivery broke off several times, each time unforeseen.", _NEVER_AGAIN
    )


def _not_there(app: AppContext, packet_id: str, words: str, tried: int) -> None:
    again = tried + 1 < app.settings.lodge_tries
    with app.transaction(
        WORKER, "lodging put off" if again else "lodging given up", "packet", words=words
    ) as tx:
        packet = tx.session.get_one(Packet, packet_id, with_for_update=True)
        tx.subject = f"packet {packet.number}"
        if again:
            packet.lodge_state = "queued"
            count = f"try {tried + 1} of {app.settings.lodge_tries}"
            packet.lodge_status_text = f"{words} It will be retried automatically ({count})."
            app.enqueue(
                tx.session,
                LODGE,
                {"packet": packet.id, "tried": tried + 1},
                packet.id,
                wait_before(tried),
            )
        else:
            packet.lodge_state = "stalled"
            packet.lodge_status_text = (
                f"{words} Nothing was lost: lodge it again when the desk is back."
            )
