"""Looking ahead: what ends, what is not covered, what is paid twice or for nothing, and what one end would cost."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from datetime import UTC, date, datetime, timedelta
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, aliased

from sealpacket.app.context import AppContext
from sealpacket.core.coverage import Need, Term, align, gaps, serving_days
from sealpacket.core.errors import Invalid
from sealpacket.services.survey import Surveyed, Which, survey_in
from sealpacket.store.models import (
    Asset,
    Contract,
    Entitlement,
    EntitlementAsset,
    Outlook,
    Product,
    RecordVersion,
    Site,
    Vendor,
)

WORK_OUT = "work_out_ahead"
HORIZON = timedelta(days=365)
AT_ONCE = 5000
"""Maximum number of assets for which the outlook is computed in the request; larger ones are left to the worker."""
_MOST_KEPT = 5000
_NEED: Need = "fault"
_LISTS = ("ending", "lapsed", "uncovered", "gaps", "twice", "retired", "costs")


def ahead(app: AppContext, *, vendor: str = "", site: str = "", days: int = 90) -> dict[str, Any]:
    """The outlook, for all or for one vendor or site, with contracts that end within a number of days.

    Worked out anew if the register has changed; in a large house the last one is given while a new one is made.
    """
    day = datetime.now(UTC).date()
    with app.database.transaction() as session:
        mark = session.scalar(select(func.max(RecordVersion.id))) or 0
        kept = session.scalars(select(Outlook).order_by(Outlook.day.desc()).limit(1)).one_or_none()
        fresh = kept is not None and (kept.day, kept.mark) == (day, mark)
        if not fresh:
            if (session.scalar(select(func.count()).select_from(Asset)) or 0) <= AT_ONCE:
                kept, fresh = _keep(session, day, mark), True
            else:
                app.enqueue(session, WORK_OUT, {}, WORK_OUT)
        body = kept.body if kept else {name: [] for name in _LISTS} | {"counts": {}}
        return {
            "day": day,
            "as_of": kept.at if kept else None,
            "fresh": fresh,
            "counts": _counts(body, vendor, site),
            **{name: _narrowed(body[name], vendor, site, name, days) for name in _LISTS},
        }


def _narrowed(
    rows: list[dict[str, Any]], vendor: str, site: str, name: str, days: int
) -> list[dict[str, Any]]:
    found = [row for row in rows if _is_about(row, vendor, site)]
    return [row for row in found if row["days"] <= days] if name == "ending" else found


def _is_about(row: dict[str, Any], vendor: str, site: str) -> bool:
    return (not vendor or row["vendor"] == vendor) and (
        not site or "site" not in row or row["site"] == site
    )


def _counts(body: dict[str, Any], vendor: str, site: str) -> dict[str, int]:
    """How many there are of each; of all of them also those that are too many to be kept."""
    if vendor or site:
        return {name: sum(_is_about(row, vendor, site) for row in body[name]) for name in _LISTS}
    return {name: body["counts"].get(name, 0) for name in _LISTS}


def work_out(app: AppContext) -> None:
    """The job that recomputes the outlook."""
    with app.database.transaction() as session:
        mark = session.scalar(select(func.max(RecordVersion.id))) or 0
        _keep(session, datetime.now(UTC).date(), mark)


def _keep(session: Session, day: date, mark: int) -> Outlook:
    fields = {"day": day, "mark": mark, "at": datetime.now(UTC), "body": build(session, day)}
    session.execute(
        insert(Outlook).values(**fields).on_conflict_do_update(index_elements=["day"], set_=fields)
    )
    session.expire_all()
    return session.scalars(select(Outlook).where(Outlook.day == day)).one()


def build(session: Session, day: date) -> dict[str, Any]:
    """Everything about the time ahead, as it is kept."""
    uncovered: list[dict[str, Any]] = []
    open_days: list[dict[str, Any]] = []
    twice: list[dict[str, Any]] = []
    covered: Counter[str] = Counter()
    for item in survey_in(session, _NEED, day, Which()):
        if item.thing.status == "ordered":
            continue
        contracts = _contracts(item)
        covered.update(f"{item.thing.vendor} {contract}" for contract in _concerned(item, day))
        if item.route in ("none", "paid"):
            uncovered.append({**_asset(item), "reason": _lapse(item)})
        if len(contracts) > 1:
            twice.append({**_asset(item), "contracts": sorted(contracts)})
        open_days += _gaps(item, day)
    body = {
        "ending": _ending(session, day, covered),
        "lapsed": _lapsed(session, day),
        "uncovered": uncovered,
        "gaps": open_days,
        "twice": twice,
        "retired": _retired(session, day),
        "costs": _costs(session, day, covered),
    }
    counts = {name: len(rows) for name, rows in body.items()}
    return {**{name: rows[:_MOST_KEPT] for name, rows in body.items()}, "counts": counts}


def _contracts(item: Surveyed) -> set[str]:
    """The contracts that would serve the asset today."""
    chosen = {item.ruling.contract} if item.ruling.contract else set()
    return chosen | {
        passed.contract for passed in item.ruling.passed_over if passed.code == "weaker"
    }


def _concerned(item: Surveyed, day: date) -> set[str]:
    """The contracts that cover the asset today for one need or another."""
    return {
        candidate.contract
        for candidate in item.candidates
        if any(
            first <= day <= last
            for first, last in serving_days(item.thing, candidate, candidate.needs[0])
        )
    }


def _asset(item: Surveyed) -> dict[str, Any]:
    thing = item.thing
    return {
        "serial": thing.serial,
        "asset_id": item.asset_id,
        "name": item.name,
        "product": thing.product_name,
        "vendor": thing.vendor,
        "vendor_name": item.vendor_name,
        "site": thing.site,
        "site_name": item.site_name,
    }


def _lapse(item: Surveyed) -> str:
    """Why nothing covers it: what ended last, or that nothing ever did."""
    ended = [passed for passed in item.ruling.passed_over if passed.code == "ended"]
    if ended:
        what = f"{ended[-1].contract} {ended[-1].entitlement}: " if ended[-1].contract else ""
        return what + ended[-1].sentence
    return "No entitlement is about it."


def _gaps(item: Surveyed, day: date) -> list[dict[str, Any]]:
    """Stretches in the next year on which nothing covers it, though something does before and after."""
    found = gaps(item.thing, item.candidates, _NEED, day, day + HORIZON)
    return [
        {
            **_asset(item),
            "starts_on": first.isoformat(),
            "ends_on": last.isoformat(),
            "days": (last - first).days + 1,
        }
        for first, last in found
        if first > day and last < day + HORIZON
    ]


def _ending(session: Session, day: date, covered: Counter[str]) -> list[dict[str, Any]]:
    """Contracts that end within a year, by the next thing to be done: the notice, or else the end."""
    query = (
        select(Contract).where(Contract.ends_on.between(day, day + HORIZON)).join(Contract.vendor)
    )
    rows = sorted(session.scalars(query), key=lambda row: (_next_act(row, day), row.number))
    return [
        {
            **_contract(row),
            "days": (row.ends_on - day).days,
            "assets": covered[f"{row.vendor.key} {row.number}"],
            "notice_on": row.notice_on.isoformat()
            if row.notice_on and row.notice_on >= day
            else None,
            "notice_missed": bool(row.notice_on and row.notice_on < day),
        }
        for row in rows
    ]


def _next_act(row: Contract, day: date) -> date:
    return row.notice_on if row.notice_on and row.notice_on >= day else row.ends_on


def _lapsed(session: Session, day: date) -> list[dict[str, Any]]:
    """Contracts that ended in the last 90 days and were not renewed."""
    query = select(Contract).where(
        Contract.ends_on.between(day - timedelta(days=90), day - timedelta(days=1))
    )
    rows = session.scalars(query.order_by(Contract.ends_on.desc(), Contract.number)).all()
    return [{**_contract(row), "days": (day - row.ends_on).days} for row in rows]


def _contract(row: Contract) -> dict[str, Any]:
    return {
        "contract": row.number,
        "contract_id": row.id,
        "title": row.title,
        "vendor": row.vendor.key,
        "vendor_name": row.vendor.name,
        "ends_on": row.ends_on.isoformat(),
        "cost_minor": row.cost_minor,
        "currency": row.currency,
    }


def _retired(session: Session, day: date) -> list[dict[str, Any]]:
    """Retired assets that a running entitlement still lists."""
    site = aliased(Site)
    query = (
        select(
            Asset,
            Product.name,
            Vendor.key,
            Vendor.name,
            site.key,
            site.name,
            Contract.number,
            Entitlement.reference,
        )
        .join(EntitlementAsset, EntitlementAsset.asset_id == Asset.id)
        .join(Entitlement, Entitlement.id == EntitlementAsset.entitlement_id)
        .join(Contract, Contract.id == Entitlement.contract_id)
        .join(Product, Product.id == Asset.product_id)
        .join(Vendor, Vendor.id == Asset.vendor_id)
        .outerjoin(site, site.id == Asset.site_id)
        .where(
            Asset.status == "retired",
            Entitlement.starts_on <= day,
            Entitlement.ends_on >= day,
            func.coalesce(EntitlementAsset.until_on, day) >= day,
            func.coalesce(Entitlement.replaced_on, date.max) > day,
        )
        .order_by(Vendor.key, Contract.number, Asset.serial)
    )
    return [
        {
            "serial": asset.serial,
            "asset_id": asset.id,
            "name": asset.name,
            "product": product,
            "vendor": vendor,
            "vendor_name": vendor_name,
            "site": site_key,
            "site_name": site_name,
            "contracts": [contract],
            "entitlement": reference,
        }
        for asset, product, vendor, vendor_name, site_key, site_name, contract, reference in session.execute(
            query
        )
    ]


def _costs(session: Session, day: date, covered: Counter[str]) -> list[dict[str, Any]]:
    """The cost of each running contract for each asset that it covers today, the most expensive first."""
    found = []
    for row in session.scalars(select(Contract).where(Contract.ends_on >= day)).all():
        terms: list[Any] = [row, *row.former_terms]
        running = [term for term in terms if term.starts_on <= day <= term.ends_on]
        if not running or running[0].cost_minor is None:
            continue
        count = covered[f"{row.vendor.key} {row.number}"]
        each = round(running[0].cost_minor / count) if count else None
        cost = {"cost_minor": running[0].cost_minor, "currency": running[0].currency}
        found.append({**_contract(row), **cost, "assets": count, "each_minor": each})
    return sorted(
        found,
        key=lambda row: (row["each_minor"] is not None, -(row["each_minor"] or 0), row["contract"]),
    )


def aligned(
    app: AppContext, *, vendor: str = "", contracts: Iterable[str] = (), on: date | None = None
) -> dict[str, Any]:
    """The cost of letting contracts end on one day: the given one, or the last end among them.

    Of a vendor's running contracts, or of those named. Raises Invalid if fewer than two run.
    """
    today = datetime.now(UTC).date()
    named = set(contracts)
    with app.database.transaction() as session:
        query = select(Contract).join(Contract.vendor).where(Contract.ends_on >= today)
        if vendor:
            query = query.where(Vendor.key == vendor)
        if named:
            query = query.where(Contract.number.in_(named) | Contract.id.in_(named))
        rows = session.scalars(query).all()
        if len(rows) < 2:
            raise Invalid(
                "Fewer than two running contracts are meant.",
                "Name a vendor, or at least two contracts.",
                code="too-few",
                field="contracts",
            )
        last = on or max(row.ends_on for row in rows)
        if last < today:
            raise Invalid(f"{last} is over.", "Choose a day to come.", field="on")
        extensions = align(
            [Term(row.id, row.starts_on, row.ends_on, row.cost_minor) for row in rows], last
        )
        by_id = {row.id: row for row in rows}
        items = [
            {
                **_contract(by_id[item.contract]),
                "days": item.days,
                "extension_minor": item.cost_minor,
            }
            for item in extensions
        ]
        later = [row.number for row in rows if row.ends_on > last]
        totals: Counter[str] = Counter()
        for item in items:
            if item["extension_minor"] is not None:
                totals[item["currency"]] += item["extension_minor"]
        return {
            "on": last,
            "items": items,
            "later": sorted(later),
            "totals": [
                {"currency": currency, "minor": minor} for currency, minor in sorted(totals.items())
            ],
            "unknown": [item["contract"] for item in items if item["extension_minor"] is None],
        }
