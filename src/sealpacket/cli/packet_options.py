"""Arguments and options of everything that is done to a packet."""

from typing import Annotated

import typer

Number = Annotated[str, typer.Argument(help="Packet number, such as P-0142.")]
IfVersion = Annotated[
    int | None,
    typer.Option(help="Refuse if the packet has changed since this version (see `packet show`)."),
]
