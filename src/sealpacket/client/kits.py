"""Diagnostic kits, the safe and how devices are reached, through the client."""

from __future__ import annotations

from typing import TYPE_CHECKING, Unpack

from sealpacket.client.errors import ClientError
from sealpacket.client.models import (
    Done,
    KitBrief,
    KitOffered,
    KitRunShown,
    Kits,
    KitShown,
    KitsOffered,
    PacketShown,
    ReachShown,
    Secrets,
    SecretShown,
)
from sealpacket.client.polling import poll
from sealpacket.client.wire import Wire, part

if TYPE_CHECKING:
    from sealpacket.client.fields import ReachFields


class KitShelf:
    """Diagnostic kits: what to collect from a thing."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def offered(self, number: str) -> list[KitOffered]:
        """Those for a packet's thing, and exactly what they would do there."""
        return self._wire.call(KitsOffered, "GET", f"/packets/{part(number)}/kits").items

    def list(self) -> list[KitBrief]:
        """All of them, by name."""
        return self._wire.call(Kits, "GET", "/kits").items

    def get(self, name: str) -> KitShown:
        """One of them with all that it would do."""
        return self._wire.call(KitShown, "GET", f"/kits/{part(name)}")

    def put(self, yaml: str) -> KitShown:
        """Keep one under its name; a changed one is a new version."""
        return self._wire.call(KitShown, "POST", "/kits", json={"yaml": yaml})

    def retire(self, name: str) -> None:
        """Offer one no more."""
        self._wire.call(Done, "DELETE", f"/kits/{part(name)}")

    def collect(self, number: str, kit: str, seen: int) -> KitRunShown:
        """Have the worker run the version of a kit that was looked at. Raises Refused (code stale) for a newer one."""
        body = {"kit": kit, "seen": seen}
        return self._wire.call(KitRunShown, "POST", f"/packets/{part(number)}/kits", json=body)

    def wait(self, number: str, run: str, *, seconds: float = 600) -> KitRunShown:
        """Wait until a run is through. Raises ClientError."""

        def look() -> KitRunShown:
            packet = self._wire.call(PacketShown, "GET", f"/packets/{part(number)}")
            return next(one for one in packet.kit_runs if one.id == run)

        return poll(
            look,
            lambda found: found.state in ("done", "failed"),
            seconds=seconds,
            overdue=lambda found: ClientError(
                f"{found.kit} is still being run.", "Look whether the worker runs."
            ),
            has_worker=self._wire.has_worker,
        )


class Safe:
    """Secrets that kits use by name. What is put in is never shown again."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def list(self) -> list[SecretShown]:
        """All of them by name, without their values."""
        return self._wire.call(Secrets, "GET", "/safe").items

    def keep(self, name: str, value: str, *, what: str = "") -> SecretShown:
        """Keep one under its name."""
        body = {"value": value, "what": what}
        return self._wire.call(SecretShown, "PUT", f"/safe/{part(name)}", json=body)

    def remove(self, name: str) -> None:
        """Forget one."""
        self._wire.call(Done, "DELETE", f"/safe/{part(name)}")


class Reaching:
    """How devices are reached."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def get(self, asset: str) -> ReachShown:
        """How a device is reached. Raises Refused (code no-reach) if nobody has said so."""
        return self._wire.call(ReachShown, "GET", f"/assets/{part(asset)}/reach")

    def put(self, asset: str, target: str, **fields: Unpack[ReachFields]) -> ReachShown:
        """Say it: the device's host name or address, and how it is reached there."""
        return self._wire.call(
            ReachShown, "PUT", f"/assets/{part(asset)}/reach", json={"target": target, **fields}
        )

    def remove(self, asset: str) -> None:
        """Forget it."""
        self._wire.call(Done, "DELETE", f"/assets/{part(asset)}/reach")
