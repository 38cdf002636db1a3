"""The console for those who see little, use no mouse, or have come for the first time."""

from __future__ import annotations

import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from sealpacket.client import SealPacket, make_token
from sealpacket.client.models import PacketShown
from sealpacket.demo import evidence
from sealpacket.demo.house import RunningHouse
from tests.conftest import Tarnfell, add, until
from tests.journeys.browsing import IN_HAND, faults, go_on, open_page, open_today
from tests.service.test_running_it import elsewhere, serve, shell

TITLES = {
    "/packets": "Packets", "/packets/{number}/exhibits": "{number} exhibits: Volumes on the array are slow",
    "/assets": "Assets", "/contracts/T-2210": "Arrays, book store", "/ahead": "Looking ahead", "/desks": "Desks", "/you": "Marit Oswin",
    "/accounts": "Accounts", "/custody": "Custody", "/overview": "Overview", "/articles": "Articles", "/no-such": "There is no such page",
}  # fmt: skip


def reach(page: Page, what: Locator, key: str = "Tab") -> None:
    """Press a key until something has the focus, as one does without a mouse."""
    expect(what).to_be_visible()
    for _ in range(150):
        if what.evaluate("it => it === document.activeElement"):
            return
        page.keyboard.press(key)
    raise AssertionError(f"{what} cannot be reached by {key}")


def test_each_page_has_a_title_and_begins_with_it(
    page: Page, house: RunningHouse, noted: PacketShown
) -> None:
    open_today(page, house)
    expect(page).to_have_title("Today · Seal Packet")
    for path, title in TITLES.items():
        go_on(page, path.format(number=noted.number))
        expect(page).to_have_title(f"{title.format(number=noted.number)} · Seal Packet")
    page.get_by_role("link", name="Packets", exact=True).focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Packets", level=1)).to_be_focused()


def test_a_packet_is_noted_prepared_sealed_and_lodged_without_a_mouse(
    browser: Browser, house: RunningHouse, tarnfell: Tarnfell, tmp_path: Path
) -> None:
    page = open_page(browser, house, None)
    page.goto(house.address)
    reach(page, page.get_by_label("Name"))
    page.keyboard.type("marit")
    reach(page, page.get_by_label("Password"))
    page.keyboard.type(house.sign_ins["marit"])
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Our turn")).to_be_visible()

    page.keyboard.press("n")
    reach(page, page.get_by_label("In one line"))
    page.keyboard.type("The array is slow, by keyboard")
    reach(page, page.get_by_label("In plain words"))
    page.keyboard.type("Volumes answer slowly since this morning; searches time out.")
    reach(page, page.get_by_label("Serial, model, host name, site or words").last)
    page.keyboard.type("bs-array-a-c1")
    reach(page, page.get_by_role("button", name=re.compile("TN9-44120-A")))
    page.keyboard.press("Enter")
    reach(page, page.get_by_role("button", name="Note it"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="The array is slow, by keyboard")).to_be_visible()

    for answer in ("Slow answers", "2 · badly hindered"):
        group = page.get_by_role("group").filter(has=page.get_by_label(answer)).last
        first = group.get_by_role("radio").first
        reach(page, first)
        page.keyboard.press("Space")
        reach(page, page.get_by_label(answer), "ArrowDown")
        expect(page.get_by_label(answer)).to_be_checked()
    reach(page, page.get_by_label("Who is hindered, and how?"))
    page.keyboard.type("Searches in all branches.")
    reach(page, page.get_by_role("button", name="Now"))
    page.keyboard.press("Enter")
    expect(page.get_by_text("Nothing stops it.").first).to_be_visible()

    reach(page, page.get_by_role("link", name=re.compile("Exhibits")))
    page.keyboard.press("Enter")
    reach(page, page.get_by_role("button", name="choose files"))
    with page.expect_file_chooser() as chooser:
        page.keyboard.press("Enter")
    chooser.value.set_files(evidence.write_configuration(tmp_path / "array.cfg"))
    expect(page.get_by_role("row", name=re.compile("array.cfg ready"))).to_be_visible(
        timeout=IN_HAND
    )
    reach(page, page.get_by_role("button", name="array.cfg"))
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("finding 1 of"))).to_be_visible()
    page.keyboard.press("j")
    expect(page.get_by_text(re.compile("finding 2 of"))).to_be_visible()
    reach(page, page.get_by_role("link", name=re.compile("Letter")))
    page.keyboard.press("Enter")
    expect(page.get_by_text('"array_serial": "TN9-44120-A"')).to_be_visible()
    page.keyboard.press("s")
    expect(page.get_by_role("heading", name="Sealed", exact=True)).to_be_visible()
    page.keyboard.press("l")
    expect(page.get_by_text(re.compile(r"Lodged as TS-\d+"))).to_be_visible(timeout=IN_HAND)

    reference = re.search(r"TS-\d+", page.get_by_text(re.compile(r"Lodged as TS-\d+")).inner_text())
    assert reference
    tarnfell.steer(case=reference[0], ask="Which firmware do both controllers run?")
    reach(page, page.get_by_role("link", name=re.compile("Replies")))
    page.keyboard.press("Enter")
    page.keyboard.press("f")
    expect(page.get_by_text("waits for an answer")).to_be_visible()
    reach(page, page.get_by_label("Answer Tarnfell Storage"))
    page.keyboard.type("Both run 7.4.2.")
    reach(page, page.get_by_role("button", name="Preview", exact=True))
    page.keyboard.press("Enter")
    reach(page, page.get_by_role("button", name="Send"))
    page.keyboard.press("Enter")
    expect(page.get_by_text("Tarnfell Storage's turn")).to_be_visible()
    page.context.close()


def test_the_trees_of_today_a_packet_and_a_review(
    page: Page, house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(marit, noted.number, tmp_path / "array.cfg", evidence.CONFIGURATION.encode())
    open_today(page, house)
    expect(page.locator("body")).to_match_aria_snapshot("""
        - link "To the page"
        - banner:
          - link "Seal Packet"
          - navigation "Places":
            - link "Today"
            - link "Packets"
          - button /Find/
          - button /Note/
          - link /Notices/
        - main:
          - heading [level=1]
          - heading "Our turn" [level=2]
          - heading "Their turn" [level=2]
          - complementary "Ending soon":
            - heading "Ending soon" [level=2]
    """)
    page.goto(f"{house.address}/packets/{noted.number}/questions")
    expect(page.get_by_role("main")).to_match_aria_snapshot("""
        - main:
          - navigation "Packing list":
            - link /Exhibits/
            - link /Letter/
          - heading "Volumes on the array are slow" [level=1]
          - complementary "Checks, ruling and seal":
            - list
    """)
    page.goto(f"{house.address}/packets/{noted.number}/exhibits/array.cfg")
    expect(page.get_by_role("main")).to_match_aria_snapshot("""
        - main:
          - heading [level=1]
          - table:
            - rowgroup:
              - row
    """)


def test_nothing_moves_where_no_motion_is_wanted(page: Page, house: RunningHouse) -> None:
    open_today(page, house)  # the tests' browser asks for reduced motion
    page.keyboard.press("/")
    page.keyboard.type("array")
    expect(page.get_by_role("option").first).to_be_visible()
    assert page.evaluate("document.getAnimations().length") == 0


def test_everything_fits_at_twice_the_size_and_on_the_smallest_screen(
    page: Page, house: RunningHouse, noted: PacketShown
) -> None:
    open_today(page, house)
    names = page.get_by_role("navigation", name="Places").get_by_role("link").all_inner_texts()
    for width in (640, 320):  # 1280 at 200 %, and WCAG's smallest
        page.set_viewport_size({"width": width, "height": 512})
        for path in ("/packets", "/assets", f"/packets/{noted.number}/questions", "/ahead", "/desks", "/you", "/overview"):  # fmt: skip
            go_on(page, path)
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            assert page.evaluate("document.documentElement.scrollWidth") <= width, (path, width)
        for name in names:
            link = page.get_by_role("navigation", name="Places").get_by_role("link", name=name)
            link.scroll_into_view_if_needed()
            box = link.bounding_box()
            assert box is not None and box["x"] >= 0 and box["x"] + box["width"] <= width, name


@pytest.fixture
def empty(house: RunningHouse, tmp_path: Path) -> Iterator[tuple[str, str]]:
    """A house into which nothing was entered: its address, and the password of its only account."""
    owner, service = elsewhere(house)
    environment = {
        **house.environment(), "SEALPACKET_OWNER_URL": owner, "SEALPACKET_DATABASE_URL": service,
        "SEALPACKET_BLOBS": str(tmp_path / "blobs"),
    }  # fmt: skip
    password = "tall-brass-lantern-49"
    for command in ("migrate", "account first --role admin --role keeper --role preparer"):
        said = shell(f"sealpacket-service {command} <<<{password}", **environment)
        assert said.returncode == 0, said.stderr
    running: list[subprocess.Popen[bytes]] = []
    try:
        port = serve(running, environment)
        command = [sys.executable, "-m", "sealpacket.service", "work"]
        running.append(subprocess.Popen(command, env=environment))
        yield f"http://127.0.0.1:{port}", password
    finally:
        for process in running:
            process.terminate()
            process.wait(60)


def test_a_first_visit_says_where_to_begin(
    browser: Browser, empty: tuple[str, str], tmp_path: Path
) -> None:
    address, password = empty
    context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    page = context.new_page()
    page.goto(address)
    page.get_by_label("Name").fill("first")
    page.get_by_label("Password").fill(password)
    page.keyboard.press("Enter")
    steps = page.get_by_role("region", name="First steps")
    expect(steps.get_by_role("listitem")).to_have_count(4)
    assert faults(page) == []
    with page.expect_download() as download:
        steps.get_by_role("link", name="Download a sample list").click()
    sample = tmp_path / download.value.suggested_filename
    download.value.save_as(sample)

    client = SealPacket(address, make_token(address, "first", password, "first").token)
    until(lambda: client.health().worker)
    begun = client.imports.begin("site", sample)
    found = client.imports.wait(begun.id)
    assert (found.counts.new, found.counts.rejected) == (3, 1)
    client.imports.apply(found.id)
    client.imports.wait(found.id)
    page.reload()
    expect(page.get_by_role("heading", name="Our turn")).to_be_visible()
    expect(steps).to_have_count(0)
    client.imports.undo(found.id)
    client.imports.wait(found.id)
    page.reload()
    for link in ("Import a list", "Read an order document", "Add a desk"):
        steps.get_by_role("link", name=link).click()
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        expect(page.get_by_role("heading", name="Our turn")).to_have_count(0)
        page.go_back()
        expect(steps).to_be_visible()
    context.close()
