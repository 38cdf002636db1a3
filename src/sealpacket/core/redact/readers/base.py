"""What every reader has: the work it is part of, and the limits that keep an archive from becoming a bomb."""

from __future__ import annotations

import re
import tempfile
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import PurePosixPath
from typing import IO, Any

from sealpacket.core.filenames import keepable
from sealpacket.core.redact.boxes import Box, Page
from sealpacket.core.redact.engine import Held, Outcome, Run
from sealpacket.core.redact.pseudonyms import Placeholders
from sealpacket.core.redact.search import Catalogue

_LABEL = re.compile(r"\[([a-z]+):([a-z2-7]+)\]")
"""A placeholder, which in a name goes without the signs that no file may have everywhere."""
BLOCK = 1 << 20
IN_MEMORY = 8 << 20
LARGEST_PARSED = 64 << 20
"""A structured file that has to be held as a tree may have so many bytes."""


@dataclass(frozen=True)
class Limits:
    """How deep, how many, how much larger than it came, and how large in all (bytes)."""

    depth: int = 6
    members: int = 100_000
    ratio: int = 400
    free: int = 256 << 20
    total: int = 64 << 30


@dataclass
class Work:
    """One redaction of one file with all that is inside it. `seen` counts the bytes and members that were unpacked."""

    catalogue: Catalogue
    placeholders: Placeholders
    outcome: Outcome = field(default_factory=Outcome)
    limits: Limits = field(default_factory=Limits)
    note: Callable[[bytes], Any] | None = None
    progress: Callable[[int], Any] | None = None
    size: int = 0
    depth: int = 0
    seen: list[int] = field(default_factory=lambda: [0, 0])
    drawn: Mapping[int, Sequence[Box]] = field(default_factory=dict)
    """By page (from 1), the boxes that a person drew on this very file."""
    searchable: bool = False
    """Whether pages carry the words that are left on them as text."""
    run: Run = field(init=False)

    def __post_init__(self) -> None:
        self.run = Run(self.catalogue, self.placeholders, self.outcome)

    def inside(self) -> Work:
        """The work on something inside this: one deeper, with the same memory. Raises Held if that is too deep."""
        if self.depth + 1 > self.limits.depth:
            raise Held(f"It holds archives in archives, more than {self.limits.depth} deep.")
        inner = Work(self.catalogue, self.placeholders, self.outcome, self.limits, size=self.size, depth=self.depth + 1,
                     seen=self.seen, searchable=self.searchable)  # fmt: skip
        inner.run = self.run
        return inner

    def note_page(self, page: Page) -> None:
        """Note what lies on a page of the file itself; pictures inside of others are not told one by one."""
        if self.depth == 0:
            self.outcome.pages.append(page)

    def count(self, octets: int, members: int = 0) -> None:
        """Note what was unpacked. Raises Held when it is more than such a file can honestly hold."""
        self.seen[0] += octets
        self.seen[1] += members
        allowed = min(self.limits.total, max(self.limits.free, self.size * self.limits.ratio))
        if self.seen[0] > allowed:
            raise Held(f"It unpacks to more than {allowed >> 20} MB, far more than it has itself.")
        if self.seen[1] > self.limits.members:
            raise Held(f"It holds more than {self.limits.members} files.")

    def words(self, text: str) -> str:
        """A small text (a name, a comment, a cell) with its values replaced."""
        return (
            self.run.text(text.encode("utf-8", "surrogateescape")).decode("utf-8", "replace")
            if text
            else text
        )

    def name(self, path: str) -> str:
        """A file's name with its values replaced, each part of its path by itself; and never out of its folder."""
        parts = [
            part
            for part in PurePosixPath(path.replace("\\", "/")).parts
            if part not in ("/", "..", ".")
        ]
        ending = "/" if path.endswith("/") else ""
        whole = _LABEL.sub(r"\1-\2", self.words("/".join(parts)))
        return ("/".join(map(keepable, whole.split("/"))) or "unnamed") + ending


def spool() -> IO[bytes]:
    """Room for what is between two steps: in memory while small, then in a file without a name."""
    return tempfile.SpooledTemporaryFile(max_size=IN_MEMORY)


def blocks_of(file: Any, size: int = BLOCK) -> Iterator[bytes]:
    """A file in blocks."""
    while block := file.read(size):
        yield block


def size_of(file: IO[bytes]) -> int:
    """How many bytes a file has; it is left at its beginning."""
    size = file.seek(0, 2)
    file.seek(0)
    return size


def unused_name(name: str, names: set[str]) -> str:
    """The name, or one with a number if another member has got it."""
    made, number = name, 1
    while made in names:
        number += 1
        stem, dot, ending = name.rpartition(".")
        made = f"{stem}-{number}.{ending}" if dot and "/" not in ending else f"{name}-{number}"
    names.add(made)
    return made
