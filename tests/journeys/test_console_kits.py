"""Collecting by kits, drafts that begin anywhere, and the know-how, in the console."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from sealpacket.client import SealPacket
from sealpacket.demo import world
from sealpacket.demo.house import RunningHouse
from tests.journeys.browsing import IN_HAND, faults

pytestmark = pytest.mark.usefixtures("devices")

PASTE = """async () => {
  const bytes = Uint8Array.from(atob(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='
  ), (c) => c.charCodeAt(0));
  const data = new DataTransfer();
  data.items.add(new File([bytes], 'image.png', { type: 'image/png' }));
  const paste = new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true });
  document.activeElement.dispatchEvent(paste);
}"""


def test_a_kit_is_looked_at_confirmed_and_run_by_two_keys(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    noted = marit.packets.note("Cards are not read", asset=world.KIOSK_SERIAL)
    page.goto(f"{house.address}/packets/{noted.number}/exhibits")
    expect(page.get_by_role("button", name="See what it runs")).to_be_visible()
    page.keyboard.press("k")
    dialog = page.get_by_role("dialog", name="Diagnostics of a kiosk")
    expect(dialog.get_by_text("files of 127.0.0.1 by SFTP: /etc/identity.txt")).to_be_visible()
    assert faults(page) == []
    page.keyboard.press("Enter")
    expect(page.get_by_text("It answers error_code: E417")).to_be_visible(timeout=IN_HAND)
    expect(page.get_by_text("by kit lumenlathe-kiosk").first).to_be_visible()
    packet = marit.packets.wait(noted.number)
    assert {one.name for one in packet.exhibits} >= {"lendd.log", "identity.txt"}


def test_a_picture_pasted_over_a_dialog_goes_with_the_note(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    page.goto(f"{house.address}/contracts")
    expect(page.get_by_role("heading", name="Contracts")).to_be_visible()
    page.keyboard.press("n")
    page.get_by_role("textbox", name="In one line").fill("Kiosk at Kettle Wharf shows a picture")
    expect(page.get_by_text("It may be about")).to_be_visible()
    page.evaluate(PASTE)
    question = page.get_by_role("dialog", name="What is this for?")
    expect(question).to_be_visible()
    assert faults(page) == []
    question.get_by_role("button", name="Put it with the note").click()
    page.get_by_role("textbox", name="In one line").press("F2")
    page.get_by_role("button", name="Note it").click()
    expect(page.get_by_role("navigation", name="Packing list")).to_contain_text("Exhibits")
    number = page.url.rsplit("/packets/", 1)[1].split("/")[0]
    packet = marit.packets.wait(number)
    assert packet.asset is not None
    assert packet.asset.serial == "LK40-7731-0930"
    assert [one.name.startswith("screen-") for one in packet.exhibits] == [True]


def test_a_picture_pasted_on_any_page_is_asked_about_first(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    before = len(list(marit.packets.list()))
    page.goto(f"{house.address}/desks")
    expect(page.get_by_role("heading", name="Desks")).to_be_visible()
    page.evaluate(PASTE)
    page.get_by_role("button", name="Leave it").click()
    expect(page.get_by_role("dialog")).to_be_hidden()
    assert len(list(marit.packets.list())) == before
    page.evaluate(PASTE)
    page.get_by_role("button", name="Note a packet with it").click()
    expect(page.get_by_role("dialog", name="What happened?")).to_contain_text("goes with it")


def test_what_was_tried_and_exhibits_of_others_are_added(
    page: Page, house: RunningHouse, marit: SealPacket, tmp_path: Path
) -> None:
    first = marit.packets.note("The screen is dark", asset="LK40-7731-0934")
    path = tmp_path / "screen.log"
    path.write_text("2026-11-28T08:00:00Z br07-kiosk1 lendd[1]: dark\n")
    marit.exhibits.add(first.number, path)
    second = marit.packets.note("The screen is dark again", asset="LK40-7731-0934")
    page.goto(f"{house.address}/packets/{second.number}/thing")
    page.get_by_label("Tried", exact=True).fill("Switched it off and on")
    page.get_by_label("Result", exact=True).fill("It stays dark")
    page.get_by_role("button", name="Note the step").click()
    expect(page.get_by_text("Switched it off and on: It stays dark")).to_be_visible()
    page.goto(f"{house.address}/packets/{second.number}/exhibits")
    page.get_by_role("button", name="Attach one of another packet").click()
    page.get_by_label("Its number").fill(first.number)
    page.get_by_role("button", name="Attach it").click()
    expect(page.get_by_role("button", name="screen.log").first).to_be_visible(timeout=IN_HAND)
    marit.packets.withdraw(first.number, "One packet is enough.")
    page.goto(f"{house.address}/packets/{first.number}/exhibits")
    page.get_by_role("button", name="Delete the originals").click()
    page.get_by_role("dialog").get_by_role("textbox").fill("no need any more")
    page.get_by_role("button", name="Delete them").click()
    expect(page.get_by_text("The originals were deleted")).to_be_visible()


def test_the_know_how_is_read_and_written(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    page.goto(f"{house.address}/desks")
    expect(page.get_by_role("heading", name="Desks")).to_be_visible()
    page.keyboard.press("w")
    page.get_by_role("button", name="Write one").click()
    page.get_by_label("Key").fill("dark-screen")
    page.get_by_label("Title").fill("A kiosk's screen stays dark")
    page.get_by_role("textbox", name="Text").fill(
        "# First\n\n1. Pull the plug for *a minute*.\n2. See [the manual](https://lumenlathe.example/m)."
    )
    assert faults(page) == []
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_role("button", name="A kiosk's screen stays dark").click()
    steps = page.get_by_role("dialog").get_by_role("listitem")
    expect(steps).to_have_count(2)
    expect(steps.first).to_have_text("Pull the plug for a minute.")
    expect(steps.last.get_by_role("link", name="the manual")).to_have_attribute("rel", "noreferrer")
    assert faults(page) == []
    page.keyboard.press("Escape")
    page.keyboard.press("n")
    page.get_by_label("In one line").fill("The kiosk's screen stays dark")
    written = page.get_by_role("region", name="Written down")
    written.get_by_role("button", name="A kiosk's screen stays dark").click()
    expect(page.get_by_role("heading", name="First")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_label("In one line")).to_have_value("The kiosk's screen stays dark")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Known issues").click()
    page.get_by_role("button", name="Add one").click()
    page.get_by_label("Key").fill("dark-screen")
    page.get_by_label("Title").fill("Screen lost")
    page.get_by_label("Pattern").fill("screen [a-z]+ lost")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="Screen lost")).to_be_visible()
    page.get_by_role("link", name="Diagnostic kits").click()
    page.get_by_role("button", name="Diagnostics of a switch").click()
    expect(page.get_by_text("by SSH: print full report")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Safe").click()
    page.get_by_role("button", name="Keep one").click()
    page.get_by_label("Name").fill("try/console")
    page.get_by_label("Value").fill("gannet-71")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="try/console")).to_be_visible()
    assert faults(page) == []
    marit.safe.remove("try/console")
    marit.known_issues.remove("dark-screen")
    marit.articles.remove("dark-screen")
