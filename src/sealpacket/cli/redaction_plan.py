"""The organisation's redaction plan."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.client import models

plan_app = typer.Typer(no_args_is_help=True, help="The organisation's redaction plan.")


@plan_app.command("show")
def show_plan(
    json: show.Json = False,
    yaml: Annotated[bool, typer.Option(help="Print only the plan, for editing.")] = False,
) -> None:
    """Show the organisation's redaction plan: what is kept and masked in every packet."""
    with session.client() as client:
        plan = client.redaction_plan()
    if json:
        show.as_json(plan)
        return
    if yaml:
        typer.echo(plan.yaml, nl=False)
        return
    show.heading(
        f"Redaction plan, version {plan.number}",
        f"{plan.by} {show.moment(plan.at)}" if plan.at else "",
    )
    show.out().print(plan.yaml, highlight=False)
    show.line(f"Never kept, whatever is said: {', '.join(plan.floor)}.")


@plan_app.command("put")
def put_plan(
    file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="The plan in YAML.")],
) -> None:
    """Put a new version of the redaction plan.

    Example: `sealpacket redaction-plan show --yaml > plan.yaml`, change it, `sealpacket redaction-plan put plan.yaml`
    """
    with session.client() as client:
        plan = client.put_redaction_plan(file.read_text("utf-8"), client.redaction_plan().number)
    show.line(f"The redaction plan has version {plan.number}.")


@plan_app.command("try")
def try_rules(
    file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="Rules in TOML.")],
    on: Annotated[
        Path | None,
        typer.Option(exists=True, dir_okay=False, help="Text file to try them on."),
    ] = None,
    json: show.Json = False,
) -> None:
    """Show what rules would find, without keeping them.

    Example: `sealpacket redaction-plan try cards.toml --on app.log`
    """
    sample = on.read_bytes().decode("utf-8", "replace") if on else ""
    with session.client() as client:
        tried = client.try_redaction_rules(file.read_text("utf-8"), sample)
    if json:
        show.as_json(tried)
    else:
        for rule in tried.rules:
            _show_tried(rule, on)
    if any(rule.faults for rule in tried.rules):
        raise typer.Exit(1)


def _show_tried(rule: models.RuleTried, on: Path | None) -> None:
    show.heading(rule.rule)
    for fault in rule.faults:
        show.line(f"✗ {fault}")
    if rule.faults:
        return
    show.line("✓ It finds what its match shows and nothing in its leave.")
    if on:
        show.line(f"{rule.values} found in {on.name}:" if rule.values else f"Nothing in {on.name}.")
    for line in rule.lines:
        show.line(f"  {line.number:>5}  {line.text}")
    show.line(
        f"In the frozen files: {rule.frozen_values} marked values, and {rule.frozen_others} other places."
    )
