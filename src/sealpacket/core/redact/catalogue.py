"""The catalogue: all detectors and terms, and the judgement on what they find.

The search itself is native code (native/): one RE2 automaton of short anchors finds the lines in which anything can
stand at all, a hash table the terms. On such a line only the detectors whose anchors it has are tried.
"""

from __future__ import annotations

import base64
import re
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from functools import cached_property, lru_cache
from itertools import chain, pairwise
from typing import NamedTuple

from sealpacket.core.kinds import KINDS
from sealpacket.core.redact import _native as native
from sealpacket.core.redact import pairs
from sealpacket.core.redact.coats import MARKS
from sealpacket.core.redact.detectors import LEAVE, REGISTRY, Detector
from sealpacket.core.redact.detectors.base import as_it_is
from sealpacket.core.redact.detectors.network import OF_FORMATS, same_host, same_mac
from sealpacket.core.redact.fullnames import PARTICLE
from sealpacket.core.redact.misread import SHORTEST, index_of, looks_like
from sealpacket.core.redact.ordinary import is_ordinary
from sealpacket.core.redact.terms import Term, texts_of
from sealpacket.core.redact.tokens import SPACED, TOKENS

ENGINE = "17"
"""Version of the rules; increment it on any change. It is written to the report."""

MIN_SEARCHABLE = 4
"""A value shorter than this is masked where its name stands beside it, but cannot be searched for alone."""

ANYWHERE = 8
"""A value of this length is masked even inside a longer word, once it is known to be a secret."""

HAS_MARKS, HAS_TOKENS, HAS_SPACED, HAS_LINES, HAS_NAMES, HAS_PAIRS = 1, 2, 4, 8, 16, 32
"""What the native search says of a line beside what it finds there: coats to take off, values over several lines."""


class Finding(NamedTuple):
    """What a match turned out to be: the value's place inside the match, its kind and canonical form.

    `kept` gives the reason where a plan keeps the value; `sure` is False for findings of low confidence.
    """

    start: int
    end: int
    kind: str
    canonical: bytes
    kept: str | None = None
    sure: bool = True


class Catalogue:
    """Finds sensitive values. Build it once for a packet; it is read-only afterwards.

    With `everywhere`, every detector is tried on every line: slow, to prove that anchors hide nothing.
    """

    def __init__(
        self,
        detectors: tuple[Detector, ...],
        terms: Mapping[bytes, Term],
        keep: Mapping[bytes, str],
        domains: frozenset[str],
        keep_kinds: Mapping[str, str],
        floor: frozenset[str] = frozenset(),
        *,
        drops: Mapping[str, str] | None = None,
        everywhere: bool = False,
        search: Search | None = None,
    ) -> None:
        self.drop_lines = frozenset(kind for kind, action in (drops or {}).items() if action == "drop-line")
        self.drop_files = frozenset(kind for kind, action in (drops or {}).items() if action == "drop-file")
        self._drops = dict(drops or {})
        self.leaked: tuple[tuple[str, bytes], ...] = ()
        self._terms = terms
        self._keep = keep
        self._keep_kinds = keep_kinds
        self._floor = floor
        self._domains = domains
        self._own = detectors
        self._search = search or _shared_search(detectors, domains)
        self.native = native.Scanner(self._search.by, everywhere)
        self.native.add_terms(
            (folded, _NUMBER[term.kind], term.canonical.encode(), term.anywhere, term.paired, term.kind == "host")
            for folded, term in terms.items()
            if term.spelling.isascii()
        )
        for folded, term in terms.items():
            if not term.spelling.isascii():
                self._add_term(folded, term)
        for folded, reason in keep.items():
            self.native.add_keep(folded, reason)
        for kind, reason in keep_kinds.items():
            self.native.add_keep_kind(_NUMBER[kind], reason)
        for kind in floor:
            self.native.add_floor(_NUMBER[kind])

    def _add_term(self, folded: bytes, term: Term) -> None:
        """A term with letters beyond ASCII, in all the bytes in which it may stand."""
        for text in texts_of(term.spelling):
            self.native.add_term(text, term.anywhere, term.paired)
            if (same := fold(text)) == folded or same not in self._terms:
                self.native.add_known(same, _NUMBER[term.kind], term.canonical.encode(), term.paired)
        if term.kind == "host":
            self.native.add_family(folded)

    def pattern_for(self, text: bytes) -> bytes:
        """The detectors that find something in a text, as one pattern: what a bare scan is measured with."""
        patterns = [_without_groups(detector.pattern) for detector in self._search.detectors]
        return b"|".join(b"(?:%s)" % one for one in patterns if native.Pattern(one).count(text))

    @classmethod
    def build(
        cls,
        terms: Iterable[Term] = (),
        keep: Mapping[str, str] | None = None,
        domains: Iterable[str] = (),
        keep_kinds: Mapping[str, str] | None = None,
        detectors: Iterable[Detector] = REGISTRY,
        floor: Iterable[str] = (),
        *,
        drops: Mapping[str, str] | None = None,
        everywhere: bool = False,
    ) -> Catalogue:
        """A catalogue with all registered detectors, or those given.

        `keep` maps values that the vendor needs to the reason for keeping them; `domains` are our own domains,
        under which every name is a host of ours; `keep_kinds` are kinds of which all is kept, with the reason; of the
        kinds in `floor` nothing is kept, whatever else is said. `drops` says of which kinds the whole line
        ("drop-line") or file ("drop-file") is left out.
        """
        known: dict[bytes, Term] = {}
        for term in terms:
            if len(term.spelling) >= MIN_SEARCHABLE:
                _know(known, term.spelling.casefold().encode(), term)
        kept = {value.casefold().encode(): reason for value, reason in (keep or {}).items() if value}
        kept |= {value.lstrip(b"+"): reason for value, reason in kept.items() if value.startswith(b"+")}
        ours = frozenset(d.casefold().strip(".") for d in domains if d.strip("."))
        return cls(
            tuple(detectors), known, kept, ours, keep_kinds or {}, frozenset(floor), drops=drops, everywhere=everywhere
        )

    def with_values(self, values: Collection[tuple[str, bytes]]) -> Catalogue:
        """The same catalogue that also masks these (kind, value) wherever they stand; broken over the ends of lines as
        well, if they are known already and leaked all the same."""
        terms = dict(self._terms)
        again: list[Detector] = []
        for kind, value in values:
            text = _read(value)
            folded = fold(value)
            if self.native.knows(folded) and len(again) < _MOST_BROKEN:
                again.append(_broken_over_lines(kind, value))
            _know(terms, folded, Term(kind, text, text, anywhere=len(value) >= ANYWHERE))
            if ANYWHERE <= len(value) < _SHORTEST_TOKEN:
                coat = base64.b64encode(value).rstrip(b"=")
                terms[fold(coat)] = Term(kind, coat.decode(), text)
        own = (*self._own, *again)
        # What is made of a packet's own values is not kept with what others use.
        search = Search.compiled(own, self._domains) if again else self._search
        made = Catalogue(
            own, terms, self._keep, self._domains, self._keep_kinds, self._floor, drops=self._drops, search=search
        )
        made.leaked = (*self.leaked, *sorted(values))
        return made

    def looking_like(self, folded: bytes) -> bytes | None:
        """The known value that looks like this (folded) text, which was read off a picture; None if there is none."""
        return self._looks.get(looks_like(folded)) if len(folded) >= SHORTEST else None

    @cached_property
    def _looks(self) -> dict[bytes, bytes]:
        pairs = (folded.partition(b" ")[::2] for folded, term in self._terms.items() if term.paired)
        written = (mark.join(names) for one in pairs for names in (one, one[::-1]) for mark in (b" ", *_WITHIN_A_WORD))
        return index_of(chain(self._terms, written))

    def knows(self, value: bytes) -> bool:
        """Whether it is known exactly."""
        return self.native.knows(fold(value))

    def kept_values(self) -> list[bytes]:
        """The values that are kept by name, folded."""
        return list(self._keep)


class Search(NamedTuple):
    """Detectors, those of the domains first, and the same compiled."""

    detectors: tuple[Detector, ...]
    by: native.Detectors

    @classmethod
    def compiled(cls, detectors: tuple[Detector, ...], domains: frozenset[str]) -> Search:
        """Compile detectors together with those of the domains."""
        whole = (*_domain_detectors(domains), *detectors)
        by = native.Detectors()
        for place, detector in enumerate(whole):
            _add_detector(by, place, detector)
        flagged = (
            (MARKS, HAS_MARKS), (TOKENS, HAS_TOKENS), (SPACED, HAS_SPACED),
            ((PARTICLE,), HAS_NAMES), (pairs.ANCHORS, HAS_PAIRS),
        )  # fmt: skip
        for marks, flag in flagged:
            for expression in marks:
                by.add_anchor(expression, -1, flag, _in_long_run(expression))
        by.finish()
        return cls(whole, by)


_shared_search = lru_cache(8)(Search.compiled)
"""Compiling detectors, and what the automata learn from the first texts, takes longer than all else of a short text:
catalogues that differ by terms and decisions only share them."""


def _add_detector(by: native.Detectors, place: int, detector: Detector) -> None:
    pattern = detector.pattern if detector.lines or detector.kind == LEAVE else in_strings_too(detector.pattern)
    whole = _is_whole(pattern)
    accept = detector.accept if detector.sure else _unless_ordinary(detector.accept)
    by.add_detector(
        _NUMBER[detector.kind], pattern, _without_groups(pattern), whole, accept,
        _NATIVELY.get(detector.canonical, detector.canonical), detector.sure,
        2 * detector.lines if detector.kind in _OF_MANY_LINES else int(detector.lines),
        whole or detector.kind != "secret", not detector.lines and _looks_far(detector.pattern),
        *_parted(pattern),
    )  # fmt: skip
    if detector.kind != LEAVE:
        for anchor in detector.anchors or (detector.pattern,):
            by.add_anchor(_without_groups(anchor), place, 0, _in_long_run(anchor))
            in_case = anchor.startswith(rb"(?i)") * rb"(?i)"
            bare = anchor.removeprefix(in_case)
            if pattern.startswith(_BEGINS) and bare.startswith(_LINE_BEGINS):
                bare = in_case + rb"[\"'>]" + bare.removeprefix(_LINE_BEGINS)
                by.add_anchor(_without_groups(bare), place, 0, False)


def _know(terms: dict[bytes, Term], folded: bytes, term: Term) -> None:
    """Add a term; what was known as the two names of someone stays that, whoever says it again."""
    before = terms.get(folded)
    terms[folded] = term._replace(paired=True) if before and before.paired else term


_WITHIN_A_WORD = (b".", b"_", b"-", b"+")
"""What stands between the two names of an account."""
_OF_MANY_LINES = ("key", "token")
"""Kinds whose values may run over any number of lines."""
_NATIVELY: dict[object, str | None] = {as_it_is: None, bytes.lower: "lower", same_host: "host", same_mac: "mac"}
_NUMBER = {**{kind: number for number, kind in enumerate(KINDS)}, LEAVE: native.LEAVE}


_MOST_BROKEN = 64
_SHORTEST_TOKEN = 12
"""In base64 what is shorter is shorter than a token in which anything is looked for: it is known by that form."""
_LINE_END = rb"(?:[=\\]?\r?\n[ \t]*)?"


def _broken_over_lines(kind: str, value: bytes) -> Detector:
    """Finds a value between whose signs a line ends; where none does, it is a term like any other."""
    signs = [re.escape(value[place : place + 1]) for place in range(len(value))]
    begins = (b"(?i)" + b"".join(signs[:3]), *(b"(?i)" + b"".join(signs[:n]) + rb"[=\\]?\r?(?m:$)" for n in (1, 2)))
    pattern = b"((?i:" + _LINE_END.join(signs) + b"))"
    return Detector(kind, "known value over lines", pattern, begins, lambda found: b"\n" in found, lines=True)


def _unless_ordinary(accept: Callable[[bytes], bool] | None) -> Callable[[bytes], bool]:
    """What is doubtful and nothing but ordinary words is no value."""
    return lambda value: not is_ordinary(value) and (accept is None or accept(value))


@lru_cache(2000)
def _is_whole(pattern: bytes) -> bool:
    """Whether the value is the whole match."""
    bare = pattern.removeprefix(rb"\b").removesuffix(rb"\b")
    return bare.startswith(b"(") and not bare.startswith(b"(?") and _closes(bare) == len(bare) - 1


_SIGN = re.compile(rb"\\.|\[(?:\\.|[^\]\\])*\]?|([()|])", re.DOTALL)


def _signs(pattern: bytes) -> Iterator[tuple[int, bytes, int]]:
    """The brackets and bars that build a pattern, not what is escaped or in a class: where, which, how deep."""
    depth = 0
    for hit in _SIGN.finditer(pattern):
        if sign := hit[1]:
            depth -= sign == b")"
            yield hit.start(), sign, depth
            depth += sign == b"("


def _closes(pattern: bytes) -> int:
    """Where the bracket closes that opens at the beginning."""
    return next((place for place, sign, depth in _signs(pattern) if sign == b")" and depth == 0), -1)


_ANYTHING = re.compile(rb"\[\^\\r\\n[^\]]*\](?:\*|\+|\{)")


@lru_cache(2000)
def _looks_far(pattern: bytes) -> bool:
    """Whether almost anything may stand between what tells of a value and the value."""
    group = next((at for at, sign, _ in _signs(pattern) if sign == b"(" and pattern[at + 1 : at + 2] != b"?"), 0)
    return _ANYTHING.search(pattern[:group]) is not None


_SIGNS_OF_RUN = re.compile(rb"(\[[^\]^][^\]]*\]|\\d)(?:\{(\d+)\})?")
_ONLY_A_RUN = re.compile(rb"(?:\\b|\(\?:\(\?m:\^\)\|\[\^[^\]]+\]\))?((?:" + _SIGNS_OF_RUN.pattern + rb")+)(?:\\b)?")
_OF_LONG_RUNS = frozenset(b"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/_-")


@lru_cache(2000)
def _in_long_run(anchor: bytes) -> bool:
    """Whether an anchor is nothing but a long run of letters, digits and their like, and one sign before it at most."""
    whole = _ONLY_A_RUN.fullmatch(anchor)
    runs = _SIGNS_OF_RUN.findall(whole[1]) if whole else []
    return any(int(many or 1) >= native.LONG for _, many in runs) and all(
        {byte for byte in range(256) if re.fullmatch(signs, bytes([byte]))} <= _OF_LONG_RUNS for signs, _ in runs
    )


_LINE_BEGINS, _LINE_ENDS = rb"(?m:^)", rb"\r?(?m:$)"
_BEGINS = rb"(?:(?m:^)|[:=][ \t]?\\{0,3}[\"']|<[A-Za-z]{1,12}>)"
_ENDS = rb"(?:\r?(?m:$)|\\{0,3}[\"'][ \t]*(?:[,}\]/>]|\r?(?m:$))|\\{0,3}\"[ \t]|</)"
"""Where a line begins or ends, and where a text in quotes or in an element does: a log is often shipped in one."""


@lru_cache(2000)
def in_strings_too(pattern: bytes) -> bytes:
    """A pattern for what begins or ends a line, so that it finds that in a text in quotes or in an element as well.

    One whose value may go on to the end of the line is left as it is: it would take the rest of the text with it.
    """
    group = next((at for at, sign, _ in _signs(pattern) if sign == b"(" and pattern[at + 1 : at + 2] != b"?"), 0)
    if rb"[^\r\n" in pattern[group:] or rb"." in re.sub(rb"\\.|\[[^\]]*\]", b"", pattern[group:]):
        return pattern
    if pattern.startswith(_LINE_BEGINS):
        pattern = _BEGINS + pattern.removeprefix(_LINE_BEGINS)
    if pattern.endswith(_LINE_ENDS):
        return _within(pattern.removesuffix(_LINE_ENDS)) + _ENDS
    return _within(pattern)


def _within(pattern: bytes) -> bytes:
    """The same for the ends of lines that are one of several ways to go on."""
    before, mark, after = pattern.partition(_BEGINS)
    parts = (after if mark else before).replace(_LINE_ENDS, rb"(?:\r?(?m:$)|\\{0,3}\"|<)")
    return (
        before * bool(mark)
        + mark
        + parts.replace(b"|(?m:$)", rb"|(?m:$)|\\{0,3}\"|<").replace(
            rb"(?:\r?(?m:$)|\\{0,3}\"|<|\\{0,3}\"|<)", rb"(?:\r?(?m:$)|\\{0,3}\"|<)"
        )
    )


@lru_cache(2000)
def _parted(pattern: bytes) -> tuple[bytes, bytes]:
    """What stands before the group that is the value, and the group itself.

    Both are empty where something stands behind the group, or it stands in one of several ways.
    """
    for start, sign, depth in _signs(pattern):
        if depth == 0 and sign == b"|":
            break
        if depth == 0 and sign == b"(" and pattern[start + 1 : start + 2] != b"?":
            value = pattern[start:].removesuffix(rb"\b")
            flags = re.match(rb"(?:\(\?[a-z]+\))?", pattern)
            if _closes(value) == len(value) - 1 and flags is not None:
                return pattern[:start], flags[0] + pattern[start:]
            break
    return b"", b""


def _domain_detectors(domains: Iterable[str]) -> tuple[Detector, ...]:
    """One for all of our domains, however many; none if there is none."""
    ours = [re.escape(domain).encode() for domain in sorted(domains, key=lambda one: (-len(one), one))]
    if not ours:
        return ()
    one_of_ours = b"(?:" + b"|".join(ours) + b")"
    pattern = rb"\b((?i:(?:[a-z0-9_][a-z0-9_-]*\.)+" + one_of_ours + rb"))\b"
    anchors = tuple(rb"(?i)\." + domain for domain in ours)
    in_formats = (
        before + rb"((?i:(?:[a-z0-9_][a-z0-9_-]*\.)*" + one_of_ours + rb"))" + behind
        for _, before, _, behind in OF_FORMATS
    )
    return (
        Detector("host", "host under our own domain", pattern, anchors, canonical=same_host),
        *(
            Detector("host", "host of ours that a format is named by", one, anchors, canonical=same_host)
            for one in in_formats
        ),
    )


def fold(value: bytes) -> bytes:
    """Case folded as the terms are; bytes that are not UTF-8 stay as they are."""
    if value.isascii():
        return value.lower()
    return _read(value).casefold().encode()


def _read(value: bytes) -> str:
    """As UTF-8, or if it is none as Latin-1, in which every byte is a letter."""
    try:
        return value.decode("utf-8")
    except UnicodeDecodeError:
        return value.decode("latin-1")


@lru_cache(4000)
def _without_groups(pattern: bytes) -> bytes:
    """The pattern with its one capturing group made a plain one."""
    groups = [place for place, sign, _ in _signs(pattern) if sign == b"(" and pattern[place + 1 : place + 2] != b"?"]
    parts = (pattern[start:end] for start, end in pairwise([0, *(place + 1 for place in groups), len(pattern)]))
    return b"?:".join(parts)
