"""Every kind of need for every kind of thing: each ends with a ruling, checks and a letter, and none with an error."""

from __future__ import annotations

from typing import get_args

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.core.coverage import Need


def things(client: SealPacket) -> dict[str, str]:
    """A serial of each model at each kind of cover that the demo world knows."""
    found: dict[tuple[str, str], str] = {}
    for row in client.cover_everything():
        found.setdefault((row.product_name, row.route), row.serial)
    return {f"{product} by {route}": serial for (product, route), serial in found.items()}


@pytest.mark.parametrize("need", get_args(Need))
def test_a_need_is_walked_through_for_everything(marit: SealPacket, need: str) -> None:
    walked = things(marit)
    assert len(walked) > 8
    for what, serial in walked.items():
        ruling = marit.coverage(serial, need)
        assert ruling.reasons, what
        packet = marit.packets.note(
            f"Walking {need}", "Since this morning it is not as it was.", need=need, asset=serial
        )
        assert packet.ruling
        assert (packet.ruling.need, packet.ruling.route) == (need, ruling.route), what
        assert packet.checks, what
        assert marit.packets.change(packet.number, need="fault").need == "fault"
        assert marit.packets.change(packet.number, need=need).need == need
        try:
            assert marit.packets.letter(packet.number).cases, what
        except Refused as refused:
            assert refused.code == "no-desk", what
        marit.packets.withdraw(packet.number, "walked through")
    assert {row.need for row in marit.cover_everything(need) if hasattr(row, "need")} <= {need}
