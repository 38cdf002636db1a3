"""Resumable uploads by the tus protocol, version 1.0.0: creation, HEAD for the offset, PATCH from there."""

from __future__ import annotations

import base64
from collections.abc import Callable, Iterator
from urllib.parse import urljoin, urlsplit

import httpx

from sealpacket.channels.wire import Wire

PIECE = 4 << 20
"""Bytes of one PATCH: what at most has to be sent again when a line breaks."""

_VERSION = {"Tus-Resumable": "1.0.0"}


def upload(
    wire: Wire,
    path: str,
    name: str,
    size: int,
    blocks: Callable[[int], Iterator[bytes]],
    *,
    already: str | None,
    remember: Callable[[str], None],
    refuse: Callable[[httpx.Response], None],
) -> str:
    """Upload `size` bytes and return the location. `blocks(start)` gives the content from an offset on.

    An upload begun earlier (`already`) is continued at the offset that the server tells; one it has forgotten is
    begun again. The location has to be on the desk's own host.
    """
    offset, location = _offset(wire, already) if already else (None, already)
    if offset is None or location is None or offset > size:
        location, offset = _create(wire, path, name, size, refuse), 0
        remember(location)
    piece = bytearray()
    for block in blocks(offset):
        piece += block
        while len(piece) >= PIECE:
            offset = _patch(wire, location, offset, bytes(piece[:PIECE]), refuse)
            del piece[:PIECE]
    if piece:
        offset = _patch(wire, location, offset, bytes(piece), refuse)
    if offset != size:
        raise httpx.RemoteProtocolError(f"the desk has {offset} of {size} bytes")
    return location


def _create(
    wire: Wire, path: str, name: str, size: int, refuse: Callable[[httpx.Response], None]
) -> str:
    metadata = f"filename {base64.b64encode(name.encode()).decode()}"
    headers = {**_VERSION, "Upload-Length": str(size), "Upload-Metadata": metadata}
    response = wire.request("POST", path, headers=headers)
    refuse(response)
    location = urljoin(str(response.request.url), str(response.headers.get("Location", "")))
    here, there = response.request.url, urlsplit(location)
    if (there.scheme, there.hostname, there.port) != (here.scheme, here.host, here.port):
        raise httpx.RemoteProtocolError("the desk sent the upload to another host or way")
    return location


def _offset(wire: Wire, location: str) -> tuple[int | None, str]:
    response = wire.request("HEAD", location, headers=_VERSION)
    if response.status_code not in (200, 204):
        return None, location
    try:
        return int(response.headers["Upload-Offset"]), location
    except (KeyError, ValueError):
        return None, location


def _patch(
    wire: Wire, location: str, offset: int, piece: bytes, refuse: Callable[[httpx.Response], None]
) -> int:
    headers = {
        **_VERSION,
        "Upload-Offset": str(offset),
        "Content-Type": "application/offset+octet-stream",
    }
    response = wire.request("PATCH", location, content=piece, headers=headers)
    refuse(response)
    try:
        return int(response.headers["Upload-Offset"])
    except (KeyError, ValueError) as error:
        raise httpx.RemoteProtocolError("the desk did not tell its offset") from error
