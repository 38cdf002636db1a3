"""The custody log, and the public keys that verify bags."""

from __future__ import annotations

from typing import Annotated

import typer

from sealpacket.cli import session, show

custody_app = typer.Typer(no_args_is_help=True, help="The custody log: who did what.")


def seal_keys() -> None:
    """The public seal keys, a JSON Web Key Set; whoever has it can verify bags.

    They are kept for `sealpacket verify` as well, as at sign-in.
    """
    with session.client() as client:
        keys = client.seal_keys()
    session.keep_keys(keys.model_dump_json())
    show.as_json(keys)


def events(
    after: Annotated[
        int | None,
        typer.Option(min=0, help="Number of the last event that you have; default: now."),
    ] = None,
    packet: Annotated[str, typer.Option(help="Only events of this packet.")] = "",
    follow: Annotated[bool, typer.Option("--follow", help="Wait for the next ones.")] = False,
    json: Annotated[bool, typer.Option("--json", help="A line of JSON for each event.")] = False,
) -> None:
    """Show what has happened since an event, the oldest first.

    Example: `sealpacket events --after 1200 --follow --json`
    """
    with session.client() as client:
        for one in client.events(after, packet=packet.upper(), follow=follow):
            if json:
                typer.echo(one.model_dump_json())
            else:
                show.line(
                    f"{one.seq:>7}  {show.moment(one.at)}  {one.actor}: {one.action} · {one.subject}"
                )


@custody_app.command("list")
def list_custody(
    subject: Annotated[str, typer.Option(help="Subject, such as “packet P-0001”.")] = "",
    most: Annotated[int, typer.Option(help="Maximum number of entries.")] = 30,
    out: show.ListOut = None,
    json: show.Json = False,
) -> None:
    """List who did what, the newest first; a file has all of it."""
    with session.client() as client:
        if out is not None:
            client.export_custody(out, show.form_of(out), subject=subject)
            show.line(f"Written to {out}.")
            return
        entries = client.custody(subject, limit=most)
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
    """Verify the whole log. Exits with 4 if it was tampered with."""
    with session.client() as client:
        chain = client.verify_custody()
    if json:
        show.as_json(chain)
    elif chain.holds:
        show.line(f"The log is whole: {chain.entries} entries, the last {chain.last_hash}.")
    else:
        show.errors().print(
            f"The log is broken at entry {chain.broken_at}: {chain.reason}.", style="bold red"
        )
    if not chain.holds:
        raise typer.Exit(4)
