"""Whether a sheet's condition holds, and the sentence that says why. The console has the same in conditions.ts."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sealpacket.core.sheets.asking import Condition, Question
from sealpacket.core.words import joined


def holds(
    condition: bool | Condition, values: Mapping[str, str], facts: Mapping[str, Any] | None = None
) -> bool:
    """Evaluate a condition over answers and facts. A tree's answer also counts as each of its upper parts."""
    if isinstance(condition, bool):
        return condition
    verdicts: list[bool] = []
    if condition.question is not None or condition.fact is not None:
        value = (
            values.get(condition.question) if condition.question else _fact(condition.fact, facts)
        )
        if condition.one_of is not None:
            verdicts.append(
                value is not None
                and any(value == v or value.startswith(v + "/") for v in condition.one_of)
            )
        if condition.answered is not None:
            verdicts.append(bool(value) == condition.answered)
        if condition.minimum is not None:
            number = _number(value)
            verdicts.append(number is not None and number >= condition.minimum)
    if condition.all is not None:
        verdicts.append(all(holds(inner, values, facts) for inner in condition.all))
    if condition.any is not None:
        verdicts.append(any(holds(inner, values, facts) for inner in condition.any))
    if condition.none is not None:
        verdicts.append(not any(holds(inner, values, facts) for inner in condition.none))
    return all(verdicts)


def _fact(name: str | None, facts: Mapping[str, Any] | None) -> str | None:
    found = (facts or {}).get(name or "")
    value = getattr(found, "value", found)
    return None if value in (None, "") else str(value)


def _number(value: str | None) -> float | None:
    """The number with which a value begins, as in `3 kVA`."""
    try:
        return float((value or "").split(" ", 1)[0])
    except ValueError:
        return None


def sentence(condition: bool | Condition, asked: Mapping[str, Question]) -> str:
    """The condition in words, to go after "asked because": “Which country?” is France. `asked` by their names."""
    return "" if isinstance(condition, bool) else _say(condition, asked)


def _say(condition: Condition, asked: Mapping[str, Question]) -> str:
    said: list[str] = []
    if condition.question or condition.fact:
        question = asked.get(condition.question or "")
        name = f"“{question.ask}”" if question else fact_name(condition.fact or "")
        if condition.one_of is not None:
            labels = [
                " › ".join(question.labels(v)) or v if question else v for v in condition.one_of
            ]
            said.append(f"{name} is {joined(labels, 'or')}")
        if condition.answered is not None:
            said.append(
                f"{name} is {'' if condition.answered else 'not '}{'answered' if question else 'known'}"
            )
        if condition.minimum is not None:
            said.append(f"{name} is {condition.minimum:g} or more")
    said += [_say(inner, asked) for inner in condition.all or ()]
    if condition.any:
        said.append(" or ".join(_say(inner, asked) for inner in condition.any))
    if condition.none:
        said.append(
            "it is not so that " + " or ".join(_say(inner, asked) for inner in condition.none)
        )
    return ", and ".join(said)


_NAMES = {
    "packet.need": "the kind of need",
    "ruling.route": "the route",
    "house.name": "our organisation",
}


def fact_name(path: str) -> str:
    """A fact in words: the site's country."""
    owner, _, name = path.partition(".")
    return _NAMES.get(path) or f"the {owner}’s {name.replace('_', ' ')}"
