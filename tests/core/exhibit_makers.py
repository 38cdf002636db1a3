"""Exhibits of many kinds, good ones and each with one fault, with the machines that they could be from."""

from __future__ import annotations

import gzip
import json
from collections.abc import Collection
from datetime import UTC, datetime, timedelta
from random import Random

BEGAN = datetime(2026, 11, 23, 9, 0, tzinfo=UTC)
RESTART = BEGAN - timedelta(hours=1)
OWNERS = {
    name: f"asset-{number}"
    for number in range(40)
    for name in (f"br{number:02d}-kiosk1", f"lk40-7731-{900 + number:04d}", f"10.40.7.{number + 1}")
}
"""The asset of each serial number, host name and address, in lower case."""


def owners(names: Collection[str]) -> dict[str, str]:
    """The assets to which these names belong."""
    return {name: OWNERS[name] for name in names if name in OWNERS}


OWN = 7
WORDS = [
    "reader answers",
    "belt moves",
    "card kept",
    "gate opens",
    "shelf {n} counted",
    "session {n} from {peer}",
    "title {n} lent",
    "queue {n} deep",
    "lamp warms",
    "tag {n} read",
]
FAULTS = (
    "good",
    "blank",
    "header",
    "refused",
    "hours",
    "machine",
    "restart",
    "truncated",
    "marked",
    "sent",
)


def make(fault: str, r: Random) -> tuple[str, bytes]:
    """A name and the content of an exhibit with this fault."""
    if fault == "blank":
        return "a.log", r.choice((b"\n", b" \t\n", b"\r\n")) * r.randint(1, 400)
    if fault == "header":
        return "a.log", _header(r).encode()
    if fault == "refused":
        return "a.txt", _refusal(r).encode()
    number = r.choice([one for one in range(40) if one != OWN]) if fault == "machine" else OWN
    end = BEGAN + timedelta(minutes=r.randint(70, 400))
    start = BEGAN - timedelta(hours=r.randint(25, 60))
    if fault == "hours":
        early = r.random() < 0.5
        end = BEGAN - timedelta(hours=r.randint(2, 900)) if early else end + timedelta(hours=40)
        start = (
            end - timedelta(hours=r.randint(3, 30))
            if early
            else BEGAN + timedelta(minutes=r.randint(30, 900))
        )
    if fault == "restart":
        end = RESTART - timedelta(minutes=r.randint(5, 50))
    shape = r.choice((_syslog, _serial, _pairs, _json, _headed))
    lines = shape(r, number, start, end)
    text = "\n".join(lines)
    if fault == "truncated":
        return _truncated(r, lines)
    if fault == "marked":
        return (
            "a.log",
            f"{text}\n{r.choice(('[output truncated]', '*** size limit reached', '--More--'))}\n".encode(),
        )
    name, content = "kiosk.log", (text + r.choice(("\n", "", "\n\n"))).encode()
    return (f"{name}.gz", gzip.compress(content)) if r.random() < 0.2 else (name, content)


def _moments(r: Random, start: datetime, end: datetime) -> list[datetime]:
    count = r.randint(60, 160)
    step = (end - start) / count
    return [start + step * place for place in range(count + 1)]


def _words(r: Random, own: int) -> str:
    """A message; some name other machines."""
    peer = r.choice(list(OWNERS))
    return r.choice(WORDS).replace("{n}", str(r.randint(1, 9999))).replace("{peer}", peer)


def _syslog(r: Random, own: int, start: datetime, end: datetime) -> list[str]:
    host = f"br{own:02d}-kiosk1{r.choice(('', '.quillmere.example'))}"
    return [
        f"{at:%Y-%m-%dT%H:%M:%S}+00:00 {host} lendd[{r.randint(1, 999)}]: {_words(r, own)}"
        for at in _moments(r, start, end)
    ]


def _serial(r: Random, own: int, start: datetime, end: datetime) -> list[str]:
    return [
        f"{at:%Y-%m-%d %H:%M:%S} LK40-7731-{900 + own:04d} INFO {_words(r, own)}"
        for at in _moments(r, start, end)
    ]


def _pairs(r: Random, own: int, start: datetime, end: datetime) -> list[str]:
    return [
        f'time="{at:%Y-%m-%dT%H:%M:%SZ}" hostname=br{own:02d}-kiosk1 msg="{_words(r, own)}"'
        for at in _moments(r, start, end)
    ]


def _json(r: Random, own: int, start: datetime, end: datetime) -> list[str]:
    return [
        json.dumps(
            {"ts": f"{at:%Y-%m-%dT%H:%M:%SZ}", "host": f"br{own:02d}-kiosk1", "msg": _words(r, own)}
        )
        for at in _moments(r, start, end)
    ]


def _headed(r: Random, own: int, start: datetime, end: datetime) -> list[str]:
    head = ["# Service log", f"Serial number: LK40-7731-{900 + own:04d}", "Program: 7.4.2", ""]
    return head + [
        f"[{at:%d/%b/%Y:%H:%M:%S +0000}] {_words(r, own)}" for at in _moments(r, start, end)
    ]


def _header(r: Random) -> str:
    serial = f"LK40-7731-{900 + OWN:04d}"
    return r.choice((
        "time,level,message\n", "Time;Host;Text\r\n", f"# Service log of {serial}\n# program 7.4.2\n",
        f"Service log\n===========\nSerial number: {serial}\nCreated: {BEGAN:%Y-%m-%d %H:%M:%S}\n\n",
        f"Model: LK-40\nSerial number: {serial}\nExported: {BEGAN:%d.%m.%Y %H:%M}\nEntries:\n",
        "<?xml version='1.0'?>\n<log></log>\n", "[]\n", "{}", "--- begin of log ---\n\n", "\ufeffDate\tTime\tEvent\n",
    ))  # fmt: skip


def _refusal(r: Random) -> str:
    return r.choice((
        "sh: 1: lend-report: command not found\n", "show tech: Permission denied\n", "% Unknown command\n",
        "cat: /var/log/lendd.log: No such file or directory\n", "usage: report [-a] FILE\n", "No entries.\n",
        "Connection timed out\n", "Error: access is denied (0x5)\n", "0 records selected\n",
    ))  # fmt: skip


def _truncated(r: Random, lines: list[str]) -> tuple[str, bytes]:
    content = ("\n".join(lines) + "\n").encode()
    if r.random() < 0.25:
        packed = gzip.compress(content)
        return "a.log.gz", packed[: -r.randint(12, len(packed) // 3)]
    if r.random() < 0.2:
        return "a.json", json.dumps([{"n": n, "text": "reader"} for n in range(80)])[
            : -r.randint(2, 300)
        ].encode()
    last = next(
        line
        for line in reversed(lines)
        if any(word in line for word in ("answers", "moves", "opens"))
    )
    cut = r.randint(last.rindex(" ") - 3, len(last.rstrip('"}')) - 2)
    return "a.log", ("\n".join(lines[:-1]) + "\n" + last[:cut]).encode()
