"""The line of each packet: what lists show of it, written in the transaction that changes it.

A change of the packet or one of its parts renews its line. A change of the register renews the lines of the drafts that
it concerns, since their stops may be others, and what all lines show of assets, vendors and sites. The worker renews
what the clock changes.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from datetime import UTC, date, datetime, time, timedelta
from typing import Any, cast

from sqlalchemy import ColumnElement, event, func, or_, select, text, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload, selectinload

from sealpacket.app.context import APP, SEEN, AppContext
from sealpacket.core.attention import SOON, Attention
from sealpacket.core.coverage import Ruling
from sealpacket.core.life import DeliveryState, Life, Turn
from sealpacket.core.notices import NoticeKind
from sealpacket.core.sheets import Answer, severity_of
from sealpacket.services.desks import parsed
from sealpacket.services.notices import announcing
from sealpacket.services.packets import briefs, clocks, workbench
from sealpacket.services.packets.foreseeing import category_of
from sealpacket.services.packets.redaction import typed_text
from sealpacket.services.packets.units import settle_units
from sealpacket.store.models import (
    Asset,
    Message,
    Packet,
    PacketLine,
    Vendor,
    changed_packets,
)
from sealpacket.store.register_cache import read_again, vendors_renamed, vendors_written

LANGUAGE = text("'english'::regconfig")
"""The language as which the words of packets are bent."""
AT_ONCE = 50
"""Maximum number of drafts renewed within the transaction that changes the register; the worker renews the others."""
_WORKER_AT_ONCE = 20
_LONGEST_WORD = 240
_PARCEL_AHEAD = timedelta(days=2)
_BUSY = "renewing lines"
_LOCK = 0x5EA1_11E5
"""Whoever writes lines after a change of the register waits for all who write lines, and they for it."""


@event.listens_for(Session, "before_commit")
def _renew(session: Session) -> None:
    """Renew the lines that what is about to be committed changes."""
    app = session.info.get(APP)
    if app is None or session.info.get(_BUSY) or session.in_nested_transaction():
        return
    session.flush()
    changed = set(changed_packets(session))
    changed_packets(session).clear()
    if changed:
        settle_units(session, changed)
        session.flush()
    vendors = vendors_written(session)
    alone = vendors is None or bool(vendors)
    if alone or changed:
        _wait_for_turn(session, alone=alone)
    if alone:
        changed |= _of_register(session, vendors)
    if changed:
        _write(app, session, changed, alone=alone)


def _wait_for_turn(session: Session, *, alone: bool) -> None:
    lock = func.pg_advisory_xact_lock if alone else func.pg_advisory_xact_lock_shared
    session.execute(select(lock(_LOCK)))


def _of_register(session: Session, vendors: set[str] | None) -> set[str]:
    """Renew what lines show of the register; gives the packets whose lines have to be worked out again."""
    session.execute(_REGISTER, {"any": vendors is None, "vendors": sorted(vendors or ())})
    keys = select(Vendor.key).where(Vendor.id.in_(vendors or ()))
    concerned: ColumnElement[bool] = PacketLine.life == Life.DRAFTING
    if vendors is not None:
        concerned &= or_(PacketLine.vendor.in_(keys), PacketLine.vendor.is_(None))
    if renamed := vendors_renamed(session):
        theirs = PacketLine.vendor.in_(select(Vendor.key).where(Vendor.id.in_(renamed)))
        concerned |= theirs & (PacketLine.turn != Turn.NONE)
    found = session.scalars(select(PacketLine.packet_id).where(concerned).order_by("packet_id"))
    ids = found.all()
    later = update(PacketLine).where(PacketLine.packet_id.in_(ids[AT_ONCE:]))
    session.execute(later.values(renew_at=func.now()))
    return set(ids[:AT_ONCE])


_REGISTER = text("""
    WITH shown AS (
        SELECT l.packet_id, v.key AS vendor, v.name AS vendor_name, a.serial, a.name AS asset_name, p.name AS product,
            p.id AS product_id, a.status = 'retired' AS retired, s.key AS site, s.name AS site_name,
            ARRAY(
                SELECT DISTINCT one COLLATE "C" FROM unnest(array_replace(l.numbers, lower(l.serial), lower(a.serial)))
                    AS one ORDER BY one COLLATE "C"
            ) AS numbers
        FROM packet_line l JOIN asset a ON a.id = l.asset_id JOIN vendor v ON v.id = a.vendor_id
            JOIN product p ON p.id = a.product_id LEFT JOIN site s ON s.id = a.site_id
        WHERE (:any OR a.vendor_id = ANY(:vendors))
            AND (l.vendor, l.vendor_name, l.serial, l.asset_name, l.product, l.product_id, l.retired, l.site,
                l.site_name) IS DISTINCT FROM (v.key, v.name, a.serial, a.name, p.name, p.id, a.status = 'retired',
                s.key, s.name)
    )
    UPDATE packet_line l SET vendor = n.vendor, vendor_name = n.vendor_name, serial = n.serial,
        asset_name = n.asset_name, product = n.product, product_id = n.product_id, retired = n.retired,
        site = n.site, site_name = n.site_name, numbers = n.numbers,
        said = array_to_string(n.numbers, ' ') || ' ' || lower(l.title) || ' ' || lower(n.asset_name)
    FROM shown n
    WHERE l.packet_id = n.packet_id
""")
"""Renews what lines show of the register: of the records of some vendors, or of any."""


@contextmanager
def _fresh(session: Session, *, alone: bool) -> Iterator[Session]:
    """Another session in the same transaction, which has nothing cached.

    `alone` it keeps nothing of what was found in typed texts: who changes such a packet may wait for us.
    """
    info = {name: value for name, value in session.info.items() if name != SEEN}
    with Session(session.connection(), info=info, expire_on_commit=False) as fresh:
        fresh.info[_BUSY] = True
        fresh.info[typed_text.UNKEPT] = alone
        read_again(fresh)
        yield fresh


def _write(app: AppContext, session: Session, ids: Iterable[str], *, alone: bool) -> None:
    """Work the lines of packets out and write them; all in one order, so that nobody waits in a circle."""
    with _fresh(session, alone=alone) as fresh:
        query = select(Packet).where(Packet.id.in_(list(ids))).order_by(Packet.id)
        values = [line_of(app, fresh, one) for one in fresh.scalars(query.options(*_WITH))]
    was = announcing.before(session, ids)
    for one in values:
        statement = insert(PacketLine).values(one)
        session.execute(
            statement.on_conflict_do_update(index_elements=["packet_id"], set_=one),
            execution_options={"synchronize_session": False},
        )
    announcing.follow(session, was, values)


_WITH = (
    joinedload(Packet.asset).options(
        joinedload(Asset.product), joinedload(Asset.vendor), joinedload(Asset.site)
    ),
    joinedload(Packet.sheet),
    joinedload(Packet.ticket),
    selectinload(Packet.messages),
    selectinload(Packet.cases),
    selectinload(Packet.exhibits),
    selectinload(Packet.shipments),
    selectinload(Packet.access_grants),
    selectinload(Packet.turns),
)


def line_of(app: AppContext, session: Session, packet: Packet) -> dict[str, Any]:
    """The line of a packet as it is now."""
    if packet.life == Life.DRAFTING:
        bench = workbench.evaluate(app, session, packet, stops_only=True)
        stops, ruling, answers = len(bench.stops), bench.ruling, bench.answers
    else:
        stops = None
        ruling = Ruling.model_validate(packet.ruling) if packet.ruling else None
        answers = tuple(Answer.model_validate(one) for one in packet.sealed_answers or ())
    asset = packet.asset
    due = clocks.next_due(packet, ruling, answers)
    escalate_at = clocks.escalation_at(packet, due)
    attention, moment = _attention(packet), datetime.now(UTC)
    numbers = sorted(_numbers(packet, ruling))
    said = " ".join([*numbers, packet.title.lower(), asset.name.lower() if asset else ""])
    open_ = [one for message in packet.messages for one in message.open_questions]
    return {
        "packet_id": packet.id,
        "number": packet.number,
        "title": packet.title,
        "need": packet.need,
        "life": packet.life,
        "turn": packet.turn,
        "turn_since": packet.turn_since,
        "owner": packet.owner,
        "asset_id": packet.asset_id,
        "vendor": asset.vendor.key if asset else None,
        "vendor_name": asset.vendor.name if asset else None,
        "serial": asset.serial if asset else None,
        "asset_name": asset.name if asset else None,
        "product": asset.product.name if asset else None,
        "product_id": asset.product_id if asset else None,
        "retired": asset is not None and asset.status == "retired",
        "site": asset.site.key if asset and asset.site else None,
        "site_name": asset.site.name if asset and asset.site else None,
        "login_id": packet.login_id,
        "contract": ruling.contract if ruling else None,
        "severity": _severity(packet, answers),
        "reference": packet.reference,
        "our_reference": packet.our_reference,
        "ticket": packet.ticket.number if packet.ticket and packet.ticket.number else None,
        "status_text": briefs.status_text_of(packet, stops),
        "stops": stops,
        "attention": attention,
        "due_at": due.at if due else None,
        "due_what": due.what if due else "",
        "due_zone": clocks.zone_of_desk(packet),
        "escalate_at": escalate_at,
        "exhibits": len(packet.exhibits),
        "messages": len(packet.messages),
        "questions": len(open_),
        **_last_word(packet),
        "numbers": numbers,
        "said": said,
        "words": _words(packet),
        "created_at": packet.created_at,
        "updated_at": packet.updated_at,
        "renew_at": _renew_at(packet, due, escalate_at, moment),
        "causes": sorted(_causes(packet, attention, due, escalate_at, moment)),
        "category": category_of(parsed(packet.sheet), answers) if packet.sheet else "",
        **_course(packet),
        **clocks.kept(packet, ruling, answers),
    }


_CAUSES = {
    Attention.ASKED: NoticeKind.ASKED,
    Attention.DOUBTFUL: NoticeKind.ASKED,
    Attention.REFUSED: NoticeKind.REFUSED,
    Attention.BY_HAND: NoticeKind.BY_HAND,
}


def _causes(
    packet: Packet,
    attention: Attention,
    due: clocks.NextDue | None,
    escalate_at: datetime | None,
    moment: datetime,
) -> Iterator[NoticeKind]:
    """The states of a packet of which people are notified."""
    if attention in _CAUSES and not (attention == Attention.BY_HAND and packet.lodged_at is None):
        yield _CAUSES[attention]
    if packet.life == Life.ANSWERED and packet.turn == Turn.OURS:
        yield NoticeKind.ANSWERED
    if due is not None and due.at <= moment + SOON:
        yield NoticeKind.OVERDUE if due.at <= moment else NoticeKind.DUE_SOON
    if escalate_at is not None and escalate_at <= moment:
        yield NoticeKind.MAY_ESCALATE
    if any(one.ended_at is None and one.until_at <= moment for one in packet.access_grants):
        yield NoticeKind.ACCESS_OVERDUE
    if any(day <= moment.date() for day in _parcel_days(packet)):
        yield NoticeKind.PARCEL_DUE


def _parcel_days(packet: Packet) -> Iterator[date]:
    """The days from which a parcel that has not arrived is due soon."""
    for one in packet.shipments:
        if one.arrived_on is None and one.due_on is not None:
            yield one.due_on - _PARCEL_AHEAD


def _course(packet: Packet) -> dict[str, Any]:
    """How a packet went until now, in numbers and moments."""
    heard = [one for one in packet.messages if one.direction == "in" and not one.stranger]
    ours = [one for one in packet.messages if one.direction == "out" and not one.taken_back_at]
    ratings = [one.act_values.get("act.rating") for one in ours if one.act == "rate"]
    return {
        "heard": len(heard),
        "asked": sum(not one.doubtful for message in heard for one in message.questions),
        "contested": sum(one.act == "contest" for one in ours),
        "unwished": sum(one.unwished for one in packet.messages),
        "rating": ratings[-1] if ratings else None,
        "lodged_at": packet.lodged_at,
        "settled_at": packet.settled_at,
    }


def _numbers(packet: Packet, ruling: Ruling | None) -> set[str]:
    """All numbers by which a packet is known, in lower case: ours, the desk's, of returns, of parcels, of contracts."""
    asset, ticket = packet.asset, packet.ticket
    known = [packet.number, packet.reference, packet.our_reference]
    known += [asset.serial if asset else None, ticket.number if ticket else None]
    known += [ruling.contract if ruling else None]
    for case in packet.cases:
        known += [
            case.reference,
            *(one for one in case.desk_facts.values() if isinstance(one, str)),
        ]
    known += [one.tracking for one in packet.shipments]
    return {one.lower() for one in known if one and len(one) <= _LONGEST_WORD}


def _severity(packet: Packet, answers: tuple[Answer, ...]) -> str | None:
    """The severity as its desk calls it; None while it has none."""
    if packet.sheet is None:
        return None
    sheet = parsed(packet.sheet)
    level = severity_of(sheet, answers)
    named = sheet.severities.get(level)
    return (named.label if named else level) or None


def _attention(packet: Packet) -> Attention:
    """Why a packet needs us, but for when it is due: that depends on the moment."""
    if packet.turn != Turn.OURS:
        return Attention.THEIRS if packet.turn == Turn.VENDOR else Attention.OVER
    asked = [one for message in packet.messages for one in message.open_questions]
    if packet.life != Life.DRAFTING and any(not one.doubtful for one in asked):
        return Attention.ASKED
    if packet.life == Life.REFUSED:
        return Attention.REFUSED
    if packet.life != Life.DRAFTING and asked:
        return Attention.DOUBTFUL
    by_hand = packet.delivery.state == DeliveryState.BY_HAND
    if by_hand or any(message.waits_for_a_person for message in packet.messages):
        return Attention.BY_HAND
    return Attention.WAITING


def _last_word(packet: Packet) -> dict[str, Any]:
    """The last message between us and the desk."""
    last: Message | None = packet.messages[-1] if packet.messages else None
    if last is None:
        return {"last_word": "", "last_word_from": "", "last_word_at": None}
    words = " ".join(last.text.split())[:_LONGEST_WORD]
    by = last.by if last.direction == "out" else (last.sender or packet.vendor_name)
    return {"last_word": words, "last_word_from": by, "last_word_at": last.at}


def _words(packet: Packet) -> Any:
    """The words of a packet for finding, as the language of its desk bends them."""
    said = " ".join([packet.title, packet.note, packet.cause, packet.cure])
    return func.to_tsvector(LANGUAGE, said)


def _renew_at(
    packet: Packet, due: clocks.NextDue | None, escalate_at: datetime | None, moment: datetime
) -> datetime | None:
    """When the clock changes the line: some checks of drafts look at it, and what is due or for us to settle."""
    if packet.life == Life.DRAFTING:
        return moment.replace(minute=0, second=0, microsecond=0) + timedelta(hours=1)
    changes = [due.at - SOON, due.at] if due else []
    changes += [escalate_at] if escalate_at else []
    changes += [one.until_at for one in packet.access_grants if one.ended_at is None]
    days = [*_parcel_days(packet), *(one.settle_on for one in packet.cases if one.settle_on)]
    changes += [datetime.combine(day, time(), UTC) for day in days]
    return min((one for one in changes if one > moment), default=None)


def renew_due(app: AppContext) -> None:
    """Renew the lines that the clock has changed. The worker calls this."""
    due = PacketLine.renew_at <= func.now()
    query = select(PacketLine.packet_id).where(due).order_by(PacketLine.renew_at)
    while ids := _some(app, query.limit(_WORKER_AT_ONCE)):
        renew(app, ids)


def rebuild(app: AppContext) -> int:
    """Renew the lines of all packets; gives how many."""
    done, last = 0, ""
    while ids := _some(
        app, select(Packet.id).where(Packet.id > last).order_by(Packet.id).limit(_WORKER_AT_ONCE)
    ):
        renew(app, ids)
        done, last = done + len(ids), ids[-1]
    return done


def _some(app: AppContext, query: Any) -> list[str]:
    with app.database.transaction() as session:
        return cast("list[str]", list(session.scalars(query)))


def renew(app: AppContext, ids: list[str]) -> None:
    """Renew the lines of some packets. Whoever is changing one of them is through first."""
    with app.database.transaction() as session:
        locked = select(Packet.id).where(Packet.id.in_(ids)).order_by(Packet.id).with_for_update()
        changed_packets(session).update(session.scalars(locked))
