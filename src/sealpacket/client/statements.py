"""Vendor statements through the client."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from datetime import date
from pathlib import Path
from typing import Any

from sealpacket.client import models
from sealpacket.client.errors import ClientError
from sealpacket.client.polling import poll
from sealpacket.client.wire import Wire, part


class Statements:
    """Vendor statements, compared with the register."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def send(
        self,
        vendor: str,
        file: Path,
        *,
        as_of: date | None = None,
        mapping: dict[str, str] | None = None,
    ) -> models.StatementShown:
        """Send a statement; it is compared while you wait for it with `wait`."""
        query: dict[str, Any] = {"vendor": vendor, "name": file.name}
        query |= {"as_of": as_of.isoformat()} if as_of else {}
        query |= {"mapping": json.dumps(mapping)} if mapping else {}
        return self._wire.send_file(models.StatementShown, "/statements", file, query)

    def list(self, vendor: str = "", *, limit: int = 50, cursor: str = "") -> models.StatementPage:
        """List statements, newest first."""
        query = {"vendor": vendor, "limit": limit, "cursor": cursor}
        return self._wire.call(models.StatementPage, "GET", "/statements", params=query)

    def get(self, ident: str) -> models.StatementShown:
        """One statement."""
        return self._call("GET", ident)

    def wait(self, ident: str, *, seconds: float = 600) -> models.StatementShown:
        """The statement as soon as it is compared. Raises ClientError after `seconds`."""
        return poll(
            lambda: self.get(ident),
            lambda shown: shown.state != "reading",
            seconds=seconds,
            overdue=lambda _: ClientError(
                "The statement is still being compared.", "Look again later."
            ),
            has_worker=self._wire.has_worker,
        )

    def differences(
        self, ident: str, sort: str = "", *, undecided: bool = False
    ) -> Iterator[models.DifferenceShown]:
        """All differences, or those of one sort: only_ours, only_theirs, differs, mistyped."""
        above: int | None = 0
        while above is not None:
            query = {"sort": sort, "undecided": undecided, "above": above, "limit": 500}
            path = f"/statements/{part(ident)}/differences"
            page = self._wire.call(models.Differences, "GET", path, params=query)
            yield from page.items
            above = page.next

    def decide(
        self, ident: str, numbers: Sequence[int], verdict: str, reason: str = ""
    ) -> models.StatementShown:
        """Accept differences: `ours` keeps the register, `theirs` changes it as of the statement's day."""
        body = {"numbers": [*numbers], "verdict": verdict, "reason": reason}
        return self._call("POST", ident, "/decide", json=body)

    def ask(self, ident: str, numbers: Sequence[int]) -> str:
        """Turn differences into a packet to the vendor; its number."""
        path = f"/statements/{part(ident)}/ask"
        return self._wire.call(
            models.AskedPacket, "POST", path, json={"numbers": [*numbers]}
        ).packet

    def drop(self, ident: str) -> models.StatementShown:
        """Delete a statement and its differences."""
        return self._call("DELETE", ident)

    def _call(
        self, method: str, ident: str, then: str = "", **arguments: Any
    ) -> models.StatementShown:
        return self._wire.call(
            models.StatementShown, method, f"/statements/{part(ident)}{then}", **arguments
        )
