"""The keys of a house: the one that encrypts now, and former ones that what was encrypted before is read with."""

from __future__ import annotations

import hashlib
from base64 import b64decode, b64encode
from dataclasses import dataclass

KEY = 32
"""Bytes of a key."""
ID = 8
"""Bytes of a key's id."""


def key_id(key: bytes) -> bytes:
    """A key's id, which reveals nothing of it: the first 8 bytes of a SHA-256."""
    return hashlib.sha256(b"sealpacket key id" + key).digest()[:ID]


@dataclass(frozen=True)
class KeyRing:
    """Keys of 32 bytes, the newest first."""

    keys: tuple[bytes, ...]

    @classmethod
    def read(cls, text: str) -> KeyRing:
        """The keys of a key file: one in base64 on each line, the newest first. Raises ValueError."""
        keys = tuple(
            b64decode(line.strip(), validate=True) for line in text.splitlines() if line.strip()
        )
        if not keys or any(len(key) != KEY for key in keys):
            raise ValueError(f"a key has {KEY} bytes")
        return cls(keys)

    def written(self) -> str:
        """The text of the key file."""
        return "".join(f"{b64encode(key).decode()}\n" for key in self.keys)

    @property
    def current(self) -> bytes:
        """The key that encrypts."""
        return self.keys[0]

    @property
    def oldest(self) -> bytes:
        """The key of a time at which there were no ids yet."""
        return self.keys[-1]

    def named(self, ident: bytes) -> bytes | None:
        """The key with that id."""
        return next((key for key in self.keys if key_id(key) == ident), None)
