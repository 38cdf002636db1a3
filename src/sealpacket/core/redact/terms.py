"""Terms: exact values that the register knows, in the spellings in which logs write them."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from sealpacket.core.redact.kinds import KINDS


@dataclass(frozen=True)
class Term:
    """One spelling of a known value. Spellings of one thing share `canonical`, and so their placeholder.

    `anywhere`: also inside a longer word.
    """

    kind: str
    spelling: str
    canonical: str
    anywhere: bool = False


def person_terms(name: str) -> Iterator[Term]:
    """The ways in which a log writes a person's name: Ines Harrowgate, I. Harrowgate, Harrowgate Ines, ines.harrowgate.

    A name of one word gives itself only if it has six letters or more: shorter ones are too often plain words.
    """
    parts = name.split()
    canonical = name.casefold()
    if len(parts) < 2:
        if len(name) >= 6:
            yield Term("person", name, canonical)
        return
    first, last = parts[0], parts[-1]
    spellings = {
        name,
        f"{first} {last}",
        f"{first[0]}. {last}",
        f"{first[0]} {last}",
        f"{last}, {first}",
        f"{last} {first}",
        f"{first}.{last}",
        f"{first}_{last}",
    }
    for spelling in sorted(spellings):
        yield Term("person", spelling, canonical)


def host_terms(names: Iterable[str]) -> Iterator[Term]:
    """Host names as given and without their domain; both spellings mean one host."""
    for name in names:
        bare = name.split(".", 1)[0].casefold()
        yield Term("host", name, bare)
        if bare != name.casefold() and len(bare) >= 4 and not bare.isalpha():
            yield Term("host", bare, bare)


def read_terms(rows: Iterable[str]) -> Iterator[Term]:
    """Terms of a CSV file with the columns kind and value. Raises ValueError for another kind or heading."""
    table = csv.DictReader(rows)
    if not {"kind", "value"} <= set(table.fieldnames or ()):
        raise ValueError("the first line has to name the columns kind and value")
    for number, row in enumerate(table, 2):
        kind, value = (row["kind"] or "").strip(), (row["value"] or "").strip()
        if kind not in KINDS:
            raise ValueError(f"line {number}: there is no kind {kind or 'without a name'}")
        if kind == "person":
            yield from person_terms(value)
        elif kind == "host":
            yield from host_terms([value])
        elif value:
            yield Term(kind, value, value.casefold())
