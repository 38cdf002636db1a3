"""Every page of the console in light, dark and narrow: axe finds nothing, and nothing is cut off."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Browser, expect

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo import evidence
from sealpacket.demo.house import RunningHouse
from tests.conftest import add
from tests.journeys.browsing import faults, go_on, open_page, sign_in

PAGES = ["/", "/packets", "/assets", "/packets/{number}/thing", "/packets/{number}/ruling", "/packets/{number}/questions",
         "/packets/{number}/exhibits", "/packets/{number}/exhibits/array.cfg", "/packets/{number}/letter",
         "/contracts", "/contracts/T-2210", "/entitlements", "/assets/TN9-44120-A", "/ahead", "/imports", "/order-documents",
         "/statements", "/desks", "/desks/lumenlathe-care", "/desks/new", "/webhooks", "/limits", "/lots", "/licences",
         "/releases", "/batches", "/contracts/HC-1180"]  # fmt: skip


DARK = ("/", "/assets", "/packets/{number}/questions", "/packets/{number}/exhibits/array.cfg", "/contracts/T-2210", "/ahead",
        "/order-documents", "/desks/lumenlathe-care")  # fmt: skip
"""Colours stand in one place; these pages use all of them."""


def test_every_page_is_accessible_and_fits_a_narrow_screen(
    browser: Browser, house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(marit, noted.number, tmp_path / "array.cfg", evidence.CONFIGURATION.encode())
    page = open_page(browser, house, None)
    page.goto(house.address)
    assert faults(page, dark=True) == []
    sign_in(page, house, "marit")
    for path in PAGES:
        if "{number}" in path or path == "/":
            page.goto(house.address + path.format(number=noted.number))
        else:
            go_on(page, path)
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        assert faults(page, dark=path in DARK) == [], path
        page.set_viewport_size({"width": 360, "height": 740})
        width = page.evaluate("document.documentElement.scrollWidth")
        assert width <= 360, (path, width, "narrow screens scroll only downwards")
        page.set_viewport_size({"width": 1280, "height": 800})
    page.keyboard.press("n")
    assert faults(page) == []
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.keyboard.type("array")
    expect(page.get_by_role("option").first).to_be_visible()
    assert faults(page) == []
    page.context.close()
