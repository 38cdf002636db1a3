"""Diagnostic kits: looked at, and run on this machine, offline."""

from __future__ import annotations

import getpass
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import show
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.core.evidence.kits import Kit, Outcome, Step

app = typer.Typer(
    no_args_is_help=True, help="Diagnostic kits: what to collect from a thing, offline."
)

KitFile = Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="A kit, as YAML.")]
_STYLES = {"got": "green", "empty": "yellow", "failed": "red", "too old": "yellow", "cut": "yellow"}


@app.command("lint")
def lint_kits(
    files: Annotated[
        list[Path], typer.Argument(exists=True, dir_okay=False, help="Kits, as YAML.")
    ],
) -> None:
    """Check kits: their words, and that they only read."""
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
        limits = f"at most {step.time.total_seconds():g} s and {show.size(step.size)}"
        secret = f", with the secret {step.secret}" if step.secret else ""
        show.line(f"{step.id}: {step.what}")
        show.line(f"    {step.shown(target)}")
        show.line(f"    {limits}{secret}", "dim")


@app.command("run")
def run_kit_here(
    file: KitFile,
    out: Annotated[Path, typer.Option("--out", help="A new folder for what it collects.")],
    target: Annotated[str, typer.Option(help="The device's host name or address.")] = "",
    port: Annotated[int, typer.Option(min=1, max=65535, help="Its SSH port.")] = 22,
    user: Annotated[str, typer.Option(help="The user there; else the kit's.")] = "",
    known_hosts: Annotated[
        Path | None, typer.Option(help="Known host keys (OpenSSH); else yours.")
    ] = None,
    ca: Annotated[
        Path | None,
        typer.Option(
            exists=True, dir_okay=False, help="A certificate authority for https, as PEM."
        ),
    ] = None,
    yes: Annotated[
        bool, typer.Option("--yes", help="You have seen what it runs; do not ask.")
    ] = False,
    json: show.Json = False,
) -> None:
    """Run a kit from this machine, and keep what it collects in a folder. Asks first, and shows what it will run.

    Secrets come from the environment (SEALPACKET_SECRET_NAME) or are asked for. Attach the folder's files later with
    `sealpacket exhibit add`.

    Example: `sealpacket kit run ovenbird-switch.yaml --target kw-switch1 --out kw-switch1`
    """
    from sealpacket.collecting import Access, run_kit
    from sealpacket.core.evidence.kits import read_kit_file

    kit = read_kit_file(file)
    if not yes:
        _show(kit, target)
        if not sys.stdin.isatty() or not typer.confirm("\nRun it?", err=True):
            raise ClientError("Nothing was run.", "Look at it, then say --yes.")
    access = Access(
        target, port, user or kit.user, _secrets(kit), known_hosts or _own_known_hosts(), ca
    )

    def begin(step: Step) -> None:
        show.errors.print(f"{step.id} …", style="dim")

    outcomes = run_kit(kit, out, access, confirmed_by=getpass.getuser(), begin=begin)
    if json:
        show.as_json([_as_row(one) for one in outcomes])
    else:
        _tell(kit, outcomes, out)
    needed = {step.id for step in kit.steps if not step.optional}
    if any(not one.good for one in outcomes if one.step in needed):
        raise typer.Exit(1)


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
