"""Where a stream may be cut into pieces: behind a line end, and not within what goes on over it in a coat.

Base64 and hex have to be cut between whole groups of signs, and what they stand for not within a line on which
something is; the same for base64 over many lines and for dumps.
"""

from __future__ import annotations

import base64
import binascii
import re
from bisect import bisect_right
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import IO, Protocol

from sealpacket.core.redact.encodings.dumps import dumps_in
from sealpacket.core.redact.encodings.tokens import IN_TOKEN, is_hex

AHEAD = 64
"""A line end is no border if less than this follows: what is broken over it would not be seen."""
_TOKEN = 12
_WINDOW = 128 << 10
_LOOKAHEAD = 8 << 10
_WHOLE = 8
"""So many signs are whole bytes, in hex, and whole letters of UTF-16 as well, in base64."""
_STEP = 8 * _WHOLE
_NO_SIGNS = b" \t>\r\n"
_LINE = 512
_OF_RUN = re.compile(
    rb"[ \t>]*[A-Za-z0-9+/]{40,100}={0,2}\r?"
    rb"|[^\n]{0,120}?\b[0-9A-Fa-f]{3,16}:?[ \t]+"
    rb"(?:(?:[0-9A-Fa-f]{2} {1,2}){6}|(?:[0-9A-Fa-f]{4} ){3}|(?:[0-7]{3} ){6})[^\n]*"
)


class Stretch(Protocol):
    """What is replaced in a text."""

    @property
    def start(self) -> int: ...
    @property
    def end(self) -> int: ...


def is_of_run(line: bytes) -> bool:
    """Whether a line, without its end, is one of many that belong together: of base64, or of a dump."""
    return _OF_RUN.fullmatch(line) is not None


def settled(buffer: bytes, longest: int, held_back: int) -> int:
    """Up to where a buffer may be written: its last line end, or, if that is farther from its end than `longest`, all
    but `held_back` bytes."""
    newline = buffer.rfind(b"\n", 0, max(len(buffer) - AHEAD, 0))
    if newline >= 0 and len(buffer) - newline <= longest:
        return newline + 1
    return max(len(buffer) - held_back, 0)


def start_of_run(buffer: bytes, limit: int) -> int:
    """Where what goes on over this place in a coat begins; the place itself if nothing does."""
    if buffer[limit - 1 : limit] == b"\n":
        start = limit
        while start > 0:
            before = buffer.rfind(b"\n", 0, start - 1) + 1
            if not is_of_run(buffer[before : start - 1]):
                break
            start = before
        return start
    if limit == 0 or buffer[limit : limit + 1] not in IN_TOKEN:
        return limit
    start = limit
    while start > 0 and buffer[start - 1 : start] in IN_TOKEN:
        start -= 1
    return start if limit - start >= _TOKEN else limit


def quiet_place(buffer: bytes, limit: int, spans_of: Callable[[bytes], Iterable[Stretch]]) -> int:
    """Where to cut a buffer that is nothing but a run up to the limit, and goes on behind it.

    The last place before it that stands for the border of a line, or one in it, with nothing on that `spans_of` finds.
    """
    window = max(limit - _WINDOW, 0)
    if buffer[limit - 1 : limit] == b"\n":
        window = buffer.rfind(b"\n", 0, window) + 1
        signs_before = len(buffer[:window].translate(None, _NO_SIGNS))
        data, places = _of_lines(buffer[window:limit], -signs_before % _WHOLE)
    else:
        window -= window % _STEP
        data, places = _of_token(buffer[window:limit])
    if data[1::2].count(0) > len(data) * 0.4:
        data, places = data[::2], [(place, at // 2) for place, at in places]
    spans = sorted((span.start, span.end) for span in spans_of(data))
    starts = [start for start, _ in spans]
    between_words = [(place, at) for place, at in places if data[at - 1 : at].isspace()]
    for place, at in [*reversed(between_words), *reversed(places)]:
        begin = max(data.rfind(b"\n", 0, at) + 1, at - _LINE)
        end = data.find(b"\n", at, at + _LINE)
        end = at + _LINE if end < 0 else end
        before = bisect_right(starts, end) - 1
        if at <= len(data) - _LOOKAHEAD and (before < 0 or spans[before][1] <= begin):
            return window + place
    return window + places[-1][0] if places else limit


def _of_token(run: bytes) -> tuple[bytes, list[tuple[int, int]]]:
    """What a run stands for; and places in it where it may be cut, with what they stand for."""
    run = run[: len(run) // _STEP * _STEP]
    if is_hex(run):
        data, bytes_of_step = binascii.unhexlify(run), _STEP // 2
    else:
        data, bytes_of_step = _from_base64(run), _STEP // 4 * 3
    return data, [
        (_STEP * number, bytes_of_step * number) for number in range(1, len(run) // _STEP)
    ]


def without_padding(run: bytes) -> bytes:
    """Base64 that goes on: instead of being filled up at its end it stands for a blank or two more."""
    if not run.endswith(b"="):
        return run
    last = base64.b64decode(run[-4:])
    wide = last.endswith(b"\0")
    blanks = (b" \0" if len(last) == 1 else b" \0 \0") if wide else b" " * (3 - len(last))
    return run[:-4] + base64.b64encode(last + blanks)


def _of_lines(run: bytes, skipped: int) -> tuple[bytes, list[tuple[int, int]]]:
    dump = next(iter(dumps_in(run)), None)
    if dump is not None:
        return dump.data, [
            (row.start, dump.width * number) for number, row in enumerate(dump.rows) if number
        ]
    body, places, place = bytearray(), [], 0
    for line in run.split(b"\n")[:-1]:
        body += line.strip(_NO_SIGNS)
        place += len(line) + 1
        if len(body) > skipped and (len(body) - skipped) % _WHOLE == 0:
            places.append((place, (len(body) - skipped) // 4 * 3))
    signs = bytes(body[skipped:])
    return _from_base64(signs[: len(signs) // 4 * 4]), places


def _from_base64(run: bytes) -> bytes:
    try:
        return base64.b64decode(run.replace(b"-", b"+").replace(b"_", b"/"))
    except binascii.Error:
        return b""


_BLOCK = 1 << 20
_BACK = 64 << 10
_TRIED = 400
"""A line end that is no good border is taken all the same if so many before it were none; but not within a run."""


def borders_of(path: Path, size: int, part: int) -> list[int]:
    """Where a text may be cut into parts that are looked at apart: behind a line end, not inside a private key, base64
    or a dump, and if possible not where a line seems to go on in the next."""
    borders = [0]
    with path.open("rb") as file:
        while borders[-1] + part + part // 2 < size:
            border = _border(file, borders[-1] + part, size)
            if border >= size:
                break
            borders.append(border)
    return [*borders, size]


def _border(file: IO[bytes], wanted: int, size: int) -> int:
    file.seek(max(wanted - _BACK, 0))
    before = file.read(min(_BACK, wanted))
    opened = before.rfind(b"-----BEGIN ")
    in_key = opened >= 0 and before.find(b"-----END ", opened) < 0
    place, tried, last = wanted, 0, before[before.rfind(b"\n") + 1 :]
    while line := file.readline(_BLOCK):
        is_whole = last.endswith(b"\n")
        if is_whole and not in_key:
            tried += not is_of_run(last.rstrip(b"\r\n"))
            if _are_apart(last, line, at_all=tried > _TRIED):
                return place
        place, last = place + len(line), line if is_whole else last + line
        in_key = in_key and b"-----END " not in last
    return size


def _are_apart(line: bytes, following: bytes, *, at_all: bool) -> bool:
    """Whether nothing seems to go on over the end of a line; with `at_all`, whether no run does."""
    line, after = line.rstrip(b"\r\n"), following.rstrip(b"\r\n")
    if at_all or is_of_run(line) or is_of_run(after):
        return not is_of_run(line) and not is_of_run(after)
    if line.endswith((b"=", b"\\")) or following[:1] in (b" ", b"\t"):
        return False
    return len(line) != len(after) or not line
