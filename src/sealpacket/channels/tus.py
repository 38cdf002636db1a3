"""Resumable uploads by the tus protocol, version 1.0.0: creation, HEAD for the offset, PATCH from there."""

from __future__ import annotations

import base64
from collections.abc import Callable, Iterator
from urllib.parse import urljoin, urlsplit

import httpx

PIECE = 4 << 20
"""Bytes of one PATCH: what at most has to be sent again when a line breaks."""

_VERSION = {"Tus-Resumable": "1.0.0"}


def upload(
    client: httpx.Client,
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
    offset, location = _offset(client, already) if already else (None, already)
    if offset is None or location is None or offset > size:
        location, offset = _create(client, path, name, size, refuse), 0
        remember(location)
    piece = bytearray()
    for block in blocks(offset):
        piece += block
        while len(piece) >= PIECE:
            offset = _patch(client, location, offset, bytes(piece[:PIECE]), refuse)
            del piece[:PIECE]
    if piece:
        offset = _patch(client, location, offset, bytes(piece), refuse)
    if offset != size:
        raise httpx.RemoteProtocolError(f"the desk has {offset} of {size} bytes")
    return location


def _create(client: httpx.Client, path: str, name: str, size: int, refuse: Callable[[httpx.Response], None]) -> str:
    metadata = f"filename {base64.b64encode(name.encode()).decode()}"
    headers = {**_VERSION, "Upload-Length": str(size), "Upload-Metadata": metadata}
    response = client.post(path, headers=headers)
    refuse(response)
    location = urljoin(str(response.request.url), response.headers.get("Location", ""))
    here, there = response.request.url, urlsplit(location)
    if (there.hostname, there.port) != (here.host, here.port):
        raise httpx.RemoteProtocolError("the desk sent the upload to another host")
    return location


def _offset(client: httpx.Client, location: str) -> tuple[int | None, str]:
    response = client.head(location, headers=_VERSION)
    if response.status_code not in (200, 204):
        return None, location
    try:
        return int(response.headers["Upload-Offset"]), location
    except (KeyError, ValueError):
        return None, location


def _patch(
    client: httpx.Client, location: str, offset: int, piece: bytes, refuse: Callable[[httpx.Response], None]
) -> int:
    headers = {**_VERSION, "Upload-Offset": str(offset), "Content-Type": "application/offset+octet-stream"}
    response = client.patch(location, content=piece, headers=headers)
    refuse(response)
    try:
        return int(response.headers["Upload-Offset"])
    except (KeyError, ValueError) as error:
        raise httpx.RemoteProtocolError("the desk did not tell its offset") from error
