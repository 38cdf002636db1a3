"""Changes of the register that follow from an answer of a desk, by the rules of its sheet."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import date
from typing import NamedTuple

from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.reply_rules import Consequence


class Granted(NamedTuple):
    """A field of a record that is to have another value, from a day on (None: from the day of the answer)."""

    place: int
    rule: Consequence
    value: str
    from_on: date | None


def granted(
    sheet: Sheet, status: str, answers: Sequence[Mapping[str, object]], facts: Mapping[str, object]
) -> Iterator[Granted]:
    """Changes that follow from a status of a case; `answers` are those that were sealed, `facts` what its desk said.

    A rule whose value is missing gives nothing.
    """
    given = {str(one["question"]): one.get("value") for one in answers}
    for place, rule in enumerate(sheet.replies.consequences):
        if status not in rule.when:
            continue
        said = _found(rule.take, given, facts)
        if said:
            yield Granted(place, rule, _word(sheet, rule, said), _day(rule, given, facts))


def _found(path: str, answers: Mapping[str, object], facts: Mapping[str, object]) -> str:
    kind, _, name = path.partition(".")
    found = (answers if kind == "answers" else facts).get(name)
    return "" if found is None else str(found).strip()


def _word(sheet: Sheet, rule: Consequence, value: str) -> str:
    """A value as the register has it: by the rule's words, else as the choice is called."""
    if value in rule.words:
        return rule.words[value]
    kind, _, name = rule.take.partition(".")
    question = sheet.by_name.get(name) if kind == "answers" else None
    labels = question.labels(value) if question else ()
    return labels[-1] if labels else value


def _day(
    rule: Consequence, answers: Mapping[str, object], facts: Mapping[str, object]
) -> date | None:
    try:
        return date.fromisoformat(_found(rule.from_on, answers, facts)[:10])
    except ValueError:
        return None
