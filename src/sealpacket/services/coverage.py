"""Cover from the register: what the ruling needs is read from the database, the ruling is the core's."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise
from typing import Any, TypeVar, cast

from sqlalchemy import func, select, union
from sqlalchemy.orm import Session, selectinload

from sealpacket.core.coverage import (
    Basis,
    Candidate,
    Carrier,
    CoverSpan,
    Listing,
    Login,
    Need,
    Question,
    Ruling,
    Shelf,
    Thing,
    replay,
    rule,
    timeline,
)
from sealpacket.core.errors import Invalid
from sealpacket.services.house import House
from sealpacket.services.register import KINDS
from sealpacket.services.register.acts import DEEPEST
from sealpacket.store.models import (
    Asset,
    Contract,
    ContractTerm,
    Entitlement,
    EntitlementAsset,
    LoginTie,
    Product,
    Site,
    VendorLogin,
)
from sealpacket.store.models.register import entitlement_product, entitlement_site

T = TypeVar("T")
OFTEN = 20
"""After so many rulings in one session the whole shelf of a vendor is read."""


def remembered(session: Session, what: tuple[str, str], read: Callable[[], T]) -> T:
    """Read once in a session what does not change within it: an act looks at many packets, but keeps no register."""
    if what not in session.info:
        session.info[what] = read()
    found: T = session.info[what]
    return found


def thing_on(asset: Asset, day: date) -> Thing:
    """What the ruling needs to know of an asset as it was on a day."""
    product = asset.product
    site, status = asset.site, asset.status
    for stay in asset.stays:
        if day <= stay.until_on and (stay.from_on is None or day >= stay.from_on):
            site, status = stay.site, stay.status
    return Thing(
        vendor=asset.vendor.key,
        product=product.part_number,
        product_name=product.name,
        serial=asset.serial,
        site=site.key if site else None,
        country=site.country if site else None,
        shipped_on=asset.shipped_on,
        installed_on=asset.installed_on,
        warranty_months=product.warranty_months,
        warranty_needs=tuple(product.warranty_needs),
        carriers=_carriers(asset),
        status=status,
        registered=not product.needs_registration or (asset.registered_on is not None and asset.registered_on <= day),
    )


def _carrier_rows(asset: Asset) -> list[Asset]:
    """What it sits in or runs on, the nearest first, as far as it is this vendor's."""
    found: list[Asset] = []
    carrier = asset.carrier
    while carrier is not None and carrier.vendor_id == asset.vendor_id and len(found) < DEEPEST:
        found.append(carrier)
        carrier = carrier.carrier
    return found


def _carriers(asset: Asset) -> tuple[Carrier, ...]:
    chain = [asset, *_carrier_rows(asset)]
    return tuple(
        Carrier(
            serial=outer.serial,
            product=outer.product.part_number,
            product_name=outer.product.name,
            how="software" if inner.product.sort == "software" else "part",
        )
        for inner, outer in pairwise(chain)
    )


def shelf_of(session: Session, vendor_id: str) -> Shelf:
    """All entitlements of a vendor, in all their versions."""
    return remembered(session, ("shelf", vendor_id), lambda: Shelf(read_candidates(session, vendor_id)))


def read_candidates(
    session: Session, vendor_id: str, *, only: list[str] | None = None, about: list[str] | None = None
) -> Iterator[Candidate]:
    """A vendor's entitlements as candidates: all, or those with these ids; of the serials all, or these assets'."""
    listed = _listed(session, vendor_id, only, about)
    products = _names(session, entitlement_product, Product.part_number, "product_id", vendor_id, only)
    sites = _names(session, entitlement_site, Site.key, "site_id", vendor_id, only)
    for row, number, grace in session.execute(_entitlements(vendor_id, only)):
        serials, listings, models = listed.get(row.id, ((), (), ()))
        yield Candidate(
            entitlement=row.reference,
            contract=number,
            level=row.level,
            rank=row.rank,
            route=row.route,
            starts_on=row.starts_on,
            ends_on=row.ends_on,
            grace_days=grace,
            needs=tuple(row.needs),
            serials=serials,
            products=products.get(row.id, ()),
            everything=row.everything,
            countries=tuple(sorted(row.countries)),
            sites=sites.get(row.id, ()),
            hours=row.hours,
            listings=listings,
            reach=tuple(row.reach),
            models=models,
            replaced_on=row.replaced_on,
        )


def _entitlements(vendor_id: str, only: list[str] | None) -> Any:
    """Entitlements with their contract's number and the grace of the term in which they end."""
    former = (
        select(ContractTerm.grace_days)
        .where(
            ContractTerm.contract_id == Entitlement.contract_id,
            Entitlement.ends_on.between(ContractTerm.starts_on, ContractTerm.ends_on),
        )
        .correlate(Entitlement)
        .scalar_subquery()
    )
    query = select(Entitlement, Contract.number, func.coalesce(former, Contract.grace_days)).join(Entitlement.contract)
    query = query.where(Contract.vendor_id == vendor_id)
    return query if only is None else query.where(Entitlement.id.in_(only))


def concerning(session: Session, asset: Asset) -> list[str]:
    """The ids of the entitlements that concern an asset: by its serial, by its product, by what it sits in, or all."""
    things = [asset, *_carrier_rows(asset)]
    by_serial = select(EntitlementAsset.entitlement_id).where(EntitlementAsset.asset_id.in_([t.id for t in things]))
    by_product = select(entitlement_product.c.entitlement_id).where(
        entitlement_product.c.product_id.in_([t.product_id for t in things])
    )
    general = select(Entitlement.id).join(Contract).where(Contract.vendor_id == asset.vendor_id, Entitlement.everything)
    return list(session.scalars(union(by_serial, by_product, general)))


def _near(session: Session, asset: Asset, need: Need, day: date, concerned: list[str]) -> list[str]:
    """The entitlement on which this asset had best be listed, if others of its model are and it is not."""
    lists_model = (
        select(EntitlementAsset.entitlement_id)
        .join(Asset, Asset.id == EntitlementAsset.asset_id)
        .where(EntitlementAsset.entitlement_id == Entitlement.id, Asset.product_id == asset.product_id)
    )
    query = (
        select(Entitlement.id)
        .join(Contract)
        .where(
            Contract.vendor_id == asset.vendor_id, Entitlement.starts_on <= day, Entitlement.ends_on >= day,
            Entitlement.needs.contains([need]), Entitlement.id.not_in(concerned), lists_model.exists(),
        )
        .order_by(Entitlement.rank.desc(), Entitlement.ends_on.desc(), Contract.number, Entitlement.reference)
    )  # fmt: skip
    return list(session.scalars(query.limit(1)))


_Listed = tuple[tuple[str, ...], tuple[Listing, ...], tuple[str, ...]]


def _listed(session: Session, vendor_id: str, only: list[str] | None, about: list[str] | None) -> dict[str, _Listed]:
    """By entitlement: serials of the whole term, dated listings, and the models of both."""
    query = (
        select(
            EntitlementAsset.entitlement_id, Asset.serial, Product.part_number, EntitlementAsset.from_on,
            EntitlementAsset.until_on,
        )
        .join(Asset, Asset.id == EntitlementAsset.asset_id)
        .join(Product, Product.id == Asset.product_id)
        .where(Asset.vendor_id == vendor_id)
    )  # fmt: skip
    if only is not None:
        query = query.where(EntitlementAsset.entitlement_id.in_(only))
    if about is not None:
        query = query.where(Asset.id.in_(about))
    found: defaultdict[str, tuple[list[str], list[Listing], set[str]]] = defaultdict(lambda: ([], [], set()))
    for entitlement, serial, model, from_on, until_on in session.execute(query):
        serials, listings, models = found[entitlement]
        models.add(model)
        if from_on is None and until_on is None:
            serials.append(serial)
        else:
            listings.append(Listing(serial=serial, from_on=from_on, until_on=until_on))
    return {
        entitlement: (tuple(sorted(s)), tuple(sorted(x, key=lambda one: one.serial)), tuple(sorted(m)))
        for entitlement, (s, x, m) in found.items()
    }


def _names(
    session: Session, table: Any, name: Any, column: str, vendor_id: str, only: list[str] | None
) -> dict[str, tuple[str, ...]]:
    """By entitlement of a vendor: the names that a table beside it holds."""
    query = (
        select(table.c.entitlement_id, name)
        .join(name.class_, name.class_.id == table.c[column])
        .join(Entitlement, Entitlement.id == table.c.entitlement_id)
        .join(Contract, Contract.id == Entitlement.contract_id)
        .where(Contract.vendor_id == vendor_id)
    )
    if only is not None:
        query = query.where(table.c.entitlement_id.in_(only))
    found: defaultdict[str, list[str]] = defaultdict(list)
    for entitlement, text in session.execute(query):
        found[entitlement].append(text)
    return {entitlement: tuple(sorted(texts)) for entitlement, texts in found.items()}


def logins_of(session: Session, vendor_id: str) -> list[VendorLogin]:
    """Our logins at a vendor, by name."""
    return remembered(session, ("logins", vendor_id), lambda: _read_logins(session, vendor_id))


def _read_logins(session: Session, vendor_id: str) -> list[VendorLogin]:
    query = select(VendorLogin).where(VendorLogin.vendor_id == vendor_id).order_by(VendorLogin.name)
    return list(session.scalars(query.options(selectinload(VendorLogin.ties).selectinload(LoginTie.contract))))


def login_value(login: VendorLogin) -> Login:
    """A login as the ruling sees it."""
    return Login(
        name=login.name,
        tied=tuple(sorted(tie.contract.number for tie in login.ties)),
        needs=tuple(cast(list[Need], login.needs)),
        for_others=login.for_others,
        mailbox_read=login.mailbox_read,
    )


def question_for(
    session: Session, asset: Asset, need: Need, day: date, login: VendorLogin | None, on_behalf_of: str | None = None
) -> Question:
    """What is asked about an asset."""
    others = [item for item in logins_of(session, asset.vendor_id) if login is None or item.id != login.id]
    return Question(
        need=need,
        day=day,
        login=login_value(login) if login else None,
        other_logins=tuple(login_value(item) for item in others),
        on_behalf_of=on_behalf_of,
        sells_paid_help=asset.vendor.sells_paid_help,
    )


def basis_for(
    session: Session, asset: Asset, need: Need, day: date, login: VendorLogin | None, on_behalf_of: str | None = None
) -> Basis:
    """All that the ruling on one asset is made from. Who asks often in one session gets it from the vendor's shelf."""
    question = question_for(session, asset, need, day, login, on_behalf_of)
    thing = thing_on(asset, day)
    asked = session.info[("asked", asset.vendor_id)] = session.info.get(("asked", asset.vendor_id), 0) + 1
    if asked > OFTEN:
        return shelf_of(session, asset.vendor_id).basis(question, thing)
    candidates = candidates_for(session, asset)
    if rule(question, thing, candidates).route in ("none", "paid"):
        near = _near(session, asset, need, day, concerning(session, asset))
        candidates += [
            candidate.model_copy(update={"models": (thing.product,)})
            for candidate in read_candidates(session, asset.vendor_id, only=near, about=[])
        ]
    return Basis(question=question, thing=thing, candidates=tuple(candidates))


def candidates_for(session: Session, asset: Asset) -> list[Candidate]:
    """The candidates that concern one asset, with only the serials that matter to it."""
    about = [asset.id, *(carrier.id for carrier in _carrier_rows(asset))]
    return list(read_candidates(session, asset.vendor_id, only=concerning(session, asset), about=about))


def rule_for(
    session: Session, asset: Asset, need: Need, day: date, login: VendorLogin | None, on_behalf_of: str | None = None
) -> Ruling:
    """The ruling for one asset."""
    return replay(basis_for(session, asset, need, day, login, on_behalf_of))


def coverage(house: House, asset: str, need: Need, day: date, login: str | None) -> Ruling:
    """What covers an asset for a need on a day, through a login if one is given."""
    with house.database.transaction() as session:
        row = KINDS["asset"].find(session, asset)
        return rule_for(session, row, need, day, _login(session, row, login))


def _login(session: Session, asset: Asset, name: str | None) -> VendorLogin | None:
    if not name:
        return None
    found = next((item for item in logins_of(session, asset.vendor_id) if name in (item.name, item.id)), None)
    if found is None:
        raise Invalid(f"{name} is no login of ours at {asset.vendor.name}.", "Choose one of its logins.",
                      code="no-such", field="login")  # fmt: skip
    return found


@dataclass(frozen=True)
class Bar:
    """An entitlement that concerns a thing, to be drawn beside its spans; `ends_on` without grace."""

    contract: str
    entitlement: str
    level: str
    starts_on: date
    ends_on: date


def timeline_of(
    house: House, asset: str, need: Need, from_on: date, until_on: date
) -> tuple[list[CoverSpan], list[Bar]]:
    """Cover of an asset over time: spans, and the entitlements that they come from. At most 20 years."""
    if not from_on <= until_on <= from_on + timedelta(days=366 * 20):
        raise Invalid("A timeline runs forwards, over at most 20 years.", "Check both days.", field="until")
    with house.database.transaction() as session:
        row = KINDS["asset"].find(session, asset)
        candidates = tuple(candidates_for(session, row))
        turns = [stay.until_on + timedelta(days=1) for stay in row.stays]
        turns += [row.registered_on] if row.registered_on else []
        spans = timeline(
            question_for(session, row, need, from_on, None),
            lambda day: thing_on(row, day),
            candidates,
            until_on,
            tuple(turns),
        )
        bars = [
            Bar(c.contract, c.entitlement, c.level, c.starts_on, c.ends_on)
            for c in sorted(candidates, key=lambda c: (c.starts_on, c.contract, c.entitlement))
            if need in c.needs and c.starts_on <= until_on and c.ends_on >= from_on
        ]
        return spans, bars
