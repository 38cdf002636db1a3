"""Linting what a sheet asks: questions, choices, conditions, kinds, severity and evidence."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

import re2

from sealpacket.core.sheets.answers import answer_fault
from sealpacket.core.sheets.asking import Choice, Condition, Question
from sealpacket.core.sheets.facts import FACTS
from sealpacket.core.sheets.forms import Known
from sealpacket.core.sheets.lint.findings import Place, Told
from sealpacket.core.sheets.lint.written import _like
from sealpacket.core.sheets.model import Sheet


def lint_question(
    question: Question, place: Place, asked: Mapping[str, Question]
) -> Iterator[Told]:
    for name in ("required", "shown", "fixed"):
        condition = getattr(question, name)
        if isinstance(condition, Condition):
            yield from _condition(condition, (*place, name), asked)
    yield from _pattern(question, place)
    yield from _bounds(question, place, asked)
    yield from _choices(question.choices, (*place, "choices"))
    yield from _prefill(question, place)


def _pattern(question: Question, place: Place) -> Iterator[Told]:
    broken = _broken_pattern(question.pattern)
    if broken:
        yield "stop", "pattern", (*place, "pattern"), broken
    elif question.pattern and not question.example:
        yield (
            "hint",
            "no-example",
            (*place, "pattern"),
            f"{question.id} has a pattern and no example of it.",
        )
    elif question.example and question.form not in ("person", "people", "state"):
        fault = answer_fault(question, question.example, Known())
        if fault:
            yield "stop", "example", (*place, "example"), f"The example is no answer: {fault}"


def _prefill(question: Question, place: Place) -> Iterator[Told]:
    leaves = {path for path, _ in question.leaves()}
    for number, prefill in enumerate(question.prefill):
        here = (*place, "prefill", number)
        if prefill.take not in FACTS:
            yield (
                "stop",
                "unknown-fact",
                (*here, "take"),
                f"There is no fact {prefill.take}. {_like(prefill.take)}",
            )
        for value in (prefill.map or {}).values():
            if leaves and value not in leaves:
                yield "stop", "no-choice", (*here, "map"), f"{question.id} has no choice {value}."


def _bounds(question: Question, place: Place, asked: Mapping[str, Question]) -> Iterator[Told]:
    if question.at_least > question.at_most:
        yield (
            "stop",
            "limits",
            (*place, "at_least"),
            "The fewest characters are more than the most.",
        )
    if (
        question.lowest is not None
        and question.highest is not None
        and question.lowest > question.highest
    ):
        yield "stop", "limits", (*place, "lowest"), "The lowest number is above the highest."
    ids = {column.id for column in question.columns}
    for number, column in enumerate(question.columns):
        for name in (column.more_than, column.highest_by.column if column.highest_by else ""):
            if name and name not in ids:
                yield (
                    "stop",
                    "no-column",
                    (*place, "columns", number),
                    f"There is no column {name}.",
                )
    if question.form == "state" and question.country not in asked and question.country not in FACTS:
        yield (
            "stop",
            "no-country",
            (*place, "country"),
            f"{question.country} is neither an earlier question nor a fact.",
        )


def _broken_pattern(pattern: str | None) -> str:
    """RE2 takes time in proportion to the text, whatever the pattern: none can run for ever."""
    try:
        re2.compile(pattern or "", _QUIET)
    except re2.error as error:
        return f"{pattern} is not a valid RE2 pattern: {error}."
    return ""


_REGULAR = re.compile(r"\b(match|search)\s*\(|=~")
"""JSONPath's own patterns are not RE2's: what a desk sends could keep one busy for ever."""


def _options() -> Any:
    options = re2.Options()
    options.log_errors = False
    return options


_QUIET = _options()


def _condition(condition: Condition, place: Place, asked: Mapping[str, Question]) -> Iterator[Told]:
    if condition.question is not None:
        looked_at = asked.get(condition.question)
        if looked_at is None:
            yield (
                "stop",
                "asked-later",
                place,
                f"This looks at {condition.question}, which is asked later: put that question before this one.",
            )
        elif looked_at.choices and condition.one_of:
            paths = {path for path, _ in looked_at.leaves()}
            groups = {
                "/".join(path.split("/")[:depth])
                for path in paths
                for depth in range(1, path.count("/") + 1)
            }
            for value in condition.one_of:
                if value not in paths | groups:
                    yield (
                        "stop",
                        "no-choice",
                        (*place, "one_of"),
                        f"{looked_at.id} has no choice {value}.",
                    )
    if condition.fact is not None and condition.fact not in FACTS:
        yield (
            "stop",
            "unknown-fact",
            (*place, "fact"),
            f"There is no fact {condition.fact}. {_like(condition.fact)}",
        )
    says = (condition.one_of, condition.answered, condition.at_least)
    if (condition.question or condition.fact) and all(one is None for one in says):
        looked = condition.question or condition.fact
        yield "stop", "empty-condition", place, f"This looks at {looked} and says nothing of it."
    for name in ("all", "any", "none"):
        for number, inner in enumerate(getattr(condition, name) or ()):
            yield from _condition(inner, (*place, name, number), asked)


def _choices(choices: Sequence[Choice], place: Place) -> Iterator[Told]:
    seen: set[str] = set()
    for number, choice in enumerate(choices):
        if choice.value in seen:
            yield "stop", "twice", (*place, number), f"{choice.value} can be chosen twice."
        if "/" in choice.value:
            yield (
                "stop",
                "slash",
                (*place, number, "value"),
                f"“{choice.value}” must not hold a slash.",
            )
        seen.add(choice.value)
        yield from _choices(choice.choices, (*place, number, "choices"))


def lint_kinds(sheet: Sheet) -> Iterator[Told]:
    seen: set[str] = set()
    for number, kind in enumerate(sheet.kinds):
        if kind.need in seen:
            yield "stop", "twice", ("kinds", number), f"The kind {kind.need} is described twice."
        seen.add(kind.need)
    for number, question in enumerate(sheet.questions):
        for place, choice in _with_needs(question.choices, ("questions", number, "choices")):
            strange = [need for need in choice.needs if need not in seen]
            if strange:
                yield (
                    "warn",
                    "no-kind",
                    (*place, "needs"),
                    f"{choice.value} is for {strange[0]}, which is not a kind here.",
                )
    for number, rule in enumerate(sheet.before):
        if rule.need == "purpose" and not rule.question:
            yield (
                "stop",
                "no-question",
                ("before", number),
                "Say in `question` which question asks for the purpose.",
            )


def _with_needs(choices: Sequence[Choice], place: Place) -> Iterator[tuple[Place, Choice]]:
    for number, choice in enumerate(choices):
        if choice.needs:
            yield (*place, number), choice
        yield from _with_needs(choice.choices, (*place, number, "choices"))


def lint_severity(sheet: Sheet, asked: Mapping[str, Question]) -> Iterator[Told]:
    rule = sheet.severity
    if rule is None or rule.set_by != "computed":
        return
    levels = {level.value for level in rule.levels}
    impacts = {path for path, _ in asked[rule.impact].leaves()}
    urgencies = {path for path, _ in asked[rule.urgency].leaves()}
    for impact in sorted(impacts):
        row = rule.table.get(impact, {})
        for urgency in sorted(urgencies - set(row)):
            yield (
                "stop",
                "no-severity",
                ("severity", "table"),
                f"What is {impact} with {urgency} is not said.",
            )
        for urgency, level in row.items():
            if level not in levels or urgency not in urgencies:
                yield (
                    "stop",
                    "no-choice",
                    ("severity", "table", impact),
                    f"{urgency}: {level} is no answer or no level of the scale.",
                )
    for impact in sorted(set(rule.table) - impacts):
        yield (
            "stop",
            "no-choice",
            ("severity", "table", impact),
            f"{rule.impact} has no choice {impact}.",
        )


def lint_evidence(sheet: Sheet, asked: Mapping[str, Question]) -> Iterator[Told]:
    for number, rule in enumerate(sheet.evidence):
        place = ("evidence", number)
        if isinstance(rule.when, Condition):
            yield from _condition(rule.when, (*place, "when"), asked)
        broken = _broken_pattern(rule.names)
        if broken:
            yield "stop", "pattern", (*place, "names"), broken
        allowed = sheet.attachments.endings
        if rule.required and allowed and rule.endings and not set(rule.endings) & set(allowed):
            yield (
                "stop",
                "never-there",
                (*place, "endings"),
                "It is required, and no such file is taken.",
            )
