"""Packets on the command line: access of vendors to our systems, parts on their way, serials that change."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.following import app
from sealpacket.cli.packet_options import IfVersion, Number
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client.models import AccessShown, PacketShown

__all__ = ["app"]

Day = Annotated[
    datetime | None, typer.Option(formats=["%Y-%m-%d"], help="Date, such as 2026-11-23.")
]


@app.command("grant-access")
def grant_access(
    number: Number,
    who: Annotated[str, typer.Argument(help="Person at the vendor.")],
    what: Annotated[str, typer.Argument(help="System that they may access.")],
    until: Annotated[datetime, typer.Option(help="End of the access, such as 2026-11-23T18:00.")],
    asked: Annotated[str, typer.Option(help="How access was requested.")] = "",
    if_version: IfVersion = None,
) -> None:
    """Note that a vendor was granted access to one of our systems, and until when."""
    with session.client() as client:
        _show_access(
            client.packets.grant_access(
                number, who, what, until, asked=asked, version=if_version
            ).access
        )


@app.command("end-access")
def end_access(
    number: Number,
    which: Annotated[
        str, typer.Argument(help="Part of the person's or system's name, to choose one of several.")
    ] = "",
    how: Annotated[str, typer.Option(help="How the access was ended.")] = "",
    every: Annotated[bool, typer.Option("--all", help="End all access of the packet.")] = False,
) -> None:
    """Note that an access that was granted because of a packet has ended.

    Example: `sealpacket packet end-access P-0012 "array A" --how "switched off"`
    """
    with session.client() as client:
        there = [one for one in client.packets.get(number).access if one.ended_at is None]
        if not there:
            raise ClientError("No access is open.", "See: sealpacket packet access")
        meant = [one for one in there if which.casefold() in f"{one.who} {one.what}".casefold()]
        if not meant or (len(meant) > 1 and not every):
            named = "; ".join(f"{one.who}: {one.what}" for one in meant or there)
            raise ClientError(
                f"{len(meant) or 'None'} of the {len(there)} open accesses could be meant: {named}.",
                "Name one by part of who or what it is, or say --all.",
            )
        for one in meant:
            packet = client.packets.end_access(one.id, how)
        _show_access(packet.access)


@app.command()
def access(
    asset: Annotated[str, typer.Option(help="Only of this asset, by serial.")] = "",
    ended: Annotated[bool, typer.Option("--ended", help="Also show ended access.")] = False,
    json: show.Json = False,
) -> None:
    """List vendors' access to our systems, the next to end first."""
    with session.client() as client:
        found = client.packets.list_access(asset=asset, ended=ended)
    show.as_json(found) if json else _show_access(found)


def _show_access(found: list[AccessShown]) -> None:
    show.table(
        ("Packet", "Who", "What", "Until", "Granted by", "Ended"),
        (
            (
                one.packet,
                one.who,
                one.what,
                show.moment(one.until_at) + (" OVERDUE" if one.overdue else ""),
                one.granted_by,
                f"{show.moment(one.ended_at)} {one.ended_how}".rstrip() if one.ended_at else "",
            )
            for one in found
        ),
        nothing="Nobody may come in.",
    )


@app.command()
def ship(
    number: Number,
    what: Annotated[str, typer.Argument(help="The shipped item.")],
    back: Annotated[bool, typer.Option("--back", help="It is shipped to the vendor.")] = False,
    carrier: Annotated[str, typer.Option()] = "",
    tracking: Annotated[str, typer.Option(help="Tracking number.")] = "",
    sent_on: Day = None,
    due_on: Day = None,
    if_version: IfVersion = None,
) -> None:
    """Note a shipment of a packet, or something to send back by a day."""
    with session.client() as client:
        packet = client.packets.note_shipment(
            number,
            "to_vendor" if back else "to_us",
            what,
            carrier=carrier,
            tracking=tracking,
            sent_on=sent_on.date() if sent_on else None,
            due_on=due_on.date() if due_on else None,
            version=if_version,
        )
    _show_shipments(packet)


@app.command()
def arrived(
    number: Number,
    what: Annotated[str, typer.Argument(help="Name of the shipment; default: the only one.")] = "",
    on: Day = None,
) -> None:
    """Note that a shipment has arrived."""
    with session.client() as client:
        waiting = [
            one
            for one in client.packets.get(number).shipments
            if one.arrived_on is None and what in ("", one.what, one.tracking)
        ]
        if len(waiting) != 1:
            raise ClientError(
                f"{len(waiting)} shipments are like this.", f"See: sealpacket packet show {number}"
            )
        packet = client.packets.receive_shipment(waiting[0].id, on.date() if on else None)
    _show_shipments(packet)
    if waiting[0].way == "to_us" and packet.asset and not packet.asset.retired:
        show.line(
            f"If it replaces {packet.asset.serial}: sealpacket packet swap-serial {number} SERIAL"
        )


def _show_shipments(packet: PacketShown) -> None:
    show.table(
        ("What", "Way", "Carrier", "Tracking", "Sent", "Due", "Arrived"),
        (
            (
                one.what,
                "to us" if one.way == "to_us" else "to the vendor",
                one.carrier,
                one.tracking,
                one.sent_on,
                f"{one.due_on} LATE" if one.late else one.due_on,
                one.arrived_on,
            )
            for one in packet.shipments
        ),
        nothing="Nothing is on its way.",
    )


@app.command("swap-serial")
def swap_serial(
    number: Number,
    serial: Annotated[str, typer.Argument(help="Serial of the replacement.")],
    from_on: Day = None,
    yes: Annotated[bool, typer.Option("--yes", help="Skip the confirmation.")] = False,
    if_version: IfVersion = None,
) -> None:
    """Replace the packet's asset in the register by another serial; its cover moves with it."""
    with session.client() as client:
        packet = client.packets.get(number)
        old = packet.asset.serial if packet.asset else "nothing"
        if not yes and not typer.confirm(f"{serial} takes the place of {old}. Is that right?"):
            raise ClientError("Nothing was changed.", "Check both labels.")
        client.packets.swap_serial(
            number, serial, from_on.date() if from_on else None, version=if_version
        )
    show.line(f"{serial} stands in the place of {old}; its cover is that of {old}.")
