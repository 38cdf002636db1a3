"""Looking ahead on the command line."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from itertools import islice
from typing import Annotated, Any

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import vendors
from sealpacket.core.money import say_money
from sealpacket.core.words import count

app = typer.Typer(
    help="Contracts and assets that end, are not covered, or are paid twice or for nothing."
)
_MOST = 15

Vendor = Annotated[str, typer.Option(help="Only of this vendor (its key).", autocompletion=vendors)]


@app.callback(invoke_without_command=True)
def ahead(
    context: typer.Context,
    vendor: Vendor = "",
    site: Annotated[str, typer.Option(help="Only at this site (its key).")] = "",
    days: Annotated[int, typer.Option(help="Days within which contracts end.")] = 90,
    out: show.ListOut = None,
    json: show.Json = False,
) -> None:
    """Show what ends, what is not covered, and what is paid twice or for nothing.

    Example: `sealpacket ahead --vendor lumenlathe --days 180`
    """
    if context.invoked_subcommand:
        return
    with session.client() as client:
        if out is not None:
            client.export_ahead(out, show.form_of(out), vendor=vendor, site=site, days=days)
            show.line(f"Written to {out}.")
            return
        found = client.ahead(vendor=vendor, site=site, days=days)
    if json:
        show.as_json(found)
        return
    show.heading(f"Ends within {days} days")
    show.table(
        ("Contract", "Vendor", "What", "Ends", ">In", "Notice by", ">Things", ">Cost"),
        (
            (
                x.contract,
                x.vendor_name,
                x.title,
                x.ends_on,
                f"{x.days} d",
                x.notice_on or ("missed" if x.notice_missed else ""),
                x.assets,
                say_money(x.cost_minor, x.currency),
            )
            for x in found.ending
        ),
        nothing="Nothing.",
    )
    counts = found.counts
    _part(
        "Lapsed",
        counts.lapsed,
        ((x.contract, x.vendor_name, x.title, f"{x.days} days ago") for x in found.lapsed),
    )
    _part(
        "Not covered",
        counts.uncovered,
        ((x.serial, x.product, x.site_name, x.reason) for x in found.uncovered),
    )
    _part(
        "Gaps to come",
        counts.gaps,
        (
            (x.serial, x.product, f"{x.starts_on} to {x.ends_on}", f"{x.days} days")
            for x in found.gaps
        ),
    )
    _part(
        "Paid for twice",
        counts.twice,
        ((x.serial, x.product, x.site_name, ", ".join(x.contracts)) for x in found.twice),
    )
    _part(
        "Paid for and retired",
        counts.retired,
        ((x.serial, x.product, ", ".join(x.contracts), x.entitlement) for x in found.retired),
    )
    _part(
        "Cost for each thing",
        counts.costs,
        (
            (
                x.contract,
                x.vendor_name,
                count(x.assets, "thing") if x.assets else "covers nothing",
                say_money(x.each_minor, x.currency) if x.assets else "",
            )
            for x in found.costs
        ),
    )
    if not found.fresh:
        show.line("The register has changed since; a new one is being worked out.", "yellow")


def _part(title: str, count: int, rows: Iterable[tuple[Any, ...]]) -> None:
    if not count:
        return
    show.heading(title, str(count))
    show.table(("", "", "", ""), islice(rows, _MOST), nothing="")
    if count > _MOST:
        show.line(f"… and {count - _MOST} more: --json has all", "dim")


@app.command("aligned")
def aligned(
    contracts: Annotated[
        list[str] | None, typer.Argument(help="Contract numbers; default: all of --vendor.")
    ] = None,
    vendor: Vendor = "",
    on: Annotated[
        datetime | None,
        typer.Option(formats=["%Y-%m-%d"], help="Common end; default: the last end among them."),
    ] = None,
    json: show.Json = False,
) -> None:
    """Show the cost of aligning contracts on one end date.

    Example: `sealpacket ahead aligned --vendor tarnfell --on 2027-12-31`
    """
    with session.client() as client:
        found = client.aligned(
            vendor=vendor, contracts=contracts or [], on=on.date() if on else None
        )
    if json:
        show.as_json(found)
        return
    show.heading(f"All to end on {found.on}")
    show.table(
        ("Contract", "Vendor", "Ends", ">More days", ">Cost"),
        (
            (
                x.contract,
                x.vendor_name,
                x.ends_on,
                x.days,
                say_money(x.extension_minor, x.currency) or "cost not known",
            )
            for x in found.items
        ),
        nothing="All end on that day already.",
    )
    for total in found.totals:
        show.line(f"Together {say_money(total.minor, total.currency)}, pro rata by day.")
    if found.later:
        show.line(f"Ends later anyway: {', '.join(found.later)}", "dim")


@app.command("tell")
def tell(
    every: Annotated[str, typer.Argument(help="never, daily, weekly or monthly.")],
    site: Annotated[list[str] | None, typer.Option(help="Only of these sites.")] = None,
    vendor: Annotated[
        list[str] | None, typer.Option(help="Only of these vendors.", autocompletion=vendors)
    ] = None,
) -> None:
    """Choose how often you get a digest by mail."""
    with session.client() as client:
        found = client.choose_digest(every, sites=site or [], vendors=vendor or [])
    show.line(
        f"You get a {found.every} digest at {found.mail}."
        if found.every != "never"
        else "You get no digest by mail."
    )
    if found.every != "never" and not found.mail_configured:
        show.line(
            "No mail server is configured, so nothing is sent yet: see docs/running.md.", "yellow"
        )


@app.command("calendar")
def calendar(
    end: Annotated[bool, typer.Option("--end", help="Revoke the calendar address.")] = False,
) -> None:
    """Create a private address for your calendar program; an older one ends."""
    with session.client() as client:
        if end:
            client.end_calendar()
            show.line("The address is ended.")
        else:
            typer.echo(client.new_calendar())
