"""The tray on the command line: what came and has no packet yet."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client import SealPacket

app = typer.Typer(no_args_is_help=True, help="Incoming mail and documents that match no packet.")

Item = Annotated[int, typer.Argument(min=1, help="Its number in `tray list`.")]


@app.command("list")
def list_tray(json: show.Json = False) -> None:
    """List incoming mail and documents that match no packet, the oldest first."""
    with session.client() as client:
        items = client.tray.list()
    if json:
        show.as_json(items)
        return
    show.table(
        (">", "Arrived", "From", "Subject", "Words"),
        (
            (place, show.moment(one.at), one.sender, one.subject, one.words[:80])
            for place, one in enumerate(items, 1)
        ),
        nothing="The tray is empty.",
    )


@app.command()
def attach(
    item: Item, number: Annotated[str, typer.Argument(help="Packet number, such as P-0142.")]
) -> None:
    """Attach an item of the tray to a packet, where it is read like any reply."""
    with session.client() as client:
        packet = client.tray.attach(_ident(client, item), number)
    show.line(f"{packet.number}: {packet.status_text}")


@app.command()
def fetch(item: Item, out: Annotated[Path, typer.Option(help="File to write.")]) -> None:
    """Save an item of the tray, unchanged."""
    with session.client() as client:
        client.tray.fetch(_ident(client, item), out)
    show.line(f"Saved {out}.")


@app.command()
def discard(item: Item, reason: Annotated[str, typer.Option(help="Reason.")]) -> None:
    """Discard an item that belongs to no packet; it is deleted."""
    with session.client() as client:
        client.tray.discard(_ident(client, item), reason)
    show.line("It is out of the tray.")


def _ident(client: SealPacket, item: int) -> str:
    items = client.tray.list()
    if item > len(items):
        raise ClientError(f"There are {len(items)} in the tray.", "See: sealpacket tray list")
    return items[item - 1].id
