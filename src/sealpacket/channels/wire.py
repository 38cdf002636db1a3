"""Calls to one configured address over HTTP, each with a limit on its time and on what the desk answers."""

from __future__ import annotations

import ssl
from collections.abc import Callable, Iterator
from functools import cache
from typing import Any

import httpx

from sealpacket.deadline import Deadline, DeadlineTransport
from sealpacket.traces import span

LARGEST_ANSWER = 8 << 20
"""Bytes of an answer that are read."""
LARGEST_FILE = 200_000_000
"""Bytes of a file of the desk's that are fetched."""
IN_ALL = 3
"""Maximum duration of a call, as a multiple of the time that a desk may be silent."""
SLOWEST = 20_000
"""Bytes a second; a large body has the more time."""


class TooMuch(httpx.TransportError):
    """The desk answers too much, or in a form that could become too much."""


class Wire:
    """The way to one desk. Not for several threads."""

    def __init__(self, client: httpx.Client, deadline: Deadline, timeout: float) -> None:
        self._client, self._deadline, self._timeout = client, deadline, timeout

    def request(self, method: str, path: str, *, size: int = 0, **arguments: Any) -> httpx.Response:
        """One call with a body of about `size` bytes; its answer is read whole.

        Raises httpx.TimeoutException when it takes too long in all, TooMuch for an answer that is too large.
        """
        request = self._client.build_request(method, path, **arguments)
        size = size or int(request.headers.get("Content-Length", 0))
        self._deadline.begin(self._timeout * IN_ALL + size / SLOWEST)
        with span(f"call {request.url.host}", {"http.request.method": method}) as called:
            response = self._sent(request)
            called.note({"http.response.status_code": response.status_code})
            return response

    def _sent(self, request: httpx.Request) -> httpx.Response:
        response = self._client.send(request, stream=True)
        try:
            if response.headers.get("Content-Encoding", "identity").strip().lower() not in (
                "",
                "identity",
            ):
                raise TooMuch("it is packed, which was not asked for", request=request)
            body = bytearray()
            for block in response.iter_raw(1 << 16):
                body += block
                if len(body) > LARGEST_ANSWER:
                    raise TooMuch(f"more than {LARGEST_ANSWER >> 20} MB", request=request)
        finally:
            response.close()
        return httpx.Response(
            response.status_code, headers=response.headers, content=bytes(body), request=request
        )

    @property
    def address(self) -> str:
        """The desk's own address."""
        return str(self._client.base_url).rstrip("/")

    def stream(self, path: str, refuse: Callable[[httpx.Response], None]) -> Iterator[bytes]:
        """The content at a path, in blocks. `refuse` examines an answer that is not a success, with its body.

        Raises TooMuch beyond LARGEST_FILE bytes, httpx.TimeoutException when it comes slower than SLOWEST for longer
        than a call may take.
        """
        request = self._client.build_request("GET", path)
        self._deadline.begin(self._timeout * IN_ALL)
        response = self._client.send(request, stream=True)
        try:
            if response.status_code != 200:
                refuse(httpx.Response(response.status_code, content=b"", request=request))
                raise httpx.RemoteProtocolError(f"HTTP {response.status_code}")
            if response.headers.get("Content-Encoding", "identity").lower() not in ("", "identity"):
                raise TooMuch("it is packed, which was not asked for", request=request)
            size = 0
            for block in response.iter_raw(1 << 16):
                size += len(block)
                self._deadline.extend(len(block) / SLOWEST)
                if size > LARGEST_FILE:
                    raise TooMuch(f"more than {LARGEST_FILE // 1_000_000} MB", request=request)
                yield block
        finally:
            response.close()

    def close(self) -> None:
        """Give the connections back."""
        self._client.close()


def open_wire(
    address: str,
    timeout: float,
    *,
    token: str = "",
    basic: tuple[str, str] | None = None,
    header: tuple[str, str] | None = None,
) -> Wire:
    """The way to an address, signed in by a bearer token, by name and password, or by a header of its own.

    No redirects, no proxies.
    """
    headers = {"User-Agent": "sealpacket", "Accept-Encoding": "identity"}
    headers |= {"Authorization": f"Bearer {token}"} if token else {}
    headers |= dict([header]) if header else {}
    deadline = Deadline()
    client = httpx.Client(
        base_url=address.rstrip("/"),
        headers=headers,
        auth=basic,
        timeout=timeout,
        follow_redirects=False,
        trust_env=False,
        transport=DeadlineTransport(deadline, _trusted()),
    )
    return Wire(client, deadline, timeout)


def post_once(address: str, timeout: float, *, token: str = "", **arguments: Any) -> httpx.Response:
    """One POST to an address, by a connection of its own. Raises httpx.HTTPError, or httpx.InvalidURL."""
    wire = open_wire(address, timeout, token=token)
    try:
        return wire.request("POST", address, **arguments)
    finally:
        wire.close()


@cache
def _trusted() -> ssl.SSLContext:
    """The authorities that certificates are checked with; reading them takes a while."""
    return httpx.create_ssl_context()
