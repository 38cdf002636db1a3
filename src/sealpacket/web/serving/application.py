"""Call the WSGI application (PEP 3333) for one request, in a thread."""

from __future__ import annotations

import io
import json
import sys
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any, BinaryIO
from urllib.parse import unquote_to_bytes, urlsplit
from wsgiref.util import FileWrapper

import h11

from sealpacket.web.problems import REQUEST_ID

Wsgi = Callable[..., Iterable[bytes]]
Headers = list[tuple[str, str]]

ASK_AGAIN = "Sealpacket-Ask-Again"
"""Header by which the application answers that there is nothing yet: the request waits in the event loop, without a
thread, and is put to it again when something has happened. Its value: the maximum number of seconds, a space, and the
number of the last event that it has seen."""
STREAM_OF = "Sealpacket-Stream-Of"
"""Header by which the application hands an answer over to the event loop, which goes on with it as a stream of
server-sent events without a thread. Its value: the id of the account whose notices are streamed."""
LINE_OF = "Sealpacket-Line-Of"
"""Header by which the application adds to the log line of a request: a JSON object of names."""
BATCH = 256 << 10
"""Bytes of an answer after which its thread waits until they are sent."""


class Blocks(FileWrapper):
    """`wsgi.file_wrapper`: a file in blocks of a batch each."""

    def __init__(self, file: BinaryIO, _size: int = 0) -> None:
        super().__init__(file, BATCH)


def asks_again(batch: Batch) -> tuple[int, int] | None:
    """For how many seconds to ask again, and the last event that the application has seen; None for a final answer."""
    value = _header(batch, ASK_AGAIN)
    seconds, _, seen = value.partition(" ")
    return (int(seconds), int(seen)) if value else None


def stream_of(batch: Batch) -> str:
    """The account whose notices the answer streams; empty for an answer that ends."""
    return _header(batch, STREAM_OF)


def line_of(batch: Batch) -> dict[str, str]:
    """The application's part of the log line of the request: its route, the account, the packet."""
    value = _header(batch, LINE_OF)
    return dict(json.loads(value)) if value else {}


def _header(batch: Batch, wanted: str) -> str:
    return next((value for name, value in batch.headers if name == wanted), "")


@dataclass
class Batch:
    """The next part of an answer. `status` and `headers` are set in the first one."""

    status: str = ""
    headers: Headers = field(default_factory=list)
    body: list[bytes] = field(default_factory=list)
    size: int = 0

    def add(self, block: bytes) -> None:
        """Append to the body."""
        self.body.append(block)
        self.size += len(block)


def call(application: Wsgi, environ: dict[str, Any], send: Callable[[Batch], None]) -> Batch:
    """Run the application; send each full batch of its answer. Returns the last one, which is not sent yet.

    Raises what the application or `send` raises; the application's iterable is closed in any case.
    """
    batch = Batch()

    def start(status: str, headers: Headers, exc_info: Any = None) -> Callable[[bytes], None]:
        if batch.status and exc_info is None:
            raise AssertionError("the answer has begun already")
        batch.status, batch.headers = status, headers
        return batch.add

    blocks = application(environ, start)
    try:
        for block in blocks:
            batch.add(block)
            if batch.size >= BATCH:
                send(batch)
                batch = Batch()
    finally:
        close = getattr(blocks, "close", None)
        if close is not None:
            close()
    return batch


def ask(application: Wsgi, path: str, headers: dict[str, str]) -> tuple[str, Headers, bytes]:
    """The application's answer to a GET of our own. `headers` have WSGI's names (HTTP_COOKIE)."""
    batches: list[Batch] = []
    environ = {**_environ("GET", path, "", "127.0.0.1", io.BytesIO()), **headers}
    batches.append(call(application, environ, batches.append))
    body = b"".join(block for one in batches for block in one.body)
    return batches[0].status, batches[0].headers, body


def environ_of(request: h11.Request, body: BinaryIO, client: str, ident: str) -> dict[str, Any]:
    """The environ of a request from the address `client`. Raises ValueError for a target that is no path.

    A header with an underscore in its name is left out: it would look like another one with a hyphen.
    """
    target = request.target.decode("latin-1")
    if target.startswith("/"):
        path, _, query = target.partition("?")
    else:
        url = urlsplit(target)  # RFC 9112, 3.2.2: the absolute form
        if url.scheme not in ("http", "https"):
            raise ValueError(target)
        path, query = url.path or "/", url.query
    environ = _environ(request.method.decode("latin-1"), path, query, client, body)
    environ[REQUEST_ID] = ident
    for raw_name, raw_value in request.headers:
        name, value = raw_name.decode("latin-1"), raw_value.decode("latin-1")
        if "_" in name:
            continue
        key = name.upper().replace("-", "_")
        if key not in ("CONTENT_TYPE", "CONTENT_LENGTH"):
            key = f"HTTP_{key}"
        joint = "; " if key == "HTTP_COOKIE" else ","
        environ[key] = f"{environ[key]}{joint}{value}" if key in environ else value
    return environ


def _environ(method: str, path: str, query: str, client: str, body: BinaryIO) -> dict[str, Any]:
    return {
        "REQUEST_METHOD": method,
        "SCRIPT_NAME": "",
        "PATH_INFO": unquote_to_bytes(path).decode("latin-1"),
        "QUERY_STRING": query,
        "SERVER_NAME": "localhost",
        "SERVER_PORT": "80",
        "SERVER_PROTOCOL": "HTTP/1.1",
        "REMOTE_ADDR": client,
        "wsgi.version": (1, 0),
        "wsgi.url_scheme": "http",
        "wsgi.input": body,
        "wsgi.input_terminated": True,
        "wsgi.errors": sys.stderr,
        "wsgi.file_wrapper": Blocks,
        "wsgi.multithread": True,
        "wsgi.multiprocess": True,
        "wsgi.run_once": False,
    }
