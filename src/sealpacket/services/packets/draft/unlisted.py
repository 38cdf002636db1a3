"""A packet about something that is not in the register: what is known of it is added in one step."""

from __future__ import annotations

import re
import unicodedata
from typing import Any

from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext, AuditedTransaction
from sealpacket.core.errors import Invalid
from sealpacket.services.packets.acting import draft_act
from sealpacket.services.packets.draft.drafts import name_asset
from sealpacket.services.packets.facts import NO_NAME
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.register import KINDS
from sealpacket.services.register.acts import added, noted
from sealpacket.services.register.forms import AssetForm, ProductForm, VendorForm
from sealpacket.store.models import Product, Vendor
from sealpacket.store.models.register import NO_MODEL, NO_SERIAL


def name_unlisted(
    app: AppContext,
    actor: Actor,
    number: str,
    *,
    vendor: str,
    model: str = "",
    serial: str = "",
    name: str = "",
    site: str = "",
) -> PacketShown:
    """Make a draft about something that is not in the register, which is added: asset, and model or vendor if new.

    `vendor` and `model` are names or keys. The register notes where it came from, so that a keeper can complete it.
    Without a serial the packet goes on with the vendor, and its model if that is given: what then stands for the thing
    is in no list of the register until somebody gives it its serial. Raises Conflict where the vendor has this serial.
    """
    with draft_act(app, actor, "unlisted thing named", number) as act:
        packet = act.packet
        maker = _vendor(app, act.tx, actor, vendor)
        product = _product(app, act.tx, actor, maker, model)
        form = AssetForm(
            vendor=maker.key,
            product=product.part_number,
            serial=serial.strip() or f"{NO_SERIAL}{packet.number}",
            name=name.strip() or ("" if serial else NO_NAME),
            site=site or None,
            notes=f"Added from {packet.number} by {actor.name}; to be completed.",
        )
        asset = _add(app, act.tx, actor, "asset", form)
        act.session.flush()
        act.session.refresh(asset)
        name_asset(act.session, actor, packet, asset)
        act.detail = {"asset": asset.serial, "vendor": maker.key}
    return act.shown


def _add(app: AppContext, tx: AuditedTransaction, actor: Actor, kind: str, form: BaseModel) -> Any:
    row = added(app, tx.session, KINDS[kind], form)
    noted(tx, actor, KINDS[kind], row, "added")
    return row


def _vendor(app: AppContext, tx: AuditedTransaction, actor: Actor, named: str) -> Vendor:
    wanted = named.strip()
    query = select(Vendor).where(
        (Vendor.key == wanted.lower()) | (func.lower(Vendor.name) == wanted.lower())
    )
    found: Vendor | None = tx.session.scalars(query.limit(1)).one_or_none()
    if found is not None:
        return found
    if len(wanted) < 2:
        raise Invalid("The vendor is missing.", "Name the vendor.", field="vendor")
    made: Vendor = _add(app, tx, actor, "vendor", VendorForm(key=_key(wanted), name=wanted))
    return made


def _product(
    app: AppContext, tx: AuditedTransaction, actor: Actor, vendor: Vendor, named: str
) -> Product:
    wanted = named.strip() or NO_MODEL
    found = _find_product(tx.session, vendor, wanted)
    if found is not None:
        return found
    form = ProductForm(vendor=vendor.key, part_number=wanted[:60], name=wanted)
    made: Product = _add(app, tx, actor, "product", form)
    return made


def _find_product(session: Session, vendor: Vendor, named: str) -> Product | None:
    query = select(Product).where(
        Product.vendor_id == vendor.id,
        (func.lower(Product.part_number) == named.lower())
        | (func.lower(Product.name) == named.lower()),
    )
    return session.scalars(query.order_by(Product.part_number).limit(1)).one_or_none()


def _key(name: str) -> str:
    """A short name of a vendor, made from its name."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    key = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")
    return f"v-{key}"[:40] if not key[:1].isalpha() else key[:40]
