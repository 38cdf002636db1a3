"""Overview: how packets go, in numbers; each number has the filters of the list of packets that it counts."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import UTC, date, datetime, time, timedelta
from enum import StrEnum
from functools import cached_property
from typing import Any, NamedTuple

from pydantic import BaseModel, Field
from sqlalchemy import ARRAY, ColumnElement, case, cast, func, select, true
from sqlalchemy.dialects.postgresql import array
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.errors import Invalid
from sealpacket.core.money import say_money
from sealpacket.services.packets.listing import waits
from sealpacket.services.register import KINDS
from sealpacket.store.models import Contract, PacketLine, PacketRefusal, Vendor

YEAR = timedelta(days=365)
LONGEST = timedelta(days=3660)
_WEEKLY = timedelta(days=120)
"""Up to this length a period is divided into weeks, a longer one into months."""
AGES: tuple[tuple[str, int, int | None], ...] = (
    ("up to a day", 0, 1),
    ("1 to 3 days", 1, 3),
    ("3 to 7 days", 3, 7),
    ("1 to 4 weeks", 7, 28),
    ("older", 28, None),
)
"""The ages by which open packets are counted: a name, and days from and to."""


class OverviewPart(StrEnum):
    """A part of the overview."""

    OPEN = "open"
    FLOW = "flow"
    PROMISES = "promises"
    QUESTIONS = "questions"
    REFUSALS = "refusals"
    ANSWERS = "answers"
    RATINGS = "ratings"
    CONTRACTS = "contracts"


class OverviewNumber(BaseModel):
    """A number of a row, and the packets that it counts."""

    name: str
    value: float | None = Field(description="The number; null where there is nothing to count.")
    unit: str = Field(description="`packets`, `%`, `hours`, `each` (per packet), or text.")
    packets: str = Field(
        description="The query of the list that shows them, such as `vendor=tarnfell&open=true`; empty: none."
    )


class OverviewRow(BaseModel):
    """A row of a part: what it is about, and its numbers, the same in each row."""

    name: str
    numbers: list[OverviewNumber]
    remark: str = Field(description="More about it, such as the cost of a contract.")


class OverviewTable(BaseModel):
    """A part of the overview as a table."""

    part: OverviewPart
    rows: list[OverviewRow]


class Overview(BaseModel):
    """How packets went in a period, and what is open now."""

    since: date = Field(description="The first day of the period.")
    until: date = Field(description="The last day of the period.")
    parts: list[OverviewTable]


class OverviewRecord(BaseModel):
    """A number of the overview as a row of a file."""

    part: OverviewPart
    row: str
    number: str
    value: float | None
    unit: str
    remark: str


def records(found: Overview) -> Iterator[OverviewRecord]:
    """All numbers of an overview, one by one."""
    for table in found.parts:
        for row in table.rows:
            for one in row.numbers:
                yield OverviewRecord(
                    part=table.part,
                    row=row.name,
                    number=one.name,
                    value=one.value,
                    unit=one.unit,
                    remark=row.remark,
                )


class _Asked:
    """A period, and limits that every list of packets behind a number has, too."""

    def __init__(self, session: Session, since: date, until: date, vendor: str, site: str) -> None:
        self.session, self.since, self.until = session, since, until
        self.begin = datetime.combine(since, time(), UTC)
        self.end = datetime.combine(until + timedelta(days=1), time(), UTC)
        self.limits: dict[str, str] = {}
        self.which: ColumnElement[bool] = true()
        for kind, column, handle in (
            ("vendor", PacketLine.vendor, vendor),
            ("site", PacketLine.site, site),
        ):
            if handle:
                key: str = KINDS[kind].find(session, handle).key
                self.limits[kind] = key
                self.which &= column == key

    @cached_property
    def courses(self) -> Sequence[_Course]:
        """How the packets that were lodged in the period went, read once for all parts."""
        return _courses(self)

    @cached_property
    def by_vendor(self) -> Sequence[_OfVendor]:
        """The same of each vendor in all severities, the busiest first."""
        return _by_vendor(self)

    @cached_property
    def names(self) -> dict[str, str]:
        """The names of vendors, by key."""
        rows = self.session.execute(select(Vendor.key, Vendor.name))
        return {row.key: row.name for row in rows}

    def query(self, **filters: str) -> str:
        """The query of a list of packets with these filters."""
        return "&".join(f"{name}={value}" for name, value in {**self.limits, **filters}.items())

    def within(self, column: Any) -> ColumnElement[bool]:
        """Whether a moment is in the period."""
        inside: ColumnElement[bool] = (column >= self.begin) & (column < self.end)
        return inside & self.which

    def lodged(self, **filters: str) -> str:
        """The query of the packets that were lodged in the period."""
        return self.query(lodged_since=_sent(self.begin), lodged_before=_sent(self.end), **filters)


def _sent(moment: datetime) -> str:
    return moment.strftime("%Y-%m-%dT%H:%M:%SZ")


def overview(
    app: AppContext,
    *,
    since: date | None = None,
    until: date | None = None,
    vendor: str = "",
    site: str = "",
    part: OverviewPart | None = None,
) -> Overview:
    """How packets went in a period (the last year, if none is given), and what is open now; one part, or all.

    Raises Invalid for a period that ends before it begins or is longer than ten years, NotFound for an unknown vendor
    or site.
    """
    last = until or datetime.now(UTC).date()
    first = since or last - YEAR
    if first > last or last - first > LONGEST:
        raise Invalid(
            "The period ends before it begins." if first > last else "The period is too long.",
            "Name two days in order, ten years apart at most.",
            field="since",
        )
    with app.database.snapshot() as session:
        asked = _Asked(session, first, last, vendor, site)
        parts = [
            OverviewTable(part=one, rows=[*rows(asked)])
            for one, rows in _PARTS.items()
            if part is None or part == one
        ]
    return Overview(since=first, until=last, parts=parts)


def _open(asked: _Asked) -> Iterator[OverviewRow]:
    """Open packets of each vendor, by their age."""
    now = datetime.now(UTC)
    age = PacketLine.created_at
    buckets = [
        func.count().filter(
            (age <= now - timedelta(days=low))
            & (age > now - timedelta(days=high) if high is not None else true())
        )
        for _, low, high in AGES
    ]
    name = func.max(PacketLine.vendor_name)
    query = select(PacketLine.vendor, name, func.count(), *buckets).where(waits(), asked.which)
    rows = asked.session.execute(
        query.group_by(PacketLine.vendor).order_by(func.count().desc(), PacketLine.vendor)
    )
    for vendor, called, _all, *counts in rows:
        limit = {"vendor": vendor} if vendor else {}
        numbers = []
        for (age_name, low, high), packets in zip(AGES, counts, strict=True):
            bounds = {"created_before": _sent(now - timedelta(days=low))} if low else {}
            if high is not None:
                bounds["created_since"] = _sent(now - timedelta(days=high))
            behind = asked.query(open="true", **limit, **bounds) if vendor else ""
            numbers.append(_number(age_name, packets, behind))
        yield OverviewRow(name=called or "No asset named yet", numbers=numbers, remark="")


def _flow(asked: _Asked) -> Iterator[OverviewRow]:
    """Noted, lodged and settled packets, by week or month."""
    unit = "week" if asked.until - asked.since <= _WEEKLY else "month"
    spans = [*_spans(asked.since, asked.until, unit)]
    found = {
        "noted": _by_span(asked, PacketLine.created_at, spans),
        "lodged": _by_span(asked, PacketLine.lodged_at, spans),
        "settled": _by_span(asked, PacketLine.settled_at, spans),
    }
    for place, (first, last) in enumerate(spans, 1):
        begin, end = max(first, asked.since), min(last, asked.until)
        numbers = [
            _number(what, counts.get(place, 0), asked.query(**_between(_FIELDS[what], begin, end)))
            for what, counts in found.items()
        ]
        called = f"{first:%b %Y}" if unit == "month" else f"week of {first:%d %b %Y}"
        yield OverviewRow(name=called, numbers=numbers, remark="")


def _by_span(asked: _Asked, column: Any, spans: Iterable[tuple[date, date]]) -> dict[int, int]:
    """How many packets have a moment in each of some weeks or months, by its place from 1."""
    begins = [datetime.combine(first, time(), UTC) for first, _ in spans]
    place = func.width_bucket(column, cast(array(begins), ARRAY(column.type))).label("place")
    rows = asked.session.execute(
        select(place, func.count()).where(asked.within(column)).group_by(place)
    )
    return dict(rows.tuples().all())


_FIELDS = {"noted": "created", "lodged": "lodged", "settled": "settled"}


def _between(field: str, first: date, last: date) -> dict[str, str]:
    begin = datetime.combine(first, time(), UTC)
    end = datetime.combine(last + timedelta(days=1), time(), UTC)
    return {f"{field}_since": _sent(begin), f"{field}_before": _sent(end)}


def _spans(since: date, until: date, unit: str) -> Iterator[tuple[date, date]]:
    """The weeks or months that have days of a period."""
    first = since - timedelta(days=since.weekday()) if unit == "week" else since.replace(day=1)
    while first <= until:
        following = (
            first + timedelta(days=7)
            if unit == "week"
            else (first + timedelta(days=32)).replace(day=1)
        )
        yield first, following - timedelta(days=1)
        first = following


class _Counts(NamedTuple):
    """Numbers of packets and of questions; `stars` is how many have each rating, from 1 to 5."""

    packets: int
    questions: int
    asked: int
    repaired: int
    contested: int
    called: int
    stars: Sequence[int]

    @classmethod
    def sums(cls, some: Iterable[_Counts]) -> _Counts:
        """All of them together."""
        *numbers, stars = zip(*some, strict=True)
        return cls._make([*map(sum, numbers), [sum(each) for each in zip(*stars, strict=True)]])


class _Course(NamedTuple):
    """How packets of a vendor and a severity went."""

    vendor: str
    severity: str | None
    answers_kept: int
    answers_late: int
    answered_after: float | None
    repairs_kept: int
    repairs_late: int
    repaired_after: float | None
    counts: _Counts

    @property
    def is_promised(self) -> bool:
        """Whether a promise of the desk came due or was kept."""
        return any((self.answers_kept, self.answers_late, self.repairs_kept, self.repairs_late))


def _courses(asked: _Asked) -> list[_Course]:
    """How the packets that were lodged in the period went."""
    line = PacketLine

    def middle(done: Any, due: Any) -> Any:
        hours = func.date_part("epoch", done - line.lodged_at) / 3600
        return func.percentile_cont(0.5).within_group(hours).filter(due.is_not(None))

    def count(*which: ColumnElement[bool]) -> Any:
        return func.count().filter(*which)

    rows = asked.session.execute(
        select(
            line.vendor, line.severity,
            count(line.answered_at <= line.answer_due_at), count(line.answered_at > line.answer_due_at),
            middle(line.answered_at, line.answer_due_at),
            count(line.repaired_at <= line.repair_due_at), count(line.repaired_at > line.repair_due_at),
            middle(line.repaired_at, line.repair_due_at),
            func.count(), func.sum(line.asked), count(line.asked > 0), func.count(line.repaired_at),
            count(line.contested > 0), count(line.unwished > 0),
            *(count(line.rating == stars) for stars in range(1, 6)),
        )
        .where(asked.within(line.lodged_at), line.vendor.is_not(None))
        .group_by(line.vendor, line.severity)
    )  # fmt: skip
    return [
        _Course._make([*row[:8], _Counts._make([*row[8:14], row[14:]])]) for row in map(tuple, rows)
    ]


class _OfVendor(NamedTuple):
    """How packets of one vendor went, in all severities."""

    vendor: str
    name: str
    counts: _Counts


def _by_vendor(asked: _Asked) -> list[_OfVendor]:
    """How packets of each vendor went, the busiest first."""
    some: dict[str, list[_Counts]] = {}
    for one in asked.courses:
        some.setdefault(one.vendor, []).append(one.counts)
    found = [
        _OfVendor(vendor, asked.names.get(vendor, vendor), _Counts.sums(counts))
        for vendor, counts in some.items()
    ]
    return sorted(found, key=lambda one: (-one.counts.packets, one.vendor))


def _promises(asked: _Asked) -> Iterator[OverviewRow]:
    """Of each vendor and severity, the share of kept promises and the time that it took in the middle."""
    names = asked.names
    rows = [(names.get(one.vendor, one.vendor), one) for one in asked.courses if one.is_promised]
    for called, one in sorted(rows, key=lambda row: (row[0], row[1].severity or "")):
        limit = {"vendor": one.vendor, **({"severity": one.severity} if one.severity else {})}
        numbers: list[OverviewNumber] = []
        for what, course, kept, late, middle in (
            ("first answer", "answer", one.answers_kept, one.answers_late, one.answered_after),
            ("repair", "repair", one.repairs_kept, one.repairs_late, one.repaired_after),
        ):
            share = round(100 * kept / (kept + late), 1) if kept + late else None
            behind = asked.lodged(course=f"{course}_kept", **limit) if kept + late else ""
            after = None if middle is None else round(middle, 1)
            numbers += [
                OverviewNumber(name=f"{what} in time", value=share, unit="%", packets=behind),
                _number(f"{what} late", late, asked.lodged(course=f"{course}_late", **limit)),
                OverviewNumber(name=f"{what} after", value=after, unit="hours", packets=""),
            ]
        yield OverviewRow(
            name=f"{called}, {one.severity}" if one.severity else called, numbers=numbers, remark=""
        )


def _questions(asked: _Asked) -> Iterator[OverviewRow]:
    """Of each vendor, how often it asks back."""
    for vendor, name, counts in asked.by_vendor:
        limit = {"vendor": vendor}
        each = round(counts.questions / counts.packets, 2)
        yield OverviewRow(
            name=name,
            numbers=[
                _number("lodged", counts.packets, asked.lodged(**limit)),
                _number("asked back", counts.asked, asked.lodged(**limit, course="asked")),
                OverviewNumber(
                    name="questions for each packet", value=each, unit="each", packets=""
                ),
                _number(
                    "called though mail was asked for",
                    counts.called,
                    asked.lodged(**limit, course="called"),
                ),
            ],
            remark="",
        )


def _refusals(asked: _Asked) -> Iterator[OverviewRow]:
    """Why desks refused packets."""
    packets = func.count(PacketLine.packet_id.distinct())
    query = (
        select(
            PacketLine.vendor, func.max(PacketLine.vendor_name), PacketRefusal.code,
            func.max(PacketRefusal.text), packets,
        )
        .join(PacketLine, PacketLine.packet_id == PacketRefusal.packet_id)
        .where(asked.within(PacketRefusal.at), PacketLine.vendor.is_not(None))
        .group_by(PacketLine.vendor, PacketRefusal.code)
        .order_by(packets.desc(), PacketLine.vendor, PacketRefusal.code)
        .limit(200)
    )  # fmt: skip
    for vendor, called, code, said, count in asked.session.execute(query):
        behind = asked.query(
            vendor=str(vendor), refused_as=code, **_between("refused", asked.since, asked.until)
        )
        yield OverviewRow(
            name=f"{called}, {code}", numbers=[_number("refused", count, behind)], remark=said[:200]
        )


def _answers(asked: _Asked) -> Iterator[OverviewRow]:
    """Of each vendor, how many answers were contested."""
    for vendor, name, counts in asked.by_vendor:
        if counts.repaired or counts.contested:
            limit = {"vendor": vendor}
            answered = asked.lodged(**limit, course="repaired")
            contested = asked.lodged(**limit, course="contested")
            yield OverviewRow(
                name=name,
                numbers=[
                    _number("answered", counts.repaired, answered),
                    _number("contested", counts.contested, contested),
                ],
                remark="",
            )


def _ratings(asked: _Asked) -> Iterator[OverviewRow]:
    """Of each vendor, how its help was rated."""
    for vendor, name, counts in asked.by_vendor:
        rated = sum(counts.stars)
        if not rated:
            continue
        numbers = [
            _number(str(stars), count, asked.lodged(vendor=vendor, rating=str(stars)))
            for stars, count in enumerate(counts.stars, 1)
        ]
        mean = round(sum(stars * count for stars, count in enumerate(counts.stars, 1)) / rated, 2)
        middle = OverviewNumber(name="mean", value=mean, unit="each", packets="")
        yield OverviewRow(name=name, numbers=[*numbers, middle], remark="")


def _contracts(asked: _Asked) -> Iterator[OverviewRow]:
    """The use of each contract in its present term, for the talk about its renewal."""
    line = PacketLine
    late = case(
        (line.answered_at > line.answer_due_at, 1), (line.repaired_at > line.repair_due_at, 1), else_=0
    )  # fmt: skip
    about = (line.contract == Contract.number) & (line.vendor == Vendor.key)
    in_term = line.lodged_at >= cast(Contract.starts_on, line.lodged_at.type)
    query = (
        select(
            Contract, Vendor.name, func.count(line.packet_id), func.coalesce(func.sum(late), 0),
            func.coalesce(func.sum(line.asked), 0),
        )
        .join(Vendor, Vendor.id == Contract.vendor_id)
        .outerjoin(line, about & in_term)
        .where(Contract.ends_on >= asked.since, Contract.starts_on <= asked.until)
        .group_by(Contract.id, Vendor.name)
        .order_by(Contract.ends_on, Contract.number)
        .limit(500)
    )  # fmt: skip
    if "vendor" in asked.limits:
        query = query.where(Vendor.key == asked.limits["vendor"])
    for contract, vendor, packets, too_late, questions in asked.session.execute(query):
        behind = f"contract={contract.id}&lodged_since={contract.starts_on}T00:00:00Z"
        money = say_money(contract.cost_minor, contract.currency)
        each = _each(contract, packets)
        yield OverviewRow(
            name=f"{contract.number}, {vendor}",
            numbers=[
                _number("packets", packets, behind if packets else ""),
                _number("with a promise broken", too_late, ""),
                _number("questions", questions, ""),
            ],
            remark=", ".join(filter(None, [f"ends {contract.ends_on}", money, each])),
        )


def _each(contract: Contract, packets: int) -> str:
    if not packets or contract.cost_minor is None:
        return ""
    return f"{say_money(contract.cost_minor // packets, contract.currency)} for each packet"


def _number(name: str, value: int, packets: str) -> OverviewNumber:
    return OverviewNumber(name=name, value=value, unit="packets", packets=packets if value else "")


_PARTS: Mapping[OverviewPart, Any] = {
    OverviewPart.OPEN: _open,
    OverviewPart.FLOW: _flow,
    OverviewPart.PROMISES: _promises,
    OverviewPart.QUESTIONS: _questions,
    OverviewPart.REFUSALS: _refusals,
    OverviewPart.ANSWERS: _answers,
    OverviewPart.RATINGS: _ratings,
    OverviewPart.CONTRACTS: _contracts,
}
