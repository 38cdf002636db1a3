"""Lists of packets: read from their lines alone."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum
from typing import Any

from pydantic import BaseModel, Field
from sqlalchemy import (
    Boolean,
    ColumnElement,
    Integer,
    case,
    false,
    func,
    literal,
    literal_column,
    or_,
    select,
)
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.attention import ORDER, SOON, Attention
from sealpacket.core.coverage import Need
from sealpacket.core.errors import Invalid
from sealpacket.core.life import Life, Turn
from sealpacket.core.tables import Format
from sealpacket.services.packets import briefs
from sealpacket.services.packets.lines import LANGUAGE
from sealpacket.services.packets.schemas import PacketBrief
from sealpacket.services.register import KINDS
from sealpacket.services.table_files import all_pages, table_file
from sealpacket.store.models import Contract, PacketLine, PacketRefusal, Vendor, packet_lines
from sealpacket.store.paging import Page, in_order

SORTED_BY = packet_lines.SORTED_BY
"""The columns by which lists can be sorted."""
NEWEST = "-created_at"
MOST = 200
_MOST_WORDS = 12
_READ = 100
_MOST_COUNTED = 2000


class Course(StrEnum):
    """How a packet went, as lists can be narrowed to it."""

    ASKED = "asked"
    CONTESTED = "contested"
    CALLED = "called"
    REPAIRED = "repaired"
    ANSWER_KEPT = "answer_kept"
    ANSWER_LATE = "answer_late"
    REPAIR_KEPT = "repair_kept"
    REPAIR_LATE = "repair_late"


_COURSES: dict[Course, ColumnElement[bool]] = {
    Course.ASKED: PacketLine.asked > 0,
    Course.CONTESTED: PacketLine.contested > 0,
    Course.CALLED: PacketLine.unwished > 0,
    Course.REPAIRED: PacketLine.repaired_at.is_not(None),
    Course.ANSWER_KEPT: PacketLine.answered_at <= PacketLine.answer_due_at,
    Course.ANSWER_LATE: PacketLine.answered_at > PacketLine.answer_due_at,
    Course.REPAIR_KEPT: PacketLine.repaired_at <= PacketLine.repair_due_at,
    Course.REPAIR_LATE: PacketLine.repaired_at > PacketLine.repair_due_at,
}


@dataclass(frozen=True)
class Which:
    """The packets of a list; what is empty or None narrows nothing.

    `asset`, `product`, `vendor`, `site`, `contract` and `login` are handles, `owner` names an account, `ticket` and
    `our_reference` are exact numbers, `severity` is as the desk calls it. What ends in `since` or `before` is a moment.
    `course` is how it went, `refused_as` the desk's code of a refusal, `open` are those that wait for somebody,
    `unowned` those that nobody looks after, and `query` is words, or parts of a number.
    """

    life: Life | None = None
    turn: Turn | None = None
    need: Need | None = None
    attention: Attention | None = None
    severity: str = ""
    asset: str = ""
    product: str = ""
    vendor: str = ""
    site: str = ""
    contract: str = ""
    login: str = ""
    owner: str = ""
    unowned: bool = False
    open: bool = False
    ticket: str = ""
    our_reference: str = ""
    updated_since: datetime | None = None
    created_since: datetime | None = None
    created_before: datetime | None = None
    due_before: datetime | None = None
    lodged_since: datetime | None = None
    lodged_before: datetime | None = None
    settled_since: datetime | None = None
    settled_before: datetime | None = None
    refused_since: datetime | None = None
    refused_before: datetime | None = None
    refused_as: str = ""
    course: Course | None = None
    rating: int | None = None
    query: str = ""


def listed(
    app: AppContext, *, which: Which, sort: str = "", limit: int = 50, cursor: str = ""
) -> Page[PacketBrief]:
    """List packets, newest first or by another column (`-column`: downwards).

    Raises NotFound for a record that is not in the register, Invalid for a column that no list is sorted by.
    """
    order, downwards = _sorted_by(sort or NEWEST)
    with app.database.snapshot() as session:
        statement = select(PacketLine).where(*conditions(session, which))
        place = (order, PacketLine.packet_id)
        return in_order(
            session, statement, place, cursor, min(limit, MOST), briefs.of_line, downwards=downwards,
            read=_READ if which.query else 0,
        )  # fmt: skip


_AT_ONCE = 100


def exported(
    app: AppContext, actor: Actor, *, which: Which, sort: str = "", form: Format = "csv"
) -> tuple[str, Iterator[bytes]]:
    """Name and content of a list of packets as a file, in the order of the list.

    Raises NotFound for a record that is not in the register, Invalid for a column that no list is sorted by.
    """
    order, downwards = _sorted_by(sort or NEWEST)
    with app.database.snapshot() as session:
        narrowed = conditions(session, which)

    def rows() -> Iterator[PacketBrief]:
        with app.database.snapshot() as session:
            statement = select(PacketLine).where(*narrowed)

            def page(cursor: str) -> tuple[list[PacketBrief], str | None]:
                found = in_order(
                    session, statement, (order, PacketLine.packet_id), cursor, _AT_ONCE, briefs.of_line,
                    downwards=downwards,
                )  # fmt: skip
                session.expunge_all()
                return found.items, found.next

            yield from all_pages(page)

    return table_file(app, actor, "packets", [("packets", PacketBrief, rows())], form)


class CountedBy(StrEnum):
    """Properties by which open packets can be counted."""

    VENDOR = "vendor"
    ASSET = "asset"
    PRODUCT = "product"
    SITE = "site"
    CONTRACT = "contract"
    LOGIN = "login"
    OWNER = "owner"


class PacketCount(BaseModel):
    """How many open packets there are about one record, or in one person's care."""

    handle: str = Field(
        description="The value that narrows the list of packets to these; empty: nobody looks after them."
    )
    packets: int = Field(description="How many of them are open.")


_COUNTED: dict[CountedBy, Any] = {
    CountedBy.VENDOR: PacketLine.vendor,
    CountedBy.ASSET: PacketLine.asset_id,
    CountedBy.PRODUCT: PacketLine.product_id,
    CountedBy.SITE: PacketLine.site,
    CountedBy.LOGIN: PacketLine.login_id,
    CountedBy.OWNER: PacketLine.owner,
}


def counted(app: AppContext, by: CountedBy) -> list[PacketCount]:
    """Count the open packets by what they are about or by who looks after them, the most first."""
    with app.database.snapshot() as session:
        if by == CountedBy.CONTRACT:
            handle: Any = Contract.id
            about = (Contract.number == PacketLine.contract) & (Contract.vendor_id == Vendor.id)
            query = select(handle, func.count()).select_from(PacketLine)
            query = query.join(Vendor, Vendor.key == PacketLine.vendor).join(Contract, about)
        else:
            handle = _COUNTED[by]
            query = select(handle, func.count()).where(handle.is_not(None))
        query = query.where(waits()).group_by(handle).order_by(func.count().desc(), handle)
        rows = session.execute(query.limit(_MOST_COUNTED))
        return [PacketCount(handle=one, packets=count) for one, count in rows]


def _sorted_by(sort: str) -> tuple[Any, bool]:
    name = sort.removeprefix("-")
    if name not in SORTED_BY:
        raise Invalid(
            f"Packets are not sorted by {name}.",
            f"Sort by {', '.join(SORTED_BY)}; with - before it, downwards.",
            field="sort",
        )
    return getattr(PacketLine, name), sort.startswith("-")


def conditions(session: Session, which: Which) -> list[Any]:
    """Conditions on lines. Raises NotFound for a record that is not in the register."""
    equal = {
        PacketLine.life: which.life,
        PacketLine.turn: which.turn,
        PacketLine.need: which.need,
        PacketLine.severity: which.severity,
        PacketLine.owner: which.owner,
        PacketLine.our_reference: which.our_reference,
        PacketLine.ticket: which.ticket,
    }
    found: list[Any] = [column == value for column, value in equal.items() if value]
    found += [*_about(session, which), *_at_times(which), *_as_it_went(which)]
    return found + (matching(session, which.query) if which.query else [])


def _about(session: Session, which: Which) -> Iterator[Any]:
    """Conditions on the records of the register that it is about. Raises NotFound."""
    named = {
        "asset": (PacketLine.asset_id, "id", which.asset),
        "product": (PacketLine.product_id, "id", which.product),
        "vendor": (PacketLine.vendor, "key", which.vendor),
        "site": (PacketLine.site, "key", which.site),
        "login": (PacketLine.login_id, "id", which.login),
    }
    for kind, (column, attribute, handle) in named.items():
        if handle:
            yield column == getattr(KINDS[kind].find(session, handle), attribute)
    if which.contract:
        row = KINDS["contract"].find(session, which.contract)
        yield PacketLine.contract == row.number
        yield PacketLine.vendor == row.vendor.key


def _at_times(which: Which) -> Iterator[Any]:
    """Conditions on whom it waits for, and on its times."""
    if which.attention:
        yield (attention_now() == which.attention)
    if which.unowned:
        yield (PacketLine.owner == "")
    if which.open:
        yield waits()
    for column, since, before in (
        (PacketLine.updated_at, which.updated_since, None),
        (PacketLine.created_at, which.created_since, which.created_before),
        (PacketLine.due_at, None, which.due_before),
        (PacketLine.lodged_at, which.lodged_since, which.lodged_before),
        (PacketLine.settled_at, which.settled_since, which.settled_before),
    ):
        if since:
            yield (column >= since)
        if before:
            yield (column < before)


def _as_it_went(which: Which) -> Iterator[Any]:
    """Conditions on how it went."""
    if which.course:
        yield _COURSES[which.course]
    if which.rating:
        yield (PacketLine.rating == which.rating)
    if which.refused_as or which.refused_since or which.refused_before:
        refused = select(PacketRefusal.id).where(PacketRefusal.packet_id == PacketLine.packet_id)
        if which.refused_as:
            refused = refused.where(PacketRefusal.code == which.refused_as)
        if which.refused_since:
            refused = refused.where(PacketRefusal.at >= which.refused_since)
        if which.refused_before:
            refused = refused.where(PacketRefusal.at < which.refused_before)
        yield refused.exists()


def attention_now() -> Any:
    """Why a packet needs us at this moment: what is due goes before why it needs us otherwise."""
    now = datetime.now(UTC)
    return case(
        (PacketLine.turn == Turn.NONE, PacketLine.attention),
        (PacketLine.due_at <= now, Attention.OVERDUE.value),
        (PacketLine.due_at <= now + SOON, Attention.DUE_SOON.value),
        else_=PacketLine.attention,
    )


def waits() -> ColumnElement[bool]:
    """Whether a packet waits for somebody."""
    return literal_column(f"packet_line.{packet_lines.WAITING}", Boolean)


def needs_us() -> ColumnElement[bool]:
    """Whether a packet needs us at this moment: it is our turn, or a promise of its desk is due soon or broken."""
    due = func.coalesce(PacketLine.due_at <= datetime.now(UTC) + SOON, false())
    return waits() & ((PacketLine.turn == Turn.OURS) | due)


def urgency_now() -> Any:
    """The place of that reason in the order in which packets are dealt with."""
    places = {reason.value: place for place, reason in enumerate(ORDER)}
    return case(places, value=attention_now(), else_=literal(len(ORDER), Integer))


def matching(session: Session, query: str) -> list[Any]:
    """Conditions of a query: each of its words is in a number or the title, or among the words of the note.

    Words that say nothing, such as “the”, count only where the query has no others.
    """
    words = query.lower().split()[:_MOST_WORDS]
    asked = [func.plainto_tsquery(LANGUAGE, word) for word in words]
    weights = session.execute(select(*(func.numnode(one) for one in asked))).one() if asked else ()
    said = [
        or_(PacketLine.said.contains(word, autoescape=True), PacketLine.words.op("@@")(one))
        for word, one, weight in zip(words, asked, weights, strict=True)
        if weight
    ]
    return said or [PacketLine.said.contains(query.strip().lower(), autoescape=True)]
