"""Diagnostic kits: looked at and run on this machine, offline; kept in the house and run by its worker."""

from __future__ import annotations

import getpass
import json as jsonlib
import os
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import Number
from sealpacket.client import ClientError, Refused

if TYPE_CHECKING:
    from sealpacket.client import SealPacket
    from sealpacket.client.models import KitFinding, KitOffered, KitRunShown
    from sealpacket.core.evidence.kits import Finding, Kit, Outcome, Step

app = typer.Typer(no_args_is_help=True, help="Diagnostic kits: collect evidence from assets.")

KitName = Annotated[str, typer.Argument(help="The kit's name.")]
KitFile = Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="A kit, as YAML.")]
_STYLES = {"got": "green", "empty": "yellow", "failed": "red", "too old": "yellow", "cut": "yellow"}


@app.command("lint")
def lint_kits(
    files: Annotated[
        list[Path], typer.Argument(exists=True, dir_okay=False, help="Kits, as YAML.")
    ],
) -> None:
    """Check that kits are valid and read-only."""
    from sealpacket.core.evidence.kits import lint, read_kit_file

    stops = 0
    for path in files:
        findings = lint(read_kit_file(path))
        stops += sum(one.level == "stop" for one in findings)
        if not findings:
            show.line(f"{path}: no findings.")
        for one in findings:
            show.line(f"{path}: {one.sentence} {one.remedy}.", show.LEVEL_STYLES[one.level])
    if stops:
        raise typer.Exit(1)


@app.command("show")
def show_kit(
    file: KitFile,
    target: Annotated[str, typer.Option(help="The device's host name or address.")] = "",
) -> None:
    """Show exactly what a kit would run."""
    from sealpacket.core.evidence.kits import read_kit_file

    _show(read_kit_file(file), target)


def _show(kit: Kit, target: str) -> None:
    show.heading(kit.title, ", ".join(kit.models))
    for step in kit.steps:
        seconds = step.time.total_seconds()
        _show_step(step.id, step.what, step.shown(target), seconds, step.size, step.secret)


def _show_step(ident: str, what: str, does: str, seconds: float, octets: int, secret: str) -> None:
    show.line(f"{ident}: {what}")
    show.line(f"    {does}")
    needs = f", with the secret {secret}" if secret else ""
    show.line(f"    at most {seconds:g} s and {show.size(octets)}{needs}", "dim")


@app.command("run")
def run_kit_here(
    file: KitFile,
    out: Annotated[Path, typer.Option("--out", help="New folder for the collected files.")],
    target: Annotated[str, typer.Option(help="The device's host name or address.")] = "",
    port: Annotated[int, typer.Option(min=1, max=65535, help="Its SSH port.")] = 22,
    user: Annotated[str, typer.Option(help="User name; default: the kit's.")] = "",
    known_hosts: Annotated[
        Path | None, typer.Option(help="Known host keys (OpenSSH); default: yours.")
    ] = None,
    ca: Annotated[
        Path | None,
        typer.Option(
            exists=True, dir_okay=False, help="A certificate authority for https, as PEM."
        ),
    ] = None,
    yes: Annotated[bool, typer.Option("--yes", help="Skip the confirmation.")] = False,
    program: Annotated[
        list[str] | None,
        typer.Option(help="Program that you have checked to be read-only; may be repeated."),
    ] = None,
    json: show.Json = False,
) -> None:
    """Run a kit from this machine, and save what it collects in a folder. Asks first, and shows what it will run.

    Secrets come from the environment (SEALPACKET_SECRET_NAME) or are asked for. Add the folder to a packet later with
    `sealpacket kit attach`.

    Example: `sealpacket kit run ovenbird-switch.yaml --target kw-switch1 --out kw-switch1`
    """
    from sealpacket.collecting.access import Access
    from sealpacket.collecting.running import run_kit
    from sealpacket.core.evidence.kits import read_kit_file

    kit = read_kit_file(file)
    if not yes:
        _show(kit, target)
        _warn(kit)
        if not sys.stdin.isatty() or not typer.confirm("\nRun it?", err=True):
            raise ClientError("Nothing was run.", "Look at it, then say --yes.")
    programs = _confirmed(kit, program or [], ask=not yes)
    access = Access(
        target=target,
        port=port,
        user=user or kit.user,
        secrets=_secrets(kit),
        known_hosts=known_hosts or _own_known_hosts(),
        authorities=ca,
    )

    def begin(step: Step) -> None:
        show.progress().print(f"{step.id} …", style="dim")

    outcomes = run_kit(
        kit, out, access, confirmed_by=getpass.getuser(), programs=programs, begin=begin
    )
    if json:
        show.as_json([_as_row(one) for one in outcomes])
    else:
        _tell(kit, outcomes, out)
    needed = {step.id for step in kit.steps if not step.optional}
    if any(not one.good for one in outcomes if one.step in needed):
        raise typer.Exit(1)


def _confirmed(kit: Kit, named: list[str], *, ask: bool) -> list[str]:
    """The programs that somebody has confirmed by name; at a terminal the names are asked for."""
    from sealpacket.core.evidence.kits import unknown_programs

    left = [one for one in unknown_programs(kit) if one not in named]
    for name in left if ask else ():
        said = typer.prompt(
            f"{name} is not known to only read. Its name, if you know that it does", err=True
        )
        if said == name:
            named = [*named, name]
    return named


def _warn(kit: Kit) -> None:
    """Show what a kit would run, before it is confirmed."""
    from sealpacket.core.evidence.kits import lint

    _show_findings(lint(kit))


def _show_findings(findings: Iterable[Finding | KitFinding]) -> None:
    for one in findings:
        show.line(f"{one.sentence} {one.remedy}.", show.LEVEL_STYLES[one.level])


def _secrets(kit: Kit) -> dict[str, str]:
    """The secrets that a kit needs, from the environment or asked for."""
    found = {}
    for name, what in kit.secrets.items():
        given = os.environ.get(f"SEALPACKET_SECRET_{name.upper().replace('-', '_')}", "")
        if not given and sys.stdin.isatty():
            given = getpass.getpass(f"{name} ({what}): ")
        found[name] = given
    return found


def _own_known_hosts() -> Path | None:
    path = Path.home() / ".ssh/known_hosts"
    return path if path.exists() else None


def _as_row(one: Outcome) -> dict[str, object]:
    return {
        "step": one.step, "state": one.state, "why": one.why, "files": list(one.files),
        "octets": one.octets, "answers": one.answers,
    }  # fmt: skip


def _tell(kit: Kit, outcomes: list[Outcome], out: Path) -> None:
    for step, one in zip(kit.steps, outcomes, strict=True):
        size = show.size(one.octets) if one.octets else ""
        show.line(f"{one.state:>8}  {step.id:20} {size:>9}  {one.why}", _STYLES[one.state])
    for one in outcomes:
        for question, text in one.answers.items():
            show.line(f"It answers {question}: {text}", "dim")
    show.line(f"{out} holds what it collected, and kit.json.")


@app.command("list")
def list_kits(json: show.Json = False) -> None:
    """List the kits of the service."""
    with session.client() as client:
        found = client.kits.list()
    if json:
        show.as_json(found)
        return
    show.table(
        ("Kit", "Title", "Vendor", "Models", ">Version", ">Steps"),
        (
            (one.name, one.title, one.vendor, ", ".join(one.models), one.number, one.steps)
            for one in found
        ),
        nothing="No kits.",
    )


@app.command("get")
def get_kit(name: KitName) -> None:
    """Print a kit, to run it on another machine.

    Example: `sealpacket kit get lumenlathe-kiosk > lumenlathe-kiosk.yaml`
    """
    with session.client() as client:
        sys.stdout.write(client.kits.get(name).text)


@app.command("put")
def put_kit(file: KitFile) -> None:
    """Save a kit in the service; a changed one becomes a new version.

    Example: `sealpacket kit put ovenbird-switch.yaml`
    """
    with session.client() as client:
        kept = client.kits.put(file.read_text("utf-8", "replace"))
    show.line(f"{kept.name} kept, version {kept.number}.")
    _show_findings(kept.findings)


@app.command("retire")
def retire_kit(name: KitName) -> None:
    """Retire a kit; the evidence that it collected is kept."""
    with session.client() as client:
        client.kits.retire(name)
    show.line(f"{name} is offered no more.")


@app.command("offered")
def list_offered(number: Number, json: show.Json = False) -> None:
    """Show the kits for a packet's asset, and exactly what they would run there.

    Example: `sealpacket kit offered P-0001`
    """
    with session.client() as client:
        found = client.kits.offered(number)
    if json:
        show.as_json(found)
        return
    for one in found:
        _tell_offer(one)
    if not found:
        show.line("No kit is for this model. Keep one: sealpacket kit put")


def _tell_offer(one: KitOffered) -> None:
    show.heading(one.title, f"{one.name}, version {one.number}, {one.target or 'no device'}")
    for step in one.does:
        _show_step(step.id, step.what, step.does, step.seconds, step.octets, step.secret)
    _show_findings(one.findings)
    if one.hindrance:
        show.line(one.hindrance, "yellow")


@app.command("collect")
def collect_by_kit(
    number: Number,
    name: KitName,
    yes: Annotated[bool, typer.Option("--yes", help="Skip the confirmation.")] = False,
    wait: Annotated[bool, typer.Option(help="Wait until it has ended.")] = True,
    json: show.Json = False,
) -> None:
    """Have the worker run a kit at the packet's device. Asks first, and shows what it will run.

    Example: `sealpacket kit collect P-0001 ovenbird-switch`
    """
    with session.client() as client:
        one = next((kit for kit in client.kits.offered(number) if kit.name == name), None)
        if one is None:
            raise ClientError(
                f"{name} is not for the thing of {number}.", f"See: sealpacket kit offered {number}"
            )
        if not yes and not one.hindrance:
            _tell_offer(one)
            if not sys.stdin.isatty() or not typer.confirm("\nRun it?", err=True):
                raise ClientError("Nothing was run.", "Look at it, then say --yes.")
        run = client.kits.collect(number, name, one.number)
        if wait:
            run = client.kits.wait(number, run.id)
            client.packets.wait(number)
    if json:
        show.as_json(run)
        return
    _tell_run(run)
    if run.state == "failed":
        raise typer.Exit(1)


def _tell_run(run: KitRunShown) -> None:
    show.heading(run.title, f"{run.target}, {run.state}")
    if run.reason:
        show.line(run.reason, "red")
    for one in run.outcomes:
        size = show.size(one.octets) if one.octets else ""
        show.line(f"{one.state:>8}  {one.step:20} {size:>9}  {one.why}", _STYLES[one.state])
        for question, text in one.answers.items():
            show.line(f"          it answers {question}: {text}", "dim")


@app.command("attach")
def attach_folder(
    number: Number,
    folder: Annotated[
        Path,
        typer.Argument(exists=True, file_okay=False, help="Folder that `kit run` has written."),
    ],
) -> None:
    """Add the results of `sealpacket kit run` to a packet: the files, and the answers found in them.

    Example: `sealpacket kit attach P-0001 kw-switch1`
    """
    from sealpacket.core.evidence.kits import KEPT

    manifest = _manifest(folder)
    with session.client() as client:
        for step in manifest["steps"]:
            if step["state"] in KEPT:
                _add_step(client, number, folder, manifest["kit"], step)
        packet = client.packets.wait(number)
        open_ones = {one.id for one in packet.questions if not one.answer.typed}
        found = {
            question: text
            for step in manifest["steps"]
            for question, text in step["answers"].items()
            if question in open_ones
        }
        for question, text in found.items():
            why = _answer(client, number, question, text)
            said = (
                f"{question} stays open; it was found to be {text}. {why}"
                if why
                else f"It answers {question}: {text}"
            )
            show.line(said, "dim")


def _answer(client: SealPacket, number: str, question: str, text: str) -> str:
    """Answer with what a device said; why not, if that is not what the desk asks for."""
    try:
        packet = client.packets.answer(number, **{question: text})
    except Refused as refusal:
        return refusal.detail
    fault = next((one.fault for one in packet.questions if one.id == question), None)
    if fault:
        client.packets.answer(number, **{question: None})
    return fault or ""


def _manifest(folder: Path) -> dict[str, Any]:
    path = folder / "kit.json"
    try:
        found = jsonlib.loads(path.read_text())
        if isinstance(found["kit"], str) and isinstance(found["steps"], list):
            return dict(found)
    except (OSError, ValueError, KeyError, TypeError):
        pass
    raise ClientError(f"{folder} was not made by sealpacket kit run.", "Name such a folder.")


def _add_step(
    client: SealPacket, number: str, folder: Path, kit: str, step: dict[str, Any]
) -> None:
    by = {"kit": kit, "step": step["step"], "state": step["state"]}
    for name in step["files"]:
        path = next((p for p in (folder / name, folder / step["step"] / name) if p.is_file()), None)
        if path is not None and path.stat().st_size:
            client.exhibits.add(number, path, collected=by)
            show.line(f"{step['state']:>8}  {name}", _STYLES[step["state"]])
