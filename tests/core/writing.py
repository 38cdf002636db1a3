"""What a sheet writes of answers, for tests of sheets."""

from __future__ import annotations

from sealpacket.core.sheets import (
    Sheet,
    Written,
    answers_for,
    cases_of,
    lint,
    sample_values,
    write_case,
)
from sealpacket.core.sheets.sampling import sample_facts


def faultless(text: str) -> Sheet:
    """The sheet of a text in which nothing is found."""
    sheet, found = lint(text)
    assert found == []
    assert sheet is not None
    return sheet


def written(sheet: Sheet, need: str, **typed: str) -> Written:
    """What is written of these answers."""
    facts = sample_facts(sheet, {"packet.need": need})
    answers = answers_for(sheet, typed, facts)
    return write_case(sheet, cases_of(sheet, sample_values(sheet, answers, facts))[0])
