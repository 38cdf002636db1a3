"""One contract with everything that belongs to it."""

from __future__ import annotations

from datetime import date
from itertools import pairwise
from typing import Any

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict
from sealpacket.services.order_documents import order_documents_of
from sealpacket.services.packets import briefs
from sealpacket.services.register.kinds import KINDS, PASSCODE
from sealpacket.store.models import (
    Asset,
    Contract,
    Entitlement,
    EntitlementAsset,
    LoginTie,
    PacketLine,
    VendorLogin,
)
from sealpacket.store.models.register import entitlement_product

MOST = 200


def whole_contract(app: AppContext, handle: str) -> dict[str, Any]:
    """The contract with its entitlements in all versions, the assets that they cover, logins tied and packets sent."""
    with app.database.transaction() as session:
        row: Contract = KINDS["contract"].find(session, handle)
        entitlements = session.scalars(
            select(Entitlement)
            .where(Entitlement.contract_id == row.id)
            .options(*KINDS["entitlement"].eager)
            .order_by(Entitlement.reference, Entitlement.starts_on)
        ).all()
        count, assets = assets_of(session, row)
        logins = session.scalars(
            select(VendorLogin)
            .join(LoginTie, LoginTie.login_id == VendorLogin.id)
            .where(LoginTie.contract_id == row.id)
            .options(*KINDS["login"].eager)
            .order_by(VendorLogin.name)
        ).all()
        packets = session.scalars(
            select(PacketLine)
            .where(PacketLine.contract == row.number, PacketLine.vendor == row.vendor.key)
            .order_by(PacketLine.created_at.desc())
            .limit(MOST)
        ).all()
        return {
            "contract": KINDS["contract"].show(row),
            "vendor_name": row.vendor.name,
            "entitlements": [KINDS["entitlement"].show(item) for item in entitlements],
            "assets": [KINDS["asset"].show(asset) for asset in assets],
            "asset_count": count,
            "logins": [KINDS["login"].show(login) for login in logins],
            "packets": [briefs.of_line(packet) for packet in packets],
            "order_documents": order_documents_of(session, row),
            "gaps": gaps_of(row),
        }


def assets_of(session: Session, row: Contract) -> tuple[int, list[Asset]]:
    """How many assets the contract's entitlements are about, and the first of them."""
    mine = select(Entitlement.id).where(Entitlement.contract_id == row.id)
    listed = select(EntitlementAsset.asset_id).where(EntitlementAsset.entitlement_id.in_(mine))
    products = select(entitlement_product.c.product_id).where(
        entitlement_product.c.entitlement_id.in_(mine)
    )
    about = or_(Asset.id.in_(listed), Asset.product_id.in_(products))
    if session.scalar(select(mine.where(Entitlement.everything).exists())):
        about = Asset.vendor_id == row.vendor_id
    query = (
        select(Asset)
        .where(about, ~Asset.made_up)
        .options(*KINDS["asset"].eager)
        .order_by(Asset.serial)
        .limit(MOST)
    )
    return session.scalar(
        select(func.count()).select_from(Asset).where(about, ~Asset.made_up)
    ) or 0, list(session.scalars(query))


def gaps_of(row: Contract) -> list[dict[str, date]]:
    """Days between its terms on which it did not run: the last day before and the first day after."""
    terms = sorted(
        [(term.starts_on, term.ends_on) for term in row.former_terms]
        + [(row.starts_on, row.ends_on)]
    )
    return [
        {"after": one[1], "before": two[0]}
        for one, two in pairwise(terms)
        if (two[0] - one[1]).days > 1
    ]


def show_passcode(app: AppContext, actor: Actor, handle: str) -> str:
    """The passcode of a contract, in clear; the custody log keeps who asked for it. Raises Conflict if it has none."""
    with app.transaction(actor, "contract's passcode shown", "contract") as tx:
        row: Contract = KINDS["contract"].find(tx.session, handle)
        tx.subject, tx.detail = f"contract {row.id}", {"called": row.number}
        if row.passcode_sealed is None:
            raise Conflict(
                f"Contract {row.number} has no passcode.", "Give it one first.", code="no-passcode"
            )
        return app.open_value(row.passcode_sealed, PASSCODE.purpose)
