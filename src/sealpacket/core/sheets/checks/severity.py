"""The severity, and what it obliges us to."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from sealpacket.core.sheets.answers import Answer, People, severity_of
from sealpacket.core.sheets.asking import Duty
from sealpacket.core.sheets.checks.result import Check, passed
from sealpacket.core.sheets.model import Sheet


def check_severity(sheet: Sheet, answers: Sequence[Answer], people: People) -> Iterator[Check]:
    """Whether those who are named can do what a choice or level promises."""
    named = [a for a in answers if a.value and a.shown and a.question in sheet.on_duty]
    for label, duties, target in _chosen(sheet, answers):
        for contact in named:
            person = people.get(contact.value or "")
            if person is None or "reachable_day_and_night" not in duties:
                continue
            faults = [*duty_faults(label, duties, [person], people)]
            standby = _on_standby(people)
            for fault in faults:
                yield fault.model_copy(
                    update={"act": "answer", "target": contact.question if standby else target}
                )
            if not faults:
                yield passed("duty", f"{person['name']} is reachable day and night.")


def duty_faults(
    label: str, duties: Sequence[Duty], contacts: Sequence[Mapping[str, Any]], people: People
) -> Iterator[Check]:
    """Duties of a severity that the contacts cannot meet."""
    if "reachable_day_and_night" not in duties:
        return
    standby = _on_standby(people)
    for person in contacts:
        if not person.get("on_call"):
            yield Check(
                code="duty",
                level="stop",
                sentence=f"“{label}” needs a person reachable day and night, and {person['name']} is not.",
                remedy=f"Name {standby[0]} as contact" if standby else "Choose a lower severity",
            )


def _on_standby(people: People) -> list[str]:
    return sorted(p["name"] for p in people.values() if p.get("on_call") and not p.get("away"))


def _chosen(sheet: Sheet, answers: Sequence[Answer]) -> Iterator[tuple[str, tuple[Duty, ...], str]]:
    for answer in answers:
        question = sheet.question(answer.question)
        if (
            question is None
            or not answer.value
            or not answer.shown
            or question.form not in ("choice", "tree")
        ):
            continue
        way = question.ways.get(answer.value)
        if way is not None:
            yield way.leaf.label, way.leaf.duties, question.id
    rule = sheet.severity
    if rule is not None and rule.computed is not None:
        level = severity_of(sheet, answers)
        for one in rule.levels:
            if one.value == level:
                yield one.label, one.duties, rule.computed.impact
