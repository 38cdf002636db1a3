"""Trouble and maintenance that vendors report, on the command line."""

from __future__ import annotations

from typing import Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import packets, vendors
from sealpacket.client import SealPacket
from sealpacket.client.models import VendorReportShown


def vendor_health(
    vendor: Annotated[
        str, typer.Option(help="Only of this vendor (its key).", autocompletion=vendors)
    ] = "",
    asset: Annotated[
        str, typer.Option(help="Only what may concern this asset: serial or id.")
    ] = "",
    packet: Annotated[
        str, typer.Option(help="Only what may explain this packet.", autocompletion=packets)
    ] = "",
    over: Annotated[bool, typer.Option("--over", help="Also what is over.")] = False,
    json: show.Json = False,
) -> None:
    """List trouble and planned maintenance that vendors report.

    Example: `sealpacket vendor health --packet P-0142`
    """
    with session.client() as client:
        found = client.notices.vendor_health(vendor=vendor, asset=asset, packet=packet, over=over)
    if json:
        show.as_json(found)
        return
    show.table(
        ("State", "Vendor", "Report", "Of ours", "From", "Until"),
        (
            (
                "Maintenance " + one.state if one.sort == "maintenance" else one.state.capitalize(),
                one.vendor_name,
                one.title,
                ours(one),
                show.moment(one.begins_at) if one.begins_at else "",
                show.moment(one.ends_at) if one.ends_at else "",
            )
            for one in found.items
        ),
        nothing="Vendors report nothing."
        if found.feeds
        else "No feeds are configured: see docs/running.md.",
    )
    for feed in found.feeds:
        if feed.trouble:
            show.line(f"The feed of {feed.vendor}: {feed.trouble}", "yellow")


def ours(report: VendorReportShown) -> str:
    """Products, regions and sites of ours that a report names."""
    return ", ".join([*report.products, *report.regions, *report.sites])


def tell_reports(client: SealPacket, number: str) -> None:
    """Show what the vendor reports that may explain a packet."""
    for one in client.notices.vendor_health(packet=number).items:
        when = f" since {show.moment(one.begins_at)}" if one.begins_at else ""
        if one.state == "planned":
            when = f" planned for {show.moment(one.begins_at)}" if one.begins_at else " planned"
        show.line(f"{one.vendor_name} reports{when}: {one.title} ({ours(one)})", "yellow")
