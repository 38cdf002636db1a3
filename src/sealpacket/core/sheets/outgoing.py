"""Typed texts of a packet, and the values that leave in their place."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any

from pydantic import BaseModel, ConfigDict

from sealpacket.core.kinds import FLOOR, KINDS
from sealpacket.core.outgoing import OutgoingText, RedactedText
from sealpacket.core.sheets.answers import Answer, Facts, People, known_for, severity_of
from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.facts import WRITTEN, WRITTEN_FACTS
from sealpacket.core.sheets.forms import FORMS
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.values import OutgoingValues

_ALWAYS = ("packet.title", "packet.note")
_LONGEST_LABEL = 400
"""A longer answer is not a single value that its question's name could give away."""


class TypedText(BaseModel):
    """One text that a person wrote. It is redacted before it can leave.

    `keep_kinds` go out in it, for the reason `because`. `cells` are parts with a label of their own.
    """

    model_config = ConfigDict(frozen=True)

    path: str
    ask: str
    text: str
    question: str = ""
    cells: tuple[tuple[int, int, str], ...] = ()
    keep_kinds: frozenset[str] = frozenset()
    because: str = ""


def typed_texts(sheet: Sheet, answers: Sequence[Answer], facts: Facts) -> tuple[TypedText, ...]:
    """Every text of a packet that a person wrote, in the order of the questions; title and note first."""
    return (*_written_facts(sheet, facts), *_written_answers(sheet, answers))


def _written_facts(sheet: Sheet, facts: Facts) -> Iterator[TypedText]:
    """Title and note, and of the others those that the sheet takes."""
    for path, ask in WRITTEN.items():
        if path in facts and (path in _ALWAYS or path in sheet.taken):
            yield TypedText(path=path, ask=ask, text=str(facts[path].value))


def _written_answers(sheet: Sheet, answers: Sequence[Answer]) -> Iterator[TypedText]:
    for answer in answers:
        question = sheet.question(answer.question)
        if (
            question is None
            or answer.value is None
            or not answer.shown
            or not _is_written(question, answer)
        ):
            continue
        form = FORMS[question.form]
        kinds, because = _asked_for(sheet, question)
        cells = form.cells(question, answer.value) if len(answer.value) <= _LONGEST_LABEL else []
        yield TypedText(
            path=f"answers.{question.id}",
            ask=question.ask,
            text=answer.value,
            question=question.id,
            cells=tuple(cells),
            keep_kinds=kinds,
            because=because,
        )


def _is_written(question: Question, answer: Answer) -> bool:
    """Whether an answer is somebody's words: not a choice, and not taken from a field of the register."""
    from_register = not answer.typed and bool(answer.fact) and answer.fact not in WRITTEN_FACTS
    return FORMS[question.form].words and not from_register


def _asked_for(sheet: Sheet, question: Question) -> tuple[frozenset[str], str]:
    """The kinds of value allowed in an answer because its form or the sheet asks for them, each with the reason."""
    kinds = FORMS[question.form].asks_for
    because = "the desk asks for it here" if kinds else ""
    for one in sheet.redaction.kept_questions:
        if one.question == question.id:
            return kinds | (
                frozenset(one.kinds) or frozenset(KINDS)
            ) - FLOOR, f"{sheet.name}: {one.because}"
    return kinds, because


def outgoing_values(
    sheet: Sheet,
    answers: Sequence[Answer],
    facts: Facts,
    people: People,
    texts: Mapping[str, OutgoingText],
) -> OutgoingValues:
    """All that the sheet may take. `texts` has the outgoing text of every typed one, by path.

    Raises KeyError for a typed text that was not redacted.
    """
    known = known_for(answers, facts, people)
    written = {one.path for one in typed_texts(sheet, answers, facts)}
    values: dict[str, Any] = {
        path: fact.value for path, fact in facts.items() if path not in WRITTEN
    }
    values |= {path: texts[path] for path in WRITTEN if path in written}
    raw: dict[str, str] = {}
    for answer in answers:
        question = sheet.question(answer.question)
        if question is None or answer.value is None or not answer.shown:
            continue
        path = f"answers.{question.id}"
        raw[question.id] = answer.value
        leaving = texts[path] if path in written else answer.value
        for part, value in FORMS[question.form].taken(question, leaving, known).items():
            values[f"{path}.{part}" if part else path] = value
    level = severity_of(sheet, answers)
    return OutgoingValues(values | ({"severity.level": level} if level else {}), raw)


def redacted_texts(
    typed: Iterable[TypedText], found: Mapping[str, RedactedText]
) -> dict[str, OutgoingText]:
    """The outgoing texts, by path. Raises KeyError for a typed text in which nobody looked."""
    return {one.path: found[one.path].outgoing(one.text) for one in typed}


def invented_texts(typed: Iterable[TypedText]) -> dict[str, OutgoingText]:
    """Texts of a sample: nobody typed them, so that nothing in them has to be masked."""
    return {one.path: OutgoingText(one.text) for one in typed}
