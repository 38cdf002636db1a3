"""The case as it would be written, against the desk's own schema or form."""

from __future__ import annotations

from collections.abc import Iterator

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.checks.result import Check, passed
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.values import OutgoingValues
from sealpacket.core.sheets.writing import cases_of, written_faults


def check_writing(sheet: Sheet, values: OutgoingValues) -> Iterator[Check]:
    """Faults that the desk's schema or form would refuse."""
    if sheet.write.format not in ("xml", "pdf", "mail"):
        return
    try:
        cases = cases_of(sheet, values)
        faults = [fault for case in cases for fault in written_faults(sheet, case)]
    except Invalid as fault:
        faults = [fault.detail]
    for told in faults[:5]:
        yield Check(
            code="written-form",
            level="stop",
            sentence=f"{sheet.name}'s own form says: {told}",
            act="open_letter",
            remedy="Correct the answer, or the record that it comes from; the letter shows the written case",
        )
    if not faults:
        yield passed("written-form", "It is written as the desk's own form wants it.")
