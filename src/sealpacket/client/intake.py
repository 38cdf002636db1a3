"""Imports and exports through the client."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Any

from sealpacket.client import models
from sealpacket.client.errors import ClientError
from sealpacket.client.polling import poll
from sealpacket.client.wire import Wire, part

_BUSY = ("reading", "applying", "undoing")


class Imports:
    """Files for the register: preview, apply, undo."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def begin(
        self,
        kind: str,
        file: Path,
        *,
        source: str = "",
        part: str = "",
        mapping: dict[str, str] | None = None,
        fixed: dict[str, str] | None = None,
        date_order: str | None = None,
    ) -> models.ImportShown:
        """Send a file; the preview is made while you wait for it with `wait`."""
        query: dict[str, Any] = {"kind": kind, "name": file.name, "source": source, "part": part}
        query |= {"mapping": json.dumps(mapping)} if mapping else {}
        query |= {"fixed": json.dumps(fixed)} if fixed else {}
        query |= {"date_order": date_order} if date_order else {}
        return self._wire.send_file(models.ImportShown, "/imports", file, query)

    def bulk(
        self,
        kind: str,
        ids: Sequence[str] = (),
        *,
        all_of: dict[str, str] | None = None,
        **changes: Any,
    ) -> models.ImportShown:
        """Preview the same change of many records: those with these ids, or all that a list shows (q, vendor, …)."""
        body = {"kind": kind, "ids": list(ids), "all_of": all_of, "changes": changes}
        return self._wire.call(models.ImportShown, "POST", "/imports/bulk", json=body)

    def get(self, ident: str) -> models.ImportShown:
        """One import."""
        return self._call("GET", ident)

    def list(self, *, limit: int = 50) -> models.ImportPage:
        """List imports, newest first."""
        return self._wire.call(models.ImportPage, "GET", "/imports", params={"limit": limit})

    def columns(
        self,
        ident: str,
        mapping: dict[str, str],
        *,
        fixed: dict[str, str] | None = None,
        date_order: str | None = None,
    ) -> models.ImportShown:
        """Choose columns by hand; the preview is made again."""
        body = {"mapping": mapping, "fixed": fixed or {}, "date_order": date_order}
        return self._call("PUT", ident, "/columns", json=body)

    def rows(self, ident: str, outcome: str = "") -> Iterator[models.ImportRow]:
        """Rows of the preview, all or of one outcome: new, changed, unchanged, rejected."""
        above: int | None = -1
        while above is not None:
            query = {"outcome": outcome, "above": above, "limit": 500}
            path = f"/imports/{part(ident)}/rows"
            page = self._wire.call(models.ImportRows, "GET", path, params=query)
            yield from page.items
            above = page.next

    def save_rejected(self, ident: str, target: Path) -> Path:
        """Save the rejected rows as a CSV file to mend."""
        return self._wire.save(f"/imports/{part(ident)}/rejected", target)

    def apply(self, ident: str) -> models.ImportShown:
        """Have it applied, whole."""
        return self._call("POST", ident, "/apply")

    def undo(self, ident: str) -> models.ImportShown:
        """Have the last applied import undone."""
        return self._call("POST", ident, "/undo")

    def drop(self, ident: str) -> models.ImportShown:
        """Forget a file that was not applied."""
        return self._call("DELETE", ident)

    def wait(
        self,
        ident: str,
        *,
        seconds: float = 600,
        progress: Callable[[models.ImportShown], None] | None = None,
    ) -> models.ImportShown:
        """The import, as soon as nothing of it is in hand. Raises ClientError after `seconds`."""
        return poll(
            lambda: self.get(ident),
            lambda shown: shown.state not in _BUSY,
            seconds=seconds,
            overdue=lambda shown: ClientError(
                f"The import is still {shown.state}.", "Look again later, and that the worker runs."
            ),
            progress=progress,
            has_worker=self._wire.has_worker,
        )

    def _call(
        self, method: str, ident: str, then: str = "", **arguments: Any
    ) -> models.ImportShown:
        return self._wire.call(
            models.ImportShown, method, f"/imports/{part(ident)}{then}", **arguments
        )
