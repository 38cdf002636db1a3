"""News of vendors about products that we have, read from the feeds that the house names."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime, timedelta

from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert

from sealpacket.app.context import AppContext
from sealpacket.core.feeds import Entry, read_feed
from sealpacket.core.notices import NoticeKind
from sealpacket.core.vendor_health import named_in
from sealpacket.services.feeds import FeedShown, products_of, read_due, states
from sealpacket.services.notices import announcing
from sealpacket.store.models import Product, ProductNews, Vendor

EVERY = timedelta(minutes=30)
"""How often a feed is read, at most."""
MOST = 200


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
        feeds = states(session, "news", app.settings.news_feeds)
        return News(items=items, feeds=feeds)


def read_all(app: AppContext) -> None:
    """Read the feeds whose time has come. The worker calls this."""

    def keep(vendor: str, data: bytes) -> None:
        _keep(app, vendor, read_feed(data))

    read_due(app, "news", app.settings.news_feeds, EVERY, keep, if_changed=True)


def _keep(app: AppContext, vendor: str, entries: Iterable[Entry]) -> None:
    """Keep new entries that name a product of ours, and notify of them; the oldest first."""
    with app.database.transaction() as session:
        name = session.scalar(select(Vendor.name).where(Vendor.key == vendor))
        products = products_of(session, vendor)
        if name is None or not products:
            return
        for one in reversed([*entries]):
            named = named_in(f"{one.title} {one.summary}", products)
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
