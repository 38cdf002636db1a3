"""Every kind of need for every kind of thing: each ends with a ruling, checks and a letter, and none with an error."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import get_args

import pytest

from sealpacket.client import SealPacket
from sealpacket.client.models import Covered
from sealpacket.core.coverage import Need
from sealpacket.demo.world import world


@pytest.fixture(scope="module")
def walked(marit: SealPacket) -> dict[str, str]:
    """By vendor and route, the id of an asset: of each kind of cover that the demo world knows, and of each desk.

    What other tests have added to the house is left alone: its serials may be there twice.
    """
    vendors = {vendor["key"] for vendor in world()["vendors"]}
    found: dict[str, Covered] = {}
    for row in marit.cover_everything():
        if row.vendor in vendors:
            found.setdefault(f"{row.vendor} by {row.route}", row)
    return {
        what: next(marit.assets.list(row.serial, vendor=row.vendor)).id
        for what, row in found.items()
    }


@pytest.mark.parametrize("need", get_args(Need))
def test_a_need_is_walked_through_for_everything(
    marit: SealPacket, walked: dict[str, str], need: str
) -> None:
    assert len(walked) > 8
    for what, asset in walked.items():
        ruling = marit.coverage(asset, need)
        packet = marit.packets.note(
            f"Walking {need}", "Since this morning it is not as it was.", need=need, asset=asset
        )
        assert packet.ruling
        assert (packet.ruling.need, packet.ruling.route) == (need, ruling.route), what
        assert packet.checks, what
        assert marit.packets.letter(packet.number).cases, what
    assert len(marit.coverage_list(list(walked.values()), need).items) == len(walked)
    changed = marit.packets.note("Walking on", "", asset=next(iter(walked.values())))
    assert marit.packets.change(changed.number, need=need).need == need


@pytest.mark.parametrize(
    ("need", "asset"),
    [
        ("capacity", "HM-204471"),
        ("change", "HM-204471"),
        ("question", "HM-204471"),
        ("help", "PW-LIC-5520"),
        ("return", "SW3K-70455"),
        ("tie", "OBF2-118804"),
        ("improvement", "LK40-7731-0926"),
        ("question", "TN9-44120-A"),
    ],
)
def test_a_request_asks_for_three_values_at_most(marit: SealPacket, need: str, asset: str) -> None:
    """Beside its title and note; what is chosen from a few or agreed to is no typing."""
    packet = marit.packets.note(
        "A request", "We ask for it for the new branch; nothing was changed, a restart was tried.",
        need=need, asset=asset, began_at=datetime.now(UTC) - timedelta(days=2),
    )  # fmt: skip
    asked = {one.id: one.form for one in packet.questions}
    open_ones = [one.target for one in packet.checks if one.code == "unanswered"]
    typed = [one for one in open_ones if asked[one] not in ("choice", "consent", "yes_no")]
    assert len(typed) <= 3, typed
    assert packet.by_hand or len(open_ones) > 0, "the rest is known"
