"""Cover of everything on one day: rulings on all assets, read in a few plain queries and worked out one by one."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import Any, NamedTuple, cast

from sqlalchemy import Row, and_, case, or_, select
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.coverage import (
    Candidate,
    CandidateIndex,
    Carrier,
    Need,
    Question,
    Route,
    Ruling,
    Thing,
)
from sealpacket.core.errors import NotFound
from sealpacket.services.coverage import candidate_index_of
from sealpacket.services.register.acts import DEEPEST
from sealpacket.store.database import forgotten
from sealpacket.store.models import Asset, AssetStay, Product, Site, Vendor

_AT_ONCE = 5000


@dataclass(frozen=True)
class Which:
    """Which assets: of a vendor, at a site (keys), in a status; with a route. Empty: all, but for retired ones."""

    vendor: str = ""
    site: str = ""
    status: str = ""
    route: str = ""
    handles: tuple[str, ...] = ()
    every_status: bool = False

    def takes(self, status: str) -> bool:
        """Whether an asset in this status is meant."""
        return self.every_status or (status == self.status if self.status else status != "retired")


@dataclass(frozen=True)
class Surveyed:
    """One asset, and the ruling on it."""

    asset_id: str
    thing: Thing
    name: str
    vendor_name: str
    site_name: str | None
    ruling: Ruling
    candidates: tuple[Candidate, ...]

    @property
    def route(self) -> Route:
        """The route of the ruling."""
        return self.ruling.route

    @property
    def also(self) -> list[str]:
        """Entitlements that would serve as well: what is paid for twice."""
        return [
            f"{item.contract} {item.entitlement}"
            for item in self.ruling.passed_over
            if item.code == "weaker"
        ]


def survey(app: AppContext, need: Need, day: date, which: Which) -> Iterator[Surveyed]:
    """Rule on every asset, by vendor and serial. Memory holds one vendor's entitlements and some thousand assets."""
    with app.database.transaction() as session:
        yield from survey_in(session, need, day, which)


def survey_in(session: Session, need: Need, day: date, which: Which) -> Iterator[Surveyed]:
    """The same in a session at hand. Raises NotFound for an unknown vendor."""
    carriers = _Carriers(session)
    sites = {
        row.id: _Place(row.key, row.name, row.country) for row in session.scalars(select(Site))
    }
    query = select(Vendor).order_by(Vendor.key)
    vendors = session.scalars(
        query.where(Vendor.key == which.vendor) if which.vendor else query
    ).all()
    if which.vendor and not vendors:
        raise NotFound(
            f"There is no vendor {which.vendor}.", "List the vendors, then name one of them."
        )
    for vendor in vendors:
        question = Question(need=need, day=day, sells_paid_help=vendor.sells_paid_help)
        index: CandidateIndex | None = None
        vendor_key, vendor_name = vendor.key, vendor.name
        products = {
            row.id: _Model(
                row.part_number,
                row.name,
                row.warranty_months,
                tuple(cast(list[Need], row.warranty_needs)),
                row.sort,
                row.needs_registration,
            )
            for row in session.scalars(select(Product).where(Product.vendor_id == vendor.id))
        }
        for row in session.execute(
            _assets(vendor.id, day, which), execution_options={"yield_per": _AT_ONCE}
        ):
            index = index or candidate_index_of(session, vendor.id)
            site = sites.get(row.site_id, _NOWHERE)
            thing = _thing(vendor_key, row, products[row.product_id], site, day, carriers)
            if not which.takes(thing.status):
                continue
            candidates = index.concerned(thing)
            ruling = index.rule(question, thing, candidates)
            if which.route and ruling.route != which.route:
                continue
            yield Surveyed(row.id, thing, row.name, vendor_name, site.name, ruling, candidates)
        forgotten(session, ("candidates", vendor.id))


def _assets(vendor_id: str, day: date, which: Which) -> Any:
    """Assets of a vendor, at the site and in the status where they were on the day."""
    stay = and_(
        AssetStay.asset_id == Asset.id,
        AssetStay.until_on >= day,
        or_(AssetStay.from_on.is_(None), AssetStay.from_on <= day),
    )
    elsewhere = AssetStay.asset_id.is_not(None)
    site = case((elsewhere, AssetStay.site_id), else_=Asset.site_id)
    query: Any = (
        select(
            Asset.id,
            Asset.serial,
            Asset.name,
            Asset.product_id,
            Asset.shipped_on,
            Asset.installed_on,
            Asset.registered_on,
            Asset.carrier_id,
            site.label("site_id"),
            case((elsewhere, AssetStay.status), else_=Asset.status).label("status"),
        )
        .outerjoin(AssetStay, stay)
        .where(Asset.vendor_id == vendor_id, ~Asset.made_up)
        .order_by(Asset.serial, Asset.id)
    )
    if which.site:
        query = query.where(site == select(Site.id).where(Site.key == which.site).scalar_subquery())
    if which.handles:
        query = query.where(or_(Asset.id.in_(which.handles), Asset.serial.in_(which.handles)))
    return query


class _Place(NamedTuple):
    key: str | None
    name: str | None
    country: str | None


_NOWHERE = _Place(None, None, None)


class _Model(NamedTuple):
    part_number: str
    name: str
    warranty_months: int | None
    warranty_needs: tuple[Need, ...]
    sort: str
    needs_registration: bool


def _thing(
    vendor: str, row: Row[Any], model: _Model, place: _Place, day: date, carriers: _Carriers
) -> Thing:
    return Thing(
        vendor=vendor,
        product=model.part_number,
        product_name=model.name,
        serial=row.serial,
        site=place.key,
        country=place.country,
        shipped_on=row.shipped_on,
        installed_on=row.installed_on,
        warranty_months=model.warranty_months,
        warranty_needs=model.warranty_needs,
        carriers=carriers.of(row.carrier_id, model.sort, vendor) if row.carrier_id else (),
        status=row.status,
        registered=not model.needs_registration
        or (row.registered_on is not None and row.registered_on <= day),
    )


class _Carriers:
    """The carriers of assets, each read once."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._known: dict[str, Row[Any] | None] = {}

    def of(self, ident: str, sort: str, vendor: str) -> tuple[Carrier, ...]:
        """The carriers from one outwards, for a thing of this sort, as far as they are this vendor's."""
        found: list[Carrier] = []
        wanted: str | None = ident
        while wanted and len(found) < DEEPEST:
            row = self._read(wanted)
            if row is None or row.vendor != vendor:
                break
            how = cast(Any, "software" if sort == "software" else "part")
            found.append(
                Carrier(
                    serial=row.serial,
                    product=row.part_number,
                    product_name=row.product_name,
                    how=how,
                )
            )
            wanted, sort = row.carrier_id, row.sort
        return tuple(found)

    def _read(self, ident: str) -> Row[Any] | None:
        if ident not in self._known:
            query: Any = (
                select(
                    Asset.serial,
                    Asset.carrier_id,
                    Product.part_number,
                    Product.name.label("product_name"),
                    Product.sort,
                    Vendor.key.label("vendor"),
                )
                .join(Product, Product.id == Asset.product_id)
                .join(Vendor, Vendor.id == Asset.vendor_id)
            )
            self._known[ident] = self._session.execute(query.where(Asset.id == ident)).one_or_none()
        return self._known[ident]
