"""Arguments and options that several commands share, with what the shell completes them to."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client import SealPacket

_COMPLETED = 100


def packets(incomplete: str) -> list[tuple[str, str]]:
    """The newest packets whose numbers begin so, with their titles."""
    return _completed(
        incomplete.upper(),
        lambda client: [(one.number, one.title) for one in client.packets.list(most=_COMPLETED)],
    )


def vendors(incomplete: str) -> list[tuple[str, str]]:
    """The vendors whose keys begin so, with their names."""
    return _completed(
        incomplete,
        lambda client: [(one.key, one.name) for one in client.vendors.list(most=_COMPLETED)],
    )


def _completed(
    incomplete: str, listed: Callable[[SealPacket], list[tuple[str, str]]]
) -> list[tuple[str, str]]:
    """Values for the shell's completion; none if the service cannot say."""
    try:
        with session.client() as client:
            found = listed(client)
    except ClientError:
        return []
    return [one for one in found if one[0].startswith(incomplete)]


Number = Annotated[
    str,
    typer.Argument(
        help="Packet number, such as P-0142.",
        autocompletion=packets,
    ),
]
IfVersion = Annotated[
    int | None,
    typer.Option(help="Refuse if the packet has changed since this version (see `packet show`)."),
]
Words = Annotated[str, typer.Argument(help="Message text.")]
Case = Annotated[str, typer.Option(help="Case label or reference.")]
At = Annotated[datetime | None, typer.Option(help="When, such as 2026-11-23T08:40; default: now.")]
