"""What comes in from outside, in the console: order documents, vendor statements, labels; and the care for what is kept."""

from __future__ import annotations

import re
from datetime import timedelta
from pathlib import Path
from uuid import uuid4

import pytest
import zxingcpp
from PIL import Image
from playwright.sync_api import Browser, Page, expect

from sealpacket.client import SealPacket
from sealpacket.demo.house import RunningHouse
from sealpacket.demo.order_documents import kiosk_renewal
from tests.journeys.browsing import IN_HAND, faults, open_page, open_today
from tests.some import today


@pytest.fixture
def vendor(marit: SealPacket) -> str:
    """A vendor of its own with one contract and two covered things."""
    key = f"w{uuid4().hex[:8]}"
    marit.vendors.add(key=key, name=f"Works {key}")
    marit.products.add(vendor=key, part_number="W-1", name="Work")
    for serial in (f"{key.upper()}-3001", f"{key.upper()}-4207"):
        marit.assets.add(vendor=key, product="W-1", serial=serial, site="fennel-lane")
    days = {
        "starts_on": str(today() - timedelta(days=100)),
        "ends_on": str(today() + timedelta(days=265)),
    }
    marit.contracts.add(vendor=key, number=f"N-{key}", title="Works", passcode="heron-31", **days)
    marit.entitlements.add(
        vendor=key, contract=f"N-{key}", reference=f"E-{key}", level="Care", needs=["fault"], **days,
        serials=[f"{key.upper()}-3001", f"{key.upper()}-4207"],
    )  # fmt: skip
    return key


def test_an_order_document_is_read_looked_at_and_entered(
    page: Page, house: RunningHouse, marit: SealPacket, tmp_path: Path
) -> None:
    open_today(page, house)
    number = f"88-{uuid4().int % 10**6:06d}"
    (tmp_path / "order.pdf").write_bytes(
        kiosk_renewal(today() + timedelta(days=400), f"LK40-9001-{number[-4:]}")
    )
    page.keyboard.press("i")
    page.get_by_role("link", name="Order documents").click()
    page.get_by_label("Read an order confirmation").set_input_files(tmp_path / "order.pdf")
    expect(page.get_by_label("Contract number")).to_have_value("88-3316", timeout=IN_HAND)
    expect(page.get_by_alt_text("Page 1")).to_be_visible()
    page.get_by_label("Contract number").fill(number)
    page.get_by_label("Entitlement number").fill(f"FC-{number}")
    effects = page.get_by_role("list", name="Effect")
    expect(
        effects.get_by_role("listitem").filter(has_text=re.compile("^new *contract"))
    ).to_contain_text(number)
    assert faults(page) == []
    expect(page.get_by_text("60-7781")).to_have_count(0)
    page.get_by_role("button", name="Show", exact=True).click()
    expect(page.get_by_text("60-7781")).to_be_visible()
    page.get_by_role("heading", level=1).click()
    page.keyboard.press("y")
    expect(page.get_by_role("heading", name="Entered records")).to_be_visible()
    page.get_by_role("link", name=number).click()
    expect(page.get_by_role("list", name="Order documents")).to_contain_text("order.pdf")
    assert marit.contracts.passcode(number) == "60-7781"


def test_an_order_document_that_cannot_be_entered_says_why_and_keeps_what_was_typed(
    page: Page, house: RunningHouse, tmp_path: Path
) -> None:
    content = kiosk_renewal(today() + timedelta(days=401 + uuid4().int % 300))
    (tmp_path / "other.pdf").write_bytes(content)
    page.goto(f"{house.address}/order-documents")
    page.get_by_label("Read an order confirmation").set_input_files(tmp_path / "other.pdf")
    page.get_by_label("Level", exact=True).fill("")
    page.get_by_label("Entitlement number").fill("NEW-1")
    expect(page.get_by_role("alert")).to_contain_text("The level of service is not given.")
    expect(page.get_by_role("button", name="Enter")).to_be_disabled()
    expect(page.get_by_label("Entitlement number")).to_have_value("NEW-1")
    page.get_by_role("button", name="Set aside").click()
    expect(page.get_by_text("set aside", exact=True)).to_be_visible()


def test_a_statement_is_decided_by_keyboard(
    page: Page, house: RunningHouse, marit: SealPacket, vendor: str, tmp_path: Path
) -> None:
    first, second = f"{vendor.upper()}-3001", f"{vendor.upper()}-4207"
    path = tmp_path / "cover.csv"
    path.write_text(
        f"Serial;Contract;Level\n{first.replace('3001', '3OO1')};N-{vendor};Care\n{second};N-{vendor};Basic\n"
    )
    page.goto(f"{house.address}/statements")
    page.get_by_label("The list of").select_option(vendor)
    page.get_by_label("The vendor's list").set_input_files(path)
    rows = page.get_by_role("list", name="Differences").get_by_role("listitem")
    expect(rows).to_have_count(2, timeout=IN_HAND)
    expect(rows.first).to_contain_text("the digit 0 here, the letter O there")
    assert faults(page) == []
    rows.first.focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("x")
    page.keyboard.press("v")
    expect(rows.nth(1)).to_contain_text("the vendor is right")
    assert marit.entitlements.get(f"E-{vendor}").level == "Basic"
    rows.first.focus()
    page.keyboard.press("x")
    page.keyboard.press("m")
    expect(rows.first).to_contain_text("asked by P-")
    rows.first.get_by_role("link").click()
    expect(page.get_by_text("records of our cover")).to_be_visible()


def test_a_photo_of_a_label_finds_a_thing_or_offers_to_add_it(
    page: Page, house: RunningHouse, marit: SealPacket, vendor: str, tmp_path: Path
) -> None:
    def photo(text: str) -> Path:
        code = zxingcpp.create_barcode(text, zxingcpp.BarcodeFormat.QRCode)
        Image.fromarray(zxingcpp.write_barcode_to_image(code, scale=6)).save(
            tmp_path / f"{text}.png"
        )
        return tmp_path / f"{text}.png"

    page.goto(f"{house.address}/assets")
    page.get_by_label("Photo of a label").set_input_files(photo(f"{vendor.upper()}-3001"))
    expect(
        page.get_by_role("dialog").get_by_role("link", name=f"{vendor.upper()}-3001")
    ).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_label("Photo of a label").set_input_files(photo(f"{vendor.upper()}-5555"))
    page.get_by_role("button", name=re.compile("^Add ")).last.click()
    form = page.get_by_role("dialog", name="Add an asset")
    expect(form.get_by_label("Serial", exact=True)).to_have_value(f"{vendor.upper()}-5555")
    expect(form.get_by_label("Part number")).to_have_value("W-1")
    assert faults(page) == []
    form.get_by_label("Site", exact=True).select_option("bellfield")
    form.get_by_role("button", name="Add it").click()
    expect(form).to_have_count(0)
    assert marit.assets.get(f"{vendor.upper()}-5555").site == "bellfield"


def test_records_are_added_changed_and_merged_in_the_list(
    page: Page, house: RunningHouse, marit: SealPacket, vendor: str
) -> None:
    page.goto(f"{house.address}/assets?vendor={vendor}")
    expect(page.get_by_role("link", name=f"{vendor.upper()}-3001")).to_be_visible()
    page.keyboard.press("+")
    form = page.get_by_role("dialog")
    form.get_by_label("Vendor").select_option(vendor)
    form.get_by_label("Part number").fill("W-9")
    form.get_by_label("Serial", exact=True).fill(f"{vendor.upper()}-3OO1")
    form.get_by_role("button", name="Add it").click()
    expect(form.get_by_role("alert")).to_contain_text("There is no product W-9 in the register.")
    form.get_by_label("Part number").fill("W-1")
    form.get_by_label("Host names").fill("one.example, two.example")
    form.get_by_role("button", name="Add it").click()
    rows = page.get_by_role("table", name="Assets").locator("tbody tr")
    expect(rows).to_have_count(3)
    page.get_by_role("link", name=f"{vendor.upper()}-3OO1").focus()
    page.keyboard.press("x")
    page.keyboard.press("e")
    form.get_by_label("Name", exact=True).fill("Twice over")
    form.get_by_role("button", name="Keep this").click()
    expect(rows.filter(has_text="Twice over")).to_have_count(1)
    page.get_by_role("link", name=f"{vendor.upper()}-3001").focus()
    page.keyboard.press("x")
    page.keyboard.press("m")
    expect(form).to_contain_text("Taken over")
    if f"{vendor.upper()}-3OO1 stays" in (form.text_content() or ""):
        form.get_by_role("button", name="The other way round").click()
    expect(form).to_contain_text(f"{vendor.upper()}-3001 stays")
    assert faults(page) == []
    form.get_by_role("button", name="Merge them").click()
    expect(rows).to_have_count(2)
    kept = marit.assets.get(f"{vendor.upper()}-3OO1")
    assert (kept.serial, kept.name, kept.host_names) == (
        f"{vendor.upper()}-3001",
        "Twice over",
        ["one.example", "two.example"],
    )


def test_labels_of_what_is_chosen_are_saved(browser: Browser, house: RunningHouse) -> None:
    page = open_page(browser, house, "teo")
    page.goto(f"{house.address}/assets?q=TN9")
    page.get_by_role("checkbox").nth(1).check()
    with page.expect_download() as download:
        page.get_by_role("button", name="Print labels").click()
    assert download.value.suggested_filename == "labels.pdf"
    assert Path(download.value.path()).read_bytes().startswith(b"%PDF-")
    expect(page.get_by_role("button", name="Add")).to_have_count(0)
    page.context.close()


def test_a_view_is_kept_under_a_name_and_shared(
    page: Page, browser: Browser, house: RunningHouse
) -> None:
    name = f"Spare ones {uuid4().hex[:4]}"
    page.goto(f"{house.address}/assets?status=retired")
    page.get_by_role("button", name="Views").click()
    page.get_by_role("menuitem", name="Keep what is shown").click()
    page.get_by_role("dialog").get_by_label("Name").fill(name)
    page.get_by_role("dialog").get_by_label("for everyone").check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name=name)).to_be_visible()
    other = open_page(browser, house, "pauli")
    other.goto(f"{house.address}/assets")
    other.get_by_role("button", name="Views").click()
    other.get_by_role("menuitem", name=name).click()
    expect(other).to_have_url(re.compile(r"/assets\?status=retired$"))
    expect(other.get_by_role("link", name="LK40-5502-0117")).to_be_visible()
    other.context.close()
    page.get_by_role("button", name=name).click()
    page.get_by_role("menuitem", name="Forget").click()
    expect(page.get_by_role("button", name="Views")).to_be_visible()


def test_what_counts_from_a_day_on_is_done_on_the_pages(
    page: Page, house: RunningHouse, marit: SealPacket, vendor: str
) -> None:
    page.goto(f"{house.address}/contracts/N-{vendor}")
    page.get_by_role("button", name="show").click()
    expect(page.get_by_text("heron-31")).to_be_visible()
    page.get_by_role("button", name="Amend").click()
    form = page.get_by_role("dialog")
    form.get_by_label("Level").fill("Extended care")
    form.get_by_role("button", name="Amend it").click()
    expect(form).to_have_count(0)
    expect(page.get_by_text("Extended care").first).to_be_visible()
    page.keyboard.press("r")
    expect(form.get_by_label("and ends")).to_have_value(
        str((today() + timedelta(days=265)).replace(year=(today() + timedelta(days=265)).year + 1))
    )
    assert faults(page) == []
    form.get_by_role("button", name="Renew it").click()
    expect(form).to_have_count(0)
    assert len(marit.contracts.get(f"N-{vendor}").former_terms) == 1
    versions = {str(row.starts_on): row.level for row in marit.entitlements.list(f"E-{vendor}")}
    assert sorted(versions.values()) == ["Care", "Extended care", "Extended care"]
    page.goto(f"{house.address}/assets/{vendor.upper()}-3001")
    expect(page.get_by_role("button", name="Move")).to_be_visible()
    page.keyboard.press("v")
    form.get_by_label("At", exact=True).select_option("bellfield")
    form.get_by_role("button", name="Move it").click()
    expect(page.get_by_text("Bellfield").first).to_be_visible()
    assert marit.assets.get(f"{vendor.upper()}-3001").stays[0].site == "fennel-lane"
