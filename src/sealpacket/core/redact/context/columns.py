"""Values that only the head of their column tells of: in files of cells, and in tables that are drawn in a text."""

from __future__ import annotations

import re
from collections.abc import Callable, Generator, Iterator
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from typing import TYPE_CHECKING

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.context.pairs import lists_in, pairs_in, queries_in

if TYPE_CHECKING:
    from sealpacket.core.redact.spans import Span

_PROBES = (
    b"zq7Kettle9x", b"odile.m", b"Odile Marchmont", b"21160007731404", b"14/03/1987", b"QX44-1189-K", b"QX441189K",
    b"12 Fennel Lane", b"01632 960321", b"01632960321", b"QCL-4471", b"qcl-sw1", b"-0.12781", b"447", b"O MARCHMONT",
    b"odile", b"Untere Quelle 7",
)  # fmt: skip
"""Of every sort of value that a label can tell of; a head for which none of them is found tells of nothing."""
_FIRST_NAMES = frozenset([
    "first", "first name", "firstname", "first_name", "given name", "given_name", "forename", "vorname", "prénom",
    "prenom", "voornaam", "nombre", "nombres", "nome", "imię", "imie", "förnamn", "fornamn", "fornavn", "etunimi",
    "jméno", "křestní jméno", "keresztnév",
])  # fmt: skip
_LAST_NAMES = frozenset([
    "last", "name", "surname", "family name", "nom", "naam", "cognome", "nazwisko", "efternamn", "etternavn",
    "efternavn", "sukunimi", "příjmení", "vezetéknév", "sobrenome", "apelido", "apellido", "apellidos",
])  # fmt: skip
"""Heads that are names of people where one of each stands side by side: a name may be anybody's or anything's."""
_PLAIN_NAMES = {
    **dict.fromkeys(_LAST_NAMES, b"last name"), **dict.fromkeys(_FIRST_NAMES, b"first name"), "middle": b"middle name",
}  # fmt: skip
_OF_ACCOUNTS = frozenset(
    [
        "last login",
        "last logon",
        "last sign-in",
        "role",
        "roles",
        "uid",
        "shell",
        "privilege",
        "privileges",
    ]
)
"""Heads beside which a name is that of an account."""
_SECOND_WORDS = frozenset([b"name", b"address", b"number", b"id"])
"""What stands behind another word in one head: AP Name."""
_LONGEST_HEAD = 40
_REMEMBERED, _MOST_HEADS, _MOST_NAMED = 100_000, 10_000, 200
_RULE = re.compile(rb"[ \t|+:]*(?:-{2,}|={3,})[-+|=: \t]*")
_DASHES = re.compile(rb"[-=]{2,}")
_RUN = re.compile(rb"[^ \t\r]+(?: [^ \t\r]+)*")
_WORD = re.compile(rb"[^ \t\r]+")
_CELL = re.compile(rb"<t([hd])(?:\s[^<>]*)?>")
_TAG = re.compile(rb"<[^<>]*>")
_BETWEEN = re.compile(rb"(?<![^>])[^<>]+")
_COPY = re.compile(rb"(?i)\bcopy\s[^\n(]{1,200}\(([^()\n]{1,2000})\)\s+from\s+stdin[^\n]*\n")
_INSERT = re.compile(
    rb"(?i)\b(?:insert|replace)\s+into\s[^\n(]{1,200}\(([^()]{1,2000})\)\s*values\s*"
)
_BETWEEN_ROWS = re.compile(rb"[\s,]{0,100}\(")
_MARK = re.compile(rb"['(),]")
Cut = Callable[[bytes], list[tuple[int, int]]]
"""Where the cells of a row begin and end."""


@dataclass
class Columns:
    """Judges cells by the heads of their columns. `look` finds spans in a small text."""

    look: Callable[[bytes], list[Span]]
    _known: dict[tuple[bytes, bytes], list[Span]] = field(default_factory=dict)
    _telling: dict[bytes, bool] = field(default_factory=dict)
    open_table: tuple[Cut, dict[int, bytes]] | None = None
    """The table that goes on in the next part of the text, if one does."""

    def telling(self, heads: list[bytes]) -> dict[int, bytes]:
        """Those heads, by their place, that tell something of what stands below them."""
        labels = [head.strip(b" \t\r\"'*_") for head in heads]
        said = (
            [label.decode("utf-8", "replace").casefold() for label in labels]
            if len(labels) < _MOST_NAMED
            else []
        )
        if not (_FIRST_NAMES.isdisjoint(said) or _LAST_NAMES.isdisjoint(said)):
            labels = [_PLAIN_NAMES.get(one, label) for one, label in zip(said, labels, strict=True)]
        elif not _OF_ACCOUNTS.isdisjoint(said):
            labels = [
                b"user" if one == "name" else label for one, label in zip(said, labels, strict=True)
            ]
        return {place: label for place, label in enumerate(labels) if label and self._tells(label)}

    @cached_property
    def _silent(self) -> list[bytes]:
        """The probes that tell nothing by themselves."""
        return [probe for probe in _PROBES if not self.look(probe)]

    def _tells(self, label: bytes) -> bool:
        digits = sum(48 <= byte <= 57 for byte in label)
        if len(label) > _LONGEST_HEAD or digits > 3 or not any(byte > 64 for byte in label):
            return False
        if label not in self._telling:
            if len(self._telling) > _MOST_HEADS:
                self._telling.clear()
            self._telling[label] = self._tells_of_any(label)
        return self._telling[label]

    def _tells_of_any(self, label: bytes) -> bool:
        """Whether something is found in any probe behind this label, all looked at in one text."""
        lines, values = b"", []
        for probe in self._silent:
            for before, behind in ((b': "', b'"\n'), (b": ", b"\n")):
                start = len(lines) + len(label) + len(before)
                values.append((start, start + len(probe)))
                lines += label + before + probe + behind
        return any(
            start < span.end and span.start < end
            for span in self.look(lines)
            for start, end in values
        )

    def _labelled(self, label: bytes, value: bytes) -> list[Span]:
        """What stands in a value that has this label, with places in the value."""
        key = (label, value)
        if key not in self._known:
            if len(self._known) > _REMEMBERED:
                self._known.clear()
            quoted = [] if b'"' in value else self._behind(label + b': "', value, b'"')
            self._known[key] = quoted or self._behind(label + b": ", value)
        return self._known[key]

    def _behind(self, lead: bytes, value: bytes, tail: bytes = b"") -> list[Span]:
        begin, end = len(lead), len(lead) + len(value)
        found = (
            span for span in self.look(lead + value + tail) if span.end > begin and span.start < end
        )
        return [
            span._replace(start=max(span.start, begin) - begin, end=min(span.end, end) - begin)
            for span in found
        ]

    def row(
        self, line: bytes, base: int, cells: list[tuple[int, int]], heads: dict[int, bytes]
    ) -> Iterator[Span]:
        """What stands in the cells of one row; places in the whole text."""
        for place, label in heads.items():
            if place >= len(cells):
                continue
            start, end = cells[place]
            value = line[start:end]
            bare = value.strip(b" \t\r\"'`*")
            if not bare:
                continue
            at = base + start + value.index(bare)
            for span in self._labelled(label, bare):
                yield span._replace(start=at + span.start, end=at + span.end)

    def in_text(self, text: bytes, limit: int, ends: native.LineEnds) -> Iterator[Span]:
        """What only the head of its column tells of, or a label that stands elsewhere."""
        shapes = ends.shapes()
        yield from self._in_tables(text, limit, shapes)
        yield from self._in_lines(text, limit, shapes)
        if b"<" in text and (b"<td" in text or b"<TD" in text):
            yield from self._in_elements(text, limit)
        if shapes.puts_rows:
            yield from self._in_statements(text, limit)

    def _in_tables(self, text: bytes, limit: int, shapes: native.Shapes) -> Iterator[Span]:
        """What stands in tables drawn in a text: heads over a rule of dashes, or with room between; rows below."""
        place = 0
        if self.open_table is not None:
            place = yield from self._rows(text, 0, limit, *self.open_table)
        for rule in shapes.rules:
            end = _line_end(text, rule)
            if (
                rule < max(place, 1)
                or rule >= limit
                or not _RULE.fullmatch(text[rule:end].rstrip(b"\r"))
            ):
                continue
            head_start = text.rfind(b"\n", 0, max(rule - 1, 0)) + 1
            head = text[head_start : rule - 1].rstrip(b"\r")
            cut = _by_bars if b"|" in head else _by_rule(text[rule:end])
            cells = cut(head)
            heads = self.telling([head[start:stop] for start, stop in cells])
            if _RULE.fullmatch(head):
                continue
            if not heads:
                yield from self._in_pair(head, head_start, cells)
            if heads or _two_of(head, cells):
                place = yield from self._rows(text, end + 1, limit, cut, heads)
        yield from self._below_heads(text, place, limit, shapes.heads)

    def _below_heads(self, text: bytes, place: int, limit: int, lines: list[int]) -> Iterator[Span]:
        """The rows below heads without a rule; `lines` are where these may begin, from a place on."""
        for head_start in lines:
            if head_start < place or head_start >= limit:
                continue
            end = _line_end(text, head_start)
            line = text[head_start:end]
            if b"|" in line:
                below = yield from self._below_bars(text, head_start, end, limit)
                place = below or place
                continue
            runs = list(self._heads_of(line))
            heads = self.telling([line[start:stop] for start, stop in runs])
            repeated = text.startswith(line[: runs[0][1]], end + 1) if runs else False
            if heads and not repeated:
                place = yield from self._rows(text, end + 1, limit, _below(runs), heads)

    def _below_bars(
        self, text: bytes, start: int, end: int, limit: int
    ) -> Generator[Span, None, int]:
        """The rows below heads between bars, without a rule; where they end, or 0 if there are none."""
        line, below = text[start:end], text[end + 1 : _line_end(text, end + 1)]
        if line.count(b"|") < 2 or below.count(b"|") != line.count(b"|") or _RULE.fullmatch(below):
            return 0
        heads = self.telling([line[slice(*cell)] for cell in _by_bars(line)])
        if not heads:
            return 0
        return (yield from self._rows(text, end + 1, limit, _by_bars, heads))

    def _heads_of(self, line: bytes) -> Iterator[tuple[int, int]]:
        """Where the heads on a line are. There is room between them; where it is one blank, as before a narrow column,
        those are heads of their own of which one tells something by itself."""
        for run in _RUN.finditer(line):
            words = [hit.span() for hit in _WORD.finditer(line, *run.span())]
            one = line[slice(*words[-1])].lower() in _SECOND_WORDS and self.telling([run[0]])
            apart = (
                len(words) > 1
                and not one
                and self.telling([line[start:stop] for start, stop in words])
            )
            yield from words if apart else [run.span()]

    def _in_lines(self, text: bytes, limit: int, shapes: native.Shapes) -> Iterator[Span]:
        """What stands on lines of a label, room, and a value."""
        for label, label_end, start, end in shapes.labelled:
            if label >= limit:
                return
            heads = self.telling([text[label:label_end]])
            if heads:
                yield from self.row(text, 0, [(start, end)], heads)

    def in_pairs(self, text: bytes, limit: int, lines: list[int]) -> Iterator[Span]:
        """What stands as a value beside its name, in any grammar. `lines` begin where one of them may be."""
        for line in lines:
            end = _line_end(text, line)
            for name, at, value in pairs_in(text, line, end, limit):
                if self._tells(name):
                    yield from self.row(value, at, [(0, len(value))], {0: name})
            for name, at, value in queries_in(text, line, min(end, limit)):
                yield from self.row(value, at, [(0, len(value))], {0: name})
            for name, at, value in lists_in(text, line, end, limit):
                if self._tells(name):  # and only what is one value as a whole
                    spans = self.row(value, at, [(0, len(value))], {0: name})
                    yield from (
                        span for span in spans if span.end - span.start == len(value.strip())
                    )

    def _in_pair(self, line: bytes, base: int, cells: list[tuple[int, int]]) -> Iterator[Span]:
        """What the first of two cells tells of the other, where no head does."""
        for name, value in _two_of(line, cells):
            if told := self.telling([line[slice(*name)].strip(b" :\t*`")]):
                yield from self.row(line, base, [value], told)

    def _in_elements(self, text: bytes, limit: int) -> Iterator[Span]:
        """What stands in tables of HTML whose first row has heads (th)."""
        small = text.lower() if b"<t" in text or b"<T" in text else b""
        heads: dict[int, bytes] = {}
        at = small.find(b"<tr")
        while 0 <= at < limit:
            following = small.find(b"<tr", at + 3)
            end = following if following >= 0 else len(text)
            cells = [
                (hit[1] == b"h", hit.end(), _cell_end(small, hit.end(), end))
                for hit in _CELL.finditer(small, at, end)
            ]
            if cells and all(is_head for is_head, _, _ in cells):
                heads = self.telling([_TAG.sub(b"", text[start:stop]) for _, start, stop in cells])
            labels = heads
            if len(cells) == 2 or (len(cells) > 1 and cells[0][0] and not cells[1][0]):
                # The first cell of a row tells of the others.
                told = self.telling([_TAG.sub(b"", text[cells[0][1] : cells[0][2]]).strip(b" :")])
                labels = heads or {place: told[0] for place in range(1, len(cells)) if told}
            for place, (is_head, start, stop) in enumerate(cells if labels else ()):
                if not is_head and place in labels:
                    for part in _BETWEEN.finditer(text, start, stop):
                        yield from self.row(text, 0, [part.span()], {0: labels[place]})
            at = following

    def _in_statements(self, text: bytes, limit: int) -> Iterator[Span]:
        """What stands in the rows that a statement of SQL puts into named columns."""
        for hit in _COPY.finditer(text, 0, limit):
            heads = self.telling([head.strip(b' "`[]') for head in hit[1].split(b",")])
            if heads:
                yield from self._rows(text, hit.end(), limit, _by_tabs, heads)
        for hit in _INSERT.finditer(text, 0, limit):
            heads = self.telling([head.strip(b' "`[]\r\n') for head in hit[1].split(b",")])
            at = hit.end()
            while heads and (opened := _BETWEEN_ROWS.match(text, at)):
                fields, at = _fields(text, opened.end())
                yield from self.row(text, 0, fields, heads)

    def _rows(
        self, text: bytes, place: int, limit: int, cut: Cut, heads: dict[int, bytes]
    ) -> Generator[Span, None, int]:
        """The rows of one table from a place on; returns where it ends."""
        self.open_table = None
        while place < limit:
            end = _line_end(text, place)
            line = text[place:end]
            if not line.strip() or line.startswith(b"(") or (cut is _by_bars and b"|" not in line):
                return place
            if not _RULE.fullmatch(line.rstrip(b"\r")):
                cells = cut(line)
                if not cells:
                    return place
                yield from (
                    self.row(line, place, cells, heads)
                    if heads
                    else self._in_pair(line, place, cells)
                )
            place = end + 1
        self.open_table = (cut, heads)
        return place


def _two_of(line: bytes, cells: list[tuple[int, int]]) -> list[list[tuple[int, int]]]:
    """The two cells of a row between bars that has no others, as one pair; none where it has."""
    filled = [cell for cell in cells if line[slice(*cell)].strip()] if b"|" in line else []
    return [filled] if len(filled) == 2 else []


def _cell_end(small: bytes, start: int, end: int) -> int:
    """A cell goes on to its end, or where it is left out to the next one's beginning."""
    borders = (small.find(sign, start, end) for sign in (b"</t", b"<td", b"<th"))
    return min((border for border in borders if border >= 0), default=end)


def _line_end(text: bytes, place: int) -> int:
    end = text.find(b"\n", place)
    return len(text) if end < 0 else end


def _by_bars(line: bytes) -> list[tuple[int, int]]:
    borders = [-1, *(hit.start() for hit in re.finditer(rb"\|", line)), len(line)]
    return [(left + 1, right) for left, right in pairwise(borders)]


def _fields(text: bytes, at: int) -> tuple[list[tuple[int, int]], int]:
    """The fields of a row in brackets, from behind the one that opens it, and where the row ends. One pass, whatever
    quotes and brackets there are."""
    fields, start, depth = [], at, 0
    while mark := _MARK.search(text, at):
        at = mark.end()
        if mark[0] == b"'":
            at = _quote_end(text, at)
        elif mark[0] == b"(":
            depth += 1
        elif depth and mark[0] == b")":
            depth -= 1
        elif not depth:
            fields.append((start, mark.start()))
            start = at
            if mark[0] == b")":
                break
    return fields, at


def _quote_end(text: bytes, at: int) -> int:
    """Behind the quote that ends a string of SQL; one that is doubled or behind a backslash is a part of it."""
    while (quote := text.find(b"'", at)) >= 0:
        before = text[max(quote - 64, at) : quote]
        at = quote + 1
        if (len(before) - len(before.rstrip(b"\\"))) % 2:
            continue
        if text[at : at + 1] != b"'":
            return at
        at += 1
    return len(text)


def _by_tabs(line: bytes) -> list[tuple[int, int]]:
    """Cells of a dump; a line with a lone backslash and dot ends it."""
    if line.startswith(b"\\."):
        return []
    borders = [-1, *(hit.start() for hit in re.finditer(rb"\t", line)), len(line)]
    return [(left + 1, right) for left, right in pairwise(borders)]


def _by_rule(rule: bytes) -> Cut:
    """Cells lie under the runs of dashes; the last goes on to the end of its line."""
    starts = [hit.start() for hit in _DASHES.finditer(rule)]

    def cut(line: bytes) -> list[tuple[int, int]]:
        return [
            (start, min(end, len(line)))
            for start, end in zip(starts, [*starts[1:], len(line)], strict=True)
        ]

    return cut


def _below(heads: list[tuple[int, int]]) -> Cut:
    """Cells lie below heads; they have room between them, or one blank as the heads have. A line with one is no row."""
    close = any(start == end + 1 for (_, end), (start, _) in pairwise(heads))

    def cut(line: bytes) -> list[tuple[int, int]]:
        runs = [hit.span() for hit in (_WORD if close else _RUN).finditer(line)]
        if len(runs) < 2:
            return []
        if len(runs) == len(heads):
            return runs
        return [
            next((run for run in runs if run[0] < end and start < run[1]), (0, 0))
            for start, end in heads
        ]

    return cut
