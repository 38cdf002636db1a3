"""Originals: kept once for the same content, attached to several packets, deleted for good."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from sqlalchemy import select

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.services.packets import retention
from sealpacket.store.models import Exhibit, Packet
from tests.conftest import ARRAY, OTHER_ARRAY, add

LOG = b"".join(
    b"2026-11-20T07:%02d:00Z c0 mirror link down, round %d\n" % (m, m) for m in range(60)
)


@pytest.fixture
def two(marit: SealPacket) -> tuple[PacketShown, PacketShown]:
    first = marit.packets.note("The array is slow", asset=ARRAY)
    return first, marit.packets.note("The other array is slow, too", asset=OTHER_ARRAY)


def blobs(inside: AppContext, number: str) -> dict[str, str | None]:
    with inside.database.transaction() as session:
        query = select(Exhibit.name, Exhibit.original_blob).join(Exhibit.packet)
        return dict(session.execute(query.where(Packet.number == number)).all())  # type: ignore[arg-type]


def is_there(inside: AppContext, blob: str | None) -> bool:
    return blob in set(inside.blobs.names())


def test_the_same_content_is_kept_once_and_stays_as_long_as_one_has_it(
    marit: SealPacket, inside: AppContext, two: tuple[PacketShown, PacketShown], tmp_path: Path
) -> None:
    one, other = (packet.number for packet in two)
    log = LOG + f"2026-11-20T08:00:00Z c0 noted as {one}\n".encode()  # what no other test has
    add(marit, one, tmp_path / "controller.log", log)
    add(marit, other, tmp_path / "same.log", log)
    blob = blobs(inside, one)["controller.log"]
    assert blobs(inside, other) == {"same.log": blob}
    marit.exhibits.remove(one, "controller.log")
    assert is_there(inside, blob)
    assert marit.exhibits.review(other, "same.log").findings >= 0
    marit.exhibits.remove(other, "same.log")
    assert not is_there(inside, blob)


def test_an_exhibit_is_attached_without_copying_and_redacted_for_its_own_packet(
    marit: SealPacket, inside: AppContext, two: tuple[PacketShown, PacketShown], tmp_path: Path
) -> None:
    one, other = (packet.number for packet in two)
    text = LOG + b"login of marit from 10.40.20.99 refused\n"
    before = add(marit, one, tmp_path / "controller.log", text).exhibits[0]
    attached = marit.exhibits.attach(other, one, "controller.log")
    assert attached.sha256 == before.sha256
    assert blobs(inside, one) == blobs(inside, other)
    after = marit.packets.wait(other).exhibits[0]
    assert after.state == "ready"
    assert after.counts == before.counts
    copies = [
        marit.exhibits.fetch_outgoing(number, "controller.log", tmp_path / number).read_bytes()
        for number in (one, other)
    ]
    assert all(b"10.40.20.99" not in copy for copy in copies)
    with pytest.raises(Refused) as refused:
        marit.exhibits.attach(other, one, "controller.log")
    assert refused.value.status == 409
    with pytest.raises(Refused) as missing:
        marit.exhibits.attach(other, one, "nothing.log")
    assert missing.value.code == "not-found"


def test_cutting_one_leaves_the_other_whole(
    marit: SealPacket, inside: AppContext, two: tuple[PacketShown, PacketShown], tmp_path: Path
) -> None:
    one, other = (packet.number for packet in two)
    found = add(marit, one, tmp_path / "controller.log", LOG).exhibits[0]
    marit.exhibits.attach(other, one, "controller.log")
    marit.packets.wait(other)
    assert found.first_at is not None
    marit.exhibits.cut(other, "controller.log", found.first_at, found.first_at)
    cut = marit.packets.wait(other).exhibits[0]
    assert cut.size < found.size
    assert marit.packets.get(one).exhibits[0].sha256 == found.sha256
    assert is_there(inside, blobs(inside, one)["controller.log"])


def test_originals_are_deleted_for_good_when_their_time_is_over(
    marit: SealPacket, inside: AppContext, two: tuple[PacketShown, PacketShown], tmp_path: Path
) -> None:
    one, other = (packet.number for packet in two)
    add(marit, one, tmp_path / "alone.log", LOG + b"alone\n")
    add(marit, one, tmp_path / "shared.log", LOG + b"shared\n")
    marit.exhibits.attach(other, one, "shared.log")
    marit.packets.wait(other)
    with pytest.raises(Refused) as refused:
        marit.exhibits.delete_originals(one, "no need")
    assert refused.value.code == "not-over"
    kept = blobs(inside, one)
    marit.packets.withdraw(one, "It was the cable.")
    gone = marit.exhibits.delete_originals(one, "no need any more")
    assert (gone.exhibits, gone.files) == (2, 1)
    assert not is_there(inside, kept["alone.log"])
    assert is_there(inside, kept["shared.log"])
    packet = marit.packets.get(one)
    assert all(one.original_deleted_at for one in packet.exhibits)
    assert marit.exhibits.fetch_outgoing(one, "alone.log", tmp_path / "copy").stat().st_size
    with pytest.raises(Refused) as shown:
        marit.exhibits.review(one, "alone.log")
    assert shown.value.code == "original-deleted"
    with pytest.raises(Refused) as attached:
        marit.exhibits.attach(other, one, "alone.log")
    assert attached.value.code == "no-original"
    entry = next(e for e in marit.custody(f"packet {one}") if e.action == "originals deleted")
    assert entry.detail["reason"] == "no need any more"
    assert set(entry.detail["let_go"]) == {"alone.log", "shared.log"}
    assert len(entry.detail["gone"]) == 1


def test_the_house_deletes_what_it_has_kept_long_enough(
    marit: SealPacket,
    inside: AppContext,
    two: tuple[PacketShown, PacketShown],
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    number = two[0].number
    add(marit, number, tmp_path / "old.log", LOG + b"old\n")
    blob = blobs(inside, number)["old.log"]
    marit.packets.withdraw(number, "It was the cable.")
    set_days: Callable[[float], None] = lambda days: monkeypatch.setattr(  # noqa: E731
        inside.settings, "original_days", days
    )
    for kept in (0, 365):
        set_days(kept)
        retention.delete_due(inside)
        assert is_there(inside, blob)
    set_days(1e-9)
    assert retention.delete_due(inside) >= 1
    assert not is_there(inside, blob)


def test_two_who_take_and_let_go_at_once_never_lose_what_is_needed(
    marit: SealPacket, inside: AppContext, tmp_path: Path
) -> None:
    packets = [marit.packets.note(f"The array is slow {n}", asset=ARRAY).number for n in range(4)]
    content = LOG + os.urandom(8).hex().encode() + b"\n"
    path = tmp_path / "c.log"
    path.write_bytes(content)

    def come_and_go(number: str) -> None:
        for _ in range(6):
            marit.exhibits.add(number, path)
            marit.exhibits.remove(number, "c.log")
        marit.exhibits.add(number, path)

    with ThreadPoolExecutor(4) as threads:
        list(threads.map(come_and_go, packets))
    kept = {blobs(inside, number)["c.log"] for number in packets}
    assert len(kept) == 1
    blob = kept.pop()
    assert blob is not None
    assert inside.blobs.read_all(blob) == content
    for number in packets:
        marit.exhibits.remove(number, "c.log")
    assert not is_there(inside, blob)
