"""Known issues that logs are searched for."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from sealpacket.cli import session, show

app = typer.Typer(no_args_is_help=True, help="Known issues that logs are searched for.")


@app.command("list")
def list_known_issues(json: show.Json = False) -> None:
    """List known issues."""
    with session.client() as client:
        found = client.known_issues.list()
    if json:
        show.as_json(found)
        return
    show.table(
        ("Key", "Title", "Pattern", "Fixed in", "From"),
        ((one.key, one.title, one.pattern, one.fixed_in, one.packet) for one in found),
        nothing="No known issues.",
    )


@app.command("put")
def put_known_issue(
    file: Annotated[
        Path, typer.Argument(exists=True, dir_okay=False, help="One or several, as YAML.")
    ],
    packet: Annotated[
        str, typer.Option("--from", help="The settled packet that it comes from.")
    ] = "",
) -> None:
    """Save known issues under their keys: title, pattern, meaning, advice, fixed_in, link, vendor, models.

    Logs that are added from now on are searched for them.

    Example: `sealpacket known put mirror-link.yaml --from P-0002`
    """
    from sealpacket.core.evidence.summary import read_known_file

    issues = read_known_file(file)
    with session.client() as client:
        for issue in issues:
            fields = issue.model_dump(exclude={"key", "title", "pattern"})
            client.known_issues.put(
                issue.key, title=issue.title, pattern=issue.pattern, packet=packet, **fields
            )
            show.line(f"{issue.key} kept.")


@app.command("remove")
def remove_known_issue(key: Annotated[str, typer.Argument(help="Its key.")]) -> None:
    """Delete a known issue."""
    with session.client() as client:
        client.known_issues.remove(key)
    show.line(f"{key} removed.")
