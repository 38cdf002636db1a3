"""Looking ahead: days without cover, and what it costs to let contracts end on one day."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from fractions import Fraction

from sealpacket.core.coverage.model import Candidate, Need, Thing
from sealpacket.core.coverage.ruling import touches, warranty_end

_DAY = timedelta(days=1)
Days = tuple[date, date]


def serving_days(thing: Thing, candidate: Candidate, need: Need) -> list[Days]:
    """The days on which a candidate would serve a thing as it is now, both ends included; grace counts."""
    if need not in candidate.needs:
        return []
    if candidate.sites and thing.site not in candidate.sites:
        return []
    if candidate.countries and thing.country not in candidate.countries:
        return []
    first, last = candidate.starts_on, candidate.ends_on + timedelta(days=candidate.grace_days)
    if candidate.replaced_on is not None:
        last = min(last, candidate.replaced_on - _DAY)
    found: list[Days] = []
    for way in touches(thing, candidate):
        if way.beyond:
            continue
        if way.serial is None or way.serial in candidate.serials:
            return [(first, last)] if first <= last else []
        listings = [listing for listing in candidate.listings if listing.serial == way.serial]
        found += [(max(first, x.from_on or first), min(last, x.until_on or last)) for x in listings]
    return [days for days in found if days[0] <= days[1]]


def gaps(
    thing: Thing, candidates: Iterable[Candidate], need: Need, since: date, until: date
) -> list[Days]:
    """The days between two (both included) on which nothing covers the thing as it is now, joined into stretches."""
    served = [days for candidate in candidates for days in serving_days(thing, candidate, need)]
    end = warranty_end(thing)
    if end is not None and need in thing.warranty_needs:
        served.append((date.min, end))
    found: list[Days] = []
    day = since
    for first, last in sorted(served):
        if last < day:
            continue
        if first > until:
            break
        if first > day:
            found.append((day, first - _DAY))
        day = last + _DAY
        if day > until:
            return found
    found.append((day, until))
    return found


@dataclass(frozen=True)
class Term:
    """A contract's present term and its cost in minor units, if known."""

    contract: str
    starts_on: date
    ends_on: date
    cost_minor: int | None


@dataclass(frozen=True)
class Extension:
    """The extension of one contract to another day: `days` more, at the price of a day of its present term."""

    contract: str
    ends_on: date
    days: int
    cost_minor: int | None


def align(terms: Sequence[Term], on: date) -> list[Extension]:
    """Extend every term that ends before `on` to that day, pro rata by day; those that end later are left as they are.

    Costs are rounded to the nearest minor unit, halves up.
    """
    extended = []
    for term in sorted(terms, key=lambda item: (item.ends_on, item.contract)):
        days = (on - term.ends_on).days
        if days > 0:
            length = (term.ends_on - term.starts_on).days + 1
            cost = (
                None
                if term.cost_minor is None
                else int(Fraction(term.cost_minor * days, length) + Fraction(1, 2))
            )
            extended.append(Extension(term.contract, term.ends_on, days, cost))
    return extended
