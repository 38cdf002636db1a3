"""A packet that a person enters: every field in the desk's order, ready to be copied or read out on the telephone."""

from __future__ import annotations

import json
import re
from importlib import resources

from pydantic import BaseModel, ConfigDict

from sealpacket.core.sheets.conversion import plain
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.sending import ByHand
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
"""What is easily misheard: one word with digits in it, such as a serial."""


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


def fields_of(sheet: Sheet, case: Case) -> tuple[HandField, ...]:
    """The fields of a case in the desk's own order; only what has a value is entered."""
    spoken = isinstance(sheet.send, ByHand) and sheet.send.by == "telephone"
    return tuple(
        HandField(label=label, value=text, spelled=spell(text) if spoken else "")
        for label, value in case.body.items()
        if (text := plain(value))
    )


def spell(text: str) -> str:
    """A serial or the like, letter by letter; empty for what is said as it is."""
    if not _MIXED.fullmatch(text):
        return ""
    return " ".join(_spelled(one) for one in text)


def _spelled(one: str) -> str:
    if one.isdigit():
        return _DIGITS[int(one)]
    return _MARKS.get(one) or _WORDS[ord(one.upper()) - ord("A")]
