"""The client library as a program uses it."""

from __future__ import annotations

import contextlib
import socket
import struct
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest

import sealpacket.client as front_door
from sealpacket.client import ClientError, NoService, Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.client.packets import busy
from sealpacket.client.wire import Wire, part, refused
from sealpacket.demo.cluster import free_port
from sealpacket.demo.house import RunningHouse
from tests.conftest import ARRAY, NOTE, SHELF, add


def test_the_front_door_shows_the_few_things_a_caller_needs() -> None:
    assert set(front_door.__all__) == {
        "AsyncSealPacket",
        "BadAnswer",
        "ClientError",
        "NoService",
        "NoWorker",
        "PageBox",
        "Refused",
        "SealPacket",
        "TlsFault",
        "make_token",
        "models",
    }
    assert "client.packets.note(" in str(front_door.__doc__)


def test_the_client_imports_nothing_of_the_service() -> None:
    import subprocess
    import sys

    program = "import sealpacket.client, sys; print([m for m in sys.modules if m.startswith('sealpacket.')])"
    done = subprocess.run(
        [sys.executable, "-c", program], capture_output=True, text=True, check=True
    )
    assert all(name.startswith("sealpacket.client") for name in eval(done.stdout)), done.stdout  # noqa: S307


@pytest.mark.parametrize(
    ("text", "path"),
    [("a b", "a%20b"), ("../x", "..%2Fx"), ("größe?", "gr%C3%B6%C3%9Fe%3F"), ("#", "%23")],
)
def test_parts_of_a_path_stay_parts(text: str, path: str) -> None:
    assert part(text) == path


@pytest.mark.parametrize(
    ("body", "code", "sentence"),
    [
        (b'{"code": "stale", "detail": "Changed.", "remedy": "Read it."}', "stale", "Changed."),
        (b"<html>gateway</html>", "http-502", "The service answered with HTTP 502."),
        (b"[1]", "http-502", "The service answered with HTTP 502."),
        (b"", "http-502", "The service answered with HTTP 502."),
    ],
)
def test_every_refusal_has_code_sentence_and_remedy(body: bytes, code: str, sentence: str) -> None:
    error = refused(httpx.Response(502, content=body))
    assert (error.status, error.code, error.detail) == (502, code, sentence)
    assert error.remedy
    assert isinstance(error, ClientError)


def test_a_service_that_does_not_answer_is_no_service() -> None:
    with socket.socket() as silent:
        silent.bind(("127.0.0.1", 0))
        silent.listen()
        client = SealPacket(f"http://127.0.0.1:{silent.getsockname()[1]}", "x", timeout=0.3)
        with pytest.raises(NoService, match="did not answer in time"):
            client.health()
    with pytest.raises(NoService, match="cannot be reached"):
        SealPacket(f"http://127.0.0.1:{free_port()}").health()


@pytest.fixture
def closing() -> Iterator[tuple[str, list[bytes]]]:
    """A service that answers the first request of a connection and breaks it off at the second; what it was asked."""
    asked: list[bytes] = []
    with socket.create_server(("127.0.0.1", 0)) as listening:

        def serve() -> None:
            with contextlib.suppress(OSError):
                while True:
                    connection, _ = listening.accept()
                    asked.append(connection.recv(65536).split(b" ", 1)[0])
                    connection.sendall(
                        b"HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: 2\r\n\r\n{}"
                    )
                    connection.recv(1)
                    connection.setsockopt(
                        socket.SOL_SOCKET, socket.SO_LINGER, struct.pack("ii", 1, 0)
                    )
                    connection.close()

        threading.Thread(target=serve, daemon=True).start()
        yield f"http://127.0.0.1:{listening.getsockname()[1]}", asked
        listening.shutdown(socket.SHUT_RDWR)


def test_what_only_reads_is_asked_again_where_a_kept_connection_was_closed(
    closing: tuple[str, list[bytes]],
) -> None:
    address, asked = closing
    wire = Wire(address, "token", 10)
    for _ in range(3):
        assert wire.send("GET", "/vendors").json() == {}
    assert asked == [b"GET"] * 3


def test_what_creates_something_is_asked_again_with_the_same_key(
    closing: tuple[str, list[bytes]],
) -> None:
    address, asked = closing
    wire = Wire(address, "token", 10)
    keys: list[str] = []
    wire._client.event_hooks["request"] = [
        lambda request: keys.append(request.headers["Idempotency-Key"])
    ]
    wire.send("POST", "/packets")
    wire.send("POST", "/packets")
    assert asked == [b"POST"] * 2
    assert len(set(keys)) == 2


@pytest.mark.parametrize("method", ["PUT", "PATCH", "DELETE"])
def test_what_changes_something_is_asked_once(
    closing: tuple[str, list[bytes]], method: str
) -> None:
    address, asked = closing
    wire = Wire(address, "token", 10)
    wire.send(method, "/packets")
    with pytest.raises(NoService):
        wire.send(method, "/packets")
    assert asked == [method.encode()]


def test_progress_is_told_while_a_file_is_sent(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    path = tmp_path / "big.log"
    path.write_bytes(b"queue depth latency\n" * 100_000)
    seen: list[tuple[int, int]] = []
    marit.exhibits.add(noted.number, path, progress=lambda sent, size: seen.append((sent, size)))
    assert seen[-1] == (2_000_000, 2_000_000)
    assert [sent for sent, _ in seen] == sorted(sent for sent, _ in seen)
    marit.packets.wait(noted.number)


def test_an_exhibit_may_have_another_name_than_its_file(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    path = tmp_path / "x.tmp"
    path.write_bytes(b"plain\n")
    marit.exhibits.add(noted.number, path, name="controller 1.log")
    assert [e.name for e in marit.packets.wait(noted.number).exhibits] == ["controller 1.log"]


def test_waiting_ends_when_nothing_is_in_hand(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    assert not busy(marit.packets.wait(noted.number))
    house.end("worker")
    try:
        (tmp_path / "a.log").write_bytes(b"plain\n")
        marit.exhibits.add(noted.number, tmp_path / "a.log")
        assert busy(marit.packets.get(noted.number))
        with pytest.raises(ClientError, match="still busy") as caught:
            marit.packets.wait(noted.number, seconds=0.5)
        assert "worker" in caught.value.remedy
    finally:
        house.begin("worker")
    assert not busy(marit.packets.wait(noted.number))


def test_a_change_without_a_version_is_of_the_newest(marit: SealPacket, noted: PacketShown) -> None:
    marit.packets.change(noted.number, title="First change")
    assert marit.packets.change(noted.number, title="Second change").title == "Second change"


def test_two_changes_at_the_same_moment_leave_one_of_them(
    marit: SealPacket, teo: SealPacket, noted: PacketShown
) -> None:
    outcomes: list[Any] = []

    def change(client: SealPacket, title: str) -> None:
        try:
            outcomes.append(client.packets.change(noted.number, noted.version, title=title).title)
        except Refused as error:
            outcomes.append(error.code)

    threads = [
        threading.Thread(target=change, args=(c, f"Title {n}")) for n, c in enumerate((marit, teo))
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert outcomes.count("stale") == 1
    assert marit.packets.get(noted.number).title in outcomes


def test_today_has_the_stops_of_every_draft(marit: SealPacket) -> None:
    noted = [
        marit.packets.note(f"Draft number {n}", NOTE, asset=(ARRAY, SHELF)[n % 2]).number
        for n in range(6)
    ]
    ours = {packet.number: packet for packet in marit.today().ours}
    for number in noted:
        own = [check for check in marit.packets.get(number).checks if check.level == "stop"]
        assert ours[number].stops == len(own) == 3
        assert ours[number].status_text == "Draft, 3 stops left"


def test_a_bag_is_fetched_whole_or_not_at_all(
    marit: SealPacket, answered: PacketShown, tmp_path: Path
) -> None:
    add(marit, answered.number, tmp_path / "a.log", b"client 10.40.1.1\n")
    target = tmp_path / "bags"
    target.mkdir()
    with pytest.raises(Refused):
        marit.packets.fetch_bag(answered.number, target / "x.zip")
    assert list(target.iterdir()) == []
    marit.packets.seal(answered.number)
    assert marit.packets.fetch_bag(answered.number, target / "x.zip").stat().st_size > 500
    assert [p.name for p in target.iterdir()] == ["x.zip"]
