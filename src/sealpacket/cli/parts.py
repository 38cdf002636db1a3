"""Packets on the command line: access of vendors to our systems, parts on their way, serials that change."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.care import app
from sealpacket.cli.packet_options import IfVersion, Number
from sealpacket.client import ClientError
from sealpacket.core.money import say_money, to_minor

if TYPE_CHECKING:
    from sealpacket.client.models import AccessShown, PacketShown, ShipmentShown

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
    late_cost: Annotated[
        float | None, typer.Option(min=0, help="Charged by the vendor if it is late.")
    ] = None,
    currency: Annotated[str, typer.Option(help="Currency of that, such as GBP.")] = "",
    if_version: IfVersion = None,
) -> None:
    """Note a shipment of a packet, or something to send back by a day."""
    if late_cost is not None and not currency:
        raise ClientError("The cost has no currency.", "Give one: --currency GBP")
    with session.client() as client:
        packet = client.packets.note_shipment(
            number,
            "to_vendor" if back else "to_us",
            what,
            carrier=carrier,
            tracking=tracking,
            sent_on=sent_on.date() if sent_on else None,
            due_on=due_on.date() if due_on else None,
            late_cost_minor=None if late_cost is None else to_minor(late_cost, currency),
            currency=currency or None if late_cost is not None else None,
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
        one = _waiting(client.packets.get(number), what)
        packet = client.packets.receive_shipment(one.id, on.date() if on else None)
    _show_shipments(packet)
    if one.way == "to_us" and packet.asset and not packet.asset.retired:
        show.line(
            f"If it replaces {packet.asset.serial}: sealpacket packet swap-serial {number} SERIAL"
        )


@app.command("receive-unit")
def receive_unit(
    number: Number,
    label: Annotated[str, typer.Argument(help="Text of a code on the unit, or its serial.")],
    what: Annotated[str, typer.Option(help="Name of the shipment; default: the only one.")] = "",
    on: Day = None,
) -> None:
    """Note that a replacement has arrived, check its label, and swap it for the packet's asset.

    Example: `sealpacket packet receive-unit P-0142 SW3K-90112`
    """
    with session.client() as client:
        before = client.packets.get(number)
        one = _waiting(before, what, "to_us")
        packet = client.packets.receive_unit(one.id, label, on.date() if on else None)
    _show_shipments(packet)
    old = before.asset.serial if before.asset else ""
    show.line(f"It stands in the place of {old}; its cover is that of {old}.")


def _waiting(packet: PacketShown, what: str, way: str = "") -> ShipmentShown:
    """The only shipment of a packet that has not arrived, or the one of this name or tracking number."""
    found = [
        one
        for one in packet.shipments
        if one.arrived_on is None and what in ("", one.what, one.tracking) and way in ("", one.way)
    ]
    if len(found) != 1:
        raise ClientError(
            f"{len(found)} shipments are like this.", f"See: sealpacket packet show {packet.number}"
        )
    return found[0]


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
                _due(one),
                one.arrived_on,
            )
            for one in packet.shipments
        ),
        nothing="Nothing is on its way.",
    )


def _due(one: ShipmentShown) -> str:
    cost = say_money(one.late_cost_minor, one.currency)
    words = [str(one.due_on or ""), "LATE" if one.late else "", f"then {cost}" if cost else ""]
    return " ".join(filter(None, words))


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
