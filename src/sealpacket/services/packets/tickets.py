"""Tickets of our own service desk: status reports of their packets, repeated until accepted."""

from __future__ import annotations

import hashlib
from datetime import UTC, datetime, timedelta

from pydantic import BaseModel
from sqlalchemy import ColumnElement, and_, func, or_, select

from sealpacket.app.context import WORKER, AppContext
from sealpacket.channels import mail, service_desk
from sealpacket.core.errors import Unavailable
from sealpacket.core.life import Life, Turn
from sealpacket.core.sheets.mails import address_of
from sealpacket.services.packets import workbench
from sealpacket.services.packets.briefs import status_text_of
from sealpacket.services.packets.lodge.reply_addresses import message_id
from sealpacket.store.models import Packet, PacketTicket

_REPORT = "report-"
"""Prefix of the keys of status reports by mail."""
_AT_ONCE = 100
_AGAIN = timedelta(minutes=5)
"""Time after a failure before the next try."""


class TicketReport(BaseModel):
    """The status report of a ticket's packet."""

    report: int = 1
    ticket: str
    packet: str
    title: str
    state: Life
    turn: Turn
    vendor: str
    reference: str
    status: str
    link: str
    at: datetime

    def stamp(self) -> str:
        """The fields whose change causes another report."""
        return "|".join((self.ticket, self.state, self.turn, self.reference, self.status))


def report_all(app: AppContext) -> int:
    """Report packets whose status has changed since the last report. Returns how many reports were accepted."""
    with app.database.transaction() as session:
        old = datetime.now(UTC) - _AGAIN
        due = or_(
            PacketTicket.tried_at.is_(None),
            and_(PacketTicket.trouble == "", Packet.updated_at >= PacketTicket.tried_at),
            and_(PacketTicket.trouble != "", PacketTicket.tried_at < old),
        )
        known: ColumnElement[bool] = PacketTicket.mail.is_not(None)
        if app.settings.service_desk:
            known = or_(PacketTicket.number != "", known)
        query = select(Packet.number).join(Packet.ticket).where(known, due)
        order = func.coalesce(PacketTicket.tried_at, Packet.created_at)
        numbers = list(session.scalars(query.order_by(order).limit(_AT_ONCE)))
    return sum(_report(app, number) for number in numbers)


def _report(app: AppContext, number: str) -> bool:
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        ticket = packet.ticket
        if ticket is None:
            return False
        report = _report_of(app, packet, ticket)
        heads, before = ticket.mail or {}, ticket.reported
    trouble, taken = "", False
    if report.stamp() != before:
        try:
            _send(app, report, heads)
            taken = True
        except Unavailable as problem:
            trouble = f"{problem.detail} {problem.remedy}"
    with app.transaction(WORKER, "ticket told", f"packet {number}", ticket=report.ticket) as tx:
        packet = workbench.find_packet(tx.session, number, lock=True)
        tx.audited = taken
        if packet.ticket is None:
            return taken
        packet.ticket.trouble, packet.ticket.tried_at = trouble, datetime.now(UTC)
        if taken:
            packet.ticket.reported = report.stamp()
            tx.detail |= {"state": report.state, "reference": report.reference}
    return taken


def _report_of(app: AppContext, packet: Packet, ticket: PacketTicket) -> TicketReport:
    return TicketReport(
        ticket=ticket.number,
        packet=packet.number,
        title=packet.title,
        state=packet.life,
        turn=packet.turn,
        vendor=packet.vendor_name,
        reference=packet.reference or "",
        status=status_text_of(packet, None),
        link=f"{app.settings.address.rstrip('/')}/packets/{packet.number}",
        at=datetime.now(UTC).replace(microsecond=0),
    )


def _send(app: AppContext, report: TicketReport, heads: dict[str, str]) -> None:
    """By the configured way; a mail is answered by mail. Raises Unavailable."""
    way = app.settings.service_desk
    if way.startswith("http"):
        file = app.settings.service_desk_token_file
        token = file.read_text().strip() if file else ""
        service_desk.post(way, token, report.model_dump(mode="json"), app.settings.desk_timeout)
        return
    to = way.removeprefix("mailto:") or address_of(heads.get("from", ""))
    if not app.settings.mail:
        raise Unavailable(
            "No mail server is set, so no report can be sent.", "Set SEALPACKET_MAIL.", code="mail"
        )
    subject = heads.get("subject") or f"[{report.ticket}] {report.title}"
    message = mail.compose(
        app.settings.mail_from,
        to,
        f"Re: {subject.removeprefix('Re: ')}",
        _words(report),
        message_id=message_id(app, f"{_REPORT}{report.packet}.{_print(report.stamp())}"),
        about=heads.get("id", ""),
        automatic=True,
    )
    mail.send(app.settings.mail, message)


def _print(stamp: str) -> str:
    return hashlib.sha256(stamp.encode()).hexdigest()[:12]


def reported_by(key: str) -> str:
    """The packet whose report has this key; empty for a mail of another kind."""
    return key.removeprefix(_REPORT).partition(".")[0] if key.startswith(_REPORT) else ""


def _words(report: TicketReport) -> str:
    reference = f"\nThe vendor's number: {report.reference}" if report.reference else ""
    turn = {"ours": "It is our turn.", "vendor": "It is the vendor's turn."}.get(report.turn, "")
    return (
        f"{report.packet}: {report.title}\n\n{report.status}.{reference}\n{turn}\n\n{report.link}\n"
    )
