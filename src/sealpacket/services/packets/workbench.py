"""The packet on the workbench: ruling, questions, checks and exhibits put together from the register."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from datetime import UTC, datetime
from typing import Any, cast

from sqlalchemy import exists, func, inspect, select
from sqlalchemy.orm import Session, joinedload
from sqlalchemy.orm.attributes import set_committed_value

from sealpacket.app.context import SEEN, AppContext, ReadVersion
from sealpacket.core.coverage import Basis, Need, Ruling, replay
from sealpacket.core.errors import Conflict, Invalid, NotFound, Stale
from sealpacket.core.evidence.completeness import Expected
from sealpacket.core.life import BACK_TO_DRAFTING, OPEN, Life
from sealpacket.core.sheets import (
    Answer,
    Check,
    ExhibitState,
    Seen,
    Sheet,
    answers_for,
    check_packet,
    open_again,
)
from sealpacket.core.sheets.checks.result import in_order
from sealpacket.services.coverage import basis_for
from sealpacket.services.desks import parsed
from sealpacket.services.packets.asset_context import facts_of_thing
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.expectations import expected_of, look_of, same_files
from sealpacket.services.packets.facts import facts_of, people_of
from sealpacket.services.packets.limits import check_limits
from sealpacket.services.packets.redaction import typed_text
from sealpacket.services.packets.units import check_units
from sealpacket.store.models import (
    AccessGrant,
    Asset,
    Desk,
    DeskSheet,
    Exhibit,
    Message,
    Packet,
    PacketCase,
    Product,
    RedactionDecision,
    Shipment,
    VendorLogin,
    note_lock,
)
from sealpacket.store.register_cache import of_register

_WITH_WHAT_IT_IS_ABOUT = (
    joinedload(Packet.asset).options(
        joinedload(Asset.product), joinedload(Asset.vendor), joinedload(Asset.site)
    ),
    joinedload(Packet.login).joinedload(VendorLogin.person),
    joinedload(Packet.sheet).joinedload(DeskSheet.desk),
    joinedload(Packet.ticket),
    joinedload(Packet.legend),
    joinedload(Packet.typed_record),
)
"""Whoever looks at a packet needs these; each on its own would be a statement more."""


def _any(of: Any) -> Any:
    return exists().where(of.packet_id == Packet.id).correlate(Packet)


_HAS = {
    "exhibits": _any(Exhibit),
    "messages": _any(Message),
    "cases": _any(PacketCase),
    "access_grants": _any(AccessGrant),
    "shipments": _any(Shipment),
    "decisions": _any(RedactionDecision),
}
"""Whether a packet has any of these: what it has none of need not be read."""


def find_packet(session: Session, number: str, *, lock: bool = False) -> Packet:
    """The packet of that number. With `lock`, others wait until this transaction is through.

    Raises NotFound; with `lock` also Stale, if the packet has moved on from the version that the actor has seen.
    """
    named = Packet.number == number.upper()
    if lock:  # by itself: what is joined to a locked row is read as it was before the wait
        session.execute(select(Packet.id).where(named).with_for_update())
    query = select(Packet, *_HAS.values()).where(named).options(*_WITH_WHAT_IT_IS_ABOUT)
    row = session.execute(query).one_or_none()
    if row is None:
        raise NotFound(f"There is no packet {number}.", "List the packets, then name one of them.")
    packet, *has = row
    for name, any_there in zip(_HAS, has, strict=True):
        if not any_there and name in inspect(packet).unloaded:
            set_committed_value(packet, name, [])
    if lock:
        note_lock(session, packet)
        _compare(packet, session.info.get(SEEN))
    return cast(Packet, packet)


def _compare(packet: Packet, seen: ReadVersion | None) -> None:
    """Raise Stale if the packet is not at the version that was seen; None fits any."""
    if seen is None or seen.is_compared:
        return
    seen.is_compared = True
    if packet.version != seen.version:
        raise Stale(
            f"{packet.number} has been changed since you read it: you saw version {seen.version}, "
            f"it is at {packet.version}.",
            "Read it again, look at what has changed, then repeat your act on the new version.",
        )


def sheet_of(packet: Packet) -> Sheet:
    """The sheet by which a packet is lodged. Raises Conflict for one without a desk."""
    if packet.sheet is None:
        raise Conflict(f"{packet.number} has no desk.", "Name the asset first.", code="no-desk")
    return parsed(packet.sheet)


def case_named(packet: Packet, name: str) -> PacketCase:
    """The case of that label or reference; the only one where none is named. Raises Invalid where there are several."""
    if name:
        found = next((c for c in packet.cases if name in (c.label, c.reference)), None)
        if found is None:
            raise NotFound(f"{packet.number} has no case {name}.", f"There are {_listed(packet)}.")
        return found
    if len(packet.cases) == 1:
        return packet.cases[0]
    raise Invalid(
        f"{packet.number} has {len(packet.cases)} cases, and none is named.",
        f"Name one of {_listed(packet)}.",
        code="which-case",
        field="case",
    )


def only_case(cases: Sequence[PacketCase]) -> str:
    """The name of the only case among these; empty if there is none, or several."""
    return cases[0].called if len(cases) == 1 else ""


def _listed(packet: Packet) -> str:
    return ", ".join(f"{c.label} ({c.reference})" if c.reference else c.label for c in packet.cases)


def is_changeable(exhibit: Exhibit) -> bool:
    """Whether an exhibit is not sealed and not on its way: of a draft, or one that came later and waits."""
    if exhibit.packet.life == Life.DRAFTING:
        return True
    return exhibit.packet.life in OPEN and exhibit.later and exhibit.message_id is None


def in_draft(session: Session, number: str) -> Packet:
    """The packet, locked, if it may still be changed. Raises Conflict if not, Stale if `version` is not its own."""
    return need_draft(find_packet(session, number, lock=True))


def need_draft(packet: Packet) -> Packet:
    """The packet, if it may still be changed. Raises Conflict if not."""
    if packet.life != Life.DRAFTING:
        raise Conflict(
            f"{packet.number} is {packet.life}; only a draft can be changed.",
            BACK_TO_DRAFTING,
            code="not-drafting",
        )
    return packet


def answered(session: Session, packet: Packet) -> Workbench:
    """A packet with the ruling and the answers to its desk, without what was typed and without checks."""
    sheet = parsed(packet.sheet) if packet.sheet else None
    people = people_of(session)
    basis: Basis | None = None
    if packet.life == Life.DRAFTING and packet.asset:
        sender = _sent_for(packet, sheet, people)
        today = datetime.now(UTC).date()
        basis = basis_for(
            session, packet.asset, cast(Need, packet.need), today, packet.login, sender
        )
        ruling: Ruling | None = replay(basis)
    else:
        ruling = Ruling.model_validate(packet.ruling) if packet.ruling else None
    around = facts_of_thing(session, packet, sheet.drawn_on) if sheet else ()
    facts = facts_of(packet, ruling, people, around)
    if packet.sealed_answers is not None:
        answers = tuple(Answer.model_validate(answer) for answer in packet.sealed_answers)
    else:
        answers = answers_for(sheet, packet.answers, facts) if sheet else ()
    return Workbench(packet, sheet, basis, ruling, answers, facts, people)


def evaluate(
    app: AppContext,
    session: Session,
    packet: Packet,
    *,
    thorough: bool = False,
    stops_only: bool = False,
) -> Workbench:
    """Evaluate a packet: ruling, answers, typed texts and checks. A sealed packet keeps the ruling it was sealed with.

    With `thorough`, the texts typed into a draft are redacted again, with the register and the exhibits as they are
    now. With `stops_only`, hints are left out, since they never stop anything.
    """
    bench = with_texts(app, session, packet, thorough=thorough)
    return checked(session, bench, stops_only=stops_only)


def with_texts(
    app: AppContext, session: Session, packet: Packet, *, thorough: bool = False
) -> Workbench:
    """A packet with its answers and with what was found in typed texts, without checks."""
    bench = answered(session, packet)
    if packet.life != Life.DRAFTING:
        bench.typed = typed_text.sealed_texts(app, packet)
    elif bench.sheet is not None:
        bench.typed = typed_text.look(app, session, bench, thorough=thorough)
    return bench


def checked(session: Session, bench: Workbench, *, stops_only: bool = False) -> Workbench:
    """The same with the checks of a draft; any other packet has none."""
    packet, sheet = bench.packet, bench.sheet
    if packet.life != Life.DRAFTING:
        return bench
    if sheet is None:
        bench.checks = (_no_desk(packet),)
        return bench
    expected = expected_of(session, packet)
    bench.states = {e.name: exhibit_state(e, expected[e.name]) for e in packet.exhibits}
    bench.checks = check_packet(
        sheet,
        bench.answers,
        bench.ruling,
        list(bench.states.values()),
        bench.people,
        bench.facts,
        Seen() if stops_only else _seen(session, packet, sheet),
        bench.typed,
    )
    bench.checks += tuple(_aside(session, packet))
    agreed = [*check_units(session, bench), *check_limits(session, bench)]
    if agreed:
        bench.checks = in_order((*bench.checks, *agreed))
    return bench


def _sent_for(packet: Packet, sheet: Sheet | None, people: dict[str, dict[str, Any]]) -> str | None:
    """The person named as contact, if the login is somebody else's."""
    if sheet is None or packet.login is None or packet.login.person is None:
        return None
    for question in sheet.questions:
        named = packet.answers.get(question.id) if question.form == "person" else None
        if named in people:
            return None if named == packet.login.person.key else str(people[named]["name"])
    return None


def _no_desk(packet: Packet) -> Check:
    if packet.asset is None:
        return Check(
            code="no-thing",
            level="stop",
            sentence="The packet does not say what it is about.",
            remedy="Find the asset",
            act="name_thing",
        )
    return Check(
        code="no-desk",
        level="stop",
        sentence=f"No desk of {packet.asset.vendor.name} is known.",
        remedy="Add its desk sheet",
        act="open_desks",
    )


def _aside(session: Session, packet: Packet) -> Iterator[Check]:
    """Answers that were given before the packet was about this thing."""
    for key, answers in packet.answers_aside.items():
        lost = [ident for ident in answers if packet.answers.get(ident) != answers[ident]]
        if not lost:
            continue
        desk = session.scalars(select(Desk).where(Desk.key == key)).one_or_none()
        name = desk.name if desk else key
        many = "An answer" if len(lost) == 1 else f"{len(lost)} answers"
        fit, kept = ("does", "is") if len(lost) == 1 else ("do", "are")
        yield Check(
            code="answers-aside",
            level="hint",
            act="mend_asset",
            sentence=f"{many} to {name} {fit} not fit here and {kept} kept aside: {_asked_for(desk, lost)}.",
            remedy="Choose that desk or a thing of that vendor again, and they are back",
        )


_FEW = 5


def _asked_for(desk: Desk | None, idents: list[str]) -> str:
    """The questions of these ids in words, the first few of them."""
    sheet = parsed(desk.sheets[-1]) if desk and desk.sheets else None
    asks = [
        question.ask.rstrip("?.") if sheet and (question := sheet.question(ident)) else ident
        for ident in idents
    ]
    more = f", and {len(asks) - _FEW} more" if len(asks) > _FEW else ""
    return "; ".join(asks[:_FEW]) + more


def is_archived(packet: Packet) -> bool:
    """Whether the packet's desk takes its files in one archive."""
    return bool(packet.sheet and parsed(packet.sheet).attachments.naming.archive)


def _seen(session: Session, packet: Packet, sheet: Sheet) -> Seen:
    """Observations about the packet that only feed hints."""
    closed = ""
    if sheet.hours is not None:
        opens = open_again(sheet.hours, datetime.now(UTC))
        closed = f"{opens:%A %H:%M} ({sheet.hours.zone})" if opens else ""
    return Seen(
        serial_fits=_other_model(session, packet.asset) if packet.asset else "",
        elsewhere=_elsewhere(session, packet),
        closed=closed,
        at=datetime.now(UTC),
    )


def _elsewhere(session: Session, packet: Packet) -> dict[str, str]:
    """By exhibit, the packet to another vendor that the same file was attached to."""
    if packet.asset is None:
        return {}
    return same_files(session, packet, Asset.vendor_id != packet.asset.vendor_id)


_MANY = 3
"""Minimum number of same-shaped serials before a mismatch is reported."""


_SOME = 3000
"""Serials compared at most; this only feeds a hint."""


def _other_model(session: Session, asset: Asset) -> str:
    """Another model of the vendor's whose serials all look like this one, where no other of its own model does."""
    return of_register(
        session, ("other model", asset.id), lambda: _read_other_model(session, asset)
    )


def _read_other_model(session: Session, asset: Asset) -> str:
    some = (
        select(Asset.product_id, _likeness(Asset.serial).label("likeness"))
        .where(Asset.vendor_id == asset.vendor_id, Asset.id != asset.id)
        .order_by(Asset.serial)
        .limit(_SOME)
        .subquery()
    )
    mine = re.sub("[0-9]+", "9", re.sub("[a-z]+", "a", asset.serial.casefold()))
    query = (
        select(some.c.product_id, func.count())
        .where(some.c.likeness == mine)
        .group_by(some.c.product_id)
    )
    alike = {row[0]: int(row[1]) for row in session.execute(query)}
    if asset.product_id in alike or len(alike) != 1:
        return ""
    ident, count = next(iter(alike.items()))
    return str(session.get_one(Product, ident).name) if count >= _MANY else ""


def _likeness(serial: Any) -> Any:
    """The shape of a serial: each run of letters as `a`, each run of digits as `9`."""
    return func.regexp_replace(
        func.regexp_replace(func.lower(serial), "[a-z]+", "a", "g"), "[0-9]+", "9", "g"
    )


def exhibit_state(exhibit: Exhibit, expected: Expected | None = None) -> ExhibitState:
    """The state of an exhibit for the checks, with its expectations."""
    size = (
        exhibit.outgoing_size
        if exhibit.state == "ready" and exhibit.outgoing_size is not None
        else exhibit.size
    )
    return ExhibitState(
        name=exhibit.name,
        state=exhibit.state,
        size=size,
        leaks=exhibit.leaks,
        still=tuple(
            f"{one['placeholder']} ({one['where']})"
            for one in (exhibit.report or {}).get("leak_check", {}).get("still", ())
        ),
        released=exhibit.released_by is not None,
        reason=exhibit.reason,
        packed=exhibit.packed,
        blank=exhibit.blank,
        look=look_of(exhibit),
        expected=expected,
    )
