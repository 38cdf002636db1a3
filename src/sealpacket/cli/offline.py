"""Commands that work without the service: verifying a bag."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.client import ClientError


def verify(
    file: Annotated[
        Path, typer.Argument(exists=True, dir_okay=False, help="The sealed bag, a zip.")
    ],
    key: Annotated[
        Path | None, typer.Option(exists=True, help="Public seal keys; else those from sign-in.")
    ] = None,
    json: show.Json = False,
) -> None:
    """Verify a sealed bag, offline: every sum, and the seal. Ends with 4 if anything is wrong.

    Example: `sealpacket verify P-0001.zip --key seal-keys.jwks`
    """
    from sealpacket.core.packet import SealKeys, verify_bag

    source = key or session.key_file()
    if not source.exists():
        raise ClientError(
            "There is no seal key to verify with.", "Give one with --key, or sign in once."
        )
    verdict = verify_bag(file, SealKeys.read(source.read_text()))
    if json:
        show.as_json(
            {
                "holds": verdict.holds,
                "packet": verdict.name,
                "files": verdict.files,
                "octets": verdict.octets,
                "key": verdict.key,
                "faults": verdict.faults,
            }
        )
    elif verdict.holds:
        sealed = f"{verdict.info.get('Bagging-Date', '')} by {verdict.info.get('Contact-Name', '')}"
        show.line(
            f"{verdict.name} is whole: {verdict.files} files, {show.size(verdict.octets)}, sealed {sealed}."
        )
        show.line(f"The seal is that of key {verdict.key}.", "dim")
    else:
        for fault in verdict.faults:
            show.errors.print(fault, style="bold red")
    if not verdict.holds:
        raise typer.Exit(4)
