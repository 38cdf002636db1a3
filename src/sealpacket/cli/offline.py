"""Commands that work without the service: verifying a bag."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from sealpacket.cli import session, show
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.core.packet import Verdict


def verify(
    files: Annotated[
        list[Path],
        typer.Argument(exists=True, dir_okay=False, help="Sealed bags of a packet, as zips."),
    ],
    key: Annotated[
        Path | None, typer.Option(exists=True, help="Public seal keys; else those from sign-in.")
    ] = None,
    json: show.Json = False,
) -> None:
    """Verify sealed bags, offline: every sum, the seal, and that each later bag follows the one before it.

    Ends with 4 if anything is wrong.

    Example: `sealpacket verify P-0001.zip P-0001-later-1.zip --key seal-keys.jwks`
    """
    from sealpacket.core.packet import SealKeys, check_chain, verify_bag

    source = key or session.key_file()
    if not source.exists():
        raise ClientError(
            "There is no seal key to verify with.", "Give one with --key, or sign in once."
        )
    keys = SealKeys.read(source.read_text())
    bags = [verify_bag(file, keys) for file in files]
    broken = check_chain(bags) if len(bags) > 1 else []
    if json:
        found = [_as_json(one) for one in bags]
        show.as_json(found[0] if len(found) == 1 else {"bags": found, "faults": broken})
    else:
        for one in bags:
            _show(one, alone=len(bags) == 1)
        for fault in broken:
            show.errors().print(fault, style="bold red")
        if len(bags) > 1 and not broken:
            show.line("Each later bag follows the one before it.")
    if broken or not all(one.holds for one in bags):
        raise typer.Exit(4)


def _as_json(verdict: Verdict) -> dict[str, Any]:
    return {
        "holds": verdict.holds,
        "packet": verdict.name,
        "files": verdict.files,
        "octets": verdict.octets,
        "key": verdict.key,
        "digest": verdict.digest,
        "follows": verdict.follows,
        "faults": verdict.faults,
    }


def _show(verdict: Verdict, *, alone: bool) -> None:
    if not verdict.holds:
        for fault in verdict.faults:
            show.errors().print(f"{verdict.name}: {fault}", style="bold red")
        return
    sealed = f"{verdict.info.get('Bagging-Date', '')} by {verdict.info.get('Contact-Name', '')}"
    show.line(
        f"{verdict.name} is whole: {verdict.files} files, {show.size(verdict.octets)}, sealed {sealed}."
    )
    show.line(f"The seal is that of key {verdict.key}.", "dim")
    if alone and verdict.follows:
        show.line(
            f"It follows the bag with the digest {verdict.follows}; give that one, too.", "dim"
        )
