"""Labels: find or add a thing by a photo of its label; print labels for what we keep."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid
from sealpacket.core.labels import Code
from sealpacket.services.register.acts import find_likely
from sealpacket.services.register.forms import AssetShown
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Asset, Product

if TYPE_CHECKING:
    from sealpacket.core.labels import Said


class ProposedAsset(BaseModel):
    """A proposed asset, as far as a code identifies it."""

    serial: str
    vendor: str | None
    product: str | None
    product_name: str | None


class CodeRead(Code):
    """A code with the assets that it names, or such as are written much like it (`likely`)."""

    assets: list[AssetShown]
    likely: bool
    proposed: ProposedAsset | None


LARGEST = 25_000_000
MOST_LABELS = 1000


def read_label(app: AppContext, photo: bytes) -> list[CodeRead]:
    """Read the codes on a photo: for each, the assets that it names, or a proposed new asset. Raises Invalid for a
    file that is not a picture."""
    from sealpacket.core.labels import PhotoFault, read_codes

    try:
        codes = read_codes(photo)
    except PhotoFault as fault:
        raise Invalid(str(fault), fault.remedy, code="no-picture") from fault
    with app.database.transaction() as session:
        return [
            CodeRead(
                text=code.text,
                symbology=code.symbology,
                corners=code.corners,
                **_matched(session, code.text),
            )
            for code in codes
        ]


def _matched(session: Session, text: str) -> dict[str, Any]:
    from sealpacket.core.labels import meaning

    said, kind = meaning(text), KINDS["asset"]
    query = select(Asset).options(*kind.eager).limit(10)
    wanted = [serial.strip().lower() for serial in said.serials if serial.strip()]
    rows = list(session.scalars(query.where(Asset.id.in_(said.ids)))) if said.ids else []
    rows = rows or list(session.scalars(query.where(func.lower(Asset.serial).in_(wanted))))
    likely = [] if rows or not wanted else find_likely(session, wanted[0], 5)
    proposed = None if rows or not said.serials else _proposed(session, said)
    return {
        "assets": [kind.show(row) for row in rows or likely],
        "likely": bool(likely and not rows),
        "proposed": proposed,
    }


def _proposed(session: Session, said: Said) -> ProposedAsset:
    """A proposed asset from a code: its product follows from the part number, or from similar serials."""
    products = session.scalars(
        select(Product).where(Product.part_number.in_(said.products)).limit(2)
    ).all()
    if not products:
        begin = said.serials[0][: max(len(said.serials[0]) * 2 // 3, 3)]
        like = (
            select(Asset.product_id)
            .where(func.starts_with(Asset.serial, begin))
            .distinct()
            .limit(2)
        )
        products = session.scalars(select(Product).where(Product.id.in_(like))).all()
    sure = products[0] if len(products) == 1 else None
    return ProposedAsset(
        serial=said.serials[0],
        vendor=sure.vendor.key if sure else None,
        product=sure.part_number if sure else None,
        product_name=sure.name if sure else None,
    )


def print_labels(app: AppContext, actor: Actor, handles: list[str], *, skip: int = 0) -> bytes:
    """A PDF with a label for each asset: a code that opens its page, its serial, name, model and site."""
    from sealpacket.core.label_sheet import Label, label_sheet

    kind = KINDS["asset"]
    with app.transaction(actor, "labels printed", "register", count=len(handles)) as tx:
        rows = [kind.find(tx.session, handle) for handle in handles]
        labels = [
            Label(
                f"{app.settings.address.rstrip('/')}/assets/{row.id}",
                (
                    row.serial,
                    row.name or row.product.name,
                    f"{row.vendor.name} {row.product.part_number}",
                    row.site.name if row.site else "",
                ),
            )
            for row in rows
        ]
    return label_sheet(labels, skip=skip)
