"""Text: logs, configurations, HTML and XML as they are; JSON, CSV and YAML so that they stay what they are."""

from __future__ import annotations

import codecs
import re
from collections.abc import Iterable, Iterator
from typing import IO

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.engine import Held, Run, redact
from sealpacket.core.redact.readers.base import BLOCK, Work, blocks_of
from sealpacket.core.redact.spans import Span


def read_text(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """Any 8-bit text, as a stream; NULs are let pass between letters only."""
    for copy in stream_text(blocks_of(source), work):
        target.write(copy)


def stream_text(blocks: Iterable[bytes], work: Work) -> Iterator[bytes]:
    """The same for blocks that come from anywhere. Raises Held on the way."""
    return redact(
        _told_apart(_checked(blocks), work.run), work.catalogue, work.placeholders, work.outcome, note=work.note,
        progress=work.progress, run=work.run,
    )  # fmt: skip


def _told_apart(blocks: Iterable[bytes], run: Run) -> Iterator[bytes]:
    """The blocks; what begins like XML or HTML keeps all its lines, its elements and the quotes of its attributes."""
    first = True
    for block in blocks:
        if first:
            run.markup = block.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"<")
            run.drops_lines, first = not run.markup, False
        yield block


def read_json(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """JSON and JSON lines: a masked number stays a number, and nothing that is masked goes over the end of a text."""
    _copy(
        _checked(blocks_of(source)),
        target,
        work,
        JsonRun(work.catalogue, work.placeholders, work.outcome),
    )


def read_csv(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """Tables as text: nothing that is masked goes over the border of a cell."""
    _copy(
        _checked(blocks_of(source)),
        target,
        work,
        CellRun(work.catalogue, work.placeholders, work.outcome),
    )


def read_yaml(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """YAML: a value that now begins with a placeholder is put into quotes."""
    _copy(
        _checked(blocks_of(source)),
        target,
        work,
        YamlRun(work.catalogue, work.placeholders, work.outcome),
    )


def read_toml(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """TOML: a date or a bare value that is masked is put into quotes, a number stays one."""
    _copy(
        _checked(blocks_of(source)),
        target,
        work,
        TomlRun(work.catalogue, work.placeholders, work.outcome),
    )


def read_wide(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """Text in UTF-16 or UTF-32: read as UTF-8 and written back as it was, its mark included."""
    head = source.read(64)
    source.seek(0)
    encoding, mark = wide_encoding(head) or ("utf-16-le", b"")
    source.seek(len(mark))
    decoder = codecs.getincrementaldecoder(encoding)("strict")

    def plain() -> Iterator[bytes]:
        try:
            for block in blocks_of(source):
                yield decoder.decode(block).encode("utf-8", "surrogatepass")
            yield decoder.decode(b"", final=True).encode("utf-8", "surrogatepass")
        except UnicodeDecodeError as error:
            raise Held("It begins like text in UTF-16 but does not go on so.") from error

    back = codecs.getincrementaldecoder("utf-8")("surrogatepass")
    target.write(mark)
    for block in redact(
        _checked(plain()), work.catalogue, work.placeholders, work.outcome, progress=work.progress
    ):
        target.write(back.decode(block).encode(encoding, "surrogatepass"))


def wide_encoding(head: bytes) -> tuple[str, bytes] | None:
    """Encoding and mark of text with two or four bytes to a letter; None if it is none."""
    for mark, encoding in ((codecs.BOM_UTF32_LE, "utf-32-le"), (codecs.BOM_UTF32_BE, "utf-32-be"),
                           (codecs.BOM_UTF16_LE, "utf-16-le"), (codecs.BOM_UTF16_BE, "utf-16-be")):  # fmt: skip
        if head.startswith(mark):
            return encoding, mark
    even, odd = head[: len(head) & ~1][0::2], head[: len(head) & ~1][1::2]
    if len(odd) >= 4 and odd.count(0) * 10 >= len(odd) * 8 and even.count(0) * 10 < len(even):
        return "utf-16-le", b""
    if len(even) >= 4 and even.count(0) * 10 >= len(even) * 8 and odd.count(0) * 10 < len(odd):
        return "utf-16-be", b""
    return None


def looks_like_text(block: bytes) -> bool:
    """Whether a block is text: hardly a byte that no text has; NULs only as the other half of letters."""
    odd, nuls = native.odd_bytes(block)
    if nuls and len(re.findall(rb"(?:[ -~\r\n\t]\x00){3,}|(?:\x00[ -~\r\n\t]){3,}", block)) == 0:
        return False
    return odd * 200 <= len(block)


def _checked(blocks: Iterable[bytes]) -> Iterator[bytes]:
    for block in blocks:
        if not looks_like_text(block):
            raise Held("It holds bytes that no text has, so it cannot be read as text.")
        yield block


def _copy(blocks: Iterable[bytes], target: IO[bytes], work: Work, run: Run) -> None:
    for copy in redact(
        blocks,
        work.catalogue,
        work.placeholders,
        work.outcome,
        note=work.note,
        progress=work.progress,
        run=run,
    ):
        target.write(copy)


class LineRun(Run):
    """A run that fits the spans of each line into what the line is."""

    all_special = True

    def fitted(self, line: bytes, spans: list[Span]) -> list[Span]:
        """The spans of one line (places in it), so that the line stays valid."""
        raise NotImplementedError

    def _spans_here(
        self, buffer: bytes, start: int, stop: int, limit: int, bits: int, flags: int, depth: int
    ) -> Iterator[Span]:
        found = list(super()._spans_here(buffer, start, stop, limit, bits, flags, depth))
        if depth or not found or stop - start > BLOCK:
            yield from found
            return
        begin = buffer.rfind(b"\n", 0, start) + 1
        fitted = [
            _moved(span, begin)
            for span in self.fitted(buffer[begin:stop], [_moved(s, -begin) for s in found])
        ]
        # What was cut off has not been looked at by itself yet.
        for span in found:
            ends = [one.end for one in fitted if one.start < span.end and one.end > span.start]
            rest = min(max(ends, default=span.end), span.end)
            if rest < span.end and rest > start:
                fitted += self._spans_here(
                    buffer, rest, min(span.end + 1, stop), limit, bits, flags, depth
                )
        yield from self._pass.listed(native.Pass.together(native.Pass.spans([]), fitted))


def _moved(span: Span, by: int) -> Span:
    return Span(span.start + by, span.end + by, span.instead, span.kind, span.sure, span.inner)


_JSON_TOKEN = re.compile(rb'"(?:[^"\\]|\\.)*"|-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?|true|false|null')


_JSON_SIGNS = b" \t\r\n{}[],:"
"""What stands between tokens (RFC 8259)."""


class JsonRun(LineRun):
    """JSON never has a line end inside a text, so each line can be taken by itself."""

    def fitted(self, line: bytes, spans: list[Span]) -> list[Span]:
        """Texts keep their quotes; numbers become numbers; names of members stay. What is no JSON is only masked."""
        if _JSON_TOKEN.sub(b"", line).translate(None, _JSON_SIGNS):
            return spans
        tokens = [
            (hit.start(), hit.end(), hit[0][:1] == b'"') for hit in _JSON_TOKEN.finditer(line)
        ]
        found: list[Span] = []
        for span in spans:
            met = [token for token in tokens if token[0] < span.end and span.start < token[1]]
            for place, (start, end, quoted) in enumerate(met[: _parts_of(span)]):
                if place and line[end:].lstrip()[:1] == b":":
                    break  # a name of a member
                if quoted:
                    low, high = _around_escapes(
                        line, start, max(span.start, start + 1), min(span.end, end - 1)
                    )
                    if low < high:
                        found.append(_cut(span, low, high, line, span.instead))
                elif line[start:end] not in (b"true", b"false", b"null"):
                    number = number_like(line[start:end], span.instead)
                    found.append(_cut(span, start, end, line, number))
            if span.end > len(
                line
            ):  # on a line below that is told of here; else it is but signs between tokens
                found.append(span)
        return found


_JSON_ESCAPE = re.compile(rb"\\(?:u[0-9A-Fa-f]{4}|.)")


def _around_escapes(
    line: bytes, begin: int, low: int, high: int, escape: re.Pattern[bytes] = _JSON_ESCAPE
) -> tuple[int, int]:
    """Two places of a text that begins at `begin`, moved outwards where they would cut an escape in two."""
    for hit in escape.finditer(line, begin, high + 1):
        low = hit.start() if hit.start() < low < hit.end() else low
        high = hit.end() if hit.start() < high < hit.end() else high
    return low, high


def _parts_of(span: Span) -> int:
    """Over how many fields it may go: the two names of someone known may stand in two. All else ends where one ends."""
    return 2 if span.kind == "person" else 1


def _named(cells: list[tuple[int, int]], span: Span, line: bytes) -> list[tuple[int, int]]:
    """The cells that a span may go over; the second of a person's only if it can be a name."""
    return [
        cell
        for place, cell in enumerate(cells[: _parts_of(span)])
        if not place or _NAME.fullmatch(line[slice(*cell)])
    ]


_NAME = re.compile(rb"[^0-9]*[A-Za-z\x80-\xff][^0-9]*")
"""What may be one in any script: no digit, some letter."""


def _cut(span: Span, start: int, end: int, line: bytes, instead: bytes) -> Span:
    """A span with other borders; what it stands for is kept with its own placeholder."""
    same = (start, end, instead) == (span.start, span.end, span.instead)
    inner = span.inner or (
        () if same else ((span.kind, span.instead, line[span.start : span.end]),)
    )
    return Span(start, end, instead, span.kind, span.sure, inner)


def number_like(number: bytes, placeholder: bytes) -> bytes:
    """A number of the same length from a placeholder: digits from its letters, no zero at the front."""
    digits = int.from_bytes(placeholder, "big") % 10 ** max(len(number), 1)
    whole = number.lstrip(b"-")
    made = f"{digits:0{len(whole)}d}"[-len(whole) :].encode()
    made = (
        bytes(46 if sign == 46 else new for sign, new in zip(whole, made, strict=True))
        if b"." in whole
        else made
    )
    made = b"1" + made[1:] if made[:1] == b"0" and len(made) > 1 else made
    return number[: len(number) - len(whole)] + made


class CellRun(LineRun):
    """Comma, semicolon or tab: whichever the line has most of."""

    drops_lines = True
    _heads: tuple[bytes, dict[int, bytes]] | None = None
    """What separates the cells, and the heads that tell something by their column; None before the first line."""

    def _elsewhere(self, buffer: bytes, limit: int, ends: native.LineEnds) -> Iterator[Span]:
        """The first line has the heads, if there is no number in it."""
        place = 0
        while place < limit:
            end = buffer.find(b"\n", place)
            end = len(buffer) if end < 0 else end
            line = buffer[place:end]
            if self._heads is None and line.strip():
                mark = _mark_of(line)
                heads = [line[start:stop] for start, stop in _cells(line, mark)]
                numbers = any(head.strip(b'" \r').isdigit() for head in heads)
                self._heads = (mark, {} if numbers else self.columns.telling(heads))
            elif self._heads and self._heads[1]:
                yield from self.columns.row(
                    line, place, _cells(line, self._heads[0]), self._heads[1]
                )
            elif self._heads:
                return
            place = end + 1

    def _spans_here(
        self, buffer: bytes, start: int, stop: int, limit: int, bits: int, flags: int, depth: int
    ) -> Iterator[Span]:
        """What stands on the line, and in each cell that is a text of several words as if it stood by itself."""
        found = list(super()._spans_here(buffer, start, stop, limit, bits, flags, depth))
        begin = buffer.rfind(b"\n", 0, start) + 1
        line = buffer[begin:stop]
        if depth or stop - start > BLOCK:
            yield from found
            return
        more = []
        for low, high in _cells(line, _mark_of(line)):
            cell = line[low:high]
            if b" " not in cell.strip() or begin + low < start:
                continue
            quoted = cell[:1] == b'"' and cell[-1:] == b'"' and len(cell) > 1
            inside = cell[1:-1] if quoted else cell
            places = [
                at
                for at in range(len(inside) + 1)
                if not (quoted and inside[at - 1 : at + 1] == b'""' and at)
            ]
            text = bytes(inside[at] for at in places[:-1])
            for span in self._spans(text, 1):
                at, end = (begin + low + quoted + places[place] for place in (span.start, span.end))
                more.append(span._replace(start=at, end=end, inner=span.findings(text)))
        yield from (
            self._pass.listed(native.Pass.together(self._pass.spans(found), more))
            if more
            else found
        )

    def fitted(self, line: bytes, spans: list[Span]) -> list[Span]:
        """Cells keep their borders and quotes."""
        cells = _cells(line, _mark_of(line))
        found = []
        for span in spans:
            met = [cell for cell in cells if cell[0] < span.end and span.start < cell[1]]
            if met and span.start < met[0][0]:
                continue  # it is what is left of a value that began in the cell before
            for start, end in _named(met, span, line):
                quoted = (
                    line[start : start + 1] == b'"'
                    and line[end - 1 : end] == b'"'
                    and end - start > 1
                )
                low, high = max(span.start, start + quoted), min(span.end, end - quoted)
                if quoted:
                    low, high = _around_escapes(line, start + 1, low, high, _DOUBLED)
                found.append(_cut(span, low, high, line, span.instead) if low < high else span)
            if not met:
                found.append(span)
        return found


_DOUBLED, _DOUBLED_SINGLE = re.compile(rb'""'), re.compile(rb"''")
"""A quote within quotes."""


def _mark_of(line: bytes) -> bytes:
    """What stands between the cells of a line: the mark that it has most of."""
    return max((b",", b";", b"\t", b"|"), key=line.count)


def _cells(line: bytes, mark: bytes) -> list[tuple[int, int]]:
    """Where the cells of a line begin and end, their quotes included; those without anything in them as well."""
    line = line.rstrip(b"\r")
    return [
        hit.span(1)
        for hit in re.finditer(
            rb"(?:^|" + re.escape(mark) + rb')("(?:[^"]|"")*"|[^' + re.escape(mark) + rb"]*)", line
        )
    ]


_YAML_KEY = re.compile(rb"^([ ]*(?:- +)*)([^\s#:\"'\[{|>&*!][^#\"']*?)[ ]*:(?:[ ]|\r?$)")
_YAML_VALUE = re.compile(
    rb"^([ ]*(?:- +)*(?:(?:[^\s#:\"'\[{][^:#]*|\"[^\"\\]*\"|'[^']*'): +)?)([^\s\"'|>&*!{#].*?)([ ]*(?:[ ]#.*)?\r?)$"
)


_YAML_QUOTED = re.compile(
    rb"^[ ]*(?:- +)*(?:[^\s#:\"'\[{][^:#]*: +|\"[^\"\\]*\": +|'[^']*': +)?(?:![^ ]* +)?"
    rb"(?:\"((?:[^\"\\]|\\.)*)\"|'((?:[^']|'')*)')[ ]*(?:[ ]#.*)?\r?$"
)


class YamlRun(LineRun):
    """A plain name or value must not begin with a bracket that is no list."""

    def fitted(self, line: bytes, spans: list[Span]) -> list[Span]:
        """Quotes go around the whole name or value where it begins with a placeholder; those that are there stay."""
        quoted = _YAML_QUOTED.match(line)
        if quoted is not None:
            return _within_quotes(
                line,
                spans,
                *quoted.span(quoted.lastindex or 1),
                b'"' if quoted.lastindex == 1 else b"'",
            )
        key, value = _YAML_KEY.match(line), _YAML_VALUE.match(line)
        for plain in (key, value):
            if plain is not None and not (
                plain is value and key is not None and value.start(2) < key.end(2)
            ):
                spans = _quoted(line, *plain.span(2), spans)
        return spans


_TOML_NAME = re.compile(rb"[ \t]*(?:[A-Za-z0-9_. -]+|\"[^\"]*\")[ \t]*=")
_TOML_TOKEN = re.compile(rb"\"(?:[^\"\\]|\\.)*\"|'[^']*'|[^\s,\[\]{}=\"'#]+(?: \d\d:[0-9:.Z+-]+)?")
_NUMBER = re.compile(rb"[+-]?\d[\d_]*(?:\.\d+)?")


class TomlRun(LineRun):
    """What stands bare is a date, a number, true or false."""

    def fitted(self, line: bytes, spans: list[Span]) -> list[Span]:
        """Texts keep their quotes; numbers become numbers; dates become texts. Names and tables are only masked."""
        name = _TOML_NAME.match(line)
        if name is None or b'"""' in line or b"'''" in line:
            return spans
        tokens = [hit.span() for hit in _TOML_TOKEN.finditer(line, name.end())]
        found: list[Span] = []
        for span in spans:
            met = [token for token in tokens if token[0] < span.end and span.start < token[1]]
            if not met or span.start < name.end():
                found.append(span)
                continue
            start, end = met[0]
            if line[start : start + 1] in (b'"', b"'"):
                found += _within_quotes(line, [span], start + 1, end - 1, line[start : start + 1])
            elif _NUMBER.fullmatch(line, start, end):
                found.append(
                    _cut(
                        span,
                        start,
                        end,
                        line,
                        number_like(line[start:end].replace(b"_", b""), span.instead),
                    )
                )
            else:
                found.append(_cut(span, start, end, line, b'"' + span.instead + b'"'))
        return found


def _within_quotes(
    line: bytes, spans: list[Span], start: int, end: int, quote: bytes
) -> list[Span]:
    """These spans, those that meet a text in quotes cut to it."""
    made = []
    for span in spans:
        low, high = max(span.start, start), min(span.end, end)
        if span.start >= len(line) or low >= high:
            made.append(span)
            continue
        low, high = _around_escapes(
            line, start, low, high, _JSON_ESCAPE if quote == b'"' else _DOUBLED_SINGLE
        )
        made.append(_cut(span, low, high, line, span.instead))
    return made


def _quoted(line: bytes, start: int, end: int, spans: list[Span]) -> list[Span]:
    """These spans, those within a plain text of YAML as one with quotes around if the text begins with one of them."""
    inside = [span for span in spans if start <= span.start and span.end <= end]
    if not inside or inside[0].start != start or line[start : start + 1] == b"[":
        return spans
    text, done = b"", start
    for span in inside:
        text += line[done : span.start] + span.instead
        done = span.end
    text += line[done:end]
    odd = b'"' in text or b"\\" in text
    text = b"'" + text.replace(b"'", b"''") + b"'" if odd else b'"' + text + b'"'
    inner = tuple(one for span in inside for one in span.findings(line))
    whole = Span(start, end, text, inside[0].kind, all(span.sure for span in inside), inner)
    return sorted(
        [*(span for span in spans if span not in inside), whole], key=lambda one: one.start
    )
