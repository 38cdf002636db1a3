"""Signing in and out, Today, and finding."""

from __future__ import annotations

import os
from datetime import UTC, date, datetime
from itertools import groupby
from typing import TYPE_CHECKING, Annotated, Literal

import typer

from sealpacket.cli import session, show
from sealpacket.cli.logs import moment, zone_of
from sealpacket.cli.packet_options import vendors
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client.models import PacketBrief, Today, UsedItem


def sign_in(
    address: Annotated[
        str, typer.Argument(help="Address of the service, such as http://127.0.0.1:8400.")
    ],
    name: Annotated[str, typer.Argument(help="Your account name; not with --token.")] = "",
    may: session.May = None,
    token: Annotated[
        bool, typer.Option("--token", help="Use a token that you made in the console.")
    ] = False,
) -> None:
    """Sign in and keep a token for this user.

    The password is asked for, or read from standard input: `sealpacket sign-in http://127.0.0.1:8400 marit < file`.
    If you sign in to the console without a password, make a token there and give it with --token.
    """
    from sealpacket.client import SealPacket, make_token

    if token == bool(name):
        raise ClientError("Give either your account name or --token.", "See: sealpacket sign-in -h")
    if token:
        kept, ends = session.typed("Token"), ""
    else:
        purpose = f"command line of {os.environ.get('USER', 'unknown')}"
        made = make_token(address, name, session.typed("Password"), purpose, rights=may)
        kept, ends = made.token, f" The token ends on {show.moment(made.expires_at)}."
    with SealPacket(address, kept) as client:
        key = client.seal_keys().model_dump_json()
        me = client.me()
    session.keep(address, kept, key)
    show.line(f"Signed in as {me.person}: {', '.join(me.roles)}.{ends}")


def sign_out() -> None:
    """End the token and forget it."""
    with session.client() as client:
        client.sign_out()
    session.forget()
    show.line("Signed out.")


FoundKind = Literal[
    "packet", "asset", "contract", "entitlement", "site", "person", "product", "vendor", "login", "order_document",
    "article", "known_issue", "reply",
]  # fmt: skip
_REASONS = {
    "overdue": "Overdue",
    "due_soon": "Due soon",
    "asked": "Vendors ask",
    "refused": "Refused",
    "doubtful": "May be a question",
    "by_hand": "To be entered by hand",
    "waiting": "Waiting for us",
}
"""Why packets need us, in the order in which they are dealt with."""


def today(
    mine: Annotated[
        bool, typer.Option("--mine", help="Leave out the packets that others look after.")
    ] = False,
    json: show.Json = False,
) -> None:
    """Show what needs attention now, the most urgent first."""
    with session.client() as client:
        found = client.today(mine=mine)
    if json:
        show.as_json(found)
        return
    show.heading(
        found.day.strftime("%A, %-d %B"),
        f"{found.ours_count} wait for us, {found.theirs_count} for vendors",
    )
    _show_troubles(found)
    _show_tray(found)
    _show_releases(found)
    for reason, packets in groupby(found.ours, key=lambda packet: packet.attention):
        _show_packets(_REASONS.get(reason, reason), list(packets), found.day)
    if not found.ours:
        _show_packets("Our turn", [], found.day)
    if mine and found.others:
        show.line(f"Others look after {found.others} more; leave --mine out to see them.")
    _show_packets("Their turn", found.theirs, found.day)
    more = found.ours_count + found.theirs_count - len(found.ours) - len(found.theirs)
    if more:
        show.line(f"{more} more: sealpacket packet list --open", "yellow")
    show.heading("Ending soon")
    show.table(
        ("Contract", "Vendor", "What", ">Ends in", "Notice by"),
        ((e.contract, e.vendor, e.title, f"{e.days} d", e.notice_on) for e in found.ending),
        nothing="Nothing ends within 90 days.",
    )


def _show_troubles(found: Today) -> None:
    """Say if something does not work just now, or is late."""
    if not found.worker:
        seen = (
            f" It was seen last on {show.moment(found.worker_seen_at)}."
            if found.worker_seen_at
            else ""
        )
        show.line(
            f"The worker is not running: nothing is redacted, sent or followed.{seen}", "bold red"
        )
        show.line("Start it: sealpacket-service work", "yellow")
    for away in found.desks_away:
        show.line(
            f"{away.desk} has not been reached since {show.moment(away.since)}: {away.words}",
            "yellow",
        )
    if found.mailbox_trouble:
        show.line(found.mailbox_trouble, "bold red")
    for grant in found.access_overdue:
        show.line(
            f"{grant.who} should be out of {grant.what} since {show.moment(grant.until_at)} ({grant.packet})",
            "bold red",
        )
    for one in found.shipments_due:
        way = "has to go back" if one.way == "to_vendor" else "should come"
        show.line(f"{one.what} {way} until {one.due_on} ({one.packet})", "yellow")


def _due(packet: PacketBrief) -> str:
    """The promise of the desk that is due, and when."""
    if packet.due_at is None:
        return ""
    there = show.at_desk(packet.due_at, packet.due_zone)
    may = " · may be escalated" if _may_escalate(packet) else ""
    return f" · {packet.due_what.replace('_', ' ')} due {show.moment(packet.due_at)}{there}{may}"


def _may_escalate(packet: PacketBrief) -> bool:
    return packet.escalate_at is not None and packet.escalate_at <= datetime.now(UTC)


def _show_packets(title: str, packets: list[PacketBrief], day: date) -> None:
    show.heading(title)
    show.table(
        ("", "", "", "", ""),
        (
            (
                p.number,
                p.title,
                f"{p.life} · {p.status_text}{_due(p)}",
                p.owner or "nobody's",
                f"{(day - p.turn_since.date()).days} d",
            )
            for p in packets
        ),
        nothing="Nothing.",
    )


def _show_releases(found: Today) -> None:
    """List the drafts that wait for a second person."""
    if not found.releases:
        return
    show.heading("For you to seal")
    for one in found.releases:
        show.line(f"  {one.number}  {one.title}  {one.asked_by} asks, {show.moment(one.asked_at)}")


def _show_tray(found: Today) -> None:
    """Show incoming mail and documents that match no packet."""
    if not found.tray:
        return
    show.heading("In the tray", "sealpacket tray list")
    for item in found.tray:
        show.line(f"  {item.sender}: {item.subject}")
    if found.tray_count > len(found.tray):
        show.line(f"  and {found.tray_count - len(found.tray)} more")


_KINDS = {
    "packet": "Packets",
    "asset": "Assets",
    "contract": "Contracts",
    "entitlement": "Entitlements",
    "site": "Sites",
    "person": "People",
    "product": "Products",
    "vendor": "Vendors",
    "login": "Logins",
    "order_document": "Order documents",
    "article": "Articles",
    "known_issue": "Known issues",
    "reply": "Replies",
}


def find(
    query: Annotated[list[str], typer.Argument(help="Words, or a number or a part of one.")],
    kind: Annotated[FoundKind | None, typer.Option(help="Only this kind of record.")] = None,
    vendor: Annotated[
        str, typer.Option(help="Only of this vendor (its key).", autocompletion=vendors)
    ] = "",
    product: Annotated[str, typer.Option(help="Only of this product (its part number).")] = "",
    since: Annotated[str, typer.Option(help="Only what is not older, such as 2026-11-23.")] = "",
    limit: Annotated[int, typer.Option(min=1, max=100, help="Maximum number of each kind.")] = 6,
    json: show.Json = False,
) -> None:
    """Find packets, assets, contracts, people, replies and all else by words or a number.

    Example: `sealpacket find TN9-44120 --kind packet`
    """
    words = " ".join(query)
    with session.client() as client:
        found = client.find(
            words,
            kind=kind or "",
            vendor=vendor,
            product=product,
            since=moment(since, zone_of("")) if since else None,
            limit=limit,
        )
    if json:
        show.as_json(found)
        return
    if not found.groups:
        show.line(f'Nothing matches "{words}".')
    if found.likely:
        show.line("Nothing matches exactly. These are similar:", "yellow")
    for group in found.groups:
        show.heading(_KINDS.get(group.kind, group.kind), "there are more" if group.more else "")
        show.table(
            ("", "", "", ""),
            ((one.name, one.title, one.matched, one.beside) for one in group.items),
            nothing="",
        )


used_app = typer.Typer(help="Assets, contacts and desks that you use often; pin what comes first.")
UsedKind = Literal["asset", "person", "desk"]
Kind = Annotated[UsedKind, typer.Argument(help="Kind of record.")]
Handle = Annotated[str, typer.Argument(help="Serial or id of an asset, key of a person or desk.")]


@used_app.command("list")
def list_often_used(json: show.Json = False) -> None:
    """List records that you have pinned, then those that your packets used last.

    Example: `sealpacket often-used list`
    """
    with session.client() as client:
        _show_used(client.often_used(), json=json)


@used_app.command("pin")
def pin(kind: Kind, handle: Handle) -> None:
    """Pin a record, so that it is offered first.

    Example: `sealpacket often-used pin asset TN9-44120-A`
    """
    with session.client() as client:
        _show_used(client.pin(kind, handle))


@used_app.command("unpin")
def unpin(kind: Kind, handle: Handle) -> None:
    """Unpin a record.

    Example: `sealpacket often-used unpin asset TN9-44120-A`
    """
    with session.client() as client:
        _show_used(client.unpin(kind, handle))


def _show_used(found: list[UsedItem], *, json: bool = False) -> None:
    if json:
        show.as_json(found)
        return
    for kind, some in groupby(found, key=lambda one: one.kind):
        show.heading(_USED[kind], "")
        rows = ((one.name, one.beside, "pinned" if one.pinned else "") for one in some)
        show.table(("", "", ""), rows, nothing="")
    if not found:
        show.line("You have used nothing yet. Pin what you need often.")


_USED = {"asset": "Assets", "person": "Contacts", "desk": "Desks"}
