"""Many packets from one file on the command line."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import Annotated, Any

import typer

from sealpacket.cli import session, show
from sealpacket.client import ClientError
from sealpacket.client.models import BatchShown
from sealpacket.core.tables import open_table
from sealpacket.core.words import count

app = typer.Typer(help="Many packets from one file: previewed, noted, tried again.")
Ident = Annotated[str, typer.Argument(metavar="BATCH", help="The batch, such as B-0007.")]
_OWN = ("asset", "title", "note", "need")


@app.command("note")
def note_batch(
    file: Annotated[
        Path, typer.Argument(exists=True, help="A spreadsheet, a row for each packet.")
    ],
    title: Annotated[str, typer.Option(help="The title of packets that have none.")],
    note: Annotated[str, typer.Option(help="The note of rows that have none.")] = "",
    need: show.Need = "fault",
    preview: Annotated[bool, typer.Option("--preview", help="Only show what it would do.")] = False,
    json: show.Json = False,
) -> None:
    """Note a packet for each row of a file.

    The columns asset, title, note and need are read; every other column is the answer to the question of its name.

    Example: `sealpacket batch note recall.csv --title "Recall of the batteries" --need return`
    """
    rows = _rows(file, note, need)
    with session.client() as client:
        if preview:
            found = client.batches.preview_batch(rows)
            if json:
                show.as_json(found)
                return
            show.table(
                (">Row", "Asset", "Name", "Desk", "Problem or hint"),
                ((x.place, x.asset, x.name, x.desk, x.problem or x.hint) for x in found),
                nothing="No rows.",
            )
            return
        done = client.batches.wait(client.batches.note_batch(title, rows).id)
    _shown(done, json)


def _rows(file: Path, note: str, need: str) -> list[dict[str, Any]]:
    table = open_table(file)
    heads = [head.strip() for head in table.headings]
    names = [head.casefold() if head.casefold() in _OWN else head for head in heads]
    if "asset" not in names:
        raise ClientError(f"{file} has no column asset.", "Give it one with serials or ids.")
    rows = []
    for _, cells in table.rows:
        given = {
            name: str(cell).strip()
            for name, cell in zip(names, cells, strict=False)
            if name and cell not in (None, "")
        }
        own = {name: given[name] for name in _OWN if name in given}
        answers = {name: value for name, value in given.items() if name not in _OWN}
        rows.append({"note": note, "need": need, **own, "answers": answers})
    return rows


@app.command("list")
def list_batches(json: show.Json = False) -> None:
    """List batches, the newest first."""
    with session.client() as client:
        found = client.batches.batches()
    if json:
        show.as_json(found)
        return
    show.table(
        ("Batch", "Title", "By", "Noted", ">Packets", ">Failed", ">Waiting"),
        (
            (x.id, x.title, x.by, show.day(x.at), x.noted, x.failed or "", x.waiting or "")
            for x in found
        ),
        nothing="No batches.",
    )


@app.command("show")
def show_batch(ident: Ident, json: show.Json = False) -> None:
    """Show the rows of a batch and their packets."""
    with session.client() as client:
        found = client.batches.batch(ident)
    _shown(found, json)


@app.command("retry")
def retry_batch(
    ident: Ident,
    asset: Annotated[
        list[str] | None, typer.Option(metavar="ROW=ASSET", help="The right asset of a failed row.")
    ] = None,
    json: show.Json = False,
) -> None:
    """Try the failed rows of a batch again.

    Example: `sealpacket batch retry B-0007 --asset 7=SW3K-70455`
    """
    with session.client() as client:
        before = {row.place: row for row in client.batches.batch(ident).rows}
        corrected = {}
        for place, serial in _pairs(asset or ()):
            if place not in before:
                raise ClientError(f"There is no row {place}.", "Show the batch.")
            corrected[place] = {**before[place].row.model_dump(mode="json"), "asset": serial}
        client.batches.retry_batch(ident, corrected)
        done = client.batches.wait(ident)
    _shown(done, json)


def _pairs(given: Iterable[str]) -> Iterable[tuple[int, str]]:
    for one in given:
        place, sign, serial = one.partition("=")
        if not sign or not place.isdigit():
            raise ClientError(f"“{one}” is not ROW=ASSET.", "Write it as 7=SW3K-70455.")
        yield int(place), serial


def _shown(found: BatchShown, json: bool) -> None:
    if json:
        show.as_json(found)
        return
    show.heading(found.title, found.id)
    show.table(
        (">Row", "Asset", "Packet", "State", "Turn", ">Stops", "Problem"),
        (
            (
                x.place, x.row.asset, x.packet, x.life or x.state, x.turn or "", "" if x.stops is None else x.stops,
                x.problem,
            )
            for x in found.rows
        ),
        nothing="No rows.",
    )  # fmt: skip
    show.line(
        f"{count(found.noted, 'packet')} noted, {found.failed} failed, {found.waiting} waiting."
    )
