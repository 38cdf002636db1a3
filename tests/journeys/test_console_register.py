"""The register in the console: lists, a contract, what is ahead, and a list that comes in."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from sealpacket.client import SealPacket
from sealpacket.demo.house import RunningHouse
from tests.journeys.browsing import IN_HAND, faults, open_page, open_today


@pytest.fixture
def kiosks(marit: SealPacket, tmp_path: Path) -> tuple[str, Path]:
    """A vendor of its own, and a list of its kiosks as a branch would send it."""
    number = len(list(marit.vendors.list()))
    vendor = marit.vendors.add(key=f"kiosks-{number}", name=f"Kiosk maker {number}").key
    marit.products.add(vendor=vendor, part_number="K-1", name="Kiosk")
    marit.assets.add(
        vendor=vendor, product="K-1", serial="K1-001", name="old name", site="book-store"
    )
    path = tmp_path / "kiosks.csv"
    path.write_text(
        "S/N;Part No;Label;Location;Came\nK1-001;K-1;new name;;\nK1-002;K-1;two;Quay Street;31.10.2026\nK1-003;K-9;;;\n"
    )
    return vendor, path


def test_a_list_comes_in_is_previewed_applied_and_undone(
    page: Page,
    house: RunningHouse,
    marit: SealPacket,
    kiosks: tuple[str, Path],
) -> None:
    open_today(page, house)
    vendor, path = kiosks
    page.keyboard.press("i")
    expect(page.get_by_role("heading", name="Imports")).to_be_visible()
    page.get_by_label("Of which vendor").select_option(vendor)
    page.get_by_label("File to import").set_input_files(path)
    expect(page.get_by_role("tab", name="1 changed")).to_be_visible(timeout=IN_HAND)
    expect(page.get_by_role("tab", name="1 rejected")).to_be_visible()
    expect(page.get_by_text("not used: Came")).to_be_visible()
    page.get_by_role("tab", name="1 changed").click()
    expect(page.get_by_role("row", name=re.compile("K1-001"))).to_contain_text("old name new name")
    page.get_by_role("tab", name="1 rejected").click()
    expect(page.get_by_text("There is no product K-9 in the register.")).to_be_visible()
    page.get_by_role("button", name="Choose by hand").click()
    page.get_by_label("installed on").select_option("Came")
    assert faults(page) == []
    page.get_by_role("button", name="Preview again").click()
    # The columns close when the new preview is there, and the tabs move up.
    expect(page.get_by_text("not used: Came")).to_have_count(0, timeout=IN_HAND)
    page.get_by_role("tab", name="1 new").click()
    expect(page.get_by_text("installed on 2026-10-31")).to_be_visible()
    assert [asset.serial for asset in marit.assets.list(vendor=vendor)] == ["K1-001"]
    page.keyboard.press("y")
    expect(page.get_by_text("applied", exact=True)).to_be_visible(timeout=IN_HAND)
    assert [asset.name for asset in marit.assets.list(vendor=vendor)] == ["new name", "two"]
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("undone", exact=True)).to_be_visible(timeout=IN_HAND)
    assert [asset.name for asset in marit.assets.list(vendor=vendor)] == ["old name"]


def test_what_is_chosen_by_keyboard_is_changed_alike(
    page: Page,
    house: RunningHouse,
    marit: SealPacket,
    kiosks: tuple[str, Path],
) -> None:
    vendor, _ = kiosks
    marit.assets.add(vendor=vendor, product="K-1", serial="K1-002", site="book-store")
    page.goto(f"{house.address}/assets?vendor={vendor}&sort=-serial")
    rows = page.get_by_role("table", name="Assets").locator("tbody tr")
    expect(rows).to_have_count(2)
    expect(rows.first).to_contain_text("K1-002")
    page.get_by_role("link", name="K1-002").focus()
    page.keyboard.press("x")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("x")
    expect(page.get_by_text("2 chosen")).to_be_visible()
    page.keyboard.press("e")
    page.get_by_label("Field").select_option("status")
    page.get_by_label("Becomes").select_option("spare")
    assert faults(page) == []
    page.get_by_role("button", name="Preview").click()
    expect(page.get_by_role("tab", name="2 changed")).to_be_visible()
    page.keyboard.press("y")
    expect(page.get_by_text("applied", exact=True)).to_be_visible(timeout=IN_HAND)
    assert {asset.status for asset in marit.assets.list(vendor=vendor)} == {"spare"}


def test_a_view_is_kept_in_the_address(page: Page, house: RunningHouse) -> None:
    page.goto(f"{house.address}/contracts")
    page.get_by_label("Vendor").select_option("lumenlathe")
    page.get_by_role("button", name="Ends").click()
    page.get_by_role("button", name="Ends").click()
    page.get_by_role("button", name="Columns").click()
    page.get_by_role("menuitemcheckbox", name="Grace").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("columnheader", name="Grace")).to_be_visible()
    expect(page).to_have_url(re.compile(r"vendor=lumenlathe.*sort=-ends_on.*columns=number"))
    address = page.url
    first = page.get_by_role("table").locator("tbody tr").first
    expect(first).to_contain_text("88-")
    words = first.text_content() or ""
    assert "lumenlathe" in words
    page.goto(f"{house.address}/")
    page.goto(address)
    expect(page.get_by_role("table").locator("tbody tr").first).to_have_text(words)
    expect(page.get_by_role("columnheader", name="Grace")).to_be_visible()


def test_a_contract_and_an_asset_are_drawn_over_time(page: Page, house: RunningHouse) -> None:
    page.goto(f"{house.address}/contracts")
    page.get_by_role("link", name="T-2210").click()
    expect(page.get_by_role("heading", name="Arrays, book store")).to_be_visible()
    drawn = page.get_by_role("figure", name="Terms and entitlements over time")
    expect(drawn.get_by_text(re.compile("Priority: .* days"))).to_have_count(1)
    page.get_by_role("link", name="TN9-44120-A").click()
    drawn = page.get_by_role("figure", name="Cover for a fault, day by day")
    expect(drawn.get_by_text(re.compile("^T-2210, Priority"))).to_have_count(1)
    expect(drawn.get_by_text(re.compile("^Not covered")).first).to_be_attached()
    page.get_by_role("combobox").select_option("question")
    expect(page.get_by_role("figure", name="Cover for a question, day by day")).to_be_visible()


def test_what_is_ahead_leads_to_its_contract(page: Page, house: RunningHouse) -> None:
    open_today(page, house)
    page.keyboard.press("h")
    expect(page.get_by_role("heading", name="Looking ahead")).to_be_visible()
    page.get_by_label("Vendor").select_option("lumenlathe")
    expect(page.get_by_role("heading", name="Paid for twice")).to_be_visible()
    expect(page.get_by_text("Together").or_(page.get_by_text("All on"))).to_be_visible()
    page.get_by_role("button", name=re.compile("address")).click()
    expect(page.get_by_text(re.compile(r"/calendar/[\w-]{40,}\.ics"))).to_be_visible()
    page.get_by_label("By mail").select_option("weekly")
    expect(page.get_by_label("By mail")).to_have_value("weekly")
    page.get_by_label("By mail").select_option("never")
    page.get_by_role("link", name="88-3316").first.click()
    expect(page.get_by_role("heading", name="Kiosks, second lot")).to_be_visible()


def test_a_reader_sees_lists_and_no_imports(browser: Browser, house: RunningHouse) -> None:
    page = open_page(browser, house, "pauli")
    open_today(page, house)
    expect(page.get_by_role("link", name="Imports")).to_have_count(0)
    page.goto(f"{house.address}/assets?q=TN9-44120-A")
    expect(page.get_by_role("link", name="TN9-44120-A")).to_be_visible()
    expect(page.get_by_role("checkbox")).to_have_count(0)
    page.goto(f"{house.address}/imports")
    expect(page.get_by_role("alert").first).to_contain_text("This needs the role keeper")
    page.context.close()
