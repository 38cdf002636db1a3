"""The native part of the redaction engine, in native/: the search itself, in C++ over RE2. Built by setup.py."""

from collections.abc import Callable, Iterable

from sealpacket.core.redact.spans import Span

LEAVE: int
LONG: int
"""So many signs has a run that is looked at by itself."""

class Detectors:
    """Detectors and anchors, filled, then finished. Shared by all scanners that search by them."""

    def add_detector(
        self, kind: int, pattern: bytes, plain: bytes, whole: bool, accept: Callable[[bytes], bool] | None,
        canonical: Callable[[bytes], bytes] | str | None, sure: bool, lines: int, plainly: bool, ours: bool,
        before: bytes, behind: bytes, cue: bytes, gap: int, told: bytes, told_plain: bytes,
    ) -> None: ...  # fmt: skip
    def add_anchor(self, expression: bytes, detector: int, flag: int, in_run: bool) -> None: ...
    def finish(self) -> None: ...

class Scanner:
    """Detectors with the terms and decisions of one catalogue. `everywhere`: every detector is tried on every line."""

    def __init__(self, by: Detectors, everywhere: bool) -> None: ...
    def add_term(self, text: bytes, anywhere: bool, paired: bool) -> None:
        """Look for a text; `paired`: for its two words either way, with what stands between names between them."""
    def add_terms(self, rows: Iterable[tuple[bytes, int, bytes, bool, bool, bool]]) -> None:
        """Terms written as they are folded: text, kind, canonical, anywhere, paired, whether it has a family."""
    def add_known(self, folded: bytes, kind: int, canonical: bytes, paired: bool) -> None:
        """What a text is, case folded."""
    def knows(self, folded: bytes) -> bool: ...
    def add_family(self, folded: bytes) -> None: ...
    def add_keep(self, folded: bytes, reason: str) -> None: ...
    def add_floor(self, kind: int) -> None: ...
    def add_keep_kind(self, kind: int, reason: str) -> None: ...

class Anchors:
    """Patterns without groups, by their numbers. Raises ValueError for a syntax that is not read here."""

    shares: int
    """How many automata there are: one, or several once a text has asked for more states than one may have."""
    states: int
    """How many states the texts so far have asked for: what the automaton's memory holds."""
    def __init__(self, patterns: list[bytes]) -> None: ...
    def lines(self, text: bytes) -> list[tuple[int, int, list[int]]]:
        """Where each line that has one begins and ends, and which it has."""

class Labels:
    """Placeholders by a key of 32 bytes."""

    def __init__(self, key: bytes) -> None: ...
    shape: Callable[[str, bytes, bytes], bytes] | None
    """What is written for (kind, canonical, value), if it is not the label."""

    def of(self, kind: str, canonical: bytes) -> bytes: ...
    def noted(self, kind: str, written: bytes) -> bytes:
        """Under what a placeholder stands in the legend: a label, before what is written if that is something else."""

class Legend:
    """A set of pairs (placeholder, original), as much of it as is in memory. Pairs are packed one behind the other,
    each text behind its length (32 bits)."""

    def add(self, placeholder: bytes, original: bytes) -> None: ...
    def tallies(self, most: int) -> list[tuple[bytes, bytes, int]]:
        """The pairs with how often each was met, those that were met most often first."""
    def placeholders(self) -> int:
        """How many different ones there are."""
    def packed_part(self, start: int, bytes: int) -> tuple[bytes, int]:
        """Whole pairs of about so many bytes from a pair on, and the first that is not among them."""
    def sorted_part(self, start: int, bytes: int) -> tuple[bytes, int]:
        """The same in order, how often each was met before it; see `counted`."""
    def merge(self, other: Legend) -> None: ...
    def clear(self, are_known: bool) -> None:
        """Begin anew. Pairs that are known elsewhere are not added again when they are met."""
    def memory(self) -> int:
        """How many bytes it takes."""
    def unpack(self, packed: bytes) -> int:
        """Add every whole pair; gives how many bytes they had."""
    def __len__(self) -> int: ...

def counted(block: bytes) -> list[tuple[bytes, bytes, int]]:
    """What `sorted_part` gave, pair by pair with how often each was met."""

def uncounted(block: bytes) -> bytes:
    """What `sorted_part` gave, as `packed` would."""

class Wanted:
    """What is looked for in a legend: a few originals (in lower case) and placeholders as they stand in copies."""

    def __init__(self, originals: list[bytes], placeholders: list[bytes]) -> None: ...
    def look(self, packed: bytes) -> None:
        """Look through some pairs."""
    def pairs(self) -> dict[bytes, list[tuple[bytes, bytes]]]:
        """The pairs of each original that was found, in order."""
    def placeholders(self) -> set[bytes]:
        """The placeholders that were found."""

class Spans:
    """What is replaced in one buffer."""

    def __len__(self) -> int: ...
    def wait(self, limit: int, never: bool) -> int:
        """Drop what touches the limit, since it may go on behind it; gives the place from which to wait. With `never`
        a span at the very beginning is not waited for."""

class Pass:
    """One pass over texts with one scanner; remembers what was judged."""

    wrapped: list[int]
    """Where in the buffer looked at last lines begin that are nothing but base64."""
    dumped: list[int]
    paired: list[int]
    """Where lines begin on which bytes may be written one by one."""
    def __init__(
        self, scanner: Scanner, labels: Labels, legend: Legend, special: Callable[..., list[Span]],
        reason: Callable[[bytes, str], None], given: Callable[[Span, bytes], None], fold: Callable[[bytes], bytes],
        span: type[Span], kinds: list[str],
    ) -> None: ...  # fmt: skip
    def lines(self, buffer: bytes, limit: int, depth: int, all_special: bool) -> Spans: ...
    def between(self, pos: int, stop: int, limit: int, bits: int) -> Spans: ...
    def verdict(
        self, text: bytes
    ) -> tuple[int, int, str, bytes, str | None, bool, bytes] | None: ...
    def known(self, text: bytes) -> list[tuple[str, bytes, bytes]]:
        """What is known and stands in a text that nobody can read: kind, placeholder, original."""
    def broken(self, ends: LineEnds) -> list[int]:
        """Those over which something known may go, which has a blank there."""
    def listed(self, spans: Spans) -> list[Span]: ...
    @staticmethod
    def spans(spans: list[Span]) -> Spans: ...
    @staticmethod
    def together(spans: Spans, more: list[Span]) -> Spans:
        """All of them in order; of two that overlap the longer stays, and of the other what sticks out."""
    @staticmethod
    def outside(spans: Spans, stretches: list[tuple[int, int]]) -> Spans:
        """Those that lie within none of some stretches, which are in order."""
    def account(self, buffer: bytes, spans: Spans) -> None: ...
    def compose(self, buffer: bytes, spans: Spans, limit: int) -> bytes: ...
    def records(
        self, buffer: bytes, spans: Spans, bytes_in: int, bytes_out: int, line: int
    ) -> bytes: ...
    def take_counts(self) -> list[tuple[str, int, int]]: ...

class Pattern:
    """A pattern of RE2 by itself, over bytes. Raises ValueError if it cannot be read."""

    def __init__(self, pattern: bytes) -> None: ...
    def is_whole(self, text: bytes) -> bool:
        """Whether the pattern is the whole text."""
    def count(self, buffer: bytes) -> int:
        """How many matches there are, one behind the other."""
    def values(self, buffer: bytes) -> list[tuple[int, int]]:
        """Where the values of its matches lie: its group, or the whole match where it has none."""
    @property
    def groups(self) -> int:
        """How many capturing groups it has."""

class Ordinary:
    """Words in small letters that tell nothing."""

    def __init__(self, words: list[str]) -> None: ...
    def has(self, text: bytes) -> bool:
        """Whether a text is put together of nothing but such words, as names in programs are."""

class Secrets:
    """Whether what stands beside a telling name can be a secret.

    It is not if it is `none` of one, a word said of secrets, or a `folder`, or put together of ordinary words as what a
    program calls (`config.get(`). Patterns of RE2; raises ValueError if one cannot be read.
    """

    def __init__(self, none: bytes, folder: bytes, words: Ordinary) -> None: ...
    def __call__(self, value: bytes) -> bool: ...

class Originals:
    """Room for so many originals to search for, of which this is one of so many shares; those in `exempt` (in lower
    case) are left out."""

    searched: int
    not_searched: int
    any_blank: bool
    """Whether one of them has a blank."""
    longest: int
    def __init__(
        self, many: int, exempt: list[bytes], ordinary: Ordinary, share: int, shares: int
    ) -> None: ...
    def add(self, packed: bytes) -> None:
        """The originals of some pairs."""
    def close(self) -> None:
        """All are here."""
    def search(self, buffer: bytes) -> list[tuple[int, int]]:
        """Where originals may stand: something of the same hash does."""
    def search_long(self, buffer: bytes) -> list[tuple[int, int]]:
        """The same for those of eight bytes or more only."""
    def search_over(self, buffer: bytes, joins: Places) -> list[tuple[int, int]]:
        """Those of eight bytes or more that go over one of these places."""

class Places:
    """Where the lines of a text were put together. What takes them looks only at what goes over one of them."""

    def __len__(self) -> int: ...

def marks_in(text: bytes, joins: Places | None = None) -> int:
    """Which coats of single characters a text can wear at all: a bit each, see bare.py."""

class Shapes:
    """What the lines of a text look like from outside."""

    rules: list[int]
    """Where lines begin that may be the rule under a table's heads."""
    heads: list[int]
    """Where lines begin that may be the heads of columns without a rule below them."""
    labelled: list[tuple[int, int, int, int]]
    """Lines of a label, room, and one value: where the label begins and ends, and the value."""
    puts_rows: bool
    """Whether any line begins a statement of SQL that puts rows into a table."""

def stretches_of(text: bytes, mark: int, around: int) -> bytes:
    """Where such marks stand: each one's line and those beside it, at most so many bytes to either side; one stretch
    under the other."""

class LineEnds:
    """Where the lines of a text end, looked for once."""

    def __init__(self, text: bytes) -> None: ...
    def before(self, limit: int) -> int:
        """How many there are before a place."""
    def shapes(self) -> Shapes:
        """What the lines look like from outside."""
    def wrapped(self) -> list[int]:
        """Those at which a value may have been broken."""

def joined(text: bytes, border: bytes) -> tuple[bytes, Places]:
    """A text with its lines put together again, however they were broken, with this between them; and where."""

def in_base64(text: bytes, shortest: int, joins: Places | None = None) -> bytes:
    """What stands in runs of base64 of at least so many signs and can be read, one under the other."""

def in_hex(text: bytes, shortest: int, joins: Places | None = None) -> bytes:
    """The same for hex."""

def in_numbers(text: bytes, joins: Places | None = None) -> bytes:
    """What bytes written as numbers stand for, in hex or decimals, with borders between them."""

def in_dumps(text: bytes) -> bytes:
    """What lines of a dump stand for, put together, and the same with the bytes of each two changed about."""

def in_spaced_hex(text: bytes, joins: Places | None = None) -> bytes:
    """The same for bytes in hex with a blank or a colon between."""

def odd_bytes(buffer: bytes) -> tuple[int, int]:
    """How many bytes there are that no text has, NULs apart, and how many NULs."""
