"""Packets on the command line."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, Literal

import typer

from sealpacket.cli import session, show
from sealpacket.cli.coverage import show_ruling
from sealpacket.cli.logs import moment
from sealpacket.cli.note_with import read_context, taken_pictures
from sealpacket.cli.packet_options import IfVersion, Number, vendors
from sealpacket.cli.packet_shown import show_checks, tell_packet
from sealpacket.cli.vendor_health import tell_reports
from sealpacket.client import ClientError
from sealpacket.core.attention import Attention
from sealpacket.core.life import Life, Turn

if TYPE_CHECKING:
    from sealpacket.client.models import QuestionShown, Similar

CountedBy = Literal["vendor", "asset", "product", "site", "contract", "login", "owner"]

app = typer.Typer(no_args_is_help=True, help="Packets: note, answer, seal, lodge, follow.")


@app.command("foreseen")
def foreseen(
    number: Number,
    question: Annotated[
        str, typer.Argument(help="Number in the list; without it they are listed.")
    ] = "",
    answer: Annotated[str, typer.Argument(help="The answer; it goes into the note.")] = "",
    dismiss: Annotated[
        bool, typer.Option("--dismiss", help="The question does not matter here.")
    ] = False,
    if_version: IfVersion = None,
    json: show.Json = False,
) -> None:
    """Show the questions that the desk is likely to ask back, or answer one before it does.

    Example: `sealpacket packet foreseen P-0142 1 "7.4.2 on both."`
    """
    with session.client() as client:
        packet = client.packets.get(number)
        if question:
            if bool(answer) == dismiss:
                raise typer.BadParameter("Give an answer, or --dismiss.")
            places = {str(place): one.id for place, one in enumerate(packet.foreseen, 1)}
            if question not in places:
                raise ClientError(f"There is no question {question}.", "List them first.")
            packet = client.packets.answer_foreseen(
                number, places[question], answer, version=if_version
            )
    if json:
        show.as_json(packet.foreseen)
        return
    show.table(
        ("", "Question", "Why", ">Held up"),
        (
            (
                place,
                one.text,
                one.because,
                f"{one.cost_hours:g} h" if one.cost_hours is not None else "",
            )
            for place, one in enumerate(packet.foreseen, 1)
        ),
        nothing="No question is foreseen.",
    )


@app.command("list")
def list_packets(
    life: Annotated[Life | None, typer.Option(help="The state of the packet.")] = None,
    turn: Annotated[Turn | None, typer.Option(help="Whose turn it is.")] = None,
    need: show.Need = "",
    attention: Annotated[Attention | None, typer.Option(help="Why it needs us.")] = None,
    severity: Annotated[str, typer.Option(help="Severity, as the desk calls it.")] = "",
    asset: Annotated[str, typer.Option(help="Serial or id.")] = "",
    product: Annotated[str, typer.Option(help="Part number or id.")] = "",
    vendor: Annotated[str, typer.Option(help="Vendor key.", autocompletion=vendors)] = "",
    site: Annotated[str, typer.Option(help="Site key.")] = "",
    contract: Annotated[str, typer.Option(help="Contract number or id.")] = "",
    login: Annotated[str, typer.Option(help="Vendor login, by name or id.")] = "",
    owner: Annotated[str, typer.Option(help="Account that looks after it.")] = "",
    unowned: Annotated[
        bool, typer.Option("--unowned", help="Those that nobody looks after.")
    ] = False,
    is_open: Annotated[bool, typer.Option("--open", help="Those that wait for somebody.")] = False,
    ticket: Annotated[str, typer.Option(help="Its number at our own service desk.")] = "",
    reference: Annotated[str, typer.Option(help="Its reference in a system of ours.")] = "",
    since: Annotated[
        str, typer.Option("--updated-since", help="Changed since then, such as 2026-11-23T08:40.")
    ] = "",
    created: Annotated[
        str, typer.Option("--created-since", help="Noted since then, such as 2026-11-23.")
    ] = "",
    due: Annotated[
        str, typer.Option("--due-before", help="Due before then, such as 2026-11-23T08:40.")
    ] = "",
    lodged: Annotated[
        str, typer.Option("--lodged-since", help="Lodged since then, such as 2026-11-23.")
    ] = "",
    settled: Annotated[
        str, typer.Option("--settled-since", help="Settled since then, such as 2026-11-23.")
    ] = "",
    course: Annotated[
        str, typer.Option(help="How it went, such as asked, contested, answer_late, repair_late.")
    ] = "",
    query: Annotated[str, typer.Option(help="Words, or parts of any number of it.")] = "",
    sort: Annotated[
        str, typer.Option(help="Column to sort by, such as vendor_name; -due_at for downwards.")
    ] = "",
    most: Annotated[int | None, typer.Option(min=1, help="Maximum number; default: all.")] = None,
    out: show.ListOut = None,
    json: show.Json = False,
) -> None:
    """List packets, newest first or by another column.

    Example: `sealpacket packet list --open --vendor ovenbird --sort turn_since`
    """
    which: dict[str, Any] = {
        "life": life, "turn": turn, "need": need, "attention": attention, "severity": severity, "asset": asset,
        "product": product, "vendor": vendor, "site": site, "contract": contract, "login": login, "owner": owner,
        "unowned": unowned, "open": is_open, "ticket": ticket, "our_reference": reference, "query": query,
        "updated_since": _moment(since) if since else None, "created_since": _moment(created) if created else None,
        "due_before": _moment(due) if due else None, "course": course,
        "lodged_since": _moment(lodged) if lodged else None, "settled_since": _moment(settled) if settled else None,
    }  # fmt: skip
    with session.client() as client:
        if out is not None:
            client.packets.export(out, show.form_of(out), sort=sort, **which)
            show.line(f"Written to {out}.")
            return
        found = client.packets.list(sort=sort, most=most, **which)
    if json:
        show.as_json(found)
        return
    show.table(
        (
            "Packet",
            "Title",
            "Vendor",
            "Site",
            "Severity",
            "Owner",
            "Turn",
            "Since",
            "State",
            "Reference",
        ),
        (
            (
                p.number,
                p.title,
                p.vendor,
                p.asset.site if p.asset else "",
                p.severity,
                p.owner,
                p.turn,
                show.day(p.turn_since),
                p.life,
                p.reference,
            )
            for p in found
        ),
        nothing="No packets. Note one: sealpacket packet note “what happened”",
    )


@app.command("count")
def count_packets(
    by: Annotated[CountedBy, typer.Option(help="By what they are counted.")] = "vendor",
    json: show.Json = False,
) -> None:
    """Count open packets by what they are about, or by who looks after them."""
    with session.client() as client:
        found = client.packets.count(by)
    if json:
        show.as_json(found)
        return
    show.table(
        (by.capitalize(), ">Open"),
        ((one.handle or "nobody", one.packets) for one in found),
        nothing="No packet is open.",
    )


@app.command()
def note(
    title: Annotated[str, typer.Argument(help="Title: what happened, in a line.")] = "",
    text: Annotated[
        str, typer.Option("--text", help="Symptoms, since when, and what changed.")
    ] = "",
    need: show.Need = "fault",
    asset: Annotated[str | None, typer.Option(help="Serial or id, if known.")] = None,
    began: Annotated[str, typer.Option(help="When it began: 2026-11-23T08:40.")] = "",
    ticket: Annotated[str, typer.Option(help="Its number at our own service desk.")] = "",
    reference: Annotated[
        str, typer.Option(help="Its name in a system of ours, such as an alert; unique for good.")
    ] = "",
    screenshot: Annotated[
        list[str] | None,
        typer.Option(
            help="A picture: a file, - for standard input, or now to take one by SEALPACKET_SCREENSHOT."
        ),
    ] = None,
    context: Annotated[
        Path | None,
        typer.Option(exists=True, dir_okay=False, help="A program's context, as JSON."),
    ] = None,
    json: show.Json = False,
) -> None:
    """Note what happened and start a packet.

    SEALPACKET_SCREENSHOT is a command that writes a picture of the screen to standard output.

    Example: `sealpacket packet note "Volumes on the array are slow" --asset TN9-44120-A --screenshot now`
    """
    if not title and context is None:
        raise ClientError("The title is missing.", "Say in a line what happened.")
    with taken_pictures(screenshot or []) as pictures, session.client() as client:
        if context is not None:
            known = {"our_reference": reference} if reference else {}
            packet = client.packets.note_context({**read_context(context), **known})
            given = {"title": title, "note": text, "asset": asset, "ticket": ticket}
            changed: dict[str, Any] = {name: value for name, value in given.items() if value}
            packet = client.packets.change(packet.number, **changed) if changed else packet
        else:
            packet = client.packets.note(
                title,
                text,
                need=need,
                asset=asset,
                began_at=_moment(began) if began else None,
                ticket=ticket,
                our_reference=reference,
            )
        for picture in pictures:
            client.exhibits.add(packet.number, picture)
        packet = client.packets.get(packet.number) if pictures else packet
        if json:
            show.as_json(packet)
            return
        tell_packet(packet)
        tell_reports(client, packet.number)
    if packet.began_read is not None:
        at = packet.began_read.at.isoformat(timespec="minutes")
        show.line(
            f"“{packet.began_read.words}”: say sealpacket packet change {packet.number} --began {at}",
            "dim",
        )


@app.command("tried")
def note_tried(
    number: Number,
    step: Annotated[str, typer.Argument(help="The step that was tried.")],
    result: Annotated[str, typer.Option(help="Its result.")] = "",
    at: Annotated[str, typer.Option(help="When, such as 2026-11-23T08:40; default: now.")] = "",
    exhibit: Annotated[str, typer.Option(help="The exhibit that shows it.")] = "",
    if_version: IfVersion = None,
) -> None:
    """Note a step that was tried on a packet's asset. It is kept with the asset and shown in its packets.

    Example: `sealpacket packet tried P-0012 "Switched it off and on" --result "The reader stays dark"`
    """
    with session.client() as client:
        one = client.packets.tried(
            number,
            step,
            result,
            at=_moment(at) if at else None,
            exhibit=exhibit,
            version=if_version,
        )
    show.line(f"{show.moment(one.at)}  {one.step}: {one.result or 'nothing noted'}")


def _moment(text: str) -> datetime:
    """A typed date and time; without an offset, in this machine's zone."""
    return moment(text, datetime.now().astimezone().tzinfo or UTC)


@app.command("show")
def show_packet(
    number: Number,
    in_clear: Annotated[
        str,
        typer.Option(help="Reason for reading placeholders in clear, for the custody log."),
    ] = "",
    json: show.Json = False,
) -> None:
    """Show a packet with its answers, exhibits and checks."""
    with session.client() as client:
        packet = client.packets.get(number)
        clear = {}
        if in_clear:
            legend = client.exhibits.open_legend(number, reason=in_clear)
            clear = {one.id: one.text for one in legend.messages}
        if json:
            show.as_json(packet)
            return
        tell_packet(packet, clear)
        tell_reports(client, number)


@app.command()
def change(
    number: Number,
    title: Annotated[str | None, typer.Option()] = None,
    text: Annotated[str | None, typer.Option("--text")] = None,
    need: Annotated[str | None, typer.Option()] = None,
    asset: Annotated[str | None, typer.Option(help="Serial or id.")] = None,
    login: Annotated[str | None, typer.Option(help="Vendor login that sends it.")] = None,
    desk: Annotated[
        str | None, typer.Option(help="Key of another desk of the vendor, or of its desk by hand.")
    ] = None,
    began: Annotated[str | None, typer.Option(help="When it began: 2026-11-23T08:40.")] = None,
    ticket: Annotated[str | None, typer.Option(help="Its number at our service desk.")] = None,
    if_version: IfVersion = None,
) -> None:
    """Change a draft's title, note, need, asset, login, desk, ticket or when it began."""
    began_at = _moment(began).isoformat() if began else None
    wanted = {"title": title, "note": text, "need": need, "asset": asset, "login": login}
    wanted |= {"began_at": began_at, "ticket": ticket, "desk": desk}
    fields: dict[str, Any] = {name: value for name, value in wanted.items() if value is not None}
    if not fields:
        raise ClientError(
            "Nothing to change was given.",
            "Give --title, --text, --need, --asset, --login, --desk, --ticket or --began.",
        )
    with session.client() as client:
        tell_packet(client.packets.change(number, **fields, version=if_version))


@app.command("similar")
def similar(
    number: Annotated[str, typer.Argument(help="A draft; or use --title.")] = "",
    title: Annotated[str, typer.Option(help="Title: what happened, in a line.")] = "",
    text: Annotated[str, typer.Option("--text", help="Symptoms.")] = "",
    asset: Annotated[str | None, typer.Option(help="Serial or id.")] = None,
    json: show.Json = False,
) -> None:
    """Show similar cases: open packets on the same asset, solved ones, and articles.

    Example: `sealpacket packet similar P-0012`
    """
    if not number and not title:
        raise ClientError("Nothing to compare was given.", "Name a draft, or say --title.")
    with session.client() as client:
        found = client.packets.similar(title, text, asset=asset, number=number)
    if json:
        show.as_json(found)
        return
    _tell_similar(found)


def _tell_similar(found: Similar) -> None:
    named = [
        f"{one.asset.serial}  {one.asset.name or one.asset.product}, {one.asset.site or 'no site'} "
        f"({', '.join(one.because)})"
        for one in found.named
    ]
    open_ones = [f"{o.number}  {o.title}, {o.life}, noted by {o.noted_by}" for o in found.open]
    solved = [
        f"{one.number}  {one.title} (same {', '.join(one.same)})\n    {one.cure}".rstrip()
        for one in found.solved
    ]
    articles = [
        f"{one.key}  {one.title}, {one.written_on}\n    {one.excerpt}" for one in found.articles
    ]
    parts = {
        "It may be about": named, "Open on the same thing": open_ones, "Seen before": solved,
        "Written down": articles,
    }  # fmt: skip
    for title, lines in parts.items():
        if lines:
            show.heading(title)
            for line in lines:
                show.line(line)
    if not any(parts.values()):
        show.line("Nothing like it is known.")


@app.command("solved")
def end_as_solved(
    number: Number,
    by: Annotated[str, typer.Option(help="The packet that solved it.")] = "",
    article: Annotated[str, typer.Option(help="The article that solved it.")] = "",
    if_version: IfVersion = None,
) -> None:
    """End a draft that a packet or an article has solved.

    Example: `sealpacket packet solved P-0012 --by P-0002`
    """
    with session.client() as client:
        tell_packet(
            client.packets.end_as_solved(number, packet=by, article=article, version=if_version)
        )


@app.command("unlisted")
def name_unlisted(
    number: Number,
    vendor: Annotated[str, typer.Option(help="Vendor name.")],
    model: Annotated[str, typer.Option(help="Model, if known.")] = "",
    serial: Annotated[str, typer.Option(help="Serial, if known.")] = "",
    name: Annotated[str, typer.Option(help="Your name for it.")] = "",
    site: Annotated[str, typer.Option(help="Site key.")] = "",
    if_version: IfVersion = None,
) -> None:
    """Name a draft's asset that is not in the register, and add it there."""
    with session.client() as client:
        tell_packet(
            client.packets.name_unlisted(
                number,
                vendor=vendor,
                model=model,
                serial=serial,
                name=name,
                site=site,
                version=if_version,
            )
        )


@app.command()
def questions(number: Number, json: show.Json = False) -> None:
    """List the desk's questions with their answers and sources."""
    with session.client() as client:
        packet = client.packets.get(number)
    if json:
        show.as_json(packet.questions)
        return
    for question in packet.questions:
        _tell_question(question)


def _tell_question(question: QuestionShown) -> None:
    answer = question.answer
    mark = "●" if answer.value else ("○" if answer.required else "·")
    source = "typed" if answer.typed else (f"from {answer.source}" if answer.source else "")
    show.heading(f"{mark} {question.ask}", f"{question.id}  {source}")
    if answer.because:
        show.line(f"  asked because {answer.because}", "dim")
    if question.wording:
        show.line(f"  {question.wording}", "dim")
    if answer.value:
        show.line("  " + answer.value.replace("\n", "\n  "))
    else:
        _tell_help(question)


def _tell_help(question: QuestionShown) -> None:
    """Help for a question: guide, columns, example, earlier answers, choices."""
    if question.guide:
        show.line(f"  {question.guide}", "dim")
    if question.columns:
        show.line("  a line each: " + " | ".join(column.id for column in question.columns), "dim")
    if question.example:
        show.line(f"  such as {question.example}", "dim")
    for one in question.suggested:
        show.line(f"  suggested: {one.value} ({one.why})", "dim")
    for choice in question.choices or ():
        show.line(f"  {choice.path:24} {' › '.join([*choice.above, choice.label])}", "dim")


@app.command()
def answer(
    number: Number,
    answers: Annotated[
        list[str], typer.Argument(help="QUESTION=VALUE; QUESTION= resets to the register's value.")
    ],
    if_version: IfVersion = None,
) -> None:
    """Answer the desk's questions.

    Example: `sealpacket packet answer P-0001 severity=2 category=volume/latency "impact=Search in all branches"`
    """
    given: dict[str, str | None] = {}
    for item in answers:
        name, sign, value = item.partition("=")
        if not sign:
            raise ClientError(f"“{item}” is not QUESTION=VALUE.", "Write it as severity=2")
        given[name] = value or None
    with session.client() as client:
        show_checks(client.packets.answer(number, if_version, **given))


@app.command()
def ruling(number: Number, json: show.Json = False) -> None:
    """Show which entitlement serves this packet, and why the others do not."""
    with session.client() as client:
        packet = client.packets.get(number)
    if packet.ruling is None:
        raise ClientError(
            f"{packet.number} has no asset yet.",
            f"Name it: sealpacket packet change {number} --asset …",
        )
    show.as_json(packet.ruling) if json else show_ruling(packet.ruling)


@app.command()
def checks(number: Number, json: show.Json = False) -> None:
    """List the checks. Exits with 3 if one of them stops the packet."""
    with session.client() as client:
        packet = client.packets.get(number)
    if json:
        show.as_json(packet.checks)
    else:
        show_checks(packet)
    if any(check.level == "stop" for check in packet.checks):
        raise typer.Exit(3)


@app.command()
def sheet(
    number: Number,
    bring_along: Annotated[
        bool, typer.Option("--bring-along", help="Move the draft to the newer sheet.")
    ] = False,
    json: show.Json = False,
    if_version: IfVersion = None,
) -> None:
    """Show what the desk's newer sheet would change for a draft, or move the draft to it."""
    with session.client() as client:
        changes = client.packets.sheet_changes(number)
        if bring_along:
            client.packets.bring_along(number, version=if_version)
    if json:
        show.as_json(changes)
        return
    for one in changes.differences:
        lost = f" “{one.answer}”" if one.answer else ""
        show.line(
            f"  {one.sentence}{lost}", show.LEVEL_STYLES["stop"] if one.what == "dropped" else ""
        )
    done = "It is one of" if bring_along else "It can be brought along to"
    show.line(f"{number} was made with version {changes.have}. {done} version {changes.newest}.")
