"""The legend: from placeholders back to the originals they stand for."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.placeholders import as_written

_KEPT = b"sealpacket legend 1\n"
_BLOCK = 1 << 20
_ONE = re.compile(r"\[[a-z]+:[a-z2-7]+\]|[\w@.:-]{4,}")
_PART = re.compile(r"[\w@-]+(?:[.:][\w@-]+)*")
"""What may be a placeholder in a text: a label, or something of a shape; without the full stop behind it."""


class Legend:
    """For each placeholder the originals, in every spelling that was met."""

    def __init__(self) -> None:
        self.native = native.Legend()

    def add(self, placeholder: bytes, original: bytes) -> None:
        """Note one spelling of an original."""
        self.native.add(placeholder, original)

    def merge(self, other: Legend) -> None:
        """Take over all that another legend knows."""
        self.native.merge(other.native)

    def originals(self) -> Iterator[tuple[bytes, bytes]]:
        """Every (placeholder, original), in a fixed order."""
        yield from sorted(self.native.pairs())

    def placeholders(self) -> frozenset[bytes]:
        """All placeholders, as they are written."""
        return frozenset(as_written(placeholder) for placeholder, _ in self.native.pairs())

    def __len__(self) -> int:
        return self.native.placeholders()

    def resolve(self, text: str) -> str:
        """The text with known placeholders replaced by the first spelling of what they stand for."""
        known = self.first_spellings()
        if not known:
            return text
        return _ONE.sub(
            lambda hit: known.get(hit[0]) or _PART.sub(lambda part: known.get(part[0], part[0]), hit[0]), text
        )

    def first_spellings(self) -> dict[str, str]:
        """One readable original for each placeholder."""
        first: dict[str, str] = {}
        for placeholder, original in self.originals():
            first.setdefault(as_written(placeholder).decode("utf-8", "replace"), original.decode("utf-8", "replace"))
        return first

    def tallies(self, most: int) -> list[tuple[bytes, bytes, int]]:
        """So many (placeholder, original, how often it was met), the most frequent first."""
        return self.native.tallies(most)

    def packed(self) -> bytes:
        """All pairs in the machine's own form: for another process on it, quickly."""
        return self.native.packed()

    def taken(self) -> bytes:
        """The same, and nothing stays here."""
        packed = self.native.packed()
        self.native.clear()
        return packed

    @classmethod
    def unpacked(cls, packed: bytes) -> Legend:
        """The legend that `packed` gave."""
        legend = cls()
        legend.native.unpack(packed)
        return legend

    def to_bytes(self) -> bytes:
        """To be kept: pair by pair, each text behind its length (32 bits, little-endian)."""
        return b"".join(self.blocks())

    def blocks(self) -> Iterator[bytes]:
        """The same, a part after the other."""
        yield _KEPT
        start = 0
        while part := self.native.packed_part(start, _BLOCK):
            yield part
            start += len(part)

    @classmethod
    def from_bytes(cls, data: bytes) -> Legend:
        """The legend that `to_bytes` wrote."""
        legend = cls()
        if data.startswith(_KEPT):
            legend.native.unpack(data[len(_KEPT) :])
            return legend
        # As they were kept before: JSON, the originals as Latin-1 text.
        for placeholder, spellings in json.loads(data).items():
            for original in spellings:
                legend.add(placeholder.encode("latin-1"), original.encode("latin-1"))
        return legend
