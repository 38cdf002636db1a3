"""Known issues through the client."""

from __future__ import annotations

from typing import TYPE_CHECKING, Unpack

from sealpacket.client.models import Done, KnownIssues, KnownIssueShown
from sealpacket.client.wire import Wire, part

if TYPE_CHECKING:
    from sealpacket.client.fields import KnownIssueFields


class Known:
    """Known issues that logs are searched for."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def list(self) -> list[KnownIssueShown]:
        """All of them, by key."""
        return self._wire.call(KnownIssues, "GET", "/known-issues").items

    def put(self, key: str, **fields: Unpack[KnownIssueFields]) -> KnownIssueShown:
        """Keep one under its key."""
        return self._wire.call(KnownIssueShown, "PUT", f"/known-issues/{part(key)}", json=fields)

    def remove(self, key: str) -> None:
        """Forget one."""
        self._wire.call(Done, "DELETE", f"/known-issues/{part(key)}")
