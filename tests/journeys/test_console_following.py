"""The console after the reference: answering with files by few keys, acts and why not, a desk that is reached by hand."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page, expect

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from tests.conftest import Tarnfell, until
from tests.journeys.browsing import IN_HAND

LIFT_NOTE = (
    "The lift at Quay Street stops a hand's breadth above the first floor since this morning."
)


def counted(page: Page) -> None:
    """Count the keys that are pressed outside of what is typed into a field."""
    page.evaluate(
        """() => {
            window.pressed = 0;
            const typing = target => target.closest("textarea, input");
            window.addEventListener("keydown", event => {
                if (["Control", "Meta", "Shift"].includes(event.key)) return;
                if (event.ctrlKey || !typing(event.target)) window.pressed += 1;
            }, true);
        }"""
    )


def test_from_asked_back_to_answered_with_two_files_by_four_keys(
    page: Page,
    house: RunningHouse,
    marit: SealPacket,
    lodged: PacketShown,
    tarnfell: Tarnfell,
    tmp_path: Path,
) -> None:
    tarnfell.steer(
        case=lodged.reference, ask="Please send the log of controller B and its settings."
    )
    marit.packets.follow(lodged.number)
    files = [tmp_path / "b.log", tmp_path / "b.cfg"]
    for path in files:
        path.write_text("host bs-array-b.quillmere.example at 10.40.20.21\n")
    page.goto(f"{house.address}/packets/{lodged.number}")
    expect(page.get_by_text("Please send the log of controller B")).to_be_visible()
    counted(page)
    page.keyboard.press("r")
    page.keyboard.type("Here are both.")
    page.get_by_label("Files for the answer").set_input_files(files)
    ready = page.get_by_role("listitem").filter(has_text="values masked")
    expect(ready).to_have_count(2, timeout=IN_HAND)
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("it is sent unchanged")).to_be_visible()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("dealt with by marit")).to_be_visible()
    assert page.evaluate("window.pressed") <= 4
    until(lambda: sorted(tarnfell.case(lodged.reference).get("more", ())) == ["b.cfg", "b.log"])
    assert marit.packets.get(lodged.number).turn == "vendor"


def test_acts_say_why_they_are_not_possible(
    page: Page, house: RunningHouse, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    page.goto(f"{house.address}/packets/{lodged.number}")
    expect(page.get_by_role("button", name="More")).to_be_visible()
    page.keyboard.press("m")
    accept = page.get_by_role("menuitem", name="Accept the answer")
    expect(accept).to_have_attribute("aria-disabled", "true")
    expect(accept).to_contain_text("The desk has proposed no answer.")
    page.get_by_role("menuitem", name="Change the severity").click()
    page.get_by_label("Severity", exact=True).select_option("1")
    page.get_by_role("button", name="Change the severity").click()
    expect(page.get_by_text("needs a person reachable day and night")).to_be_visible()
    page.get_by_label("Severity", exact=True).select_option("3")
    page.get_by_role("button", name="Change the severity").click()
    expect(page.get_by_text("asked for another severity")).to_be_visible()
    until(lambda: tarnfell.case(lodged.reference)["body"]["case"]["priority"] == "3")


def test_a_desk_is_entered_by_hand(page: Page, house: RunningHouse, marit: SealPacket) -> None:
    noted = marit.packets.note("Lift stops beside the floor", LIFT_NOTE, asset="TB-2207-C")
    marit.packets.answer(
        noted.number, inside="no", state="level", since="2026-11-20T07:40+00:00", caller="ines"
    )
    marit.packets.seal(noted.number)
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.goto(f"{house.address}/packets/{noted.number}")
    page.get_by_role("button", name="Lodge").click()
    page.get_by_role("link", name="By hand").click()
    row = page.get_by_role("listitem").filter(has_text="Unit number")
    row.focus()
    page.keyboard.press("c")
    expect(page.get_by_text("1 of 9 entered")).to_be_visible()
    assert page.evaluate("navigator.clipboard.readText()") == "TB-2207-C"
    page.keyboard.press("c")
    expect(page.get_by_text("2 of 9 entered")).to_be_visible()
    assert page.evaluate("navigator.clipboard.readText()") == "Quay Street", "it went on by itself"
    field = page.get_by_label("The number that Thornbeck gave")
    field.fill("4711")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("is no reference of Thornbeck service page")).to_be_visible()
    field.fill("26/50001")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Lodged as 26/50001.")).to_be_visible()


def test_a_replacement_that_has_arrived_takes_the_old_ones_place(
    page: Page, house: RunningHouse, marit: SealPacket
) -> None:
    marit.assets.add(vendor="tarnfell", product="TN9", serial="TN9-44180-X", name="Old", site="book-store")  # fmt: skip
    packet = marit.packets.note("The old array is dead", "It shows no light.", asset="TN9-44180-X")
    sent = marit.packets.note_shipment(packet.number, "to_us", "A new array", tracking="MF-7")
    page.goto(f"{house.address}/packets/{packet.number}/replies")
    expect(page.get_by_text("MF-7")).to_be_visible()
    assert sent.shipments[0].arrived_on is None
    page.get_by_role("button", name="It has arrived").click()
    page.get_by_role("button", name="It replaces TN9-44180-X: swap the serial").click()
    page.get_by_label("Serial of the replacement").fill("TN9-44181-X")
    page.get_by_role("button", name="Swap the serial", exact=True).click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("button", name="It replaces TN9-44180-X")).to_have_count(0)
    assert marit.assets.get("TN9-44181-X").status == "in_use"
    assert marit.assets.get("TN9-44180-X").status == "retired"


def test_a_strange_status_is_put_into_the_sheet_by_one_step(
    page: Page,
    house: RunningHouse,
    marit: SealPacket,
    lodged: PacketShown,
    tarnfell: Tarnfell,
) -> None:
    tarnfell.steer(case=lodged.reference, state="HELD")
    marit.packets.follow(lodged.number)
    before = marit.desk("tarnfell-support").yaml
    page.goto(f"{house.address}/packets/{lodged.number}")
    expect(page.get_by_text("perhaps a question")).to_be_visible()
    expect(page.get_by_text("What “HELD” means is not in the desk’s sheet.")).to_be_visible()
    try:
        page.goto(f"{house.address}/desks/tarnfell-support")
        expect(page.get_by_role("link", name=lodged.number)).to_be_visible()
        page.get_by_role("button", name="Put it in").click()
        expect(page.get_by_role("button", name="Put it in")).to_have_count(0)
        page.get_by_role("button", name="Save as version").click()
        until(lambda: "HELD: asked" in marit.desk("tarnfell-support").yaml)
        assert marit.packets.follow(lodged.number).turn == "ours"
    finally:
        marit.put_sheet(before)
        tarnfell.steer(case=lodged.reference, state="CLOSED")
        marit.packets.follow(lodged.number)


def test_on_paper_is_what_is_read_and_nothing_that_is_clicked(
    page: Page,
    house: RunningHouse,
    lodged: PacketShown,
    tarnfell: Tarnfell,
    marit: SealPacket,
) -> None:
    tarnfell.steer(case=lodged.reference, say="A fitter comes tomorrow.")
    marit.packets.follow(lodged.number)
    page.goto(f"{house.address}/packets/{lodged.number}")
    expect(page.get_by_text("A fitter comes tomorrow.")).to_be_visible()
    page.emulate_media(media="print")
    expect(page.get_by_text("A fitter comes tomorrow.")).to_be_visible()
    expect(page.get_by_role("button", name="More")).to_be_hidden()
    expect(page.get_by_role("banner")).to_be_hidden()
