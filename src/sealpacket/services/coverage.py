"""Cover from the register: what the ruling needs is read from the database, the ruling is the core's."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from importlib.resources import files
from itertools import pairwise
from typing import Any, cast

from sqlalchemy import bindparam, select, text
from sqlalchemy.orm import Session, joinedload, object_session

from sealpacket.app.context import AppContext
from sealpacket.core.coverage import (
    Basis,
    Candidate,
    CandidateIndex,
    Carrier,
    CoverSpan,
    HostCover,
    Listing,
    Login,
    Need,
    Question,
    Ruling,
    Thing,
    replay,
    rule,
    timeline,
)
from sealpacket.core.errors import Invalid
from sealpacket.services.register import KINDS
from sealpacket.services.register.acts import DEEPEST
from sealpacket.store.database import remembered
from sealpacket.store.models import (
    Asset,
    LoginTie,
    VendorLogin,
)
from sealpacket.store.register_cache import of_register

LEAN = (joinedload(Asset.vendor), joinedload(Asset.product), joinedload(Asset.site))
OFTEN = 20
"""Number of rulings in one session after which all candidates of a vendor are read."""


def thing_on(asset: Asset, day: date) -> Thing:
    """The asset as the ruling sees it, on a day."""
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
        registered=not product.needs_registration
        or (asset.registered_on is not None and asset.registered_on <= day),
    )


def _carrier_rows(asset: Asset) -> list[Asset]:
    """The carriers of an asset, the nearest first, as far as they are this vendor's."""
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


def candidate_index_of(session: Session, vendor_id: str) -> CandidateIndex:
    """All entitlements of a vendor, in all their versions."""
    return remembered(
        session, ("candidates", vendor_id), lambda: _read_candidate_index(session, vendor_id)
    )


def _read_candidate_index(session: Session, vendor_id: str) -> CandidateIndex:
    session.execute(_PLANNED_AS_USUAL)
    return CandidateIndex(_read(session, _WHOLE_VENDOR, vendor=vendor_id))


_SQL = files("sealpacket.store").joinpath("candidates.sql").read_text("utf-8")
_WHOLE_VENDOR = text(_SQL.replace("{which}", "true"))
_CONCERNING = text("""SELECT entitlement_id FROM entitlement_asset WHERE asset_id = ANY(:about)
    UNION SELECT entitlement_id FROM entitlement_product WHERE product_id = ANY(:products)
    UNION SELECT x.id FROM entitlement x JOIN contract y ON y.id = x.contract_id
          WHERE y.vendor_id = :vendor AND x.everything""")
_PLANNED_ONCE = text("SET LOCAL plan_cache_mode = force_generic_plan")
_PLANNED_AS_USUAL = text("SET LOCAL plan_cache_mode TO DEFAULT")
_THESE = text(_SQL.replace("{which}", "e.id = ANY(:these)"))
"""Apart from the statement above: both are planned once, since a plan for each thing took longer than it ran.

The rest of the transaction is planned so, too, until `_near` or a shelf: what else is read after a ruling is
looked up by its id.
"""


_NEAREST = text(
    _SQL.replace(
        "{which}",
        """e.id = (SELECT x.id FROM entitlement x JOIN contract y ON y.id = x.contract_id
            WHERE y.vendor_id = :vendor AND x.starts_on <= :day AND x.ends_on >= :day AND :need = ANY(x.needs)
              AND EXISTS (SELECT FROM entitlement_asset xa JOIN asset b ON b.id = xa.asset_id
                          WHERE xa.entitlement_id = x.id AND b.product_id = :product)
              AND NOT EXISTS (SELECT FROM entitlement_asset xa
                              WHERE xa.entitlement_id = x.id AND xa.asset_id = ANY(:mine))
            ORDER BY x.rank DESC, x.ends_on DESC, y.number, x.reference LIMIT 1)""",
    )
)


def _read(session: Session, query: Any, **values: Any) -> Iterator[Candidate]:
    for row in session.execute(query, {"about": None, **values}):
        yield Candidate(
            entitlement=row.reference,
            contract=row.number,
            level=row.level,
            rank=row.rank,
            route=row.route,
            starts_on=row.starts_on,
            ends_on=row.ends_on,
            grace_days=row.grace_days,
            needs=tuple(row.needs),
            serials=tuple(row.serials or ()),
            products=tuple(row.products),
            everything=row.everything,
            countries=tuple(sorted(row.countries)),
            sites=tuple(row.sites),
            hours=row.hours,
            listings=tuple(Listing.model_validate(listing) for listing in row.listings or ()),
            reach=tuple(row.reach),
            models=tuple(row.models or ()),
            replaced_on=row.replaced_on,
        )


def candidates_for(session: Session, asset: Asset) -> list[Candidate]:
    """The candidates that concern one asset: by its serial, by its product, by what it sits in, or all of a vendor's.

    Of the listed serials they name only those that matter to it.
    """
    things = [asset, *_carrier_rows(asset)]
    about, products = [thing.id for thing in things], [thing.product_id for thing in things]
    session.execute(_PLANNED_ONCE)
    found = session.scalars(
        _CONCERNING, {"vendor": asset.vendor_id, "about": about, "products": products}
    )
    these = sorted(found)
    return (
        list(_read(session, _THESE, vendor=asset.vendor_id, about=about, these=these))
        if these
        else []
    )


def _near(session: Session, asset: Asset, need: Need, day: date) -> list[Candidate]:
    """The entitlement on which this asset had best be listed, if others of its model are and it is not."""
    session.execute(_PLANNED_AS_USUAL)
    mine = [asset.id, *(carrier.id for carrier in _carrier_rows(asset))]
    found = _read(
        session,
        _NEAREST,
        vendor=asset.vendor_id,
        product=asset.product_id,
        mine=mine,
        need=need,
        day=day,
        about=[],
    )
    return [
        candidate.model_copy(update={"models": (asset.product.part_number,)}) for candidate in found
    ]


_LOGINS = (
    select(VendorLogin)
    .where(VendorLogin.vendor_id == bindparam("vendor"))
    .order_by(VendorLogin.name)
    .options(
        joinedload(VendorLogin.ties).joinedload(LoginTie.contract), joinedload(VendorLogin.person)
    )
)


def logins_of(session: Session, vendor_id: str) -> list[VendorLogin]:
    """Our logins at a vendor, by name."""
    return remembered(session, ("logins", vendor_id), lambda: _read_logins(session, vendor_id))


def _read_logins(session: Session, vendor_id: str) -> list[VendorLogin]:
    return list(session.scalars(_LOGINS, {"vendor": vendor_id}).unique())


def login_value(login: VendorLogin) -> Login:
    """A login as the ruling sees it."""
    session = object_session(login)
    known = login_values(session, login.vendor_id) if session else {}
    return known.get(login.id) or _read_login(login)


def _read_login(login: VendorLogin) -> Login:
    return Login(
        name=login.name,
        tied=tuple(sorted(tie.contract.number for tie in login.ties)),
        needs=tuple(cast(list[Need], login.needs)),
        for_others=login.for_others,
        mailbox_read=login.mailbox_read,
    )


def login_values(session: Session, vendor_id: str) -> dict[str, Login]:
    """Our logins at a vendor as the ruling sees them, by id, in the order of their names."""
    return of_register(
        session,
        ("logins", vendor_id),
        lambda: {one.id: _read_login(one) for one in logins_of(session, vendor_id)},
    )


def question_for(
    session: Session,
    asset: Asset,
    need: Need,
    day: date,
    login: VendorLogin | None,
    on_behalf_of: str | None = None,
) -> Question:
    """The question about an asset."""
    known = login_values(session, asset.vendor_id)
    return Question(
        need=need,
        day=day,
        login=login_value(login) if login else None,
        other_logins=tuple(one for key, one in known.items() if not login or key != login.id),
        on_behalf_of=on_behalf_of,
        sells_paid_help=asset.vendor.sells_paid_help,
    )


def basis_for(
    session: Session,
    asset: Asset,
    need: Need,
    day: date,
    login: VendorLogin | None,
    on_behalf_of: str | None = None,
) -> Basis:
    """All that the ruling on one asset is made from; a session that asks often reads the vendor's candidates once."""
    what = ("basis", asset.id, need, day, login.id if login else None, on_behalf_of)
    return of_register(
        session, what, lambda: _read_basis(session, asset, need, day, login, on_behalf_of)
    )


def _read_basis(
    session: Session,
    asset: Asset,
    need: Need,
    day: date,
    login: VendorLogin | None,
    on_behalf_of: str | None,
) -> Basis:
    question = question_for(session, asset, need, day, login, on_behalf_of)
    thing = thing_on(asset, day)
    asked = session.info[("asked", asset.vendor_id)] = (
        session.info.get(("asked", asset.vendor_id), 0) + 1
    )
    if asked > OFTEN:
        return candidate_index_of(session, asset.vendor_id).basis(question, thing)
    candidates = candidates_for(session, asset)
    if rule(question, thing, candidates).route in ("none", "paid"):
        candidates += _near(session, asset, need, day)
        thing = thing.model_copy(update={"host": _host_cover(session, asset, thing, question)})
    return Basis(question=question, thing=thing, candidates=tuple(candidates))


def _host_cover(
    session: Session, asset: Asset, thing: Thing, question: Question
) -> HostCover | None:
    """The cover of software by the contract of the machine it runs on, if that is another vendor's."""
    host = asset.carrier
    while host is not None and host.vendor_id == asset.vendor_id:
        host = host.carrier
    if host is None or asset.product.sort != "software":
        return None
    runs_on = Carrier(
        serial=host.serial,
        product=host.product.part_number,
        product_name=host.product.name,
        how="software",
    )
    seen = {
        "vendor": host.vendor.key,
        "carriers": (runs_on, *_carriers(host)),
        "warranty_months": None,
    }
    named = [candidate for candidate in candidates_for(session, host) if not candidate.everything]
    ruling = rule(
        Question(need=question.need, day=question.day), thing.model_copy(update=seen), named
    )
    if ruling.route != "support" or not (ruling.contract and ruling.ends_on):
        return None
    return HostCover(
        serial=host.serial,
        vendor=host.vendor.name,
        contract=ruling.contract,
        level=ruling.level or "",
        ends_on=ruling.ends_on,
    )


def rule_for(
    session: Session,
    asset: Asset,
    need: Need,
    day: date,
    login: VendorLogin | None,
    on_behalf_of: str | None = None,
) -> Ruling:
    """The ruling for one asset."""
    return replay(basis_for(session, asset, need, day, login, on_behalf_of))


def coverage(app: AppContext, asset: str, need: Need, day: date, login: str | None) -> Ruling:
    """The ruling on an asset for a need on a day, through a login if one is given."""
    with app.database.transaction() as session:
        row = KINDS["asset"].find(session, asset, LEAN)
        return rule_for(session, row, need, day, _login(session, row, login))


def _login(session: Session, asset: Asset, name: str | None) -> VendorLogin | None:
    if not name:
        return None
    found = next(
        (item for item in logins_of(session, asset.vendor_id) if name in (item.name, item.id)), None
    )
    if found is None:
        raise Invalid(
            f"You have no login {name} at {asset.vendor.name}.",
            "Choose one of its logins.",
            code="no-such",
            field="login",
        )
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
    app: AppContext, asset: str, need: Need, from_on: date, until_on: date
) -> tuple[list[CoverSpan], list[Bar]]:
    """Cover of an asset over time: spans, and the entitlements that they come from. At most 20 years. Raises Invalid
    for a longer one, or one that runs backwards."""
    if not from_on <= until_on <= from_on + timedelta(days=366 * 20):
        raise Invalid(
            "A timeline runs forwards, over at most 20 years.", "Check both days.", field="until"
        )
    with app.database.transaction() as session:
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
