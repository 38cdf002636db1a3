"""Clients that send slowly, or nothing: they hold connections, and never the threads that others need."""

from __future__ import annotations

import socket
import time
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path

import pytest

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from tests import plain_http
from tests.houses import CONSOLE

PROCESSES = 2
MANY = 400
"""Far more than all threads of both processes."""
HEAD = b"POST /api/v1/sign-in HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\n"
STARTS = {
    "nothing at all": b"",
    "half a head": b"GET /api/v1/health HTTP/1.1\r\nHost: x\r\nX-Slow: ",
    "half a small body": HEAD + b'Content-Length: 1000\r\n\r\n{"name": "',
    "half a large body": HEAD + b'Content-Length: 900000\r\n\r\n{"name": "',
    "half a chunked body": HEAD + b'Transfer-Encoding: chunked\r\n\r\n9\r\n{"name": ',
    "a whole request and half of another": b"GET /api/v1/health HTTP/1.1\r\nHost: x\r\n\r\nGET /api/v1/health HTTP/1.1\r\nX: ",
    "half an upload": b"PUT /api/v1/packets/P-0001/exhibits/a/content HTTP/1.1\r\nHost: x\r\nContent-Length: 90000000\r\n\r\nx",
    "an answer that nobody reads": b"GET /openapi.json HTTP/1.1\r\nHost: x\r\n\r\n" * 2,
    "a large file that nobody reads": b"GET /static/FILE HTTP/1.1\r\nHost: x\r\n\r\n" * 40,
}  # fmt: skip


@contextmanager
def connected(house: RunningHouse, sent: bytes) -> Iterator[list[socket.socket]]:
    """So many clients that have sent this, and read nothing: what is for them soon has no room any more."""
    with ExitStack() as stack:
        made = [stack.enter_context(socket.socket()) for _ in range(MANY)]
        for one in made:
            one.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
            one.connect(("127.0.0.1", house.port))
            one.setblocking(False)
            one.send(sent or b"")
        yield made


def health(house: RunningHouse, seconds: float) -> int:
    return plain_http.get(f"{house.address}/api/v1/health", timeout=seconds).status_code


def patience(start: str) -> float:
    """Seconds to wait for an answer: fewer than those after which such clients are cut off."""
    return 25 if "nobody reads" in start else 9


def largest_file() -> Path:
    """The largest file of the console."""
    return max((CONSOLE / "static").iterdir(), key=lambda one: one.stat().st_size)


@pytest.mark.parametrize("start", STARTS)
def test_slow_clients_hold_no_thread(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, start: str, tmp_path: Path
) -> None:
    """The console loads, the API answers, and a file goes up and down, while four hundred others crawl."""
    file = largest_file()
    (tmp_path / "large.log").write_bytes(b"2026-11-20T08:00:00Z all is well\n" * 200_000)
    with connected(house, STARTS[start].replace(b"FILE", file.name.encode())):
        assert health(house, patience(start)) == 200
        assert marit.me().name == "marit"
        with plain_http.client(base_url=house.address, timeout=patience(start) + 1) as page:
            assert "<script" in page.get("/").text
            assert page.get(f"/static/{file.name}").content == file.read_bytes()
        marit.exhibits.add(noted.number, tmp_path / "large.log")
        marit.packets.wait(noted.number)
        marit.exhibits.fetch_outgoing(noted.number, "large.log", tmp_path / "back.log")
    assert (tmp_path / "back.log").stat().st_size > 6_000_000


def test_what_does_not_arrive_in_time_is_closed(house: RunningHouse) -> None:
    with socket.create_connection(("127.0.0.1", house.port)) as client:
        client.send(STARTS["half a head"])
        client.settimeout(30)
        assert client.recv(1) == b""


def test_an_upload_takes_its_time(
    house: RunningHouse, marit: SealPacket, noted: PacketShown
) -> None:
    """A file that comes in pieces with pauses arrives whole, while sixty others crawl."""
    size = 300_000
    body = {"name": "slow.log", "size": size}
    marit._wire.send("POST", f"/packets/{noted.number}/exhibits", json=body)

    def pieces() -> Iterator[bytes]:
        for _ in range(6):
            time.sleep(0.2)
            yield b"x" * (size // 6)

    with connected(house, STARTS["half a small body"]):
        headers = {"Content-Type": "application/octet-stream", "Content-Length": str(size)}
        answer = marit._wire.send(
            "PUT",
            f"/packets/{noted.number}/exhibits/slow.log/content",
            content=pieces(),
            headers=headers,
        )
    assert answer.json()["sha256"]


@pytest.mark.parametrize(
    ("request_", "status"),
    [
        (b"GET /" + b"x" * 5000 + b" HTTP/1.1\r\nHost: x\r\n\r\n", 414),
        (b"GET / HTTP/1.1\r\nHost: x\r\nX-Long: " + b"x" * 9000 + b"\r\n\r\n", 431),
        (b"GET / HTTP/1.1\r\n" + b"X: y\r\n" * 20_000, 431),
        (b"this is not a request\r\n\r\n", 400),
        (HEAD + b"Content-Length: 5\r\nTransfer-Encoding: chunked\r\n\r\n0\r\n\r\n", 411),
        (b"POST /hooks/tarnfell-support HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: chunked\r\n\r\n"
         + b"10000\r\n" + b"x" * 65536 + b"\r\n0\r\n\r\n", 411),
        (b"POST /hooks/tarnfell-support HTTP/1.1\r\nHost: x\r\nContent-Length: 300000\r\n\r\nx", 413),
        (b"PUT /api/v1/packets/P-0001/exhibits/a/content HTTP/1.1\r\nHost: x\r\nContent-Length: 90000000\r\n\r\nx", 401),
        (b"GET /api/v1/packets/P-0001/bag HTTP/1.1\r\nHost: x\r\n\r\n", 401),
    ],
)  # fmt: skip
def test_what_is_no_request_is_a_problem_document_too(
    house: RunningHouse, request_: bytes, status: int
) -> None:
    with socket.create_connection(("127.0.0.1", house.port)) as client:
        client.settimeout(10)
        client.sendall(request_)
        answer = b""
        while b"remedy" not in answer and (part := client.recv(65536)):
            answer += part
    assert answer.startswith(f"HTTP/1.1 {status} ".encode())
    assert b"application/problem+json" in answer
    assert b'"code"' in answer
