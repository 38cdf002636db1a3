"""Two people: the rules by which a packet needs a second one."""

from __future__ import annotations

from typing import Annotated

import typer

from sealpacket.cli import session, show

app = typer.Typer(
    no_args_is_help=True, help="When whoever seals a packet must not have prepared it."
)


@app.command("list")
def list_rules(json: show.Json = False) -> None:
    """List release rules."""
    with session.client() as client:
        found = client.release_rules.list()
    if json:
        show.as_json(found)
        return
    show.table(
        ("Vendor", "Severity", "Kind of value", "Reason", "Id"),
        (
            (one.vendor or "any", one.severity or "any", one.kind or "any", one.reason, one.id)
            for one in found
        ),
        nothing="No rules: one person may prepare and seal.",
    )


@app.command("add")
def add_rule(
    reason: Annotated[str, typer.Argument(help="The reason, shown to whoever seals.")],
    vendor: Annotated[str | None, typer.Option(help="Vendor key; default: any.")] = None,
    severity: Annotated[
        str | None, typer.Option(help="The severity as its desk calls it; default: any.")
    ] = None,
    kind: Annotated[
        str | None, typer.Option(help="A kind of sensitive value in it; default: any or none.")
    ] = None,
) -> None:
    """Add a rule. Packets to which all that is given applies need a second person.

    Example: `sealpacket release-rule add "Severity 1 has four eyes" --severity 1`
    """
    with session.client() as client:
        made = client.release_rules.add(reason, vendor=vendor, severity=severity, kind=kind)
    show.line(f"Rule {made.id} is added.")


@app.command("remove")
def remove_rule(
    ident: Annotated[str, typer.Argument(help="Rule id, or its beginning.")],
) -> None:
    """Remove a rule."""
    with session.client() as client:
        rules = client.release_rules.list()
        client.release_rules.remove(session.whole_id(ident, rules, "release-rule"))
    show.line("The rule is removed.")
