"""Linting a desk sheet: everything that is wrong or unwise in it, each with its place in the text."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from difflib import get_close_matches
from typing import Any, Literal

import jsonpath
import re2
import yaml
from pydantic import BaseModel, ConfigDict, ValidationError

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.checks import answer_fault
from sealpacket.core.sheets.model import (
    FORMS_OF_CHANNELS,
    Choice,
    Condition,
    Question,
    Sheet,
    read_yaml,
)

Level = Literal["stop", "warn", "hint"]
Place = tuple[str | int, ...]
MOST = 200

FACTS = frozenset({
    "packet.number", "packet.title", "packet.note", "packet.need", "packet.noted_at", "asset.serial", "asset.name",
    "asset.software_version", "asset.product", "asset.product_name", "vendor.name", "site.key", "site.name",
    "site.address", "site.postcode", "site.country", "site.time_zone", "site.contact", "login.name", "login.person",
    "contract.number", "entitlement.reference", "entitlement.level",
})  # fmt: skip
"""All that a sheet may take of what we know."""
PERSON_FIELDS = frozenset({"name", "mail", "phone", "language", "time_zone", "hours", "on_call"})
"""What a sheet may take of a person who was named in an answer."""
MESSAGE = frozenset({"message.text", "message.id"})
"""What there is when an answer is sent."""


class Finding(BaseModel):
    """One thing to mend: `place` is the path in the sheet, `line` where it stands in the text (from 1)."""

    model_config = ConfigDict(frozen=True)

    level: Level
    code: str
    place: str
    line: int
    sentence: str


def lint(text: str) -> tuple[Sheet | None, list[Finding]]:
    """The sheet, if it can be read as one, and everything found in it, in the order of the text."""
    try:
        body = read_yaml(text)
    except Invalid as fault:
        line = int(fault.facts.get("line", 1))
        return None, [Finding(level="stop", code=fault.code, place="", line=line, sentence=f"{fault} {fault.way_out}")]
    lines = _lines(text)

    def finding(level: Level, code: str, place: Place, sentence: str) -> Finding:
        return Finding(
            level=level, code=code, place=".".join(map(str, place)), line=_line_of(lines, place), sentence=sentence
        )

    try:
        sheet = Sheet.model_validate(body)
    except ValidationError as error:
        found = []
        for item in error.errors()[:MOST]:
            place = tuple(part for part in item["loc"] if part not in FORMS_OF_CHANNELS)
            found.append(finding("stop", "shape", place, f"{item['msg']}."))
        return None, sorted(found, key=_order)
    told = [finding(*item) for item in _all(sheet)][:MOST]
    return sheet, sorted(told, key=_order)


def _order(finding: Finding) -> tuple[int, str]:
    return finding.line, finding.place


def _lines(text: str) -> dict[Place, int]:
    """By path, the line on which each part of the sheet begins."""
    found: dict[Place, int] = {}

    def walk(node: yaml.Node, place: Place) -> None:
        found[place] = node.start_mark.line + 1
        if isinstance(node, yaml.MappingNode):
            for key, value in node.value:
                walk(value, (*place, str(key.value)))
                found[(*place, str(key.value))] = key.start_mark.line + 1
        elif isinstance(node, yaml.SequenceNode):
            for number, item in enumerate(node.value):
                walk(item, (*place, number))

    whole = yaml.compose(text, Loader=yaml.SafeLoader)
    if whole is not None:
        walk(whole, ())
    return found


def _line_of(lines: Mapping[Place, int], place: Place) -> int:
    """The line of a place, or of the nearest part around it."""
    while place and place not in lines:
        place = place[:-1]
    return lines.get(place, 1)


Told = tuple[Level, str, Place, str]


def _all(sheet: Sheet) -> Iterator[Told]:
    asked: dict[str, Question] = {}
    for number, question in enumerate(sheet.questions):
        yield from _question(question, ("questions", number), asked)
        asked[question.id] = question
    yield from _writing(sheet)
    yield from _sending(sheet)
    yield from _replies(sheet)
    yield from _limits(sheet)


def _question(question: Question, place: Place, asked: Mapping[str, Question]) -> Iterator[Told]:
    for name in ("required", "shown"):
        condition = getattr(question, name)
        if isinstance(condition, Condition):
            yield from _condition(condition, (*place, name), asked)
    broken = _broken_pattern(question)
    if broken:
        yield "stop", "pattern", (*place, "pattern"), broken
    elif question.pattern and not question.example:
        yield "hint", "no-example", (*place, "pattern"), f"{question.id} has a pattern and no example of it."
    elif question.example and question.form != "person":
        fault = answer_fault(question, question.example, {})
        if fault:
            yield "stop", "example", (*place, "example"), f"The example is no answer: {fault}"
    if question.at_least > question.at_most:
        yield "stop", "limits", (*place, "at_least"), "The fewest characters are more than the most."
    yield from _choices(question.choices, (*place, "choices"))
    leaves = dict(question.leaves())
    for number, prefill in enumerate(question.prefill):
        here = (*place, "prefill", number)
        if prefill.take not in FACTS:
            yield "stop", "unknown-fact", (*here, "take"), f"There is no fact {prefill.take}. {_like(prefill.take)}"
        for value in (prefill.map or {}).values():
            if leaves and value not in leaves:
                yield "stop", "no-choice", (*here, "map"), f"{question.id} has no choice {value}."


def _broken_pattern(question: Question) -> str:
    try:
        re2.compile(question.pattern or "")
    except re2.error as error:
        return f"{question.pattern} is no pattern of RE2: {error}."
    return ""


def _condition(condition: Condition, place: Place, asked: Mapping[str, Question]) -> Iterator[Told]:
    if condition.question is not None:
        looked_at = asked.get(condition.question)
        if looked_at is None:
            yield (
                "stop", "asked-later", place,
                f"This looks at {condition.question}, which is asked later: put that question before this one.",
            )  # fmt: skip
        elif looked_at.choices and condition.one_of:
            paths = {path for path, _ in looked_at.leaves()}
            groups = {"/".join(path.split("/")[:depth]) for path in paths for depth in range(1, path.count("/") + 1)}
            for value in condition.one_of:
                if value not in paths | groups:
                    yield "stop", "no-choice", (*place, "one_of"), f"{looked_at.id} has no choice {value}."
        if condition.one_of is None and condition.answered is None:
            yield "stop", "empty-condition", place, f"This looks at {condition.question} and says nothing of it."
    for name in ("all", "any", "none"):
        for number, inner in enumerate(getattr(condition, name) or ()):
            yield from _condition(inner, (*place, name, number), asked)


def _choices(choices: Sequence[Choice], place: Place) -> Iterator[Told]:
    seen: set[str] = set()
    for number, choice in enumerate(choices):
        if choice.value in seen:
            yield "stop", "twice", (*place, number), f"{choice.value} can be chosen twice."
        if "/" in choice.value:
            yield "stop", "slash", (*place, number, "value"), f"“{choice.value}” must not hold a slash."
        seen.add(choice.value)
        yield from _choices(choice.choices, (*place, number, "choices"))


def _writing(sheet: Sheet) -> Iterator[Told]:
    sent: set[str] = set()
    for place, take in _takes(sheet.write.body, ("write", "body")):
        yield from _take(sheet, str(take["take"]), place, FACTS)
        parts = str(take["take"]).split(".")
        if parts[0] == "answers" and len(parts) > 1:
            sent.add(parts[1])
            question = sheet.question(parts[1])
            if question and question.choices and isinstance(take.get("map"), Mapping) and "otherwise" not in take:
                missing = [path for path, _ in question.leaves() if path not in take["map"]]
                if missing:
                    yield "warn", "unmapped", place, f"What becomes of {', '.join(missing[:4])} is not said."
    for number, question in enumerate(sheet.questions):
        if question.id not in sent:
            yield "warn", "never-sent", ("questions", number), f"{question.id} is asked and never sent."


def _takes(node: Any, place: Place) -> Iterator[tuple[Place, Mapping[str, Any]]]:
    if isinstance(node, Mapping):
        if "take" in node:
            yield place, node
            return
        for key, inner in node.items():
            yield from _takes(inner, (*place, str(key)))
    elif isinstance(node, list | tuple):
        for number, inner in enumerate(node):
            yield from _takes(inner, (*place, number))


def _take(sheet: Sheet, path: str, place: Place, known: frozenset[str]) -> Iterator[Told]:
    parts = path.split(".")
    if parts[0] != "answers":
        if path not in known:
            yield "stop", "unknown-fact", place, f"There is no fact {path}. {_like(path)}"
        return
    question = sheet.question(parts[1]) if len(parts) > 1 else None
    if question is None:
        yield "stop", "unknown-fact", place, f"{path} takes an answer that the sheet does not ask for."
    elif len(parts) > 2 and (question.form != "person" or parts[2] not in PERSON_FIELDS or len(parts) > 3):
        yield "stop", "unknown-fact", place, f"{path}: {question.id} has no {'.'.join(parts[2:])}."


def _like(path: str) -> str:
    near = get_close_matches(path, FACTS | MESSAGE, 1)
    return f"Is it {near[0]}?" if near else "docs/desk-sheets.md names all there are."


def _sending(sheet: Sheet) -> Iterator[Told]:
    for name in ("follow", "answer"):
        if "{reference}" not in getattr(sheet.send, name):
            yield "stop", "no-reference", ("send", name), "The path needs {reference}, or every case would be the same."
    takes = list(_takes(sheet.send.answer_body, ("send", "answer_body")))
    for place, take in takes:
        if take["take"] not in MESSAGE:
            yield (
                "stop",
                "unknown-fact",
                place,
                f"An answer has no {take['take']}, only {' and '.join(sorted(MESSAGE))}.",
            )
    if all(take["take"] != "message.text" for _, take in takes):
        yield "stop", "no-text", ("send", "answer_body"), "Nothing takes message.text: the answer would be empty."


def _replies(sheet: Sheet) -> Iterator[Told]:
    replies = sheet.replies
    paths: list[tuple[Place, str]] = [
        (("replies", "reference"), replies.reference),
        (("replies", "status"), replies.status),
    ]
    paths += [
        (("replies", "messages", name), getattr(replies.messages, name))
        for name in ("each", "id", "text", "at", "asks")
    ]
    paths += [(("replies", "refusals", name), getattr(replies.refusals, name)) for name in ("each", "code", "text")]
    for place, path in paths:
        try:
            jsonpath.compile(path)
        except jsonpath.JSONPathError as error:
            yield "stop", "jsonpath", place, f"{path} is no JSONPath (RFC 9535): {error}."
    lives = {word.life for word in replies.words.values()}
    if "settled" not in lives:
        yield (
            "warn",
            "never-settled",
            ("replies", "words"),
            "No status word settles a case: it would stay open for ever.",
        )
    if not any(word.turn == "ours" for word in replies.words.values()):
        yield "hint", "never-ours", ("replies", "words"), "No status word makes it our turn: only messages that ask do."
    if not replies.refusals.cures:
        yield "hint", "no-cures", ("replies", "refusals"), "No refusal has a cure: say what to do about the usual ones."


def _limits(sheet: Sheet) -> Iterator[Told]:
    limits = sheet.attachments
    if limits.together < limits.each:
        yield "warn", "limits", ("attachments", "together"), "All together are fewer bytes than one alone may have."
    wrong = [ending for ending in limits.endings if not ending.startswith(".") or ending != ending.lower()]
    if wrong:
        yield (
            "stop",
            "endings",
            ("attachments", "endings"),
            f"Write endings as .log, in small letters: {', '.join(wrong)}.",
        )
