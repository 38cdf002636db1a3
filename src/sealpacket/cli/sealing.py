"""Commands that seal packets and lodge them."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import IfVersion, Number
from sealpacket.cli.packet_shown import show_checks, tell_packet, typed_text
from sealpacket.cli.packets import app

if TYPE_CHECKING:
    from sealpacket.client.models import PacketShown

__all__ = ["app"]


@app.command()
def letter(number: Number, json: show.Json = False) -> None:
    """Show the cases as the desk will read them, and what is masked or kept in typed text."""
    with session.client() as client:
        written = client.packets.letter(number)
    if json:
        show.as_json(written)
        return
    for case in written.cases:
        beside = ", ".join([*case.documents, *written.files])
        show.heading(case.label or written.desk, beside)
        show.line(case.text)
    for text in written.texts:
        typed_text(number, text)


@app.command()
def seal(number: Number, if_version: IfVersion = None) -> None:
    """Seal a draft. Exits with 3 if a check stops it."""
    with session.client() as client:
        packet = client.packets.wait(number)
        stops = [check for check in packet.checks if check.level == "stop"]
        if stops:
            show_checks(packet)
            for stop in stops if show.out().quiet else ():
                show.errors().print(f"{stop.sentence} {stop.remedy}")
            raise typer.Exit(3)
        packet = client.packets.seal(number, version=if_version or packet.version)
    if packet.seal:
        show.line(
            f"{packet.number} is sealed: {packet.seal.files} files, {show.size(packet.seal.octets)}."
        )
        show.line(f"tag manifest {packet.seal.tag_manifest}", "dim")


@app.command()
def bag(
    number: Number,
    later: Annotated[
        int | None, typer.Option(min=1, help="A later bag by its place; default: the first bag.")
    ] = None,
    because: Annotated[
        str, typer.Option(help="Of a later bag in clear: why you fetch it; it is kept.")
    ] = "",
    out: Annotated[Path | None, typer.Option(help="File to write.")] = None,
) -> None:
    """Fetch the sealed bag, or a later one; verify them with `sealpacket verify`."""
    name = number.upper() if later is None else f"{number.upper()}-later-{later}"
    target = out or Path(f"{name}.zip")
    with session.client() as client:
        if later is None:
            client.packets.fetch_bag(number, target)
        else:
            client.packets.fetch_later_bag(number, later, target, reason=because)
    show.line(f"The bag is in {target}.")


@app.command("seal-later")
def seal_later(number: Number, if_version: IfVersion = None) -> None:
    """Seal what came after the last bag: replies, files, decisions and states.

    Example: `sealpacket packet seal-later P-0001`
    """
    with session.client() as client:
        sealed = client.packets.seal_later(number, version=if_version).later_bags[-1]
    files = f"{sealed.files} files, {show.size(sealed.octets)}"
    show.line(f"Later bag {sealed.place} of {number.upper()} is sealed: {files}.")
    show.line(f"It follows the bag with the digest {sealed.follows}.", "dim")


@app.command()
def wait(
    number: Number,
    seconds: Annotated[float, typer.Option(help="Seconds to wait at most.")] = 600,
    json: show.Json = False,
) -> None:
    """Wait until nothing of a packet is being redacted, delivered or asked for."""
    with session.client() as client:
        packet = client.packets.wait(number, seconds=seconds)
    show.as_json(packet) if json else tell_packet(packet)


@app.command()
def lodge(
    number: Number,
    wait: Annotated[bool, typer.Option(help="Wait for the reference.")] = True,
    if_version: IfVersion = None,
) -> None:
    """Deliver a sealed packet to its desk. Ends with 3 if the desk refuses or is away."""
    from sealpacket.client.packets import busy

    with session.client() as client:
        packet = client.packets.lodge(number, version=if_version)
        last = ""

        def tell(seen: PacketShown) -> None:
            nonlocal last
            if seen.lodge_status_text and seen.lodge_status_text != last:
                last = seen.lodge_status_text
                show.line(last, "dim")

        if wait and busy(packet):
            packet = client.packets.wait(number, progress=tell)
    _show_lodged(packet)
    if packet.life not in ("lodged", "answered", "settled") and wait and not packet.by_hand:
        raise typer.Exit(3)


def _show_lodged(packet: PacketShown) -> None:
    if packet.reference:
        show.line(f"{packet.number} is lodged: {packet.vendor} calls it {packet.reference}.")
    elif packet.life == "refused":
        show.line(f"{packet.vendor} refused {packet.number}. Nothing was lost.", "bold red")
        for reason in packet.refusals:
            show.line(f"  {reason.text}")
            show.line(f"  → {reason.cure}", "yellow")
        show.line(f"Then: sealpacket packet reopen {packet.number}", "dim")
    else:
        show.line(packet.lodge_status_text or packet.status_text)
        if packet.by_hand:
            show.line(f"Field by field: sealpacket packet hand {packet.number}", "dim")


@app.command()
def reopen(number: Number, if_version: IfVersion = None) -> None:
    """Return a refused packet, or one not lodged yet, to drafting."""
    with session.client() as client:
        tell_packet(client.packets.reopen(number, version=if_version))


@app.command("ask-release")
def ask_release(number: Number, if_version: IfVersion = None) -> None:
    """Ask for a second person to seal a draft, where a rule wants one."""
    with session.client() as client:
        packet = client.packets.ask_release(number, version=if_version)
    names = ", ".join(packet.release.prepared_by) if packet.release else ""
    show.line(f"The release of {packet.number} is asked for. Prepared by: {names}.")


@app.command()
def withdraw(
    number: Number,
    reason: Annotated[str, typer.Option(help="Reason.")],
    if_version: IfVersion = None,
) -> None:
    """Withdraw a packet before the desk has it."""
    with session.client() as client:
        packet = client.packets.withdraw(number, reason, version=if_version)
    show.line(f"{packet.number} is withdrawn.")
