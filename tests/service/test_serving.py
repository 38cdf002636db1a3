"""How one connection is served: requests as they may come over the network, with small applications behind it."""

from __future__ import annotations

import asyncio
import gc
import socket
import threading
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from typing import Any

import pytest
from werkzeug.exceptions import ClientDisconnected

from sealpacket.web.bodies import SlowBody
from sealpacket.web.serving import connection
from sealpacket.web.serving.application import ASK_AGAIN, Batch, Wsgi
from sealpacket.web.serving.connection import Connection

GET = b"GET /a%20b?c=d HTTP/1.1\r\nHost: x\r\n\r\n"


class Process:
    """A process with an application; whoever sends a cookie is signed in."""

    def __init__(self, application: Wsgi) -> None:
        self.wsgi = application
        self.requests, self.transfers = ThreadPoolExecutor(1), ThreadPoolExecutor(1)

    async def is_signed_in(self, headers: Iterable[tuple[bytes, bytes]]) -> bool:
        return any(name == b"cookie" for name, _ in headers)

    async def file(self, path: str) -> Batch | None:
        if path != "/static/page.js":
            return None
        return Batch("200 OK", [("Content-Length", "3")], [b"abc"], 3)

    async def news(self, after: int) -> None:
        await asyncio.sleep(0)


def echo(environ: dict[str, Any], start: Callable[..., Any]) -> list[bytes]:
    """The address and the body of a request."""
    body = environ["wsgi.input"].read()
    found = environ["QUERY_STRING"].encode() + b"|" + body
    start("200 OK", [("Content-Length", str(len(found))), ("X-Path", environ["PATH_INFO"])])
    return [found]


@contextmanager
def served(application: Wsgi) -> Iterator[int]:
    """The port at which an event loop in a thread serves the application."""
    ports: list[int] = []
    is_up = threading.Event()
    loop = asyncio.new_event_loop()
    ending = asyncio.Event()

    async def main() -> None:
        process = Process(application)

        async def accept(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            await Connection(process, reader, writer).serve()

        server = await asyncio.start_server(accept, "127.0.0.1", 0)
        ports.append(server.sockets[0].getsockname()[1])
        is_up.set()
        await ending.wait()
        server.close()

    thread = threading.Thread(target=loop.run_until_complete, args=(main(),))
    thread.start()
    is_up.wait()
    try:
        yield ports[0]
    finally:
        loop.call_soon_threadsafe(ending.set)
        thread.join()
        for task in asyncio.all_tasks(loop):
            task.cancel()
        loop.run_until_complete(asyncio.sleep(0))
        loop.close()


def answers(port: int, *sent: bytes, until: bytes = b"") -> bytes:
    """What comes back until the connection ends, or until the text."""
    with socket.create_connection(("127.0.0.1", port), timeout=60) as client:
        for part in sent:
            client.sendall(part)
        found = b""
        while not (until and until in found) and (part := client.recv(1 << 20)):
            found += part
    return found


@pytest.mark.parametrize(
    ("request_", "parts"),
    [
        (GET, [b"HTTP/1.1 200 OK", b"x-path: /a b", b"server: sealpacket", b"date: ", b"c=d|"]),
        (b"GET http://y/a?c=d HTTP/1.1\r\nHost: x\r\n\r\n", [b"x-path: /a", b"c=d|"]),
        (b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 5\r\n\r\nhello", [b"|hello"]),
        (b"POST / HTTP/1.1\r\nHost: x\r\nCookie: a\r\nTransfer-Encoding: chunked\r\n\r\n"
         b"3\r\nhel\r\n2\r\nlo\r\n0\r\n\r\n", [b"|hello"]),
        (b"GET /static/page.js HTTP/1.1\r\nHost: x\r\n\r\n", [b"\r\n\r\nabc"]),
        (b"GET /static/none.js HTTP/1.1\r\nHost: x\r\n\r\n", [b"x-path: /static/none.js"]),
        (b"GET /static/page.js HTTP/1.1\r\nHost: x\r\nRange: bytes=0-1\r\n\r\n", [b"x-path: "]),
        (b"GET / HTTP/1.1\r\n\r\n", [b"HTTP/1.1 400 "]),
        (b"GET x HTTP/1.1\r\nHost: x\r\n\r\n", [b"HTTP/1.1 400 "]),
        (b"POST / HTTP/1.1\r\nHost: x\r\nCookie: a\r\nContent-Length: 5\r\nTransfer-Encoding: chunked\r\n\r\n",
         [b"HTTP/1.1 400 "]),
        (b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 5\r\nContent-Length: 6\r\n\r\nhello", [b"HTTP/1.1 400 "]),
        (b"POST / HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: gzip\r\n\r\n", [b"HTTP/1.1 400 "]),
        (b"GET / HTTP/1.1\r\nHost: x\r\n" + b"X: y\r\n" * 101 + b"\r\n", [b"HTTP/1.1 431 "]),
    ],
)  # fmt: skip
def test_a_request_is_answered(request_: bytes, parts: list[bytes]) -> None:
    close = request_.replace(b"Host: x", b"Host: x\r\nConnection: close", 1)
    with served(echo) as port:
        found = answers(port, close)
    for part in parts:
        assert part.lower() in found.lower(), found


def test_requests_that_come_at_once_are_answered_in_their_order() -> None:
    last = b"GET /?last HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n"
    with served(echo) as port:
        found = answers(port, GET * 3 + last)
    assert found.count(b"HTTP/1.1 200") == 4
    assert found.rindex(b"c=d|") < found.index(b"last|")


def test_a_body_is_awaited_when_its_sender_asks_first() -> None:
    """RFC 9110, 10.1.1."""
    head = b"POST / HTTP/1.1\r\nHost: x\r\nExpect: 100-continue\r\nContent-Length: 5\r\nConnection: close\r\n\r\n"
    with (
        served(echo) as port,
        socket.create_connection(("127.0.0.1", port), timeout=60) as client,
    ):
        client.sendall(head)
        assert client.recv(1 << 16).startswith(b"HTTP/1.1 100")
        client.sendall(b"hello")
        found = b""
        while part := client.recv(1 << 16):
            found += part
    assert found.endswith(b"|hello")


def test_a_header_with_an_underscore_cannot_pass_for_another() -> None:
    def shows(environ: dict[str, Any], start: Callable[..., Any]) -> list[bytes]:
        start("200 OK", [("Content-Length", "4")])
        return [environ.get("HTTP_X_FORWARDED_FOR", "none").encode()]

    head = b"GET / HTTP/1.1\r\nHost: x\r\nX_Forwarded_For: 192.0.2.1\r\nConnection: close\r\n\r\n"
    with served(shows) as port:
        assert answers(port, head).endswith(b"none")


def test_a_large_answer_holds_one_batch_in_memory() -> None:
    """The application is asked for the next part when the one before is sent; its end is called in any case."""
    given: list[int] = []
    has_ended = threading.Event()

    def large(_environ: dict[str, Any], start: Callable[..., Any]) -> Iterator[bytes]:
        start("200 OK", [])
        try:
            for number in range(400):
                given.append(number)
                yield b"x" * (1 << 18)
        finally:
            has_ended.set()

    with (
        served(large) as port,
        socket.create_connection(("127.0.0.1", port), timeout=60) as client,
    ):
        client.sendall(GET)
        client.recv(1 << 10)
        client.close()
        assert has_ended.wait(60)
    assert len(given) < 400


def test_an_application_that_fails_answers_nothing_that_looks_complete() -> None:
    def fails(environ: dict[str, Any], start: Callable[..., Any]) -> Iterator[bytes]:
        if environ["PATH_INFO"] == "/at-once":
            raise ValueError("no answer")
        start("200 OK", [])
        yield b"x" * (1 << 18)
        raise ValueError("half an answer")

    with served(fails) as port:
        assert b"HTTP/1.1 500 " in answers(port, b"GET /at-once HTTP/1.1\r\nHost: x\r\n\r\n")
        half = answers(port, GET)
    assert b"HTTP/1.1 200" in half
    assert not half.endswith(b"0\r\n\r\n")


def test_a_body_that_stops_is_given_up(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(connection, "IDLE_SECONDS", 0.2)
    seen: list[BaseException] = []

    def reads(environ: dict[str, Any], start: Callable[..., Any]) -> list[bytes]:
        try:
            environ["wsgi.input"].read()
        except (SlowBody, ClientDisconnected) as error:
            seen.append(error)
        start("408 Request Timeout", [("Content-Length", "0")])
        return []

    head = b"PUT / HTTP/1.1\r\nHost: x\r\nCookie: a\r\nContent-Length: 900000\r\n\r\nhalf"
    chunked = (
        b"PUT / HTTP/1.1\r\nHost: x\r\nCookie: a\r\nTransfer-Encoding: chunked\r\n\r\nno chunk\r\n"
    )
    with served(reads) as port:
        assert answers(port, head).startswith(b"HTTP/1.1 408 Request Timeout\r\n")
        assert answers(port, chunked).startswith(b"HTTP/1.1 408 ")
    assert [type(one) for one in seen] == [SlowBody, ClientDisconnected]


def test_a_reader_who_takes_nothing_is_given_up(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(connection, "IDLE_SECONDS", 0.2)
    has_ended = threading.Event()

    def endless(_environ: dict[str, Any], start: Callable[..., Any]) -> Iterator[bytes]:
        start("200 OK", [])
        try:
            while True:
                yield b"x" * (1 << 18)
        finally:
            has_ended.set()

    with (
        served(endless) as port,
        socket.create_connection(("127.0.0.1", port), timeout=60) as client,
    ):
        client.sendall(GET)
        assert has_ended.wait(60)


def test_a_request_may_be_asked_again() -> None:
    """A header of the application's own has it called again, and goes no further."""
    calls: list[int] = []

    def waits(_environ: dict[str, Any], start: Callable[..., Any]) -> list[bytes]:
        calls.append(len(calls))
        again = [(ASK_AGAIN, "20 7")] if len(calls) < 3 else []
        start("200 OK", [("Content-Length", "1"), *again])
        return [str(len(calls)).encode()]

    with served(waits) as port:
        found = answers(port, GET.replace(b"Host: x", b"Host: x\r\nConnection: close"))
    assert found.endswith(b"\r\n\r\n3")
    assert b"Ask-Again" not in found


def connections() -> int:
    """How many connections are in memory."""
    gc.collect()
    return sum(isinstance(one, Connection) for one in gc.get_objects())


def test_refused_requests_leave_nothing_in_memory() -> None:
    """Nobody has to sign in to be refused: what each one has sent must be gone with it."""
    head = b"GET / HTTP/1.1\r\nX: " + b"y" * 30_000 + b"\r\n\r\n"
    before = connections()
    with served(echo) as port:
        for _ in range(20):
            assert answers(port, head).startswith(b"HTTP/1.1 400 ")
    assert connections() - before < 5
