"""Which of the times in its lines are the times of a log, and how they are to be read."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from functools import cached_property
from itertools import pairwise

from sealpacket.core.evidence.times.dates import order_of, tells_year
from sealpacket.core.evidence.times.stamps import DAY, HEAD, Family, Form, Stamp, stamps_in
from sealpacket.core.evidence.times.words import DOUBTFUL_ZONES

Slot = tuple[str, str]
_KEY = re.compile(
    r"(?:[\"']([@\w.$ -]{1,30})[\"']\s?:\s?[\"']?|\b([\w.-]{1,30})=[\"']?|<([\w:]{1,30})[^<>]{0,60}>|\b(\w{1,12})\()$"
)
_TELLING = re.compile(
    r"(?i)^@?(?:(?:event|log|start|creation|created|received|system)?[ _.]?"
    r"(?:time|date|datum|when|timestamp|at|on)|ts|t|"
    r"time[_.]?(?:stamp|created|generated|local|utc|iso8601)|date[_ .]?time|audit|\$date|systemtime)$"
)
_OTHER = re.compile(
    r"(?i)expir|until|valid|not.?(?:after|before)|birth|due|modif|updat|next|last|previous|end|from|to\b|start"
)
_ENDING = re.compile(
    r"(?i)\b(ends?|until|till|expires?|expired|next|to|due|bis|jusqu'au|hasta|tot)\b[ \d:(]{0,8}$"
)
_COLUMN = re.compile(r"[,;\t|]")
_ENOUGH = 0.3
"""Minimum share of lines for a time of day, or a number, to count as the time of a line."""


@dataclass(frozen=True)
class TimeFormat:
    """How the times of a log are written: in which places (`slots`) and forms.

    `orders` tells by family in which order year, month and day stand.

    `first_day` is the year (where none is told) or the day (where only the time of day is) that its first line has.
    Times are looked for in the first `reach` characters of a line. `counts`: years or days are not told and have to be
    counted. `doubts` says what could be meant otherwise, `unsure_days` whether day and month could be exchanged.
    """

    slots: frozenset[Slot]
    forms: frozenset[Form]
    orders: Mapping[Family, str]
    first_day: date
    counts: bool
    reach: int
    doubts: tuple[str, ...] = ()
    unsure_days: bool = False

    def stamp_of(self, line: str) -> Stamp | None:
        """The time of a line, if it has one: the first at the place where this log writes its own."""
        found = [
            stamp
            for stamp in stamps_in(line[: self.reach], self.families)
            if stamp.form in self.forms and slot_of(line, stamp) in self.slots
        ]
        return min(found, key=lambda stamp: (stamp.start, -stamp.end), default=None)

    @cached_property
    def families(self) -> frozenset[Family]:
        """The families of its forms."""
        return frozenset(form[0] for form in self.forms)


def slot_of(line: str, stamp: Stamp) -> Slot:
    """The place of a time in its line: the key before it, or the number of words or columns before it."""
    if stamp.start == 0:
        return "word", "0"
    before = line[: stamp.start]
    key = _KEY.search(before[-64:])
    if key is not None:
        return "key", next(name for name in key.groups() if name).lower()
    ending = _ENDING.search(before[-24:])
    if ending is not None:
        return "ending", ending[1].lower()
    bare = re.sub(r"\[[^\]]*\]|\"[^\"]*\"|\([^)]*\)", "_", before)
    if stamp.family == "serial" or (_COLUMN.search(bare) and " " not in bare.strip()):
        return "column", str(len(_COLUMN.findall(bare)))
    indent = "inner" if before[:1].isspace() else "word"
    return indent, f"{len(bare.split())}{before[-1:] if before[-1:] in '[(*<>' else ''}"


def recognise(lines: Sequence[str], near: datetime | None = None) -> TimeFormat | None:
    """Recognise the time format of a log from consecutive lines; None if it has no times.

    `near` is when it was written last; where years or days are not told, those before it are meant.
    """
    latest = near or datetime.now(UTC)
    seen: dict[Slot, list[tuple[int, str, Stamp]]] = defaultdict(list)
    for place, line in enumerate(lines):
        for stamp in _outermost(stamps_in(line)):
            if not _glued(line, stamp):
                seen[slot_of(line, stamp)].append((place, line, stamp))
    count = sum(1 for line in lines if line.strip())
    rated = {
        slot: _worth(slot, places, count)
        for slot, places in seen.items()
        if _believed(places, count)
    }
    if not rated:
        return None
    best = max(rated, key=lambda slot: rated[slot])
    slots = _with_others(best, seen)
    chosen = sorted(
        (one for slot in slots for one in seen[slot]), key=lambda one: (one[0], one[2].start)
    )
    families = Counter(stamp.form for _, _, stamp in chosen)
    main = families.most_common(1)[0][0]
    forms = {
        form
        for form, n in families.items()
        if (form[0], form[2]) == (main[0], main[2]) or n * 20 >= len(chosen)
    }
    stamps = [stamp for _, _, stamp in chosen if stamp.form in forms]
    leading = [stamp for stamp in stamps if stamp.family == main[0]]
    found = {
        family: order_of([one for one in stamps if one.family == family], latest.date())
        for family in {stamp.family for stamp in stamps}
    }
    orders = {family: order for family, (order, _) in found.items()}
    doubts = [
        f"day and month could be the other way round ({order})"
        for order, doubtful in found.values()
        if doubtful
    ]
    unsure = bool(doubts)
    shared = {stamp.zone_name for stamp in stamps} & DOUBTFUL_ZONES
    doubts += [f"several zones are called {name}" for name in sorted(shared)]
    reach = min(HEAD, max(stamp.end for stamp in stamps) * 2 + 32)
    counts = any(not tells_year(one) for one in leading)
    first = _first_day(leading, orders[main[0]], latest.date())
    return TimeFormat(
        frozenset(slots), frozenset(forms), orders, first, counts, reach, tuple(doubts), unsure
    )


def _outermost(stamps: Iterable[Stamp]) -> list[Stamp]:
    """Without those that are a part of another one."""
    found = sorted(stamps, key=lambda one: (one.start, -one.end))
    kept: list[Stamp] = []
    for stamp in found:
        if not kept or stamp.start >= kept[-1].end or stamp.end > kept[-1].end:
            kept.append(stamp)
    return kept


def _glued(line: str, stamp: Stamp) -> bool:
    """Whether it is a part of a word, such as the name of a file."""
    return stamp.start > 0 and (line[stamp.start - 1].isalnum() or line[stamp.start - 1] in "._/")


def _believed(places: list[tuple[int, str, Stamp]], count: int) -> bool:
    """Numbers and times of day may be something else; they have to be in many lines."""
    family = places[0][2].family
    if family in ("epoch", "day", "serial"):
        many = len({place for place, _, _ in places}) >= max(1, count * _ENOUGH)
        fractions = family != "serial" or any(stamp.clock for _, _, stamp in places)
        return many and fractions
    return True


def _worth(slot: Slot, places: list[tuple[int, str, Stamp]], count: int) -> float:
    """How likely a place is the one of the lines' own times."""
    share = len({place for place, _, _ in places}) / max(1, count)
    start = sum(stamp.start for _, _, stamp in places) / len(places)
    worth = share / (1 + start / 120)
    family = places[0][2].family
    worth *= {"day": 0.3, "serial": 0.4, "epoch": 0.8 if start < 16 else 0.5}.get(family, 1.0)
    if family == "epoch" and slot[0] == "key" and _TELLING.match(slot[1]):
        worth *= 1.6
    worth *= {"inner": 0.2, "ending": 0.1}.get(slot[0], 1.0)
    if slot[0] == "key":
        worth *= 1.5 if _TELLING.match(slot[1]) else 0.5 if _OTHER.search(slot[1]) else 1.0
    varied = len({(stamp.parts, stamp.clock) for _, _, stamp in places})
    if len(places) > 3 and varied == 1:
        worth *= 0.5
    return worth


def _with_others(best: Slot, seen: dict[Slot, list[tuple[int, str, Stamp]]]) -> set[Slot]:
    """The best place, and those that other lines have in its stead: programs that write into one file."""
    slots = {best}
    covered = {place for place, _, _ in seen[best]}
    forms = {stamp.form for _, _, stamp in seen[best]}
    for slot, places in sorted(seen.items(), key=lambda one: -len(one[1])):
        free = [one for one in places if one[0] not in covered]
        if slot in slots or slot[0] in ("inner", "ending") or len(free) * 20 < len(covered):
            continue
        if slot[0] == "key" and _OTHER.search(slot[1]):
            continue
        same = [one for one in free if one[2].form in forms or one[2].start < 8]
        if len(same) * 2 > len(free) and min(stamp.start for _, _, stamp in same) < 48:
            slots.add(slot)
            covered |= {place for place, _, _ in free}
    return slots


def _first_day(stamps: Sequence[Stamp], order: str, latest: date) -> date:
    """The year of the first line, or its day, if it is not written: the last line is as late as possible."""
    if stamps[0].family == "day":
        clocks = [stamp.clock or 0 for stamp in stamps]
        nights = sum(a - b > DAY // 2 for a, b in pairwise(clocks))
        return date.fromordinal(latest.toordinal() - nights)
    if tells_year(stamps[0]):
        return latest
    days = [_month_day(stamp, order) for stamp in stamps]
    turns = sum(a[0] - b[0] > 6 for a, b in pairwise(days))
    last = days[-1]
    after = last > ((latest.month, latest.day + 1) if latest.day < 28 else (latest.month + 1, 1))
    year = latest.year - (1 if after else 0) - turns
    return date(year, 1, 1)


def _month_day(stamp: Stamp, order: str) -> tuple[int, int]:
    told = dict(zip(order, stamp.parts, strict=False))
    return told["m"], told["d"]
