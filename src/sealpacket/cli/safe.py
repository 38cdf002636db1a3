"""The safe on the command line: passwords and keys that kits use, by name."""

from __future__ import annotations

import getpass
import sys
from pathlib import Path
from typing import Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.client import ClientError

app = typer.Typer(
    no_args_is_help=True, help="Passwords and keys that kits use, by name. For keepers."
)

Name = Annotated[str, typer.Argument(help="Its name, such as kw-switch1/console.")]


@app.command("list")
def list_secrets(json: show.Json = False) -> None:
    """List the secrets by name; their values are never shown."""
    with session.client() as client:
        found = client.safe.list()
    if json:
        show.as_json(found)
        return
    show.table(
        ("Name", "What", "By", "Kept"),
        ((one.name, one.what, one.by, show.moment(one.at)) for one in found),
        nothing="No secrets.",
    )


@app.command("keep")
def keep_secret(
    name: Name,
    what: Annotated[str, typer.Option(help="Description.")] = "",
    file: Annotated[
        Path | None,
        typer.Option(
            exists=True, dir_okay=False, help="File with the secret; default: standard input."
        ),
    ] = None,
) -> None:
    """Save a secret under its name: a password, a token or a private key. Prompted for or read, never an argument.

    Example: `sealpacket safe keep kw-switch1/console --what "read-only user of the switch"`
    """
    if file is not None:
        value = file.read_text()
    elif sys.stdin.isatty():
        value = getpass.getpass(f"{name}: ")
    else:
        value = sys.stdin.read()
    value = value.rstrip("\r\n")
    if not value:
        raise ClientError("No secret was given.", "Type it, or name a file.")
    with session.client() as client:
        client.safe.keep(name, value, what=what)
    show.line(f"{name} kept.")


@app.command("remove")
def remove_secret(name: Name) -> None:
    """Delete a secret."""
    with session.client() as client:
        client.safe.remove(name)
    show.line(f"{name} removed.")
