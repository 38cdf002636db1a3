"""A gunicorn worker that gives a thread only to requests that have arrived whole.

Heads and small bodies are gathered in the main loop, within a time limit. Whoever sends slowly, or nothing, holds a
connection and no thread. The console's files are answered in the main loop as well, as fast as each reader takes them.
Uploads and downloads, which take their time, have threads of their own, so that however many of them crawl, the API
still answers; nobody who has not signed in gets one of these, nor may send a body without saying its length.
"""

from __future__ import annotations

import io
import json
import re
import socket
import struct
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from selectors import EVENT_READ, EVENT_WRITE
from typing import Any

from gunicorn.http import errors
from gunicorn.workers.gthread import TConn, ThreadWorker

LARGEST_HEAD = 64 << 10
SMALL_BODY = 256 << 10
"""Maximum bytes of a body that is read completely before a thread gets the request."""
HEAD_SECONDS, BODY_SECONDS, LINGER_SECONDS = 10.0, 20.0, 2.0
MOST_DRAINED = 4 << 20
IDLE_SECONDS = 30
"""Seconds that a thread waits for the next bytes of an upload, or for a reader to take some of a download."""
TRANSFERS = 6
"""Threads of one process for uploads and downloads."""
SPARE = 64
"""Reserve of connections; below it the oldest incomplete requests are closed."""

_END = b"\r\n\r\n"
_LENGTH = re.compile(rb"(?im)^content-length[ \t]*:[ \t]*(\d{1,18})[ \t]*\r?$")
_UNSURE = re.compile(rb"(?im)^(?:expect|upgrade)[ \t]*:")
_CHUNKED = re.compile(rb"(?im)^transfer-encoding[ \t]*:")
_SIGNED = re.compile(rb"(?im)^(authorization|cookie)[ \t]*:[ \t]*([^\r\n]{1,8192})\r?$")
_STATIC = re.compile(rb"GET (/static/[A-Za-z0-9._-]{1,120}) HTTP/1\.1\r\n")
_TRANSFER = re.compile(
    rb"(?:GET|HEAD) /(?:api/v1/(?:packets/[^/ ]+/(?:bag|files/|messages/[^/ ]+/original)|export/|tray/|"
    rb"order-documents/[^/ ]+/(?:file|pages)|assets/[^/ ]+/files/)|"
    rb"api/v1/packets/[^/ ]+/exhibits/[^/ ]+/(?:outgoing|pages/))"
)
"""Requests whose answers may be large."""


class Gathered(TConn):  # type: ignore[misc]
    """A connection with what has arrived of its next request."""

    def __init__(self, *arguments: Any) -> None:
        super().__init__(*arguments)
        self.arrived = b""
        self.deadline = 0.0
        self.needs = 0
        """How many bytes the request has with its body, once its head is there."""
        self.is_transfer = False
        self.head = b""
        self.closes = False
        self.answer = memoryview(b"")
        """The unwritten rest of an answer that the main loop gives."""

    def init(self) -> None:
        """See TConn. What was gathered is what the parser reads first."""
        super().init()
        self.parser.unreader.unread(self.arrived)
        self.arrived = b""

    def is_whole(self) -> bool:
        """Whether a thread can go on with it without waiting for its sender; works out what kind of request it is."""
        if not self.needs:
            end = self.arrived.find(_END)
            if end < 0:
                return False
            head = self.arrived[: end + 2]
            length = _LENGTH.search(head)
            size = int(length[1]) if length else 0
            self.head = head
            streamed = (
                size > SMALL_BODY
                or _UNSURE.search(head) is not None
                or _CHUNKED.search(head) is not None
            )
            self.is_transfer = streamed or _TRANSFER.match(head) is not None
            self.needs = end + len(_END) + (0 if streamed else size)
        return len(self.arrived) >= self.needs

    @property
    def signed(self) -> dict[str, str]:
        """The headers by which its sender has signed in, by name as WSGI has them."""
        found = _SIGNED.findall(self.head)
        return {f"HTTP_{name.decode().upper()}": value.decode("latin-1") for name, value in found}

    @property
    def file(self) -> str:
        """The address of the console's file that it asks for; empty where it asks for something else."""
        found = _STATIC.match(self.head)
        whole = found is not None and b"\r\nRange:" not in self.head
        return found[1].decode() if found is not None and whole else ""


class Gatherer(ThreadWorker):  # type: ignore[misc]
    """See above. `gathering` are connections whose next request is not whole yet, or that are about to be closed."""

    def __init__(self, *arguments: Any, **more: Any) -> None:
        super().__init__(*arguments, **more)
        self.gathering: dict[Gathered, None] = {}
        self._files: dict[str, bytes] = {}

    def init_process(self) -> None:
        """Make the threads for transfers as well."""
        self.transfers = ThreadPoolExecutor(max_workers=TRANSFERS, thread_name_prefix="transfer")
        super().init_process()

    def accept(self, listener: socket.socket) -> None:
        """Take a new connection, and gather its first request."""
        try:
            client, address = listener.accept()
        except (BlockingIOError, ConnectionAbortedError):
            return
        seconds = struct.pack("ll", IDLE_SECONDS, 0)
        for option in (socket.SO_RCVTIMEO, socket.SO_SNDTIMEO):
            client.setsockopt(socket.SOL_SOCKET, option, seconds)
        self.nr_conns += 1
        if self.nr_conns > self.worker_connections - SPARE:
            self._make_room()
        self._gather(Gathered(self.cfg, client, address, listener.getsockname()), b"")

    def _make_room(self) -> None:
        """Close the connection that has gathered longest, or else been kept longest."""
        if self.gathering:
            self._drop(next(iter(self.gathering)))
        elif self.keepalived_conns:
            conn = self.keepalived_conns.popleft()
            self.poller.unregister(conn.sock)
            self.nr_conns -= 1
            conn.close()

    def _gather(self, conn: Gathered, arrived: bytes) -> None:
        """Wait in the main loop for the rest of a request."""
        conn.arrived, conn.needs, conn.is_transfer, conn.head = arrived, 0, False, b""
        conn.deadline = time.monotonic() + HEAD_SECONDS
        conn.sock.setblocking(False)
        if arrived and conn.is_whole():
            self.enqueue_req(conn)
            return
        self.gathering[conn] = None
        self.poller.register(conn.sock, EVENT_READ, partial(self._read, conn))

    def _read(self, conn: Gathered, client: socket.socket) -> None:
        try:
            data = client.recv(1 << 16)
        except BlockingIOError:
            return
        except OSError:
            data = b""
        if not data:
            self._drop(conn)
            return
        had_head = bool(conn.needs)
        conn.arrived += data
        if not conn.needs and len(conn.arrived) > LARGEST_HEAD and _END not in conn.arrived:
            self.handle_error(
                None, client, conn.client, errors.LimitRequestHeaders("the head does not end")
            )
            self.poller.unregister(client)
            del self.gathering[conn]
            self._linger(conn)
        elif conn.is_whole():
            self.poller.unregister(client)
            del self.gathering[conn]
            self.enqueue_req(conn)
        elif conn.needs and not had_head:
            conn.deadline = time.monotonic() + BODY_SECONDS

    def _drop(self, conn: Gathered) -> None:
        self.poller.unregister(conn.sock)
        del self.gathering[conn]
        self.nr_conns -= 1
        conn.close()

    def enqueue_req(self, conn: Gathered) -> None:
        """Give a request a thread of its kind; a file of the console's is answered at once."""
        whole = self._file(conn.file) if conn.file else b""
        if whole:
            self._write(conn, whole)
        elif conn.is_transfer:
            asked = self.tpool.submit(self._is_signed_in, conn.signed)
            asked.add_done_callback(
                lambda found: self.method_queue.defer(self._admit, conn, found.result())
            )
        else:
            self._hand(conn, self.tpool)

    def _is_signed_in(self, headers: dict[str, str]) -> bool:
        """Whether somebody has signed in by these headers, as the application says."""
        return bool(headers) and self._asked("/api/v1/me", headers)[0].startswith("200 ")

    def _asked(
        self, path: str, headers: dict[str, str]
    ) -> tuple[str, list[tuple[str, str]], bytes]:
        """The application's answer to an internal GET: status, headers and body."""
        said: list[Any] = []
        environ = {
            "REQUEST_METHOD": "GET", "SCRIPT_NAME": "", "PATH_INFO": path, "QUERY_STRING": "",
            "SERVER_NAME": "localhost", "SERVER_PORT": "80", "SERVER_PROTOCOL": "HTTP/1.1",
            "REMOTE_ADDR": "127.0.0.1", "wsgi.version": (1, 0), "wsgi.url_scheme": "http",
            "wsgi.input": io.BytesIO(), "wsgi.errors": sys.stderr, "wsgi.multithread": True,
            "wsgi.multiprocess": True, "wsgi.run_once": False, **headers,
        }  # fmt: skip
        blocks = self.wsgi(environ, lambda status, found, _=None: said.extend((status, found)))
        try:
            body = b"".join(blocks)
        finally:
            close = getattr(blocks, "close", None)
            if close is not None:
                close()
        return said[0], said[1], body

    def _admit(self, conn: Gathered, signed_in: bool) -> None:
        """Give a transfer its thread, if its sender has signed in; refuse it otherwise without reading its body."""
        if signed_in:
            self._hand(conn, self.transfers)
        elif _CHUNKED.search(conn.head):
            self._refuse(conn, 411)
        elif conn.needs == len(conn.arrived) and not _LENGTH.search(conn.head):
            self._hand(
                conn, self.tpool
            )  # a download: the application says that nobody is signed in
        else:
            self._refuse(conn, 413 if _ANYBODY.match(conn.head) else 401)

    def _refuse(self, conn: Gathered, status: int) -> None:
        body, head = _problem(status, *_REFUSED[status])
        self._write(conn, head + body, close=True)

    def _file(self, path: str) -> bytes:
        """The public answer for a file of the console; empty if there is no such file."""
        if path not in self._files:
            status, headers, body = self._asked(path, {})
            if not status.startswith("200 "):
                return b""
            lines = "".join(
                f"{name}: {value}\r\n"
                for name, value in headers
                if name not in ("Content-Length", "Date")
            )
            head = f"HTTP/1.1 200 OK\r\nServer: sealpacket\r\n{lines}Content-Length: {len(body)}\r\n\r\n"
            self._files[path] = head.encode("latin-1") + body
        return self._files[path]

    def _write(self, conn: Gathered, answer: bytes, *, close: bool = False) -> None:
        """Have the main loop write an answer, as fast as its reader takes it; what came behind its request is kept."""
        conn.answer, conn.closes = memoryview(answer), close
        conn.arrived = conn.arrived[conn.needs :]
        conn.deadline = time.monotonic() + IDLE_SECONDS
        conn.sock.setblocking(False)
        self.gathering[conn] = None
        self.poller.register(conn.sock, EVENT_WRITE, partial(self._write_on, conn))

    def _write_on(self, conn: Gathered, client: socket.socket) -> None:
        try:
            sent = client.send(conn.answer[: 1 << 18])
        except BlockingIOError:
            return
        except OSError:
            self._drop(conn)
            return
        conn.answer = conn.answer[sent:]
        if conn.answer:
            return
        self.poller.unregister(client)
        del self.gathering[conn]
        if conn.closes:
            self._linger(conn)
        else:
            self._gather(conn, conn.arrived)

    def _hand(self, conn: Gathered, threads: ThreadPoolExecutor) -> None:
        conn.data_ready = True
        if conn.initialized:
            conn.parser.unreader.unread(conn.arrived)
            conn.arrived = b""
        done = threads.submit(self.handle, conn)
        done.add_done_callback(
            lambda result: self.method_queue.defer(self.finish_request, conn, result)
        )

    def on_client_socket_readable(self, conn: Gathered, client: socket.socket) -> None:
        """A kept connection begins its next request."""
        self.poller.unregister(client)
        self.keepalived_conns.remove(conn)
        self._gather(conn, b"")

    def finish_request(self, conn: Gathered, result: Any) -> None:
        """Keep the connection, gather what its sender has sent of the next request already, or close it."""
        if result.cancelled() or result.exception() is not None or not result.result():
            self._linger(conn)
            return
        early = conn.parser.unreader.take_buffered()
        if early:
            self._gather(conn, early)
        else:
            super().finish_request(conn, result)

    def _linger(self, conn: Gathered) -> None:
        """Close a connection so that its last answer still arrives (RFC 9112, 9.6), without waiting for its end."""
        conn.deadline = time.monotonic() + LINGER_SECONDS
        try:
            conn.sock.shutdown(socket.SHUT_WR)
            conn.sock.setblocking(False)
            self.poller.register(conn.sock, EVENT_READ, partial(self._drain, conn))
        except (OSError, ValueError):
            self.nr_conns -= 1
            conn.close()
            return
        self.gathering[conn] = None

    def _drain(self, conn: Gathered, client: socket.socket) -> None:
        try:
            more = client.recv(1 << 16)
        except BlockingIOError:
            return
        except OSError:
            more = b""
        conn.needs += len(more)
        if not more or conn.needs > MOST_DRAINED:
            self._drop(conn)

    def murder_pending(self) -> None:
        """Close what took too long to arrive, or to be read."""
        super().murder_pending()
        now = time.monotonic()
        for conn in [one for one in self.gathering if one.deadline < now]:
            self._drop(conn)

    def handle_error(self, req: Any, client: socket.socket, addr: Any, exc: Exception) -> None:
        """Answer what is not a request with a problem document (RFC 9457), like every other error."""
        status, code, detail, remedy = next(
            (words for kind, words in _WORDS.items() if isinstance(exc, kind)),
            (400, "bad-request", "The request cannot be read.", "Mend the request."),
        )
        ours = (
            errors.InvalidResponseHeader
            | errors.InvalidResponseHeaderName
            | errors.ConfigurationProblem
        )
        if not isinstance(exc, errors.ParseException) or isinstance(exc, ours):
            super().handle_error(req, client, addr, exc)
            return
        body, head = _problem(status, code, detail, remedy)
        try:
            client.send(head + body)
        except OSError:
            self.log.debug("nobody waits for the answer any more")


def _problem(status: int, code: str, detail: str, remedy: str) -> tuple[bytes, bytes]:
    """The body and the head of an answer to what is refused before anything reads it."""
    body = json.dumps(
        {
            "type": f"urn:sealpacket:problem:{code}",
            "title": "This is not a valid request",
            "status": status,
            "code": code,
            "detail": detail,
            "remedy": remedy,
        }
    ).encode()
    head = (
        f"HTTP/1.1 {status} {_REASONS[status]}\r\nConnection: close\r\nContent-Type: application/problem+json\r\n"
        f"Content-Length: {len(body)}\r\n\r\n"
    )
    return body, head.encode()


_ANYBODY = re.compile(rb"[A-Z]{3,8} /(?:hooks/|api/v1/(?:sign-in|tokens)(?:[ ?]))")
"""Where anybody may call."""
_REFUSED = {
    401: ("not-signed-in", "Nobody is signed in here.", "Sign in, then send it again."),
    411: ("no-length", "The length of the body is missing.", "Send its Content-Length."),
    413: (
        "too-large",
        "The body is larger than allowed here.",
        f"Send at most {SMALL_BODY} bytes.",
    ),
}
_WORDS: dict[type[Exception], tuple[int, str, str, str]] = {
    errors.LimitRequestLine: (
        414,
        "too-long",
        "The address is too long.",
        "Send what is long in a body.",
    ),
    errors.LimitRequestHeaders: (
        431,
        "too-large",
        "The headers are too large.",
        "Send fewer or shorter headers.",
    ),
}
_REASONS = {
    400: "Bad Request", 401: "Unauthorized", 411: "Length Required", 413: "Content Too Large",
    414: "URI Too Long", 431: "Request Header Fields Too Large",
}  # fmt: skip
