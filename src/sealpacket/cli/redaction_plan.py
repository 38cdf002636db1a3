"""The organisation's redaction plan."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from sealpacket.cli import session, show

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
    show.out.print(plan.yaml, highlight=False)
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
