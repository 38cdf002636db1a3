"""Reading vendors' feeds: when each is due, how it was read last, and what of ours may be named in it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from datetime import UTC, datetime, timedelta
from typing import Literal

import httpx
import structlog
from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.channels.wire import open_wire
from sealpacket.core.errors import ProblemError
from sealpacket.store.models import Asset, Product, Vendor, VendorFeed

LONGEST_SILENCE = 10.0
"""Seconds for which a feed may be silent; in all it has as many times that as a desk has."""
About = Literal["news", "health"]
log = structlog.get_logger()


class FeedShown(BaseModel):
    """A vendor's feed, and how it was read last."""

    vendor: str
    read_at: datetime | None
    trouble: str = Field(description="Why it could not be read; empty: it could.")


def states(session: Session, about: About, vendors: Iterable[str]) -> list[FeedShown]:
    """How the feeds of these vendors (keys) were read last."""
    query = select(VendorFeed).where(VendorFeed.about == about)
    read = {one.vendor: one for one in session.scalars(query)}
    return [
        FeedShown(
            vendor=key,
            read_at=read[key].read_at if key in read else None,
            trouble=read[key].trouble if key in read else "",
        )
        for key in sorted(vendors)
    ]


def read_due(
    app: AppContext,
    about: About,
    addresses: Mapping[str, str],
    every: timedelta,
    keep: Callable[[str, bytes], None],
    *,
    if_changed: bool,
) -> None:
    """Read the feeds whose time has come; `keep` takes the vendor's key and what was read.

    One that fails keeps no other waiting for long. With `if_changed` a feed is asked whether it has changed.
    """
    for vendor, address in sorted(addresses.items()):
        with app.database.transaction() as session:
            last = session.get(VendorFeed, (vendor, about))
            if last is not None and last.read_at and datetime.now(UTC) - last.read_at < every:
                continue
            mark = last.mark if last and if_changed else ""
        try:
            mark, trouble = _read(app, vendor, address, mark, keep)
        except ProblemError as problem:
            trouble = problem.detail
        except (httpx.HTTPError, httpx.InvalidURL) as error:
            log.warning("a feed cannot be read", vendor=vendor, error=type(error).__name__)
            trouble = "It cannot be reached."
        _note(app, vendor, about, mark, trouble)


def _read(
    app: AppContext, vendor: str, address: str, mark: str, keep: Callable[[str, bytes], None]
) -> tuple[str, str]:
    """Read a feed; its new mark, and what is wrong with it."""
    wire = open_wire(address, min(app.settings.desk_timeout, LONGEST_SILENCE))
    try:
        answer = wire.request("GET", address, headers={"If-None-Match": mark} if mark else {})
    finally:
        wire.close()
    if answer.status_code == httpx.codes.NOT_MODIFIED:
        return mark, ""
    if not answer.is_success:
        return mark, f"It answered with HTTP {answer.status_code}."
    keep(vendor, answer.content)
    return answer.headers.get("ETag", "")[:200], ""


def _note(app: AppContext, vendor: str, about: About, mark: str, trouble: str) -> None:
    values = {
        "vendor": vendor, "about": about, "mark": mark, "trouble": trouble, "read_at": datetime.now(UTC),
    }  # fmt: skip
    with app.database.transaction() as session:
        made = insert(VendorFeed).values(values)
        session.execute(made.on_conflict_do_update(index_elements=["vendor", "about"], set_=values))


def products_of(session: Session, vendor: str) -> dict[str, list[str]]:
    """By the id of each product of a vendor that we have, its names: as in the register, and its part number."""
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
