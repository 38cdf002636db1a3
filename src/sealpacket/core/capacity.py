"""Capacity: what a plan needs in each region against what is granted and used, and what to ask for."""

from __future__ import annotations

import math
import re
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class PlanRow:
    """A row of a plan: a number of pieces, each taking `size` of a resource.

    No `region`: it may be any, so it is compared with each. `when` names the failure in which it would start: of
    several failures only the one that needs most counts, since they are not planned for at once.
    """

    resource: str
    count: int
    size: int = 1
    region: str = ""
    when: str = ""


@dataclass(frozen=True)
class LimitNow:
    """A limit as the register has it."""

    id: str
    region: str
    resource: str
    granted: int
    used: int
    provider: str = ""
    unit: str = ""


@dataclass(frozen=True)
class Compared:
    """The need of a plan against a limit; `limit` is None if the register has none for it.

    `asked` is the limit to ask for, 0 where the plan fits. `when` is the failure that needs most, if one does.
    """

    region: str
    resource: str
    need: int
    limit: LimitNow | None
    missing: int
    asked: int
    when: str = ""


def compare(
    rows: Iterable[PlanRow], limits: Sequence[LimitNow], *, headroom: int = 0
) -> list[Compared]:
    """Each region and resource that a plan needs, against its limit, what is missing most first.

    `headroom` is how many percent of what would then be used are asked for on top.
    """
    granted = {(one.region, one.resource): one for one in limits}
    regions = dict.fromkeys(one.region for one in limits)
    needs: dict[tuple[str, str], dict[str, int]] = defaultdict(lambda: defaultdict(int))
    for row in rows:
        needs[row.region, row.resource][row.when] += row.count * row.size
    anywhere = {resource: by for (region, resource), by in needs.items() if not region}
    places = dict.fromkeys(
        [
            *((region, resource) for region, resource in needs if region),
            *((region, resource) for resource in anywhere for region in regions),
        ]
    )
    found = []
    for region, resource in places:
        by = _added(needs.get((region, resource), {}), anywhere.get(resource, {}))
        when = max((one for one in by if one), key=lambda one: by[one], default="")
        need = by.get("", 0) + by.get(when, 0) * bool(when)
        found.append(_compared(region, resource, need, when, granted, headroom))
    return sorted(found, key=lambda one: (-one.missing, one.region, one.resource))


def _added(first: Mapping[str, int], second: Mapping[str, int]) -> dict[str, int]:
    return {when: first.get(when, 0) + second.get(when, 0) for when in {*first, *second}}


def _compared(
    region: str,
    resource: str,
    need: int,
    when: str,
    granted: Mapping[tuple[str, str], LimitNow],
    headroom: int,
) -> Compared:
    limit = granted.get((region, resource))
    then = need + (limit.used if limit else 0)
    missing = max(0, then - (limit.granted if limit else 0))
    asked = math.ceil(then * (100 + headroom) / 100) if missing else 0
    return Compared(region, resource, need, limit, missing, asked, when)


_NEEDED = r"request(?:ed|ing)?|additional|needed|required|asked(?: for)?|wanted|minimum"
_LIMIT = r"limit|quota|granted|allowed|maximum|approved"
_USED = r"used|usage|in use|current(?:ly)?(?: usage)?|existing"
_NUMBER = r"(\d[\d,.' ]*\d|\d)"


def explain(text: str, limits: Iterable[LimitNow]) -> list[PlanRow]:
    """The need stated by a message of a failed start, for the limits that it names; nothing without a number."""
    plain = f" {_plain(text)} "
    wanted = _number_by(_NEEDED, text)
    if wanted is None:
        return []
    named = [one for one in limits if f" {_plain(one.resource)} " in plain]
    there = [one for one in named if f" {_plain(one.region)} " in plain] or named
    longest = max((len(one.resource) for one in there), default=0)
    return [
        PlanRow(one.resource, wanted, region=one.region)
        for one in there
        if len(one.resource) == longest
    ]


def said_limit(text: str) -> tuple[int | None, int | None]:
    """The limit and the use that a message tells, None where it does not."""
    return _number_by(_LIMIT, text), _number_by(_USED, text)


def _number_by(words: str, text: str) -> int | None:
    """The number beside one of these words: behind it, else before it."""
    for pattern in (
        rf"\b(?:{words})\b[^\d\n.;]{{0,30}}{_NUMBER}",
        rf"{_NUMBER}\s*\w*\s*\b(?:{words})\b",
    ):
        if found := re.search(pattern, text, re.IGNORECASE):
            return int(re.sub(r"\D", "", found[1]))
    return None


def _plain(text: str) -> str:
    return " ".join(re.findall(r"[a-z0-9]+", text.casefold()))
