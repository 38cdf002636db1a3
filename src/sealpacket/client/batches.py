"""Many packets from one table or selection through the client."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from sealpacket.client import models
from sealpacket.client.errors import ClientError
from sealpacket.client.polling import poll
from sealpacket.client.wire import Wire, part


class BatchShelf:
    """Batches: many packets that are noted from one table or selection."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def preview_batch(self, rows: Sequence[Mapping[str, Any]]) -> list[models.RowPreview]:
        """Preview the packet of each row: mappings of asset, title, note, need and answers. Nothing is noted."""
        body = {"rows": list(rows)}
        return self._wire.call(models.RowPreviews, "POST", "/batches/preview", json=body).items

    def note_batch(
        self, title: str, rows: Sequence[Mapping[str, Any]], *, key_once: str | None = None
    ) -> models.BatchShown:
        """Note a packet for each row; the worker does it, see `wait`. With `key_once` a repetition notes nothing."""
        body = {"title": title, "rows": list(rows)}
        return self._wire.call(models.BatchShown, "POST", "/batches", json=body, key=key_once)

    def batches(self) -> list[models.BatchBrief]:
        """Batches, the newest first."""
        return self._wire.call(models.BatchList, "GET", "/batches").items

    def batch(self, ident: str) -> models.BatchShown:
        """A batch with its rows and their packets."""
        return self._wire.call(models.BatchShown, "GET", f"/batches/{part(ident)}")

    def retry_batch(
        self, ident: str, corrected: Mapping[int, Mapping[str, Any]] | None = None
    ) -> models.BatchShown:
        """Try failed rows again, those of `corrected` (by number) as they are there."""
        rows = [{"place": place, "row": row} for place, row in (corrected or {}).items()]
        path = f"/batches/{part(ident)}/retry"
        return self._wire.call(models.BatchShown, "POST", path, json={"rows": rows})

    def wait(
        self,
        ident: str,
        *,
        seconds: float = 600,
        progress: Callable[[models.BatchShown], None] | None = None,
    ) -> models.BatchShown:
        """Wait until no row of a batch waits any more. Raises ClientError."""
        return poll(
            lambda: self.batch(ident),
            lambda found: found.waiting == 0,
            seconds=seconds,
            overdue=lambda found: ClientError(
                f"{found.waiting} rows still wait after {seconds:.0f} seconds.",
                "Look whether the worker runs.",
            ),
            progress=progress,
            has_worker=self._wire.has_worker,
        )
