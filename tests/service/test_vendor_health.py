"""Trouble and maintenance that vendors report, read from their stand-ins' feeds and matched to what we have."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from sqlalchemy import delete

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import VendorReportShown
from sealpacket.demo.house import RunningHouse
from sealpacket.services import vendor_health
from sealpacket.store.models import VendorFeed
from tests import plain_http

Publish = Callable[..., None]
Command = Callable[..., str]


@pytest.fixture
def publish(house: RunningHouse, inside: AppContext) -> Publish:
    """Have a vendor report something, and read its feed."""

    def act(vendor: str, ident: str, **report: Any) -> None:
        said = {"id": ident, "state": "investigating", **report}
        house.steer(vendor, report=said)
        read(inside)

    return act


def read(inside: AppContext) -> None:
    with inside.database.transaction() as session:
        session.execute(delete(VendorFeed).where(VendorFeed.about == "health"))
    vendor_health.read_all(inside)


def found(client: SealPacket, title: str, **about: Any) -> VendorReportShown | None:
    items = client.notices.vendor_health(**about).items
    return next((one for one in items if one.title == title), None)


def soon(**ahead: int) -> str:
    return (datetime.now(UTC) + timedelta(**ahead)).isoformat(timespec="seconds")


def test_trouble_names_our_product_and_may_explain_a_packet(
    marit: SealPacket, publish: Publish, cli: Command
) -> None:
    publish("ovenbird", "T-1", title="OB-F220 firewalls restart", text="Since the new rules.")
    one = found(marit, "OB-F220 firewalls restart")
    assert one is not None
    assert (one.vendor, one.sort, one.state) == ("ovenbird", "trouble", "ongoing")
    assert one.products == [marit.assets.get("OBF2-118804").product_name]

    packet = marit.packets.note("The edge firewall restarts", asset="OBF2-118804")
    other = marit.packets.note("The stack is slow", asset="OBT4-300118")
    assert found(marit, one.title, packet=packet.number)
    assert found(marit, one.title, asset="OBF2-118804")
    assert not found(marit, one.title, packet=other.number)
    assert not found(marit, one.title, asset="TN9-44120-A"), "of another vendor"
    assert any(x.title == one.title for x in marit.today().reports)

    assert one.title in cli("vendor", "health", "--packet", packet.number, "--json")
    assert "Ovenbird Networks reports since" in cli("packet", "show", packet.number)
    noted = cli("packet", "note", "The firewall restarts again", "--asset", "OBF2-118804")
    assert one.title in noted

    publish("ovenbird", "T-1", title="OB-F220 firewalls restart", state="Resolved")
    assert not found(marit, one.title)
    over = found(marit, one.title, over=True)
    assert over is not None
    assert over.state == "over"
    assert over.begins_at == one.begins_at, "it began when it was first reported"
    assert found(marit, one.title, packet=packet.number), "it still may explain it"
    assert not any(x.title == one.title for x in marit.today().reports)


def test_people_are_notified_of_trouble_until_it_is_over(
    marit: SealPacket, publish: Publish
) -> None:
    def notified(title: str) -> list[str]:
        return [
            one.place
            for one in marit.notices.list()
            if one.kind == "vendor_trouble" and one.title == title
        ]

    publish("ovenbird", "T-2", title="OB-ST4 stacks lose a member")
    publish("ovenbird", "T-2", title="OB-ST4 stacks lose a member", text="A mend is tested.")
    assert notified("OB-ST4 stacks lose a member") == ["/notices/health"]
    publish("ovenbird", "T-3", title="The training portal is slow")
    assert not notified("The training portal is slow"), "nothing of ours is named"
    publish("ovenbird", "T-2", title="OB-ST4 stacks lose a member", state="Resolved")
    assert not notified("OB-ST4 stacks lose a member")


def test_what_a_feed_lists_no_more_is_over(
    house: RunningHouse, marit: SealPacket, publish: Publish, inside: AppContext
) -> None:
    title = "OB-ST4 stacks forget their names"
    publish("ovenbird", "T-9", title=title)
    assert found(marit, title)
    house.steer("ovenbird", unlist="T-9")
    read(inside)
    assert not found(marit, title)
    over = found(marit, title, over=True)
    assert over is not None
    assert over.state == "over"
    assert title not in [one.title for one in marit.notices.list()]
    publish("ovenbird", "T-9", title=title)
    assert found(marit, title), "it is reported again"


def test_planned_work_in_a_region_is_told_before_it_is_asked_for(
    marit: SealPacket, publish: Publish
) -> None:
    title = "North-2 gets new power supplies"
    publish(
        "hollowmere", "W-1", kind="work", title=title, places=["north-2"],
        **{"from": soon(days=1), "until": soon(days=1, hours=4)},
    )  # fmt: skip
    one = found(marit, title, asset="HM-204471")
    assert one is not None
    assert (one.sort, one.state, one.regions) == ("maintenance", "planned", ["north-2"])
    here = marit.packets.note("More cores in north-2", asset="HM-204471", need="change")
    there = marit.packets.note(
        "More cores in north-1", "North-2 will do.", asset="HM-204471", need="change"
    )
    assert found(marit, title, packet=here.number)
    assert found(marit, title, packet=there.number)

    calendar = plain_http.get(marit.new_calendar()).text
    assert f"Hollowmere Cloud: {title}" in calendar.replace("\r\n ", "")


def test_work_in_another_region_explains_nothing(marit: SealPacket, publish: Publish) -> None:
    publish("hollowmere", "W-2", title="Machines in north-1 stop", places=["north-1"])
    publish("hollowmere", "W-3", title="Machines in north-2 stop", places=["north-2"])
    packet = marit.packets.note("A machine in north-1 stops", asset="HM-204471")
    assert found(marit, "Machines in north-1 stop", packet=packet.number)
    assert not found(marit, "Machines in north-2 stop", packet=packet.number)


def test_a_feed_that_fails_says_so_and_keeps_what_is_known(
    house: RunningHouse,
    marit: SealPacket,
    publish: Publish,
    inside: AppContext,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    publish("ovenbird", "T-4", title="OB-F220 licences are not renewed")
    feeds = dict(inside.settings.health_feeds)
    broken = feeds["ovenbird"].model_copy(update={"address": f"{house.address}/api/v1/me"})
    monkeypatch.setattr(inside.settings, "health_feeds", feeds | {"ovenbird": broken})
    read(inside)
    trouble = {one.vendor: one.trouble for one in marit.notices.vendor_health().feeds}
    assert trouble.pop("ovenbird") == "It answered with HTTP 401."
    assert not any(trouble.values())
    assert found(marit, "OB-F220 licences are not renewed")


def test_an_asset_and_a_packet_at_once_are_refused(marit: SealPacket) -> None:
    with pytest.raises(Refused, match="Both an asset and a packet"):
        marit.notices.vendor_health(asset="HM-204471", packet="P-0001")
    with pytest.raises(Refused, match="no asset"):
        marit.notices.vendor_health(asset="no such thing")
