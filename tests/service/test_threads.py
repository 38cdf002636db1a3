"""The thread of a packet: one order, narrowed, paged, with what is new; and the packet as a document."""

from __future__ import annotations

import csv
import hashlib
import io
import random
import zipfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pypdfium2
import pytest
from sqlalchemy import insert, select

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown, ThreadEntry
from sealpacket.core.packet import SealKeys, check_chain, verify_bag
from sealpacket.store.models import Message, Packet
from tests.conftest import Tarnfell, until
from tests.some import SEED

QUESTION = "Which firmware do both controllers run?"
ADDRESS = "10.40.77.7"
REPLY = f"7.4.2 on both, also on {ADDRESS}."


@pytest.fixture
def long_story(marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell) -> PacketShown:
    """A packet with something of every sort."""
    number = lodged.number
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(number)
    marit.packets.reply(number, REPLY)
    until(lambda: marit.packets.get(number).turn == "vendor")
    marit.packets.record_call(number, "They send a shelf tomorrow.", spoke_to="Ada")
    marit.packets.note_shipment(number, "to_us", "A shelf", carrier="Pellow", tracking="PL-77")
    grant = marit.packets.grant_access(
        number, who="A technician", what="Array A", until=datetime.now(UTC) + timedelta(hours=1)
    ).access[0]
    marit.packets.end_access(grant.id, "locked out")
    return marit.packets.hand_over(number, "teo", "Ring them at nine.")


def all_of(client: SealPacket, number: str, limit: int = 500, **given: object) -> list[ThreadEntry]:
    found: list[ThreadEntry] = []
    cursor: str | None = ""
    while cursor is not None:
        page = client.packets.thread(number, limit=limit, cursor=cursor, **given)  # type: ignore[arg-type]
        found += page.items
        cursor = page.next
    return found


def test_all_that_happened_stands_in_one_order(marit: SealPacket, long_story: PacketShown) -> None:
    entries = all_of(marit, long_story.number)
    moments = [one.at for one in entries]
    assert moments == sorted(moments, reverse=True)
    by_sort: dict[str, list[str]] = {}
    for one in entries:
        by_sort.setdefault(one.sort, []).append(one.words)
    assert QUESTION in by_sort["theirs"]
    assert "They send a shelf tomorrow." in by_sort["theirs"]
    assert by_sort["ours"] == [REPLY]
    assert by_sort["file"] == ["array.cfg"]
    assert {"packet noted", "packet sealed", "packet lodged"} <= set(by_sort["state"])
    assert by_sort["state"][0] == "packet handed over to teo"
    assert by_sort["shipment"] == ["A shelf comes to us"]
    assert len(by_sort["access"]) == 2
    call = next(one for one in entries if one.words.startswith("They send"))
    assert (call.by, call.text) == ("Ada", "by telephone")


def test_it_is_narrowed_and_paged_without_loss(marit: SealPacket, long_story: PacketShown) -> None:
    number, chance = long_story.number, random.Random(SEED)
    whole = [one.id for one in all_of(marit, number)]
    assert len(set(whole)) == len(whole)
    for limit in (1, chance.randint(2, 7), len(whole)):
        assert [one.id for one in all_of(marit, number, limit)] == whole
    sorts = {one.sort for one in all_of(marit, number, sorts=["ours", "file"])}
    assert sorts == {"ours", "file"}
    with pytest.raises(Refused, match="cursor is invalid"):
        marit.packets.thread(number, cursor="yesterday x")


def test_what_is_new_since_one_looked_is_marked(
    marit: SealPacket, teo: SealPacket, long_story: PacketShown
) -> None:
    number = long_story.number
    assert marit.packets.thread(number).looked_at is None
    looked = marit.packets.look(number)
    assert looked.looked_at is not None
    assert not any(one.new for one in looked.items)
    teo.packets.record_call(number, "It is on its way.", spoke_to="Ada")
    marit.packets.note_shipment(number, "to_us", "A second shelf")
    fresh = [one.words for one in marit.packets.thread(number).items if one.new]
    assert fresh == ["It is on its way."], "what she did herself is not new to her"
    assert not any(one.new for one in teo.packets.thread(number).items), "he has never looked"


def test_a_long_thread_comes_in_parts(
    marit: SealPacket, lodged: PacketShown, inside: AppContext
) -> None:
    with inside.database.transaction() as session:
        packet = session.scalars(select(Packet).where(Packet.number == lodged.number)).one()
        rows = [
            {"packet_id": packet.id, "direction": "in", "text": f"Line {place}", "by": "desk",
             "at": datetime.now(UTC) + timedelta(seconds=place)}
            for place in range(500)
        ]  # fmt: skip
        session.execute(insert(Message), rows)
    first = marit.packets.thread(lodged.number)
    assert len(first.items) == 100
    assert first.items[0].words == "Line 499"
    assert len(all_of(marit, lodged.number, sorts=["theirs"])) == 500


def pdf_text(path: Path) -> str:
    document = pypdfium2.PdfDocument(path)
    return "\n".join(page.get_textpage().get_text_bounded() for page in document)


def test_the_packet_is_a_document_as_it_was_sent(
    marit: SealPacket, pauli: SealPacket, long_story: PacketShown, tmp_path: Path
) -> None:
    number = long_story.number
    page = marit.packets.record(number, tmp_path / "p.html", form="html").read_text()
    text = pdf_text(marit.packets.record(number, tmp_path / "p.pdf"))
    for said in (
        QUESTION,
        "7.4.2 on both, also on [ip:",
        "They send a shelf tomorrow.",
        str(long_story.reference),
    ):
        assert said in page
        assert said in text
    for kept in ("Ring them at nine.", "<script", ADDRESS):
        assert kept not in page
        assert kept not in text
    clear = marit.packets.record_in_clear(
        number, tmp_path / "c.html", "The lawyers ask.", form="html"
    ).read_text()
    for said in (long_story.title, "Ring them at nine.", QUESTION, REPLY):
        assert said in clear
    newest = marit.custody(f"packet {number}", limit=1)[0]
    assert (newest.action, newest.detail["reason"]) == ("legend opened", "The lawyers ask.")
    with pytest.raises(Refused, match="The reason is missing"):
        marit.packets.record_in_clear(number, tmp_path / "x.html", "x", form="html")


def test_what_was_typed_is_no_markup(
    marit: SealPacket, lodged: PacketShown, tmp_path: Path
) -> None:
    marit.packets.comment(lodged.number, "<script>alert(1)</script> & <b>bold</b>")
    page = marit.packets.record(lodged.number, tmp_path / "p.html", form="html").read_text()
    assert "<script>" not in page
    assert "&lt;script&gt;alert(1)" in page
    text = pdf_text(marit.packets.record(lodged.number, tmp_path / "p.pdf"))
    assert "<b>bold</b>" in text


def test_a_year_is_an_archive_that_is_read_without_the_service(
    marit: SealPacket,
    teo: SealPacket,
    long_story: PacketShown,
    tarnfell: Tarnfell,
    tmp_path: Path,
) -> None:
    tarnfell.steer(case=long_story.reference, state="CLOSED")
    assert marit.packets.follow(long_story.number).life == "settled"
    marit.packets.seal_later(long_story.number)
    dropped = marit.packets.note("The kiosk is dark", "It was the plug.").number
    marit.packets.withdraw(dropped, "It was the plug.")
    year = datetime.now(UTC).year
    with zipfile.ZipFile(marit.archive(year, tmp_path / "a.zip")) as archive:
        archive.extractall(tmp_path / "a")
    folder = tmp_path / "a"
    table = list(csv.DictReader(io.StringIO((folder / "index.csv").read_text("utf-8-sig"))))
    rows = {row["packet"]: row for row in table}
    assert rows[dropped]["bag"] == ""
    row = rows[long_story.number]
    assert (row["reference"], row["state"]) == (long_story.reference, "settled")
    assert QUESTION in (folder / row["thread"]).read_text()
    assert ADDRESS not in (folder / row["thread"]).read_text()
    assert hashlib.sha256((folder / row["bag"]).read_bytes()).hexdigest() == row["sha256"]
    keys = SealKeys.read((folder / "seal-keys.jwks").read_text())
    bags = [folder / row["bag"], folder / long_story.number / "later-1.zip"]
    verdicts = [verify_bag(one, keys) for one in bags]
    assert all(one.holds for one in verdicts)
    assert check_chain(verdicts) == []
    with pytest.raises(Refused, match="No packet ended"):
        marit.archive(2001, tmp_path / "b.zip")
    with pytest.raises(Refused, match="no archive of"):
        marit.archive(year + 1, tmp_path / "b.zip")
    with pytest.raises(Refused, match="needs the role"):
        teo.archive(year, tmp_path / "b.zip")
