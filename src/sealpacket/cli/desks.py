"""Desks and their sheets."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.client import ClientError

desk_app = typer.Typer(no_args_is_help=True, help="Desks and their sheets.")


@desk_app.command("list")
def list_desks(json: show.Json = False) -> None:
    """All desks."""
    with session.client() as client:
        desks = client.desks()
    if json:
        show.as_json(desks)
        return
    show.table(
        ("Desk", "Name", "Vendor", ">Sheet", "Address"),
        (
            (d.key, d.name, d.vendor, d.version, "configured" if d.reachable else "none configured")
            for d in desks
        ),
        nothing="There is no desk yet. Add one: sealpacket desk put FILE",
    )


@desk_app.command("put")
def put_desk(
    file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="The sheet in YAML.")],
) -> None:
    """Upload a desk sheet; a changed sheet becomes a new version."""
    with session.client() as client:
        desk = client.put_sheet(file.read_text("utf-8"))
    show.line(f"{desk.name} has version {desk.version} of its sheet.")


@desk_app.command("lint")
def lint_desk(
    files: Annotated[
        list[Path], typer.Argument(exists=True, dir_okay=False, help="Sheets in YAML.")
    ],
    json: show.Json = False,
) -> None:
    """Check desk sheets while writing them; needs no service.

    Example: `sealpacket desk lint ovenbird-support.yaml`

    Ends with 3 if a sheet cannot be used as it is.
    """
    from sealpacket.core.sheets import lint

    stops = 0
    found = {}
    for path in files:
        found[str(path)] = lint(path.read_text("utf-8", errors="replace"))[1]
        stops += sum(finding.level == "stop" for finding in found[str(path)])
    if json:
        show.as_json(
            {file: [finding.model_dump() for finding in told] for file, told in found.items()}
        )
    else:
        for file, told in found.items():
            for finding in told:
                place = f" {finding.place}" if finding.place else ""
                words = f"{file}:{finding.line}: {finding.level}{place}: {finding.sentence}"
                show.line(words, show.LEVEL_STYLES[finding.level])
            if not told:
                show.line(f"{file}: no findings.")
    if stops:
        raise typer.Exit(3)


@desk_app.command("preview")
def preview_desk(
    file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="The sheet in YAML.")],
    seed: Annotated[int, typer.Option(help="Another seed makes another packet.")] = 0,
    need: Annotated[
        str, typer.Option(help="The kind of need; the first that the desk takes.")
    ] = "",
    json: show.Json = False,
) -> None:
    """Show what a sheet makes of a sample packet: its questions answered, and what would be written. Needs no service.

    Example: `sealpacket desk preview ovenbird-support.yaml --seed 3`
    """
    from sealpacket.core.sheets import has_stops, lint, sample_packet, say_size, write_case

    sheet, found = lint(file.read_text("utf-8", errors="replace"))
    if sheet is None or has_stops(found):
        raise ClientError(
            f"{file} cannot be used as it is.", f"See why: sealpacket desk lint {file}"
        )
    kind = sheet.kind(need) or sheet.kinds[0]
    sample = sample_packet(sheet, seed, {"packet.need": kind.need, "ruling.route": kind.routes[0]})
    if json:
        show.as_json([case.body for case in sample.cases] if len(sample.cases) > 1 else sample.body)
        return
    show.heading(
        sheet.name, f"{sheet.send.channel}, {sample.typed} of its questions answered by hand"
    )
    show.table(
        ("Question", "Answer", "From"),
        (
            (a.question, a.value, "by hand" if a.typed else a.source)
            for a in sample.answers
            if a.shown and a.value
        ),
        nothing="It asks nothing.",
    )
    for case in sample.cases:
        show.heading(f"What is written {case.label}".rstrip(), sheet.write.form)
        written = write_case(sheet, case)
        show.line(written.text)
        if written.documents:
            show.line(
                "Documents: "
                + ", ".join(f"{n}, {say_size(len(c))}" for n, c in written.documents.items())
            )


@desk_app.command("try")
def try_desk(
    file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="The sheet in YAML.")],
    asset: Annotated[str, typer.Option(help="Serial or id of the thing that the sample is about.")],
    need: Annotated[str, typer.Option(help="The kind of need.")] = "fault",
    seed: Annotated[int, typer.Option(help="Another seed makes another packet.")] = 0,
    json: show.Json = False,
) -> None:
    """Lodge a sample packet of a sheet at the desk's stand-in, never at the desk itself.

    Example: `sealpacket desk try ovenbird-support.yaml --asset OBS4-551203`

    Ends with 3 if the stand-in refuses it.
    """
    with session.client() as client:
        trial = client.try_sheet(file.read_text("utf-8"), asset, need=need, seed=seed)
    if json:
        show.as_json(trial)
    else:
        show.line(f"{trial.status_text} {trial.reference or ''}".rstrip())
        for reason in trial.refusals:
            show.line(f"{reason.code}: {reason.text}", show.LEVEL_STYLES["stop"])
        show.as_json(trial.sent)
    if trial.refusals:
        raise typer.Exit(3)


@desk_app.command("show")
def show_desk(key: Annotated[str, typer.Argument(help="The desk's key.")]) -> None:
    """The newest sheet of a desk as it was written, to be kept as a file, changed and put again."""
    with session.client() as client:
        typer.echo(client.desk(key).yaml, nl=False)
