"""The catalogue: all detectors and terms as one linear-time automaton, and the judgement on what it finds."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import re2

from sealpacket.core.redact.detectors import LEAVE, REGISTRY, Detector
from sealpacket.core.redact.terms import Term, shape

ENGINE = "1"
"""Raised whenever the catalogue finds something else than before; stands in the redaction report."""

MIN_SEARCHABLE = 4
"""A value shorter than this is masked where its name stands beside it, but cannot be searched for alone."""

ANYWHERE = 8
"""A value of this length is masked even inside a longer word, once it is known to be a secret."""


def _options() -> Any:
    options = re2.Options()
    options.encoding = re2.Options.Encoding.LATIN1
    options.max_mem = 256 << 20
    options.log_errors = False
    return options


@dataclass(frozen=True)
class Finding:
    """What a match turned out to be: the value's place inside the match, its kind and canonical form.

    `kept` gives the reason where a plan keeps the value.
    """

    start: int
    end: int
    kind: str
    canonical: bytes
    kept: str | None = None


class Catalogue:
    """Finds sensitive values. Build it once for a packet; it is read-only afterwards.

    A first pattern without groups finds where something stands (RE2 stays in its DFA); what it is, is judged only
    once for each different text and then remembered by the engine.
    """

    def __init__(
        self,
        detectors: tuple[Detector, ...],
        terms: Mapping[bytes, Term],
        keep: Mapping[bytes, str],
        domains: set[str],
        keep_kinds: Mapping[str, str],
    ) -> None:
        self._terms = terms
        self._keep = keep
        self._keep_kinds = keep_kinds
        self._host_families = {_family(folded) for folded, term in terms.items() if term.kind == "host"}
        self._detectors = (*detectors, *_domain_detectors(domains))
        options = _options()
        self._judges = [re2.compile(d.pattern, options) for d in self._detectors]
        self._chooser = re2.Set.FullMatchSet(options)
        for detector in self._detectors:
            self._chooser.Add(_without_groups(detector.pattern))
        self._chooser.Compile()
        patterns = [_without_groups(d.pattern) for d in self._detectors] + _term_patterns(terms)
        self.scanner = re2.compile(b"|".join(b"(?:%s)" % p for p in patterns), options)

    @classmethod
    def build(
        cls,
        terms: Iterable[Term] = (),
        keep: Mapping[str, str] | None = None,
        domains: Iterable[str] = (),
        keep_kinds: Mapping[str, str] | None = None,
    ) -> Catalogue:
        """A catalogue with all registered detectors.

        `keep` maps values that the vendor needs to the reason for keeping them; `domains` are our own domains,
        under which every name is a host of ours; `keep_kinds` are kinds of which all is kept, with the reason.
        """
        known = {t.spelling.casefold().encode(): t for t in terms if len(t.spelling) >= MIN_SEARCHABLE}
        kept = {value.casefold().encode(): reason for value, reason in (keep or {}).items() if value}
        kept |= {value.lstrip(b"+"): reason for value, reason in kept.items() if value.startswith(b"+")}
        return cls(REGISTRY, known, kept, {d.casefold().strip(".") for d in domains if d.strip(".")}, keep_kinds or {})

    def with_values(self, values: Iterable[tuple[str, bytes]]) -> Catalogue:
        """The same catalogue that also masks these (kind, value) wherever they stand."""
        terms = dict(self._terms)
        for kind, value in values:
            text = value.decode("utf-8", "replace")
            terms[_fold(value)] = Term(kind, text, text, anywhere=len(value) >= ANYWHERE)
        return Catalogue(
            tuple(d for d in self._detectors if d.name != _DOMAIN_NAME),
            terms,
            self._keep,
            self._domains(),
            self._keep_kinds,
        )

    def _domains(self) -> set[str]:
        return {d.pattern.decode() for d in self._detectors if d.name == _DOMAIN_NAME}

    def judge(self, match: bytes) -> Finding | None:
        """What the scanner's match is; None if it is nothing sensitive after all."""
        for detector, start, end in self._readings(match):
            value = match[start:end]
            if detector.kind != LEAVE and detector.accept is not None and not detector.accept(value):
                continue
            known = self._terms.get(_fold(value))
            if known is not None and detector.kind in ("host", known.kind):
                return self._found(start, end, known.kind, known.canonical.encode("utf-8"), value)
            return self._found(start, end, detector.kind, detector.canonical(value), value)
        term = self._terms.get(_fold(match))
        if term is not None:
            return self._found(0, len(match), term.kind, term.canonical.encode("utf-8"), match)
        if _family(_fold(match)) in self._host_families:
            return self._found(0, len(match), "host", match.lower(), match)
        return None

    def _readings(self, match: bytes) -> Iterator[tuple[Detector, int, int]]:
        """The detectors that take the whole match, in the order of the registry, each with the span of its value."""
        for place in sorted(self._chooser.Match(match) or ()):
            hit = self._judges[place].fullmatch(match)
            if hit is not None:
                yield self._detectors[place], *hit.span(1)

    def _found(self, start: int, end: int, kind: str, canonical: bytes, value: bytes) -> Finding:
        kept = self._keep.get(_fold(value)) or self._keep.get(canonical) or self._keep_kinds.get(kind)
        return Finding(start, end, kind, canonical, kept)


_DOMAIN_NAME = "host under our own domain"


def _domain_detectors(domains: set[str]) -> tuple[Detector, ...]:
    def pattern(domain: str) -> bytes:
        if domain.startswith("(?i:"):
            return domain.encode()
        return rb"(?i:\b((?:[a-z0-9_](?:[a-z0-9_-]{0,62})\.)+" + re.escape(domain).encode() + rb"))\b"

    return tuple(
        Detector("host", _DOMAIN_NAME, pattern(domain), canonical=lambda value: value.lower().split(b".", 1)[0])
        for domain in sorted(domains)
    )


def _family(folded: bytes) -> bytes:
    """What stays when every digit counts alike: br07-kiosk2 and br12-kiosk1 are of one family, and so both hosts."""
    return re.sub(rb"[0-9]", b"0", folded)


def _fold(value: bytes) -> bytes:
    """Case folded as the terms are; bytes that are not UTF-8 stay as they are."""
    try:
        return value.decode("utf-8").casefold().encode()
    except UnicodeDecodeError:
        return value.lower()


def _without_groups(pattern: bytes) -> bytes:
    """The pattern with its one capturing group made a plain one."""
    return re.sub(rb"(?<!\\)\((?!\?)", b"(?:", pattern)


def _term_patterns(terms: Mapping[bytes, Term]) -> list[bytes]:
    """Shapes where they tell enough, longest first; else the spellings themselves."""
    shapes: set[bytes] = set()
    literals: set[bytes] = set()
    for folded, term in terms.items():
        pattern = None if term.anywhere else shape(folded)
        if pattern is None:
            for text in _cases(term.spelling, folded):
                escaped: bytes = re.escape(text)
                literals.add(escaped if term.anywhere else _edged(escaped, text))
        else:
            shapes.add(_edged(pattern, folded))
    patterns = sorted(shapes, key=lambda s: (-s.count(b"{"), -len(s), s))
    if literals:
        ordered: list[bytes] = sorted(literals, key=lambda item: (-len(item), item))
        patterns.insert(0, b"(?i:" + b"|".join(ordered) + b")")
    return patterns


def _cases(spelling: str, folded: bytes) -> set[bytes]:
    """The text itself; beyond ASCII also its usual cases, since the automaton folds only ASCII letters."""
    if folded.isascii():
        return {folded}
    return {folded, spelling.encode(), spelling.upper().encode(), spelling.title().encode()}


def _edged(pattern: bytes, text: bytes) -> bytes:
    """Bound to the edges of a word where the text begins or ends with a letter, digit or underscore."""
    head = rb"\b" if _WORD.match(text[:1]) else b""
    tail = rb"\b" if _WORD.match(text[-1:]) else b""
    return head + pattern + tail


_WORD = re.compile(rb"[A-Za-z0-9_]")
