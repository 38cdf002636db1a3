"""Desks and their sheets."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.core.sheets import ReadReply, Sheet

desk_app = typer.Typer(no_args_is_help=True, help="Desks and their sheets.")


@desk_app.command("list")
def list_desks(json: show.Json = False) -> None:
    """List desks."""
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


@desk_app.command("ask-first")
def ask_first(
    desk: Annotated[str, typer.Argument(help="The desk's key.")],
    ask: Annotated[str, typer.Argument(help="The question.")],
    need: Annotated[
        list[str] | None, typer.Option(help="Only of this kind of need; may be repeated.")
    ] = None,
) -> None:
    """Put a question that a desk asks back into its sheet: drafts ask it first.

    Example: `sealpacket desk ask-first tarnfell-support "Which firmware do both controllers run?" --need fault`
    """
    with session.client() as client:
        found = client.ask_first(desk, ask, need or [])
    show.line(f"{found.name} has version {found.version} of its sheet.")


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
            {
                file: [finding.model_dump() for finding in findings]
                for file, findings in found.items()
            }
        )
    else:
        for file, findings in found.items():
            for finding in findings:
                about = finding.question or finding.place
                where = f"{file}, line {finding.line}, column {finding.column}"
                words = (
                    f"{where}: {finding.level}{f' {about}' if about else ''}: {finding.sentence}"
                )
                show.line(f"{words} {finding.remedy}".rstrip(), show.LEVEL_STYLES[finding.level])
            if not findings:
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
    """Show a sample packet as the sheet would send it: questions, answers, documents. Needs no service.

    Example: `sealpacket desk preview ovenbird-support.yaml --seed 3`
    """
    from sealpacket.core.errors import Invalid
    from sealpacket.core.sheets import sample_packet, say_size, write_case
    from sealpacket.core.sheets.explained import explain

    sheet = _usable(file)
    kind = sheet.kind(need) if need else sheet.kinds[0]
    if kind is None:
        takes = ", ".join(one.need for one in sheet.kinds)
        raise ClientError(f"{sheet.name} takes no {need}.", f"It takes {takes}.")
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
        show.heading(f"What is written {case.label}".rstrip(), sheet.write.format)
        try:
            written = write_case(sheet, case)
        except Invalid as fault:
            raise ClientError(fault.detail, fault.remedy) from fault
        show.line(written.text)
        if written.documents:
            show.line(
                "Documents: "
                + ", ".join(f"{n}, {say_size(len(c))}" for n, c in written.documents.items())
            )
    show.heading("How it goes", "")
    for sentence in explain(sheet):
        show.line(sentence)


@desk_app.command("begin")
def begin_desk(
    file: Annotated[
        Path,
        typer.Argument(
            exists=True, dir_okay=False, help="The vendor's form, schema or sample; see below."
        ),
    ],
    out: Annotated[Path | None, typer.Option(help="Output file; default: standard output.")] = None,
    operation: Annotated[str, typer.Option(help="OpenAPI operation that takes a case.")] = "",
    root: Annotated[str, typer.Option(help="Root element of an XML Schema.")] = "",
) -> None:
    """Draft a sheet from a vendor's form, schema or sample. Needs no service.

    Takes a PDF form, an XML Schema, a JSON Schema, an OpenAPI document, a sample in JSON, a sample mail, or a web form
    saved as a file. Values that it cannot know are marked with “# ?”.

    Example: `sealpacket desk begin claim.pdf --out claim.yaml`
    """
    from sealpacket.core.errors import Invalid
    from sealpacket.core.sheets.beginning import begin

    if out is not None and out.exists():
        raise ClientError(f"{out} is there already.", "Choose another name for --out.")
    try:
        text = begin(file.name, file.read_bytes(), operation=operation, root=root)
    except Invalid as fault:
        raise ClientError(fault.detail, fault.remedy) from fault
    if out is None:
        typer.echo(text, nl=False)
        return
    out.write_text(text, "utf-8")
    show.line(
        f"{out} has {text.count('  - id: ')} questions. See what is open: sealpacket desk lint {out}"
    )


@desk_app.command("read")
def read_replies(
    file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="The sheet in YAML.")],
    replies: Annotated[
        list[Path],
        typer.Argument(
            exists=True,
            dir_okay=False,
            help="Recorded replies: mails, documents, HTTP answers.",
        ),
    ],
    json: show.Json = False,
) -> None:
    """Show what replies of a desk would do: reference, status, turn, questions, refusals. Needs no service.

    Example: `sealpacket desk read lumenlathe-care.yaml reply.eml`

    The name of an answer over HTTP may begin with its status: 422-error.json.

    Ends with 3 if something in a reply was not understood.
    """
    from sealpacket.core.sheets import read_given

    sheet = _usable(file)
    found = [read_given(sheet, path.name, path.read_bytes()) for path in replies]
    if json:
        show.as_json([one.model_dump() for one in found])
    else:
        for one in found:
            _show_reply(one)
    if any(one.not_understood for one in found):
        raise typer.Exit(3)


def _show_reply(read: ReadReply) -> None:
    show.heading(read.name, "")
    news = read.news
    turn = "our turn" if news.turn == "ours" else "their turn"
    facts = [
        ("Packet", read.our_number),
        ("Reference", read.reference),
        (
            "Status",
            f"{news.status}: {news.life}, {turn}" if news.status or not read.refusals else "",
        ),
        *news.facts.items(),
    ]
    for name, value in facts:
        if value:
            show.line(f"  {name}: {value}")
    for message in news.messages:
        if message.text:
            about = " ".join(part for part in (message.author, message.at) if part)
            asks = "asks" if message.asks else "says"
            show.line(f"  {f'{about} ' if about else ''}{asks}: {message.text}")
    for reason in read.refusals:
        show.line(f"  Refused as {reason.code}: {reason.text}", show.LEVEL_STYLES["stop"])
        show.line(f"    {reason.cure}")
    for sentence in read.not_understood:
        show.line(f"  Not understood: {sentence}", show.LEVEL_STYLES["warn"])


def _usable(file: Path) -> Sheet:
    """The sheet of a file. Raises ClientError if it cannot be used."""
    from sealpacket.core.sheets import has_stops, lint

    sheet, found = lint(file.read_text("utf-8", errors="replace"))
    if sheet is None or has_stops(found):
        raise ClientError(
            f"{file} cannot be used as it is.", f"See why: sealpacket desk lint {file}"
        )
    return sheet


@desk_app.command("try")
def try_desk(
    file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="The sheet in YAML.")],
    asset: Annotated[
        str, typer.Option(help="Serial or id: lodge the sample at the configured stand-in, too.")
    ] = "",
    need: Annotated[str, typer.Option(help="The kind of need.")] = "fault",
    seed: Annotated[int, typer.Option(help="Another seed makes another packet.")] = 0,
    recorded: Annotated[
        list[Path] | None,
        typer.Option(
            exists=True,
            dir_okay=False,
            help="A recorded reply: an answer, an error named 422-….json, a mail, a document.",
        ),
    ] = None,
    json: show.Json = False,
) -> None:
    """Take a sample packet through its whole life at a stand-in made from the sheet; nothing goes to the desk.

    Example: `sealpacket desk try ovenbird-support.yaml --recorded answer.txt`

    Ends with 3 if an act fails, the stand-in refuses the sample, or something recorded is not understood.
    """
    given = {one.name: one.read_text("utf-8", errors="replace") for one in recorded or []}
    with session.client() as client:
        trial = client.try_sheet(
            file.read_text("utf-8"), asset, need=need, seed=seed, recorded=given
        )
    if json:
        show.as_json(trial)
    else:
        marks = {True: "done", False: "failed", None: "not there"}
        show.table(
            ("Act", "", "What happened"),
            ((step.act, marks[step.ok], step.sentence) for step in trial.steps),
            nothing="Nothing was tried.",
        )
        show.line(f"{trial.status_text} {trial.reference or ''}".rstrip())
        for reason in trial.refusals:
            show.line(f"{reason.code}: {reason.text}", show.LEVEL_STYLES["stop"])
    if trial.refusals or any(step.ok is False for step in trial.steps):
        raise typer.Exit(3)


@desk_app.command("show")
def show_desk(key: Annotated[str, typer.Argument(help="The desk's key.")]) -> None:
    """Print the newest sheet of a desk, to edit and put again."""
    with session.client() as client:
        desk = client.desk(key)
    typer.echo(desk.yaml, nl=False)
    for one in desk.unlisted:
        packets = ", ".join(one.packets)
        show.errors().print(f"Not listed under statuses: {one.word} ({packets})", style="yellow")
