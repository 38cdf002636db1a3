"""News of vendors about products that we have, read from the feeds that the house names."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta

import httpx
import structlog
from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.channels.wire import open_wire
from sealpacket.core.errors import ProblemError
from sealpacket.core.feeds import Entry, read_feed
from sealpacket.core.notices import NoticeKind
from sealpacket.services.notices import announcing
from sealpacket.store.models import Asset, NewsFeed, Product, ProductNews, Vendor

EVERY = timedelta(minutes=30)
"""How often a feed is read, at most."""
MOST = 200
_SHORTEST_NAME = 3
log = structlog.get_logger()


class NewsShown(BaseModel):
    """An entry of a vendor's news about products that we have."""

    id: int
    vendor: str = Field(description="The vendor's key.")
    vendor_name: str
    title: str
    summary: str
    link: str = Field(description="Where the vendor has it; empty: nowhere.")
    products: list[str] = Field(description="Names of our products that it names.")
    at: datetime = Field(description="When the vendor published it, else when it was read.")


class FeedShown(BaseModel):
    """A vendor's feed, and how it was read last."""

    vendor: str
    read_at: datetime | None
    trouble: str = Field(description="Why it could not be read; empty: it could.")


class News(BaseModel):
    """News about products that we have, the newest first, and the feeds that they come from."""

    items: list[NewsShown]
    feeds: list[FeedShown]


def listed(app: AppContext, *, vendor: str = "") -> News:
    """List news about products that we have, the newest first; of one vendor, if its key is given."""
    with app.database.snapshot() as session:
        query = select(ProductNews)
        if vendor:
            query = query.where(ProductNews.vendor == vendor)
        rows = session.scalars(query.order_by(ProductNews.id.desc()).limit(MOST)).all()
        wanted = {ident for one in rows for ident in one.products}
        products = session.scalars(select(Product).where(Product.id.in_(wanted)))
        names = {one.id: one.name for one in products}
        items = [
            NewsShown(
                id=one.id,
                vendor=one.vendor,
                vendor_name=one.vendor_name,
                title=one.title,
                summary=one.summary,
                link=one.link,
                products=[names[ident] for ident in one.products if ident in names],
                at=one.published_at or one.at,
            )
            for one in rows
        ]
        read = {one.vendor: one for one in session.scalars(select(NewsFeed))}
        feeds = [
            FeedShown(
                vendor=key,
                read_at=read[key].read_at if key in read else None,
                trouble=read[key].trouble if key in read else "",
            )
            for key in sorted(app.settings.news_feeds)
        ]
        return News(items=items, feeds=feeds)


def read_all(app: AppContext) -> None:
    """Read the feeds whose time has come. The worker calls this; one that fails keeps no other waiting for long."""
    for vendor, address in sorted(app.settings.news_feeds.items()):
        with app.database.transaction() as session:
            last = session.get(NewsFeed, vendor)
            if last is not None and last.read_at and datetime.now(UTC) - last.read_at < EVERY:
                continue
            mark = last.mark if last else ""
        try:
            _read(app, vendor, address, mark)
        except ProblemError as problem:
            _note(app, vendor, mark, problem.detail)
        except (httpx.HTTPError, httpx.InvalidURL) as error:
            log.warning("a feed cannot be read", vendor=vendor, error=type(error).__name__)
            _note(app, vendor, mark, "It cannot be reached.")


def _read(app: AppContext, vendor: str, address: str, mark: str) -> None:
    wire = open_wire(address, app.settings.desk_timeout)
    try:
        answer = wire.request("GET", address, headers={"If-None-Match": mark} if mark else {})
    finally:
        wire.close()
    if answer.status_code == httpx.codes.NOT_MODIFIED:
        _note(app, vendor, mark)
        return
    if not answer.is_success:
        _note(app, vendor, mark, f"It answered with HTTP {answer.status_code}.")
        return
    _keep(app, vendor, read_feed(answer.content))
    _note(app, vendor, answer.headers.get("ETag", "")[:200])


def _note(app: AppContext, vendor: str, mark: str, trouble: str = "") -> None:
    values = {"vendor": vendor, "mark": mark, "trouble": trouble, "read_at": datetime.now(UTC)}
    with app.database.transaction() as session:
        made = insert(NewsFeed).values(values)
        session.execute(made.on_conflict_do_update(index_elements=["vendor"], set_=values))


def _keep(app: AppContext, vendor: str, entries: Iterable[Entry]) -> None:
    """Keep new entries that name a product of ours, and notify of them; the oldest first."""
    with app.database.transaction() as session:
        name = session.scalar(select(Vendor.name).where(Vendor.key == vendor))
        products = _products(session, vendor)
        if name is None or not products:
            return
        for one in reversed([*entries]):
            named = _named_in(f"{one.title} {one.summary}", products)
            if not named:
                continue
            made = insert(ProductNews).values(
                vendor=vendor, vendor_name=name, ident=one.ident, title=one.title,
                summary=one.summary, link=one.link, products=named,
                published_at=one.published_at, at=datetime.now(UTC),
            )  # fmt: skip
            kept = session.scalar(made.on_conflict_do_nothing().returning(ProductNews.id))
            if kept is not None:
                announcing.announce(
                    session, NoticeKind.PRODUCT_NEWS, str(kept), lambda _: True, vendor
                )


def _products(session: Session, vendor: str) -> dict[str, list[str]]:
    """By the id of each product of a vendor that we have, its names: as in the register, its part number, its line."""
    query = (
        select(Product)
        .join(Vendor, Vendor.id == Product.vendor_id)
        .where(
            Vendor.key == vendor,
            select(Asset.id)
            .where(Asset.product_id == Product.id, Asset.status != "retired")
            .exists(),
        )
        .order_by(Product.id)
    )
    return {one.id: [one.name, one.part_number] for one in session.scalars(query)}


def _named_in(text: str, products: dict[str, list[str]]) -> list[str]:
    """The ids of the products that a text names, as whole words."""
    said = text.casefold()
    return [
        ident
        for ident, names in products.items()
        if any(
            len(name) >= _SHORTEST_NAME
            and re.search(rf"(?<!\w){re.escape(name.casefold())}(?!\w)", said)
            for name in names
        )
    ]
