"""Notices on the command line: what you are notified of, and how."""

from __future__ import annotations

from typing import Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import vendors
from sealpacket.core.notices import DigestBy, NoticeKind, NoticeScope, NoticeWay

app = typer.Typer(no_args_is_help=True, help="Your notices, and how you are notified.")


@app.command("list")
def list_notices(
    unread: Annotated[bool, typer.Option("--unread", help="Only those you have not read.")] = False,
    json: show.Json = False,
) -> None:
    """List your notices, the newest first."""
    with session.client() as client:
        found = client.notices.list(unread=unread)
    if json:
        show.as_json(found)
        return
    show.table(
        ("", "At", "Packet", "Notice", "Title", "Number"),
        (
            (
                "" if one.read else "•",
                show.moment(one.at),
                one.packet or "",
                one.words,
                one.title,
                str(one.id),
            )
            for one in found
        ),
        nothing="No notices.",
    )


@app.command("mark")
def mark_notices(
    numbers: Annotated[
        list[int] | None, typer.Argument(help="Numbers of notices, as listed; default: all.")
    ] = None,
    as_unread: Annotated[
        bool, typer.Option("--unread", help="Mark them as not read instead.")
    ] = False,
) -> None:
    """Mark notices as read."""
    with session.client() as client:
        page = client.notices.mark(numbers or [], everything=not numbers, read=not as_unread)
    show.line(f"{page.unread} not read.")


@app.command("settings")
def settings(json: show.Json = False) -> None:
    """Show how you are notified."""
    with session.client() as client:
        found = client.notices.settings()
    if json:
        show.as_json(found)
        return
    show.table(
        ("Kind", "Packets", "Ways"),
        ((one.kind, one.scope, ", ".join(one.ways)) for one in found.choices),
        nothing="",
    )
    only = [*found.sites, *found.vendors]
    show.line(f"Only of {', '.join(only)}." if only else "Of all sites and vendors.")
    show.line(
        f"Digests by {found.digest_by}, at {found.digest_hour}:00, to {found.mail or '(no address)'}."
    )
    if found.webhook:
        show.line(f"Posted to {found.webhook}. {found.webhook_trouble}".rstrip())
    if found.mail_trouble:
        show.line(f"The last mail could not be sent: {found.mail_trouble}", "yellow")


@app.command("choose")
def choose(
    kind: Annotated[
        NoticeKind | None, typer.Argument(help="Kind of notice; without it only the options count.")
    ] = None,
    scope: Annotated[
        NoticeScope, typer.Option(help="Of which packets: none, mine (and nobody's), or all.")
    ] = NoticeScope.MINE,
    way: Annotated[
        list[NoticeWay] | None, typer.Option(help="How; may be repeated. Default: console.")
    ] = None,
    site: Annotated[list[str] | None, typer.Option(help="Only of these sites; '' for all.")] = None,
    vendor: Annotated[
        list[str] | None,
        typer.Option(help="Only of these vendors; '' for all.", autocompletion=vendors),
    ] = None,
    digest_by: Annotated[
        DigestBy | None, typer.Option(help="One digest a day, or one for each site or vendor.")
    ] = None,
    digest_hour: Annotated[
        int | None, typer.Option(min=0, max=23, help="Hour of your day for digests.")
    ] = None,
) -> None:
    """Choose how you are notified of a kind of event.

    Example: `sealpacket notice choose replied --scope mine --way console --way digest`
    """
    ways = [one.value for one in way or [NoticeWay.CONSOLE]]
    with session.client() as client:
        found = client.notices.choose(
            {kind.value: (scope.value, ways)} if kind else None,
            sites=None if site is None else [one for one in site if one],
            vendors=None if vendor is None else [one for one in vendor if one],
            digest_by=digest_by.value if digest_by else None,
            digest_hour=digest_hour,
        )
    if kind:
        chosen = next(one for one in found.choices if one.kind == kind)
        by = f" by {', '.join(chosen.ways)}" if chosen.scope != NoticeScope.NONE.value else ""
        show.line(f"{kind.value}: {chosen.scope}{by}.")
    if not found.mail_configured and {"mail", "digest"} & set(ways):
        show.line("No mail server is configured: see docs/running.md.", "yellow")


@app.command("feed")
def feed(
    end: Annotated[bool, typer.Option("--end", help="Revoke the feed's address.")] = False,
) -> None:
    """Create a private address for your feed reader; an older one ends."""
    with session.client() as client:
        if end:
            client.notices.end_feed()
            show.line("The address is ended.")
        else:
            typer.echo(client.notices.new_feed())


@app.command("webhook")
def webhook(
    address: Annotated[str, typer.Argument(help="Address that takes JSON by POST.")] = "",
    end: Annotated[bool, typer.Option("--end", help="Have notices posted no more.")] = False,
) -> None:
    """Have your notices posted to an address, signed; the secret is shown this once."""
    if bool(address) == end:
        raise typer.BadParameter("Give an address, or --end.")
    with session.client() as client:
        if end:
            client.notices.end_webhook()
            show.line("Notices are posted no more.")
        else:
            made = client.notices.set_webhook(address)
            show.line(f"Posted to {made.webhook}. Its secret, shown this once:")
            show.line(f"  {made.secret}")


@app.command("news")
def news(
    vendor: Annotated[str, typer.Option(help="Only of this vendor.", autocompletion=vendors)] = "",
    json: show.Json = False,
) -> None:
    """Show vendors' news about products that you have."""
    with session.client() as client:
        found = client.notices.news(vendor)
    if json:
        show.as_json(found)
        return
    show.table(
        ("At", "Vendor", "News", "Products"),
        (
            (show.moment(one.at), one.vendor_name, one.title, ", ".join(one.products))
            for one in found.items
        ),
        nothing="No news." if found.feeds else "No feeds are configured: see docs/running.md.",
    )
    for one in found.feeds:
        if one.trouble:
            show.line(f"The feed of {one.vendor}: {one.trouble}", "yellow")
