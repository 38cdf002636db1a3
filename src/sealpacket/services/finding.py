"""Finding: everything that has a name or a number, of every kind, by what is known of it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, time
from enum import StrEnum
from typing import Any

from pydantic import BaseModel, Field
from sqlalchemy import ColumnElement, func, or_, select
from sqlalchemy.orm import Session, joinedload

from sealpacket.app.context import AppContext
from sealpacket.services.packets import listing
from sealpacket.services.packets.lines import LANGUAGE
from sealpacket.services.register.acts import find_likely, found_ids, of_vendor
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import (
    Article,
    Asset,
    KnownIssueRecord,
    Message,
    OrderDocument,
    PacketLine,
    Product,
)

FEW = 6
"""Items of a kind that are shown unless more are asked for."""
MOST = 100
_WORDS = 12
_RANKED = 200
_LOOKED_AT = 250
_SNIPPET = 160


class FoundKind(StrEnum):
    """A kind of record that can be found, in the order in which kinds are shown."""

    PACKET = "packet"
    ASSET = "asset"
    CONTRACT = "contract"
    ENTITLEMENT = "entitlement"
    SITE = "site"
    PERSON = "person"
    PRODUCT = "product"
    VENDOR = "vendor"
    LOGIN = "login"
    ORDER_DOCUMENT = "order_document"
    ARTICLE = "article"
    KNOWN_ISSUE = "known_issue"
    REPLY = "reply"


class FoundItem(BaseModel):
    """One record that was found."""

    kind: FoundKind = Field(description="The kind of record.")
    handle: str = Field(
        description="The id, number or key that opens it; of a reply, its packet's."
    )
    name: str = Field(description="The number or name that people call it.")
    title: str = Field(description="Its title, or a part of its words; may be empty.")
    beside: str = Field(description="Where it belongs: a vendor, a site, a state.")
    matched: str = Field(
        description="The number in which it was found, where neither name nor title has it."
    )
    exact: bool = Field(description="Whether a number of it is the query itself.")
    at: datetime | None = Field(description="Its date; null for a kind that has none.")


class FoundGroup(BaseModel):
    """Records of one kind that were found, exact numbers first."""

    kind: FoundKind = Field(description="The kind of record.")
    items: list[FoundItem] = Field(description="The records, exact numbers first.")
    more: bool = Field(description="Whether there are more of this kind.")


class Found(BaseModel):
    """Records that were found, by kind; kinds with an exact number come first."""

    groups: list[FoundGroup] = Field(description="The kinds of which something was found.")
    words: list[str] = Field(description="The words of the query, for marking them.")
    likely: bool = Field(
        description="Whether nothing matches exactly, and these are assets with a similar serial or name."
    )


@dataclass(frozen=True)
class Asked:
    """A query, and the vendor (key), product (part number) and day to which finding is limited."""

    query: str
    vendor: str = ""
    product: str = ""
    since: datetime | None = None
    limit: int = FEW

    @property
    def needle(self) -> str:
        """The query as numbers are compared with it."""
        return self.query.strip().lower()

    @property
    def words(self) -> list[str]:
        """The words of the query, in lower case."""
        return self.needle.split()[:_WORDS]


def find(app: AppContext, asked: Asked, kinds: Iterable[FoundKind] = ()) -> Found:
    """Find records of all kinds, or of some. Raises NotFound for a vendor or product that is not in the register."""
    if not asked.words:
        return Found(groups=[], words=[], likely=False)
    wanted = set(kinds) or set(FoundKind)
    with app.database.snapshot() as session:
        groups = [
            _group(kind, search(session, asked))
            for kind, search in _SEARCHES.items()
            if kind in wanted
        ]
        groups = sorted((one for one in groups if one.items), key=_is_exact, reverse=True)
        for group in groups:
            group.more = len(group.items) > asked.limit
            del group.items[asked.limit :]
        likely = not groups and FoundKind.ASSET in wanted and not asked.product
        if likely:
            items = _likely_assets(session, asked)
            groups = [FoundGroup(kind=FoundKind.ASSET, items=items, more=False)] if items else []
        return Found(groups=groups, words=asked.words, likely=likely and bool(groups))


def _group(kind: FoundKind, items: list[FoundItem]) -> FoundGroup:
    items.sort(key=lambda one: not one.exact)
    return FoundGroup(kind=kind, items=items, more=False)


def _is_exact(group: FoundGroup) -> bool:
    return any(one.exact for one in group.items)


def _packets(session: Session, asked: Asked) -> list[FoundItem]:
    which = listing.Which(vendor=asked.vendor, product=asked.product, created_since=asked.since)
    narrowed = listing.conditions(session, which)
    few = asked.limit + 1
    rows = _newest(session, [*narrowed, PacketLine.numbers.contains([asked.needle])], few)
    if len(rows) < few:
        known = {row.packet_id for row in rows}
        loose = [*narrowed, *listing.matching(session, asked.query)]
        more = _newest(session, loose, few + len(rows))
        rows += [row for row in more if row.packet_id not in known]
    return [
        FoundItem(
            kind=FoundKind.PACKET,
            handle=row.number,
            name=row.number,
            title=row.title,
            beside=", ".join(filter(None, [row.vendor_name, row.life])),
            matched=_number_with(row.numbers, asked, row.number),
            exact=asked.needle in row.numbers and asked.needle not in _of_others(row),
            at=row.created_at,
        )
        for row in rows[:few]
    ]


def _newest(session: Session, which: Sequence[Any], few: int) -> list[PacketLine]:
    """The newest packets that meet some conditions.

    They are looked for among many: asked for few, the database reads all packets by their age for a rare number.
    """
    newest = PacketLine.created_at.desc()
    many = select(PacketLine.packet_id).where(*which).order_by(newest).limit(_LOOKED_AT)
    query = select(PacketLine).where(PacketLine.packet_id.in_(many)).order_by(newest)
    return list(session.scalars(query.limit(few)))


def _of_others(row: PacketLine) -> set[str]:
    """Numbers of a packet that are those of other records, which come before it."""
    return {one.lower() for one in (row.serial, row.contract) if one}


def _number_with(numbers: list[str], asked: Asked, name: str) -> str:
    """The number of a packet that holds the query, if it is not the one that is shown."""
    if asked.needle in name.lower():
        return ""
    return next((one for one in numbers if asked.needle in one), "")


def _assets(session: Session, asked: Asked) -> list[FoundItem]:
    is_narrowed = asked.vendor or asked.product or asked.since
    ids = session.scalars(found_ids(asked.query, _RANKED if is_narrowed else asked.limit + 1)).all()
    query = select(Asset).where(Asset.id.in_(ids), ~Asset.made_up).options(*KINDS["asset"].eager)
    if asked.vendor:
        query = query.where(Asset.vendor_id == KINDS["vendor"].find(session, asked.vendor).id)
    if asked.product:
        query = query.where(Asset.product_id == KINDS["product"].find(session, asked.product).id)
    if asked.since:
        query = query.where(Asset.created_at >= asked.since)
    by_id = {row.id: row for row in session.scalars(query)}
    return [_asset(by_id[ident], asked) for ident in ids if ident in by_id][: asked.limit + 1]


def _likely_assets(session: Session, asked: Asked) -> list[FoundItem]:
    rows = find_likely(session, asked.query, asked.limit, asked.vendor)
    return [_asset(row, asked) for row in rows if not asked.since or row.created_at >= asked.since]


def _asset(row: Asset, asked: Asked) -> FoundItem:
    names = [*row.host_names, *row.addresses]
    matched = next((one for one in names if asked.needle in one.lower()), "")
    return FoundItem(
        kind=FoundKind.ASSET,
        handle=row.id,
        name=row.serial,
        title=row.name or row.product.name,
        beside=", ".join(filter(None, [row.vendor.name, row.site.name if row.site else ""])),
        matched=matched,
        exact=asked.needle in (row.serial.lower(), *(one.lower() for one in names)),
        at=row.created_at,
    )


def _of_register(name: str, numbers: tuple[str, ...], title: str, beside: str) -> Any:
    """A search of one kind of record: `numbers`, `title` and `beside` are its columns, or those of its owner."""

    def search(session: Session, asked: Asked) -> list[FoundItem]:
        kind = KINDS[name]
        if asked.product and name != "product":
            return []
        if asked.vendor and name in ("person", "site"):
            return []
        columns = {getattr(kind.model, one) for one in numbers} | set(kind.search)
        query = select(kind.model).options(*kind.eager)
        for word in asked.words:
            holds = [func.lower(one).contains(word, autoescape=True) for one in columns]
            query = query.where(or_(*holds))
        if asked.vendor:
            query = of_vendor(kind, query, asked.vendor)
        if asked.product:
            query = query.where(Product.part_number == asked.product)
        if asked.since:
            query = query.where(kind.model.created_at >= asked.since)
        is_exact = or_(*(func.lower(getattr(kind.model, one)) == asked.needle for one in numbers))
        rows = session.scalars(
            query.order_by(is_exact.desc(), kind.called, kind.model.id).limit(asked.limit + 1)
        )
        return [
            FoundItem(
                kind=FoundKind(name),
                handle=row.id,
                name=getattr(row, numbers[0]),
                title=_at(row, title),
                beside=_at(row, beside),
                matched="",
                exact=any(asked.needle == str(getattr(row, one)).lower() for one in numbers),
                at=row.created_at,
            )
            for row in rows
        ]

    return search


def _at(row: Any, path: str) -> str:
    """A column of a record or of its owner, such as `contract.vendor.name`; empty where there is none."""
    for name in path.split("."):
        row = getattr(row, name, None) if name else None
    return str(row or "")


def _words_of(session: Session, vector: Any, asked: Asked) -> ColumnElement[bool]:
    """Whether each word of the query is among the words of a text, whatever its ending."""
    return vector.op("@@")(func.plainto_tsquery(LANGUAGE, asked.query))  # type: ignore[no-any-return]


def _articles(session: Session, asked: Asked) -> list[FoundItem]:
    query = select(Article).where(
        or_(func.lower(Article.key) == asked.needle, _words_of(session, Article.words, asked))
    )
    query = _of_models(query, Article, asked)
    if asked.since:
        query = query.where(Article.written_on >= asked.since.date())
    rows = session.scalars(query.order_by(Article.written_on.desc()).limit(asked.limit + 1))
    return [
        FoundItem(
            kind=FoundKind.ARTICLE,
            handle=row.key,
            name=row.title,
            title=_snippet(row.text, asked),
            beside=row.sort,
            matched="",
            exact=row.key.lower() == asked.needle,
            at=datetime.combine(row.written_on, time(), UTC),
        )
        for row in rows
    ]


def _known_issues(session: Session, asked: Asked) -> list[FoundItem]:
    one = KnownIssueRecord
    said = func.lower(
        func.concat_ws(" ", one.key, one.title, one.meaning, one.advice, one.fixed_in)
    )
    query = select(one).where(*(said.contains(word, autoescape=True) for word in asked.words))
    query = _of_models(query, one, asked)
    if asked.since:
        query = query.where(one.at >= asked.since)
    rows = session.scalars(query.order_by(one.key).limit(asked.limit + 1))
    return [
        FoundItem(
            kind=FoundKind.KNOWN_ISSUE,
            handle=row.key,
            name=row.title,
            title=row.meaning,
            beside=row.vendor,
            matched="",
            exact=row.key.lower() == asked.needle,
            at=row.at,
        )
        for row in rows
    ]


def _of_models(query: Any, kind: Any, asked: Asked) -> Any:
    """Only what was written about a vendor or a product, where one is asked for."""
    if asked.vendor:
        query = query.where(kind.vendor == asked.vendor)
    if asked.product:
        query = query.where(kind.models.contains([asked.product]))
    return query


def _order_documents(session: Session, asked: Asked) -> list[FoundItem]:
    if asked.product or asked.vendor:
        return []
    name = func.lower(OrderDocument.name)
    query = select(OrderDocument).options(joinedload(OrderDocument.contract))
    query = query.where(*(name.contains(word, autoescape=True) for word in asked.words))
    if asked.since:
        query = query.where(OrderDocument.at >= asked.since)
    rows = session.scalars(query.order_by(OrderDocument.at.desc()).limit(asked.limit + 1))
    return [
        FoundItem(
            kind=FoundKind.ORDER_DOCUMENT,
            handle=row.id,
            name=row.name,
            title=f"Contract {row.contract.number}" if row.contract else row.status_text,
            beside=row.state,
            matched="",
            exact=row.name.lower() == asked.needle,
            at=row.at,
        )
        for row in rows
    ]


def _replies(session: Session, asked: Asked) -> list[FoundItem]:
    vector = func.to_tsvector(LANGUAGE, Message.text)
    narrowed = listing.conditions(
        session, listing.Which(vendor=asked.vendor, product=asked.product)
    )
    many = select(Message.id).where(Message.direction == "in", _words_of(session, vector, asked))
    if narrowed:
        many = many.join(PacketLine, PacketLine.packet_id == Message.packet_id).where(*narrowed)
    if asked.since:
        many = many.where(Message.at >= asked.since)
    many = many.order_by(Message.at.desc()).limit(_LOOKED_AT)  # as of packets: see _newest
    rows = session.execute(
        select(Message, PacketLine.number, PacketLine.vendor_name)
        .join(PacketLine, PacketLine.packet_id == Message.packet_id)
        .where(Message.id.in_(many))
        .order_by(Message.at.desc())
        .limit(asked.limit + 1)
    )
    return [
        FoundItem(
            kind=FoundKind.REPLY,
            handle=number,
            name=number,
            title=_snippet(message.text, asked),
            beside=message.sender or vendor or "",
            matched="",
            exact=False,
            at=message.at,
        )
        for message, number, vendor in rows
    ]


def _snippet(text: str, asked: Asked) -> str:
    """The part of a text around the first word of the query, in one line."""
    line = " ".join(text.split())
    places = [place for word in asked.words if (place := line.lower().find(word[:5])) >= 0]
    start = max(0, min(places, default=0) - _SNIPPET // 4)
    return ("…" if start else "") + line[start : start + _SNIPPET]


_SEARCHES: dict[FoundKind, Callable[[Session, Asked], list[FoundItem]]] = {
    FoundKind.PACKET: _packets,
    FoundKind.ASSET: _assets,
    FoundKind.CONTRACT: _of_register("contract", ("number",), "title", "vendor.name"),
    FoundKind.ENTITLEMENT: _of_register(
        "entitlement", ("reference",), "level", "contract.vendor.name"
    ),
    FoundKind.SITE: _of_register("site", ("name", "key"), "address", ""),
    FoundKind.PERSON: _of_register("person", ("name", "key", "mail"), "mail", ""),
    FoundKind.PRODUCT: _of_register("product", ("part_number", "name"), "name", "vendor.name"),
    FoundKind.VENDOR: _of_register("vendor", ("name", "key"), "key", ""),
    FoundKind.LOGIN: _of_register("login", ("name",), "person.name", "vendor.name"),
    FoundKind.ORDER_DOCUMENT: _order_documents,
    FoundKind.ARTICLE: _articles,
    FoundKind.KNOWN_ISSUE: _known_issues,
    FoundKind.REPLY: _replies,
}
