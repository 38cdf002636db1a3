"""Logs of many kinds, made up from parts: ways to write a time, places to put it, and words around it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, timezone
from random import Random

_EN = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]
_DE = [
    "Januar",
    "Februar",
    "März",
    "April",
    "Mai",
    "Juni",
    "Juli",
    "August",
    "September",
    "Oktober",
    "November",
    "Dezember",
]
_FR = [
    "janv.",
    "févr.",
    "mars",
    "avr.",
    "mai",
    "juin",
    "juil.",
    "août",
    "sept.",
    "oct.",
    "nov.",
    "déc.",
]
_ES = [
    "enero",
    "febrero",
    "marzo",
    "abril",
    "mayo",
    "junio",
    "julio",
    "agosto",
    "septiembre",
    "octubre",
    "noviembre",
    "diciembre",
]
_NL = ["jan", "feb", "mrt", "apr", "mei", "jun", "jul", "aug", "sep", "okt", "nov", "dec"]
_WEEK = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"]
_CET = timezone(timedelta(hours=1))
_WORDS = (
    "reader", "volume", "latency", "port", "down", "up", "retry", "lease", "belt", "jam", "sorter", "timeout", "queue",
)  # fmt: skip

Writer = Callable[[datetime], str]
WRITERS: dict[str, tuple[Writer, str]] = {
    "rfc": (lambda t: f"{t:%Y-%m-%dT%H:%M:%S}Z", "utc"),
    "rfc-ms": (lambda t: f"{t:%Y-%m-%dT%H:%M:%S}.{t.microsecond // 1000:03d}+01:00", "cet"),
    "sql": (lambda t: f"{t:%Y-%m-%d %H:%M:%S}", ""),
    "comma": (lambda t: f"{t:%Y-%m-%d %H:%M:%S},{t.microsecond // 1000:03d}", ""),
    "slashes": (lambda t: f"{t:%Y/%m/%d %H:%M:%S}", ""),
    "dots": (lambda t: f"{t:%d.%m.%Y %H:%M:%S}", ""),
    "dots-short": (lambda t: f"{t:%d.%m.%y %H:%M:%S}", ""),
    "day-first": (lambda t: f"{t:%d/%m/%Y %H:%M:%S}", ""),
    "month-first": (lambda t: f"{t:%m/%d/%Y %H:%M:%S}", ""),
    "halves": (lambda t: f"{t.month}/{t.day}/{t.year} {t:%I:%M:%S %p}".replace(" 0", " "), ""),
    "dashes": (lambda t: f"{t:%d-%m-%Y %H:%M:%S}", ""),
    "year-short": (lambda t: f"{t:%y/%m/%d %H:%M:%S}", ""),
    "syslog": (lambda t: f"{_EN[t.month - 1]} {t.day:2d} {t:%H:%M:%S}", ""),
    "web": (lambda t: f"[{t.day:02d}/{_EN[t.month - 1]}/{t:%Y:%H:%M:%S} +0100]", "cet"),
    "ctime": (lambda t: f"{_WEEK[t.weekday()]} {_EN[t.month - 1]} {t.day:2d} {t:%H:%M:%S %Y}", ""),
    "mail": (
        lambda t: f"{_WEEK[t.weekday()]}, {t.day:02d} {_EN[t.month - 1]} {t:%Y %H:%M:%S} +0000", "utc",
    ),
    "german": (lambda t: f"{t.day}. {_DE[t.month - 1]} {t:%Y, %H:%M:%S} Uhr", ""),
    "french": (lambda t: f"{t.day} {_FR[t.month - 1]} {t:%Y} à {t:%H:%M:%S}", ""),
    "spanish": (lambda t: f"{t.day} de {_ES[t.month - 1]} de {t:%Y %H:%M:%S}", ""),
    "dutch": (lambda t: f"{t.day} {_NL[t.month - 1]} {t:%Y %H:%M:%S}", ""),
    "basic": (lambda t: f"{t:%Y%m%dT%H%M%S}Z", "utc"),
    "digits": (lambda t: f"{t:%Y%m%d%H%M%S}", ""),
    "digits-colons": (lambda t: f"{t:%Y%m%d-%H:%M:%S}", ""),
    "six": (lambda t: f"{t:%y%m%d %H%M%S}", ""),
    "epoch": (lambda t: f"{t.timestamp():.0f}", "utc"),
    "epoch-f": (lambda t: f"{t.timestamp():.3f}", "utc"),
    "epoch-ms": (lambda t: f"{t.timestamp() * 1000:.0f}", "utc"),
    "epoch-ns": (lambda t: f"{t.timestamp():.0f}000000000", "utc"),
    "md": (lambda t: f"{t:%m-%d %H:%M:%S}.{t.microsecond // 1000:03d}", ""),
    "time": (lambda t: f"{t:%H:%M:%S}", ""),
    "time-first": (lambda t: f"{t:%H:%M:%S %d.%m.%Y}", ""),
    "named": (lambda t: f"{_EN[t.month - 1]} {t.day}, {t:%Y} {t:%I:%M:%S %p}", ""),
    "zone": (lambda t: f"{t:%Y-%m-%d %H:%M:%S} CET", "cet"),
    "underscore": (lambda t: f"{t:%Y-%m-%d_%H:%M:%S}", ""),
}  # fmt: skip
"""Ways to write a time, and whose clock it is that is written: UTC, Central European, or one that is not told."""

Place = Callable[[str, str, Random], str]
PLACES: dict[str, Place] = {
    "first": lambda at, words, chance: f"{at} {words}",
    "brackets": lambda at, words, chance: f"[{at}] {words}",
    "level": lambda at, words, chance: f"{chance.choice(('INFO', 'WARN', 'ERROR'))} {at} {words}",
    "padded": lambda at, words, chance: (
        f"[{chance.choice(('INFO', 'WARN ', 'ERROR'))}] {at} - {words}"
    ),
    "host": lambda at, words, chance: f"br{chance.randint(1, 9)}-kiosk {at} {words}",
    "json": lambda at, words, chance: f'{{"level":"info","time":"{at}","msg":"{words}"}}',
    "json-late": lambda at, words, chance: (
        f'{{"msg":"{words}","ts":"{at}","n":{chance.randint(1, 99)}}}'
    ),
    "pairs": lambda at, words, chance: f'level=info time="{at}" msg="{words}"',
    "column": lambda at, words, chance: f"{chance.randint(1, 999)};{at};{words.replace(';', ' ')}",
    "pipe": lambda at, words, chance: f"{at}|{chance.randint(1, 99)}|{words}",
}
"""Places of a time in its line."""
NOT_IN = {
    ("web", "json"),
    ("web", "json-late"),
    ("web", "pairs"),
    ("web", "column"),
    ("web", "brackets"),
}
NOT_IN |= {("time", place) for place in PLACES if place not in ("first", "brackets", "pipe")}
NOT_IN |= {(name, "column") for name in ("epoch", "epoch-f", "epoch-ms", "epoch-ns")}


@dataclass(frozen=True)
class Made:
    """A log, what each of its lines tells (None: nothing), and when it was written last."""

    lines: list[str]
    told: list[datetime | None]
    near: datetime


def make_log(writer: str, place: str, seed: int, count: int = 40) -> Made:
    """A log of so many lines, some of them with other times in their words, or with none of their own."""
    chance = Random(f"{writer} {place} {seed}")
    write, clock = WRITERS[writer]
    at = datetime(
        2026, chance.randint(1, 12), chance.randint(1, 28), chance.randint(0, 23), 5, tzinfo=UTC
    )
    step = chance.choice((1, 20, 400, 4000)) if writer != "time" else 20
    lines: list[str] = []
    told: list[datetime | None] = []
    for _ in range(count):
        at += timedelta(seconds=chance.randint(1, step), milliseconds=chance.randint(0, 999))
        whole = at.replace(microsecond=0)
        there = whole.astimezone(_CET) if clock == "cet" else whole
        lines.append(PLACES[place](write(there), _words(chance), chance))
        told.append(whole if clock else there.replace(tzinfo=None))
        if place in ("first", "brackets") and chance.random() < 0.1:
            lines.append(f"    at shelf.Sorter.run(Sorter.java:{chance.randint(1, 99)})")
            told.append(None)
    return Made(
        lines, told, at + timedelta(minutes=chance.randint(1, 600)) if writer != "time" else at
    )


def _words(chance: Random) -> str:
    words = [chance.choice(_WORDS) for _ in range(chance.randint(2, 8))]
    more = (
        lambda: (
            f"10.40.{chance.randint(0, 255)}.{chance.randint(1, 254)}:{chance.randint(1024, 65000)}"
        ),
        lambda: f"until 2026-12-{chance.randint(1, 28):02d} 10:00:00",
        lambda: f"took {chance.randint(1, 5000)} ms",
        lambda: f"id {chance.randint(10**9, 2 * 10**9)}",
        lambda: f"version {chance.randint(1, 12)}.{chance.randint(0, 12)}.{chance.randint(0, 30)}",
        lambda: f"lease 1.2.2026 08:00:0{chance.randint(0, 9)}",
    )
    if chance.random() < 0.4:
        words.insert(chance.randint(0, len(words)), chance.choice(more)())
    return " ".join(words)
