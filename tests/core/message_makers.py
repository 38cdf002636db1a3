"""Logs made of known templates, to see whether messages are put together as they were made."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from datetime import UTC, datetime, timedelta
from random import Random

_NAMES = [
    "marit",
    "teo",
    "ines",
    "pauli",
    "odile",
    "bertil",
    "quinn",
    "sanna",
    "wendel",
    "thora",
    "ruben",
    "alva",
    "jory",
    "linnea",
    "edda",
    "tomas",
]
_THINGS = [
    "catalogue",
    "loans",
    "papers",
    "maps",
    "stage",
    "archive",
    "mirror",
    "index",
    "photos",
    "letters",
    "scores",
    "atlas",
]
_HOSTS = [
    f"{place}-{kind}"
    for place in ("fennel", "kettle", "ash", "mill")
    for kind in ("kiosk", "sorter", "gate")
]
_NOUNS = [
    "volume",
    "cache",
    "session",
    "reader",
    "belt",
    "shelf",
    "link",
    "lease",
    "path",
    "drive",
    "pool",
    "queue",
    "replica",
    "battery",
    "sensor",
    "tag",
    "gate",
    "lock",
    "relay",
]
_VERBS = [
    "opened",
    "closed",
    "reset",
    "flushed",
    "rejected",
    "accepted",
    "mounted",
    "lost",
    "found",
    "rebuilt",
    "paused",
    "resumed",
    "checked",
    "skipped",
    "started",
    "stopped",
]
_TAILS = [
    "by request",
    "after timeout",
    "on schedule",
    "without error",
    "with warnings",
    "in safe mode",
    "at boot",
    "during check",
]
VALUES: dict[str, Callable[[Random], str]] = {
    "number": lambda r: str(r.randint(0, 99_999)),
    "milliseconds": lambda r: f"{r.uniform(0.1, 900):.1f} ms",
    "hex": lambda r: f"0x{r.getrandbits(32):08x}",
    "address": lambda r: f"10.40.{r.randint(0, 255)}.{r.randint(1, 254)}",
    "port": lambda r: f"10.40.{r.randint(0, 255)}.{r.randint(1, 254)}:{r.randint(1024, 65000)}",
    "path": lambda r: f"/srv/{r.choice(_THINGS)}/{r.choice(_NAMES)}.{r.choice(('db', 'xml', 'log'))}",
    "uuid": lambda r: f"{r.getrandbits(32):08x}-{r.getrandbits(16):04x}-4{r.getrandbits(12):03x}-a{r.getrandbits(12):03x}-{r.getrandbits(48):012x}",
    "person": lambda r: r.choice(_NAMES),
    "thing": lambda r: r.choice(_THINGS),
    "host": lambda r: r.choice(_HOSTS),
    "mail": lambda r: f"{r.choice(_NAMES)}@quillmere.example",
    "quoted": lambda r: '"' + " ".join(r.choices(_NAMES + _THINGS, k=r.randint(1, 5))) + '"',
    "list": lambda r: ", ".join(str(r.randint(1, 99)) for _ in range(r.randint(1, 6))),
}  # fmt: skip


def make_templates(r: Random, count: int = 200) -> list[str]:
    """Different templates, with a value's name in braces where one stands."""
    made: dict[str, None] = {}
    while len(made) < count:
        words = [r.choice(_NOUNS), r.choice(_VERBS)]
        for _ in range(r.randint(0, 3)):
            words.insert(
                r.randint(1, len(words)),
                f"{r.choice(('for', 'of', 'from', 'user', 'on host', 'took', 'id', 'at', 'rc=', 'size='))} {{{r.choice(list(VALUES))}}}",
            )
        if r.random() < 0.6:
            words.append(r.choice(_TAILS))
        made[" ".join(words).replace("= ", "=")] = None
    return list(made)


def make_log(r: Random, templates: list[str], lines: int) -> tuple[list[str], list[int]]:
    """Lines of a log, and the template of each. Some templates are a thousand times as frequent as others."""
    weights = [r.paretovariate(1) for _ in templates]
    levels = [r.choice(("INFO", "INFO", "WARN", "ERROR", "DEBUG")) for _ in templates]
    parts = [r.choice(("lendd", "arrayd", "gate", "store")) for _ in templates]
    at = datetime(2026, 11, 23, 7, tzinfo=UTC)
    made, chosen = [], r.choices(range(len(templates)), weights, k=lines)
    for number in chosen:
        at += timedelta(seconds=r.expovariate(1))
        text = templates[number]
        while "{" in text:
            start, end = text.index("{"), text.index("}")
            text = text[:start] + VALUES[text[start + 1 : end]](r) + text[end + 1 :]
        made.append(
            f"{at:%Y-%m-%dT%H:%M:%SZ} {levels[number]} {parts[number]}[{r.randint(100, 9999)}]: {text}"
        )
    return made, chosen


def grouping_accuracy(truth: Iterable[int], found: Iterable[str]) -> float:
    """The share of lines whose group is exactly that of their template."""
    by_truth: dict[int, set[int]] = defaultdict(set)
    by_found: dict[str, set[int]] = defaultdict(set)
    for line, (one, other) in enumerate(zip(truth, found, strict=True)):
        by_truth[one].add(line)
        by_found[other].add(line)
    groups = {frozenset(group) for group in by_found.values()}
    right = sum(len(group) for group in by_truth.values() if frozenset(group) in groups)
    return right / sum(map(len, by_truth.values()))
