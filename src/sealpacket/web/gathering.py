"""A gunicorn worker that gives a thread only to requests that have arrived whole.

Heads and small bodies are gathered in the main loop, within a time limit. Whoever sends slowly, or nothing, holds a
connection and no thread. Uploads and downloads, which take their time, have threads of their own, so that however many
of them crawl, the API still answers.
"""

from __future__ import annotations

import json
import re
import socket
import struct
import time
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from selectors import EVENT_READ
from typing import Any

from gunicorn.http import errors
from gunicorn.workers.gthread import TConn, ThreadWorker

LARGEST_HEAD = 64 << 10
SMALL_BODY = 256 << 10
"""A body of up to so many bytes is gathered before a thread sees the request."""
HEAD_SECONDS, BODY_SECONDS, LINGER_SECONDS = 10.0, 20.0, 2.0
MOST_DRAINED = 4 << 20
IDLE_SECONDS = 30
"""So long a thread waits for the next bytes of an upload, or for a reader to take some of a download."""
TRANSFERS = 6
"""Threads of one process for uploads and downloads."""
SPARE = 64
"""So many connections of a process are kept free: the oldest that only gather make room."""

_END = b"\r\n\r\n"
_LENGTH = re.compile(rb"(?im)^content-length[ \t]*:[ \t]*(\d{1,18})[ \t]*\r?$")
_UNSURE = re.compile(rb"(?im)^(?:transfer-encoding|expect|upgrade)[ \t]*:")
_TRANSFER = re.compile(
    rb"(?:GET|HEAD) /(?:static/|api/v1/(?:packets/[^/ ]+/(?:bag|messages/[^/ ]+/original)|export/)|"
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
            streamed = size > SMALL_BODY or _UNSURE.search(head) is not None
            self.is_transfer = streamed or _TRANSFER.match(head) is not None
            self.needs = end + len(_END) + (0 if streamed else size)
        return len(self.arrived) >= self.needs


class Gatherer(ThreadWorker):  # type: ignore[misc]
    """See above. `gathering` are connections whose next request is not whole yet, or that are about to be closed."""

    def __init__(self, *arguments: Any, **more: Any) -> None:
        super().__init__(*arguments, **more)
        self.gathering: dict[Gathered, None] = {}

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
        """Wait in the main loop for a request of which some may be there already."""
        conn.arrived, conn.needs, conn.is_transfer = arrived, 0, False
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
        """Give a request a thread of its kind."""
        conn.data_ready = True
        if conn.initialized:
            conn.parser.unreader.unread(conn.arrived)
            conn.arrived = b""
        threads = self.transfers if conn.is_transfer else self.tpool
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
        try:
            client.send(head.encode() + body)
        except OSError:
            self.log.debug("nobody waits for the answer any more")


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
_REASONS = {400: "Bad Request", 414: "URI Too Long", 431: "Request Header Fields Too Large"}
