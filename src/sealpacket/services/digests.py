"""Digests of the outlook: a calendar with a private address, and periodic mail."""

from __future__ import annotations

import secrets
from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta
from typing import TYPE_CHECKING, Any, Literal

import structlog
from pydantic import BaseModel
from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.channels import mail
from sealpacket.core.errors import Invalid, NotFound, ProblemError
from sealpacket.core.notices import Noticed, NoticeKind, ways_for
from sealpacket.services.ahead import ahead
from sealpacket.services.notices.recipients import recipients
from sealpacket.services.register.referred import Referred
from sealpacket.services.sign_in import hash_of
from sealpacket.services.vendor_health import planned
from sealpacket.store.models import (
    AccessGrant,
    Account,
    Contract,
    Digest,
    Entitlement,
    PacketInformed,
    PacketLine,
    Shipment,
    Vendor,
    VendorReport,
)

if TYPE_CHECKING:
    from icalendar import Event


class DigestShown(BaseModel):
    """Digest settings. `calendar`: a private address exists."""

    every: Literal["never", "daily", "weekly", "monthly"]
    sites: list[str]
    vendors: list[str]
    calendar: bool
    mail: str | None
    mail_configured: bool
    sent_on: date | None


class CalendarAddress(BaseModel):
    """A private address, shown this once. Whoever has it can read the calendar."""

    address: str


SEND = "send_digests"
log = structlog.get_logger()


def settings(app: AppContext, actor: Actor) -> DigestShown:
    """The digest settings of the person who asks."""
    with app.database.transaction() as session:
        return _show(
            app, session.get(Digest, actor.account_id), session.get(Account, actor.account_id)
        )


def change(
    app: AppContext, actor: Actor, *, every: str, sites: list[str], vendors: list[str]
) -> DigestShown:
    """Change the digest settings of the person who asks. Raises Invalid for an unknown site or vendor."""
    with app.transaction(actor, "digest changed", f"account {actor.name}", every=every) as tx:
        refs = Referred(tx.session)
        for key in sites:
            refs.site(key, "sites")
        for key in vendors:
            refs.vendor(key, "vendors")
        account = tx.session.get(Account, actor.account_id)
        if every != "never" and (account is None or account.person is None):
            raise Invalid(
                "Your account belongs to no person, so it has no mail address.",
                "Have one named for it.",
                field="every",
            )
        digest = _own(tx.session, actor)
        digest.every, digest.sites, digest.vendors = every, sites, vendors
        tx.session.flush()
        return _show(app, digest, account)


def new_calendar(app: AppContext, actor: Actor) -> CalendarAddress:
    """A new private address for the person's calendar, shown this once; an older one ends."""
    token = secrets.token_urlsafe(32)
    with app.transaction(actor, "calendar address made", f"account {actor.name}") as tx:
        _own(tx.session, actor).calendar_hash = hash_of(token)
    return CalendarAddress(address=f"{app.settings.address.rstrip('/')}/calendar/{token}.ics")


def end_calendar(app: AppContext, actor: Actor) -> DigestShown:
    """End the private address."""
    with app.transaction(actor, "calendar address ended", f"account {actor.name}") as tx:
        digest = _own(tx.session, actor)
        digest.calendar_hash = None
        tx.session.flush()
        return _show(app, digest, tx.session.get(Account, actor.account_id))


def _own(session: Session, actor: Actor) -> Digest:
    digest = session.get(Digest, actor.account_id)
    if digest is None:
        digest = Digest(account_id=actor.account_id, every="never", sites=[], vendors=[])
        session.add(digest)
    return digest


def _show(app: AppContext, digest: Digest | None, account: Account | None) -> DigestShown:
    person = account.person if account else None
    return DigestShown(
        every=digest.every if digest else "never",
        sites=digest.sites if digest else [],
        vendors=digest.vendors if digest else [],
        calendar=bool(digest and digest.calendar_hash),
        mail=person.mail if person else None,
        mail_configured=bool(app.settings.mail),
        sent_on=digest.sent_on if digest else None,
    )


def calendar(app: AppContext, token: str) -> bytes:
    """The calendar behind a private address, as iCalendar (RFC 5545). Raises NotFound.

    It has ends, notices and lapses of contracts, and of packets that concern its owner what is due: promises of desks,
    parcels, and access that ends; and maintenance that vendors announce for what we have. Nothing that somebody of ours
    typed is in it.
    """
    from icalendar import Calendar

    with app.database.transaction() as session:
        digest = session.scalars(
            select(Digest).where(Digest.calendar_hash == hash_of(token))
        ).one_or_none()
        account = session.get(Account, digest.account_id) if digest else None
        if digest is None or account is None or not account.active:
            raise NotFound("There is no such calendar.", "Make a new address under Looking ahead.")
        today = datetime.now(UTC).date()
        feed = Calendar()
        feed.add("prodid", "-//Seal Packet//Calendar//EN")
        feed.add("version", "2.0")
        feed.add("x-wr-calname", "Seal Packet")
        feed.add("refresh-interval", timedelta(hours=12), parameters={"VALUE": "DURATION"})
        for contract in session.scalars(_contracts(digest, today)):
            for event in _events(app, contract):
                feed.add_component(event)
        for row in session.scalars(_apart(digest, today)):
            what = f"{row.contract.vendor.name}: {row.reference} ({row.level}) ends"
            feed.add_component(
                _event(
                    f"entitlement-{row.id}", row.ends_on, what, f"Contract {row.contract.number}."
                )
            )
        for report in planned(session, digest.vendors):
            feed.add_component(_maintenance(report))
        for event in _due(app, session, account):
            feed.add_component(event)
        return bytes(feed.to_ical())


def _contracts(digest: Digest, today: date) -> Any:
    query = (
        select(Contract).join(Contract.vendor).where(Contract.ends_on >= today - timedelta(days=90))
    )
    return (
        query.where(Vendor.key.in_(digest.vendors))
        if digest.vendors
        else query.order_by(Contract.ends_on)
    )


def _apart(digest: Digest, today: date) -> Any:
    """Entitlements that end on another day than their contract."""
    query = (
        select(Entitlement)
        .join(Entitlement.contract)
        .join(Contract.vendor)
        .where(
            Entitlement.ends_on >= today,
            Entitlement.replaced_on.is_(None),
            or_(Entitlement.co_term.is_(False), Entitlement.ends_on != Contract.ends_on),
            Entitlement.ends_on < Contract.ends_on,
        )
    )
    return query.where(Vendor.key.in_(digest.vendors)) if digest.vendors else query


def _events(app: AppContext, row: Contract) -> list[Event]:
    name = f"{row.vendor.name}: contract {row.number}{f' ({row.title})' if row.title else ''}"
    where = f"{app.settings.address.rstrip('/')}/contracts/{row.id}"
    events = [
        _event(
            f"end-{row.id}-{row.ends_on}",
            row.ends_on,
            f"{name} ends",
            f"Last day of cover. {where}",
            ahead=14,
        )
    ]
    if row.notice_on:
        events.append(
            _event(
                f"notice-{row.id}-{row.notice_on}",
                row.notice_on,
                f"{name}: last day for notice",
                f"It ends on {row.ends_on}. {where}",
                ahead=14,
            )
        )
    if row.grace_days:
        last = row.ends_on + timedelta(days=row.grace_days)
        events.append(
            _event(
                f"lapse-{row.id}-{last}",
                last,
                f"{name} lapses",
                f"Its days of grace are over. {where}",
            )
        )
    return events


def _maintenance(report: VendorReport) -> Event:
    """Planned work of a vendor, from its beginning to its end; without an end an hour."""
    begins = report.begins_at or report.at
    event = _between(begins, report.ends_at or begins + timedelta(hours=1))
    event.add("uid", f"maintenance-{report.id}@sealpacket")
    event.add("summary", f"{report.vendor.name}: {report.title}")
    if report.link:
        event.add("url", report.link)
    return event


_AHEAD = timedelta(minutes=30)


def _due(app: AppContext, session: Session, account: Account) -> Iterator[Event]:
    """Moments of packets of which somebody has chosen to be notified, by whatever way."""
    who = next(one for one, _ in recipients(session) if one.id == account.id)
    informed = select(PacketInformed.packet_id).where(PacketInformed.person_id == account.person_id)
    own = frozenset(session.scalars(informed) if account.person_id else ())

    def concerns(line: PacketLine, kind: NoticeKind) -> bool:
        noticed = Noticed(
            owner=line.owner, vendor=line.vendor, site=line.site,
            informed=frozenset({who.id} if line.packet_id in own else ()),
        )  # fmt: skip
        return bool(ways_for(who, kind, noticed))

    for line in session.scalars(select(PacketLine).where(PacketLine.due_at.is_not(None))):
        if line.due_at is not None and concerns(line, NoticeKind.DUE_SOON):
            what = {"first_answer": "first answer", "next_word": "next word"}.get(
                line.due_what, line.due_what
            )
            yield _packet_event(app, line, f"due-{line.packet_id}", line.due_at, f"{what} due")
    grants = select(AccessGrant, PacketLine).join(
        PacketLine, PacketLine.packet_id == AccessGrant.packet_id
    )
    for grant, line in session.execute(grants.where(AccessGrant.ended_at.is_(None))):
        if concerns(line, NoticeKind.ACCESS_OVERDUE):
            yield _packet_event(app, line, f"access-{grant.id}", grant.until_at, "access ends")
    parcels = select(Shipment, PacketLine).join(
        PacketLine, PacketLine.packet_id == Shipment.packet_id
    )
    here = Shipment.arrived_on.is_(None) & Shipment.due_on.is_not(None)
    for parcel, line in session.execute(parcels.where(here)):
        if parcel.due_on is not None and concerns(line, NoticeKind.PARCEL_DUE):
            way = "parcel due here" if parcel.way == "to_us" else "return due at the vendor"
            where = f"{app.settings.address.rstrip('/')}/packets/{line.number}"
            yield _event(
                f"parcel-{parcel.id}",
                parcel.due_on,
                f"{line.number} {line.vendor_name}: {way}",
                where,
            )


def _packet_event(app: AppContext, line: PacketLine, uid: str, at: datetime, what: str) -> Event:
    """A moment of a packet, as half an hour that ends with it."""
    event = _between(at - _AHEAD, at)
    event.add("uid", f"{uid}@sealpacket")
    known = " ".join(filter(None, [line.number, line.vendor_name, line.reference]))
    event.add("summary", f"{known}: {what}")
    event.add("description", f"{app.settings.address.rstrip('/')}/packets/{line.number}")
    return event


def _between(begins: datetime, ends: datetime) -> Event:
    """An event from one moment to another that keeps nobody busy."""
    from icalendar import Event

    event = Event()
    event.add("dtstamp", datetime.now(UTC).replace(microsecond=0))
    event.add("dtstart", begins.replace(microsecond=0))
    event.add("dtend", ends.replace(microsecond=0))
    event.add("transp", "TRANSPARENT")
    return event


def _event(uid: str, day: date, summary: str, description: str, *, ahead: int = 0) -> Event:
    from icalendar import Alarm, Event

    event = Event()
    event.add("uid", f"{uid}@sealpacket")
    event.add("dtstamp", datetime.now(UTC).replace(hour=0, minute=0, second=0, microsecond=0))
    event.add("dtstart", day)
    event.add("dtend", day + timedelta(days=1))
    event.add("summary", summary)
    event.add("description", description)
    event.add("transp", "TRANSPARENT")
    if ahead:
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", summary)
        alarm.add("trigger", timedelta(days=-ahead))
        event.add_component(alarm)
    return event


def is_due(every: str, sent_on: date | None, today: date) -> bool:
    """Whether a digest is to be sent today: each day, on Mondays, or on the first of the month; never twice a day.

    One that was missed is sent on the next day on which the worker runs.
    """
    if every == "never" or sent_on == today:
        return False
    begun = {
        "daily": today,
        "weekly": today - timedelta(days=today.weekday()),
        "monthly": today.replace(day=1),
    }[every]
    return sent_on is None or sent_on < begun


def send_due(app: AppContext) -> int:
    """The job: send every digest that is due. One that the mail server does not take is tried again later."""
    if not app.settings.mail:
        return 0
    today = datetime.now(UTC).date()
    with app.database.transaction() as session:
        rows = session.execute(select(Digest, Account).join(Account).where(Account.active)).all()
        due = [
            (d, a.name, a.person) for d, a in rows if a.person and is_due(d.every, d.sent_on, today)
        ]
        people = [
            (digest.account_id, name, person.mail, digest.vendors, digest.sites)
            for digest, name, person in due
        ]
    sent = 0
    for account, name, to, vendors, sites in people:
        text = render(app, vendors, sites)
        try:
            if text:
                _post(app, to, text)
        except ProblemError as problem:
            log.warning("digest not sent", account=name, reason=problem.code)
            continue
        with app.transaction(
            Actor("worker", frozenset()), "digest sent", f"account {name}", empty=not text
        ) as tx:
            digest = tx.session.get(Digest, account)
            if digest:
                digest.sent_on = today
        sent += bool(text)
    return sent


def render(app: AppContext, vendors: list[str], sites: list[str]) -> str:
    """The text of a digest; empty if there is nothing to report."""
    found = ahead(app)

    def mine(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
        kept = [row for row in rows if not vendors or row["vendor"] in vendors]
        return [row for row in kept if not sites or row.get("site", sites[0]) in sites]

    parts: list[str] = []
    for title, name, line in (
        ("Ends within 90 days", "ending", _say_ending),
        ("Has lapsed", "lapsed", "{vendor_name} {contract}, {days} days ago".format_map),
        ("Will have a gap", "gaps", "{serial} {product}: {starts_on} to {ends_on}".format_map),
        ("Is not covered", "uncovered", "{serial} {product}: {reason}".format_map),
    ):
        rows = mine(found[name])
        if rows:
            more = f"\n  … and {len(rows) - 20} more" if len(rows) > 20 else ""
            parts.append(f"{title}\n" + "\n".join(f"  {line(row)}" for row in rows[:20]) + more)
    if not parts:
        return ""
    return "\n\n".join(parts) + f"\n\nAll of it: {app.settings.address.rstrip('/')}/ahead\n"


def _say_ending(row: dict[str, Any]) -> str:
    notice = f", notice by {row['notice_on']}" if row["notice_on"] else ""
    return (
        f"{row['vendor_name']} {row['contract']} on {row['ends_on']}, in {row['days']} days{notice}"
    )


def _post(app: AppContext, to: str, text: str) -> None:
    subject = "Support that ends, and what is not covered"
    message = mail.compose(app.settings.mail_from, to, subject, text, automatic=True)
    mail.send(app.settings.mail, message)
