"""Every kind of need for every kind of thing: each ends with a ruling, checks and a letter, and none with an error."""

from __future__ import annotations

from typing import get_args

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.core.coverage import Need


def things(client: SealPacket) -> dict[str, str]:
    """By vendor and route, a serial: of each kind of cover that the demo world knows, and of each desk."""
    found: dict[str, str] = {}
    for row in client.cover_everything():
        found.setdefault(f"{row.vendor} by {row.route}", row.serial)
    return found


@pytest.mark.parametrize("need", get_args(Need))
def test_a_need_is_walked_through_for_everything(marit: SealPacket, need: str) -> None:
    walked = things(marit)
    assert len(walked) > 8
    for what, serial in walked.items():
        ruling = marit.coverage(serial, need)
        packet = marit.packets.note(
            f"Walking {need}", "Since this morning it is not as it was.", need=need, asset=serial
        )
        assert packet.ruling
        assert (packet.ruling.need, packet.ruling.route) == (need, ruling.route), what
        assert packet.checks, what
        try:
            assert marit.packets.letter(packet.number).cases, what
        except Refused as refused:
            assert refused.code == "no-desk", what
    assert sum(1 for _ in marit.cover_everything(need)) >= len(walked)
    changed = marit.packets.note("Walking on", "", asset=next(iter(walked.values())))
    assert marit.packets.change(changed.number, need=need).need == need
