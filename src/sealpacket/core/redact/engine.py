"""The scanning engine: a stream in, its outgoing copy out, memory flat whatever the size."""

from __future__ import annotations

import re
import weakref
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from struct import Struct
from typing import Any, TypeVar

from sealpacket.core.kinds import KINDS
from sealpacket.core.redact import _native as native
from sealpacket.core.redact.boxes import Page
from sealpacket.core.redact.context import Columns, full_names_in
from sealpacket.core.redact.encodings import (
    OPEN_ENDED,
    Coated,
    Dump,
    dumps_in,
    goes_on,
    in_pieces,
    quiet_place,
    settled,
    start_of_run,
    tokens_in,
    views_of,
    without_padding,
    wrapped_tokens_in,
)
from sealpacket.core.redact.pseudonyms import Legend, Placeholders
from sealpacket.core.redact.search import (
    HAS_MARKS,
    HAS_NAMES,
    HAS_SPACED,
    HAS_TOKENS,
    Catalogue,
    Finding,
    fold,
)
from sealpacket.core.redact.spans import Span

BLOCK = 2 << 20
HELD_BACK = 8 << 10
"""How much of an overlong line waits for what follows, so that no value is cut in two."""
LONGEST = 1 << 20
"""A value longer than this is masked in pieces."""

RECORD = Struct("<QIQIIB")
"""One finding: original offset and length, outgoing offset and length (bytes), line (from 1), place in KINDS;
UNSURE is added for low confidence."""

UNSURE = 128


class Held(Exception):
    """The content cannot be inspected, so it must not go out unless a person releases it."""


class Dropped(Held):
    """The plan leaves out a file that holds such a value: nobody can release it."""

    def __init__(self, kind: str) -> None:
        super().__init__(f"The plan leaves out every file that holds a value of the kind {kind}.")
        self.kind = kind


@dataclass
class Outcome:
    """What a redaction did. `counts` and `kept` are findings by kind; `reasons` why values were kept."""

    bytes_in: int = 0
    bytes_out: int = 0
    lines: int = 0
    counts: Counter[str] = field(default_factory=Counter)
    kept: Counter[str] = field(default_factory=Counter)
    reasons: dict[str, str] = field(default_factory=dict)
    legend: Legend = field(default_factory=Legend)
    marks: list[tuple[int, int]] = field(default_factory=list)
    """Here and there where a line begins: its offset in what came in, and its number, from 1."""
    pages: list[Page] = field(default_factory=list)
    """The pages of a document, or the one of a picture, with what is covered."""


def redact(
    source: Iterable[bytes],
    catalogue: Catalogue,
    placeholders: Placeholders,
    outcome: Outcome,
    *,
    note: Callable[[bytes], Any] | None = None,
    progress: Callable[[int], Any] | None = None,
    run: Run | None = None,
) -> Iterator[bytes]:
    """Yield `source`, text in any 8-bit encoding, with every sensitive value replaced by its placeholder.

    `source` gives blocks of any size; `outcome` fills while this is iterated; `note` gets packed RECORDs of the
    findings in order; `progress` gets the bytes read so far after each block.
    """
    run = run or Run(catalogue, placeholders, outcome)
    run.left = b""
    for buffer, final in _buffers(source, run):
        yield run.scan(buffer, final, note)
        if progress:
            progress(outcome.bytes_in)


def _buffers(source: Iterable[bytes], run: Run) -> Iterator[tuple[bytes, bool]]:
    """Blocks of about BLOCK bytes, each headed by what the one before left over; the last is marked."""
    pending: list[bytes] = []
    size = 0
    for block in source:
        for start in range(0, len(block), BLOCK):
            part = block if len(block) <= BLOCK else block[start : start + BLOCK]
            pending.append(part)
            size += len(part)
            if size >= BLOCK:
                yield b"".join((run.left, *pending)), False
                pending.clear()
                size = 0
    yield b"".join((run.left, *pending)), True


_Given = TypeVar("_Given")


def _weakly(method: Callable[..., _Given]) -> Callable[..., _Given]:
    """Calls a method of an object that it does not keep.

    What native code holds is not seen by the collector: if it held the object that holds it, neither were ever freed.
    """
    known = weakref.WeakMethod(method)

    def call(*given: Any) -> _Given:
        alive = known()
        if alive is None:
            raise ReferenceError("a pass was asked whose run is gone")
        return alive(*given)

    return call


class Run:
    """One pass over one stream, or over many small texts: what was judged once is remembered."""

    markup = False
    """Whether the text is XML or HTML, so that nothing that is replaced goes over a tag."""
    drops_lines = False
    """Whether a whole line can be left out without the text's becoming something else."""
    all_special = False
    """Whether every line with something in it goes through `_spans_here`."""

    def __init__(self, catalogue: Catalogue, placeholders: Placeholders, outcome: Outcome) -> None:
        self.catalogue, self.placeholders, self.outcome = catalogue, placeholders, outcome
        self.left = b""
        self._buffers: list[bytes] = []
        self.columns = Columns(_weakly(self._spans_deepest))
        self._pass = native.Pass(
            catalogue.native, placeholders.native, outcome.legend.native, _weakly(self._special),
            _weakly(self._note_reason), _weakly(self._count_given), fold, Span, list(KINDS),
        )  # fmt: skip

    def text(self, text: bytes) -> bytes:
        """A whole small text with its values replaced; counted, but in no stream."""
        spans = self._found(text, len(text), 0)
        self._count(text, spans)
        return self._shifted(self._pass.compose(text, spans, len(text)))

    def _shifted(self, text: bytes) -> bytes:
        """The text with its times shifted, if they are; as long as before."""
        shift = self.placeholders.shift
        return shift.shifted(text) if shift else text

    def spans(self, text: bytes, head: bytes = b"") -> list[Span]:
        """What is to be replaced in a whole small text; counted. `head` is a label that stands elsewhere."""
        spans = self._found(text, len(text), 0)
        if head:
            told = self.columns.row(text, 0, [(0, len(text))], {0: head})
            spans = native.Pass.together(spans, list(told))
        self._count(text, spans)
        return self._pass.listed(spans)

    def in_pieces(self, text: bytes) -> list[Span]:
        """What leaked before and stands in a whole small text in pieces, in order and without overlaps; counted."""
        if not self.catalogue.leaked:
            return []
        found: list[Span] = []
        for one in sorted(in_pieces(text, self.catalogue.leaked)):
            verdict = self._pass.verdict(one.value)
            if verdict is None or verdict[4] is not None or (found and one.start < found[-1].end):
                continue
            found.append(
                Span(
                    one.start,
                    one.end,
                    verdict[6],
                    one.kind,
                    True,
                    ((one.kind, verdict[6], one.value),),
                )
            )
        self._count(text, native.Pass.spans(list(found)))
        return found

    def scan(self, buffer: bytes, final: bool, note: Callable[[bytes], Any] | None = None) -> bytes:
        """The outgoing form of all of the buffer that is settled; the rest is kept in `left` for the next one."""
        limit, behind = len(buffer) if final else settled(buffer, BLOCK, HELD_BACK), b""
        start = limit if final else start_of_run(buffer, limit)
        cut, fills = False, len(buffer) >= LONGEST + BLOCK
        if start == 0 < limit and fills:
            limit = quiet_place(buffer, limit, lambda data: self._spans(data, DEEPEST - 1))
            buffer, behind = buffer[:limit], buffer[limit:]
            cut = True
        elif not final and start == 0:
            self.left = buffer
            return b""
        else:
            limit = start
        ends = native.LineEnds(buffer)
        spans = self._found(buffer, limit, 0, ends)
        if cut:
            spans = self._pass.spans(
                [self._going_on(span, buffer) for span in self._pass.listed(spans)]
            )
        if self.catalogue.drop_lines and self.drops_lines:
            spans = self._pass.spans(self._without_lines(buffer, self._pass.listed(spans)))
        if not final:
            # What touches the limit may go on behind it: it waits, unless it alone fills the buffer.
            limit = spans.wait(limit, fills)
        outcome = self.outcome
        copy = self._shifted(self._pass.compose(buffer, spans, limit))
        self._count(buffer, spans)
        if note:
            note(
                self._pass.records(
                    buffer, spans, outcome.bytes_in, outcome.bytes_out, outcome.lines + 1
                )
            )
        outcome.bytes_in += limit
        outcome.bytes_out += len(copy)
        outcome.lines += ends.before(limit)
        if buffer[limit - 1 : limit] == b"\n":
            outcome.marks.append((outcome.bytes_in, outcome.lines + 1))
        self.left = buffer[limit:] + behind
        return copy

    @staticmethod
    def _going_on(span: Span, buffer: bytes) -> Span:
        """A span that goes on behind the end, where it was cut."""
        goes_on = span.inner and not buffer[span.end :].strip()
        return span._replace(instead=without_padding(span.instead)) if goes_on else span

    def _without_lines(self, buffer: bytes, spans: list[Span]) -> list[Span]:
        """Every line with a value that the plan does not want to see, as one span."""
        made: list[Span] = []
        for span in spans:
            kinds = [kind for kind, _, _ in span.findings(buffer)]
            dropped = next((kind for kind in kinds if kind in self.catalogue.drop_lines), None)
            last = made[-1] if made else None
            if last is not None and last.kind == "" and span.start < last.end:
                made[-1] = last._replace(inner=(*last.inner, *span.findings(buffer)))
            elif dropped is None:
                made.append(span)
            else:
                start = buffer.rfind(b"\n", 0, span.start) + 1
                end = buffer.find(b"\n", span.end)
                end = len(buffer) if end < 0 else end - (buffer[end - 1 : end] == b"\r")
                inner = span.findings(buffer)
                while made and made[-1].end > start:
                    inner = (*made.pop().findings(buffer), *inner)
                made.append(
                    Span(
                        start,
                        end,
                        b"[line left out: it held a %s]" % dropped.encode(),
                        "",
                        True,
                        inner,
                    )
                )
        return [span._replace(kind=span.kind or self._kind_of(span)) for span in made]

    def _kind_of(self, span: Span) -> str:
        return next(kind for kind, _, _ in span.inner if kind in self.catalogue.drop_lines)

    def _count(self, buffer: bytes, spans: native.Spans) -> None:
        self._pass.account(buffer, spans)
        for kind, replaced, kept in self._pass.take_counts():
            if replaced:
                self.outcome.counts[kind] += replaced
                self._may_stay(kind)
            if kept:
                self.outcome.kept[kind] += kept
        self.outcome.legend.make_room()

    def _count_given(self, span: Span, buffer: bytes) -> None:
        for kind, placeholder, original in span.findings(buffer):
            self.outcome.counts[kind] += 1
            self._may_stay(kind)
            self.outcome.legend.add(self.placeholders.noted(kind, placeholder), original)

    def _may_stay(self, kind: str) -> None:
        if kind in self.catalogue.drop_files:
            raise Dropped(kind)

    def _note_reason(self, value: bytes, reason: str) -> None:
        self.outcome.reasons[value.decode("utf-8", "replace")] = reason

    def _found(
        self, buffer: bytes, limit: int, depth: int, ends: native.LineEnds | None = None
    ) -> native.Spans:
        """What is replaced, in order and without overlaps. `ends` are the buffer's, if they are known."""
        lines = self._lines(buffer, limit, depth)
        wrapped, dumped, paired = self._pass.wrapped, self._pass.dumped, self._pass.paired
        more: list[Span] = []
        if depth < 2:
            ends = ends or native.LineEnds(buffer)
            more += self._broken(buffer, limit, ends)
            for coated in wrapped_tokens_in(buffer, wrapped):
                if coated.start < limit and (span := self._redressed(coated, 0, depth)):
                    more.append(span)
            for dump in dumps_in(buffer, dumped):
                if dump.is_sure:  # numbers that look like something are none here
                    lines = native.Pass.outside(lines, [(row.number, row.end) for row in dump.rows])
                if dump.start < limit and (span := self._in_dump(dump, buffer, depth)):
                    more.append(span)
            if depth == 0:
                more += self._elsewhere(buffer, limit, ends)
                more += self.columns.in_pairs(buffer, limit, paired)
        found = native.Pass.together(lines, more) if more else lines
        return (
            self._pass.spans(list(self._between_tags(buffer, found)))
            if self.markup and depth == 0
            else found
        )

    def _between_tags(self, buffer: bytes, spans: native.Spans) -> Iterator[Span]:
        """These spans, none of them over a tag or the quote of an attribute; what is cut off is looked at by itself."""
        for span in self._pass.listed(spans):
            cut = end_of_text(buffer, span.start, span.end)
            if cut == span.end:
                yield span
                continue
            if cut > span.start:
                inner = span.inner or ((span.kind, span.instead, buffer[span.start : cut]),)
                yield span._replace(end=cut, inner=inner)
            rest = buffer[cut : span.end]
            for one in self._spans(rest, DEEPEST):
                yield one._replace(
                    start=cut + one.start, end=cut + one.end, inner=one.findings(rest)
                )

    def _elsewhere(self, buffer: bytes, limit: int, ends: native.LineEnds) -> Iterator[Span]:
        """What only the head of its column tells of, or a label that stands elsewhere."""
        return self.columns.in_text(buffer, limit, ends)

    def _spans(self, buffer: bytes, depth: int) -> list[Span]:
        return self._pass.listed(self._found(buffer, len(buffer), depth))

    def _spans_deepest(self, buffer: bytes) -> list[Span]:
        return self._spans(buffer, DEEPEST)

    def _lines(self, buffer: bytes, limit: int, depth: int) -> native.Spans:
        """What stands on the lines of a buffer, each by itself."""
        self._buffers.append(buffer)
        try:
            return self._pass.lines(buffer, limit, depth, self.all_special)
        finally:
            self._buffers.pop()

    def _special(
        self, start: int, stop: int, limit: int, bits: int, flags: int, depth: int
    ) -> list[Span]:
        return list(self._spans_here(self._buffers[-1], start, stop, limit, bits, flags, depth))

    def _spans_here(
        self, buffer: bytes, start: int, stop: int, limit: int, bits: int, flags: int, depth: int
    ) -> Iterator[Span]:
        """What stands on one line, its coats taken off as well. `bits` are the detectors to try, in native terms."""
        if flags & _COATS and depth < DEEPEST:
            plain = native.Pass.spans(self._plain(start, stop, limit, bits))
            if self.markup:  # what goes into a tag must not hide what goes over one
                plain = native.Pass.spans(list(self._between_tags(buffer, plain)))
            coated = list(self._beneath(buffer[start:stop], start, flags, depth))
            found = self._pass.listed(native.Pass.together(plain, coated))
            yield from (span for span in found if span.start < limit)
        else:
            yield from self._plain(start, stop, limit, bits)

    def _beneath(self, raw: bytes, base: int, flags: int, depth: int) -> Iterator[Span]:
        """What stands in a coat on this line."""
        for view in views_of(raw) if flags & HAS_MARKS else ():
            for found in self._spans(view.text, depth + 1):
                for start, end in view.pieces(found.start, found.end):
                    if raw[start:end].strip():
                        yield found._replace(
                            start=base + start, end=base + end, inner=found.findings(view.text)
                        )
        if flags & HAS_NAMES:
            yield from self._full_names(raw, base)
        if flags & (HAS_TOKENS | HAS_SPACED):
            for coated in tokens_in(raw):
                span = self._redressed(coated, base, depth)
                if span is not None:
                    yield span

    def _full_names(self, raw: bytes, base: int) -> Iterator[Span]:
        """Names of more than two parts on this line."""
        view = full_names_in(raw)
        if view is None:
            return
        for found in self._spans(view.text, DEEPEST):
            start, end = view.places[found.start], view.ends[found.end - 1]
            if found.kind == "person" and end - start > found.end - found.start:
                inner = ((found.kind, found.instead, raw[start:end]),)
                yield found._replace(start=base + start, end=base + end, inner=inner)

    def _redressed(self, coated: Coated, base: int, depth: int) -> Span | None:
        """A token with what stands beneath its coat replaced, in the same coat again; None if nothing does.

        What does not read like text, a certificate say, is replaced whole if it holds something that is known.
        """
        if coated.put_on is None:
            known = tuple(self._pass.known(coated.beneath))
            whole = (base + coated.start, base + coated.end)
            return Span(*whole, known[0][1], known[0][0], False, known) if known else None
        found = self._found(coated.beneath, len(coated.beneath), depth + 1)
        beneath = self._pass.listed(found)
        if not beneath:
            return None
        instead = coated.put_on(self._pass.compose(coated.beneath, found, len(coated.beneath)))
        inner = tuple(one for span in beneath for one in span.findings(coated.beneath))
        sure = all(span.sure for span in beneath)
        return Span(base + coated.start, base + coated.end, instead, beneath[0].kind, sure, inner)

    def _in_dump(self, dump: Dump, buffer: bytes, depth: int) -> Span | None:
        """A dump with what stands in it replaced, and what stands before its lines; None if nothing does."""
        found = self._found(dump.data, len(dump.data), depth + 1)
        beneath = self._pass.listed(found)
        if not beneath:
            return None
        inner = [one for span in beneath for one in span.findings(dump.data)]
        leads = []
        for row in dump.rows:
            lead = buffer[row.start : row.number]
            before = self._found(lead, len(lead), DEEPEST)
            inner += [one for span in self._pass.listed(before) for one in span.findings(lead)]
            leads.append(self._pass.compose(lead, before, len(lead)))
        instead = dump.written(self._pass.compose(dump.data, found, len(dump.data)), leads)
        return Span(
            dump.start,
            dump.end,
            instead,
            beneath[0].kind,
            all(span.sure for span in beneath),
            tuple(inner),
        )

    def _broken(self, buffer: bytes, limit: int, ends: native.LineEnds) -> Iterator[Span]:
        """What is broken over the ends of lines: of those that were wrapped at one width, and what is known and has a
        blank there."""
        for end in ends.wrapped():
            if end >= limit:
                break
            if buffer[end - 1 : end] == b"=" and buffer[end + 1 : end + 2] in (b" ", b"\t"):
                continue  # the end of base64 above what stands farther in, not a line that is broken
            before = max(buffer.rfind(b"\n", 0, end) + 1, end - _AROUND)
            for found in self._over(
                buffer, end, buffer[end - 1 : end] in (b"\r", b"\\", b"="), b""
            ):
                if found.kind not in OPEN_ENDED or goes_on(buffer, before, end):
                    yield found
        for end in self._pass.broken(ends):
            if end >= limit:
                break
            for found in self._over(buffer, end, buffer[end - 1 : end] == b"\r", b" "):
                if self.catalogue.knows(found.inner[0][2]):
                    yield found

    def _over(self, buffer: bytes, end: int, skipped: bool, border: bytes) -> Iterator[Span]:
        """What stands over one end of a line, if the two lines are put together with `border` between them."""
        before = max(buffer.rfind(b"\n", 0, end) + 1, end - _AROUND)
        following = buffer[end + 1 : end + 40]
        skip = end + 1 + len(following) - len(following.lstrip(b" \t>" if border else b" \t"))
        close = buffer.find(b"\n", skip)
        close = len(buffer) if close < 0 else close
        cut = end - skipped
        head, after = buffer[before:cut] + border, buffer[skip : min(close, skip + _AROUND)]
        whole = head + after
        for found in self._pass.listed(self._lines(whole, len(whole), DEEPEST)):
            if found.start < len(head) - len(border) and found.end > len(head):
                to = skip + found.end - len(head)
                instead = found.instead + buffer[cut:skip]
                yield found._replace(
                    start=before + found.start, end=to, instead=instead, inner=found.findings(whole)
                )

    def _plain(self, pos: int, stop: int, limit: int, bits: int) -> list[Span]:
        """What stands there plainly, between two places of the buffer that is looked at."""
        return self._pass.listed(self._pass.between(pos, stop, limit, bits))

    def judge(self, match: bytes) -> Finding | None:
        """What a match is; None if it is nothing sensitive after all."""
        verdict = self._pass.verdict(match)
        return None if verdict is None else Finding(*verdict[:6])


_OPENS_VALUE = re.compile(rb"=[ \t]*([\"'])")


def end_of_text(buffer: bytes, start: int, end: int) -> int:
    """Where what begins at a place of XML or HTML must end at the latest: before a tag, or its attribute's quote."""
    if (buffer[start - 1 : start] == b"<" and buffer[end : end + 1] == b">") or buffer[
        max(0, start - 2) : start
    ] == b"</":
        return start  # the name of a tag is no value
    if not any(sign in buffer[start:end] for sign in (b"<", b'"', b"'")):
        return end
    tag = buffer.rfind(b"<", max(0, start - _AROUND), start)
    if tag < 0 or buffer.rfind(b">", tag, start) >= 0:
        cut = buffer.find(b"<", start + 1, end)
    else:
        opened = list(_OPENS_VALUE.finditer(buffer, tag, start))
        if not opened or buffer.find(opened[-1][1], opened[-1].end(), start) >= 0:
            return start  # the names of attributes are no values
        cut = buffer.find(opened[-1][1], start, end)
    return end if cut <= start else cut


_AROUND = 400
DEEPEST = 4
"""How many coats may lie over each other."""
_COATS = HAS_MARKS | HAS_TOKENS | HAS_SPACED | HAS_NAMES
