"""What rules would find: in a sample, and in files that nothing was fitted to."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from sealpacket.core.redact.rules.frozen import frozen_files
from sealpacket.core.redact.rules.rule import CLOSES, OPENS, Rule, faults_of, found_by

MOST_SHOWN = 100
"""Lines of a sample that are shown for each rule."""


class FoundLine(NamedTuple):
    """A line of the sample, counted from one, with what is found in « »."""

    number: int
    text: str


@dataclass(frozen=True)
class Tried:
    """What one rule would find.

    `found` are the first lines of the sample in which it finds something, `values` how many values it finds
    there. `frozen_values` counts marked values of the frozen files, `frozen_others` what it finds there besides.
    """

    rule: str
    faults: tuple[str, ...] = ()
    found: tuple[FoundLine, ...] = ()
    values: int = 0
    frozen_values: int = 0
    frozen_others: int = 0


def try_rule(rule: Rule, sample: str) -> Tried:
    """What a rule would find; only its faults if it has any."""
    if faults := faults_of(rule):
        return Tried(rule.id, tuple(faults))
    detectors = list(rule.detectors())
    text = sample.encode()
    spans = found_by(detectors, text)
    values = others = 0
    for content, marked in frozen_files():
        for start, end in found_by(detectors, content):
            if any(one.start < end and start < one.end for one in marked):
                values += 1
            else:
                others += 1
    return Tried(rule.id, (), tuple(_lines(text, spans)), len(spans), values, others)


def _lines(text: bytes, spans: list[tuple[int, int]]) -> list[FoundLine]:
    by_line: dict[int, list[tuple[int, int]]] = {}
    for start, end in spans:
        by_line.setdefault(text.rfind(b"\n", 0, start) + 1, []).append((start, end))
    shown = []
    for begin, here in list(by_line.items())[:MOST_SHOWN]:
        close = text.find(b"\n", here[-1][1])
        written, place = "", begin
        for start, end in here:
            written += f"{text[place:start].decode()}{OPENS}{text[start:end].decode()}{CLOSES}"
            place = end
        written += text[place : close if close >= 0 else len(text)].decode()
        shown.append(FoundLine(text.count(b"\n", 0, begin) + 1, written))
    return shown
