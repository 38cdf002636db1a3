"""Keys of licences, which are shown only when somebody asks, and what runs behind the current versions."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta

from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict
from sealpacket.services.agreed.balance import unit_balance
from sealpacket.services.register.acts import of_vendor
from sealpacket.services.register.agreed import LICENCE_KEY
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Asset, Licence, Product, Release


class AssetBehind(BaseModel):
    """An asset that does not run the current version of its product."""

    asset: str = Field(description="The serial.")
    asset_id: str = Field(description="The id of the asset.")
    name: str = Field(description="The name of the asset.")
    vendor: str = Field(description="The vendor's key.")
    product: str = Field(description="The name of the product.")
    runs: str = Field(description="The version that it runs; empty: not known.")
    current: str = Field(description="The current version.")
    status: str = Field(
        description="The state of the version that it runs; empty: it is not listed."
    )
    mends: list[str] = Field(description="Known issues that the versions between mend.")


class ExpiringSoon(BaseModel):
    """A licence that ends, or units that lapse."""

    what: str = Field(description="Whether it is a licence, a feature key, a certificate or units.")
    name: str = Field(description="The name of the licence, or the reference of the lot.")
    about: str = Field(description="The serial of the asset, or the number of the contract.")
    vendor: str = Field(description="The vendor's key.")
    ends_on: date = Field(description="Its last day.")
    days: int = Field(description="Days left.")
    units: int = Field(description="Units that would lapse; 0 for a licence.")


def licence_key(app: AppContext, actor: Actor, handle: str) -> str:
    """The key of a licence, in clear; the custody log keeps who asked for it. Raises Conflict if there is none."""
    with app.transaction(actor, "licence key shown", "licence") as tx:
        row: Licence = KINDS["licence"].find(tx.session, handle)
        tx.subject, tx.detail = f"licence {row.id}", {"called": row.name}
        if row.key_sealed is None:
            raise Conflict(f"Licence {row.name} has no key.", "Give it one first.", code="no-key")
        return app.open_value(row.key_sealed, LICENCE_KEY.purpose)


def assets_behind(app: AppContext, *, vendor: str = "", product: str = "") -> list[AssetBehind]:
    """Assets in use that do not run the current version of their product, those on withdrawn versions first."""
    with app.database.transaction() as session:
        query = select(Release)
        if vendor:
            query = of_vendor(KINDS["release"], query, vendor)
        by_product: dict[str, list[Release]] = {}
        for row in session.scalars(query):
            by_product.setdefault(row.product_id, []).append(row)
        found = [
            one
            for ident, releases in by_product.items()
            for one in _behind(session, ident, releases, product)
        ]
    return sorted(found, key=lambda one: (one.status != "withdrawn", one.product, one.asset))


def _behind(
    session: Session, ident: str, releases: list[Release], product: str
) -> list[AssetBehind]:
    current = [one for one in releases if one.status == "current"]
    if not current:
        return []
    newest = max(current, key=_released)
    query = select(Asset).where(
        Asset.product_id == ident, Asset.status.not_in(("retired", "ordered"))
    )
    query = query.where(Asset.software_version != newest.number)
    if product:
        query = query.join(Product, Product.id == Asset.product_id).where(
            Product.part_number == product
        )
    by_number = {one.number: one for one in releases}
    mends: dict[str, list[str]] = {}
    made = []
    for row in session.scalars(query.options(*KINDS["asset"].eager)).unique():
        runs = by_number.get(row.software_version)
        if row.software_version not in mends:
            mends[row.software_version] = _mended(releases, runs, newest)
        made.append(
            AssetBehind(
                asset=row.serial, asset_id=row.id, name=row.name, vendor=row.vendor.key, product=row.product.name,
                runs=row.software_version, current=newest.number, status=runs.status if runs else "",
                mends=mends[row.software_version],
            )
        )  # fmt: skip
    return made


def _mended(releases: list[Release], runs: Release | None, newest: Release) -> list[str]:
    """Known issues that the versions after the one that runs mend, up to the newest."""
    since = _released(runs) if runs else date.min
    between = [
        one
        for one in sorted(releases, key=_released)
        if since < _released(one) <= _released(newest) and one.status != "withdrawn"
    ]
    return list(dict.fromkeys(name for one in between for name in one.mends))


def _released(one: Release) -> date:
    return one.released_on or date.min


def expiring(app: AppContext, *, vendor: str = "", days: int = 90) -> list[ExpiringSoon]:
    """Licences that end and units that would lapse within a number of days, the earliest first."""
    today = datetime.now(UTC).date()
    until = today + timedelta(days=days)
    with app.database.transaction() as session:
        query = select(Licence).where(Licence.ends_on.between(today, until))
        query = query.options(*KINDS["licence"].eager)
        if vendor:
            query = of_vendor(KINDS["licence"], query, vendor)
        found = [
            ExpiringSoon(
                what=row.sort, name=row.name, about=row.asset.serial, vendor=row.vendor.key,
                ends_on=row.ends_on or until, days=((row.ends_on or until) - today).days, units=0,
            )
            for row in session.scalars(query)
        ]  # fmt: skip
    found += [
        ExpiringSoon(
            what="units", name=one.reference, about=one.contract, vendor=one.vendor, ends_on=one.lapses_on,
            days=(one.lapses_on - today).days, units=one.will_lapse,
        )
        for one in unit_balance(app, vendor=vendor).lots
        if today <= one.lapses_on <= until and one.will_lapse
    ]  # fmt: skip
    return sorted(found, key=lambda one: (one.ends_on, one.name))
