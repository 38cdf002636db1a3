"""Order documents through the client."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any, Unpack

from sealpacket.client import models
from sealpacket.client.errors import ClientError
from sealpacket.client.polling import poll
from sealpacket.client.wire import Wire, part

if TYPE_CHECKING:
    from sealpacket.client.fields import EntryFields


class OrderDocuments:
    """Order confirmations: what they propose, and what is entered from them."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def send(self, file: Path) -> models.OrderDocumentShown:
        """Send a PDF or mail; it is read while you wait for it with `wait`."""
        return self._wire.send_file(
            models.OrderDocumentShown, "/order-documents", file, {"name": file.name}
        )

    def list(
        self, state: str = "", *, limit: int = 50, cursor: str = ""
    ) -> models.OrderDocumentPage:
        """List order documents, newest first."""
        query = {"state": state, "limit": limit, "cursor": cursor}
        return self._wire.call(models.OrderDocumentPage, "GET", "/order-documents", params=query)

    def get(self, ident: str) -> models.OrderDocumentShown:
        """An order document and what it proposes."""
        return self._call("GET", ident)

    def wait(self, ident: str, *, seconds: float = 120) -> models.OrderDocumentShown:
        """The order document as soon as it is read. Raises ClientError after `seconds`."""
        return poll(
            lambda: self.get(ident),
            lambda shown: shown.state != "reading",
            seconds=seconds,
            overdue=lambda _: ClientError(
                "The order document is still being read.",
                "Look again later, and that the worker runs.",
            ),
            has_worker=self._wire.has_worker,
        )

    def preview(self, ident: str, **entry: Unpack[EntryFields]) -> models.EntryPreview:
        """Preview what entering would do to each record."""
        path = f"/order-documents/{part(ident)}/preview"
        return self._wire.call(models.EntryPreview, "POST", path, json=entry)

    def enter(self, ident: str, **entry: Unpack[EntryFields]) -> models.OrderDocumentShown:
        """Enter what was read and said yes to."""
        return self._call("POST", ident, "/enter", json=entry)

    def set_aside(self, ident: str) -> models.OrderDocumentShown:
        """Say that nothing of it is to be entered."""
        return self._call("POST", ident, "/aside")

    def passcodes(self, ident: str) -> tuple[str, ...]:
        """The passcodes of an order document, in clear; that they were shown is in the custody log."""
        shown = self._wire.call(
            models.PasscodeList, "POST", f"/order-documents/{part(ident)}/passcode"
        )
        return tuple(shown.passcodes)

    def save(self, ident: str, target: Path) -> Path:
        """Save an order document as it came; that it was opened is in the custody log."""
        return self._wire.save(f"/order-documents/{part(ident)}/file", target)

    def save_page(self, ident: str, number: int, target: Path) -> Path:
        """Save a page as PNG, its passcodes covered."""
        return self._wire.save(f"/order-documents/{part(ident)}/pages/{number}", target)

    def _call(
        self, method: str, ident: str, then: str = "", **arguments: Any
    ) -> models.OrderDocumentShown:
        return self._wire.call(
            models.OrderDocumentShown, method, f"/order-documents/{part(ident)}{then}", **arguments
        )


def proposed_entry(document: models.OrderDocumentShown) -> dict[str, Any]:
    """The entry that an order document proposes, the likeliest value of each field; dates as ISO 8601 text."""
    best: dict[str, str] = {}
    for proposal in document.proposals:
        best.setdefault(proposal.field, proposal.value)
    entry: dict[str, Any] = {
        name: best[name]
        for name in (
            "vendor",
            "contract",
            "title",
            "starts_on",
            "ends_on",
            "notice_on",
            "reference",
            "level",
            "hours",
        )
        if best.get(name)
    }
    if "cost" in best:
        minor, currency = best["cost"].split()
        entry |= {"cost_minor": int(minor), "currency": currency}
    entry["keep_passcode"] = "passcode" in best
    entry["items"] = list(_items(document))
    return entry


def _items(document: models.OrderDocumentShown) -> Iterator[dict[str, str]]:
    for item in document.bought:
        fields = {
            "serial": item.serial,
            "product": item.product,
            "name": item.name,
            "site": item.site,
        }
        yield {
            name: proposal.value
            for name, proposal in fields.items()
            if proposal is not None and proposal.value
        }
