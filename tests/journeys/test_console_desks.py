"""Desks in the console: sheets written and tried, every form of answer, drafts brought along."""

from __future__ import annotations

import json
import re
from uuid import uuid4

from playwright.sync_api import Page, expect

from sealpacket.client import SealPacket
from sealpacket.demo.house import RunningHouse
from sealpacket.demo.world import sheet_text
from tests.conftest import NOTE
from tests.journeys.browsing import faults, open_today, paste
from tests.some import SOON


def own_sheet(marit: SealPacket) -> tuple[str, str]:
    """A vendor of its own, and a sheet of a desk of it."""
    mark = uuid4().hex[:8]
    marit.vendors.add(key=f"v{mark}", name=f"Vendor {mark}")
    text = sheet_text("lumenlathe-care").replace("desk: lumenlathe-care", f"desk: d{mark}")
    text = text.replace("vendor: lumenlathe", f"vendor: v{mark}")
    return mark, text.replace("name: Lumenlathe care", f"name: Desk {mark}")


def test_a_sheet_is_mended_tried_and_kept(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    open_today(page, house)
    mark, changed = own_sheet(marit)
    page.keyboard.press("d")
    expect(page.get_by_role("heading", name="Desks")).to_be_visible()
    expect(page.get_by_role("link", name="Lumenlathe care")).to_be_visible()
    page.get_by_role("link", name="Write a sheet for a new desk").click()
    text = page.get_by_label("The sheet in YAML")
    expect(text).to_contain_text("desk: a-desk")
    keep = page.get_by_role("button", name="Save", exact=True)
    expect(page.get_by_text("No findings.")).to_be_visible()

    text.click()
    paste(page, changed)
    expect(page.locator("pre", has_text="== CARE CASE ==")).to_be_visible()
    paste(page, changed.replace("prefill: site.mailing", "prefill: site.mialing"))
    expect(page.get_by_text("There is no fact site.mialing.")).to_be_visible()
    expect(keep).to_be_disabled()
    expect(page.get_by_text("Shows the last valid version.")).to_be_visible()
    expect(page.locator("pre", has_text="== CARE CASE ==")).to_be_visible()
    page.get_by_role("button", name=re.compile(r"line \d+ address")).click()
    expect(text).to_be_focused()
    page.get_by_role("button", name="Write site.mailing").first.click()
    expect(page.get_by_text("No findings.")).to_be_visible()
    page.get_by_label("Kind of need").select_option("return")
    expect(page.get_by_text("Request: exchange")).to_be_visible()
    assert faults(page) == []
    keep.click()
    expect(page.get_by_text("version 1 of its sheet")).to_be_visible()
    assert marit.desk(f"d{mark}").yaml == changed


def test_the_way_back_is_tried_before_the_desk_ever_writes(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    page.goto(f"{house.address}/desks/lumenlathe-care")
    page.get_by_role("tab", name="Replies").click()
    page.get_by_role("button", name="OVER TO YOU").click()
    expect(page.get_by_text("OVER TO YOU: lodged, our turn")).to_be_visible()
    page.get_by_label("A reply of the desk").fill("Case: LL-1\nStatus: PONDERING\n\nWe think.")
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_text("The status “PONDERING” is not listed")).to_be_visible()
    assert faults(page) == []
    page.get_by_role("tab", name="Trial").click()
    page.get_by_role("button", name="Try").click()
    expect(page.get_by_text("It plays to its end.")).to_be_visible(timeout=20_000)
    expect(page.get_by_label("Acts of the trial").get_by_role("listitem")).to_have_count(11)
    assert faults(page) == []
    page.get_by_role("tab", name="In sentences").click()
    expect(page.get_by_text("Takes faults by support or warranty.")).to_be_visible()


def test_names_and_facts_are_completed_and_a_sheet_begins_with_a_file(
    page: Page, house: RunningHouse
) -> None:
    page.goto(f"{house.address}/desks/new")
    text = page.get_by_label("The sheet in YAML")
    text.click()
    page.keyboard.press("Control+End")
    page.keyboard.type("evid")
    expect(page.get_by_role("option", name="evidence")).to_be_visible()
    page.wait_for_timeout(200)  # the editor takes no Enter in the moment in which a list appears
    page.keyboard.press("Enter")
    expect(text).to_contain_text("evidence: ")
    page.keyboard.type("[{what: x, when: {fact: asset.soft")
    expect(page.get_by_role("option", name="asset.software_version")).to_be_visible()
    page.keyboard.press("Escape")
    openapi = {"openapi": "3.1.0", "paths": {"/tickets": {"post": {"requestBody": {"content": {
        "application/json": {"schema": {"properties": {"serial": {"type": "string"}}}}}}}}}}  # fmt: skip
    page.get_by_label("A file of the vendor's").set_input_files(
        {"name": "api.json", "mimeType": "application/json", "buffer": json.dumps(openapi).encode()}
    )
    expect(text).to_contain_text("lodge: /tickets")
    expect(page.get_by_text("Still to be confirmed: its short name.")).to_be_visible()
    assert faults(page) == []


def test_every_form_of_answer_is_filled_in(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    packet = marit.packets.note(
        "Cores for the failover test", "", asset="HM-204471", need="capacity"
    )
    page.goto(f"{house.address}/packets/{packet.number}/questions")
    page.get_by_label("Region, row 1").select_option("north-1")
    page.get_by_label("What, row 1").select_option("general cores")
    page.get_by_label("Limit now, row 1").fill("64")
    page.get_by_label("Limit wanted, row 1").fill("60")
    page.keyboard.press("Enter")
    expect(
        page.get_by_role("alert").filter(has_text="60 is not above “Limit now”, 64")
    ).to_be_visible()
    page.get_by_label("Limit wanted, row 1").fill("160")
    page.keyboard.press("Enter")
    page.get_by_label("By which day is it needed?").fill(SOON)
    page.keyboard.press("Enter")
    page.get_by_label("What is it for?").fill("The failover test of December, until the new year.")
    page.keyboard.press("Tab")
    expect(page.get_by_label("In which state?")).to_have_count(0)
    page.get_by_label("In which country is the bill paid?").select_option("US")
    expect(page.get_by_label("In which state?")).to_be_visible()
    expect(
        page.get_by_text("asked because “In which country is the bill paid?” is US, CA, AU or IN")
    ).to_be_visible()
    page.get_by_label("In which state?").select_option("US-OH")
    page.get_by_label("Teo Valcourt").check()
    expect(page.get_by_text("Nothing stops it.").first).to_be_visible()
    assert faults(page) == []
    page.get_by_role("link", name=re.compile("Letter")).click()
    expect(page.get_by_text('"newLimit": 160')).to_be_visible()
    assert (
        marit.packets.get(packet.number).questions[0].answer.value
        == "north-1 | general cores | 64 | 160"
    )


def test_a_claim_with_its_consent_is_lodged_and_its_rma_is_shown(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    note = "Since the power cut of Sunday the battery alarm is on; nothing was changed, a self-test was tried."
    packet = marit.packets.note(
        "Battery of the UPS alarms", note, asset="SW3K-70455", need="return"
    )
    page.goto(f"{house.address}/packets/{packet.number}/questions")
    page.locator("#q-what").click()
    expect(page.locator("#q-what")).to_be_checked()
    page.get_by_label("Since which day?").fill("2026-11-22")
    page.keyboard.press("Enter")
    page.get_by_label("What load does it carry?", exact=True).fill("2")
    page.keyboard.press("Enter")
    page.get_by_label("Part, row 1").fill("Battery SB-12")
    page.get_by_label("Pieces, row 1").fill("4")
    page.get_by_label("Weight in kg, row 1").fill("24")
    page.keyboard.press("Enter")
    expect(page.get_by_text("we declare that it may be carried by road")).to_be_visible()
    page.get_by_label("Yes, agreed").click()
    expect(page.get_by_label("Yes, agreed")).to_be_checked()
    expect(page.get_by_text("Nothing stops it.").first).to_be_visible()
    page.get_by_role("button", name="Seal").click()
    page.get_by_role("button", name="Lodge").click()
    page.get_by_role("link", name=re.compile("Replies")).click()
    look = page.get_by_role("button", name="Look now")
    expect(look).to_be_visible()
    rma = page.get_by_text(re.compile(r"^RMA-\d+$")).first
    for _ in range(20):
        look.click()
        page.wait_for_timeout(500)
        if rma.is_visible():
            break
    expect(rma).to_be_visible()
    assert faults(page) == []


def test_a_draft_is_brought_along_to_a_newer_sheet(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    mark = uuid4().hex[:8]
    marit.vendors.add(key=f"v{mark}", name=f"Vendor {mark}")
    marit.products.add(vendor=f"v{mark}", part_number="X-1", name="Thing")
    marit.assets.add(vendor=f"v{mark}", product="X-1", serial=f"X-{mark}")
    text = sheet_text("tarnfell-support").replace("desk: tarnfell-support", f"desk: d{mark}")
    text = text.replace("vendor: tarnfell", f"vendor: v{mark}")
    marit.put_sheet(text)
    packet = marit.packets.note("It does not start", NOTE, asset=f"X-{mark}")
    marit.packets.answer(packet.number, severity="4")
    marit.put_sheet(
        text.replace(
            '      - value: "4"\n        label: "4 · no hurry"\n',
            '      - value: "5"\n        label: "5 · no hurry"\n',
        )
    )
    page.goto(f"{house.address}/packets/{packet.number}/questions")
    page.get_by_role("button", name="See what would change").click()
    expect(page.get_by_text("What was answered cannot stay: How bad is it?")).to_be_visible()
    assert faults(page) == []
    page.get_by_role("button", name="Bring it along").click()
    expect(page.get_by_text("See what would change")).to_have_count(0)
    expect(page.get_by_label("5 · no hurry")).to_be_visible()
