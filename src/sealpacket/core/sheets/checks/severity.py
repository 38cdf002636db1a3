"""The severity, and what it obliges us to."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from sealpacket.core.sheets.answers import Answer, People, severity_of
from sealpacket.core.sheets.asking import Duty
from sealpacket.core.sheets.checks.result import Check, passed
from sealpacket.core.sheets.model import Sheet


def check_severity(sheet: Sheet, answers: Sequence[Answer], people: People) -> Iterator[Check]:
    """Whether those who are named can do what a choice or level promises."""
    named = [
        a
        for a in answers
        if a.value and a.shown and (q := sheet.question(a.question)) and q.form == "person"
    ]
    for label, duties, target in _chosen(sheet, answers):
        if "reachable_day_and_night" not in duties:
            continue
        for contact in named:
            person = people.get(contact.value or "")
            if person and not person.get("on_call"):
                standby = sorted(
                    p["name"] for p in people.values() if p.get("on_call") and not p.get("away")
                )
                yield Check(
                    code="duty",
                    level="stop",
                    sentence=f"“{label}” needs a person reachable day and night, and {person['name']} is not.",
                    remedy=f"Name {standby[0]} as contact"
                    if standby
                    else "Choose a lower severity",
                    act="answer",
                    target=contact.question if standby else target,
                )
            elif person:
                yield passed("duty", f"{person['name']} is reachable day and night.")


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
    if rule is not None and rule.set_by == "computed":
        level = severity_of(sheet, answers)
        for one in rule.levels:
            if one.value == level:
                yield one.label, one.duties, rule.impact
