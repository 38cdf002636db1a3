"""The kinds of record for what is agreed besides cover: limits, levels, lots of units, prices, licences, releases."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy.orm import joinedload, selectinload

from sealpacket.app.context import AppContext
from sealpacket.services.register import agreed_forms as forms
from sealpacket.services.register.forms import Form
from sealpacket.services.register.kind import Columns, Kind, Secret, given, plain, sealed
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import Level, Licence, Limit, Lot, Price, Release

LICENCE_KEY = Secret("key_sealed", "licence key")


def _of_vendor(_app: AppContext, refs: Referred, form: Any) -> Columns:
    return {**given(form, but=("vendor",)), "vendor_id": refs.vendor(form.vendor)}


def _of_contract(_app: AppContext, refs: Referred, form: Any) -> Columns:
    vendor = refs.vendor(form.vendor)
    own = given(form, but=("vendor", "contract"))
    contract = refs.contract(vendor, form.contract, "contract")
    return {**own, "vendor_id": vendor, "contract_id": contract}


def _licence_columns(app: AppContext, refs: Referred, form: forms.LicenceForm) -> Columns:
    vendor = refs.vendor(form.vendor)
    own = given(form, but=("vendor", "asset", "key"))
    asset = refs.asset(vendor, form.asset, "asset")
    return {
        **own,
        "vendor_id": vendor,
        "asset_id": asset,
        **sealed(app, LICENCE_KEY, form.key),
    }


def _release_columns(_app: AppContext, refs: Referred, form: forms.ReleaseForm) -> Columns:
    vendor = refs.vendor(form.vendor)
    product = refs.product(vendor, form.product)
    return {
        **given(form, but=("vendor", "product")),
        "vendor_id": vendor,
        "product_id": product,
    }


def _show(row: Any, form: type[Form], *but: str) -> dict[str, Any]:
    return {**plain(row, form, but=("vendor", *but)), "vendor": row.vendor.key}


def _show_of_contract(row: Level | Lot, form: type[Form]) -> dict[str, Any]:
    return {**_show(row, form, "contract"), "contract": row.contract.number}


def _show_lot(row: Lot) -> dict[str, Any]:
    by_state = {
        state: sum(entry.units for entry in row.entries if entry.state == state)
        for state in ("used", "held")
    }
    lapsed = row.lapses_on < datetime.now(UTC).date()
    left = 0 if lapsed else row.units - sum(by_state.values())
    return {**_show_of_contract(row, forms.LotForm), **by_state, "left": left}


def _show_licence(row: Licence) -> dict[str, Any]:
    shown = _show(row, forms.LicenceForm, "asset", "key")
    return {**shown, "asset": row.asset.serial, "has_key": row.key_sealed is not None}


def _show_release(row: Release) -> dict[str, Any]:
    shown = _show(row, forms.ReleaseForm, "product")
    return {**shown, "product": row.product.part_number, "product_name": row.product.name}


AGREED: tuple[Kind, ...] = (
    Kind("limit", "limits", Limit, forms.LimitForm, forms.LimitShown, Limit.called,
         ("vendor", "provider", "region", "resource"), Limit.called, _of_vendor,
         lambda row: {**_show(row, forms.LimitForm), "called": row.called},
         search=(Limit.called, Limit.notes),
         sorts=(Limit.provider, Limit.region, Limit.resource, Limit.granted, Limit.used, Limit.as_of_on),
         eager=(joinedload(Limit.vendor),)),
    Kind("level", "levels", Level, forms.LevelForm, forms.LevelShown, Level.name, ("vendor", "contract", "name"),
         Level.name, _of_contract, lambda row: _show_of_contract(row, forms.LevelForm), search=(Level.name,),
         sorts=(Level.rank, Level.cost_minor, Level.answer_minutes, Level.repair_minutes),
         eager=(joinedload(Level.vendor), joinedload(Level.contract))),
    Kind("lot", "lots", Lot, forms.LotForm, forms.LotShown, Lot.reference, ("vendor", "reference"), Lot.lapses_on,
         _of_contract, _show_lot, search=(Lot.reference, Lot.notes), sorts=(Lot.bought_on, Lot.units),
         eager=(joinedload(Lot.vendor), joinedload(Lot.contract), selectinload(Lot.entries))),
    Kind("price", "prices", Price, forms.PriceForm, forms.PriceShown, Price.item, ("vendor", "item"), Price.item,
         _of_vendor, lambda row: _show(row, forms.PriceForm), search=(Price.item, Price.name),
         sorts=(Price.name, Price.units, Price.notice_days), eager=(joinedload(Price.vendor),)),
    Kind("licence", "licences", Licence, forms.LicenceForm, forms.LicenceShown, Licence.name,
         ("vendor", "asset", "name"), Licence.name, _licence_columns, _show_licence,
         search=(Licence.name, Licence.activation_code), sorts=(Licence.ends_on, Licence.starts_on, Licence.sort),
         secrets={"key": LICENCE_KEY}, eager=(joinedload(Licence.vendor), joinedload(Licence.asset))),
    Kind("release", "releases", Release, forms.ReleaseForm, forms.ReleaseShown, Release.number,
         ("vendor", "product", "number"), Release.number, _release_columns, _show_release,
         search=(Release.number, Release.file_name), sorts=(Release.released_on, Release.status),
         eager=(joinedload(Release.vendor), joinedload(Release.product))),
)  # fmt: skip
