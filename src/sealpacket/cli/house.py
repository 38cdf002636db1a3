"""Signing in, today, finding, desks and the custody log."""

from __future__ import annotations

import os
import sys
from pathlib import Path
from typing import Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.client import ClientError

desk_app = typer.Typer(no_args_is_help=True, help="Desks and their sheets.")
plan_app = typer.Typer(no_args_is_help=True, help="The organisation's redaction plan.")
custody_app = typer.Typer(no_args_is_help=True, help="The custody log: who did what.")


def add(app: typer.Typer) -> None:
    """Register the commands of this module."""
    app.command("sign-in")(sign_in)
    app.command("sign-out")(sign_out)
    app.command("today")(today)
    app.command("find")(find)
    app.command("seal-keys")(seal_keys)


def sign_in(
    address: Annotated[str, typer.Argument(help="Of the service, such as http://127.0.0.1:8400.")],
    name: Annotated[str, typer.Argument(help="Of your account.")],
    read_only: Annotated[bool, typer.Option("--read-only", help="The token may only read.")] = False,
) -> None:
    """Sign in and keep a token for this user.

    The password is asked for, or read from standard input: `sealpacket sign-in http://127.0.0.1:8400 marit < file`
    """
    from sealpacket.client import SealPacket, make_token

    typed = sys.stdin.isatty()
    password = typer.prompt("Password", hide_input=True) if typed else sys.stdin.readline().rstrip("\n")
    token = make_token(
        address, name, password, f"command line of {os.environ.get('USER', 'unknown')}", read_only=read_only
    )
    with SealPacket(address, token.token) as house:
        key = house.seal_keys().model_dump_json()
        me = house.me()
    session.keep(address, token.token, key)
    show.line(f"Signed in as {me.person}: {', '.join(me.roles)}. The token ends on {show.moment(token.expires_at)}.")


def sign_out() -> None:
    """End the token and forget it."""
    with session.house() as house:
        house.sign_out()
    session.forget()
    show.line("Signed out.")


def today(json: show.Json = False) -> None:
    """What needs us now, before all else."""
    with session.house() as house:
        found = house.today()
    if json:
        show.as_json(found)
        return
    show.heading(found.day.strftime("%A, %-d %B"), f"{len(found.ours)} wait for us, {len(found.theirs)} for vendors")
    if not found.worker:
        seen = f" It was seen last on {show.moment(found.worker_seen_at)}." if found.worker_seen_at else ""
        show.line(f"The worker is not running: nothing is redacted, sent or followed.{seen}", "bold red")
        show.line("Start it: sealpacket-service work", "yellow")
    for title, packets in (("Our turn", found.ours), ("Their turn", found.theirs)):
        show.heading(title)
        show.table(("", "", ""), ((p.number, p.title, f"{p.life} · {p.words}") for p in packets), nothing="Nothing.")
    show.heading("Ending soon")
    show.table(
        ("Contract", "Vendor", "What", ">Ends in", "Notice by"),
        ((e.contract, e.vendor, e.title, f"{e.days} d", e.notice_on) for e in found.ending),
        nothing="Nothing ends within 90 days.",
    )


def find(
    query: Annotated[list[str], typer.Argument(help="Serial, model, host name, site, words.")], json: show.Json = False
) -> None:
    """Find assets and packets by whatever is known.

    Example: `sealpacket find array book store`
    """
    with session.house() as house:
        found = house.find(" ".join(query))
    if json:
        show.as_json(found)
        return
    if found.assets or not found.packets:
        show.table(
            ("Serial", "What", "Model", "Site", "Vendor"),
            ((a.serial, a.name, a.product_name, a.site_name, a.vendor_name) for a in found.assets),
            nothing="No asset and no packet is like this.",
        )
    if found.packets:
        rows = ((p.number, p.title, p.life, p.reference) for p in found.packets)
        show.table(("Packet", "Title", "State", "Reference"), rows, nothing="")


def seal_keys() -> None:
    """The public seal keys, a JSON Web Key Set; whoever has it can verify bags."""
    with session.house() as house:
        show.as_json(house.seal_keys())


@desk_app.command("list")
def list_desks(json: show.Json = False) -> None:
    """All desks."""
    with session.house() as house:
        desks = house.desks()
    if json:
        show.as_json(desks)
        return
    show.table(
        ("Desk", "Name", "Vendor", ">Sheet", "Address"),
        ((d.key, d.name, d.vendor, d.version, "configured" if d.reachable else "none configured") for d in desks),
        nothing="There is no desk yet. Add one: sealpacket desk put FILE",
    )


@plan_app.command("show")
def show_plan(
    json: show.Json = False, yaml: Annotated[bool, typer.Option(help="Only the plan, to change and put back.")] = False
) -> None:
    """The organisation's redaction plan: what is kept and masked in every packet."""
    with session.house() as house:
        plan = house.redaction_plan()
    if json:
        show.as_json(plan)
        return
    if yaml:
        typer.echo(plan.yaml, nl=False)
        return
    show.heading(f"Redaction plan, version {plan.number}", f"{plan.by} {show.moment(plan.at)}" if plan.at else "")
    show.out.print(plan.yaml, markup=False, highlight=False)
    show.line(f"Never kept, whatever is said: {', '.join(plan.floor)}.")


@plan_app.command("put")
def put_plan(file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="The plan in YAML.")]) -> None:
    """Put a new version of the redaction plan.

    Example: `sealpacket redaction-plan show --yaml > plan.yaml`, change it, `sealpacket redaction-plan put plan.yaml`
    """
    with session.house() as house:
        plan = house.put_redaction_plan(file.read_text("utf-8"), house.redaction_plan().number)
    show.line(f"The redaction plan has version {plan.number}.")


@desk_app.command("put")
def put_desk(file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="The sheet in YAML.")]) -> None:
    """Give a desk its sheet; a changed one becomes a new version."""
    with session.house() as house:
        desk = house.put_sheet(file.read_text("utf-8"))
    show.line(f"{desk.name} has version {desk.version} of its sheet.")


@desk_app.command("lint")
def lint_desk(
    files: Annotated[list[Path], typer.Argument(exists=True, dir_okay=False, help="Sheets in YAML.")],
    json: show.Json = False,
) -> None:
    """Check desk sheets while writing them; needs no service.

    Example: `sealpacket desk lint ovenbird-support.yaml`

    Ends with 3 if a sheet cannot be used as it is.
    """
    from sealpacket.core.sheets import lint

    stops = 0
    found = {}
    for file in files:
        found[str(file)] = lint(file.read_text("utf-8", errors="replace"))[1]
        stops += sum(finding.level == "stop" for finding in found[str(file)])
    if json:
        show.as_json({file: [finding.model_dump() for finding in told] for file, told in found.items()})
    else:
        for file, told in found.items():
            for finding in told:
                place = f" {finding.place}" if finding.place else ""
                words = f"{file}:{finding.line}: {finding.level}{place}: {finding.sentence}"
                show.line(words, show.LEVEL_STYLES[finding.level])
            if not told:
                show.line(f"{file}: nothing to mend.")
    if stops:
        raise typer.Exit(3)


@desk_app.command("preview")
def preview_desk(
    file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="The sheet in YAML.")],
    seed: Annotated[int, typer.Option(help="Another seed makes another packet.")] = 0,
    need: Annotated[str, typer.Option(help="The kind of need; the first that the desk takes.")] = "",
    json: show.Json = False,
) -> None:
    """Show what a sheet makes of a sample packet: its questions answered, and what would be written. Needs no service.

    Example: `sealpacket desk preview ovenbird-support.yaml --seed 3`
    """
    from sealpacket.core.sheets import has_stops, lint, sample_packet, say_size, write_case

    sheet, found = lint(file.read_text("utf-8", errors="replace"))
    if sheet is None or has_stops(found):
        raise ClientError(f"{file} cannot be used as it is.", f"See why: sealpacket desk lint {file}")
    kind = sheet.kind(need) or sheet.kinds[0]
    sample = sample_packet(sheet, seed, {"packet.need": kind.need, "ruling.route": kind.routes[0]})
    if json:
        show.as_json([case.body for case in sample.cases] if len(sample.cases) > 1 else sample.body)
        return
    show.heading(sheet.name, f"{sheet.send.channel}, {sample.typed} of its questions answered by hand")
    show.table(
        ("Question", "Answer", "From"),
        ((a.question, a.value, "by hand" if a.typed else a.source) for a in sample.answers if a.shown and a.value),
        nothing="It asks nothing.",
    )
    for case in sample.cases:
        show.heading(f"What is written {case.label}".rstrip(), sheet.write.form)
        written = write_case(sheet, case)
        show.line(written.text)
        if written.documents:
            show.line("Documents: " + ", ".join(f"{n}, {say_size(len(c))}" for n, c in written.documents.items()))


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
    with session.house() as house:
        trial = house.try_sheet(file.read_text("utf-8"), asset, need=need, seed=seed)
    if json:
        show.as_json(trial)
    else:
        show.line(f"{trial.words} {trial.reference or ''}".rstrip())
        for reason in trial.refusals:
            show.line(f"{reason.code}: {reason.text}", show.LEVEL_STYLES["stop"])
        show.as_json(trial.sent)
    if trial.refusals:
        raise typer.Exit(3)


@desk_app.command("show")
def show_desk(key: Annotated[str, typer.Argument(help="The desk's key.")]) -> None:
    """The newest sheet of a desk as it was written, to be kept as a file, changed and put again."""
    with session.house() as house:
        typer.echo(house.desk(key).yaml, nl=False)


@custody_app.command("list")
def list_custody(
    subject: Annotated[str, typer.Option(help="Such as “packet P-0001”.")] = "",
    most: Annotated[int, typer.Option(help="How many.")] = 30,
    json: show.Json = False,
) -> None:
    """Who did what, newest first."""
    with session.house() as house:
        entries = house.custody(subject, limit=most)
    if json:
        show.as_json(entries)
        return
    show.table(
        (">No.", "When", "Who", "What", "About"),
        ((e.seq, show.moment(e.at), e.actor, e.action, e.subject) for e in entries),
        nothing="Nothing is written there.",
    )


@custody_app.command("verify")
def verify_custody(json: show.Json = False) -> None:
    """Verify the whole log. Ends with 4 if it was tampered with."""
    with session.house() as house:
        chain = house.verify_custody()
    if json:
        show.as_json(chain)
    elif chain.holds:
        show.line(f"The log is whole: {chain.entries} entries, the last {chain.last_hash}.")
    else:
        show.errors.print(f"The log is broken at entry {chain.broken_at}: {chain.reason}.", style="bold red")
    if not chain.holds:
        raise typer.Exit(4)
