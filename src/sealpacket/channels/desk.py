"""A way to a desk, whatever its channel: what goes in, what can go wrong, and what every channel can do."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from types import TracebackType
from typing import Any

from sealpacket.core.sheets import Case, Sheet, UpdateKind, words_of
from sealpacket.core.sheets.replies import MAIL_DOMAIN


@dataclass(frozen=True)
class Said:
    """A desk's answer about a case, as a tree, with its entity tag (RFC 9110) if it gives one."""

    body: Any = None
    mark: str = ""


class DeskAway(Exception):
    """The desk cannot be reached, or is not well; trying again makes sense. The message is a whole sentence."""


class DeskRefused(Exception):
    """The desk said no: a status for the log, and its parsed answer, if it could be read."""

    def __init__(self, status: int, body: Any) -> None:
        super().__init__(f"The desk refused ({status}).")
        self.status, self.body = status, body


@dataclass(frozen=True)
class Outgoing:
    """A file that goes out: `size` in bytes, `sha256` in hex; `blocks(start)` gives its content from an offset on.

    `already` is where an earlier try has put a part of it, `remember` keeps such a place for the next try; `arrived`
    notes that the desk has all of it.
    """

    name: str
    size: int
    sha256: str
    blocks: Callable[[int], Iterator[bytes]]
    already: str | None
    remember: Callable[[str], None]
    arrived: Callable[[], None] = lambda: None

    def whole(self) -> bytes:
        """All of it, for channels that need it in one piece; the desk's limits keep it small."""
        return b"".join(self.blocks(0))


@dataclass(frozen=True)
class Parcel:
    """One case on its way: `key` stays the same, so that the desk knows a repetition; `number` is the packet's."""

    key: str
    number: str
    case: Case
    files: Sequence[Outgoing]


@dataclass(frozen=True)
class Update:
    """An act on a case that a desk has: its words, values and files.

    `ident` stays the same, so that the desk knows a repetition; `values` are what the act holds, as it may leave.
    `count` is its number among the updates of its case, from 1.
    """

    ident: str
    number: str
    reference: str
    act: UpdateKind
    values: Mapping[str, Any]
    files: Sequence[Outgoing] = ()
    count: int = 1

    @property
    def facts(self) -> dict[str, Any]:
        """All that what is written of it may take."""
        return {
            **self.values,
            "message.id": self.ident,
            "message.reference": self.reference,
        }


@dataclass(frozen=True)
class Paper:
    """Something that a desk left for us."""

    name: str
    content: bytes


def as_key(key: str) -> str:
    """A key in the form that a Message-ID allows."""
    return re.sub(r"[^A-Za-z0-9.-]", "-", key)


def plain_message_id(key: str) -> str:
    """A Message-ID by which nothing can prove itself: for trying a sheet."""
    return f"<{as_key(key)}@{MAIL_DOMAIN}>"


@dataclass(frozen=True)
class Login:
    """Credentials for a desk, and our own connection settings.

    `message_id` gives the Message-ID of a mail of ours by its key; answers to it prove themselves by it.
    """

    name: str
    secret: str
    timeout: float
    mail_server: str = ""
    mail_from: str = ""
    known_hosts: str = ""
    message_id: Callable[[str], str] = plain_message_id


class Desk:
    """One open way to a desk; a context manager that closes it."""

    def __init__(self, sheet: Sheet) -> None:
        self.sheet = sheet

    def __enter__(self) -> Desk:
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.close()

    def close(self) -> None:
        """End what is open."""

    def lodge(self, parcel: Parcel) -> Any:
        """Send the case with its files. Returns the desk's answer as a tree; None if its reference comes later."""
        raise NotImplementedError

    def tell(self, update: Update) -> None:
        """Send an update about an open case to the desk, as its sheet describes."""
        raise NotImplementedError

    def words(self, update: Update) -> str:
        """The text of an update, for a desk that has no other way for it."""
        return words_of(self.sheet.acts, update.act, update.facts)

    def find(self, number: str) -> str | None:
        """The reference of the case of this number of ours, if the desk has one: asked before it is sent again.

        Returns None where the desk has none, or cannot be asked.
        """
        return None

    def follow(self, reference: str, mark: str = "") -> Said:
        """The desk's answer about a case; empty if it has not changed since `mark`.

        A desk that speaks only of its own accord says nothing, either.
        """
        return Said()

    def fetch(self, at: str) -> Iterator[bytes]:
        """The content of a file that the desk attached to a message, from where it says that it is."""
        raise NotImplementedError

    def papers(self, known: Callable[[str], bool]) -> list[Paper]:
        """Documents that the desk has left in a folder, except those known by name; most desks have no folder."""
        return []
