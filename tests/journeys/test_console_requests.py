"""Requests in the console: a plan becomes a packet, a table becomes packets, a licence shows its key; renewals, replacements, and reports of vendors."""

from __future__ import annotations

from playwright.sync_api import Page, expect
from sqlalchemy import delete

from sealpacket.app.context import AppContext
from sealpacket.client import SealPacket
from sealpacket.demo.house import RunningHouse
from sealpacket.demo.stories import PLAN
from sealpacket.services import vendor_health
from sealpacket.store.models import VendorFeed


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


def test_the_end_of_a_term_is_decided_and_a_quote_asked_for(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    page.goto(f"{house.address}/contracts/T-2210")
    section = page.get_by_role("region", name="End of the term")
    expect(section).to_contain_text("Nothing is decided yet.")
    page.keyboard.press("e")
    form = page.get_by_role("dialog", name="Decide about the end of the term")
    form.get_by_label("Decision").select_option("renew")
    form.get_by_label("Quoted cost").fill("12432")
    form.get_by_label("Currency of the quote").fill("GBP")
    form.get_by_label("Why").fill("Two arrays depend on it.")
    form.get_by_role("button", name="Keep it").click()
    expect(section).to_contain_text("the quote is 12,432.00 GBP (+5 %). Two arrays depend on it.")
    page.goto(house.address)
    ending = page.get_by_role("complementary", name="Ending soon")
    expect(ending).to_contain_text("renew, notice in")
    page.goto(f"{house.address}/contracts/T-2210")
    page.get_by_role("button", name="Ask for a quote").click()
    title = "Quote for the renewal of our contract"
    expect(page.get_by_role("heading", level=1)).to_have_text(title)
    number = page.url.rsplit("/packets/", 1)[1].split("/")[0]
    (asked,) = marit.contracts.compare_renewal("T-2210").asked
    assert (asked.packet, asked.wanted) == (number, "quote")


def test_a_replacement_is_scanned_and_swapped(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    serial = "OBS4-881101"
    marit.assets.add(vendor="ovenbird", product="OB-S48", serial=serial, site="book-store")
    packet = marit.packets.note("The switch is dead", "It shows no light.", asset=serial)
    marit.packets.note_shipment(packet.number, "to_us", "A new switch")
    page.goto(f"{house.address}/packets/{packet.number}/replies")
    page.get_by_role("button", name=f"It replaces {serial}").click()
    form = page.get_by_role("dialog", name=f"A replacement for {serial} has arrived")
    form.get_by_label("Code on its label, or its serial").fill(f"SN:{serial};PN:OB-S48")
    form.get_by_role("button", name="Check and swap it").click()
    expect(form.get_by_role("alert")).to_contain_text("is the unit that is replaced")
    form.get_by_label("Code on its label, or its serial").fill("SN:OBS4-881102;PN:OB-S48")
    form.get_by_role("button", name="Check and swap it").click()
    expect(form).to_be_hidden()
    assert marit.assets.get(serial).status == "retired"
    assert marit.assets.get("OBS4-881102").site == "book-store"


def test_trouble_at_a_vendor_is_on_today_and_beside_the_packet(
    page: Page, house: RunningHouse, marit: SealPacket, inside: AppContext
) -> None:
    title = "OB-ST4 stacks lose a member"
    house.steer("ovenbird", report={"id": "J-1", "state": "investigating", "title": title})
    with inside.database.transaction() as session:
        session.execute(delete(VendorFeed))
    vendor_health.read_all(inside)
    packet = marit.packets.note("The stack is slow", asset="OBT4-300118")
    page.goto(house.address)
    reported = page.get_by_role("list", name="Reported by vendors")
    expect(reported).to_contain_text(f"Ovenbird Networks: {title}")
    page.goto(f"{house.address}/packets/{packet.number}")
    expect(page.get_by_role("list", name="Reported by the vendor")).to_contain_text(title)
    page.goto(f"{house.address}/notices/health")
    expect(page.get_by_role("article", name=title)).to_contain_text("Ovenbird ST4 switch stack")
