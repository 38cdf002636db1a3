"""What somebody uses often is offered first: pinned records, then those of their newest packets."""

from __future__ import annotations

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown, UsedItem
from sealpacket.demo import world


def names(found: list[UsedItem], kind: str) -> list[tuple[str, bool]]:
    return [(one.name, one.pinned) for one in found if one.kind == kind]


def test_what_ones_packets_used_last_comes_first(
    marit: SealPacket, pauli: SealPacket, lodged: PacketShown
) -> None:
    marit.packets.note("The kiosk is dark", "Since this morning.", asset=world.KIOSK_SERIAL)
    used = marit.often_used()
    assets = [name for name, _ in names(used, "asset")]
    assert lodged.asset
    assert assets == [world.KIOSK_SERIAL, lodged.asset.serial]
    assert ("Marit Oswin", False) in names(used, "person"), "the contact whom she named"
    assert names(used, "desk")[0][0] == "Lumenlathe care"
    assert not names(pauli.often_used(), "asset"), "of her packets, not of mine"


def test_pinned_records_stay_in_front(
    marit: SealPacket, teo: SealPacket, lodged: PacketShown
) -> None:
    assert lodged.asset
    marit.pin("asset", world.SWITCH_SERIAL)
    marit.pin("asset", world.SWITCH_SERIAL)
    used = marit.pin("person", "ines")
    assert names(used, "asset")[0] == (world.SWITCH_SERIAL, True)
    assert (lodged.asset.serial, False) in names(used, "asset")
    assert names(used, "person")[0] == ("Ines Harrowgate", True)
    assert not any(one.pinned for one in teo.often_used())
    used = marit.unpin("asset", world.SWITCH_SERIAL)
    assert world.SWITCH_SERIAL not in [name for name, _ in names(used, "asset")]
    assert marit.unpin("asset", "never-there") == used, "a pin that is not there is no fault"


@pytest.mark.parametrize("kind", ["asset", "person", "desk"])
def test_only_what_is_there_is_pinned(marit: SealPacket, kind: str) -> None:
    with pytest.raises(Refused):
        marit.pin(kind, "nobody-knows-this")
