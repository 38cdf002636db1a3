"""Reading an ordinary mailbox by IMAP (RFC 3501): what is new, each mail once, nothing deleted."""

from __future__ import annotations

import imaplib
import re
import ssl
from collections.abc import Iterator
from typing import NamedTuple
from urllib.parse import unquote, urlsplit

from sealpacket.core.errors import Unavailable

LARGEST_MAIL, _LARGEST_HEAD = 30_000_000, 100_000
MOST_AT_ONCE = 100
"""Mails of one look; what is left waits for the next."""
_SILENT = 30
"""Seconds for which the server may say nothing."""
_UID, _SIZE = re.compile(rb"UID (\d+)"), re.compile(rb"RFC822\.SIZE (\d+)")


class Fetched(NamedTuple):
    """A mail with its number (UID); only its head, if it was `cut`."""

    uid: int
    data: bytes
    cut: bool


class Mailbox:
    """One open mailbox; a context manager. Certificates are verified; `imap+plain` is for this machine only."""

    def __init__(self, address: str) -> None:
        self._parts = urlsplit(address)
        self.validity = 0
        """Changes when the server renumbers its mails (UIDVALIDITY)."""

    def __enter__(self) -> Mailbox:
        parts = self._parts
        try:
            self._box = self._connected()
            self._box.login(unquote(parts.username or ""), unquote(parts.password or ""))
            folder = unquote(parts.path.strip("/")) or "INBOX"
            self._done(*self._box.select(f'"{folder}"', readonly=True))
            _, found = self._box.response("UIDVALIDITY")
            self.validity = int(found[0]) if found and found[0] else 0
        except (OSError, imaplib.IMAP4.error, ValueError) as error:
            self._leave()
            raise Unavailable(
                "The mailbox cannot be read.",
                "Check SEALPACKET_MAILBOX and the mail server.",
                code="mailbox",
            ) from error
        return self

    def __exit__(self, *_: object) -> None:
        self._leave()

    def _connected(self) -> imaplib.IMAP4:
        host, port = self._parts.hostname or "", self._parts.port
        trust = ssl.create_default_context()
        if self._parts.scheme == "imaps":
            return imaplib.IMAP4_SSL(host, port or 993, ssl_context=trust, timeout=_SILENT)
        box = imaplib.IMAP4(host, port or 143, timeout=_SILENT)
        if self._parts.scheme == "imap":
            box.starttls(trust)
        return box

    def _leave(self) -> None:
        box = getattr(self, "_box", None)
        if box is None:
            return
        try:
            box.logout()
        except (OSError, imaplib.IMAP4.error):
            return

    def mails_after(self, uid: int) -> Iterator[Fetched]:
        """The mails with a higher number (UID), the oldest first; of one that is too large only the head."""
        try:
            _, found = self._box.uid("SEARCH", f"UID {uid + 1}:*")
            numbers = sorted(int(one) for one in (found[0] or b"").split())
            for number in [one for one in numbers if one > uid][:MOST_AT_ONCE]:
                cut = self._size(number) > LARGEST_MAIL
                wanted = f"(BODY.PEEK[HEADER]<0.{_LARGEST_HEAD}>)" if cut else "(BODY.PEEK[])"
                _, parts = self._box.uid("FETCH", str(number), wanted)
                content = next((one[1] for one in parts if isinstance(one, tuple)), b"")
                yield Fetched(number, bytes(content), cut)
        except (OSError, imaplib.IMAP4.error) as error:
            raise Unavailable(
                "The mailbox broke off while it was read.", "It is read again.", code="mailbox"
            ) from error

    def _size(self, number: int) -> int:
        _, parts = self._box.uid("FETCH", str(number), "(RFC822.SIZE)")
        text = b" ".join(one if isinstance(one, bytes) else one[0] for one in parts if one)
        match = _SIZE.search(text)
        return int(match[1]) if match else 0

    @staticmethod
    def _done(answer: str, said: object) -> None:
        if answer != "OK":
            raise imaplib.IMAP4.error(str(said)[:200])
