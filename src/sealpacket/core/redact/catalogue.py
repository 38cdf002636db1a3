"""The catalogue: all detectors and terms as one linear-time automaton, and the judgement on what it finds."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any, NamedTuple

import re2

from sealpacket.core.redact.anchors import Anchors, can_anchor
from sealpacket.core.redact.coats import MARKS, TOKENS, WRAPS
from sealpacket.core.redact.detectors import LEAVE, REGISTRY, Detector
from sealpacket.core.redact.detectors.network import same_host
from sealpacket.core.redact.terms import Term, shape

ENGINE = "2"
"""Raised whenever the catalogue finds something else than before; stands in the redaction report."""

MIN_SEARCHABLE = 4
"""A value shorter than this is masked where its name stands beside it, but cannot be searched for alone."""

ANYWHERE = 8
"""A value of this length is masked even inside a longer word, once it is known to be a secret."""


def _options(memory: int = 16 << 20) -> Any:
    options = re2.Options()
    options.encoding = re2.Options.Encoding.LATIN1
    options.max_mem = memory
    options.log_errors = False
    return options


class Finding(NamedTuple):
    """What a match turned out to be: the value's place inside the match, its kind and canonical form.

    `kept` gives the reason where a plan keeps the value; `sure` is False where a person had better look.
    """

    start: int
    end: int
    kind: str
    canonical: bytes
    kept: str | None = None
    sure: bool = True


class Catalogue:
    """Finds sensitive values. Build it once for a packet; it is read-only afterwards.

    Hyperscan finds the lines in which anything can stand at all; there RE2 finds where something stands, with one
    pattern without groups (it stays in its DFA). What it is, is judged only once for each different text.
    """

    def __init__(
        self,
        detectors: tuple[Detector, ...],
        terms: Mapping[bytes, Term],
        keep: Mapping[bytes, str],
        domains: frozenset[str],
        keep_kinds: Mapping[str, str],
    ) -> None:
        self._terms = terms
        self._keep = keep
        self._keep_kinds = keep_kinds
        self._domains = domains
        self._host_families = {_family(folded) for folded, term in terms.items() if term.kind == "host"}
        self._own = detectors
        self._detectors = (*_domain_detectors(domains), *detectors)
        options = _options(_LARGE)
        self._chooser = re2.Set.FullMatchSet(options)
        for detector in self._detectors:
            self._chooser.Add(_without_groups(detector.pattern))
        self._chooser.Compile()
        self._judges = [_whole_or_judge(d.pattern, _options()) for d in self._detectors]
        self._plain = [_without_groups(d.pattern) for d in self._detectors]
        self._scanners: dict[int, Any] = {}
        searched = _Searched.of(terms)
        self._terms_match = (
            re2.compile(b"|".join(searched.patterns), options)._regexp.Match if searched.patterns else None
        )
        self.term_bit = 1 << len(self._detectors)
        self.lines_bits = _bits(self._detectors, lambda d: d.lines)
        self._always = _bits(self._detectors, lambda d: d.kind == LEAVE)
        plain = {place for place, judge in enumerate(self._judges) if judge is None}
        plain |= {
            place for place, detector in enumerate(self._detectors) if detector.kind in ("user", "host", "person")
        }
        self.plain_bits = sum(1 << place for place in plain) | self.term_bit
        self._all = _bits(self._detectors, lambda d: not d.lines)
        expressions: dict[bytes, int] = {}
        for place, detector in enumerate(self._detectors):
            for anchor in _anchors_of(detector):
                expressions[anchor] = expressions.get(anchor, 0) | 1 << place
        for expression in searched.shapes:
            expressions[expression] = expressions.get(expression, 0) | self.term_bit
        self.mark_bit, self.token_bit = self.term_bit << 1, self.term_bit << 2
        self.coat_bits, self.wrap_bit = self.mark_bit | self.token_bit, self.term_bit << 3
        for marks, bit in ((MARKS, self.mark_bit), (TOKENS, self.token_bit), (WRAPS, self.wrap_bit)):
            for expression in marks:
                expressions[expression] = expressions.get(expression, 0) | bit
        self.anchors = Anchors(expressions, searched.words, self.term_bit)
        self.everywhere = not self.anchors.usable or any(
            d.kind != LEAVE and not _anchors_of(d) for d in self._detectors
        )

    def scanners(self, bits: int) -> tuple[Any, Any]:
        """How to match these detectors (RE2's Match, those that run over lines left out), and the terms if they are
        among them."""
        wanted = (bits | self._always) & self._all
        found = self._scanners.get(wanted)
        if found is None:
            if len(self._scanners) >= _MOST_SCANNERS:
                wanted = self._all
            parts = [b"(?:%s)" % plain for place, plain in enumerate(self._plain) if wanted >> place & 1]
            found = self._scanners[wanted] = re2.compile(b"|".join(parts), _options())._regexp.Match
        return found, self._terms_match if bits & self.term_bit else None

    @cached_property
    def over_lines(self) -> Any:
        """How to match what runs over several lines."""
        parts = [b"(?:%s)" % plain for place, plain in enumerate(self._plain) if self.lines_bits >> place & 1]
        return re2.compile(b"|".join(parts), _options())._regexp.Match

    @cached_property
    def scanner(self) -> Any:
        """All detectors and terms as one automaton: what is matched without anchors."""
        patterns = [*self._plain, *_Searched.of(self._terms).patterns]
        return re2.compile(b"|".join(b"(?:%s)" % p for p in patterns), _options(_LARGE))

    @classmethod
    def build(
        cls,
        terms: Iterable[Term] = (),
        keep: Mapping[str, str] | None = None,
        domains: Iterable[str] = (),
        keep_kinds: Mapping[str, str] | None = None,
        detectors: Iterable[Detector] = REGISTRY,
    ) -> Catalogue:
        """A catalogue with all registered detectors, or those given.

        `keep` maps values that the vendor needs to the reason for keeping them; `domains` are our own domains,
        under which every name is a host of ours; `keep_kinds` are kinds of which all is kept, with the reason.
        """
        known = {t.spelling.casefold().encode(): t for t in terms if len(t.spelling) >= MIN_SEARCHABLE}
        kept = {value.casefold().encode(): reason for value, reason in (keep or {}).items() if value}
        kept |= {value.lstrip(b"+"): reason for value, reason in kept.items() if value.startswith(b"+")}
        ours = frozenset(d.casefold().strip(".") for d in domains if d.strip("."))
        return cls(tuple(detectors), known, kept, ours, keep_kinds or {})

    def with_values(self, values: Iterable[tuple[str, bytes]]) -> Catalogue:
        """The same catalogue that also masks these (kind, value) wherever they stand."""
        terms = dict(self._terms)
        for kind, value in values:
            text = value.decode("utf-8", "replace")
            terms[_fold(value)] = Term(kind, text, text, anywhere=len(value) >= ANYWHERE)
        return Catalogue(self._own, terms, self._keep, self._domains, self._keep_kinds)

    def kept_values(self) -> list[bytes]:
        """The values that are kept by name, folded."""
        return list(self._keep)

    def judge(self, match: bytes) -> Finding | None:
        """What the scanner's match is; None if it is nothing sensitive after all."""
        for place in sorted(self._chooser.Match(match) or ()):
            detector, judge = self._detectors[place], self._judges[place]
            start, end = (0, len(match)) if judge is None else judge(match)
            value = match[start:end]
            if detector.kind != LEAVE and detector.accept is not None and not detector.accept(value):
                continue
            known = self._terms.get(_fold(value))
            if known is not None and detector.kind in ("host", "user", known.kind):
                return self._found(start, end, known.kind, known.canonical.encode("utf-8"), value)
            return self._found(start, end, detector.kind, detector.canonical(value), value, sure=detector.sure)
        folded = _fold(match)
        term = self._terms.get(folded)
        if term is not None:
            return self._found(0, len(match), term.kind, term.canonical.encode("utf-8"), match)
        if _family(folded) in self._host_families:
            return self._found(0, len(match), "host", match.lower(), match)
        return None

    def _found(self, start: int, end: int, kind: str, canonical: bytes, value: bytes, *, sure: bool = True) -> Finding:
        kept = self._keep.get(_fold(value)) or self._keep.get(canonical) or self._keep_kinds.get(kind)
        return Finding(start, end, kind, canonical, kept, sure)


_MOST_SCANNERS = 400
_LARGE = 192 << 20
"""The most memory that the automaton of all terms may take; those of a few detectors need little."""


def _bits(detectors: Iterable[Detector], chosen: Callable[[Detector], bool]) -> int:
    return sum(1 << place for place, detector in enumerate(detectors) if chosen(detector))


def _whole_or_judge(pattern: bytes, options: Any) -> Any:
    """How the value's place in a match is found: None where it is the whole match."""
    bare = pattern.removeprefix(rb"\b").removesuffix(rb"\b")
    if bare.startswith(b"(") and not bare.startswith(b"(?") and _closes(bare) == len(bare) - 1:
        return None
    fullmatch, both = re2.compile(pattern, options)._regexp.Match, re2._Anchor.ANCHOR_BOTH

    def judge(match: bytes) -> tuple[int, int]:
        spans: list[tuple[int, int]] = fullmatch(both, match, 0, len(match))
        return spans[1] if spans[0][0] >= 0 else (0, len(match))

    return judge


def _closes(pattern: bytes) -> int:
    """Where the bracket closes that opens at the beginning."""
    depth, inside, place = 0, False, 0
    while place < len(pattern):
        sign = pattern[place : place + 1]
        if sign == b"\\":
            place += 2
            continue
        if inside:
            inside = sign != b"]"
        elif sign == b"[":
            inside = True
        elif sign == b"(":
            depth += 1
        elif sign == b")":
            depth -= 1
            if depth == 0:
                return place
        place += 1
    return -1


@lru_cache(maxsize=512)
def _own_anchor(pattern: bytes) -> tuple[bytes, ...]:
    """A pattern as its own anchor, if that can be."""
    return (pattern,) if can_anchor(pattern) else ()


def _anchors_of(detector: Detector) -> tuple[bytes, ...]:
    return detector.anchors if detector.anchors or detector.kind == LEAVE else _own_anchor(detector.pattern)


def _domain_detectors(domains: Iterable[str]) -> tuple[Detector, ...]:
    return tuple(
        Detector(
            "host",
            "host under our own domain",
            rb"\b((?i:(?:[a-z0-9_][a-z0-9_-]*\.)+" + re.escape(domain).encode() + rb"))\b",
            (rb"(?i)\." + re.escape(domain).encode(),),
            canonical=same_host,
        )
        for domain in sorted(domains)
    )


def _family(folded: bytes) -> bytes:
    """What stays when every digit counts alike: br07-kiosk2 and br12-kiosk1 are of one family, and so both hosts."""
    return folded.translate(_ALIKE)


_ALIKE = bytes.maketrans(b"0123456789", b"0000000000")


def _fold(value: bytes) -> bytes:
    """Case folded as the terms are; bytes that are not UTF-8 stay as they are."""
    if value.isascii():
        return value.lower()
    try:
        return value.decode("utf-8").casefold().encode()
    except UnicodeDecodeError:
        return value.decode("latin-1").casefold().encode()


def _without_groups(pattern: bytes) -> bytes:
    """The pattern with its one capturing group made a plain one."""
    return re.sub(rb"(?<!\\)\((?!\?)", b"(?:", pattern)


@dataclass(frozen=True)
class _Searched:
    """How terms are searched for: as RE2 patterns; their anchors as shapes and as words."""

    patterns: list[bytes]
    shapes: list[bytes]
    words: list[bytes]

    @classmethod
    def of(cls, terms: Mapping[bytes, Term]) -> _Searched:
        """Shapes where they tell enough, longest first; else the spellings themselves."""
        shapes: set[bytes] = set()
        literals: set[bytes] = set()
        words: set[bytes] = set()
        for folded, term in terms.items():
            pattern = None if term.anywhere else shape(folded)
            if pattern is not None:
                shapes.add(_edged(pattern, folded))
                continue
            for text in _cases(term.spelling, folded):
                escaped: bytes = re.escape(text)
                literals.add(escaped if term.anywhere else _edged(escaped, text))
                words.add(_core(text))
        patterns = sorted(shapes, key=lambda s: (-s.count(b"{"), -len(s), s))
        if literals:
            ordered: list[bytes] = sorted(literals, key=lambda item: (-len(item), item))
            patterns.insert(0, b"(?i:" + b"|".join(ordered) + b")")
        return cls(patterns, sorted(shapes), sorted(words))


def _core(text: bytes) -> bytes:
    """The part of a term that anchors it: its longest run of ASCII letters and digits, so that many share one."""
    runs = _RUNS.findall(text)
    return max(runs, key=len) if runs else text


_RUNS = re.compile(rb"[A-Za-z0-9]{3,}")


def _cases(spelling: str, folded: bytes) -> set[bytes]:
    """The text itself; beyond ASCII also its usual cases, in UTF-8 and Latin-1: the automaton folds only ASCII."""
    if folded.isascii():
        return {folded}
    texts = {spelling, spelling.casefold(), spelling.upper(), spelling.title(), spelling.lower()}
    return {text.encode() for text in texts} | {text.encode("latin-1") for text in texts if _is_latin(text)}


def _is_latin(text: str) -> bool:
    return all(ord(sign) < 256 for sign in text)


def _edged(pattern: bytes, text: bytes) -> bytes:
    """Bound to the edges of a word where the text begins or ends with a letter, digit or underscore."""
    head = rb"\b" if _WORD.match(text[:1]) else b""
    tail = rb"\b" if _WORD.match(text[-1:]) else b""
    return head + pattern + tail


_WORD = re.compile(rb"[A-Za-z0-9_]")
