"""Checks: a packet against desk, register and evidence, before the desk would say it."""

from __future__ import annotations

from collections.abc import Sequence

from sealpacket.core.coverage import Ruling
from sealpacket.core.sheets.answers import Answer, Facts, People, known_for
from sealpacket.core.sheets.checks.answering import check_answers
from sealpacket.core.sheets.checks.before import check_before
from sealpacket.core.sheets.checks.colleague import Seen, check_as_colleague
from sealpacket.core.sheets.checks.cover import check_cover
from sealpacket.core.sheets.checks.evidence import (
    ExhibitState,
    check_evidence,
    check_exhibits,
    check_others,
)
from sealpacket.core.sheets.checks.result import Check, CheckLevel, in_order, say_size
from sealpacket.core.sheets.checks.severity import check_severity
from sealpacket.core.sheets.checks.typed import Typed, check_typed, found_in
from sealpacket.core.sheets.checks.writing import check_writing
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.outgoing import outgoing_values, typed_texts

__all__ = ["Check", "CheckLevel", "ExhibitState", "Seen", "Typed", "check_packet", "say_size"]


def check_packet(
    sheet: Sheet,
    answers: Sequence[Answer],
    ruling: Ruling | None,
    exhibits: Sequence[ExhibitState],
    people: People,
    facts: Facts | None = None,
    seen: Seen | None = None,
    typed: Typed | None = None,
) -> tuple[Check, ...]:
    """Every check of the packet, stops first. `people` are those who can be named, `seen` what a colleague knows.

    `typed` is what was found in the typed texts; None for a sample, which nobody typed.
    """
    facts = facts or {}
    typed = typed or found_in(typed_texts(sheet, answers, facts))
    kind = sheet.kind(ruling.need) if ruling else None
    checks = [
        *check_cover(sheet, ruling),
        *check_before(sheet, answers, ruling, facts),
        *check_answers(sheet, answers, people, facts),
        *check_severity(sheet, answers, people),
        *check_exhibits(
            sheet.attachments, exhibits, sheet.name, wanted=kind is None or kind.technical
        ),
        *check_evidence(sheet, answers, exhibits, facts),
        *check_others(sheet, answers, exhibits, facts),
        *check_typed(sheet, typed, known_for(answers, facts, people)),
        *check_as_colleague(sheet, answers, people, facts, seen or Seen()),
    ]
    if (
        not any(check.level == "stop" and check.act == "answer" for check in checks)
        and ruling is not None
    ):
        checks += check_writing(
            sheet, outgoing_values(sheet, answers, facts, people, typed.outgoing())
        )
    return in_order(checks)
