"""What a sheet lets through its desk takes: sample packets made from the sheets, sent to the stand-ins."""

from __future__ import annotations

from uuid import uuid4

import pytest

from sealpacket.channels import DeskRefused, open_desk
from sealpacket.core.sheets import load_sheet, sample_packet
from sealpacket.demo.house import STANDINS, RunningHouse
from sealpacket.demo.world import sheet_text

KNOWN = {
    "tarnfell": {
        "asset.serial": "TN9-44120-A",
        "entitlement.reference": "TSE-301877",
        "asset.software_version": "7.4.2",
    },
    "ovenbird": {
        "asset.serial": "OBS4-551203",
        "contract.number": "4388",
        "login.name": "teo.valcourt@quillmere.example",
    },
}
"""What each vendor knows of us."""
SAMPLES = 60


@pytest.mark.parametrize("vendor", sorted(STANDINS))
def test_no_good_packet_is_refused_by_its_desk(house: RunningHouse, vendor: str) -> None:
    sheet = load_sheet(sheet_text(STANDINS[vendor][1]))
    known, address = KNOWN[vendor], f"http://127.0.0.1:{house.standin_ports[vendor]}"
    secret = (house.folder / f"keys/{vendor}.token").read_text()
    refused, kinds = [], set()
    with open_desk(sheet, address, known.get("login.name", ""), secret, 10) as desk:
        for seed in range(SAMPLES):
            number = f"S-{uuid4().hex[:8]}"
            sample = sample_packet(sheet, seed, {**known, "packet.number": number})
            kinds.add(str(sorted((a.question, a.value) for a in sample.answers if a.shown)))
            try:
                desk.lodge(number, sample.body, [])
            except DeskRefused as refusal:
                refused.append((seed, refusal.body))
    assert refused == []
    assert len(kinds) > SAMPLES * 0.9, "they are not all the same packet"


def test_a_desk_does_refuse_what_is_not_good(house: RunningHouse) -> None:
    """The measure above could fail: with a serial that the vendor does not know every sample is refused."""
    sheet = load_sheet(sheet_text("tarnfell-support"))
    secret = (house.folder / "keys/tarnfell.token").read_text()
    address = f"http://127.0.0.1:{house.standin_ports['tarnfell']}"
    with open_desk(sheet, address, "", secret, 10) as desk, pytest.raises(DeskRefused):
        desk.lodge(f"S-{uuid4().hex[:8]}", sample_packet(sheet, 1, {"asset.serial": "TN9-00000-Z"}).body, [])
