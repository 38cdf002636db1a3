"""Drafting: note it down, name the thing, choose the login, answer the desk's questions."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from typing import Any, cast

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext, AuditedTransaction
from sealpacket.core.coverage import Basis, Need, Ruling, replay
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.core.sheets import Sheet, answer_fault, answers_for, known_for
from sealpacket.core.sheets.forms import Known
from sealpacket.services.coverage import LEAN, login_values, logins_of, rule_for
from sealpacket.services.desks import by_hand_key, desk_for, desk_named, parsed
from sealpacket.services.packets import serialize, workbench
from sealpacket.services.packets.acting import draft_act, show
from sealpacket.services.packets.facts import people_of
from sealpacket.services.packets.redaction import legend_keys
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.register import KINDS
from sealpacket.store.models import (
    Asset,
    DeskSheet,
    Packet,
    PacketDelivery,
    PacketFollowing,
    PacketLegend,
    PacketTicket,
    VendorLogin,
)
from sealpacket.store.models.packets import packet_number

_GROWING = ("text", "long", "steps", "address", "versions", "rows")
"""Forms whose answers are kept while they grow; the checks say what they lack."""


def note(
    app: AppContext,
    actor: Actor,
    *,
    title: str,
    text: str,
    need: Need,
    asset: str | None,
    began_at: datetime | None = None,
    our_reference: str = "",
    ticket: str = "",
    ticket_mail: dict[str, str] | None = None,
    context: dict[str, Any] | None = None,
) -> PacketShown:
    """Start a packet with what happened, in plain words; with the asset and when it began, if they are known.

    `our_reference` is its name in a system of ours, unique for good; `ticket` its number at our own service desk,
    `ticket_mail` the mail that brought it, `context` what a program reported.

    Raises Conflict (reference-taken) if a packet has that reference already.
    """
    with app.transaction(actor, "packet noted", "packet") as tx:
        if our_reference:
            _need_free(tx.session, our_reference)
            tx.detail["our_reference"] = our_reference
        noted = Packet(
            our_reference=our_reference or None,
            title=title,
            note=text,
            need=need,
            began_at=_past(began_at),
            context=context,
            ticket=PacketTicket(number=ticket, mail=ticket_mail) if ticket or ticket_mail else None,
        )
        if ticket:
            tx.detail["ticket"] = ticket
        return show(app, tx.session, new_packet(app, tx, actor, noted, asset))


@contextmanager
def noted_at_once(
    app: AppContext,
    actor: Actor,
    *,
    title: str,
    text: str,
    need: Need,
    asset: str,
    answers: Mapping[str, str],
) -> Iterator[tuple[Session, Packet]]:
    """Start a packet with its answers in one transaction, which the caller may add to; it is not shown.

    Raises NotFound for an unknown asset, Invalid for answers that its desk does not take: then nothing is noted.
    """
    with app.transaction(actor, "packet noted", "packet") as tx:
        packet = new_packet(app, tx, actor, Packet(title=title, note=text, need=need), asset)
        tx.session.flush()
        if answers:
            bench = workbench.answered(tx.session, packet)
            if bench.sheet is None:
                raise Conflict("No desk is known for it.", "Add its desk sheet.", code="no-desk")
            known = known_for(
                answers_for(bench.sheet, answers, bench.facts), bench.facts, bench.people
            )
            faults = (_fault(bench.sheet, ident, value, known) for ident, value in answers.items())
            if said := " ".join(filter(None, faults)):
                raise Invalid(said, "Correct the row.", code="answer-form")
            packet.answers = dict(answers)
        yield tx.session, packet


def desk_foreseen(session: Session, actor: Actor, asset: Asset, need: Need) -> DeskSheet:
    """The sheet of the desk to which a packet about an asset would go."""
    login = _likeliest_login(session, actor, need, asset)
    ruling = rule_for(session, asset, need, datetime.now(UTC).date(), login)
    return desk_for(session, asset.vendor, ruling.route, need)


def _need_free(session: Session, reference: str) -> None:
    """Reserve a reference of ours until the transaction ends. Raises Conflict if a packet has it."""
    lock = func.pg_advisory_xact_lock(func.hashtextextended(f"our reference {reference}", 0))
    session.execute(select(lock))
    taken = session.scalar(select(Packet.number).where(Packet.our_reference == reference))
    if taken is not None:
        raise Conflict(
            f"{taken} has the reference {reference} already.",
            f"Go on with {taken}, or choose another reference.",
            code="reference-taken",
            number=taken,
        )


def new_packet(
    app: AppContext, tx: AuditedTransaction, actor: Actor, packet: Packet, asset: str | None
) -> Packet:
    """Make a packet of what was noted, with a number and keys of its own, about an asset if it is known.

    Raises NotFound for an asset that is not in the register.
    """
    key = legend_keys.new_placeholder_key(app)
    legend_key, legend_print = legend_keys.new_key(app)
    packet.number = f"P-{tx.session.scalar(select(packet_number.next_value())):04d}"
    packet.noted_by = packet.owner = actor.name
    packet.answers = {}
    packet.exhibits, packet.messages, packet.cases, packet.decisions = [], [], [], []
    packet.access_grants, packet.shipments = [], []
    packet.typed_record = None
    packet.delivery, packet.following = PacketDelivery(), PacketFollowing()
    packet.legend = PacketLegend(placeholder_key_sealed=key, key_sealed=legend_key)
    with tx.session.no_autoflush:
        tx.session.add(packet)
        if asset:
            name_asset(tx.session, actor, packet, KINDS["asset"].find(tx.session, asset, LEAN))
    tx.subject = f"packet {packet.number}"
    tx.detail |= {"title": packet.title, "legend_key": legend_print}
    return packet


def _past(moment: datetime | None) -> datetime | None:
    """A moment that is over. Raises Invalid for one without an offset, or to come."""
    if moment is None:
        return None
    if moment.tzinfo is None:
        raise Invalid(
            "The moment when it began has no offset.",
            "Write it as 2026-11-23T08:40+00:00.",
            field="began_at",
        )
    if moment > datetime.now(UTC) + timedelta(minutes=5):
        raise Invalid(
            "It cannot have begun in the future.", "Correct the moment.", field="began_at"
        )
    return moment


def get(app: AppContext, number: str) -> PacketShown:
    """A packet with everything on the workbench."""
    with app.database.snapshot() as session:
        return serialize.show(
            workbench.evaluate(app, session, workbench.find_packet(session, number))
        )


def replayed(app: AppContext, number: str) -> dict[str, Any]:
    """The ruling of a sealed packet, recomputed from its stored inputs. Raises Conflict if there is none."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        if packet.ruling is None or packet.ruling_basis is None:
            raise Conflict(
                f"{packet.number} has no sealed ruling.",
                "A draft's ruling is computed on every read; read the packet.",
                code="not-sealed",
            )
        basis = Basis.model_validate(packet.ruling_basis)
        again = replay(basis)
        return {
            "ruling": again,
            "basis": basis,
            "same": again == Ruling.model_validate(packet.ruling),
        }


def change(app: AppContext, actor: Actor, number: str, changes: dict[str, Any]) -> PacketShown:
    """Change title, note, need, ticket, asset, login, desk or when it began of a draft.

    A desk is one of the vendor's by its key; which one takes the packet follows from its need and thing otherwise.
    """
    with draft_act(app, actor, "packet changed", number, fields=sorted(changes)) as act:
        session, packet = act.session, act.packet
        before = _content(packet)
        for field in ("title", "note", "need"):
            if changes.get(field) is not None:
                setattr(packet, field, changes[field])
        if changes.get("ticket") is not None and changes["ticket"] != _ticket_number(packet):
            packet.ticket = packet.ticket or PacketTicket()
            packet.ticket.number = changes["ticket"]
        if "began_at" in changes:
            packet.began_at = _past(changes["began_at"])
        if changes.get("asset"):
            name_asset(session, actor, packet, KINDS["asset"].find(session, changes["asset"]))
        if changes.get("login"):
            packet.login = _login(session, packet, changes["login"])
        if changes.get("desk"):
            _use_desk(session, packet, _desk(session, packet, changes["desk"]))
        elif "need" in changes and packet.asset and not changes.get("asset"):
            _choose_desk(session, packet)
        act.audited = _content(packet) != before
    return act.shown


def _content(packet: Packet) -> tuple[Any, ...]:
    """The parts of a packet that `change` may change."""
    return (
        packet.title,
        packet.note,
        packet.need,
        packet.began_at,
        _ticket_number(packet),
        packet.asset,
        packet.login,
        packet.sheet,
        packet.answers,
    )


def _ticket_number(packet: Packet) -> str:
    return packet.ticket.number if packet.ticket else ""


def _desk(session: Session, packet: Packet, key: str) -> DeskSheet:
    if packet.asset is None:
        raise Conflict(
            "The packet has no asset yet, so it has no vendor either.",
            "Name the asset first.",
            code="no-thing",
        )
    return desk_named(session, packet.asset.vendor, key)


def _login(session: Session, packet: Packet, name: str) -> VendorLogin:
    if packet.asset is None:
        raise Conflict(
            "The packet has no asset yet, so there is no vendor to sign in at.",
            "Name the asset first.",
        )
    found = next(
        (
            item
            for item in logins_of(session, packet.asset.vendor_id)
            if name in (item.name, item.id)
        ),
        None,
    )
    if found is None:
        raise Invalid(
            f"You have no login {name} at {packet.asset.vendor.name}.",
            "Choose one of its logins.",
            code="no-such",
            field="login",
        )
    return found


def name_asset(session: Session, actor: Actor, packet: Packet, asset: Asset) -> None:
    """Say what the packet is about; login and desk follow from it. Answers to another desk are kept aside."""
    packet.asset = asset
    packet.login = _likeliest_login(session, actor, cast(Need, packet.need), asset)
    _choose_desk(session, packet)


def _use_desk(session: Session, packet: Packet, sheet: DeskSheet) -> None:
    """Send the packet to the desk of this sheet. Answers to the one before are kept aside; earlier ones are back."""
    before = packet.sheet.desk.key if packet.sheet else sheet.desk.key
    packet.sheet = sheet
    if before == sheet.desk.key:
        return
    given = packet.answers
    aside = {**packet.answers_aside, **({before: given} if given else {})}
    earlier = aside.pop(sheet.desk.key, {})
    packet.answers = {**that_fit(session, packet, given), **earlier}
    packet.answers_aside = aside


def that_fit(session: Session, packet: Packet, given: Mapping[str, Any]) -> dict[str, Any]:
    """Answers to another desk or another kind of need that this one asks for as well, and can take as they are."""
    sheet = parsed(packet.sheet) if packet.sheet else None
    if sheet is None:
        return {}
    known = Known(people=people_of(session))
    kept = {}
    for ident, value in given.items():
        question = sheet.question(ident)
        if question is not None and answer_fault(question, value, known) is None:
            kept[ident] = value
    return kept


def _choose_desk(session: Session, packet: Packet) -> None:
    if packet.asset is None:
        return
    need = cast(Need, packet.need)
    ruling = rule_for(session, packet.asset, need, datetime.now(UTC).date(), packet.login)
    _use_desk(session, packet, desk_for(session, packet.asset.vendor, ruling.route, need))


def by_hand_if_uncovered(app: AppContext, actor: Actor, number: str) -> None:
    """Send a draft by hand where its desk wants cover that is not there: about what a packet itself asks for."""
    with app.transaction(actor, "packet changed", f"packet {number}", fields=["desk"]) as tx:
        packet = workbench.find_packet(tx.session, number, lock=True)
        stops = workbench.evaluate(app, tx.session, packet).stops
        uncovered = packet.asset is not None and any(one.code == "cover" for one in stops)
        tx.audited = uncovered
        if packet.asset is not None and uncovered:
            vendor = packet.asset.vendor
            _use_desk(tx.session, packet, desk_named(tx.session, vendor, by_hand_key(vendor)))


def _likeliest_login(
    session: Session, actor: Actor, need: Need, asset: Asset
) -> VendorLogin | None:
    """Our own login if it is tied to the contract, else one that is, else our own, else any."""
    ruling = rule_for(session, asset, need, datetime.now(UTC).date(), None)
    known = login_values(session, asset.vendor_id)

    def distance(login: VendorLogin) -> tuple[bool, bool, str]:
        own = actor.person_id is not None and login.person_id == actor.person_id
        return ruling.contract not in known[login.id].tied, not own, login.name

    return min(logins_of(session, asset.vendor_id), key=distance, default=None)


def answer(
    app: AppContext, actor: Actor, number: str, answers: dict[str, str | None]
) -> PacketShown:
    """Answer questions of the desk's; an empty answer goes back to what the register says.

    Raises Invalid for answers that cannot be taken, once the others are kept.
    """
    with draft_act(app, actor, "questions answered", number) as act:
        packet, bench = act.packet, act.bench
        if bench.sheet is None:
            raise Conflict(
                "There is no desk yet, so there are no questions.",
                "Name the asset first.",
                code="no-desk",
            )
        sheet = bench.sheet
        merged = {ident: value for ident, value in {**packet.answers, **answers}.items() if value}
        known = known_for(answers_for(sheet, merged, bench.facts), bench.facts, bench.people)
        faults = {
            ident: said
            for ident, value in answers.items()
            if (said := _fault(sheet, ident, value, known))
        }
        as_before = {ident: packet.answers[ident] for ident in faults if ident in packet.answers}
        kept = {k: v for k, v in merged.items() if k not in faults} | as_before
        act.detail["questions"] = sorted(answers.keys() - faults.keys())
        act.audited = kept != packet.answers
        packet.answers = kept
    if faults:
        raise _not_taken(faults, len(answers))
    return act.shown


def _fault(sheet: Sheet, ident: str, value: str | None, known: Known) -> str:
    """Why an answer is not accepted, as a sentence; empty if it is."""
    question = sheet.question(ident)
    if question is None:
        return f"{sheet.name} does not ask {ident}."
    fault = (
        answer_fault(question, value, known) if value and question.form not in _GROWING else None
    )
    return f"{question.ask} {fault}" if fault else ""


def _not_taken(faults: dict[str, str], many: int) -> Invalid:
    said = " ".join(faults.values())
    if many > len(faults):
        kept = many - len(faults)
        said += f" The other {kept} answers are kept." if kept > 1 else " The other answer is kept."
    return Invalid(
        said,
        "See the packet's questions, and choose again.",
        code="answer-form",
        field=next(iter(faults)),
    )
