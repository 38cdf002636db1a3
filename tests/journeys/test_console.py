"""The console in headless Chromium: the whole journey, by keyboard too, as its users meet it."""

from __future__ import annotations

import gzip
import re
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo import evidence
from sealpacket.demo.house import RunningHouse
from tests.conftest import ARRAY, NOTE, ROOT, Tarnfell, add, until
from tests.journeys.browsing import IN_HAND, faults, open_page, open_today, sign_in


def choose(page: Page, label: str) -> None:
    """Choose an answer; it shows at once."""
    page.get_by_label(label).click()
    expect(page.get_by_label(label)).to_be_checked(timeout=1_000)


def test_the_whole_journey(
    page: Page, house: RunningHouse, tarnfell: Tarnfell, tmp_path: Path
) -> None:
    open_today(page, house)
    page.keyboard.press("n")
    page.get_by_label("In one line").fill("Volumes on the book-store array are slow")
    page.get_by_label("In plain words").fill(
        "Volumes answer slowly since this morning; searches time out."
    )
    page.get_by_label("Serial, model, host name, site or words").last.fill("bs-array-a-c1")
    page.get_by_role("button", name=re.compile("TN9-44120-A")).click()
    page.get_by_role("button", name="Note it").click()
    expect(
        page.get_by_role("heading", name="Volumes on the book-store array are slow")
    ).to_be_visible()
    stops = page.get_by_role("complementary", name="Checks, ruling and seal")
    expect(stops.get_by_text("wants to know: How bad is it?")).to_be_visible()
    expect(stops.get_by_text("Serial TN9-44120-A is listed on contract T-2210.")).to_be_visible()

    choose(page, "Slow answers")
    expect(stops.get_by_text("wants to know: What is it about?")).to_have_count(0)
    choose(page, "2 · badly hindered")
    stops.get_by_role("listitem").filter(has_text="Who is hindered").get_by_role("button").click()
    expect(page.get_by_label("Who is hindered, and how?")).to_be_focused()
    page.keyboard.type("Searches in all branches.")
    page.keyboard.press("Tab")
    page.get_by_role("button", name="Now").click()
    expect(stops.get_by_text("Nothing stops it.").first).to_be_visible()
    expect(page.get_by_text("from asset TN9-44120-A").first).to_be_visible()

    page.get_by_role("link", name=re.compile("Exhibits")).click()
    log = evidence.write_controller_log(tmp_path / "controller.log", size=3_000_000)
    configuration = evidence.write_configuration(tmp_path / "array.cfg")
    page.get_by_label("Files to add").set_input_files([log, configuration])
    expect(page.get_by_role("row", name=re.compile("array.cfg ready"))).to_be_visible(
        timeout=IN_HAND
    )
    expect(page.get_by_role("row", name=re.compile("controller.log ready"))).to_be_visible(
        timeout=IN_HAND
    )
    page.get_by_role("button", name="array.cfg").click()
    page.get_by_text("secret 2", exact=True).click()
    expect(page.get_by_text("finding 1 of 2")).to_be_visible()
    row = page.get_by_role("row").filter(has_text="password =")
    expect(row.get_by_role("cell").nth(1)).to_have_text("password = thrush-In-the-9-reeds")
    expect(row.get_by_role("cell").nth(2)).to_have_text(
        re.compile(r"^password = \[secret:[a-z2-7]{10}\]$")
    )
    page.keyboard.press("j")
    expect(page.get_by_text("finding 2 of 2")).to_be_visible()
    assert faults(page) == []

    page.get_by_role("link", name=re.compile("Letter")).click()
    expect(page.get_by_text('"array_serial": "TN9-44120-A"')).to_be_visible()
    page.keyboard.press("s")
    expect(page.get_by_role("heading", name="Sealed", exact=True)).to_be_visible()
    page.keyboard.press("l")
    expect(page.get_by_text(re.compile(r"Lodged as TS-\d+"))).to_be_visible(timeout=IN_HAND)
    with page.expect_download() as download:
        page.get_by_role("link", name="Bag").click()
    assert download.value.suggested_filename.endswith(".zip")

    reference = re.search(r"TS-\d+", page.get_by_text(re.compile(r"Lodged as TS-\d+")).inner_text())
    assert reference
    tarnfell.steer(case=reference[0], ask="Which firmware do both controllers run?")
    page.get_by_role("link", name=re.compile("Replies")).click()
    page.keyboard.press("f")
    expect(page.get_by_text("waits for an answer")).to_be_visible()
    page.get_by_label("Answer Tarnfell Storage").fill("Both behind 10.40.3.7 run 7.4.2.")
    page.get_by_role("button", name="Preview", exact=True).click()
    expect(page.get_by_text("On the right is what goes out.")).to_be_visible()
    assert faults(page) == []
    page.get_by_role("button", name="Send").click()
    expect(page.get_by_text("Tarnfell Storage's turn")).to_be_visible()
    said = until(
        lambda: (
            (m := tarnfell.cases()[reference[0]]["messages"][-1])["from"] != "desk" and m["text"]
        )
    )
    assert re.fullmatch(r"Both behind \[ip:[a-z2-7]{10}\] run 7\.4\.2\.", str(said))


def test_a_secret_in_the_note_is_masked_by_decision_in_the_letter(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    packet = marit.packets.note(
        "Array is slow", f"{NOTE} The root password: Sedge-77-Heron was tried.", asset=ARRAY
    )
    page.goto(f"{house.address}/packets/{packet.number}")
    page.get_by_role("button", name=re.compile("Take it out, or have it masked")).click()
    expect(page.get_by_text("stops it")).to_be_visible()
    assert faults(page, dark=True) == []
    page.get_by_role("row", name=re.compile("Sedge-77-Heron")).focus()
    page.keyboard.press("m")
    page.get_by_label("Reason, for the custody log").fill("it was changed since")
    page.get_by_role("button", name="Mask it").click()
    expect(page.get_by_text("stops it")).to_have_count(0)
    expect(page.get_by_text("it was changed since")).to_be_visible()
    assert "typed-secret" not in [check.code for check in marit.packets.get(packet.number).checks]


def test_a_wrong_password_is_told_and_nothing_else(browser: Browser, house: RunningHouse) -> None:
    page = open_page(browser, house, None)
    page.goto(house.address)
    page.get_by_label("Name").fill("pauli")
    page.get_by_label("Password").fill("wrong")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Name or password is wrong.")
    page.context.close()


def test_find_by_keyboard(page: Page, house: RunningHouse) -> None:
    open_today(page, house)
    page.keyboard.press("/")
    page.keyboard.type("TN9-44l20-A")
    expect(page.get_by_role("option").first).to_contain_text("TN9-44120-A")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Array A")).to_be_visible()
    expect(page.get_by_text("Serial TN9-44120-A is listed on contract T-2210.")).to_be_visible()


def test_places_and_rows_by_keyboard(
    page: Page, house: RunningHouse, marit: SealPacket, noted: PacketShown
) -> None:
    open_today(page, house)
    marit.packets.note("Another one, so that there are two rows", asset="TN9-44121-B")
    page.keyboard.press("p")
    expect(page.get_by_role("heading", name="Packets")).to_be_visible()
    rows = page.get_by_role("table", name="Packets").get_by_role("link")
    rows.first.focus()
    page.keyboard.press("ArrowDown")
    expect(rows.nth(1)).to_be_focused()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    expect(page.get_by_role("navigation", name="Packing list")).to_be_visible()
    page.keyboard.press("2")
    expect(page.get_by_role("heading", name="Ruling for a fault")).to_be_visible()
    page.keyboard.press("a")
    expect(page.get_by_role("heading", name="Assets")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("t")
    expect(page.get_by_role("heading", name="Our turn")).to_be_visible()


def test_title_and_need_are_changed_and_a_packet_is_withdrawn(
    page: Page, house: RunningHouse, marit: SealPacket, noted: PacketShown
) -> None:
    page.goto(f"{house.address}/packets/{noted.number}/thing")
    page.get_by_label("In one line").fill("Volumes on the array are very slow")
    page.keyboard.press("Tab")
    expect(page.get_by_role("heading", name="Volumes on the array are very slow")).to_be_visible()
    needs = page.get_by_label("Kind of need")
    assert needs.locator("option").count() == 9
    needs.select_option("improvement")
    expect(
        page.get_by_text(re.compile("No entitlement serves wishes for improvement")).first
    ).to_be_visible()
    assert faults(page) == []
    page.get_by_role("button", name="Withdraw the packet").click()
    page.get_by_role("dialog").get_by_label("Reason, for the custody log").fill(
        "It was a loose cable."
    )
    page.get_by_role("button", name="Withdraw it").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    until(lambda: marit.packets.get(noted.number).life == "withdrawn")
    entry = marit.custody(f"packet {noted.number}", limit=1)[0]
    assert (entry.action, entry.detail["reason"]) == ("packet withdrawn", "It was a loose cable.")


def test_keys_do_nothing_while_someone_types(page: Page, house: RunningHouse) -> None:
    open_today(page, house)
    page.keyboard.press("a")
    page.get_by_label("Serial, model, host name, site or words").fill("")
    page.keyboard.type("npt")
    expect(page.get_by_role("heading", name="Assets")).to_be_visible()
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_every_state_of_a_list_is_drawn(page: Page, house: RunningHouse) -> None:
    page.goto(f"{house.address}/packets")
    page.get_by_label("Narrow by words or any number").fill("nothing is called this")
    expect(page.get_by_text("No packet matches.")).to_be_visible()
    page.route("**/api/v1/assets*", lambda route: route.abort())
    page.goto(f"{house.address}/assets")
    expect(page.get_by_role("status", name="Loading assets")).to_be_visible()
    expect(page.get_by_role("alert")).to_contain_text(
        "The service cannot be reached.", timeout=IN_HAND
    )
    page.goto(f"{house.address}/nowhere")
    expect(page.get_by_role("heading", name="There is no such page")).to_be_visible()
    page.goto(f"{house.address}/packets/P-999999")
    expect(page.get_by_role("alert")).to_contain_text("There is no packet P-999999.")


def test_a_refusal_leads_back_to_drafting(
    page: Page, house: RunningHouse, marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(refuse="unknown_serial")
    marit.packets.lodge(sealed.number)
    marit.packets.wait(sealed.number)
    page.goto(f"{house.address}/packets/{sealed.number}")
    expect(page.get_by_text("Compare the serial with the label on the array.")).to_be_visible()
    assert faults(page) == []
    page.get_by_role("button", name="Back to drafting").click()
    expect(page.get_by_text("Nothing stops it.").first).to_be_visible()


def test_an_upload_that_is_refused_says_so(
    page: Page, house: RunningHouse, noted: PacketShown, tmp_path: Path
) -> None:
    page.goto(f"{house.address}/packets/{noted.number}/exhibits")
    empty = tmp_path / "empty.log"
    empty.touch()
    page.get_by_label("Files to add").set_input_files([empty])
    expect(page.get_by_role("alert")).to_contain_text("empty.log is empty.")
    page.get_by_role("button", name="Understood").click()
    expect(page.get_by_role("alert")).to_have_count(0)


def drop(page: Page, name: str, content: str, kind: str) -> None:
    """Drop or paste a file on the page."""
    page.evaluate(
        """([name, content, kind]) => {
            const transfer = new DataTransfer();
            transfer.items.add(new File([content], name, {type: "text/plain"}));
            const event = kind === "drop"
                ? new DragEvent("drop", {dataTransfer: transfer, bubbles: true, cancelable: true})
                : new ClipboardEvent("paste", {clipboardData: transfer, bubbles: true, cancelable: true});
            document.body.dispatchEvent(event);
        }""",
        [name, content, kind],
    )


def test_files_can_be_dropped_and_pasted_anywhere_on_the_page(
    page: Page, house: RunningHouse, noted: PacketShown
) -> None:
    page.goto(f"{house.address}/packets/{noted.number}/questions")
    expect(page.get_by_label("What happens?")).to_be_visible()
    drop(page, "dropped.log", "peer 10.40.1.1 refused\n", "drop")
    expect(page.get_by_role("row", name=re.compile("dropped.log ready"))).to_be_visible()
    drop(page, "pasted.log", "peer 10.40.1.2 refused\n", "paste")
    expect(page.get_by_role("row", name=re.compile("pasted.log ready"))).to_be_visible()


def test_what_is_held_is_released_with_a_reason(
    page: Page, house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(marit, noted.number, tmp_path / "core.log", b"binary \0 bytes")
    page.goto(f"{house.address}/packets/{noted.number}/exhibits/core.log")
    page.get_by_label("Reason, for the custody log").fill("Read by eye, nothing in it.")
    page.get_by_role("button", name="Release", exact=True).click()
    expect(page.get_by_text("Released by marit; it goes out as it is.")).to_be_visible()


def test_two_people_changing_one_packet(
    page: Page, house: RunningHouse, teo: SealPacket, noted: PacketShown
) -> None:
    page.goto(f"{house.address}/packets/{noted.number}/thing")
    field = page.get_by_label("What happened, in plain words")
    expect(field).to_have_value(re.compile("slowly"))
    teo.packets.change(noted.number, note="Teo was faster.")
    field.fill("Marit was slower.")
    page.keyboard.press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("has been changed since you read it")
    assert teo.packets.get(noted.number).note == "Teo was faster."


def test_a_reader_sees_no_acts_that_are_not_theirs(
    browser: Browser, house: RunningHouse, answered: PacketShown
) -> None:
    page = open_page(browser, house, "pauli")
    open_today(page, house)
    expect(page.get_by_role("button", name="Note")).to_have_count(0)
    page.goto(f"{house.address}/packets/{answered.number}/exhibits")
    expect(page.get_by_text("No evidence yet.")).to_be_visible()
    expect(page.get_by_text("choose files")).to_have_count(0)
    page.context.close()
    page = open_page(browser, house, "teo")
    page.goto(f"{house.address}/packets/{answered.number}")
    expect(page.get_by_text("Ready. A releaser may seal it.")).to_be_visible()
    page.context.close()


def test_signing_out_ends_it(browser: Browser, house: RunningHouse) -> None:
    page = open_page(browser, house, None)
    page.goto(house.address)
    sign_in(page, house, "teo")
    page.get_by_role("button", name="Teo Valcourt").click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page.get_by_label("Password")).to_be_visible()
    page.context.close()


def test_the_first_load_is_small_and_comes_from_us_alone(
    browser: Browser, house: RunningHouse
) -> None:
    first = (ROOT / "console/dist/index.html").read_text()
    scripts = [
        ROOT / "console/dist" / name
        for name in re.findall(r'(?:src|href)="/(static/[^"]+\.js)"', first)
    ]
    assert scripts
    assert sum(len(gzip.compress(path.read_bytes())) for path in scripts) < 250_000
    page = browser.new_page()
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    page.goto(house.address)
    page.wait_for_load_state("networkidle")
    assert asked
    assert all(url.startswith(house.address) for url in asked), asked
    page.close()
