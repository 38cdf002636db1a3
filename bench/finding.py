"""What is found and what is not in sixty files as different as can be, which nothing was ever fitted to.

To look at which values are missed would be to fit to them, so that only sums are printed.
"""

from __future__ import annotations

from collections import Counter
from typing import Any

from figures import figure

from sealpacket.core.kinds import KINDS
from sealpacket.core.redact import Catalogue, Outcome, Placeholders, leak_check, redact
from sealpacket.core.redact.engine import RECORD, UNSURE
from sealpacket.core.redact.rules.frozen import Value, frozen_files
from sealpacket.core.redact.verify import Leaking, mend


def found_in(content: bytes, catalogue: Catalogue) -> list[Value]:
    """What is masked in a text in the end: what leaks is masked again as a known value, as in the service."""
    records: list[bytes] = []
    outcome, copy = Outcome(), b""

    def run(catalogue: Catalogue) -> None:
        nonlocal outcome, copy
        records.clear()
        outcome = Outcome()
        placeholders = Placeholders(b"k" * 32)
        copy = b"".join(redact([content], catalogue, placeholders, outcome, note=records.append))

    def leaking() -> Leaking | None:
        leaks = leak_check([copy], outcome.legend, is_public=catalogue.is_public).leaks
        return {(leak.kind, leak.original) for leak in leaks} or None

    run(catalogue)
    mend(catalogue, leaking, run)
    return [
        Value(list(KINDS)[kind % UNSURE], start, start + length)
        for part in records
        for start, length, _, _, _, kind in RECORD.iter_unpack(part)
    ]


def figures() -> list[dict[str, Any]]:
    """Recall of each kind, and how many lines lose something that is no value."""
    catalogue = Catalogue.build()
    all_of, went, lines, touched = Counter[str](), Counter[str](), 0, 0
    for content, values in frozen_files():
        found = found_in(content, catalogue)
        masked = {place for one in found for place in range(one.start, one.end)}
        for value in values:
            all_of[value.kind] += 1
            signs = {
                place
                for place in range(value.start, value.end)
                if content[place : place + 1].isalnum() or content[place] > 127
            }
            went[value.kind] += signs <= masked
        marked = {place for one in values for place in range(one.start, one.end)}
        innocent = {
            content.count(b"\n", 0, one.start)
            for one in found
            if not marked & set(range(one.start, one.end))
        }
        lines += content.count(b"\n")
        touched += len(innocent)
    return [
        figure("values in the frozen files", sum(all_of.values()), "values"),
        figure("of them masked whole", went.total() / all_of.total(), "share", at_least=0.998),
        *(
            figure(f"  {kind}", went[kind] / many, f"share of {many}")
            for kind, many in sorted(all_of.items())
        ),
        figure("lines that lose something else, of 1,000", 1000 * touched / lines, "lines"),
    ]
