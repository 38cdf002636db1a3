"""The client library: everything that the service can do, typed.

    from sealpacket.client import SealPacket

    house = SealPacket("http://127.0.0.1:8400", token="spk_…")
    packet = house.packets.note("Volumes slow at the book store", asset="TN9-44120-A")
    house.packets.answer(packet.number, severity="2", category="volume/latency")
    house.exhibits.add(packet.number, Path("controller.log"))
    packet = house.packets.wait(packet.number)
    for check in packet.checks: ...
    house.packets.seal(packet.number)
    house.packets.lodge(packet.number)

Every error is a Refused with the service's stable `code` and a `way_out`; NoService if it cannot be reached.
"""

from sealpacket.client import models
from sealpacket.client.errors import ClientError, NoService, Refused
from sealpacket.client.house import SealPacket, make_token
from sealpacket.client.packets import PageBox

__all__ = ["ClientError", "NoService", "PageBox", "Refused", "SealPacket", "make_token", "models"]
