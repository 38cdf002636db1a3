"""How a step ended, from what it brought."""

from __future__ import annotations

import csv
import json
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Literal
from xml.parsers.expat import ExpatError

import re2

from sealpacket.core.errors import Invalid
from sealpacket.core.evidence.kits.model import Step
from sealpacket.core.evidence.logfile import LogFile
from sealpacket.core.evidence.xml_text import EntitiesDeclared, read_through

State = Literal["got", "empty", "failed", "too old", "cut"]
KEPT: tuple[State, ...] = ("got", "cut", "too old")
"""States whose files are kept as evidence; other steps keep only the reason."""
_LARGEST_READ = 20_000_000
"""Bytes of a result that are searched and parsed."""


@dataclass(frozen=True)
class Outcome:
    """How a step ended. `why` says what is wrong, `answers` what it fills in, by question; sizes in bytes."""

    step: str
    state: State
    files: tuple[str, ...] = ()
    octets: int = 0
    why: str = ""
    answers: dict[str, str] = field(default_factory=dict)

    @property
    def good(self) -> bool:
        """Whether it brought what it should."""
        return self.state == "got"


def judge(
    step: Step,
    files: list[Path],
    *,
    code: int | None = None,
    written: datetime | None = None,
    cut: bool = False,
    now: datetime | None = None,
) -> Outcome:
    """How a step ended that ran through, from the files that it brought.

    `code` is a command's result code, `written` when the newest file was written last, `cut` whether the size limit
    cut it.
    """
    state, why = _state(step, files, code, cut)
    if state == "got":
        state, why = _content(step, files)
    if state == "got" and step.expect.newer_than is not None:
        latest = _latest(files, step.expect.parses, written)
        if latest is not None and latest < (now or datetime.now(UTC)) - step.expect.newer_than:
            state, why = "too old", f"its last word is of {latest:%Y-%m-%d %H:%M} UTC"
    names = tuple(path.name for path in files)
    return Outcome(step.id, state, names, _octets(files), why, _answers(step, files))


def _octets(files: list[Path]) -> int:
    return sum(path.stat().st_size for path in files)


def _state(step: Step, files: list[Path], code: int | None, cut: bool) -> tuple[State, str]:
    """Whether there is something, by its result code and its size."""
    expect, octets = step.expect, _octets(files)
    if code is not None and expect.exit and code not in expect.exit:
        return "failed", f"its result code is {code}"
    if not files or not any(_says_something(path) for path in files):
        return "empty", "it brought nothing"
    if octets < expect.least:
        return "empty", f"it brought {octets} bytes, and {expect.least} are the least"
    return ("cut", f"it was cut at {step.size:,} bytes") if cut else ("got", "")


def _content(step: Step, files: list[Path]) -> tuple[State, str]:
    """Whether what is there says what it should."""
    expect = step.expect
    for path in files:
        text = _text(path)
        if expect.contains and not re2.search(expect.contains, text):
            return "failed", f"{path.name} does not have “{expect.contains}”"
        if expect.lacks and (found := re2.search(expect.lacks, text)):
            return "failed", f"{path.name} says “{found.group(0)[:80]}”"
        fault = _unread(path, expect.parses, text)
        if fault:
            return "failed", fault
    return "got", ""


def _says_something(path: Path) -> bool:
    with path.open("rb") as file:
        return bool(file.read(1 << 16).strip(b" \t\r\n\v\f\0"))


def _text(path: Path) -> str:
    with path.open("rb") as file:
        return file.read(_LARGEST_READ).decode("utf-8", "replace")


def _answers(step: Step, files: list[Path]) -> dict[str, str]:
    found = {}
    for answer in step.answers:
        for path in files:
            match = re2.search(answer.pattern, _text(path))
            if match is not None and match.group(1):
                found[answer.question] = match.group(1).strip()[:400]
                break
    return found


def _unread(path: Path, kind: str, text: str) -> str:
    """Why a result cannot be read as what it should be."""
    match kind:
        case "json":
            try:
                json.loads(text)
            except ValueError:
                return f"{path.name} is no JSON"
        case "xml":
            try:
                read_through(text)
            except (ExpatError, EntitiesDeclared):
                return f"{path.name} is no XML"
        case "csv":
            widths = {len(row) for row in csv.reader(text.splitlines()[:200]) if row}
            if len(widths) != 1 or widths == {1}:
                return f"{path.name} is no table"
        case "log":
            try:
                LogFile(path).times()
            except Invalid as problem:
                return problem.detail.rstrip(".")
    return ""


def _latest(files: list[Path], kind: str, written: datetime | None) -> datetime | None:
    if kind != "log":
        return written
    return max(LogFile(path).times().last for path in files)
