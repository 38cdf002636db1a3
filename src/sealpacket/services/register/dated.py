"""Acts that count from a day on: what was true before that day stays true of it for ever."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from uuid import uuid4

from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.services.register.acts import in_version, keep_version, noted, rewrite, touch
from sealpacket.services.register.forms import Form
from sealpacket.services.register.kinds import KINDS, LISTED, PRODUCTS, SITES
from sealpacket.store.copying import copy_rows
from sealpacket.store.models import Asset, Contract, ContractTerm, Entitlement

_DAY = timedelta(days=1)


class RenewForm(Form):
    """A contract's next term. Left out: it begins the day after the old end, at the old cost, and notice is due as
    many days before the end as it was. Given as null: there is no day for notice.
    """

    starts_on: date | None = None
    ends_on: date
    notice_on: date | None = None
    grace_days: int | None = None
    cost_minor: int | None = None


def move(
    app: AppContext,
    actor: Actor,
    handle: str,
    version: int,
    *,
    from_on: date,
    changes: dict[str, Any],
) -> dict[str, Any]:
    """Move an asset to another site or into another status from a day on. Raises Invalid for a day that has a stay
    already."""
    kind = KINDS["asset"]
    with app.transaction(actor, "asset moved", "asset") as tx:
        row = in_version(tx.session, kind, handle, version)
        shown = kind.show(row)
        if all(shown[name] == value for name, value in changes.items()):
            raise Invalid("It exists already.", "Name another site or status.", code="same-place")
        rewrite(app, tx.session, kind, row, {**changes, "placed_on": from_on})
        tx.detail = {"from": from_on.isoformat(), **changes}
        return noted(tx, actor, kind, row, "moved")


def amend(
    app: AppContext,
    actor: Actor,
    handle: str,
    version: int,
    *,
    from_on: date,
    changes: dict[str, Any],
) -> dict[str, Any]:
    """Change what an entitlement grants from a day on: a new version begins, and counts instead of the old one.
    Raises Invalid for a day outside the version, Conflict if a later version exists."""
    kind = KINDS["entitlement"]
    with app.transaction(actor, "entitlement amended", "entitlement") as tx:
        row = in_version(tx.session, kind, handle, version)
        later = begin_version(app, tx.session, row, from_on, changes)
        tx.detail = {"from": from_on.isoformat(), "fields": sorted(changes)}
        return noted(tx, actor, kind, later, "amended")


def begin_version(
    app: AppContext, session: Session, row: Entitlement, from_on: date, changes: dict[str, Any]
) -> Entitlement:
    """Begin a later version of an entitlement with some changes. Raises Invalid for a day outside the version, Conflict
    if a later version exists."""
    if not row.starts_on < from_on <= row.ends_on:
        raise Invalid(
            f"This version runs from {row.starts_on} to {row.ends_on}; {from_on} is not inside it.",
            "Amend from a day after its first, or correct the version itself.",
            field="from_on",
        )
    if row.replaced_on is not None and from_on >= row.replaced_on:
        raise Conflict(
            f"A later version counts since {row.replaced_on}.",
            "Amend that one.",
            code="replaced",
        )
    later = later_version(session, row, from_on, row.ends_on)
    row.updated_at = func.now()
    fields = {name: value for name, value in changes.items() if name != "starts_on"}
    rewrite(app, session, KINDS["entitlement"], later, fields)
    return later


def renew(
    app: AppContext, actor: Actor, handle: str, version: int, form: RenewForm
) -> dict[str, Any]:
    """Renew a contract: its present term is kept as a former one, and what ends with it is renewed with it."""
    kind = KINDS["contract"]
    with app.transaction(actor, "contract renewed", "contract") as tx:
        row: Contract = in_version(tx.session, kind, handle, version)
        renewed = begin_term(tx.session, actor, row, form)
        tx.detail = {"until": form.ends_on.isoformat(), "entitlements": renewed}
        return noted(tx, actor, kind, row, "renewed")


def begin_term(session: Session, actor: Actor, row: Contract, form: RenewForm) -> list[str]:
    """Begin a contract's next term. Returns the references of the entitlements that were renewed with it. Raises
    Invalid for days that do not follow the present term, or a cost without a currency."""
    starts = form.starts_on or row.ends_on + _DAY
    if starts <= row.ends_on or form.ends_on < starts:
        raise Invalid(
            f"The new term would run from {starts} to {form.ends_on}; the present one ends on {row.ends_on}.",
            "Give a term that begins after the present one.",
            field="ends_on",
        )
    if form.cost_minor is not None and row.currency is None:
        raise Invalid("The contract has no currency yet.", "Give it one first.", field="cost_minor")
    ending, notice = row.ends_on, form.notice_on
    if "notice_on" not in form.model_fields_set and row.notice_on is not None:
        notice = max(starts, form.ends_on - (ending - row.notice_on))
    row.former_terms.append(
        ContractTerm(
            starts_on=row.starts_on,
            ends_on=ending,
            notice_on=row.notice_on,
            grace_days=row.grace_days,
            cost_minor=row.cost_minor,
            currency=row.currency,
        )
    )
    row.starts_on, row.ends_on, row.notice_on = starts, form.ends_on, notice
    row.grace_days = row.grace_days if form.grace_days is None else form.grace_days
    row.cost_minor = row.cost_minor if form.cost_minor is None else form.cost_minor
    session.flush()
    return _renew_entitlements(session, actor, row, ending, starts)


def _renew_entitlements(
    session: Session, actor: Actor, contract: Contract, ending: date, starts: date
) -> list[str]:
    """Begin the next version of everything that ended with the contract and is to end with it again."""
    query = select(Entitlement).where(
        Entitlement.contract_id == contract.id,
        Entitlement.co_term,
        Entitlement.ends_on == ending,
        Entitlement.replaced_on.is_(None),
    )
    renewed = []
    for row in session.scalars(query.options(*KINDS["entitlement"].eager)).all():
        later = later_version(session, row, starts, contract.ends_on)
        session.refresh(later)
        keep_version(session, KINDS["entitlement"], later, actor.name, "renewed")
        renewed.append(row.reference)
    return renewed


def later_version(session: Session, row: Entitlement, starts: date, ends: date) -> Entitlement:
    """The same entitlement again for other days, with all that it lists on its first day."""
    same = (
        "contract_id",
        "reference",
        "level",
        "rank",
        "route",
        "needs",
        "hours",
        "countries",
        "co_term",
        "reach",
        "everything",
    )
    later = Entitlement(
        id=str(uuid4()),
        starts_on=starts,
        ends_on=ends,
        **{name: getattr(row, name) for name in same},
    )
    session.add(later)
    session.flush()
    listed = [item for item in row.listed if item.until_on is None or item.until_on >= starts]
    copy_rows(
        session,
        LISTED.table,
        [
            {
                "entitlement_id": later.id,
                "asset_id": item.asset_id,
                "from_on": item.from_on if item.from_on and item.from_on > starts else None,
                "until_on": item.until_on,
            }
            for item in listed
        ],
    )
    copy_rows(
        session,
        PRODUCTS.table,
        [{"entitlement_id": later.id, "product_id": item.id} for item in row.products],
    )
    copy_rows(
        session,
        SITES.table,
        [{"entitlement_id": later.id, "site_id": item.id} for item in row.sites],
    )
    return later


def transfer(
    app: AppContext,
    actor: Actor,
    handle: str,
    version: int,
    *,
    from_on: date,
    out_of: str,
    into: str,
) -> dict[str, Any]:
    """Take an asset off one entitlement and list it on another, from a day on. Raises Conflict if it is not listed
    there, or is listed already, Invalid for another vendor's."""
    kind = KINDS["asset"]
    entitlements = KINDS["entitlement"]
    with app.transaction(
        actor,
        "asset transferred",
        "asset",
        out_of=out_of,
        into=into,
        **{"from": from_on.isoformat()},
    ) as tx:
        asset: Asset = in_version(tx.session, kind, handle, version)
        old, new = (
            _counting(tx.session, entitlements.find(tx.session, name), from_on)
            for name in (out_of, into)
        )
        item = next((item for item in old.listed if item.asset_id == asset.id), None)
        if item is None:
            raise Conflict(
                f"{asset.serial} is not listed on {out_of}.",
                "Name the entitlement that lists it.",
                code="not-listed",
            )
        if any(item.asset_id == asset.id for item in new.listed):
            raise Conflict(
                f"{asset.serial} is listed on {into} already.",
                "Open that entitlement.",
                code="already-there",
            )
        if new.contract.vendor_id != asset.vendor_id:
            raise Invalid(
                f"{into} is another vendor's.",
                "Name an entitlement of its own vendor.",
                field="into",
            )
        close_listing(tx.session, old, item, from_on)
        tx.session.execute(
            insert(LISTED.table),
            [
                {
                    "entitlement_id": new.id,
                    "asset_id": asset.id,
                    "from_on": from_on if from_on > new.starts_on else None,
                }
            ],
        )
        for row in (old, new):
            touch(tx.session, row)
            keep_version(tx.session, entitlements, row, actor.name, "changed")
        return noted(tx, actor, kind, asset, "transferred")


def _counting(session: Session, row: Entitlement, day: date) -> Entitlement:
    """The version of the same entitlement that counts on a day."""
    query = (
        select(Entitlement)
        .where(
            Entitlement.contract_id == row.contract_id,
            Entitlement.reference == row.reference,
            Entitlement.starts_on <= day,
        )
        .order_by(Entitlement.starts_on.desc())
    )
    return session.scalars(query.limit(1)).first() or row


def close_listing(session: Session, old: Entitlement, item: Any, from_on: date) -> None:
    """Take an asset off an entitlement from a day on."""
    if from_on <= max(old.starts_on, item.from_on or old.starts_on):
        session.delete(item)
    else:
        item.until_on = from_on - _DAY
    session.flush()
