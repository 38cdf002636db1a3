"""Exhibits on the command line."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer
from rich.progress import BarColumn, DownloadColumn, Progress, TaskID, TextColumn
from rich.text import Text

from sealpacket.cli import session, show
from sealpacket.cli.logs import Around, From, Hours, To, Zone, cut_around, span, zone_of
from sealpacket.cli.packet_options import IfVersion, Number
from sealpacket.client import ClientError
from sealpacket.core.words import count

if TYPE_CHECKING:
    from sealpacket.client import PageBox
    from sealpacket.client.models import CoveredShown, DrawnBoxShown, PacketShown, Review

app = typer.Typer(
    no_args_is_help=True, help="Evidence: the original never leaves, the outgoing copy does."
)

Name = Annotated[str, typer.Argument(help="Exhibit name.")]


@app.command()
def add(
    number: Number,
    files: Annotated[list[Path], typer.Argument(exists=True, dir_okay=False, help="Files to add.")],
    around: Annotated[
        str, typer.Option(help="Of logs, only the hours around this moment: 2026-11-23T08:40.")
    ] = "",
    hours: Annotated[float, typer.Option(min=0.01, max=10_000, help="Hours before and after.")] = 2,
    zone: Zone = "",
    name: Annotated[
        str, typer.Option(help="Name of the exhibit; default: the file's. For one file.")
    ] = "",
    wait: Annotated[bool, typer.Option(help="Wait until they are redacted.")] = True,
) -> None:
    """Add files as exhibits, whole or the hours that matter; they are redacted at once.

    Example: `sealpacket exhibit add P-0001 controller.log array.cfg`
    """
    if name and len(files) > 1:
        raise ClientError("--name names one exhibit.", "Add the files one by one.")
    if not around:
        _send_in(number, files, wait, name)
        return
    with tempfile.TemporaryDirectory(prefix="sealpacket-") as folder:
        _send_in(number, cut_around(files, Path(folder), around, hours, zone), wait, name)


def _send_in(number: str, files: list[Path], wait: bool, name: str) -> None:
    called = {path: name or path.name for path in files}
    columns = (TextColumn("{task.description}", markup=False), BarColumn(28), DownloadColumn())
    with session.client() as client, Progress(*columns, console=show.progress()) as bars:
        for path in files:
            bar = bars.add_task(f"send   {called[path]}", total=path.stat().st_size)

            def progress(sent: int, _all: int, bar: TaskID = bar) -> None:
                bars.update(bar, completed=sent)

            client.exhibits.add(number, path, name=called[path], progress=progress)
        names = set(called.values())
        redacting = {
            called[path]: bars.add_task(f"redact {called[path]}", total=path.stat().st_size)
            for path in files
        }

        def tell(packet: PacketShown) -> None:
            for exhibit in packet.exhibits:
                if exhibit.name in redacting:
                    bars.update(redacting[exhibit.name], completed=exhibit.done)

        packet = client.packets.wait(number, progress=tell) if wait else client.packets.get(number)
    _table(packet, names)


@app.command("summary")
def summarise(
    number: Number,
    name: Name,
    around: Annotated[
        str, typer.Option(help="When it happened; default: when the packet says it began.")
    ] = "",
    hours: Hours = 2,
    most: Annotated[int, typer.Option(min=1, max=120, help="Messages to show of each sort.")] = 8,
    zone: Zone = "",
    json: show.Json = False,
) -> None:
    """Summarise a log among the exhibits: hours, gaps, levels, new messages, known issues.

    Example: `sealpacket exhibit summary P-0001 controller.log`
    """
    from sealpacket.cli.log_summary import show_summary
    from sealpacket.core.evidence.summary import Summary

    there = zone_of(zone)
    start, end = span("", "", around, hours, there) if around else (None, None)
    with session.client() as client:
        found = client.exhibits.summarise(number, name, start, end)
    if json:
        show.as_json(found)
        return
    show_summary(Summary.model_validate(found.model_dump()), there, most)


@app.command("cut")
def cut(
    number: Number,
    name: Name,
    start: From = "",
    end: To = "",
    around: Around = "",
    hours: Hours = 2,
    zone: Zone = "",
    if_version: IfVersion = None,
) -> None:
    """Keep only some hours of a log among the exhibits; it is redacted again.

    Example: `sealpacket exhibit cut P-0001 controller.log --around 2026-11-23T08:40 --hours 4`
    """
    first, last = span(start, end, around, hours, zone_of(zone))
    with session.client() as client:
        client.exhibits.cut(number, name, first, last, version=if_version)
        packet = client.packets.wait(number)
    _table(packet, {name, name.removesuffix(".gz")})


@app.command("attach")
def attach(
    number: Number,
    name: Name,
    source: Annotated[str, typer.Option("--from", help="The packet that has the exhibit.")],
    if_version: IfVersion = None,
) -> None:
    """Attach an exhibit of another packet without copying it; it is redacted again for this packet.

    Example: `sealpacket exhibit attach P-0012 controller.log --from P-0001`
    """
    with session.client() as client:
        client.exhibits.attach(number, source, name, version=if_version)
        packet = client.packets.wait(number)
    _table(packet, {name})


@app.command("delete-originals")
def delete_originals(
    number: Number,
    reason: Annotated[str, typer.Option(help="Reason, for the custody log.")],
    if_version: IfVersion = None,
) -> None:
    """Delete the originals of a packet that is over, for good. Its sealed bag is kept."""
    with session.client() as client:
        gone = client.exhibits.delete_originals(number, reason, version=if_version)
    kept = gone.exhibits - gone.files
    also = f"; {kept} stay, because another packet has them too" if kept else ""
    show.line(f"{count(gone.exhibits, 'original')} of {gone.number} deleted{also}.")


@app.command("list")
def list_exhibits(number: Number, json: show.Json = False) -> None:
    """List the packet's exhibits."""
    with session.client() as client:
        packet = client.packets.get(number)
    if json:
        show.as_json(packet.exhibits)
        return
    _table(packet, {exhibit.name for exhibit in packet.exhibits})


def _table(packet: PacketShown, names: set[str], nothing: str = "No exhibits.") -> None:
    show.table(
        ("Name", "State", ">Original", ">Outgoing", ">Masked", ">Kept", ">Leaks", "Kinds"),
        (
            (
                e.name,
                e.state,
                show.size(e.size),
                show.size(e.outgoing_size),
                sum(e.counts.values()),
                sum(e.kept.values()),
                e.leaks,
                ", ".join(f"{n} {kind}" for kind, n in e.counts.items()) or e.reason,
            )
            for e in packet.exhibits
            if e.name in names
        ),
        nothing=nothing,
    )
    for exhibit in packet.exhibits:
        for fault in exhibit.faults if exhibit.name in names else ():
            show.line(fault, "yellow")


@app.command()
def review(
    number: Number,
    name: Name,
    at: Annotated[int, typer.Option(help="The finding to look at, from 1.")] = 1,
    kind: Annotated[
        str, typer.Option(help="Only findings of this kind: ip, host, secret, …; or doubtful.")
    ] = "",
    lines: Annotated[int, typer.Option(help="Number of lines.")] = 14,
    json: show.Json = False,
) -> None:
    """Show the original beside the outgoing copy, around one finding.

    Example: `sealpacket exhibit review P-0001 controller.log --kind secret --at 3`
    """
    with session.client() as client:
        found = client.exhibits.review(number, name, max(at - 1, 0), kind=kind, lines=lines)
    if json:
        show.as_json(found)
        return
    _show_review(name, found)


def _show_review(name: str, found: Review) -> None:
    counts = ", ".join(f"{count} {kind}" for kind, count in found.counts.items())
    where = (
        f"finding {found.at + 1} of {found.findings}" if found.at is not None else "nothing masked"
    )
    doubtful = f" · {found.doubtful} doubtful" if found.doubtful else ""
    show.heading(name, f"{where} · {counts}{doubtful}")
    for line in found.lines:
        original = Text.assemble(
            (f"{line.number:>8} ", "dim"),
            *(
                (_first_line(s.text), "black on #f6ead0") if s.placeholder else s.text
                for s in line.spans
            ),
        )
        outgoing = Text.assemble(
            ("goes out ", "dim"),
            *((s.placeholder, "reverse") if s.placeholder else s.text for s in line.spans),
        )
        show.out().print(original, soft_wrap=True)
        if any(span.placeholder for span in line.spans):
            show.out().print(outgoing, soft_wrap=True)


@app.command()
def values(
    number: Number,
    name: Name,
    kind: Annotated[str, typer.Option(help="Only of this kind.")] = "",
    q: Annotated[str, typer.Option("--with", help="Only those with this text in them.")] = "",
    json: show.Json = False,
) -> None:
    """List the masked values of an exhibit, the most frequent first."""
    with session.client() as client:
        found = client.exhibits.values(number, name, kind=kind, q=q)
    if json:
        show.as_json(found)
        return
    rows = [(one.value, one.kind, one.times, one.placeholder) for one in found.values]
    show.table(("Value", "Kind", "Times", "Goes out as"), rows, nothing="Nothing is masked.")
    if found.total > len(rows):
        show.line(f"{found.total - len(rows)} more; narrow it with --kind or --with.")


_Reason = Annotated[str, typer.Option(help="Reason, for the custody log.")]
_Value = Annotated[str, typer.Argument(help="The value; default: all of the kind.")]


@app.command()
def keep(
    number: Number,
    kind: Annotated[str, typer.Argument(help="Kind of value, for example host.")],
    reason: _Reason,
    value: _Value = "",
    if_version: IfVersion = None,
) -> None:
    """Let a value of this kind go out unchanged, everywhere in the packet: in exhibits and typed text.

    Example: `sealpacket exhibit keep P-0001 host gw.tarnfell.example --reason "it is the vendor's own"`
    """
    _decide(number, "keep", kind, value, reason, version=if_version)


@app.command()
def mask(
    number: Number,
    kind: Annotated[str, typer.Argument(help="Kind of value, for example host or custom.")],
    reason: _Reason,
    value: _Value = "",
    always: Annotated[bool, typer.Option(help="In every packet from now on.")] = False,
    if_version: IfVersion = None,
) -> None:
    """Mask a value everywhere in the packet: in exhibits and typed text.

    Example: `sealpacket exhibit mask P-0001 custom "Project Heron" --reason "not public" --always`
    """
    _decide(number, "mask", kind, value, reason, version=if_version, as_term=always)


@app.command("leave-out")
def leave_out(
    number: Number,
    kind: Annotated[str, typer.Argument(help="Kind of value, for example card.")],
    reason: _Reason,
    files: Annotated[
        bool, typer.Option("--files", help="Leave out files that hold one, not only lines.")
    ] = False,
    if_version: IfVersion = None,
) -> None:
    """Leave out every line (or file) with a value of this kind, in the whole packet.

    Example: `sealpacket exhibit leave-out P-0001 reader --reason "no line about a reader leaves"`
    """
    action = "drop-file" if files else "drop-line"
    _decide(number, action, kind, "", reason, version=if_version)


def _decide(
    number: str,
    action: str,
    kind: str,
    value: str,
    reason: str,
    *,
    version: int | None,
    as_term: bool = False,
) -> None:
    with session.client() as client:
        client.exhibits.decide(
            number, action, kind, value, reason=reason, as_term=as_term, version=version
        )
        packet = client.packets.wait(number)
    _table(
        packet,
        {exhibit.name for exhibit in packet.exhibits},
        nothing=f"{packet.number} has no exhibits.",
    )
    show.line(f"What goes out in words: sealpacket packet letter {packet.number}", "dim")


@app.command()
def decisions(
    number: Number,
    undo: Annotated[str, typer.Option(help="Undo this decision, by its id.")] = "",
    json: show.Json = False,
    if_version: IfVersion = None,
) -> None:
    """List redaction decisions and their reasons."""
    with session.client() as client:
        if undo:
            client.exhibits.undo_decision(number, undo, version=if_version)
            client.packets.wait(number)
        found = client.exhibits.decisions(number)
    if json:
        show.as_json(found)
        return
    rows = [(one.action, one.value or "all", one.kind, one.reason, one.by, one.id) for one in found]
    show.table(
        ("Action", "Value", "Kind", "Because", "By", "Id"), rows, nothing="Nothing was decided."
    )


@app.command()
def pages(
    number: Number,
    name: Name,
    out: Annotated[
        Path | None, typer.Option(help="Write the outgoing pages into this folder, as PNG.")
    ] = None,
    json: show.Json = False,
) -> None:
    """List the covered areas of a picture or PDF, and the drawn boxes.

    Example: `sealpacket exhibit pages P-0001 screen.png --out seen`
    """
    with session.client() as client:
        found = client.exhibits.pages(number, name)
        if out:
            out.mkdir(parents=True, exist_ok=True)
            for page in range(1, len(found.pages) + 1):
                (out / f"page-{page}.png").write_bytes(client.exhibits.page(number, name, page))
    if json:
        show.as_json(found)
        return
    rows = [
        (page, one.kind, one.value, one.placeholder, _percent(one), "")
        for page, shown in enumerate(found.pages, 1)
        for one in shown.covered
    ]
    rows += [(one.page, "drawn", one.reason, "", _percent(one), one.id) for one in found.drawn]
    show.table(
        (">Page", "Kind", "Value", "Goes out as", "Left, top, right, bottom (%)", "Id"),
        rows,
        nothing="Nothing is covered.",
    )
    if out:
        show.line(f"{count(len(found.pages), 'page')} saved in {out}.")


def _percent(box: CoveredShown | DrawnBoxShown) -> str:
    return " ".join(f"{100 * edge:.1f}" for edge in (box.left, box.top, box.right, box.bottom))


@app.command()
def box(
    number: Number,
    name: Name,
    reason: Annotated[str, typer.Option(help="Reason, for the custody log.")] = "",
    at: Annotated[
        list[str] | None,
        typer.Option(
            help="Left, top, right and bottom in percent of the page: 10,20,45,24. Repeatable."
        ),
    ] = None,
    page: Annotated[int, typer.Option(min=1, help="The page, from 1.")] = 1,
    rub_out: Annotated[str, typer.Option(help="Remove this box, by its id.")] = "",
) -> None:
    """Cover areas of a picture or page, or remove a box; the exhibit is redacted again.

    Example: `sealpacket exhibit box P-0001 screen.png --at 10,20,45,24 --reason "a reader's face"`
    """
    boxes = [_box(page, text) for text in at or ()]
    if not boxes and not rub_out:
        raise ClientError(
            "The position of the box is missing.",
            "Add --at LEFT,TOP,RIGHT,BOTTOM in percent, or --rub-out ID.",
        )
    with session.client() as client:
        if rub_out:
            client.exhibits.rub_out_box(number, name, rub_out)
        if boxes:
            if not reason:
                raise ClientError(
                    "The reason is missing.", "Add --reason; it is kept in the custody log."
                )
            client.exhibits.draw_boxes(number, name, boxes, reason=reason)
        packet = client.packets.wait(number)
    _table(packet, {name})


def _box(page: int, text: str) -> PageBox:
    from sealpacket.client import PageBox

    try:
        left, top, right, bottom = (float(edge) / 100 for edge in text.split(","))
        return PageBox(page=page, left=left, top=top, right=right, bottom=bottom)
    except ValueError as error:
        raise ClientError(
            f"“{text}” is not a box.",
            "Give left, top, right and bottom in percent of the page, such as 10,20,45,24.",
        ) from error


@app.command()
def legend(
    number: Number,
    reason: Annotated[str, typer.Option(help="Reason for opening it, for the custody log.")] = "",
    destroy: Annotated[
        bool, typer.Option(help="Destroy the legend for good; only of a settled packet.")
    ] = False,
    json: show.Json = False,
    if_version: IfVersion = None,
) -> None:
    """Show the originals of placeholders, and the desk's messages in clear."""
    with session.client() as client:
        if destroy:
            gone = client.exhibits.destroy_legend(number, version=if_version)
            show.line(
                f"The legend of {gone.number} is destroyed. Its key had the fingerprint {gone.fingerprint}."
            )
            return
        if not reason:
            raise ClientError(
                "The reason is missing.", "Add --reason; it is kept in the custody log."
            )
        found = client.exhibits.open_legend(number, reason=reason)
    if json:
        show.as_json(found)
        return
    rows = [(one.placeholder, _first_line(one.value)) for one in found.placeholders]
    show.table(("Placeholder", "Stands for"), rows, nothing="Nothing was masked.")
    for message in found.messages:
        show.line(f"\n{message.text}")


def _first_line(text: str) -> str:
    first, *more = text.split("\n")
    return f"{first} … {len(more) + 1} lines" if more else first


@app.command()
def fetch(number: Number, name: Name, out: show.Out) -> None:
    """Save the outgoing copy."""
    with session.client() as client:
        client.exhibits.fetch_outgoing(number, name, out)
    show.line(f"The outgoing copy is in {out}.")


@app.command()
def remove(number: Number, name: Name, if_version: IfVersion = None) -> None:
    """Remove an exhibit from a draft."""
    with session.client() as client:
        client.exhibits.remove(number, name, version=if_version)
    show.line(f"{name} is taken out.")


@app.command()
def redact(number: Number, name: Name, if_version: IfVersion = None) -> None:
    """Redact an exhibit again with the current register."""
    with session.client() as client:
        client.exhibits.redact(number, name, version=if_version)
        _table(client.packets.wait(number), {name})


@app.command()
def release(
    number: Number,
    name: Name,
    reason: Annotated[str, typer.Option(help="Reason why it may go out as it is.")],
    if_version: IfVersion = None,
) -> None:
    """Release a held exhibit unchanged. Needs the role releaser; the reason goes into the custody log."""
    with session.client() as client:
        client.exhibits.release(number, name, reason, version=if_version)
    show.line(f"{name} is released as it is.")
