"""Terms: exact values that the register knows, in the spellings in which logs write them."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator
from itertools import chain
from typing import NamedTuple
from unicodedata import combining, normalize

from sealpacket.core.kinds import KINDS
from sealpacket.core.redact.rules import is_ordinary

_LONGEST_LINE = 100_000


class Term(NamedTuple):
    """One spelling of a known value. Spellings of one thing share `canonical`, and so their placeholder.

    `anywhere`: also inside a longer word. `paired`: two names with a blank between them, which stand for the same two
    the other way round as well, and with a comma, a full stop, a tab and the like between them.
    """

    kind: str
    spelling: str
    canonical: str
    anywhere: bool = False
    paired: bool = False


def person_terms(name: str) -> Iterator[Term]:
    """The ways in which a log writes a person's name: Ines Harrowgate, I. Harrowgate, Harrowgate Ines, ines.harrowgate.

    One with letters that a keyboard or a system did not have is also written without them: Zoe Duerr for Zoë Dürr. A
    name of one word gives itself only if it has six letters or more: shorter ones are too often plain words.
    """
    canonical = name.casefold()
    forms = (
        [name]
        if name.isascii()
        else [normalize("NFC", name), _without_accents(name), _spelled_out(name)]
    )
    forms += [form.replace("'", "") for form in forms]  # O'Dunne is odunne to most systems
    for written in dict.fromkeys(forms):
        yield from _spellings(written, canonical)


def _spellings(name: str, canonical: str) -> Iterator[Term]:
    parts = name.split()
    if len(parts) < 2:
        if len(name) >= 6:
            yield Term("person", name, canonical)
        return
    first, *between, last = parts
    yield Term("person", f"{first} {last}", canonical, paired=True)
    if _is_plain(last):  # b-tree is none
        spellings = [f"{first}{last}", f"{first[0]}. {last}", f"{first[0]} {last}"]
    else:
        yield Term("person", f"{first[0]} {last}", canonical, paired=True)
        spellings = [f"{first}{last}"]
    spellings += _accounts(first[0], last)
    if between:
        spellings += _spellings_of_many(first, between, last)
        for surname in _surnames(between, last):
            yield Term("person", f"{first} {surname}", canonical, paired=True)
            yield Term("person", f"{first[0]} {surname}", canonical, paired=True)
    if "-" in last.strip("-"):  # two names of a marriage, of which often one is used
        for one in last.split("-"):
            if len(one) >= 3 and not _is_plain(one):
                yield Term("person", f"{first} {one}", canonical, paired=True)
    for spelling in dict.fromkeys(spellings):
        yield Term("person", spelling, canonical)


def _is_plain(word: str) -> bool:
    """Whether a part of a name is an ordinary word as well."""
    return is_ordinary(word.lower().encode())


def _accounts(initial: str, last: str) -> list[str]:
    made = [f"{initial}{last}", f"{last}{initial}"] if len(last) >= 6 else []
    return [one for one in made if not _is_plain(one)]


def _surnames(between: list[str], last: str) -> Iterator[str]:
    """What may be the family's name of someone with more than two: van der Wold, vanderwold; Ruiz Ortega, Ruiz."""
    for place in range(len(between)):
        rest = [*between[place:], last]
        yield " ".join(rest)
        yield "".join(rest)
    if between[0][0].isupper() and len(between[0]) >= 3 and not _is_plain(between[0]):
        yield between[0]


def _spellings_of_many(first: str, between: list[str], last: str) -> Iterator[str]:
    """Those of more than two names: with marks between all of them, with initials, as accounts."""
    parts = [first, *between, last]
    for mark in (" ", ".", "_", "-", ""):
        yield mark.join(parts)
    yield from _accounts(first[0], "".join((*between, last)))
    names = [one for one in between if one[0].isupper()]
    particles = " ".join(one for one in between if one[0].islower())
    rest = f"{particles} {last}".strip()
    if names:
        yield f"{first} {' '.join(f'{one[0]}.' for one in names)} {rest}"
        yield f"{first} {' '.join(one[0] for one in names)} {rest}"
    if len(last) >= 3:
        initials = [one[0] for one in (first, *names)]
        dotted = [f"{one}." for one in initials]
        for written in (" ".join(dotted), "".join(dotted), "".join(initials)):
            yield f"{written} {rest}"
            yield f"{rest} {written}"
            yield f"{rest}, {written}"


_LETTERS = str.maketrans(
    {"ß": "ss", "ø": "o", "Ø": "O", "æ": "ae", "Æ": "Ae", "œ": "oe", "Œ": "Oe", "ł": "l", "Ł": "L", "đ": "d", "Đ": "D",
     "ð": "d", "Ð": "D", "þ": "th", "Þ": "Th", "ı": "i", "’": "'"}
)  # fmt: skip
_TWO_LETTERS = str.maketrans(
    {
        "ä": "ae",
        "ö": "oe",
        "ü": "ue",
        "å": "aa",
        "ø": "oe",
        "Ä": "Ae",
        "Ö": "Oe",
        "Ü": "Ue",
        "Å": "Aa",
        "Ø": "Oe",
    }
)


def _without_accents(name: str) -> str:
    return "".join(
        sign for sign in normalize("NFKD", name.translate(_LETTERS)) if not combining(sign)
    )


def _spelled_out(name: str) -> str:
    """With two letters for one, as in German and the languages of the north."""
    return _without_accents(normalize("NFC", name).translate(_TWO_LETTERS))


def host_terms(names: Iterable[str]) -> Iterator[Term]:
    """Host names as given and without their domain; both spellings mean one host."""
    for name in names:
        bare = name.split(".", 1)[0].casefold()
        yield Term("host", name, bare)
        if bare != name.casefold() and len(bare) >= 4 and not bare.isalpha():
            yield Term("host", bare, bare)


def read_terms(rows: Iterable[str]) -> Iterator[Term]:
    """Terms of a CSV file with the columns kind and value, or of a plain list with a value on each line.

    Raises ValueError for another kind or heading.
    """
    try:
        yield from _read(_bounded(rows))
    except csv.Error as error:
        raise ValueError(f"it cannot be read as a table: {error}") from error


def _bounded(lines: Iterable[str]) -> Iterator[str]:
    """The lines, none longer than a value can be: the limit of the csv module belongs to the whole process."""
    for number, line in enumerate(lines, 1):
        if len(line) > _LONGEST_LINE:
            raise ValueError(f"line {number} is longer than {_LONGEST_LINE:,} characters")
        yield line


def _read(lines: Iterator[str]) -> Iterator[Term]:
    first = next(lines, "")
    heads = [head.strip(' "\r\n').lower() for head in first.split(",")]
    if "kind" not in heads and "value" not in heads:
        values = (line.strip() for line in chain([first], lines))
        yield from (Term("custom", value, value.casefold()) for value in values if value)
        return
    if not {"kind", "value"} <= set(heads):
        raise ValueError(
            "the first line has to name the columns kind and value, or be a value itself"
        )
    columns = heads.index("kind"), heads.index("value")
    for number, row in enumerate(csv.reader(lines), 2):
        if row:
            cells = (row[column].strip() if column < len(row) else "" for column in columns)
            yield from _terms_of_row(number, *cells)


def _terms_of_row(number: int, kind: str, value: str) -> Iterable[Term]:
    if kind not in KINDS:
        raise ValueError(f"line {number}: there is no kind {kind or 'without a name'}")
    if kind == "person":
        return person_terms(value)
    if kind == "host":
        return host_terms([value])
    return [Term(kind, value, value.casefold())] if value else []


_OLD = ("latin-1", "cp850", "cp437", "mac-roman")
"""How systems wrote letters beyond ASCII before UTF-8."""


def texts_of(spelling: str) -> set[bytes]:
    """The bytes in which a spelling with letters beyond ASCII stands in texts.

    These are its usual cases in UTF-8 and Latin-1; and for a text of several words also what systems make of it that
    write or read it otherwise: other code pages, UTF-8 read as Latin-1, letters that became a question mark.
    """
    cases = {spelling, spelling.casefold(), spelling.upper(), spelling.title(), spelling.lower()}
    made = {text.encode() for text in cases} | {
        text.encode("latin-1") for text in cases if _is_latin(text)
    }
    if " " in spelling and _is_latin(spelling):
        for text in (spelling, spelling.upper()):
            made |= {code for name in _OLD if b"?" not in (code := text.encode(name, "replace"))}
            made |= {
                text.encode().decode(name, "replace").encode() for name in ("latin-1", "cp1252")
            }
            made |= {text.encode("ascii", "replace"), text.encode("ascii", "replace").replace(b"?", b"??"),
                     text.encode().decode("ascii", "replace").encode(), _with_marks(text)}  # fmt: skip
    return made


def _with_marks(text: str) -> bytes:
    return "".join(sign if sign.isascii() else "\ufffd" for sign in text).encode()


def _is_latin(text: str) -> bool:
    return all(ord(sign) < 256 for sign in text)
