"""The parts of a desk made from a sheet that all channels share."""

from __future__ import annotations

import re
import threading
from dataclasses import dataclass
from typing import Any, Literal, Self

from sealpacket.channels.desk import Desk, Login
from sealpacket.core.sheets import Sheet
from sealpacket.core.sheets.replying import Saying, reference_for

NUMBER = "P-0001"
"""Our number of the packet that is tried."""


def pattern_of(template: str, anything: str) -> str:
    """A template of the sheet as a pattern: `anything` matches the values in braces."""
    return re.sub(r"\\\{[a-z._\\]+\\\}", lambda _: anything, re.escape(template))


@dataclass(frozen=True)
class Heard:
    """Something that came to the desk: a case, a file, or an answer of ours."""

    what: Literal["case", "file", "answer"]
    name: str
    content: bytes


class SheetDesk:
    """A desk that records what arrives and answers as instructed. A context manager: it listens within."""

    address: str

    def __init__(self, sheet: Sheet) -> None:
        self.sheet = sheet
        self.heard: list[Heard] = []
        self.reference = reference_for(sheet)
        self.saying = Saying(reference=self.reference, our_number=NUMBER)
        self.refusing = False
        self._lock = threading.Lock()

    def __enter__(self) -> Self:
        self._start()
        return self

    def __exit__(self, *_: object) -> None:
        self._stop()

    def login(self) -> Login:
        """Who signs in here; nobody's real secret."""
        return Login("sam.sample@quillmere.example", "trial", 10)

    def note(self, what: Literal["case", "file", "answer"], name: str, content: bytes) -> None:
        """Keep what came."""
        with self._lock:
            self.heard.append(Heard(what, name, content))

    def count(self, what: str) -> int:
        """How many of a sort came."""
        with self._lock:
            return sum(one.what == what for one in self.heard)

    def last(self, what: str) -> Heard | None:
        """The newest of a sort."""
        with self._lock:
            return next((one for one in reversed(self.heard) if one.what == what), None)

    def listen_to(self, way: Desk) -> Any:
        """The desk's current answer about the case, as our side reads it."""
        return way.follow(self.reference).body

    def _start(self) -> None:
        raise NotImplementedError

    def _stop(self) -> None:
        raise NotImplementedError
