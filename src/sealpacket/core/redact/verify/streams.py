"""The streams of bytes in an outgoing copy: the copy itself, and what is packed in it."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from typing import IO, NamedTuple

CHUNK = 4 << 20
PICTURES = (b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"BM", b"II*\0", b"MM\0*")
_DEEPEST = 7
_PACKED = re.compile(
    rb"\A(?:\x1f\x8b|BZh|\xfd7zXZ|\x28\xb5\x2f\xfd|PK|SQLite format 3|%PDF-|"
    + b"|".join(re.escape(one) for one in PICTURES)
    + rb"|(?s:.{8}WEBP|.{257}ustar)|(?:From|To|Subject|Received): )|(?i:^MIME-Version:)",
    re.MULTILINE,
)
"""How a file begins that has others in it; the last of them is a mail."""


class Stream(NamedTuple):
    """A stream of bytes in a copy, and what it is called there: the member of an archive, the page of a document."""

    where: str
    blocks: Iterable[bytes]


def streams_of(file: IO[bytes], depth: int = 0, where: str = "") -> Iterator[Stream]:
    """Every stream of bytes in a copy: the file itself, and what is packed in it, as deep as it goes."""
    file.seek(0)
    head = file.read(512)
    file.seek(0)
    yield Stream(where, iter(lambda: file.read(CHUNK), b""))
    if depth >= _DEEPEST or not _PACKED.search(head):
        return
    from sealpacket.core.redact.verify.unpacked import TROUBLE, inside

    try:
        for stream in inside(file, head, depth):
            yield Stream(" in ".join(filter(None, (stream.where, where))), stream.blocks)
    except TROUBLE:
        return
