"""Cover over time: one ruling for each day between two, joined into spans; gaps and overlaps fall out of it."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta

from sealpacket.core.coverage.model import Candidate, Question, Route, Ruling, Thing, Value
from sealpacket.core.coverage.ruling import rule, warranty_end

_DAY = timedelta(days=1)


class CoverSpan(Value):
    """Days, both included, on which the same thing is true. `also`: entitlements that would serve as well."""

    starts_on: date
    ends_on: date
    route: Route
    holds: bool
    contract: str | None
    entitlement: str | None
    level: str | None
    also: tuple[str, ...] = ()

    @property
    def days(self) -> int:
        """How many days."""
        return (self.ends_on - self.starts_on).days + 1


def timeline(
    question: Question,
    thing_on: Callable[[date], Thing],
    candidates: tuple[Candidate, ...],
    until: date,
    turns: tuple[date, ...] = (),
) -> list[CoverSpan]:
    """Spans of cover from `question.day` to `until`, both included; every day lies in exactly one.

    `thing_on` gives the thing as it was on a day; `turns` are the days on which it changed.
    """
    start = question.day
    days = {start, *(day for day in turns if start < day <= until)}
    for day in list(days):
        end = warranty_end(thing_on(day))
        days |= {end + _DAY} if end else set()
    for candidate in candidates:
        days |= _turns(candidate)
    spans: list[CoverSpan] = []
    ordered = sorted(day for day in days if start <= day <= until)
    for place, day in enumerate(ordered):
        last = ordered[place + 1] - _DAY if place + 1 < len(ordered) else until
        ruling = rule(question.model_copy(update={"day": day}), thing_on(day), candidates)
        span = _span(ruling, day, last)
        if spans and _same(spans[-1], span):
            spans[-1] = spans[-1].model_copy(update={"ends_on": last})
        else:
            spans.append(span)
    return spans


def _turns(candidate: Candidate) -> set[date]:
    """The first days on which anything about a candidate is different."""
    days = {candidate.starts_on, candidate.ends_on + _DAY}
    days.add(candidate.ends_on + timedelta(days=candidate.grace_days) + _DAY)
    if candidate.replaced_on:
        days.add(candidate.replaced_on)
    for listing in candidate.listings:
        days |= {listing.from_on} if listing.from_on else set()
        days |= {listing.until_on + _DAY} if listing.until_on else set()
    return days


def _span(ruling: Ruling, day: date, last: date) -> CoverSpan:
    return CoverSpan(
        starts_on=day,
        ends_on=last,
        route=ruling.route,
        holds=ruling.holds,
        contract=ruling.contract,
        entitlement=ruling.entitlement,
        level=ruling.level,
        also=tuple(
            f"{item.contract} {item.entitlement}"
            for item in ruling.passed_over
            if item.code == "weaker"
        ),
    )


def _same(one: CoverSpan, other: CoverSpan) -> bool:
    days = {"starts_on", "ends_on"}
    return one.model_dump(exclude=days) == other.model_dump(exclude=days)
