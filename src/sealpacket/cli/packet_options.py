"""Arguments and options of everything that is done to a packet."""

from typing import Annotated

import typer

from sealpacket.cli import session
from sealpacket.client import ClientError

_COMPLETED = 100


def _numbers(incomplete: str) -> list[tuple[str, str]]:
    """The newest packets whose numbers begin so, with their titles, for the shell's completion."""
    try:
        with session.client() as client:
            found = client.packets.list(most=_COMPLETED)
    except ClientError:
        return []
    return [(one.number, one.title) for one in found if one.number.startswith(incomplete.upper())]


Number = Annotated[
    str,
    typer.Argument(
        help="Packet number, such as P-0142.",
        autocompletion=_numbers,
    ),
]
IfVersion = Annotated[
    int | None,
    typer.Option(help="Refuse if the packet has changed since this version (see `packet show`)."),
]
