"""Times in a line: each place in it that may be one, with what it says, before anybody knows what is meant."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Literal, get_args

from sealpacket.core.evidence.times.words import MONTHS, ZONES

HEAD = 400
"""Characters of a line in which its time is looked for."""
DAY = 24 * 3600 * 1_000_000
"""Microseconds."""
Family = Literal[
    "ymd", "num", "named", "month", "year-named", "digits", "six", "pair", "level", "ordinal", "epoch", "boot",
    "serial", "day",
]  # fmt: skip
Form = tuple[Family, str, bool]
"""The format that all lines of one program share: the family, its separator, and whether the time of day comes first.
"""


@dataclass(frozen=True, slots=True)
class Stamp:
    """Something like a time at `start` to `end` of a line.

    `parts` are the numbers of its date as they stand there (see `dates`), `clock` hours, minutes and seconds since
    midnight in microseconds, `zone` minutes east of UTC. `separator` and `clock_first` tell one form from another,
    `halves` whether it says before or after noon. Its seconds stand at `seconds_at`, where lines of one minute differ.
    """

    start: int
    end: int
    family: Family
    parts: tuple[int, ...] = ()
    clock: int | None = None
    zone: int | None = None
    zone_name: str = ""
    separator: str = ""
    clock_first: bool = False
    halves: bool = False
    seconds_at: int = -1

    @property
    def form(self) -> Form:
        """The format that all lines of one program share."""
        return self.family, self.separator, self.clock_first


_NAMES = "|".join(sorted(MONTHS, key=len, reverse=True))
_ZONES = "|".join(sorted(ZONES, key=len, reverse=True))
_CLOCK = (
    r"(?P<H>[01]?\d|2[0-4])(?P<ts>[:.h-])(?P<M>[0-5]\d)(?:(?P=ts)(?P<S>[0-5]\d|60))?(?!\d)"
    r"(?:[.,:](?P<F>\d{1,9})(?!\d|\.\d))?(?:[ \u202f\xa0]?(?P<P>[AaPp]\.[ \u202f\xa0]?[Mm]\.|[AaPp]\.?[Mm]\b\.?))?"
    r"(?:[ ]Uhr)?"
)
_ZONE = (
    rf"(?:(?P<z>[+-]\d\d(?::?\d\d)?)(?!\d|:\d)|[ ]?(?P<zl>[+-]\d\d:?[0-5]\d)(?!\d|:\d)|"
    rf"[ ]?\(?(?:(?P<u>UTC|GMT)(?P<uo>[+-]\d\d?(?::?\d\d)?)|(?P<zn>{_ZONES}|z))\)?(?![\w]))"
)
_BETWEEN = r"(?:[Tt]|[ \t_:,;|\"'-]{1,4}|[ ,]{1,2}(?:at|um|à|om|a las|kl)\.?[ ]|[\"' ]{1,2}[A-Za-z]{1,8}=[\"']?)"
GOES_ON = re.compile(
    rf"{_ZONE}|[ ]?[AaPp](?:\.?[Mm]\b|\.[ \u202f\xa0]?[Mm]\.)|[ ](?:19|20)\d\d(?!\d)"
)
"""Parts of a time that may follow its seconds."""
_AFTER = re.compile(rf"{_BETWEEN}{_CLOCK}{_ZONE}?(?:[ ](?P<Y>(?:19|20)\d\d)(?!\d))?")
_BEFORE = re.compile(rf"(?<![\w.:]){_CLOCK}[ ,;\t]{{1,2}}$")
_ALONE = re.compile(rf"[\[(\"]?(?P<stamp>{_CLOCK})(?!\w|:\w)")
_BRACKETED = re.compile(rf"\[(?P<stamp>{_CLOCK})\]")
_TIGHT = r"(?<![\w.])"
_DATES: tuple[tuple[Family, re.Pattern[str]], ...] = (
    ("ymd", re.compile(_TIGHT + r"(?P<a>(?:19|20)\d\d)(?P<s>[-/._:])(?P<b>\d{1,2})(?P=s)(?P<c>\d{1,2})(?!\d)")),
    ("ordinal", re.compile(_TIGHT + r"(?P<a>(?:19|20)\d\d)-(?P<b>[0-3]\d\d)(?=[Tt ])")),
    ("num", re.compile(
        _TIGHT + r"(?P<a>\d{1,2})(?P<s>[-/.])(?P<b>\d{1,2})(?P=s)(?P<c>(?:19|20)\d\d|\d\d)(?!\d|\.\d)")),
    ("year-named", re.compile(
        _TIGHT + rf"(?P<a>(?:19|20)\d\d)(?P<s>[ /-])(?P<b>{_NAMES})[ /-](?P<c>\d{{1,2}})(?!\d)", re.I)),
    ("named", re.compile(
        _TIGHT + rf"(?P<a>\d{{1,2}})(?:\.|er|st|nd|rd|th)?(?P<s>[ /-]|[ ]de[ ]|)(?P<b>{_NAMES})(?![^\W\d_])\.?"
        r"(?:(?:,?[ ]|[/-]|[ ]de[ ]|)(?P<c>(?:19|20)\d\d(?!\d)|\d\d(?=:\d\d:\d\d:\d\d|(?![\d:.h]))))?", re.I)),
    ("month", re.compile(
        rf"(?<![\w])(?P<a>{_NAMES})\.?[ ]{{1,2}}(?P<b>\d{{1,2}})(?:st|nd|rd|th)?(?![\d])"
        r"(?:,?[ ](?P<c>(?:19|20)\d\d)(?!\d))?", re.I)),
    ("month", re.compile(
        rf"(?<![\w])(?P<a>{_NAMES})(?P<s>[-/])(?P<b>\d{{1,2}})(?P=s)(?P<c>(?:19|20)\d\d|\d\d)(?!\d)", re.I)),
    ("pair", re.compile(_TIGHT + r"(?P<a>\d{1,2})(?P<s>[-/.])(?P<b>\d{1,2})\.?(?=[ T]\d{1,2}:\d\d)")),
)  # fmt: skip
_DIGITS = re.compile(
    r"(?<![\w.-])(?P<a>(?:19|20)\d\d)(?P<b>0[1-9]|1[0-2])(?P<c>0[1-9]|[12]\d|3[01])"
    r"(?:[Tt]?(?P<H>[01]\d|2[0-3])(?P<M>[0-5]\d)(?P<S>[0-5]\d|60)(?:[.,](?P<F>\d{1,9}))?(?!\d)"
    rf"{_ZONE}?|(?!\d))"
)
_SIX = re.compile(
    r"(?<![\w.-])(?P<a>\d\d)(?P<b>0[1-9]|1[0-2])(?P<c>0[1-9]|[12]\d|3[01])"
    r"(?:[ ](?P<H>[01]\d|2[0-3])(?P<M>[0-5]\d)(?P<S>[0-5]\d)(?![\d.])|(?=[ ]{1,2}\d{1,2}:\d\d:\d\d))"
)
_SIX_DIGITS = re.compile(
    r"[ _-](?P<H>[01]\d|2[0-3])(?P<M>[0-5]\d)(?P<S>[0-5]\d|60)(?:[.,](?P<F>\d{1,9}))?(?!\d)"
)
_LEVEL = re.compile(rf"^[A-Z](?P<a>0[1-9]|1[0-2])(?P<b>[0-3]\d)[ ]{_CLOCK}")
_COLUMNS = (",", ";", '","', '";"', "|")
_EPOCH = re.compile(
    r"(?<![\w./+-])(?<!\d:)(?P<whole>[1-4]\d{9})(?:(?P<more>\d{3}(?:\d{3}(?:\d{3})?)?)|[.,](?P<F>\d{1,9}))?(?![\w/-]|\.\d)"
)
_TAI = re.compile(r"(?<![\w@])@(?P<whole>4[0-9a-f]{15})(?P<nano>[0-9a-f]{8})?(?![0-9a-f])")
"""TAI64 and TAI64N: a count of seconds, and perhaps of nanoseconds, in hexadecimal digits."""
_TAI_AT_1970 = (1 << 62) + 10
"""The value that services write for the first second of 1970: leap seconds are left out, as by their clocks."""
_ZONE_BEFORE = re.compile(
    rf"(?<![\w])(?P<zone>{'|'.join(z for z in _ZONES.split('|') if len(z) > 2)})[ ]$"
)
_BOOT = re.compile(r"^(?:<\d{1,3}>)?\[[ ]{0,8}(?P<whole>\d{1,8})\.(?P<F>\d{3,9})\]")
_SERIAL = re.compile(
    r"(?:^|(?<=[,;\t|\"]))(?P<whole>[3-7]\d{4})(?:[.,](?P<F>\d{1,12}))?(?=[,;\t|\"]|$)"
)


ALL: frozenset[Family] = frozenset(get_args(Family))


def stamps_in(line: str, families: frozenset[Family] = ALL) -> Iterator[Stamp]:
    """Everything in the head of a line that may be a time of these families, in no order."""
    head = line[:HEAD]
    for family, pattern in _DATES:
        if family in families:
            for found in pattern.finditer(head):
                yield from _dated(family, found, head)
    for others, finder in _OTHERS:
        if not others.isdisjoint(families):
            yield from finder(head)


def _dated(family: Family, found: re.Match[str], head: str) -> Iterator[Stamp]:
    """A date with the time of day behind it, and with the one before it."""
    parts = _numbers(family, found)
    separator = found.groupdict().get("s") or ""
    start, end = found.span()
    before = _BEFORE.search(head[:start]) if len(parts) == 3 else None
    if before is not None:
        yield Stamp(
            before.start(), end, family, parts, _clock(before), None, "", separator, True,
            before["P"] is not None, before.start("S"),
        )  # fmt: skip
    after = _AFTER.match(head, end)
    if after is None:
        return
    if len(parts) == 2 and family in ("named", "month") and after["Y"]:
        parts, end = (*parts, int(after["Y"])), after.end()
    else:
        end = after.start("Y") - 1 if after["Y"] else after.end()
    zone, name = _zone(after)
    before = _ZONE_BEFORE.search(head[:start]) if zone is None else None
    if before is not None:
        start, zone, name = before.start(), ZONES[before["zone"]], before["zone"]
    halves = after["P"] is not None
    if (
        after["F"]
        and head[end : after.start("H")].strip(" \"'") in _COLUMNS
        and (head[after.start("F") - 1] == ",")
    ):  # date and time are columns, so that what follows is one, too
        yield Stamp(start, after.start("F") - 1, family, parts, _whole(after), separator=separator)
        return
    yield Stamp(
        start, end, family, parts, _clock(after), zone, name, separator, False, halves,
        after.start("S"),
    )  # fmt: skip


def _numbers(family: Family, found: re.Match[str]) -> tuple[int, ...]:
    groups = [found[one] for one in ("a", "b", "c") if found.groupdict().get(one)]
    return tuple(MONTHS[one.lower()] if one[:1].isalpha() else int(one) for one in groups)


def _digits(head: str) -> Iterator[Stamp]:
    for found in _DIGITS.finditer(head):
        start, parts = found.start(), (int(found["a"]), int(found["b"]), int(found["c"]))
        if found["H"]:
            zone, name = _zone(found)
            yield _in_minutes(start, found, "digits", parts, zone, name)
        elif (tight := _SIX_DIGITS.match(head, found.end())) is not None:
            yield _in_minutes(start, tight, "digits", parts)
        elif (after := _AFTER.match(head, found.end())) is not None:
            zone, name = _zone(after)
            yield _in_minutes(start, after, "digits", parts, zone, name, ":")


def _in_minutes(
    start: int, found: re.Match[str], family: Family, parts: tuple[int, ...],
    zone: int | None = None, name: str = "", separator: str = "",
) -> Stamp:  # fmt: skip
    """A stamp that ends with the match, which holds hours, minutes and seconds."""
    seconds = found.start("S")
    return Stamp(
        start, found.end(), family, parts, _clock(found), zone, name, separator, seconds_at=seconds
    )


def _six(head: str) -> Iterator[Stamp]:
    for found in _SIX.finditer(head):
        parts = (int(found["a"]), int(found["b"]), int(found["c"]))
        after = found if found["H"] else _AFTER.match(head, found.end())
        if after is not None:
            yield _in_minutes(found.start(), after, "six", parts)


def _level(head: str) -> Iterator[Stamp]:
    if (found := _LEVEL.match(head)) is not None:
        yield _in_minutes(0, found, "level", (int(found["a"]), int(found["b"])))


def _alone(head: str) -> Iterator[Stamp]:
    found = _ALONE.match(head) or _BRACKETED.search(head)
    if found is not None and found["S"] is not None:
        yield replace(
            _in_minutes(0, found, "day", ()), start=found.start("stamp"), end=found.end("stamp")
        )


def _counted(head: str) -> Iterator[Stamp]:
    """Numbers that count from some moment: 1970, the start of a machine, or the first day of spreadsheets."""
    for found in _EPOCH.finditer(head):
        more = found["more"] or found["F"]
        micro = int(found["whole"]) * 1_000_000 + microseconds(more)
        yield Stamp(*found.span(), "epoch", (len(found["more"] or ""),), micro, 0)
    for found in _TAI.finditer(head):
        seconds = int(found["whole"], 16) - _TAI_AT_1970
        if 0 < seconds < 1 << 33:
            micro = seconds * 1_000_000 + int(found["nano"] or "0", 16) // 1000
            yield Stamp(*found.span(), "epoch", (), micro, 0, separator="@")
    if (boot := _BOOT.match(head)) is not None:
        micro = int(boot["whole"]) * 1_000_000 + microseconds(boot["F"])
        yield Stamp(*boot.span(), "boot", (), micro)
    for found in _SERIAL.finditer(head):
        share = float(f"0.{found['F'] or 0}")
        yield Stamp(*found.span(), "serial", (int(found["whole"]),), round(share * DAY))


_OTHERS: tuple[tuple[frozenset[Family], Callable[[str], Iterator[Stamp]]], ...] = (
    (frozenset({"digits"}), _digits),
    (frozenset({"six"}), _six),
    (frozenset({"level"}), _level),
    (frozenset({"epoch", "boot", "serial"}), _counted),
    (frozenset({"day"}), _alone),
)


def microseconds(digits: str | None) -> int:
    """A fraction of a second, from its digits behind the point; 0 for none."""
    return int(f"{digits or 0:0<6}"[:6])


def _clock(found: re.Match[str]) -> int:
    """Microseconds since midnight."""
    hours, minutes, seconds = int(found["H"]), int(found["M"]), int(found["S"] or 0)
    half = found.groupdict().get("P")
    if half:
        hours = hours % 12 + (12 if half[0] in "pP" else 0)
    fraction = microseconds(found.groupdict().get("F"))
    return ((hours * 60 + minutes) * 60 + seconds) * 1_000_000 + fraction


def _whole(found: re.Match[str]) -> int:
    clock = _clock(found)
    return clock - clock % 1_000_000


def _zone(found: re.Match[str]) -> tuple[int | None, str]:
    """Minutes east of UTC, and the name of the zone if it is written."""
    if found["zn"]:
        name = found["zn"].upper()
        return ZONES[name], name if name != "Z" else ""
    offset = found["z"] or found["zl"] or found["uo"]
    if offset is None:
        return None, ""
    digits = offset[1:].replace(":", "")
    minutes = int(digits[:2]) * 60 + int(digits[2:] or 0)
    return (-minutes if offset[0] == "-" else minutes), ""
