"""Findings of the linter, with their place in the text of a sheet."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from itertools import islice
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from sealpacket.core.sheets.reading import Place, Range, SheetText

Level = Literal["stop", "warn", "hint"]
MOST = 200
_FARTHEST, _LONGEST, _MOST_WORDS = 6, 100, 1000
"""How much longer or shorter a word that is meant may be, how long, and of how many it is looked for."""


class Finding(BaseModel):
    """One thing to mend: `place` is the path in the sheet; lines and columns count from 1, the end is behind the last
    character. `question` is the question that it is about; `fix` may replace the marked text."""

    model_config = ConfigDict(frozen=True)

    level: Level
    code: str
    place: str
    line: int
    column: int
    end_line: int
    end_column: int
    sentence: str
    remedy: str
    question: str
    fix: str | None


@dataclass(frozen=True)
class Fault:
    """A finding before its place is looked up. `name`: it is about the name of the place, not its value; `word` is the
    part of the text that is wrong, `near` the right one."""

    level: Level
    code: str
    place: Place
    sentence: str
    remedy: str = ""
    word: str = ""
    near: str = ""
    name: bool = False


def stop(code: str, place: Place, sentence: str, remedy: str = "", **more: Any) -> Fault:
    """Something with which the sheet cannot be used."""
    return Fault("stop", code, place, sentence, remedy, **more)


def warn(code: str, place: Place, sentence: str, remedy: str = "", **more: Any) -> Fault:
    """Something that is probably wrong."""
    return Fault("warn", code, place, sentence, remedy, **more)


def hint(code: str, place: Place, sentence: str, remedy: str = "", **more: Any) -> Fault:
    """Something that could be better."""
    return Fault("hint", code, place, sentence, remedy, **more)


def nearest(word: str, words: Iterable[str]) -> str:
    """The word that was probably meant; empty if none is near."""
    like = (one for one in words if abs(len(one) - len(word)) <= _FARTHEST)
    found = get_close_matches(word[:_LONGEST], islice(like, _MOST_WORDS), 1, 0.55)
    return found[0] if found else ""


def is_it(near: str, otherwise: str = "") -> str:
    """The remedy for a word that does not exist."""
    return f"Is it {near}?" if near else otherwise


def has_stops(found: Sequence[Finding]) -> bool:
    """Whether something found keeps the sheet from being used."""
    return any(finding.level == "stop" for finding in found)


def placed(fault: Fault, text: SheetText, lines: Sequence[str], body: Any) -> Finding:
    """The finding with its range in the text."""
    found = text.range_of(fault.place, name=fault.name, within=bool(fault.word))
    narrowed = _narrow(found, fault.word, lines) if fault.word else None
    return Finding(
        level=fault.level,
        code=fault.code,
        place=".".join(map(str, fault.place)),
        **(narrowed or found).model_dump(),
        sentence=fault.sentence,
        remedy=fault.remedy,
        question=_question_of(fault.place, body),
        fix=(fault.near or None) if narrowed else None,
    )


def _narrow(found: Range, word: str, lines: Sequence[str]) -> Range | None:
    """The range of a word within a part of the text, if it is there."""
    for number in range(found.line, min(found.end_line, len(lines)) + 1):
        line = lines[number - 1]
        begin = found.column - 1 if number == found.line else 0
        at = line.find(word, begin)
        if at >= 0 and (number < found.end_line or at < found.end_column):
            return Range(line=number, column=at + 1, end_line=number, end_column=at + 1 + len(word))
    return found


def _question_of(place: Place, body: Any) -> str:
    if len(place) < 2 or place[0] != "questions" or not isinstance(body, Mapping):
        return ""
    questions = body.get("questions")
    number = place[1]
    if not isinstance(questions, list) or not isinstance(number, int) or number >= len(questions):
        return ""
    one = questions[number]
    return str(one.get("id") or "") if isinstance(one, Mapping) else ""


def by_line(finding: Finding) -> tuple[int, int, str]:
    return finding.line, finding.column, finding.place
