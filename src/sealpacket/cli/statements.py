"""Vendor statements on the command line."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.intake import as_pairs
from sealpacket.cli.packet_options import vendors
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client import SealPacket
    from sealpacket.client.models import DifferenceShown, StatementShown

app = typer.Typer(no_args_is_help=True, help="Vendor statements, compared with the register.")

Ident = Annotated[str, typer.Argument(help="The statement's id, or its beginning.")]
Numbers = Annotated[list[int], typer.Argument(help="Numbers of differences.")]
_SORTS = (
    ("mistyped", "Likely mistyped"), ("differs", "Different"), ("only_ours", "Only in our register"),
    ("only_theirs", "Only on their statement"),
)  # fmt: skip
_MOST_SHOWN = 40


@app.command("compare")
def compare(
    vendor: Annotated[str, typer.Argument(help="The vendor's key.", autocompletion=vendors)],
    file: Annotated[
        Path, typer.Argument(exists=True, dir_okay=False, help="CSV, XLSX or JSON Lines.")
    ],
    as_of: Annotated[
        datetime | None,
        typer.Option(formats=["%Y-%m-%d"], help="Day of the statement; default: today."),
    ] = None,
    column: Annotated[
        list[str] | None, typer.Option("--column", help="FIELD=HEADING, to map a column.")
    ] = None,
    json: show.Json = False,
) -> None:
    """Compare a vendor's list of what it covers with the register.

    Example: `sealpacket statement compare ovenbird cover-2026-11.xlsx --column serial="Unit"`

    Ends with 3 if anything differs.
    """
    with session.client() as client:
        day = as_of.date() if as_of else None
        begun = client.statements.send(vendor, file, as_of=day, mapping=as_pairs(column))
        found = client.statements.wait(begun.id)
        if found.state == "failed":
            raise ClientError(found.status_text, "Nothing was compared.")
        _tell(client, found, json)
    if found.undecided:
        raise typer.Exit(3)


@app.command("list")
def list_statements(json: show.Json = False) -> None:
    """List statements, newest first."""
    with session.client() as client:
        found = client.statements.list(limit=200).items
    if json:
        show.as_json(found)
        return
    show.table(
        ("Statement", "Vendor", "File", "As of", ">Agreeing", ">Open"),
        ((s.id[:8], s.vendor, s.name, s.as_of, s.counts.agreeing, s.undecided) for s in found),
        nothing="No statement was compared yet.",
    )


@app.command("show")
def show_statement(
    ident: Annotated[
        str, typer.Argument(help="Statement id, or its beginning; default: the last one.")
    ] = "",
    json: show.Json = False,
) -> None:
    """Show how a statement differs from the register, and your decisions."""
    with session.client() as client:
        _tell(client, _find(client, ident), json)


@app.command("accept")
def accept(
    ident: Ident,
    numbers: Numbers,
    theirs: Annotated[bool, typer.Option("--theirs/--ours", help="Which side is right.")],
    why: Annotated[str, typer.Option(help="Reason, shown when the same comes up again.")] = "",
) -> None:
    """Accept differences either way; with --theirs the register is changed as of the statement's day.

    Example: `sealpacket statement accept 4f0c21d8 3 4 --ours --why "replaced last week"`
    """
    with session.client() as client:
        found = client.statements.decide(
            _find(client, ident).id, numbers, "theirs" if theirs else "ours", why
        )
    show.line(f"{len(numbers)} accepted; {found.undecided} still open.")


@app.command("ask")
def ask(ident: Ident, numbers: Numbers) -> None:
    """Turn differences into a packet to the vendor."""
    with session.client() as client:
        number = client.statements.ask(_find(client, ident).id, numbers)
    show.line(f"Packet {number} asks about it. Look at it: sealpacket packet show {number}")


@app.command("drop")
def drop(ident: Ident) -> None:
    """Delete a statement and its differences."""
    with session.client() as client:
        client.statements.drop(_find(client, ident).id)
    show.line("Forgotten.")


def _find(client: SealPacket, ident: str) -> StatementShown:
    return session.find(
        ident, client.statements.get, lambda: client.statements.list(limit=200).items, "statement"
    )


def _tell(client: SealPacket, found: StatementShown, json: bool) -> None:
    differences = list(client.statements.differences(found.id))
    if json:
        show.as_json(
            {
                **found.model_dump(mode="json"),
                "differences": [d.model_dump(mode="json") for d in differences],
            }
        )
        return
    show.heading(
        f"{found.vendor_name}, as of {found.as_of}", f"statement {found.id[:8]}, {found.name}"
    )
    if found.status_text:
        show.line(found.status_text, "yellow")
    show.line(
        f"  {found.counts.agreeing} lines agree, {len(differences)} differ, {found.undecided} of them open"
    )
    for sort, words in _SORTS:
        some = [item for item in differences if item.sort == sort]
        if some:
            show.heading(words, str(len(some)))
        for item in some[:_MOST_SHOWN]:
            _tell_one(item)
        if len(some) > _MOST_SHOWN:
            show.line(f"  … and {len(some) - _MOST_SHOWN} more: --json shows all", "dim")


def _tell_one(item: DifferenceShown) -> None:
    show.line(f"  {item.number:>4}  {item.sentence}", "dim" if item.decision else "")
    if item.decision:
        also = f" ({item.packet})" if item.packet else f": {item.reason}" if item.reason else ""
        show.line(f"        decided by {item.decided_by}: {item.decision}{also}", "green")
    elif item.before:
        why = f": {item.before.reason}" if item.before.reason else ""
        show.line(f"        before, {item.before.by} decided {item.before.decision}{why}", "yellow")
