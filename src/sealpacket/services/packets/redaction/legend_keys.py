"""The keys of a packet: for its placeholders, and for its legend; and reading what is kept under the legend's key."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Iterable, Iterator

from sealpacket.app.context import AppContext
from sealpacket.core.errors import Conflict
from sealpacket.core.redact import Legend
from sealpacket.core.secretbox import decrypt, decrypt_range, encrypt, encrypt_stream
from sealpacket.store.models import Packet

LEGEND_KEY_PURPOSE, PLACEHOLDER_KEY_PURPOSE = "legend key", "placeholder key"
_CONTENT = "legend"


def new_key(app: AppContext) -> tuple[bytes, str]:
    """A packet's key, sealed for the database, and its fingerprint (SHA-256, the first 16 bytes in hex)."""
    key = secrets.token_bytes(32)
    return encrypt(app.ring, key, LEGEND_KEY_PURPOSE), fingerprint(key)


def new_placeholder_key(app: AppContext) -> bytes:
    """A key for a packet's placeholders, sealed for the database."""
    return encrypt(app.ring, secrets.token_bytes(32), PLACEHOLDER_KEY_PURPOSE)


def placeholder_key_of(app: AppContext, packet: Packet) -> bytes:
    """The key of a packet's placeholders."""
    return decrypt(app.ring, packet.legend.placeholder_key_sealed, PLACEHOLDER_KEY_PURPOSE)


def fingerprint(key: bytes) -> str:
    """A fingerprint that identifies a key without revealing it."""
    return hashlib.sha256(b"sealpacket legend key" + key).hexdigest()[:32]


def key_of(app: AppContext, packet: Packet) -> bytes:
    """The packet's legend key. Raises Conflict once it is destroyed."""
    if packet.legend.key_sealed is None:
        raise Conflict(
            f"The legend of {packet.number} is destroyed, since {packet.legend.destroyed_at:%d %B %Y}.",
            "The placeholders can no longer be resolved; the custody log records who destroyed the legend.",
            code="legend-destroyed",
        )
    return decrypt(app.ring, packet.legend.key_sealed, LEGEND_KEY_PURPOSE)


def put(app: AppContext, key: bytes, blocks: Iterable[bytes]) -> str:
    """Keep a part of a legend under the packet's key; gives the blob's name."""
    return app.blobs.put(encrypt_stream(key, blocks, _CONTENT)).name


def read(app: AppContext, key: bytes, blob: str) -> Iterator[bytes]:
    """A part of a legend in clear, in blocks."""
    with app.blobs.as_file(blob) as path, path.open("rb") as kept:

        def read_at(offset: int, length: int) -> bytes:
            kept.seek(offset)
            return kept.read(length)

        yield from decrypt_range(key, read_at, path.stat().st_size, purpose=_CONTENT)


def of_exhibits(app: AppContext, key: bytes, packet: Packet) -> Legend:
    """The legend of all exhibits together."""
    legend = Legend()
    for exhibit in packet.exhibits:
        if exhibit.legend_blob:
            legend.merge(Legend.read(read(app, key, exhibit.legend_blob)))
    return legend
