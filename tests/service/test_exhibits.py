"""Exhibits: taken in whole or not at all, redacted by the worker, held where they cannot be read."""

from __future__ import annotations

import gzip
import hashlib
import io
import json
import random
import re
import socket
import zipfile
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import urlsplit

import pytest
from sqlalchemy import text

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.core.redact.pseudonyms.placeholders import PLACEHOLDER
from sealpacket.demo import evidence
from sealpacket.demo.house import RunningHouse
from sealpacket.services.packets import exhibits
from sealpacket.services.packets.redaction import redactions
from sealpacket.services.packets.redaction.reviews import _DoubtfulFirst
from tests.conftest import ARRAY, NOTE, add, authorization, stops, until


def outgoing(client: SealPacket, number: str, name: str, folder: Path) -> bytes:
    """The outgoing copy."""
    return client.exhibits.fetch_outgoing(number, name, folder / f"{name}.out").read_bytes()


def blobs(house: RunningHouse) -> set[Path]:
    """All stored blobs."""
    return {path for path in (house.folder / "blobs").rglob("*") if path.is_file()}


def test_a_configuration_is_masked_and_stays_readable(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    packet = add(marit, noted.number, tmp_path / "array.cfg", evidence.CONFIGURATION.encode())
    exhibit = packet.exhibits[0]
    assert (exhibit.state, exhibit.leaks, exhibit.done) == ("ready", 0, exhibit.size)
    assert exhibit.counts == {"host": 4, "ip": 2, "secret": 2, "key": 1, "user": 1}
    text = outgoing(marit, noted.number, "array.cfg", tmp_path).decode()
    for original in (
        "thrush-In-the-9-reeds",
        "q1llmere-ro",
        "bs-array",
        "10.40.20",
        "BEGIN OPENSSH",
        "b3BlbnNza",
    ):
        assert original not in text
    assert "serial = TN9-44120-A" in text
    assert "contact = Marit Oswin, +44 1632 960112" in text, (
        "the contact is kept: the vendor needs it"
    )
    assert "release = 7.4.2" in text
    assert exhibit.outgoing_sha256 == hashlib.sha256(text.encode()).hexdigest()


def test_the_same_value_has_the_same_placeholder_in_every_exhibit(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(marit, noted.number, tmp_path / "a.log", b"peer 10.40.9.9 refused\n")
    add(marit, noted.number, tmp_path / "b.log", b"ping 10.40.9.9 ok\n")
    copies = [outgoing(marit, noted.number, name, tmp_path) for name in ("a.log", "b.log")]
    first, second = (PLACEHOLDER.search(copy) for copy in copies)
    assert first
    assert second
    assert first[0] == second[0]


def test_another_packet_has_other_placeholders(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    other = marit.packets.note("Another packet", NOTE, asset=ARRAY)
    for number in (noted.number, other.number):
        add(marit, number, tmp_path / "a.log", b"peer 10.40.9.9 refused\n")
    assert outgoing(marit, noted.number, "a.log", tmp_path) != outgoing(
        marit, other.number, "a.log", tmp_path
    )


def test_a_secret_known_from_one_exhibit_is_masked_in_all(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(marit, noted.number, tmp_path / "session.log", b"typed hunter22-again at the prompt\n")
    assert b"hunter22-again" in outgoing(marit, noted.number, "session.log", tmp_path), (
        "nothing told that it is one"
    )
    packet = add(marit, noted.number, tmp_path / "app.cfg", b"password = hunter22-again\n")
    assert [e.leaks for e in packet.exhibits] == [0, 0]
    assert b"hunter22-again" not in outgoing(marit, noted.number, "session.log", tmp_path)
    assert b"typed [secret:" in outgoing(marit, noted.number, "session.log", tmp_path)


def test_another_contact_is_kept_and_the_one_before_masked(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(
        marit,
        noted.number,
        tmp_path / "a.cfg",
        b"owner = Marit Oswin, page Ines Harrowgate +44 1632 960114\n",
    )
    assert outgoing(marit, noted.number, "a.cfg", tmp_path).startswith(
        b"owner = Marit Oswin, page [person:"
    )
    changed = marit.packets.answer(noted.number, contact="ines")
    assert changed.exhibits[0].state == "waiting", "it cannot be sealed before it is redacted anew"
    assert marit.packets.wait(noted.number).exhibits[0].state == "ready"
    copy = outgoing(marit, noted.number, "a.cfg", tmp_path)
    assert copy.startswith(b"owner = [person:")
    assert copy.endswith(b"page Ines Harrowgate +44 1632 960114\n")


def test_redacting_again_gives_the_same_bytes(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    before = add(
        marit, noted.number, tmp_path / "array.cfg", evidence.CONFIGURATION.encode()
    ).exhibits[0]
    marit.exhibits.redact(noted.number, "array.cfg")
    after = marit.packets.wait(noted.number).exhibits[0]
    assert after.outgoing_sha256 == before.outgoing_sha256
    assert (after.state, after.counts) == ("ready", before.counts)


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("report.txt", b"%PDF-1.7\nrest", "PDF"),
        ("logs.txt", b"PK\x03\x04rest", "zip"),
        ("core.log", b"binary \0 bytes", "kind that cannot be read"),
    ],
)
def test_what_cannot_be_inspected_is_held_until_released(
    marit: SealPacket,
    teo: SealPacket,
    answered: PacketShown,
    tmp_path: Path,
    name: str,
    content: bytes,
    words: str,
) -> None:
    packet = add(marit, answered.number, tmp_path / name, content)
    assert packet.exhibits[0].state == "held"
    assert words in packet.exhibits[0].reason
    assert stops(packet) == ["held"]
    with pytest.raises(Refused) as caught:
        teo.exhibits.release(answered.number, name, "looks fine")
    assert caught.value.code == "not-allowed"
    with pytest.raises(Refused):
        outgoing(marit, answered.number, name, tmp_path)
    marit.exhibits.release(answered.number, name, "Read by Pauli on paper, nothing in it.")
    packet = marit.packets.get(answered.number)
    assert stops(packet) == []
    assert packet.exhibits[0].released_by == "marit"
    assert outgoing(marit, answered.number, name, tmp_path) == content
    entry = next(
        e for e in marit.custody(f"packet {answered.number}") if e.action == "exhibit released"
    )
    assert entry.detail["reason"] == "Read by Pauli on paper, nothing in it."


def test_an_archive_is_rebuilt_with_what_is_in_it_masked(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    inner = io.BytesIO()
    with zipfile.ZipFile(inner, "w") as archive:
        archive.writestr("bs-array-a-c0.quillmere.example/array.cfg", evidence.CONFIGURATION)
        archive.writestr(
            "notes.json",
            json.dumps({"peer": "10.40.20.11", "password": "thrush-In-the-9-reeds", "n": 7}),
        )
    packet = add(marit, noted.number, tmp_path / "diag.zip.gz", gzip.compress(inner.getvalue()))
    exhibit = packet.exhibits[0]
    assert (exhibit.state, exhibit.leaks, exhibit.reason) == ("ready", 0, "")
    with zipfile.ZipFile(
        io.BytesIO(gzip.decompress(outgoing(marit, noted.number, "diag.zip.gz", tmp_path)))
    ) as copy:
        assert "quillmere" not in str(copy.namelist())
        text = b"".join(copy.read(name) for name in copy.namelist()).decode()
        assert json.loads(copy.read("notes.json"))["n"] == 7
    assert "thrush" not in text
    assert "10.40.20" not in text
    assert "serial = TN9-44120-A" in text
    with pytest.raises(Refused) as caught:
        marit.exhibits.review(noted.number, "diag.zip.gz")
    assert caught.value.code == "no-lines"


def test_a_secret_in_a_coat_of_another_exhibit_is_masked(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(marit, noted.number, tmp_path / "app.cfg", b"password = hunter22-again\n")
    add(marit, noted.number, tmp_path / "url.log", b"GET /x?q=hunter22%2Dagain ok\n")
    packet = marit.packets.wait(noted.number)
    assert [e.leaks for e in packet.exhibits] == [0, 0]
    assert b"hunter22" not in outgoing(marit, noted.number, "url.log", tmp_path)


def test_what_is_redacted_again_stays_what_it_is(
    marit: SealPacket, answered: PacketShown, tmp_path: Path
) -> None:
    """A secret that a later exhibit tells of stands in an older one, which is of another kind, and in its name."""
    add(
        marit,
        answered.number,
        tmp_path / "hunter22-again.csv",
        b'what,how\n=hunter22-again,"a, b"\n',
    )
    marit.packets.wait(answered.number)
    add(marit, answered.number, tmp_path / "app.cfg", b"password = hunter22-again\n")
    packet = marit.packets.wait(answered.number)
    assert [(e.name, e.state, e.leaks) for e in packet.exhibits] == [
        ("hunter22-again.csv", "ready", 0),
        ("app.cfg", "ready", 0),
    ]
    assert outgoing(marit, answered.number, "hunter22-again.csv", tmp_path).endswith(b',"a, b"\n')
    names = sorted(marit.packets.letter(answered.number).files)
    assert (len(names), [name for name in names if "hunter22" in name]) == (2, [])
    assert sum(name.endswith(".csv") for name in names) == 1


def test_the_name_of_an_exhibit_is_masked_where_it_goes(
    marit: SealPacket, answered: PacketShown, tmp_path: Path
) -> None:
    packet = add(marit, answered.number, tmp_path / "10.40.9.9.log", b"peer refused\n")
    assert packet.exhibits[0].name == "10.40.9.9.log", "in the house it keeps its name"
    (name,) = marit.packets.letter(answered.number).files
    assert re.fullmatch(r"ip-[a-z2-7]{10}\.log", name)
    marit.packets.seal(answered.number)
    bag = marit.packets.fetch_bag(answered.number, tmp_path / "bag.zip")
    with zipfile.ZipFile(bag) as archive:
        assert not [n for n in archive.namelist() if "10.40.9.9" in n]
        assert [n for n in archive.namelist() if n.endswith(f"exhibits/{name}")]
        assert b"10.40.9.9" not in b"".join(archive.read(n) for n in archive.namelist())


def test_what_is_doubtful_can_be_looked_at_first(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    content = b"peer 10.40.9.9 refused\nresolve db7.stacks.internal failed\naddress: Flat 3, 12 Mill Yard\n"
    add(marit, noted.number, tmp_path / "a.log", content)
    assert [marit.exhibits.review(noted.number, "a.log", at=at).line for at in range(3)] == [
        2,
        3,
        1,
    ]
    found = marit.exhibits.review(noted.number, "a.log", kind="doubtful")
    assert (found.findings, found.doubtful, found.line) == (2, 2, 2)
    assert found.counts == {"address": 1, "host": 1, "ip": 1}
    assert marit.exhibits.review(noted.number, "a.log", kind="ip").findings == 1


def test_the_order_of_findings_is_kept_in_no_list() -> None:
    chance = random.Random(5)
    for total in range(40):
        doubted = sorted(chance.sample(range(total), chance.randrange(total + 1)))
        expected = [*doubted, *(place for place in range(total) if place not in doubted)]
        assert list(_DoubtfulFirst(doubted, total)) == expected
        assert _DoubtfulFirst(doubted, total)[1:5] == expected[1:5]


def test_only_what_is_held_needs_a_release(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(marit, noted.number, tmp_path / "a.log", b"plain\n")
    with pytest.raises(Refused) as caught:
        marit.exhibits.release(noted.number, "a.log", "why not")
    assert caught.value.code == "not-held"


@pytest.mark.parametrize("name", ["../../etc/passwd", "a/b.log", "a\\b.log", "..", "", "  ", "a\nb.log", "x" * 201, "a?.log",
                                  "-rf.log", ".hidden", "100%.log", "con\x7f.log"])  # fmt: skip
def test_names_that_lead_astray_are_refused(
    marit: SealPacket, noted: PacketShown, name: str
) -> None:
    with pytest.raises(Refused) as caught:
        marit._wire.send(
            "POST", f"/packets/{noted.number}/exhibits", json={"name": name, "size": 5}
        )
    assert caught.value.status == 422
    assert marit.packets.get(noted.number).exhibits == []


def test_ordinary_names_of_any_language_are_kept(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    packet = add(marit, noted.number, tmp_path / "Protokoll größer (2) – Kopie.log", b"plain\n")
    assert packet.exhibits[0].name == "Protokoll größer (2) – Kopie.log"
    assert outgoing(marit, noted.number, packet.exhibits[0].name, tmp_path) == b"plain\n"


def test_an_empty_file_is_refused_with_what_to_do(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    with pytest.raises(Refused) as caught:
        add(marit, noted.number, tmp_path / "empty.log", b"")
    assert caught.value.code == "empty-file"
    assert "Collect it again" in caught.value.remedy


def test_a_file_past_the_limit_is_refused_before_it_is_sent(
    marit: SealPacket, noted: PacketShown, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "huge.log"
    with path.open("wb") as file:
        file.truncate(2_000_000_000)
    asked: list[str] = []
    send = marit._wire.send
    monkeypatch.setattr(
        marit._wire, "send", lambda method, *rest, **more: (asked.append(method), send(method, *rest, **more))[1]
    )  # fmt: skip
    with pytest.raises(Refused) as caught:
        marit.exhibits.add(noted.number, path)
    assert (caught.value.status, caught.value.code) == (413, "too-large")
    assert "2.0 GB" in caught.value.detail
    assert asked == ["POST"], "it was announced, and its content never sent"
    assert marit.packets.get(noted.number).exhibits == []


def announce(client: SealPacket, number: str, name: str, size: int) -> None:
    """Say that a file will come."""
    client._wire.send("POST", f"/packets/{number}/exhibits", json={"name": name, "size": size})


@pytest.mark.parametrize(("said", "code"), [(5, "too-large"), (500, "upload-broken")])
def test_content_of_another_size_than_announced_is_not_kept(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, said: int, code: str
) -> None:
    before = blobs(house)
    announce(marit, noted.number, "a.log", said)
    with pytest.raises(Refused) as caught:
        marit._wire.send(
            "PUT", f"/packets/{noted.number}/exhibits/a.log/content", content=b"ten bytes."
        )
    assert caught.value.code == code
    assert marit.packets.get(noted.number).exhibits == []
    assert blobs(house) == before


def test_an_upload_that_breaks_off_leaves_nothing_and_can_be_repeated(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    before = blobs(house)
    announce(marit, noted.number, "a.log", 1_000_000)
    parts = urlsplit(house.address)
    token = authorization(marit)["Authorization"]
    with socket.create_connection((parts.hostname, parts.port)) as line:
        head = (
            f"PUT /api/v1/packets/{noted.number}/exhibits/a.log/content HTTP/1.1\r\nHost: x\r\n"
            f"Authorization: {token}\r\nContent-Length: 1000000\r\n\r\n"
        )
        line.sendall(head.encode() + b"x" * 100_000)
    until(lambda: not marit.packets.get(noted.number).exhibits)
    assert blobs(house) == before
    packet = add(marit, noted.number, tmp_path / "a.log", b"whole this time\n")
    assert packet.exhibits[0].state == "ready"


def test_the_same_name_twice_is_refused(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(marit, noted.number, tmp_path / "a.log", b"first\n")
    with pytest.raises(Refused) as caught:
        marit.exhibits.add(noted.number, tmp_path / "a.log")
    assert (caught.value.status, caught.value.code) == (409, "already-there")


def test_taking_an_exhibit_out_deletes_original_and_copy(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    before = blobs(house)
    add(marit, noted.number, tmp_path / "a.log", b"client 10.40.1.1\n")
    assert blobs(house) > before
    marit.exhibits.remove(noted.number, "a.log")
    assert blobs(house) == before
    assert marit.packets.get(noted.number).exhibits == []


def test_originals_lie_encrypted(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    secret = b"the-very-peculiar-password-4711"
    add(marit, noted.number, tmp_path / "a.log", b"password = " + secret + b"\n")
    assert all(secret not in path.read_bytes() for path in blobs(house))


def test_review_shows_original_beside_outgoing(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    lines = [f"{n:04d} client 10.40.{n // 200}.{n % 200 + 1} token=abc{n}\n" for n in range(600)]
    add(marit, noted.number, tmp_path / "a.log", "".join(lines).encode())
    copy = outgoing(marit, noted.number, "a.log", tmp_path).decode().splitlines()
    review = marit.exhibits.review(noted.number, "a.log", 600, lines=11)
    assert (review.findings, review.at, review.counts) == (1200, 600, {"ip": 600, "secret": 600})
    assert review.line == 301
    assert [line.number for line in review.lines] == list(range(296, 307))
    for line in review.lines:
        assert "".join(span.text for span in line.spans) == lines[line.number - 1].rstrip("\n")
        assert (
            "".join(span.placeholder or span.text for span in line.spans) == copy[line.number - 1]
        )
    only = marit.exhibits.review(noted.number, "a.log", 599, kind="secret", lines=3)
    assert (only.findings, only.at, only.line) == (600, 599, 600)
    assert marit.exhibits.review(noted.number, "a.log", 99_999).at == 1199
    with pytest.raises(Refused):
        marit.exhibits.review(noted.number, "a.log", kind="magic")


def test_review_of_a_clean_file_shows_its_beginning(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    add(marit, noted.number, tmp_path / "a.log", b"one\ntwo\nthree\n")
    review = marit.exhibits.review(noted.number, "a.log", lines=2)
    assert (review.findings, review.at) == (0, None)
    assert [line.spans[0].text for line in review.lines] == ["one", "two"]


def test_readers_do_not_see_originals(
    pauli: SealPacket, house: RunningHouse, noted: PacketShown
) -> None:
    house._service("account", "justreads", "--role", "reader", stdin="a-long-right-password\n")
    from sealpacket.client import make_token

    token = make_token(house.address, "justreads", "a-long-right-password", "t").token
    with SealPacket(house.address, token) as reader:
        assert reader.packets.get(noted.number).number == noted.number
        with pytest.raises(Refused) as caught:
            reader.exhibits.review(noted.number, "a.log")
    assert caught.value.code == "not-allowed"


def redactions_in_the_queue(app: AppContext) -> int:
    """How many redactions wait or are under way."""
    query = "SELECT count(*) FROM procrastinate_jobs WHERE task_name = :task AND status IN ('todo', 'doing')"
    with app.database.transaction() as session:
        return int(session.execute(text(query), {"task": exhibits.REDACT}).scalar_one())


def test_progress_can_be_seen_on_the_way(
    marit: SealPacket,
    house: RunningHouse,
    inside: AppContext,
    noted: PacketShown,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(redactions, "TOLD_EVERY", 0)
    log = evidence.write_controller_log(tmp_path / "controller.log", size=6_000_000)
    seen: list[int] = []

    def looking(blocks: Iterator[bytes]) -> Iterator[bytes]:
        for block in blocks:
            yield block
            seen.append(marit.packets.get(noted.number).exhibits[0].done)

    house.end("worker")
    try:
        marit.exhibits.add(noted.number, log)
        [waiting] = marit.packets.get(noted.number).exhibits
        read = inside.blobs.read
        monkeypatch.setattr(inside.blobs, "read", lambda *where: looking(read(*where)))
        redactions.redact_exhibit(inside, waiting.id)
    finally:
        house.begin("worker")
        until(lambda: not redactions_in_the_queue(inside))  # it is redacted once more
    size = log.stat().st_size
    assert seen == sorted(seen)
    assert len({done for done in seen if 0 < done < size}) >= 2
    assert marit.packets.get(noted.number).exhibits[0].done == size


def test_a_large_log_keeps_what_the_desk_needs_and_nothing_else(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    log = evidence.write_controller_log(tmp_path / "controller.log", size=3_000_000)
    marit.exhibits.add(noted.number, log)
    exhibit = marit.packets.wait(noted.number).exhibits[0]
    assert (exhibit.state, exhibit.leaks) == ("ready", 0)
    assert exhibit.kept["asset"] > 9_000
    text = outgoing(marit, noted.number, "controller.log", tmp_path)
    assert text.count(b"\n") == log.read_bytes().count(b"\n")
    for original in (
        b"10.40.",
        b"TN9-44121-B",
        b"Bearer 0",
        b"ines.harrowgate",
        b"-kiosk",
        b"02:1a:",
    ):
        assert original not in text
    for needed in (b"E-3312 write latency", b"TN9-44120-A", b"mirror link retrain on port 3"):
        assert needed in text
