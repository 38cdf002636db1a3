"""The ruling against what the desk takes."""

from __future__ import annotations

from collections.abc import Iterator

from sealpacket.core.coverage import Ruling
from sealpacket.core.coverage.ruling import NEED_WORDS
from sealpacket.core.sheets.checks.result import Check, passed
from sealpacket.core.sheets.model import Sheet


def check_cover(sheet: Sheet, ruling: Ruling | None) -> Iterator[Check]:
    """Whether there is a thing, its cover holds, and the desk takes this need by this route."""
    if ruling is None:
        yield Check(
            code="no-thing",
            level="stop",
            sentence="The packet does not say what it is about.",
            remedy="Name the asset.",
            act="name_thing",
        )
        return
    for warning in ruling.warnings:
        yield Check(
            code="cover-warning",
            level="warn",
            sentence=warning,
            remedy="Read the ruling.",
            act="open_ruling",
        )
    kind = sheet.kind(ruling.need)
    if kind is None:
        yield Check(
            code="wrong-need",
            level="stop",
            act="open_ruling",
            sentence=f"{sheet.name} does not take {NEED_WORDS[ruling.need]}.",
            remedy="Choose another kind of need, or another desk: one of the vendor's, or by hand.",
        )
    elif kind.cover == "not_wanted":
        yield passed("cover", f"{sheet.name} takes this whether or not a contract covers it.")
    elif not ruling.holds:
        cure = ruling.cures[0] if ruling.cures else None
        yield Check(
            code="cover",
            level="stop",
            sentence=ruling.reasons[-1],
            remedy=cure.sentence if cure else "Find out with the vendor what would cover it.",
            act=cure.act if cure else "",
            target=(cure.target or "") if cure else "",
        )
    elif ruling.route not in kind.routes:
        yield Check(
            code="wrong-route",
            level="stop",
            act="open_ruling",
            sentence=f"This goes by {ruling.route}, and {sheet.name} does not take that.",
            remedy="Choose the desk for this route.",
        )
    else:
        yield passed(
            "cover",
            f"Covered by contract {ruling.contract}." if ruling.contract else "The route is open.",
        )
