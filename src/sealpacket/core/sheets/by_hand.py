"""A packet that a person enters: every field in the desk's order, ready to be copied or read out on the telephone."""

from __future__ import annotations

import json
import re
from importlib import resources

from pydantic import BaseModel, ConfigDict

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.conversion import plain
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.sending import AlsoBy, ByHand
from sealpacket.core.sheets.writing.cases import Case

_WORDS = (
    "Alfa", "Bravo", "Charlie", "Delta", "Echo", "Foxtrot", "Golf", "Hotel", "India", "Juliett", "Kilo", "Lima",
    "Mike", "November", "Oscar", "Papa", "Quebec", "Romeo", "Sierra", "Tango", "Uniform", "Victor", "Whiskey",
    "X-ray", "Yankee", "Zulu",
)  # fmt: skip
"""The spelling alphabet of radio telephony (ICAO, ITU)."""
_DIGITS = ("zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine")
_MARKS = {
    "-": "dash",
    "/": "slash",
    ".": "dot",
    "_": "underscore",
    "@": "at",
    "+": "plus",
    "#": "hash",
    ":": "colon",
}
_MIXED = re.compile(r"(?=.*[0-9])[A-Za-z0-9./_#:-]{4,40}")
"""A value that is easily misheard: one word with digits, such as a serial."""


class HandField(BaseModel):
    """One field to enter: its label at the desk, what is entered, and how that is spelled on the telephone."""

    model_config = ConfigDict(frozen=True)

    label: str
    value: str
    spelled: str = ""


def any_vendor_sheet(desk: str, vendor: str, name: str) -> str:
    """A sheet for a vendor whose desk nobody has described: what support desks usually ask, entered by a person."""
    text = resources.files("sealpacket.core.sheets").joinpath("any_vendor.yaml").read_text("utf-8")
    named = {"desk: DESK": desk, "vendor: VENDOR": vendor, "name: NAME": json.dumps(name)}
    for line, value in named.items():
        text = text.replace(line, f"{line.split(':')[0]}: {value}", 1)
    return text


def fields_of(sheet: Sheet, case: Case, by: str = "") -> tuple[HandField, ...]:
    """The fields of a case in the desk's own order, on its first way or on the one named; only what has a value."""
    way = way_of(sheet.send, by) if isinstance(sheet.send, ByHand) else None
    order = way.order if isinstance(way, AlsoBy) and way.order else (*case.body,)
    spoken = way is not None and way.by == "telephone"
    return tuple(
        HandField(label=label, value=text, spelled=spell(text) if spoken else "")
        for label in order
        if (text := plain(case.body.get(label)))
    )


def way_of(send: ByHand, by: str) -> ByHand | AlsoBy:
    """The way to a desk by hand of that name; its first where none is named. Raises Invalid where it has none."""
    ways: dict[str, ByHand | AlsoBy] = {send.by: send, **{one.by: one for one in send.also}}
    if by and by not in ways:
        raise Invalid(
            f"The desk has no way by {by}.",
            f"There are {', '.join(ways)}.",
            code="no-way",
            field="by",
        )
    return ways.get(by, send)


def spell(text: str) -> str:
    """A serial or the like, letter by letter; empty for what is said as it is."""
    if not _MIXED.fullmatch(text):
        return ""
    return " ".join(_spelled(one) for one in text)


def _spelled(one: str) -> str:
    if one.isdigit():
        return _DIGITS[int(one)]
    return _MARKS.get(one) or _WORDS[ord(one.upper()) - ord("A")]
