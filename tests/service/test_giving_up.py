"""Desks that stay away for longer than DESK_DAYS: what waited is given up, said, and lost by nobody."""

from __future__ import annotations

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from tests.conftest import Tarnfell, until

HOUSE = {"DESK_DAYS": "0.00004"}
"""Three and a half seconds."""


def test_a_desk_that_stays_away_loses_nothing(
    house: RunningHouse, marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell
) -> None:
    house.end("stand-in tarnfell")
    try:
        marit.packets.lodge(sealed.number)
        stalled = marit.packets.wait(sealed.number)
        assert (stalled.life, stalled.lodge_state) == ("sealed", "stalled")
        assert "cannot be reached" in stalled.lodge_status_text
        assert "lodge it again when the desk is back" in stalled.lodge_status_text
    finally:
        house.begin("stand-in tarnfell")
    marit.packets.lodge(sealed.number)
    assert marit.packets.wait(sealed.number).reference


def test_an_answer_that_cannot_be_sent_says_why(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(down=True)
    marit.packets.reply(lodged.number, "Here is more.")

    def failed() -> PacketShown | None:
        packet = marit.packets.get(lodged.number)
        return packet if packet.messages[-1].failure else None

    packet = until(failed)
    assert "not well" in packet.messages[-1].failure
    assert (packet.turn, packet.messages[-1].sent) == ("ours", False)
    tarnfell.steer(down=False)
    marit.packets.follow(lodged.number)
    assert marit.packets.wait(lodged.number).turn == "ours", "a look at the desk does not hide it"
