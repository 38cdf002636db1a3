"""Order papers on the command line."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from sealpacket.cli import session, show
from sealpacket.cli.register import as_fields, as_text
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client import SealPacket
    from sealpacket.client.models import EntryPreview, PaperShown

app = typer.Typer(no_args_is_help=True, help="Order confirmations, and what is entered from them.")

Ident = Annotated[str, typer.Argument(help="The paper's id, its beginning, or its file name.")]


@app.command("read")
def read(
    file: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="A PDF, or a mail saved as .eml.")],
    json: show.Json = False,
) -> None:
    """Read an order confirmation and show what it proposes. Nothing is entered.

    Example: `sealpacket paper read confirmation.pdf`
    """
    with session.client() as client:
        found = client.papers.wait(client.papers.send(file).id)
    if found.state == "failed":
        raise ClientError(
            found.status_text, f"It is kept as paper {found.id[:8]}; what it says can be entered by hand."
        )
    _tell(found, json)


@app.command("list")
def list_papers(json: show.Json = False) -> None:
    """Papers, the newest first."""
    with session.client() as client:
        found = client.papers.list(limit=200).items
    if json:
        show.as_json(found)
        return
    show.table(
        ("Paper", "File", "State", "Vendor", "Contract", ">Things", "Came"),
        ((p.id[:8], p.name, p.state, p.vendor, p.contract, p.items, show.moment(p.at)) for p in found),
        nothing="No papers yet. Read one: sealpacket paper read confirmation.pdf",
    )


@app.command("show")
def show_paper(ident: Ident, json: show.Json = False) -> None:
    """What a paper proposes, and where on the page each value stands."""
    with session.client() as client:
        _tell(_find(client, ident), json)


@app.command("enter")
def enter(
    ident: Ident,
    fields: Annotated[list[str] | None, typer.Argument(help="FIELD=VALUE instead of what was read.")] = None,
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask.")] = False,
) -> None:
    """Enter what a paper proposes: first it is shown what that does, then you are asked.

    Example: `sealpacket paper enter 4f0c21d8 level="Full cover" title="Kiosks, second lot"`
    """
    from sealpacket.client.papers import proposed_entry

    with session.client() as client:
        paper = _find(client, ident)
        entry = proposed_entry(paper) | as_fields(fields or [])
        missing = [name for name in ("vendor", "contract", "starts_on", "ends_on") if not entry.get(name)]
        if missing:
            raise ClientError(f"The paper does not say: {', '.join(missing)}.", f"Give it: {missing[0]}=…")
        _tell_effects(client.papers.preview(paper.id, **entry))
        if not yes and not typer.confirm("Enter this?"):
            show.line("Nothing was entered.")
            return
        client.papers.enter(paper.id, **entry)
    show.line(f"Entered. The paper lies with contract {entry['contract']}.")


@app.command("aside")
def set_aside(ident: Ident) -> None:
    """Say that nothing of a paper is to be entered."""
    with session.client() as client:
        paper = client.papers.set_aside(_find(client, ident).id)
    show.line(f"{paper.name} is set aside.")


@app.command("passcode")
def passcode(ident: Ident) -> None:
    """Show the passcodes of a paper; the custody log keeps that you asked."""
    with session.client() as client:
        for found in client.papers.passcodes(_find(client, ident).id):
            show.line(found)


@app.command("save")
def save(ident: Ident, out: show.Out) -> None:
    """Save a paper as it came; the custody log keeps that you asked."""
    with session.client() as client:
        client.papers.save(_find(client, ident).id, out)
    show.line(f"Saved {out}.")


def _find(client: SealPacket, ident: str) -> PaperShown:
    return session.find(ident, client.papers.get, lambda: client.papers.list(limit=200).items, "paper")


def _tell(paper: PaperShown, json: bool) -> None:
    if json:
        show.as_json(paper)
        return
    show.heading(f"{paper.name}: {paper.state}", f"paper {paper.id[:8]}, {show.size(paper.size)}")
    if paper.status_text:
        show.line(paper.status_text, "yellow")
    show.table(
        ("Field", "Value", "As it stands there", "Page", "Sure"),
        (
            (p.field.replace("_", " "), "•••" if p.field == "passcode" else p.value, p.read, p.place.page + 1,
             "yes" if p.sure else "look")
            for p in paper.proposals
        ),
        nothing="Nothing was found on it.",
    )  # fmt: skip
    show.table(
        ("Serial", "Part number", "What", "Site"),
        ((i.serial.value, _of(i.product), _of(i.name), _of(i.site)) for i in paper.bought),
        nothing="It names no serials.",
    )
    if paper.state == "read":
        show.line(f"Nothing is in the register yet. Enter it: sealpacket paper enter {paper.id[:8]}")


def _of(proposal: Any) -> str:
    return "" if proposal is None else proposal.value or f"{proposal.read} (?)"


def _tell_effects(preview: EntryPreview) -> None:
    for item in preview.items:
        show.line(f"{item.outcome:9} {item.kind} {item.called}", "" if item.outcome == "unchanged" else "bold")
        if item.outcome != "unchanged":
            for change in item.changes:
                show.line(f"            {change.field}: {as_text(change.old) or '–'} → {as_text(change.new) or '–'}")
