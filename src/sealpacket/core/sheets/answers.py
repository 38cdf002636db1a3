"""Answers: what a person typed, or else what the register says, each with where it came from."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from random import Random
from typing import Any

from pydantic import BaseModel, ConfigDict

from sealpacket.core.patterns import compiled
from sealpacket.core.sheets.asking import Condition, Question
from sealpacket.core.sheets.conditions import holds, sentence
from sealpacket.core.sheets.forms import FORMS, Known
from sealpacket.core.sheets.made_up import like
from sealpacket.core.sheets.model import Sheet


class Fact(BaseModel):
    """A value that we keep, with the words for its source."""

    model_config = ConfigDict(frozen=True)

    value: Any
    source: str


Facts = Mapping[str, Fact]
"""Facts by dotted path: packet.note, asset.serial, contact.phone, …"""
People = Mapping[str, Mapping[str, Any]]
"""Those who can be named, by key."""


class Answer(BaseModel):
    """The state of one question. `source` is None if a person typed the value, else `fact` is the path that it was
    filled from; `because` says why it is asked."""

    model_config = ConfigDict(frozen=True)

    question: str
    shown: bool
    required: bool
    value: str | None = None
    typed: bool = False
    source: str | None = None
    fact: str = ""
    fixed: bool = False
    because: str = ""


def answers_for(sheet: Sheet, typed: Mapping[str, str], facts: Facts) -> tuple[Answer, ...]:
    """All questions in order, each answered as far as can be. Earlier answers decide what later ones are asked."""
    values: dict[str, str] = {}
    answers: list[Answer] = []
    for question in sheet.questions:
        answer = answer_to(sheet, question, typed.get(question.id), values, facts)
        if answer.value is not None:
            values[question.id] = answer.value
        answers.append(answer)
    return tuple(answers)


def answer_to(
    sheet: Sheet, question: Question, given: str | None, values: Mapping[str, str], facts: Facts
) -> Answer:
    """The state of one question; `values` are the answers to those before it."""
    if not holds(question.shown, values, facts):
        return Answer(question=question.id, shown=False, required=False)
    return _answered(question, given, values, facts, sheet.by_name)


def _answered(
    question: Question,
    given: str | None,
    values: Mapping[str, str],
    facts: Facts,
    all_of_them: Mapping[str, Question],
) -> Answer:
    known, source, fact = _prefilled(question, facts)
    fixed = known is not None and holds(question.fixed, values, facts)
    required = holds(question.required, values, facts)
    why = next((c for c in (question.shown, question.required) if isinstance(c, Condition)), True)
    state: dict[str, Any] = {
        "question": question.id,
        "shown": True,
        "required": required,
        "fixed": fixed,
        "because": sentence(why, all_of_them) if required or why is not question.required else "",
    }
    if given is not None and given.strip() and not fixed:
        return Answer(value=given, typed=True, **state)
    return Answer(value=known, source=source, fact=fact, **state)


_MOMENT = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d")


def _prefilled(question: Question, facts: Facts) -> tuple[str | None, str | None, str]:
    """Value, words for its source, and path of the first fact that is known."""
    for prefill in question.prefill:
        fact = facts.get(prefill.take)
        if fact is None or fact.value in (None, ""):
            continue
        value = str(fact.value)
        if prefill.map is not None:
            if value not in prefill.map:
                continue
            value = prefill.map[value]
        if question.form == "date" and _MOMENT.match(value):
            value = value[:10]  # only the day of a moment
        return value, fact.source, prefill.take
    return None, None, ""


def known_for(answers: Sequence[Answer], facts: Facts, people: People) -> Known:
    """Everything that answers are looked up in."""
    values = {answer.question: answer.value for answer in answers if answer.value is not None}
    return Known(people=people, values=values, facts=facts)


def answer_fault(question: Question, value: str, known: Known) -> str | None:
    """The fault of an answer's form, as a sentence; None if it is valid."""
    if len(value) > question.max_length:
        return f"The answer has {len(value)} characters; the desk takes {question.max_length}."
    if len(value.strip()) < question.min_length:
        return f"The answer is too short to help: the desk wants at least {question.min_length} characters."
    if question.pattern is not None and compiled(question.pattern).fullmatch(value) is None:
        example = question.example or _fitting(question.pattern)
        such = f", such as {example}" if example else ""
        return f"The answer does not have the form that the desk wants{such}."
    return FORMS[question.form].fault(question, value, known)


def _fitting(pattern: str) -> str:
    """A text that the pattern takes, for people who cannot read it; empty if none can be made."""
    text = like(pattern, Random(0))  # noqa: S311 - an example, no secret
    return text if compiled(pattern).fullmatch(text) else ""


def severity_of(sheet: Sheet, answers: Sequence[Answer]) -> str:
    """The severity as the sheet sets it: answered, or computed from impact and urgency. Empty: not known, not ours."""
    values = {answer.question: answer.value or "" for answer in answers if answer.shown}
    if sheet.severity_question is not None:
        return values.get(sheet.severity_question.id, "")
    rule = sheet.severity.computed if sheet.severity else None
    if rule is None:
        return ""
    return rule.table.get(values.get(rule.impact, ""), {}).get(values.get(rule.urgency, ""), "")
