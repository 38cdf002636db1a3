"""Cover from the register: candidates are read from the database, the ruling is the core's."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from sealpacket.core.coverage import Candidate, Login, Need, Question, Ruling, Thing, rule
from sealpacket.core.errors import Invalid
from sealpacket.services.house import House
from sealpacket.services.register import KINDS
from sealpacket.store.models import Asset, Contract, Entitlement, LoginTie, VendorLogin

T = TypeVar("T")


def thing_of(asset: Asset) -> Thing:
    """What the ruling needs to know of an asset."""
    product = asset.product
    return Thing(
        vendor=asset.vendor.key,
        product=product.part_number,
        product_name=product.name,
        serial=asset.serial,
        site=asset.site.key if asset.site else None,
        country=asset.site.country if asset.site else None,
        shipped_on=asset.shipped_on,
        installed_on=asset.installed_on,
        warranty_months=product.warranty_months,
        warranty_needs=tuple(product.warranty_needs),
    )


def remembered(session: Session, what: tuple[str, str], read: Callable[[], T]) -> T:
    """Read once in a session what does not change within it: an act looks at many packets, but keeps no register."""
    if what not in session.info:
        session.info[what] = read()
    found: T = session.info[what]
    return found


def candidates_of(session: Session, vendor_id: str) -> list[Candidate]:
    """All entitlements of a vendor, whatever they cover."""
    return remembered(session, ("candidates", vendor_id), lambda: _read_candidates(session, vendor_id))


def _read_candidates(session: Session, vendor_id: str) -> list[Candidate]:
    rows = session.scalars(
        select(Entitlement)
        .join(Contract)
        .where(Contract.vendor_id == vendor_id)
        .options(
            selectinload(Entitlement.contract),
            selectinload(Entitlement.assets).load_only(Asset.serial),
            selectinload(Entitlement.products),
            selectinload(Entitlement.sites),
        )
    )
    return [
        Candidate(
            entitlement=row.reference,
            contract=row.contract.number,
            level=row.level,
            rank=row.rank,
            route=row.route,
            starts_on=row.starts_on,
            ends_on=row.ends_on,
            grace_days=row.contract.grace_days,
            needs=tuple(row.needs),
            serials=tuple(sorted(a.serial for a in row.assets)),
            products=tuple(sorted(p.part_number for p in row.products)),
            countries=tuple(sorted(row.countries)),
            sites=tuple(sorted(s.key for s in row.sites)),
            hours=row.hours,
        )
        for row in rows
    ]


def logins_of(session: Session, vendor_id: str) -> list[VendorLogin]:
    """Our logins at a vendor, by name."""
    return remembered(session, ("logins", vendor_id), lambda: _read_logins(session, vendor_id))


def _read_logins(session: Session, vendor_id: str) -> list[VendorLogin]:
    query = select(VendorLogin).where(VendorLogin.vendor_id == vendor_id).order_by(VendorLogin.name)
    return list(session.scalars(query.options(selectinload(VendorLogin.ties).selectinload(LoginTie.contract))))


def login_value(login: VendorLogin) -> Login:
    """A login as the ruling sees it."""
    return Login(name=login.name, tied=tuple(sorted(tie.contract.number for tie in login.ties)))


def rule_for(session: Session, asset: Asset, need: Need, day: date, login: VendorLogin | None) -> Ruling:
    """The ruling for one asset."""
    others = [item for item in logins_of(session, asset.vendor_id) if login is None or item.id != login.id]
    question = Question(
        need=need,
        day=day,
        login=login_value(login) if login else None,
        other_logins=tuple(login_value(item) for item in others),
        sells_paid_help=asset.vendor.sells_paid_help,
    )
    return rule(question, thing_of(asset), candidates_of(session, asset.vendor_id))


def coverage(house: House, asset: str, need: Need, day: date, login: str | None) -> Ruling:
    """What covers an asset for a need on a day, through a login if one is given."""
    with house.database.transaction() as session:
        row = KINDS["asset"].find(session, asset)
        chosen = None
        if login:
            chosen = next((item for item in logins_of(session, row.vendor_id) if login in (item.name, item.id)), None)
            if chosen is None:
                raise Invalid(f"{login} is no login of ours at {row.vendor.name}.", "Choose one of its logins.",
                              code="no-such", field="login")  # fmt: skip
        return rule_for(session, row, need, day, chosen)
