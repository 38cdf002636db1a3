"""The register through the client: the same verbs for each kind of record."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Generic, TypeVar

from pydantic import BaseModel

from sealpacket.client.wire import Wire, part

R = TypeVar("R", bound=BaseModel)


class Records(Generic[R]):
    """One kind of record. A `handle` is an id, or what people call it: key, serial, number, part number, name."""

    def __init__(self, wire: Wire, path: str, kind: type[R]) -> None:
        self._wire, self._path, self._kind = wire, path, kind

    def add(self, *, key_once: str | None = None, **fields: Any) -> R:
        """Add a record. With `key_once` a repetition of the call adds nothing."""
        return self._wire.call(self._kind, "POST", self._path, json=fields, key=key_once)

    def get(self, handle: str) -> R:
        """One record."""
        return self._wire.call(self._kind, "GET", f"{self._path}/{part(handle)}")

    def change(self, handle: str, version: int, **fields: Any) -> R:
        """Change fields of the record that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self._wire.call(self._kind, "PATCH", f"{self._path}/{part(handle)}", json=fields, version=version)

    def list(self, query: str = "", *, vendor: str = "", most: int | None = None) -> Iterator[R]:
        """All records that hold every word of `query`, page after page as they are needed."""
        cursor, given = "", 0
        while True:
            size = min(200, most - given) if most is not None else 200
            parameters = {"q": query, "vendor": vendor, "limit": size, "cursor": cursor}
            page = self._wire.send("GET", self._path, params=parameters).json()
            for item in page["items"]:
                yield self._kind.model_validate(item)
            given += len(page["items"])
            cursor = page["next"] or ""
            if not cursor or (most is not None and given >= most):
                return
