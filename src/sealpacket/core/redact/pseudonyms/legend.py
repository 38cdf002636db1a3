"""The legend: from placeholders back to the originals they stand for.

There may be more of them than memory holds. What no longer fits is written in order to a file without a name,
encrypted with a key that only this process and those forked from it know, and put together again when it is read.
"""

from __future__ import annotations

import heapq
import json
import os
import re
import tempfile
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import groupby

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.pseudonyms.placeholders import as_written

_KEPT = b"sealpacket legend 1\n"
_OLD = b"{"
_CUT_OFF = "the legend is cut off"
_BLOCK = 1 << 20
_PART = 64 << 10
IN_MEMORY = 32 << 20
"""So many bytes of a legend are in memory at most, and again as many while they are put in order."""
_ONE = re.compile(r"\[[a-z]+:[a-z2-7]+\]|[\w@.:-]{4,}")
_WITHIN = re.compile(r"[\w@-]+(?:[.:][\w@-]+)*")
"""What may be a placeholder in a text: a label, or something of a shape; without the full stop behind it."""


class Legend:
    """For each placeholder the originals, in every spelling that was met."""

    def __init__(self) -> None:
        self.native = native.Legend()
        self._runs: list[_Run] = []
        self._spool: _Spool | None = None

    def add(self, placeholder: bytes, original: bytes) -> None:
        """Note one spelling of an original."""
        self.native.add(placeholder, original)

    def merge(self, other: Legend) -> None:
        """Take over all that another legend knows."""
        self._runs += other._runs
        self.native.merge(other.native)
        self.make_room()

    def make_room(self) -> None:
        """Write down what is in memory, if it is much."""
        if self.native.memory() < IN_MEMORY:
            return
        self._spool = self._spool or _Spool()
        start, blocks = 0, []
        while start < len(self.native):
            part, start = self.native.sorted_part(start, _PART)
            blocks.append(self._spool.write(part))
        self._runs.append(_Run(self._spool, blocks, len(self.native)))
        self.native.clear(are_known=False)

    @property
    def pairs(self) -> int:
        """How many pairs there are; one that was written down may count more than once."""
        return len(self.native) + sum(run.pairs for run in self._runs)

    def originals(self) -> Iterator[tuple[bytes, bytes]]:
        """Every (placeholder, original), in order."""
        return (pair for pair, _ in self._counted())

    def _counted(self) -> Iterator[tuple[tuple[bytes, bytes], int]]:
        """Every pair with how often it was met, in order."""
        together = heapq.merge(self._here(), *(run.rows() for run in self._runs))
        for pair, rows in groupby(together, key=lambda row: row[:2]):
            yield pair, sum(times for _, _, times in rows)

    def _here(self) -> Iterator[tuple[bytes, bytes, int]]:
        """What is in memory, in order."""
        start = 0
        while start < len(self.native):
            part, start = self.native.sorted_part(start, _PART)
            yield from native.counted(part)

    def __len__(self) -> int:
        """How many different placeholders there are."""
        if not self._runs:
            return self.native.placeholders()
        return sum(1 for _ in groupby(self.originals(), key=lambda pair: pair[0]))

    def first_spellings(self, most: int | None = None) -> dict[str, str]:
        """One readable original for each placeholder, or for so many."""
        first: dict[str, str] = {}
        for placeholder, original in self.originals():
            written = _readable(as_written(placeholder))
            if written not in first:
                if len(first) == most:
                    break
                first[written] = _readable(original)
        return first

    def resolve(self, texts: Iterable[str]) -> list[str]:
        """The texts with known placeholders replaced by the first spelling of what they stand for."""
        texts = list(texts)
        asked: set[str] = set()
        for text in texts:
            for hit in _ONE.findall(text):
                asked.update((hit, *_WITHIN.findall(hit)))
        known: dict[str, str] = {}
        for placeholder, original in self.originals() if asked else ():
            written = _readable(as_written(placeholder))
            if written in asked:
                known.setdefault(written, _readable(original))
        return [
            _ONE.sub(
                lambda hit: (
                    known.get(hit[0])
                    or _WITHIN.sub(lambda part: known.get(part[0], part[0]), hit[0])
                ),
                text,
            )
            for text in texts
        ]

    def tallies(self, most: int) -> list[tuple[bytes, bytes, int]]:
        """So many (placeholder, original, how often it was met), the most frequent first."""
        if not self._runs:
            return self.native.tallies(most)
        return heapq.nsmallest(
            most,
            ((*pair, times) for pair, times in self._counted()),
            key=lambda row: (-row[2], row[:2]),
        )

    def as_json(self) -> Iterator[str]:
        """An object with the originals of each placeholder, as it stands in copies; a part after the other."""
        shaped: dict[bytes, list[bytes]] = {}
        """Two kinds may share a shape: these are put together first."""

        def entry(placeholder: bytes, originals: list[bytes]) -> str:
            name, values = _readable(placeholder), [_readable(one) for one in originals]
            return f"{json.dumps(name)}: {json.dumps(values, ensure_ascii=False)}"

        before = "{\n "
        for noted, pairs in groupby(self.originals(), key=lambda pair: pair[0]):
            originals = [original for _, original in pairs]
            if (written := as_written(noted)) != noted:
                shaped.setdefault(written, []).extend(originals)
                continue
            yield before + entry(noted, originals)
            before = ",\n "
        for written, originals in shaped.items():
            yield before + entry(written, originals)
            before = ",\n "
        yield "\n}\n" if before.startswith(",") else "{}\n"

    def packed(self) -> bytes:
        """All pairs in the machine's own form: for another process on it, quickly."""
        return b"".join(self.parts())

    def taken(self) -> bytes:
        """The same, and nothing stays here; what was met is not told again."""
        packed = self.packed()
        self.native.clear(are_known=True)
        self._runs.clear()
        self._spool = None
        return packed

    def take_in(self, packed: bytes) -> None:
        """Add what another process's legend gave as `packed`."""
        if self.native.unpack(packed) != len(packed):
            raise ValueError(_CUT_OFF)
        self.make_room()

    @classmethod
    def unpacked(cls, packed: bytes) -> Legend:
        """The legend that `packed` gave."""
        legend = cls()
        legend.take_in(packed)
        return legend

    def parts(self) -> Iterator[bytes]:
        """All pairs, packed, a part after the other; one that was written down may come more than once."""
        for run in self._runs:
            yield from map(native.uncounted, run.blocks())
        start = 0
        while start < len(self.native):
            part, start = self.native.packed_part(start, _BLOCK)
            yield part

    def blocks(self) -> Iterator[bytes]:
        """To be kept: pair by pair, each text behind its length (32 bits, little-endian); a part after the other."""
        yield _KEPT
        yield from self.parts()

    def to_bytes(self) -> bytes:
        """The same, whole."""
        return b"".join(self.blocks())

    @classmethod
    def from_bytes(cls, data: bytes) -> Legend:
        """The legend that `to_bytes` wrote. Raises ValueError."""
        return cls.read([data])

    @classmethod
    def read(cls, blocks: Iterable[bytes]) -> Legend:
        """The legend that `blocks` gave, in blocks of any size. Raises ValueError if something is missing."""
        legend, data, begun = cls(), b"", False
        for block in blocks:
            data += block
            if data.startswith(_OLD) and not begun:
                continue
            if not begun and data.startswith(_KEPT):
                data, begun = data[len(_KEPT) :], True
            if begun:
                data = data[legend.native.unpack(data) :]
                legend.make_room()
        if data.startswith(_OLD) and not begun:
            # As they were kept before: JSON, the originals as Latin-1 text.
            for placeholder, spellings in json.loads(data).items():
                for original in spellings:
                    legend.add(placeholder.encode("latin-1"), original.encode("latin-1"))
        elif data or not begun:
            raise ValueError(_CUT_OFF)
        return legend


def _readable(text: bytes) -> str:
    return text.decode("utf-8", "replace")


class _Spool:
    """A file without a name, encrypted in blocks (AES-256-GCM, each block's number its nonce)."""

    def __init__(self) -> None:
        self._file = tempfile.TemporaryFile()  # noqa: SIM115 - open as long as the legend is
        # Imported here: most legends fit in memory.
        from cryptography.hazmat.primitives.ciphers.aead import AESGCM

        self._cipher = AESGCM(AESGCM.generate_key(256))
        self._blocks: list[tuple[int, int]] = []
        self._end = 0

    def write(self, block: bytes) -> int:
        """Keep a block; gives its number."""
        number = len(self._blocks)
        sealed = self._cipher.encrypt(number.to_bytes(12, "big"), block, None)
        self._file.write(sealed)
        self._file.flush()
        self._blocks.append((self._end, len(sealed)))
        self._end += len(sealed)
        return number

    def read(self, number: int) -> bytes:
        """A block. Several processes may read at once: none moves the place in the file."""
        start, size = self._blocks[number]
        return self._cipher.decrypt(
            number.to_bytes(12, "big"), os.pread(self._file.fileno(), size, start), None
        )


@dataclass(frozen=True)
class _Run:
    """Pairs in order, with how often each was met, in some blocks of a spool."""

    spool: _Spool
    numbers: list[int]
    pairs: int

    def blocks(self) -> Iterator[bytes]:
        return map(self.spool.read, self.numbers)

    def rows(self) -> Iterator[tuple[bytes, bytes, int]]:
        for block in self.blocks():
            yield from native.counted(block)
