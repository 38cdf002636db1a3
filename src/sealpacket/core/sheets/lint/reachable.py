"""Whether a condition can ever hold: all cases are tried over the values that its questions and facts can have."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Set
from dataclasses import dataclass
from itertools import product
from math import prod
from typing import Any, get_args

from sealpacket.core.coverage import Need, Route
from sealpacket.core.sheets.asking import Condition, Question
from sealpacket.core.sheets.conditions import holds

_MOST_CASES = 20_000
"""Of one condition; of all in a sheet ten times as many."""
_OTHER = "\0other"
"""Some value that no condition names."""

FACT_VALUES: dict[str, tuple[str, ...]] = {
    "packet.need": get_args(Need),
    "ruling.route": get_args(Route),
    "login.mailbox_read": ("yes", "no"),
}
"""Facts with a closed set of values."""


@dataclass
class Scope:
    """The shared context of a sheet's conditions: the kinds of request, and the number of cases that may still be
    tried."""

    needs: tuple[str, ...]
    cases: int = 10 * _MOST_CASES


def values_of(question: Question) -> Set[str] | None:
    """All answers that conditions may name, the upper parts of a tree too; None where any text can be one."""
    if question.form == "consent":
        return {"yes", "no"}
    if question.form == "country":
        return set(question.countries) or None
    if question.form not in ("choice", "tree", "several"):
        return None
    return question.first_below.keys()


def can_hold(condition: bool | Condition, asked: Mapping[str, Question], scope: Scope) -> bool:
    """Whether a condition holds for some answers, where an answer exists only if its question is shown.

    True as well where there are too many cases to try, for this condition or for all of the sheet.
    """
    if isinstance(condition, bool):
        return condition
    whole = [condition, *_shown_of(condition, asked)]
    atoms = [atom for one in whole for atom in _atoms(one)]
    domains = _domains(atoms, asked, scope.needs)
    count = prod(len(values) for values in domains.values())
    if count > min(_MOST_CASES, scope.cases):
        return True
    scope.cases -= count
    return any(_holds_here(condition, dict(zip(domains, case, strict=True)), asked)
               for case in product(*domains.values()))  # fmt: skip


def _holds_here(
    condition: Condition, case: Mapping[tuple[str, str], str | None], asked: Mapping[str, Question]
) -> bool:
    facts = {name: value for (sort, name), value in case.items() if sort == "fact" and value}
    answers: dict[str, str] = {}
    need = facts.get("packet.need")
    for question in asked.values():
        value = case.get(("question", question.id))
        if not value:
            continue
        if not holds(question.shown, answers, facts) or not _fits(question, value, need):
            return False
        answers[question.id] = value
    return holds(condition, answers, facts)


def _fits(question: Question, value: str, need: str | None) -> bool:
    way = question.ways.get(value)
    return (
        way is None or need is None or all(not one.needs or need in one.needs for one in way.whole)
    )


def _shown_of(condition: Condition, asked: Mapping[str, Question]) -> Iterator[Condition]:
    """The conditions under which the questions are asked that a condition looks at, and so on."""
    seen: set[str] = set()
    waiting = [condition]
    while waiting:
        for atom in _atoms(waiting.pop()):
            question = asked.get(atom.question or "")
            if question is None or question.id in seen:
                continue
            seen.add(question.id)
            if isinstance(question.shown, Condition):
                yield question.shown
                waiting.append(question.shown)


def _atoms(condition: Condition) -> Iterator[Condition]:
    if condition.question or condition.fact:
        yield condition
    for group in (condition.all, condition.any, condition.none):
        for inner in group or ():
            yield from _atoms(inner)


def _domains(
    atoms: list[Condition], asked: Mapping[str, Question], needs: tuple[str, ...]
) -> dict[tuple[str, str], list[str | None]]:
    found: dict[tuple[str, str], set[str | None]] = {}
    choosing = False
    for atom in atoms:
        sort, name = ("question", atom.question) if atom.question else ("fact", atom.fact or "")
        domain = found.setdefault((sort, str(name)), {None})
        domain |= set(atom.one_of or ())
        if atom.minimum is not None:
            domain |= {f"{atom.minimum:g}", f"{atom.minimum - 1:g}"}
        question = asked.get(atom.question or "")
        choosing |= question is not None and any(one.needs for one in question.choices)
    for (sort, name), values in found.items():
        values |= _possible(sort, name, values, asked, needs)  # noqa: PLW2901 - changed in place
        values &= _allowed(sort, name, values, asked, needs)  # noqa: PLW2901
    if choosing and ("fact", "packet.need") not in found:
        found[("fact", "packet.need")] = {*needs}
    return {name: sorted(domain, key=str) for name, domain in found.items()}


def _possible(
    sort: str, name: str, domain: set[Any], asked: Mapping[str, Question], needs: tuple[str, ...]
) -> set[str | None]:
    """Values that no condition names, one of each sort that matters."""
    if (sort, name) == ("fact", "packet.need"):
        return set(needs)
    question = asked.get(name) if sort == "question" else None
    if question is None or not question.ways:
        return {_OTHER}
    leaves = {question.first_below[value] for value in domain if value in question.first_below}
    named = tuple(f"{value}/" for value in domain if value)
    others = (leaf for leaf in question.ways if leaf not in domain and not leaf.startswith(named))
    return {*leaves, *itertools.islice(others, 1)}


def _allowed(
    sort: str, name: str, domain: set[Any], asked: Mapping[str, Question], needs: tuple[str, ...]
) -> set[Any]:
    if (sort, name) == ("fact", "packet.need"):
        return set(needs)
    if sort == "fact":
        return domain if name not in FACT_VALUES else {*FACT_VALUES[name], None}
    question = asked.get(name)
    if question is None:
        return domain
    if question.ways and question.form != "several":
        return {one for one in domain if one is None or one in question.ways}
    if question.form == "number":
        return {one for one in domain if one is None or one == _OTHER or _in_bounds(question, one)}
    values = values_of(question)
    return domain if values is None or question.form == "several" else {*values, None}


def _in_bounds(question: Question, value: str) -> bool:
    try:
        number = float(value)
    except ValueError:
        return False
    low, high = question.minimum, question.maximum
    return (low is None or number >= low) and (high is None or number <= high)
