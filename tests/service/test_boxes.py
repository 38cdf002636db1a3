"""Pictures and PDFs of a packet, page by page; boxes that are drawn on them."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image

from sealpacket.client import PageBox, Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from tests.conftest import add
from tests.core.test_pictures_and_pages import pdf, picture_of, read, saved

LINES = "error E0417 on panel two\nclient 10.40.7.22 refused\nHeron is asleep\n"
HERON = PageBox(page=1, left=0.0, top=0.5, right=0.5, bottom=0.9)


@pytest.fixture
def packet(marit: SealPacket, noted: PacketShown, tmp_path: Path) -> PacketShown:
    """A packet with one screenshot."""
    return add(marit, noted.number, tmp_path / "screen.png", saved(picture_of(LINES), "PNG"))


def words(png: bytes) -> str:
    return read(Image.open(io.BytesIO(png)))


def test_a_picture_is_looked_at_beside_its_copy(marit: SealPacket, packet: PacketShown) -> None:
    [exhibit] = marit.packets.get(packet.number).exhibits
    assert (exhibit.shows, exhibit.leaks) == ("pages", 0)
    found = marit.exhibits.pages(packet.number, "screen.png")
    [page] = found.pages
    [ip] = [one for one in page.covered if one.kind == "ip"]
    assert (ip.value, ip.placeholder[:4]) == ("10.40.7.22", "[ip:")
    assert 0 < ip.left < ip.right < 0.5
    assert "10.40.7.22" in words(marit.exhibits.page(packet.number, "screen.png", side="original"))
    goes = words(marit.exhibits.page(packet.number, "screen.png"))
    assert "10.40.7.22" not in goes
    assert "Heron" in goes


def test_a_box_is_burnt_in_and_can_be_taken_back(marit: SealPacket, packet: PacketShown) -> None:
    number = packet.number
    [drawn] = marit.exhibits.draw_boxes(number, "screen.png", [HERON], reason="not public yet")
    assert (drawn.by, drawn.reason, drawn.page) == ("marit", "not public yet", 1)
    shown = marit.packets.wait(number)
    assert [(one.state, one.leaks) for one in shown.exhibits] == [("ready", 0)]
    assert "Heron" not in words(marit.exhibits.page(number, "screen.png"))
    marit.exhibits.redact(number, "screen.png")
    marit.packets.wait(number)
    assert "Heron" not in words(marit.exhibits.page(number, "screen.png")), (
        "it stays when redacted again"
    )
    assert [one.action for one in marit.custody(f"packet {number}") if "box" in one.action] == [
        "boxes drawn"
    ]
    assert marit.exhibits.rub_out_box(number, "screen.png", drawn.id) == []
    marit.packets.wait(number)
    assert "Heron" in words(marit.exhibits.page(number, "screen.png"))


def test_a_box_lies_on_a_page(marit: SealPacket, packet: PacketShown) -> None:
    for box, words_said in (
        (PageBox(page=2, left=0, top=0, right=1, bottom=1), "no page 2"),
        (PageBox(page=1, left=0.5, top=0, right=0.5, bottom=1), "within its page"),
        (PageBox(page=1, left=0.6, top=0, right=0.5, bottom=1), "within its page"),
    ):
        with pytest.raises(Refused, match=words_said):
            marit.exhibits.draw_boxes(packet.number, "screen.png", [box], reason="a try")
    with pytest.raises(Refused, match="no such box"):
        marit.exhibits.rub_out_box(packet.number, "screen.png", "none")
    assert marit.exhibits.pages(packet.number, "screen.png").drawn == []


def test_a_pdf_has_its_pages_and_a_log_has_none(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(marit, noted.number, tmp_path / "form.pdf", pdf(LINES))
    add(marit, noted.number, tmp_path / "a.log", b"peer 10.40.9.9 joined\n")
    found = marit.exhibits.pages(noted.number, "form.pdf")
    assert [len(page.covered) > 0 for page in found.pages] == [True, False]
    assert "second page" in words(marit.exhibits.page(noted.number, "form.pdf", 2))
    for name, page in (("form.pdf", 3), ("a.log", 1)):
        with pytest.raises(Refused, match="no page"):
            marit.exhibits.page(noted.number, name, page)
    with pytest.raises(Refused, match="no pages"):
        marit.exhibits.draw_boxes(noted.number, "a.log", [HERON], reason="a try")


def test_nobody_without_a_part_in_it_sees_a_page(house: RunningHouse, packet: PacketShown) -> None:
    with SealPacket(house.address) as stranger, pytest.raises(Refused) as refused:
        stranger.exhibits.page(packet.number, "screen.png", side="original")
    assert refused.value.status == 401


def test_a_sealed_packet_takes_no_box(marit: SealPacket, packet: PacketShown) -> None:
    marit.packets.withdraw(packet.number, "noted twice")
    with pytest.raises(Refused):
        marit.exhibits.draw_boxes(packet.number, "screen.png", [HERON], reason="too late")
