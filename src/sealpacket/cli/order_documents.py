"""Order documents on the command line."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from sealpacket.cli import session, show
from sealpacket.cli.register import as_fields, as_text
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client import SealPacket
    from sealpacket.client.models import EntryPreview, OrderDocumentShown

app = typer.Typer(
    no_args_is_help=True, help="Order confirmations, and entering them into the register."
)

Ident = Annotated[
    str, typer.Argument(help="The order document's id, its beginning, or its file name.")
]


@app.command("read")
def read(
    file: Annotated[
        Path, typer.Argument(exists=True, dir_okay=False, help="A PDF, or a mail saved as .eml.")
    ],
    json: show.Json = False,
) -> None:
    """Read an order confirmation and show what it proposes. Nothing is entered.

    Example: `sealpacket order-document read confirmation.pdf`
    """
    with session.client() as client:
        found = client.order_documents.wait(client.order_documents.send(file).id)
    if found.state == "failed":
        raise ClientError(
            found.status_text,
            f"It is kept as order document {found.id[:8]}; you can enter its content by hand.",
        )
    _tell(found, json)


@app.command("list")
def list_order_documents(json: show.Json = False) -> None:
    """List order documents, newest first."""
    with session.client() as client:
        found = client.order_documents.list(limit=200).items
    if json:
        show.as_json(found)
        return
    show.table(
        ("Order document", "File", "State", "Vendor", "Contract", ">Things", "Arrived"),
        (
            (p.id[:8], p.name, p.state, p.vendor, p.contract, p.items, show.moment(p.at))
            for p in found
        ),
        nothing="No order documents yet. Read one: sealpacket order-document read confirmation.pdf",
    )


@app.command("show")
def show_order_document(ident: Ident, json: show.Json = False) -> None:
    """Show what an order document proposes, and where on the page each value is."""
    with session.client() as client:
        _tell(_find(client, ident), json)


@app.command("enter")
def enter(
    ident: Ident,
    fields: Annotated[
        list[str] | None, typer.Argument(help="FIELD=VALUE, overriding what was read.")
    ] = None,
    yes: Annotated[bool, typer.Option("--yes", help="Skip the confirmation.")] = False,
) -> None:
    """Enter what an order document proposes, after a preview and a confirmation.

    Example: `sealpacket order-document enter 4f0c21d8 level="Full cover" title="Kiosks, second lot"`
    """
    from sealpacket.client.order_documents import proposed_entry

    with session.client() as client:
        document = _find(client, ident)
        entry = proposed_entry(document) | as_fields(fields or [])
        missing = [
            name for name in ("vendor", "contract", "starts_on", "ends_on") if not entry.get(name)
        ]
        if missing:
            raise ClientError(
                f"The order document does not say: {', '.join(missing)}.",
                f"Give it: {missing[0]}=…",
            )
        _tell_effects(client.order_documents.preview(document.id, **entry))
        if not yes and not typer.confirm("Enter this?"):
            show.line("Nothing was entered.")
            return
        client.order_documents.enter(document.id, **entry)
    show.line(f"Entered. The order document is attached to contract {entry['contract']}.")


@app.command("aside")
def set_aside(ident: Ident) -> None:
    """Set an order document aside without entering it."""
    with session.client() as client:
        document = client.order_documents.set_aside(_find(client, ident).id)
    show.line(f"{document.name} is set aside.")


@app.command("passcode")
def passcode(ident: Ident) -> None:
    """Show an order document's passcodes; this is recorded in the custody log."""
    with session.client() as client:
        for found in client.order_documents.passcodes(_find(client, ident).id):
            show.line(found)


@app.command("save")
def save(ident: Ident, out: show.Out) -> None:
    """Save the original order document; this is recorded in the custody log."""
    with session.client() as client:
        client.order_documents.save(_find(client, ident).id, out)
    show.line(f"Saved {out}.")


def _find(client: SealPacket, ident: str) -> OrderDocumentShown:
    documents = client.order_documents
    return session.find(
        ident, documents.get, lambda: documents.list(limit=200).items, "order document"
    )


def _tell(document: OrderDocumentShown, json: bool) -> None:
    if json:
        show.as_json(document)
        return
    show.heading(
        f"{document.name}: {document.state}",
        f"order document {document.id[:8]}, {show.size(document.size)}",
    )
    if document.status_text:
        show.line(document.status_text, "yellow")
    show.table(
        ("Field", "Value", "As written", "Page", "Sure"),
        (
            (
                p.field.replace("_", " "),
                "•••" if p.field == "passcode" else p.value,
                p.read,
                p.place.page + 1,
                "yes" if p.sure else "look",
            )
            for p in document.proposals
        ),
        nothing="Nothing was found on it.",
    )
    show.table(
        ("Serial", "Part number", "What", "Site"),
        ((i.serial.value, _of(i.product), _of(i.name), _of(i.site)) for i in document.bought),
        nothing="It names no serials.",
    )
    if document.state == "read":
        show.line(
            f"Nothing is in the register yet. Enter it: sealpacket order-document enter {document.id[:8]}"
        )


def _of(proposal: Any) -> str:
    return "" if proposal is None else proposal.value or f"{proposal.read} (?)"


def _tell_effects(preview: EntryPreview) -> None:
    for item in preview.items:
        show.line(
            f"{item.outcome:9} {item.kind} {item.called}",
            "" if item.outcome == "unchanged" else "bold",
        )
        if item.outcome != "unchanged":
            for change in item.changes:
                show.line(
                    f"            {change.field}: {as_text(change.old) or '–'} → {as_text(change.new) or '–'}"
                )
