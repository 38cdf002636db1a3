"""Encryption at rest: AES-256-GCM over segments (after the STREAM construction), streamed and readable in ranges.

A head comes before the segments: `SPB2`, the id of the key (8 bytes) and a salt (32 bytes).
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.kdf.hkdf import HKDF

from sealpacket.core.errors import Damaged
from sealpacket.core.keyring import ID, KeyRing, key_id

SEGMENT = 1 << 16
_TAG = 16
_SALT = 32
_MAGIC = b"SPB2"
HEADER = len(_MAGIC) + ID + _SALT

Key = bytes | KeyRing
"""A key, or a ring: its newest key encrypts, all of them decrypt."""


def _ring(key: Key) -> KeyRing:
    return key if isinstance(key, KeyRing) else KeyRing((key,))


def current_head(key: Key) -> bytes:
    """How all begins that is encrypted with the newest key."""
    return _MAGIC + key_id(_ring(key).current)


def is_current(key: Key, head: bytes) -> bool:
    """Whether what begins with this head was encrypted with the newest key."""
    return head.startswith(current_head(key))


def _cipher(master: bytes, salt: bytes, purpose: bytes) -> AESGCM:
    return AESGCM(HKDF(SHA256(), 32, salt, b"sealpacket " + purpose).derive(master))


def _nonce(number: int, last: bool) -> bytes:
    return number.to_bytes(11, "big") + (b"\1" if last else b"\0")


def encrypt_stream(key: Key, blocks: Iterable[bytes], purpose: str = "blob") -> Iterator[bytes]:
    """Encrypt blocks of any size. Every stream has its own key, derived from the key given and a random salt."""
    salt, master = os.urandom(_SALT), _ring(key).current
    cipher = _cipher(master, salt, purpose.encode())
    yield current_head(key) + salt
    pending, number = bytearray(), 0
    for block in blocks:
        pending += block
        while len(pending) > SEGMENT:
            yield cipher.encrypt(_nonce(number, False), bytes(pending[:SEGMENT]), None)
            del pending[:SEGMENT]
            number += 1
    yield cipher.encrypt(_nonce(number, True), bytes(pending), None)


def _opened(key: Key, head: bytes, purpose: str) -> AESGCM:
    """The cipher of what has this head. Raises Damaged."""
    ring = _ring(key)
    if not head.startswith(_MAGIC) or len(head) < HEADER:
        raise Damaged("A stored file has lost its head.", "Restore it from a backup.")
    ident = head[len(_MAGIC) : len(_MAGIC) + ID]
    master = ring.named(ident)
    if master is None:
        raise Damaged(
            f"Something stored was encrypted with the key {ident.hex()}, which is not here.",
            "Put that key back into the key file, below the newest one.",
            code="key-missing",
        )
    return _cipher(master, head[len(_MAGIC) + ID : HEADER], purpose.encode())


def decrypt_range(
    key: Key,
    read: Callable[[int, int], bytes],
    stored: int,
    start: int = 0,
    end: int | None = None,
    purpose: str = "blob",
) -> Iterator[bytes]:
    """The plain bytes from `start` to `end`, where `read(offset, length)` reads the `stored` encrypted bytes.

    Raises Damaged if a segment was altered or exchanged; read to the end, also if anything was cut off.
    """
    cipher = _opened(key, read(0, HEADER), purpose)
    whole = SEGMENT + _TAG
    segments = max(1, -(-(stored - HEADER) // whole))
    plain_size = stored - HEADER - segments * _TAG
    stop = plain_size if end is None else min(end, plain_size)
    first = start // SEGMENT
    for number in range(first, segments):
        offset = number * SEGMENT
        if offset >= stop and end is not None:
            return
        sealed = read(HEADER + number * whole, whole)
        try:
            plain = cipher.decrypt(_nonce(number, number == segments - 1), sealed, None)
        except InvalidTag as error:
            raise Damaged(
                "A stored file has been altered or cut off.", "Restore it from a backup."
            ) from error
        piece = plain[max(start - offset, 0) : stop - offset]
        if piece:
            yield piece


def encrypt(key: Key, data: bytes, purpose: str) -> bytes:
    """A small value, encrypted whole."""
    return b"".join(encrypt_stream(key, (data,), purpose))


def decrypt(key: Key, sealed: bytes, purpose: str) -> bytes:
    """The value that `encrypt` sealed for the same purpose. Raises Damaged."""
    return b"".join(
        decrypt_range(key, lambda o, n: sealed[o : o + n], len(sealed), purpose=purpose)
    )
