"""The client library: everything that the service can do, typed.

    from sealpacket.client import SealPacket

    client = SealPacket("http://127.0.0.1:8400", token="spk_…")
    packet = client.packets.note("Volumes slow at the book store", asset="TN9-44120-A")
    client.packets.answer(packet.number, severity="2", category="volume/latency")
    client.exhibits.add(packet.number, Path("controller.log"))
    packet = client.packets.wait(packet.number)
    for check in packet.checks: ...
    client.packets.seal(packet.number)
    client.packets.lodge(packet.number)

Every error is a ClientError with a `remedy`: Refused with the service's stable `code`, NoService (or TlsFault) if it
cannot be reached, BadAnswer if something else has answered.
"""

from typing import TYPE_CHECKING, Any

from sealpacket.client.errors import BadAnswer, ClientError, NoService, NoWorker, Refused, TlsFault

if TYPE_CHECKING:
    from sealpacket.client import models
    from sealpacket.client.aio import AsyncSealPacket
    from sealpacket.client.client import SealPacket, make_token
    from sealpacket.client.packets import PageBox

__all__ = [
    "AsyncSealPacket",
    "BadAnswer",
    "ClientError",
    "NoService",
    "NoWorker",
    "PageBox",
    "Refused",
    "SealPacket",
    "TlsFault",
    "make_token",
    "models",
]
_LATER = {
    "AsyncSealPacket": "aio",
    "SealPacket": "client",
    "make_token": "client",
    "PageBox": "packets",
}


def __getattr__(name: str) -> Any:
    """Read what speaks to the service when it is asked for: whoever only redacts does not wait for it (PEP 562)."""
    from importlib import import_module

    if name == "models":
        return import_module("sealpacket.client.models")
    if name in _LATER:
        return getattr(import_module(f"sealpacket.client.{_LATER[name]}"), name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
