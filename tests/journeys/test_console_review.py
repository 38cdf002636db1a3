"""Looking at what is masked, deciding about it, and reading the desk's replies in clear."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo import evidence
from sealpacket.demo.house import RunningHouse
from tests.conftest import Tarnfell
from tests.journeys.browsing import IN_HAND, faults


def test_values_are_let_go_and_masked_and_any_line_is_shown(
    page: Page, house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    log = evidence.write_controller_log(tmp_path / "controller.log", size=1_000_000)
    log.write_bytes(log.read_bytes() + b"last line: Project Heron waits\n")
    marit.exhibits.add(noted.number, log)
    marit.packets.wait(noted.number)
    page.goto(f"{house.address}/packets/{noted.number}/exhibits/controller.log")
    expect(page.get_by_text(re.compile("finding 1 of"))).to_be_visible()

    slider = page.get_by_role("slider", name="Place in the file")
    slider.focus()
    page.keyboard.press("End")
    cell = page.get_by_role("cell", name="last line: Project Heron waits").first
    expect(cell).to_be_visible()
    cell.evaluate(
        "cell => { const range = document.createRange(), text = cell.firstChild; const at = text.data.indexOf('Project');"
        " range.setStart(text, at); range.setEnd(text, at + 13); const chosen = document.getSelection();"
        " chosen.removeAllRanges(); chosen.addRange(range); document.activeElement.blur(); }"
    )
    expect(page.get_by_role("button", name="Mask what is selected")).to_be_enabled()
    page.keyboard.press("m")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_text("Project Heron", exact=True)).to_be_visible()
    dialog.get_by_label("Reason, for the custody log").fill("a name nobody outside knows")
    dialog.get_by_role("button", name="Mask it").click()
    expect(page.get_by_text("masked", exact=True)).to_be_visible()
    assert faults(page) == []

    marit.packets.wait(noted.number)
    page.reload()
    expect(page.get_by_text(re.compile("finding 1 of"))).to_be_visible(timeout=IN_HAND)
    page.keyboard.press("v")
    page.get_by_label("Part of a value").fill("heron")
    expect(page.get_by_role("row", name=re.compile("Project Heron custom 1"))).to_be_visible()
    page.get_by_label("Part of a value").fill("br02-kiosk1")
    page.get_by_role("row", name=re.compile("^br02-kiosk1 ")).get_by_role(
        "button", name="Let it go out"
    ).click()
    dialog.get_by_label("Reason, for the custody log").fill("the desk asks about this one")
    dialog.get_by_role("button", name="Let it go out").click()
    expect(page.get_by_text("goes out", exact=True)).to_be_visible()
    marit.packets.wait(noted.number)
    copy = marit.exhibits.fetch_outgoing(
        noted.number, "controller.log", tmp_path / "out"
    ).read_text()
    assert "br02-kiosk1" in copy
    assert "Heron" not in copy


def test_a_reply_is_read_in_clear(
    page: Page,
    house: RunningHouse,
    marit: SealPacket,
    lodged: PacketShown,
    tarnfell: Tarnfell,
    tmp_path: Path,
) -> None:
    copy = marit.exhibits.fetch_outgoing(lodged.number, "array.cfg", tmp_path / "out").read_text()
    [label] = set(re.findall(r"\[secret:[a-z2-7]{10}\]", copy))
    tarnfell.steer(case=lodged.reference, say=f"Is {label} still set?")
    marit.packets.follow(lodged.number)
    page.goto(f"{house.address}/packets/{lodged.number}/replies")
    expect(page.get_by_text(f"Is {label} still set?")).to_be_visible()
    page.keyboard.press("o")
    page.get_by_label("Reason, for the custody log").fill("to answer the desk")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Is thrush-in-the-reeds still set?")).to_be_visible()
    page.get_by_role("button", name="As received").click()
    expect(page.get_by_text(f"Is {label} still set?")).to_be_visible()
    assert faults(page) == []


def test_a_box_is_drawn_on_a_picture(
    page: Page, house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    marit.exhibits.add(noted.number, evidence.write_kiosk_screen(tmp_path / "service-screen.png"))
    marit.packets.wait(noted.number)
    page.goto(f"{house.address}/packets/{noted.number}/exhibits/service-screen.png")
    original = page.get_by_alt_text("The original page")
    expect(original).to_be_visible()
    expect(page.get_by_text(re.compile("box 1 of"))).to_be_visible()
    page.get_by_role("button", name="reader 21160007731404").first.click()
    expect(page.get_by_text("21160007731404", exact=True)).to_be_visible()

    shown = original.bounding_box()
    assert shown is not None
    page.mouse.move(shown["x"] + shown["width"] * 0.79, shown["y"] + 40)
    page.mouse.down()
    page.mouse.move(shown["x"] + shown["width"] * 0.98, shown["y"] + 120, steps=4)
    page.mouse.up()
    expect(page.get_by_text("1 box drawn, not covered yet")).to_be_visible()
    page.keyboard.press("b")
    expect(page.get_by_text("2 boxes drawn, not covered yet")).to_be_visible()
    held = page.get_by_role("button", name=re.compile("^Box 2: arrows move it")).first
    expect(held).to_be_focused()
    before = held.bounding_box()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowDown")
    after = held.bounding_box()
    assert before is not None
    assert after is not None
    assert after["x"] > before["x"]
    assert after["height"] > before["height"]
    page.keyboard.press("Delete")
    expect(page.get_by_text("1 box drawn, not covered yet")).to_be_visible()
    assert faults(page) == []

    page.keyboard.press("m")
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Reason, for the custody log").fill("a reader's face")
    page.keyboard.press("Enter")
    expect(
        page.get_by_role("list", name="Boxes that were drawn").get_by_text("a reader's face")
    ).to_be_visible(timeout=IN_HAND)
    marit.packets.wait(noted.number)
    [box] = marit.exhibits.pages(noted.number, "service-screen.png").drawn
    assert (box.page, box.by) == (1, "marit")
    assert 0.75 < box.left < 0.82
    page.get_by_role("button", name="Take back").click()
    expect(page.get_by_role("list", name="Boxes that were drawn")).to_have_count(0, timeout=IN_HAND)
