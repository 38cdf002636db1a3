"""Encryption at rest: AES-256-GCM over segments (after the STREAM construction), streamed and readable in ranges."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.kdf.hkdf import HKDF

from sealpacket.core.errors import Damaged

SEGMENT = 1 << 16
_TAG = 16
_SALT = 32
_MAGIC = b"SPB1"
HEADER = len(_MAGIC) + _SALT


def _cipher(master: bytes, salt: bytes, purpose: bytes) -> AESGCM:
    return AESGCM(HKDF(SHA256(), 32, salt, b"sealpacket " + purpose).derive(master))


def _nonce(number: int, last: bool) -> bytes:
    return number.to_bytes(11, "big") + (b"\1" if last else b"\0")


def encrypt_stream(master: bytes, blocks: Iterable[bytes], purpose: str = "blob") -> Iterator[bytes]:
    """Encrypt blocks of any size. Every stream has its own key, derived from the master key and a random salt."""
    salt = os.urandom(_SALT)
    cipher = _cipher(master, salt, purpose.encode())
    yield _MAGIC + salt
    pending, number = bytearray(), 0
    for block in blocks:
        pending += block
        while len(pending) > SEGMENT:
            yield cipher.encrypt(_nonce(number, False), bytes(pending[:SEGMENT]), None)
            del pending[:SEGMENT]
            number += 1
    yield cipher.encrypt(_nonce(number, True), bytes(pending), None)


def decrypt_range(
    master: bytes,
    read: Callable[[int, int], bytes],
    stored: int,
    start: int = 0,
    end: int | None = None,
    purpose: str = "blob",
) -> Iterator[bytes]:
    """The plain bytes from `start` to `end`, where `read(offset, length)` reads the `stored` encrypted bytes.

    Raises Damaged if a segment was altered or exchanged; read to the end, also if anything was cut off.
    """
    header = read(0, HEADER)
    if len(header) != HEADER or not header.startswith(_MAGIC):
        raise Damaged("A stored file has lost its head.", "Restore it from a backup.")
    cipher = _cipher(master, header[len(_MAGIC) :], purpose.encode())
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
            raise Damaged("A stored file has been altered or cut off.", "Restore it from a backup.") from error
        piece = plain[max(start - offset, 0) : stop - offset]
        if piece:
            yield piece


def encrypt(master: bytes, data: bytes, purpose: str) -> bytes:
    """A small value, encrypted whole."""
    return b"".join(encrypt_stream(master, (data,), purpose))


def decrypt(master: bytes, sealed: bytes, purpose: str) -> bytes:
    """The value that `encrypt` sealed for the same purpose. Raises Damaged."""
    return b"".join(decrypt_range(master, lambda o, n: sealed[o : o + n], len(sealed), purpose=purpose))
