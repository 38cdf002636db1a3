"""Answers against what each question wants."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from sealpacket.core.sheets.answers import Answer, Facts, People, answer_fault, known_for
from sealpacket.core.sheets.checks.result import Check, passed
from sealpacket.core.sheets.model import Sheet


def check_answers(
    sheet: Sheet, answers: Sequence[Answer], people: People, facts: Facts
) -> Iterator[Check]:
    """Checks of answers: missing ones, and ones without the form that the desk wants."""
    known = known_for(answers, facts, people)
    for answer in answers:
        question = sheet.question(answer.question)
        if question is None or not answer.shown:
            continue
        if answer.value is None:
            if answer.required:
                yield Check(
                    code="unanswered",
                    level="stop",
                    sentence=f"{sheet.name} wants to know: {question.ask}",
                    remedy="Answer it",
                    act="answer",
                    target=question.id,
                )
            continue
        fault = answer_fault(question, answer.value, known)
        if fault:
            yield Check(
                code="answer-form",
                level="stop",
                sentence=f"{question.ask} {fault}",
                remedy="Correct the answer",
                act="answer",
                target=question.id,
            )
        else:
            yield passed("answer", f"Answered: {question.ask}")
