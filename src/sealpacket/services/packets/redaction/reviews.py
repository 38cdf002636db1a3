"""Looking at what was masked in an exhibit: line by line, finding by finding, value by value.

A file of any size opens at once: only the window that is looked at is read, beside the list of findings.
"""

from __future__ import annotations

import json
import re
from bisect import bisect_left, bisect_right
from collections import Counter
from collections.abc import Iterator, Sequence
from typing import Any, overload

from sealpacket.app.context import AppContext
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.core.kinds import KINDS
from sealpacket.core.redact.engine import RECORD, UNSURE
from sealpacket.core.redact.pseudonyms import as_written
from sealpacket.services.packets import workbench
from sealpacket.services.packets.exhibits import find_exhibit
from sealpacket.services.packets.redaction import legend_keys
from sealpacket.services.packets.redaction.schemas import (
    FindingShown,
    Review,
    ReviewLine,
    Span,
    ValueList,
)
from sealpacket.store.models import Exhibit

DOUBTFUL = "doubtful"
_CHUNK = 1 << 20


class Findings:
    """All findings of an exhibit as they were stored; taken apart only where one is looked at."""

    def __init__(self, packed: bytes) -> None:
        self._packed = packed
        self._kinds = packed[RECORD.size - 1 :: RECORD.size]

    def __len__(self) -> int:
        return len(self._kinds)

    def __getitem__(self, place: int) -> tuple[int, int, int, int, int, int]:
        return RECORD.unpack_from(self._packed, place * RECORD.size)

    @property
    def doubtful(self) -> int:
        """How many a person had better look at."""
        return len(self._kinds) - len(self._kinds.translate(None, _UNSURE))

    def of(self, kind: str) -> Sequence[int]:
        """The places of those of a kind, or of the doubtful ones, or of all."""
        if not kind:
            return range(len(self))
        if kind == DOUBTFUL:
            return [hit.start() for hit in _DOUBTED.finditer(self._kinds)]
        wanted = {KINDS.index(kind), KINDS.index(kind) | UNSURE}
        return [place for place, number in enumerate(self._kinds) if number in wanted]

    def to_look_at(self, kind: str) -> Sequence[int]:
        """The places of those of a kind, or of all, the doubtful ones first."""
        if not kind:
            return _DoubtfulFirst(self.of(DOUBTFUL), len(self))
        return sorted(self.of(kind), key=lambda place: not self._kinds[place] & UNSURE)

    def goes_to(self, start: int) -> int:
        """Where in the copy a place of the original lies that is in none of them."""
        place = bisect_left(range(len(self)), start, key=lambda one: self[one][0])
        if not place:
            return start
        offset, length, out, out_length = self[place - 1][:4]
        return out + out_length + start - offset - length

    def between(self, start: int, end: int) -> Iterator[tuple[int, int, int, int, int, int]]:
        """Findings that begin in a range of the original."""
        for place in range(
            bisect_left(range(len(self)), start, key=lambda one: self[one][0]), len(self)
        ):
            if self[place][0] >= end:
                return
            yield self[place]


class _DoubtfulFirst(Sequence[int]):
    """All indices below a count, some of them first; lazily, since there may be millions."""

    def __init__(self, first: Sequence[int], total: int) -> None:
        self._first, self._total = first, total

    def __len__(self) -> int:
        return self._total

    @overload
    def __getitem__(self, at: int) -> int: ...
    @overload
    def __getitem__(self, at: slice) -> Sequence[int]: ...
    def __getitem__(self, at: int | slice) -> int | Sequence[int]:
        if isinstance(at, slice):
            return [self[one] for one in range(*at.indices(self._total))]
        if not 0 <= at < self._total:
            raise IndexError(at)
        if at < len(self._first):
            return self._first[at]
        # Of the others this is the one before which so many of the first stand.
        other = at - len(self._first)
        return other + bisect_right(
            range(len(self._first)), other, key=lambda one: self._first[one] - one
        )


_UNSURE = bytes(range(UNSURE, 256))
_DOUBTED = re.compile(rb"[\x80-\xff]")
"""The kind of a finding with UNSURE added."""


def values(app: AppContext, number: str, name: str, *, kind: str, q: str, limit: int) -> ValueList:
    """The different values that were masked in an exhibit, the most frequent first: of one kind, with some text.
    Raises Conflict if it is not redacted yet."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        exhibit = find_exhibit(packet, name)
        if exhibit.state != "ready" or exhibit.values_blob is None:
            raise Conflict(
                f"{name} is not redacted yet.", "Wait for its redaction.", code="no-copy"
            )
        key = legend_keys.key_of(app, packet)
    wanted = q.casefold()
    found = [
        (label, original.encode("latin-1").decode("utf-8", "replace"), times)
        for label, original, times in json.loads(
            b"".join(legend_keys.read(app, key, exhibit.values_blob))
        )
        if not kind or label[1 : label.index(":")] == kind
    ]
    found = [row for row in found if not wanted or wanted in row[1].casefold() or wanted in row[0]]
    return ValueList(
        total=len(found),
        values=[
            {
                "placeholder": as_written(label.encode("latin-1")).decode("utf-8", "replace"),
                "kind": label[1 : label.index(":")],
                "value": value,
                "times": times,
            }
            for label, value, times in found[:limit]
        ],
    )


def review(
    app: AppContext,
    number: str,
    name: str,
    *,
    at: int,
    kind: str,
    lines: int,
    placeholder: str = "",
    line: int = 0,
) -> Review:
    """A window of `lines` lines around finding `at` (from 0), or from `line` (from 1) on, original beside outgoing.
    Raises Conflict if it cannot be shown by lines, Invalid for an unknown kind.

    Findings that are not certain come first, then the others, each in order. `kind` leaves those of one kind, or those
    that are `doubtful`; `placeholder` those of one value.
    """
    with app.database.transaction() as session:
        exhibit = find_exhibit(workbench.find_packet(session, number), name)
        if exhibit.original_deleted_at is not None:
            raise Conflict(
                f"The original of {name} was deleted on {exhibit.original_deleted_at:%Y-%m-%d}.",
                "Its outgoing copy is still there.",
                code="original-deleted",
            )
        if exhibit.state != "ready" or not (
            exhibit.findings_blob and exhibit.original_blob and exhibit.outgoing_blob
        ):
            raise Conflict(
                f"{name} is not redacted yet.", "Wait for its redaction.", code="no-copy"
            )
    if (exhibit.report or {}).get("read_as") == "file":
        raise Conflict(
            f"{name} cannot be shown line by line.",
            "Open its outgoing copy to look at it.",
            code="no-lines",
        )
    records = Findings(app.blobs.read_all(exhibit.findings_blob))
    counts: Counter[str] = Counter((exhibit.report or {}).get("counts", {}))
    if kind and kind not in (DOUBTFUL, *KINDS):
        raise Invalid(
            f"There is no kind {kind}.",
            f"Choose from {DOUBTFUL}, {', '.join(KINDS)}.",
            field="kind",
        )
    chosen: Sequence[int] = (
        _of_value(app, exhibit.outgoing_blob, records, records.of(kind), placeholder.encode())
        if placeholder
        else records.to_look_at(kind)
    )
    place = min(max(at, 0), len(chosen) - 1) if chosen else None
    start, first_line = 0, 1
    if line:
        start, first_line = _line_start(app, exhibit, line)
    elif place is not None:
        middle = records[chosen[place]]
        start, first_line = _window_start(
            app, exhibit.original_blob, middle[0], middle[4], lines // 2
        )
    window = _lines(app, exhibit, records, start, first_line, lines)
    return Review(
        findings=len(chosen),
        doubtful=records.doubtful,
        at=place,
        line=records[chosen[place]][4] if place is not None else 1,
        focus=_focus(app, exhibit, records[chosen[place]]) if place is not None else None,
        lines=window,
        all_lines=int((exhibit.report or {}).get("lines") or 0) + 1,
        counts=dict(sorted(counts.items())),
    )


def _focus(app: AppContext, exhibit: Exhibit, record: Any) -> FindingShown:
    """The finding in the middle: the original and the outgoing text."""
    offset, length, out, out_length = record[:4]
    value = b"".join(
        app.blobs.read(str(exhibit.original_blob), offset, offset + min(length, _LONGEST_SHOWN))
    )
    instead = b"".join(app.blobs.read(str(exhibit.outgoing_blob), out, out + out_length))
    return FindingShown(
        kind=_kind_of(record),
        value=_shown(value),
        placeholder=instead.decode("ascii", "replace"),
        sure=not record[5] & UNSURE,
    )


def _of_value(
    app: AppContext, blob: str, records: Findings, chosen: Sequence[int], wanted: bytes
) -> list[int]:
    """Those findings that became this placeholder: the outgoing copy is read once, from the first to the last."""
    found: list[int] = []
    here, begin = b"", 0
    for place in chosen:
        out, length = records[place][2], records[place][3]
        if length != len(wanted):
            continue
        if out + length > begin + len(here):
            begin, here = out, b"".join(app.blobs.read(blob, out, out + (1 << 20)))
        if here[out - begin : out - begin + length] == wanted:
            found.append(place)
    return found


def _kind_of(record: Any) -> str:
    return KINDS[record[5] & ~UNSURE]


_AROUND = 16 << 10
_LONGEST_SHOWN = 2000


def _window_start(
    app: AppContext, blob: str, offset: int, line: int, above: int
) -> tuple[int, int]:
    """Offset and number of the line that is `above` lines before this offset."""
    begin = max(offset - _AROUND, 0)
    before = b"".join(app.blobs.read(blob, begin, offset))
    pos, number = len(before), line
    for _ in range(above + 1):
        cut = before.rfind(b"\n", 0, pos)
        if cut < 0:
            return (begin, number) if begin else (0, number)
        pos, number = cut, number - 1
    return begin + pos + 1, number + 1


def _line_start(app: AppContext, exhibit: Exhibit, line: int) -> tuple[int, int]:
    """Offset of a line in the original, and its number; of the last line if there are fewer."""
    marks = exhibit.marks or [[0, 1]]
    offset, number = marks[max(bisect_left(marks, line + 1, key=lambda mark: mark[1]) - 1, 0)]
    start = offset
    while number < line:
        block = b"".join(app.blobs.read(str(exhibit.original_blob), offset, offset + _CHUNK))
        if not block:
            break
        place = 0
        while number < line and (found := block.find(b"\n", place)) >= 0:
            place, number = found + 1, number + 1
            start = offset + place
        offset += len(block)
    return start, number


def _lines(
    app: AppContext, exhibit: Exhibit, records: Findings, start: int, first_line: int, count: int
) -> list[ReviewLine]:
    """The lines from `start`, each as spans; a span that is masked says by what."""
    text = b"".join(app.blobs.read(str(exhibit.original_blob), start, start + 2 * _AROUND))
    moved = bool((exhibit.report or {}).get("times_moved"))
    spans: list[Span] = []
    done, behind = 0, records.goes_to(start)

    def plain(to: int) -> Span:
        """Text that is not masked: of the same length in the copy, and the same unless times are shifted."""
        here = text[done:to]
        copy = (
            b"".join(app.blobs.read(str(exhibit.outgoing_blob), behind, behind + len(here)))
            if moved
            else here
        )
        return Span(text=_shown(here), goes=_shown(copy) if copy != here else None)

    for record in records.between(start, start + len(text)):
        offset, length, out, out_length = record[:4]
        placeholder = b"".join(
            app.blobs.read(str(exhibit.outgoing_blob), out, out + out_length)
        ).decode("ascii", "replace")
        at = offset - start
        spans.append(plain(at))
        spans.append(
            Span(
                text=_shown(text[at : at + length]), kind=_kind_of(record), placeholder=placeholder
            )
        )
        done, behind = at + length, out + out_length
    spans.append(plain(len(text)))
    return list(_by_line(spans, first_line, count))


def _shown(data: bytes) -> str:
    return data.decode("utf-8", "replace")


def _by_line(spans: list[Span], number: int, count: int) -> Iterator[ReviewLine]:
    """Cut spans at line ends. A masked value of several lines stays in the line where it begins."""
    line: list[Span] = []
    shown = inside = 0
    for span in spans:
        if span.placeholder is not None:
            line.append(span.model_copy(update={"text": span.text[:_LONGEST_SHOWN]}))
            inside += span.text.count("\n")
            continue
        pieces = span.text.split("\n")
        going = pieces if span.goes is None else span.goes.split("\n")
        for place, (piece, goes) in enumerate(zip(pieces, going, strict=False)):
            if piece:
                moved = goes[:_LONGEST_SHOWN] if goes != piece else None
                line.append(Span(text=piece[:_LONGEST_SHOWN], goes=moved))
            if place < len(pieces) - 1:
                yield ReviewLine(number=number, spans=line)
                line, number, shown, inside = [], number + 1 + inside, shown + 1, 0
                if shown == count:
                    return
    if line:
        yield ReviewLine(number=number, spans=line)
