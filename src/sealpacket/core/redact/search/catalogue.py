"""The catalogue: all detectors and terms, and the judgement on what they find.

The search itself is native code (native/): one RE2 automaton of short anchors finds the lines in which anything can
stand at all, a hash table the terms. On such a line only the detectors whose anchors it has are tried.
"""

from __future__ import annotations

import base64
import re
from collections.abc import Callable, Collection, Iterable, Mapping
from functools import cached_property, lru_cache
from itertools import chain
from typing import NamedTuple

from sealpacket.core.kinds import KINDS, NAMES
from sealpacket.core.redact import _native as native
from sealpacket.core.redact.context import PARTICLE, pairs
from sealpacket.core.redact.encodings import MARKS, SPACED, TOKENS
from sealpacket.core.redact.known import SHORTEST, Term, index_of, looks_like, texts_of
from sealpacket.core.redact.rules import (
    LEAVE,
    OF_FORMATS,
    PUBLIC_HOST,
    PUBLIC_HOSTS,
    REGISTRY,
    Detector,
    as_it_is,
    in_long_run,
    is_ordinary,
    parts_of,
    same_host,
    same_mac,
    without_groups,
)

ENGINE = "20"
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
        self.drop_lines = frozenset(
            kind for kind, action in (drops or {}).items() if action == "drop-line"
        )
        self.drop_files = frozenset(
            kind for kind, action in (drops or {}).items() if action == "drop-file"
        )
        self._drops = dict(drops or {})
        self.leaked: tuple[tuple[str, bytes], ...] = ()
        self._terms = terms
        self._keep = keep
        self._keep_kinds = keep_kinds
        self._floor = floor
        self._domains = domains
        self._own = detectors
        self._keeps_public = PUBLIC_HOSTS[0] in detectors
        self._search = search or _shared_search(detectors, domains)
        self.native = native.Scanner(self._search.by, everywhere)
        self.native.add_terms(
            (
                folded,
                _NUMBER[term.kind],
                term.canonical.encode(),
                term.anywhere,
                term.paired,
                term.kind == "host",
            )
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
                self.native.add_known(
                    same, _NUMBER[term.kind], term.canonical.encode(), term.paired
                )
        if term.kind == "host":
            self.native.add_family(folded)

    def pattern_for(self, text: bytes) -> bytes:
        """The detectors that find something in a text, as one pattern: what a bare scan is measured with."""
        patterns = [without_groups(detector.whole) for detector in self._search.detectors]
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
        kept = {
            value.casefold().encode(): reason for value, reason in (keep or {}).items() if value
        }
        kept |= {
            value.lstrip(b"+"): reason for value, reason in kept.items() if value.startswith(b"+")
        }
        ours = frozenset(d.casefold().strip(".") for d in domains if d.strip("."))
        return cls(
            tuple(detectors),
            known,
            kept,
            ours,
            keep_kinds or {},
            frozenset(floor),
            drops=drops,
            everywhere=everywhere,
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
            anywhere = len(value) >= ANYWHERE and not (kind in NAMES and value.isalpha())
            _know(terms, folded, Term(kind, text, text, anywhere=anywhere))
            if ANYWHERE <= len(value) < _SHORTEST_TOKEN:
                coat = base64.b64encode(value).rstrip(b"=")
                terms[fold(coat)] = Term(kind, coat.decode(), text)
        own = (*self._own, *again)
        # What is made of a packet's own values is not kept with what others use.
        search = Search.compiled(own, self._domains) if again else self._search
        made = Catalogue(
            own,
            terms,
            self._keep,
            self._domains,
            self._keep_kinds,
            self._floor,
            drops=self._drops,
            search=search,
        )
        made.leaked = (*self.leaked, *sorted(values))
        return made

    def looking_like(self, folded: bytes) -> bytes | None:
        """The known value that looks like this (folded) text, which was read off a picture; None if there is none."""
        return self._looks.get(looks_like(folded)) if len(folded) >= SHORTEST else None

    @cached_property
    def _looks(self) -> dict[bytes, bytes]:
        pairs = (folded.partition(b" ")[::2] for folded, term in self._terms.items() if term.paired)
        written = (
            mark.join(names)
            for one in pairs
            for names in (one, one[::-1])
            for mark in (b" ", *_WITHIN_A_WORD)
        )
        return index_of(chain(self._terms, written))

    def knows(self, value: bytes) -> bool:
        """Whether it is known exactly."""
        return self.native.knows(fold(value))

    def is_public(self, host: bytes) -> bool:
        """Whether anyone can open pages of a host, none of ours: what masks it in one place says nothing of others."""
        name = host.decode("ascii", "replace").casefold().strip(".")
        ours = any(name == one or name.endswith(f".{one}") for one in self._domains)
        return self._keeps_public and not ours and PUBLIC_HOST.is_whole(host.lower())

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
        ours = _domain_detectors(domains)
        whole = (*ours, *detectors)
        by = native.Detectors()
        for place, detector in enumerate(whole):
            _add_detector(by, place, detector, place < len(ours))
        flagged = (
            (MARKS, HAS_MARKS), (TOKENS, HAS_TOKENS), (SPACED, HAS_SPACED),
            ((PARTICLE,), HAS_NAMES), (pairs.ANCHORS, HAS_PAIRS),
        )  # fmt: skip
        for marks, flag in flagged:
            for expression in marks:
                by.add_anchor(expression, -1, flag, in_long_run(expression))
        by.finish()
        return cls(whole, by)


_shared_search = lru_cache(8)(Search.compiled)
"""Compiling detectors, and what the automata learn from the first texts, takes longer than all else of a short text:
catalogues that differ by terms and decisions only share them."""


def _add_detector(by: native.Detectors, place: int, detector: Detector, ours: bool) -> None:
    parts = detector.parts or parts_of(detector)
    accept = detector.accept if detector.sure else _unless_ordinary(detector.accept)
    by.add_detector(
        _NUMBER[detector.kind], parts.pattern, parts.plain, parts.whole, accept,
        _NATIVELY.get(detector.canonical, detector.canonical), detector.sure,
        2 * detector.lines if detector.kind in _OF_MANY_LINES else int(detector.lines),
        parts.whole or detector.kind != "secret", ours, parts.before, parts.behind,
        parts.cue, parts.gap, parts.told, parts.told_plain,
    )  # fmt: skip
    for expression, in_run in parts.anchors:
        by.add_anchor(expression, place, 0, in_run)


def _know(terms: dict[bytes, Term], folded: bytes, term: Term) -> None:
    """Add a term; what was known as the two names of someone stays that, whoever says it again."""
    before = terms.get(folded)
    terms[folded] = term._replace(paired=True) if before and before.paired else term


_WITHIN_A_WORD = (b".", b"_", b"-", b"+")
"""What stands between the two names of an account."""
_OF_MANY_LINES = ("key", "token")
"""Kinds whose values may run over any number of lines."""
_NATIVELY: dict[object, str | None] = {
    as_it_is: None,
    bytes.lower: "lower",
    same_host: "host",
    same_mac: "mac",
}
_NUMBER = {**{kind: number for number, kind in enumerate(KINDS)}, LEAVE: native.LEAVE}


_MOST_BROKEN = 64
_SHORTEST_TOKEN = 12
"""In base64 what is shorter is shorter than a token in which anything is looked for: it is known by that form."""
_LINE_END = rb"(?:[=\\]?\r?\n[ \t]*)?"


def _broken_over_lines(kind: str, value: bytes) -> Detector:
    """Finds a value between whose signs a line ends; where none does, it is a term like any other."""
    signs = [re.escape(value[place : place + 1]) for place in range(len(value))]
    begins = (
        b"(?i)" + b"".join(signs[:3]),
        *(b"(?i)" + b"".join(signs[:n]) + rb"[=\\]?\r?(?m:$)" for n in (1, 2)),
    )
    pattern = b"((?i:" + _LINE_END.join(signs) + b"))"
    return Detector(
        kind, "known value over lines", pattern, begins, lambda found: b"\n" in found, lines=True
    )


def _unless_ordinary(accept: Callable[[bytes], bool] | None) -> Callable[[bytes], bool]:
    """What is doubtful and nothing but ordinary words is no value."""
    return lambda value: not is_ordinary(value) and (accept is None or accept(value))


def _domain_detectors(domains: Iterable[str]) -> tuple[Detector, ...]:
    """One for all of our domains, however many; none if there is none."""
    ours = [
        re.escape(domain).encode() for domain in sorted(domains, key=lambda one: (-len(one), one))
    ]
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
            Detector(
                "host", "host of ours that a format is named by", one, anchors, canonical=same_host
            )
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
