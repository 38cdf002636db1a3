"""Commands for changes of the register that follow from answers of desks."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.following import app
from sealpacket.cli.packet_options import IfVersion, Number
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client import SealPacket
    from sealpacket.client.models import (
        ConsequenceShown,
    )


__all__ = ["app"]


Which = Annotated[int, typer.Argument(min=1, help="Its number in `packet consequences`.")]


@app.command("consequences")
def list_consequences(
    number: Annotated[
        str | None, typer.Argument(help="Packet number; default: all that wait for a keeper.")
    ] = None,
    json: show.Json = False,
) -> None:
    """List changes of the register that follow from answers.

    Example: `sealpacket packet consequences P-0012`
    """
    with session.client() as client:
        if number is None:
            offered = client.packets.consequences()
            rows = [(one.packet, one.consequence) for one in offered]
        else:
            packet = client.packets.get(number)
            rows = [(packet.number, one) for one in packet.consequences]
    if json:
        show.as_json([one for _, one in rows])
        return
    show.table(
        ("", "Packet", "What", "Record", "Now", "Then", "From", "State"),
        (
            (str(place), packet, one.what, f"{one.record} {one.name}", one.now, one.value, str(one.from_on or ""),
             one.state)
            for place, (packet, one) in enumerate(rows, 1)
        ),
        nothing="Nothing follows for the register.",
    )  # fmt: skip


@app.command("take-consequence")
def take_consequence(number: Number, place: Which = 1, if_version: IfVersion = None) -> None:
    """Take a change that follows from an answer into the register.

    Example: `sealpacket packet take-consequence P-0012 1`
    """
    with session.client() as client:
        one = _consequence(client, number, place)
        client.packets.take_consequence(number, one.id, version=if_version)
    show.line(f"{one.field} of {one.record} {one.name} is {one.value}.")


@app.command("dismiss-consequence")
def dismiss_consequence(number: Number, place: Which = 1, if_version: IfVersion = None) -> None:
    """Dismiss a change that follows from an answer; the register stays as it is."""
    with session.client() as client:
        one = _consequence(client, number, place)
        client.packets.dismiss_consequence(number, one.id, version=if_version)
    show.line("It is dismissed; the register stays as it is.")


@app.command("undo-consequence")
def undo_consequence(number: Number, place: Which = 1, if_version: IfVersion = None) -> None:
    """Undo a change that was taken or dismissed."""
    with session.client() as client:
        one = _consequence(client, number, place)
        client.packets.undo_consequence(number, one.id, version=if_version)
    show.line("It is undone.")


def _consequence(client: SealPacket, number: str, place: int) -> ConsequenceShown:
    found = client.packets.get(number).consequences
    if place > len(found):
        raise ClientError(
            f"{number} has no change number {place}.",
            f"See: sealpacket packet consequences {number}",
        )
    return found[place - 1]
