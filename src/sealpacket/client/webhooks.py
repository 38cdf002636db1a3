"""Receivers of events through the client."""

from __future__ import annotations

import builtins

from sealpacket.client.models import (
    Done,
    NewWebhook,
    RefusedEvents,
    RefusedShown,
    Webhooks,
    WebhookShown,
)
from sealpacket.client.wire import Wire, part


class WebhookList:
    """Addresses of ours to which events are posted, signed."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def list(self) -> builtins.list[WebhookShown]:
        """All receivers, by name."""
        return self._wire.call(Webhooks, "GET", "/webhooks").items

    def add(self, name: str, address: str, *, packets_only: bool = True) -> NewWebhook:
        """Add a receiver. Its `secret`, which checks signatures, is shown this once."""
        body = {"name": name, "address": address, "packets_only": packets_only}
        return self._wire.call(NewWebhook, "POST", "/webhooks", json=body)

    def remove(self, name: str) -> None:
        """Remove a receiver."""
        self._wire.call(Done, "DELETE", f"/webhooks/{part(name)}")

    def refused(self, name: str) -> builtins.list[RefusedShown]:
        """Events that a receiver refused, the oldest first."""
        return self._wire.call(RefusedEvents, "GET", f"/webhooks/{part(name)}/refused").items

    def resend(self, name: str, seq: int) -> RefusedShown:
        """Send a refused event again."""
        path = f"/webhooks/{part(name)}/refused/{seq}/resend"
        return self._wire.call(RefusedShown, "POST", path)
