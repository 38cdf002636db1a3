"""What a log says, in the console: its summary, the hours that matter, and when it began."""

from __future__ import annotations

import re
from datetime import UTC, datetime, timedelta
from pathlib import Path

from playwright.sync_api import Page, expect

from sealpacket.client import SealPacket
from sealpacket.demo.house import RunningHouse
from tests.journeys.browsing import IN_HAND, faults

START = (datetime.now(UTC) - timedelta(hours=40)).replace(minute=0, second=0, microsecond=0)


def write_log(path: Path) -> Path:
    lines = [
        f"{START + timedelta(minutes=minute):%Y-%m-%dT%H:%M:%SZ} br01-kiosk2 lendd[{minute}]: card {minute} kept"
        for minute in range(2400)
    ]
    lines += [
        f"{line[:20]} br01-kiosk2 lendd[9]: ERROR E0417 card reader lost"
        for line in lines[2000:2040]
    ]
    path.write_text("\n".join(sorted(lines)) + "\n")
    return path


def test_the_hours_that_matter_are_chosen_on_the_summary(
    page: Page, house: RunningHouse, marit: SealPacket, tmp_path: Path
) -> None:
    noted = marit.packets.note(
        "Card reader stays dark", "Dark since yesterday 09:00.", asset="LK40-7731-0927"
    )
    marit.packets.answer(noted.number, request="repair")
    marit.exhibits.add(noted.number, write_log(tmp_path / "lendd.log"))
    marit.packets.wait(noted.number)
    page.goto(f"{house.address}/packets/{noted.number}/exhibits")
    page.get_by_role("button", name=re.compile("since yesterday 09:00")).click()
    expect(page.get_by_role("button", name=re.compile("since yesterday"))).to_be_hidden()
    assert marit.packets.get(noted.number).began_at is not None
    page.get_by_role("button", name="lendd.log").first.click()
    page.get_by_role("button", name="What it says").click()
    timeline = page.get_by_role("slider", name=re.compile("Hours of the log"))
    expect(timeline).to_be_visible()
    expect(page.get_by_text("2,440 lines")).to_be_visible()
    edges = timeline.bounding_box()
    assert edges is not None
    page.mouse.move(edges["x"] + edges["width"] * 0.8, edges["y"] + 40)
    page.mouse.down()
    page.mouse.move(edges["x"] + edges["width"] * 0.9, edges["y"] + 40)
    page.mouse.up()
    expect(page.get_by_text("New in these hours")).to_be_visible()
    expect(page.get_by_text("ERROR E0417 card reader lost").first).to_be_visible()
    timeline.focus()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Keep only these hours")).to_be_hidden()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    assert faults(page) == []
    page.get_by_role("button", name="Keep only these hours").click()
    expect(page.get_by_text("2,440 lines")).to_be_hidden(timeout=IN_HAND)
    packet = marit.packets.wait(noted.number)
    first, last = packet.exhibits[0].first_at, packet.exhibits[0].last_at
    assert first is not None
    assert last is not None
    assert timedelta(hours=2) < last - first < timedelta(hours=7)
