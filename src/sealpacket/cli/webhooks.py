"""Webhooks on the command line: addresses to which events are posted."""

from __future__ import annotations

from typing import Annotated

import typer

from sealpacket.cli import session, show

app = typer.Typer(
    no_args_is_help=True, help="Addresses of yours to which events are posted, signed. For admins."
)

Name = Annotated[str, typer.Argument(help="Its name, such as status-board.")]


@app.command("list")
def list_webhooks(json: show.Json = False) -> None:
    """List the webhooks, with the events that wait for each."""
    with session.client() as client:
        found = client.webhooks.list()
    if json:
        show.as_json(found)
        return
    show.table(
        ("Name", "Address", "Waiting", "Refused", "Trouble"),
        ((one.name, one.address, str(one.waiting), str(one.refused), one.trouble) for one in found),
        nothing="No webhooks.",
    )


@app.command("add")
def add_webhook(
    name: Name,
    address: Annotated[str, typer.Argument(help="Address that takes JSON by POST.")],
    everything: Annotated[
        bool, typer.Option("--everything", help="Also send events that are not of packets.")
    ] = False,
    json: show.Json = False,
) -> None:
    """Add a webhook, and show the secret that checks its signatures, this once.

    Example: `sealpacket webhook add status-board https://hooks.quillmere.example/sealpacket`
    """
    with session.client() as client:
        made = client.webhooks.add(name, address, packets_only=not everything)
    if json:
        show.as_json(made)
        return
    show.line(f"{made.name} added. Its secret, shown this once:")
    show.line(f"  {made.secret}")


@app.command("remove")
def remove_webhook(name: Name) -> None:
    """Remove a webhook."""
    with session.client() as client:
        client.webhooks.remove(name)
    show.line(f"{name} removed.")


@app.command("refused")
def list_refused_events(name: Name, json: show.Json = False) -> None:
    """List the events that a webhook refused."""
    with session.client() as client:
        found = client.webhooks.refused(name)
    if json:
        show.as_json(found)
        return
    show.table(
        ("Number", "Event", "Subject", "Reason", "At"),
        (
            (
                str(one.event.seq),
                one.event.action,
                one.event.subject,
                "is sent again" if one.again else one.reason,
                show.moment(one.at),
            )
            for one in found
        ),
        nothing="It has refused nothing.",
    )


@app.command("resend")
def resend_event(
    name: Name,
    number: Annotated[int, typer.Argument(min=1, help="Number of the event.")],
) -> None:
    """Send a refused event again."""
    with session.client() as client:
        client.webhooks.resend(name, number)
    show.line(f"Event {number} is sent to {name} again within seconds.")
