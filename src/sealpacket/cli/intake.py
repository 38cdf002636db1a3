"""Imports and exports on the command line."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer
from rich.progress import Progress, SpinnerColumn, TextColumn

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import vendors
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client import SealPacket
    from sealpacket.client.models import ImportShown

app = typer.Typer(no_args_is_help=True, help="Import the register from files.")

Ident = Annotated[str, typer.Argument(help="Import id; default: the last one.")]
_MOST_SHOWN = 20


@app.command("read")
def read(
    kind: Annotated[
        str,
        typer.Argument(
            help="A kind of record: vendor, asset, contract, entitlement, limit, licence and so on."
        ),
    ],
    file: Annotated[
        Path, typer.Argument(exists=True, dir_okay=False, help="CSV, XLSX or JSON Lines.")
    ],
    column: Annotated[
        list[str] | None, typer.Option("--column", help="FIELD=HEADING, to map a column.")
    ] = None,
    fixed: Annotated[
        list[str] | None, typer.Option("--set", help="FIELD=VALUE for every row.")
    ] = None,
    source: Annotated[
        str, typer.Option(help="Name of the source; its mapping is remembered.")
    ] = "",
    part: Annotated[str, typer.Option(help="The sheet of a workbook.")] = "",
    dates: Annotated[
        str | None, typer.Option(help="day or month: what comes first in 03/04/2026.")
    ] = None,
    apply: Annotated[
        bool, typer.Option("--apply", help="Apply at once, if no row is rejected.")
    ] = False,
    json: show.Json = False,
) -> None:
    """Read a file and preview what each row would do.

    Example: `sealpacket import read asset list.xlsx --column serial="S/N" --set vendor=tarnfell`

    Ends with 3 if rows are rejected.
    """
    with session.client() as client:
        begun = client.imports.begin(
            kind,
            file,
            source=source,
            part=part,
            mapping=as_pairs(column),
            fixed=as_pairs(fixed),
            date_order=dates,
        )
        found = _wait(client, begun.id)
        if found.state == "failed":
            raise ClientError(found.status_text, "Nothing was imported.")
        if apply and not found.counts.rejected:
            client.imports.apply(found.id)
            found = _wait(client, found.id)
        _tell(client, found, json)
    if found.counts.rejected:
        raise typer.Exit(3)


@app.command("show")
def show_import(ident: Ident = "", json: show.Json = False) -> None:
    """Show what an import would do, or did."""
    with session.client() as client:
        _tell(client, _find(client, ident), json)


@app.command("list")
def list_imports(json: show.Json = False) -> None:
    """List imports, newest first."""
    with session.client() as client:
        found = client.imports.list().items
    if json:
        show.as_json(found)
        return
    show.table(
        ("Import", "File", "Of", "State", ">New", ">Changed", ">Same", ">Rejected", "When", "By"),
        (
            (
                i.id[:8],
                i.file_name,
                i.kind,
                i.state,
                i.counts.new,
                i.counts.changed,
                i.counts.unchanged,
                i.counts.rejected,
                show.moment(i.at),
                i.by,
            )
            for i in found
        ),
        nothing="Nothing was imported yet.",
    )


@app.command("apply")
def apply_import(ident: Ident = "") -> None:
    """Apply a preview: enter its new and changed rows into the register, all or nothing."""
    with session.client() as client:
        found = client.imports.apply(_find(client, ident).id)
        _tell(client, _wait(client, found.id), json=False)


@app.command("undo")
def undo_import(ident: Ident = "") -> None:
    """Undo the last applied import."""
    with session.client() as client:
        found = client.imports.undo(_find(client, ident).id)
        _tell(client, _wait(client, found.id), json=False)


@app.command("rejected")
def save_rejected(out: show.Out, ident: Annotated[str, typer.Option()] = "") -> None:
    """Save the rejected rows with their faults as a CSV file, to fix and import again."""
    with session.client() as client:
        client.imports.save_rejected(_find(client, ident).id, out)
    show.line(f"Saved {out}.")


def export(
    what: Annotated[str, typer.Argument(help="everything, or assets, contracts, entitlements, …")],
    file: Annotated[
        Path,
        typer.Argument(
            help="The ending sets the format: .csv, .xlsx, .jsonl; everything as CSV: .zip"
        ),
    ],
    query: Annotated[str, typer.Option(help="Only records that hold these words.")] = "",
    vendor: Annotated[str, typer.Option(help="Only of this vendor.", autocompletion=vendors)] = "",
    site: Annotated[str, typer.Option(help="Only at this site (assets).")] = "",
    status: Annotated[str, typer.Option(help="Only in this status (assets).")] = "",
) -> None:
    """Save the register as a file that can be imported again without a change.

    Example: `sealpacket export everything register.xlsx`
    """
    form = {".zip": "csv"}.get(file.suffix, file.suffix.lstrip("."))
    if form not in ("csv", "xlsx", "jsonl"):
        raise ClientError(
            f"{file.suffix or 'No ending'} is not a known form.",
            "Name it .csv, .xlsx, .jsonl or .zip.",
        )
    with session.client() as client:
        client.export(what, form, file, query=query, vendor=vendor, site=site, status=status)
    show.line(f"Saved {file}, {show.size(file.stat().st_size)}.")


def archive(
    year: Annotated[int, typer.Argument(help="The year in which packets ended.")],
    out: show.Out,
) -> None:
    """Save all packets that ended in a year: bags, threads and an index, to be read without the service.

    Example: `sealpacket archive 2026 --out archive-2026.zip`
    """
    with session.client() as client:
        client.archive(year, out)
    show.line(f"Saved {out}, {show.size(out.stat().st_size)}.")


def as_pairs(given: list[str] | None) -> dict[str, str]:
    """Pairs given as NAME=TEXT."""
    pairs = {}
    for item in given or []:
        name, sign, value = item.partition("=")
        if not sign:
            raise ClientError(f"“{item}” is not FIELD=TEXT.", 'Write it as serial="Serial No."')
        pairs[name] = value
    return pairs


def _find(client: SealPacket, ident: str) -> ImportShown:
    return session.find(
        ident, client.imports.get, lambda: client.imports.list(limit=200).items, "import"
    )


def _wait(client: SealPacket, ident: str) -> ImportShown:
    with Progress(
        SpinnerColumn(), TextColumn("{task.description}"), console=show.progress(), transient=True
    ) as bar:
        task = bar.add_task("Reading …")

        def progress(shown: ImportShown) -> None:
            rows = sum(shown.counts.model_dump().values())
            bar.update(task, description=f"{shown.state} …{f' {rows} rows' if rows else ''}")

        return client.imports.wait(ident, progress=progress)


def _tell(client: SealPacket, found: ImportShown, json: bool) -> None:
    if json:
        show.as_json(found)
        return
    counts = found.counts
    show.heading(
        f"{found.file_name}: {found.state}",
        f"import {found.id[:8]}, {found.kind}s from {found.source}",
    )
    if found.status_text:
        show.line(found.status_text, "yellow")
    show.line(
        f"  {counts.new} new, {counts.changed} changed, {counts.unchanged} unchanged, {counts.rejected} rejected"
    )
    filled = [
        f"{name} from “{heading}”" for name, heading in found.mapping.items() if name != heading
    ]
    if filled:
        show.line(f"  {', '.join(filled)}", "dim")
    left = [
        heading for heading in found.headings if heading and heading not in found.mapping.values()
    ]
    if left:
        show.line(f"  Columns not used: {', '.join(left)}", "dim")
    if found.state in ("ready", "applied"):
        _tell_rows(client, found)
    if found.state == "ready" and counts.new + counts.changed:
        show.line(
            f"Nothing is in the register yet. Apply it: sealpacket import apply {found.id[:8]}"
        )


def _tell_rows(client: SealPacket, found: ImportShown) -> None:
    for number, row in enumerate(client.imports.rows(found.id, "rejected")):
        if number == _MOST_SHOWN:
            show.line("  … the others: sealpacket import rejected --out FILE", "yellow")
            break
        for fault in row.faults:
            show.line(f"  row {row.row} {row.called}: {fault.sentence}", "red")
    for number, row in enumerate(client.imports.rows(found.id, "changed")):
        if number == _MOST_SHOWN:
            show.line(f"  … and {found.counts.changed - _MOST_SHOWN} more changes", "dim")
            break
        changes = ", ".join(
            f"{item.field} {_said(item.old)} → {_said(item.new)}" for item in row.changes
        )
        show.line(f"  row {row.row} {row.called}: {changes}")


def _said(value: object) -> str:
    if isinstance(value, list):
        return "[" + ", ".join(map(str, value)) + "]"
    return "–" if value in (None, "") else str(value)
