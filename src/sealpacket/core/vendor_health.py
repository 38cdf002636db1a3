"""Trouble and planned maintenance that vendors report of their services, from feeds.

Atom and RSS are read as they are, JSON by a mapping of JSONPath (RFC 9535) that the house configures.
"""

from __future__ import annotations

import json
import re
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from typing import Any, NamedTuple, Protocol

from pydantic import BaseModel, ConfigDict, Field

from sealpacket.core.controls import without_controls
from sealpacket.core.errors import Invalid
from sealpacket.core.feeds import LONGEST, MOST_ENTRIES, Entry, is_web_address, moment_of, read_feed
from sealpacket.core.sheets.trees import all_at, read_at

MAY_EXPLAIN = timedelta(hours=1)
"""A report may explain what began this long before it or after it was over."""
STALE = timedelta(days=7)
"""Trouble of which the feed has said nothing for so long counts as over."""
_OVER = re.compile(
    r"\b(?:resolved|completed?|fixed|closed|restored|recovered|cancell?ed|is over|operational again)\b",
    re.IGNORECASE,
)
_MAINTENANCE = re.compile(r"\b(?:maintenance|scheduled|planned work)\b", re.IGNORECASE)
_WORK = re.compile(r"maintenance|scheduled|planned|work", re.IGNORECASE)
_MOMENT = re.compile(
    r"\b\d{4}-\d\d-\d\d[T ]\d\d:\d\d(?::\d\d(?:\.\d{1,6})?)?(?:\s?(?:Z|UTC|[+-]\d\d:?\d\d))?"
)


class ReportSort(StrEnum):
    """Whether something is out of order, or work is planned."""

    TROUBLE = "trouble"
    MAINTENANCE = "maintenance"


class ReportState(StrEnum):
    """Whether something is still to come, goes on, or is over."""

    PLANNED = "planned"
    ONGOING = "ongoing"
    OVER = "over"


class FeedMapping(BaseModel):
    """Where a vendor's JSON has what we read: JSONPath for the list, and within an item of it for the rest."""

    model_config = ConfigDict(extra="forbid")

    items: str = Field("$[*]", description="The reports.")
    ident: str = Field("$.id", description="Its identifier.")
    title: str = Field("$.title", description="Its title.")
    summary: str = Field("$.summary", description="Its text.")
    link: str = Field("$.link", description="Its page.")
    state: str = Field("$.state", description="A word for its state: resolved, completed, …")
    sort: str = Field("$.sort", description="A word for its sort: maintenance, scheduled, …")
    begins: str = Field("$.begins", description="When it begins or began, as in ISO 8601.")
    ends: str = Field("$.ends", description="When it ends, as in ISO 8601.")
    updated: str = Field("$.updated", description="When it was last changed, as in ISO 8601.")
    places: str = Field("$.places", description="Regions, sites or products, as texts.")


class ReportTimes(Protocol):
    """The times of a report, as far as they are known."""

    @property
    def begins_at(self) -> datetime | None:
        """When it began or will begin."""

    @property
    def ends_at(self) -> datetime | None:
        """When it ended or will end."""

    @property
    def updated_at(self) -> datetime | None:
        """When the vendor changed it last."""

    @property
    def over(self) -> bool:
        """Whether the vendor says that it is over."""


class Report(NamedTuple):
    """A vendor's report. `about` is all in which products, regions and sites may be named."""

    ident: str
    sort: ReportSort
    title: str
    summary: str
    link: str
    about: str
    begins_at: datetime | None
    ends_at: datetime | None
    updated_at: datetime | None
    over: bool


def read_reports(data: bytes, mapping: FeedMapping | None = None) -> list[Report]:
    """The reports of a feed, at most MOST_ENTRIES. Raises Invalid for what is neither Atom, RSS nor the mapped JSON."""
    if mapping is None:
        return [_of_entry(one) for one in read_feed(data)]
    try:
        tree = without_controls(json.loads(data))
        found = all_at(mapping.items, tree)
    except (ValueError, RecursionError) as error:
        raise Invalid("It is no JSON.", "Check its address.", code="no-feed") from error
    if not found and not isinstance(tree, list | dict):
        raise Invalid("It has no reports.", "Check its mapping.", code="no-feed")
    read = (_of_item(one, mapping) for one in found[:MOST_ENTRIES])
    return [one for one in read if one.ident and one.title]


def _of_entry(entry: Entry) -> Report:
    said = f"{entry.title} {' '.join(entry.categories)} {entry.summary}"
    sort = ReportSort.MAINTENANCE if _MAINTENANCE.search(said) else ReportSort.TROUBLE
    moments = _moments(said) if sort is ReportSort.MAINTENANCE else []
    return Report(
        ident=entry.ident,
        sort=sort,
        title=entry.title,
        summary=entry.summary,
        link=entry.link,
        about=said,
        begins_at=moments[0] if moments else entry.published_at,
        ends_at=moments[1] if len(moments) > 1 and moments[1] > moments[0] else None,
        updated_at=entry.published_at,
        over=bool(_OVER.search(said)),
    )


def _moments(text: str) -> list[datetime]:
    """The moments that a text names, in its order; without a zone they are in UTC."""
    found = (moment_of(one.replace("UTC", "Z").replace(" Z", "Z")) for one in _MOMENT.findall(text))
    return [one for one in found if one]


def _of_item(item: Any, mapping: FeedMapping) -> Report:
    def text(path: str, most: int) -> str:
        value = read_at(path, item)
        return " ".join(str(value).split())[:most] if isinstance(value, str | int) else ""

    def moment(path: str) -> datetime | None:
        return moment_of(text(path, 40))

    title, summary = (
        text(mapping.title, LONGEST["title"]),
        text(mapping.summary, LONGEST["summary"]),
    )
    link = text(mapping.link, LONGEST["link"])
    places = " ".join(str(one)[:200] for one in all_at(mapping.places, item)[:100])
    sort = text(mapping.sort, 100)
    work = _WORK.search(sort) if sort else _MAINTENANCE.search(title)
    begins, ends = moment(mapping.begins), moment(mapping.ends)
    return Report(
        ident=text(mapping.ident, LONGEST["ident"]),
        sort=ReportSort.MAINTENANCE if work else ReportSort.TROUBLE,
        title=title,
        summary=summary,
        link=link if is_web_address(link) else "",
        about=f"{title} {summary} {places}",
        begins_at=begins,
        ends_at=ends if not (begins and ends and ends < begins) else None,
        updated_at=moment(mapping.updated) or begins,
        over=bool(_OVER.search(text(mapping.state, 100))),
    )


def state_of(report: ReportTimes, now: datetime) -> ReportState:
    """The state of a report at a moment."""
    if report.over or (report.ends_at and report.ends_at <= now):
        return ReportState.OVER
    if report.begins_at and report.begins_at > now:
        return ReportState.PLANNED
    heard = max(one for one in (report.updated_at, report.begins_at, _LONG_AGO) if one)
    if not report.ends_at and heard < now - STALE:
        return ReportState.OVER
    return ReportState.ONGOING


_LONG_AGO = datetime(1970, 1, 1, tzinfo=UTC)


def may_explain(report: ReportTimes, began: datetime, now: datetime) -> bool:
    """Whether a fault that began at a moment lies in the time of a report, or close to it."""
    first = report.begins_at or report.updated_at
    if first is None or began < first - MAY_EXPLAIN:
        return False
    if state_of(report, now) is not ReportState.OVER:
        return True
    last = report.ends_at or report.updated_at or first
    return began <= last + MAY_EXPLAIN


def named_in(text: str, names: dict[str, list[str]], shortest: int = 3) -> list[str]:
    """The keys of what a text names by one of its names, as whole words whatever their case."""
    said = text.casefold()

    def named(name: str) -> bool:
        wanted = name.casefold()
        if len(wanted) < shortest or wanted not in said:
            return False
        return re.search(rf"(?<!\w){re.escape(wanted)}(?!\w)", said) is not None

    return [key for key, called in names.items() if any(map(named, called))]
