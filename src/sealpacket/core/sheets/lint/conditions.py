"""Linting conditions: they look at what there is, and can hold."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import get_args

from sealpacket.core.coverage import Need
from sealpacket.core.sheets.asking import Condition, Question
from sealpacket.core.sheets.facts import FACTS
from sealpacket.core.sheets.lint.findings import Fault, is_it, nearest, stop
from sealpacket.core.sheets.lint.reachable import FACT_VALUES, Scope, can_hold, values_of
from sealpacket.core.sheets.reading import Place


def lint_condition(
    condition: bool | Condition,
    place: Place,
    asked: Mapping[str, Question],
    scope: Scope,
) -> Iterator[Fault]:
    """Whether a condition looks at what there is, and can hold at all."""
    if isinstance(condition, bool):
        return
    faults = [*_atoms(condition, place, asked, scope.needs)]
    yield from faults
    if not faults and not can_hold(condition, asked, scope):
        yield stop("never", place, "This condition never holds.", "Compare its parts.")


def _atoms(
    condition: Condition, place: Place, asked: Mapping[str, Question], needs: Sequence[str]
) -> Iterator[Fault]:
    if condition.question is not None:
        yield from _looked_at(condition, place, asked)
    if condition.fact is not None:
        if condition.fact not in FACTS:
            yield no_fact(condition.fact, (*place, "fact"))
        for value in condition.one_of or ():
            yield from known_value(condition.fact, value, (*place, "one_of"), needs)
    says = (condition.one_of, condition.answered, condition.minimum)
    groups = (condition.all, condition.any, condition.none)
    if condition.one_of == ():
        yield stop("never", place, "No value is listed: this never holds.", "List one in one_of.")
    looked = condition.question or condition.fact
    if looked and all(one is None for one in says):
        yield stop(
            "empty-condition",
            place,
            f"This looks at {looked} and says nothing of it.",
            "Add one_of, answered or minimum.",
        )
    if not looked and all(one is None for one in groups):
        yield stop(
            "empty-condition",
            place,
            "This condition looks at nothing.",
            "Name a question or a fact.",
        )
    for name in ("all", "any", "none"):
        for number, inner in enumerate(getattr(condition, name) or ()):
            yield from _atoms(inner, (*place, name, number), asked, needs)


def _looked_at(
    condition: Condition, place: Place, asked: Mapping[str, Question]
) -> Iterator[Fault]:
    name = condition.question or ""
    question = asked.get(name)
    if question is None:
        yield stop(
            "asked-later",
            (*place, "question"),
            f"This looks at {name}, which is asked later.",
            "Put that question before this one.",
            word=name,
        )
        return
    if question.form == "several" and condition.one_of:
        yield stop(
            "several",
            place,
            f"{name} may have several values.",
            "A condition can only say whether it is answered.",
        )
        return
    values = values_of(question)
    if values is not None:
        for value in condition.one_of or ():
            if value not in values:
                yield no_choice(question, value, (*place, "one_of"), sorted(values))
    if condition.minimum is not None and question.form != "number":
        yield stop("never", (*place, "minimum"), f"{name} is no number.", "Use one_of or answered.")


def known_value(fact: str, value: str, place: Place, needs: Sequence[str]) -> Iterator[Fault]:
    """A value that a fact cannot have here."""
    known = tuple(needs) if fact == "packet.need" else FACT_VALUES.get(fact)
    if known is None or value in known:
        return
    near = nearest(value, known)
    exists = value in get_args(Need)
    yield stop(
        "never",
        place,
        f"{fact} is never {value} at this desk."
        if exists
        else f"{fact} is never {value}: there is no such value.",
        is_it(near, f"There are {', '.join(known)}."),
        word=value,
        near=near,
    )


def no_fact(path: str, place: Place) -> Fault:
    """A stop: there is no such fact."""
    near = nearest(path, FACTS)
    return stop(
        "unknown-fact",
        place,
        f"There is no fact {path}.",
        is_it(near, "docs/reference/desk-sheet.md lists all facts."),
        word=path,
        near=near,
    )


def no_choice(question: Question, value: str, place: Place, choices: Sequence[str]) -> Fault:
    """A stop: a question has no such choice."""
    near = nearest(value, choices)
    return stop(
        "no-choice",
        place,
        f"{question.id} has no choice {value}.",
        is_it(near, f"There are {', '.join(choices[:12])}."),
        word=value,
        near=near,
    )
