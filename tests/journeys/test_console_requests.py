"""Requests in the console: a plan becomes a packet, a table becomes packets, a licence shows its key."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from sealpacket.client import SealPacket
from sealpacket.demo.house import RunningHouse
from sealpacket.demo.stories import PLAN


def test_what_a_plan_lacks_is_asked_for_in_a_packet(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    page.goto(f"{house.address}/limits?vendor=hollowmere")
    page.get_by_text("Does it fit?").click()
    page.get_by_label("A table with the columns").fill(PLAN)
    page.get_by_role("button", name="Compare").click()
    row = page.get_by_role("row").filter(has_text="north-1 lost")
    expect(row).to_contain_text("116")
    page.get_by_label("Account", exact=True).fill("HM-204471")
    page.get_by_role("button", name="Ask for these 3 in a packet").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("More general cores, memory cores")
    number = page.url.rsplit("/packets/", 1)[1].split("/")[0]
    packet = marit.packets.get(number)
    rows = {one.id: one.answer.value for one in packet.questions}["wanted"]
    assert rows is not None
    assert "north-2 | general cores | 0 | 116" in rows.splitlines()


def test_a_table_becomes_packets_and_a_failed_row_is_corrected(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    page.goto(f"{house.address}/batches?assets=LK40-7731-0926,LK40-0000")
    expect(page.get_by_label("The rows")).to_have_value("asset\nLK40-7731-0926\nLK40-0000")
    page.get_by_label("Title", exact=True).fill("Recall of two")
    page.get_by_label("Kind").select_option("question")
    page.get_by_role("button", name="Preview").click()
    expect(page.get_by_text("There is no asset LK40-0000.")).to_be_visible()
    page.get_by_role("button", name="Note 2 packets").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Recall of two")
    again = page.get_by_role("button", name="Try 1 row again")
    page.get_by_label("Asset of row 2").fill("LK40-7731-0927")
    again.click()
    expect(page.get_by_text("drafting")).to_have_count(2)
    expect(again).to_have_count(0)
    batch = next(one for one in marit.batches.batches() if one.title == "Recall of two")
    assert (batch.noted, batch.failed) == (2, 0)


def test_a_licence_shows_its_key_on_request(page: Page, house: RunningHouse) -> None:
    page.goto(f"{house.address}/licences")
    row = page.get_by_role("row").filter(has_text="TN9-44120-A")
    expect(row).not_to_contain_text("TFK9")
    row.get_by_role("button", name="show").click()
    expect(row).to_contain_text("TFK9-MIRROR-55A1-88C0-2210")
