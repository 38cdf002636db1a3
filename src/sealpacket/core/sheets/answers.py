"""Answers: what a person typed, or else what the register says, each with where it came from."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel, ConfigDict

from sealpacket.core.sheets.conditions import holds
from sealpacket.core.sheets.model import Question, Sheet


class Fact(BaseModel):
    """A value that we keep, with the words for its source."""

    model_config = ConfigDict(frozen=True)

    value: Any
    source: str


Facts = Mapping[str, Fact]
"""Facts by dotted path: packet.note, asset.serial, contact.phone, …"""


class Answer(BaseModel):
    """The state of one question. `source` is None where a person typed the value."""

    model_config = ConfigDict(frozen=True)

    question: str
    shown: bool
    required: bool
    value: str | None = None
    typed: bool = False
    source: str | None = None


def answers_for(sheet: Sheet, typed: Mapping[str, str], facts: Facts) -> tuple[Answer, ...]:
    """All questions in order, each answered as far as can be. Earlier answers decide what later ones are asked."""
    values: dict[str, str] = {}
    answers: list[Answer] = []
    for question in sheet.questions:
        shown = holds(question.shown, values)
        if not shown:
            answers.append(Answer(question=question.id, shown=False, required=False))
            continue
        required = holds(question.required, values)
        given = typed.get(question.id)
        if given is not None and given.strip():
            answer = Answer(question=question.id, shown=True, required=required, value=given, typed=True)
        else:
            answer = _prefilled(question, required, facts)
        if answer.value is not None:
            values[question.id] = answer.value
        answers.append(answer)
    return tuple(answers)


def _prefilled(question: Question, required: bool, facts: Facts) -> Answer:
    for prefill in question.prefill:
        fact = facts.get(prefill.take)
        if fact is None or fact.value in (None, ""):
            continue
        value = str(fact.value)
        if prefill.map is not None:
            if value not in prefill.map:
                continue
            value = prefill.map[value]
        return Answer(question=question.id, shown=True, required=required, value=value, source=fact.source)
    return Answer(question=question.id, shown=True, required=required)
