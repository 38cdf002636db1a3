"""The kinds of record."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import joinedload, selectinload

from sealpacket.app.context import AppContext
from sealpacket.core.coverage import Listing
from sealpacket.services.register import forms
from sealpacket.services.register.agreed import AGREED
from sealpacket.services.register.kind import Columns, Kind, Link, Secret, given, plain, sealed
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import (
    Asset,
    AssetStay,
    Contract,
    Entitlement,
    EntitlementAsset,
    LoginTie,
    Person,
    Product,
    Site,
    Vendor,
    VendorLogin,
)
from sealpacket.store.models.register import entitlement_product, entitlement_site

PASSCODE = Secret("passcode_sealed", "contract passcode")
LOGIN_SECRET = Secret("secret_sealed", "login secret")


def _site_columns(_house: AppContext, refs: Referred, form: forms.SiteForm) -> Columns:
    contact = refs.person(form.contact, "contact") if form.contact else None
    return {**given(form, but=("contact",)), "contact_id": contact}


def _product_columns(_house: AppContext, refs: Referred, form: forms.ProductForm) -> Columns:
    return {**given(form, but=("vendor",)), "vendor_id": refs.vendor(form.vendor)}


def _asset_columns(_house: AppContext, refs: Referred, form: forms.AssetForm) -> Columns:
    vendor = refs.vendor(form.vendor)
    return {
        **given(form, but=("vendor", "product", "site", "carrier")),
        "vendor_id": vendor,
        "product_id": refs.product(vendor, form.product),
        "site_id": refs.site(form.site) if form.site else None,
        "carrier_id": refs.carrier(vendor, form.carrier) if form.carrier else None,
    }


def _contract_columns(app: AppContext, refs: Referred, form: forms.ContractForm) -> Columns:
    own = {**given(form, but=("vendor", "passcode")), "vendor_id": refs.vendor(form.vendor)}
    return {**own, **sealed(app, PASSCODE, form.passcode)}


def _entitlement_columns(
    _house: AppContext, refs: Referred, form: forms.EntitlementForm
) -> Columns:
    contract = refs.contract(refs.vendor(form.vendor), form.contract, "contract")
    own = given(form, but=("vendor", "contract", "serials", "listings", "products", "sites"))
    return {
        **own,
        "contract_id": contract,
        "everything": not (form.serials or form.listings or form.products),
    }


LISTED = Link(EntitlementAsset.__table__, "entitlement_id")
PRODUCTS = Link(entitlement_product, "entitlement_id")
SITES = Link(entitlement_site, "entitlement_id")
TIES = Link(LoginTie.__table__, "login_id")


def _entitlement_links(
    refs: Referred, form: forms.EntitlementForm, _columns: Columns
) -> dict[Link, list[Columns]]:
    vendor = refs.vendor(form.vendor)
    dated = {listing.serial: listing for listing in form.listings}
    whole = [
        Listing(serial=serial) for serial in dict.fromkeys(form.serials) if serial not in dated
    ]
    listings = [*dated.values(), *whole]
    ids = refs.assets(vendor, (listing.serial for listing in listings), "serials")
    return {
        LISTED: [
            {"asset_id": ident, "from_on": listing.from_on, "until_on": listing.until_on}
            for ident, listing in zip(ids, listings, strict=True)
        ],
        PRODUCTS: [
            {"product_id": refs.product(vendor, part, "products")}
            for part in dict.fromkeys(form.products)
        ],
        SITES: [{"site_id": refs.site(key, "sites")} for key in dict.fromkeys(form.sites)],
    }


def _login_columns(app: AppContext, refs: Referred, form: forms.LoginForm) -> Columns:
    columns = given(form, but=("vendor", "person", "contracts", "secret"))
    columns["vendor_id"] = refs.vendor(form.vendor)
    columns["person_id"] = refs.person(form.person, "person") if form.person else None
    return {**columns, **sealed(app, LOGIN_SECRET, form.secret)}


def _login_links(
    refs: Referred, form: forms.LoginForm, columns: Columns
) -> dict[Link, list[Columns]]:
    vendor = columns["vendor_id"]
    ids = [refs.contract(vendor, number, "contracts") for number in dict.fromkeys(form.contracts)]
    return {TIES: [{"vendor_id": vendor, "contract_id": ident} for ident in ids]}


def _show_site(row: Site) -> dict[str, Any]:
    shown = plain(row, forms.SiteForm, but=("contact",))
    return {**shown, "contact": row.contact.key if row.contact else None}


def _show_asset(row: Asset) -> dict[str, Any]:
    carrier = row.carrier
    own = carrier is not None and carrier.vendor_id == row.vendor_id
    return {
        **plain(row, forms.AssetForm, but=("vendor", "product", "site", "carrier")),
        "vendor": row.vendor.key,
        "vendor_name": row.vendor.name,
        "product": row.product.part_number,
        "product_name": row.product.name,
        "site": row.site.key if row.site else None,
        "site_name": row.site.name if row.site else None,
        "carrier": None
        if carrier is None
        else carrier.serial
        if own
        else f"{carrier.vendor.key}:{carrier.serial}",
        "stays": [
            {
                "from_on": stay.from_on,
                "until_on": stay.until_on,
                "site": stay.site.key if stay.site else None,
                "status": stay.status,
            }
            for stay in row.stays
        ],
    }


def _show_contract(row: Contract) -> dict[str, Any]:
    fields = forms.TermShown.model_fields
    return {
        **plain(row, forms.ContractForm, but=("vendor", "passcode")),
        "vendor": row.vendor.key,
        "has_passcode": row.passcode_sealed is not None,
        "former_terms": [
            {name: getattr(term, name) for name in fields} for term in row.former_terms
        ],
    }


def _show_entitlement(row: Entitlement) -> dict[str, Any]:
    listed = sorted(row.listed, key=lambda item: item.asset.serial)
    return {
        **plain(
            row,
            forms.EntitlementForm,
            but=("vendor", "contract", "serials", "listings", "products", "sites"),
        ),
        "vendor": row.contract.vendor.key,
        "contract": row.contract.number,
        "serials": [
            item.asset.serial for item in listed if item.from_on is None and item.until_on is None
        ],
        "listings": [
            {"serial": item.asset.serial, "from_on": item.from_on, "until_on": item.until_on}
            for item in listed
            if item.from_on is not None or item.until_on is not None
        ],
        "products": sorted(product.part_number for product in row.products),
        "sites": sorted(site.key for site in row.sites),
        "replaced_on": row.replaced_on,
    }


def _show_login(row: VendorLogin) -> dict[str, Any]:
    return {
        **plain(row, forms.LoginForm, but=("vendor", "person", "contracts", "secret")),
        "vendor": row.vendor.key,
        "person": row.person.key if row.person else None,
        "contracts": sorted(tie.contract.number for tie in row.ties),
        "has_secret": row.secret_sealed is not None,
    }


def _plain_kind(
    name: str,
    plural: str,
    model: Any,
    form: type[forms.Form],
    shown: type[forms.Shown],
    *search: Any,
) -> Kind:
    return Kind(
        name,
        plural,
        model,
        form,
        shown,
        model.key,
        ("key",),
        model.name,
        lambda _house, _refs, form_: given(form_),
        lambda row: plain(row, form),
        search=search,
    )


KINDS: dict[str, Kind] = {
    kind.name: kind
    for kind in (
        _plain_kind("vendor", "vendors", Vendor, forms.VendorForm, forms.VendorShown, Vendor.name, Vendor.key),
        _plain_kind("person", "people", Person, forms.PersonForm, forms.PersonShown, Person.name, Person.mail),
        Kind("site", "sites", Site, forms.SiteForm, forms.SiteShown, Site.key, ("key",), Site.name, _site_columns,
             _show_site, search=(Site.name, Site.address), eager=(joinedload(Site.contact),)),
        Kind("product", "products", Product, forms.ProductForm, forms.ProductShown, Product.part_number,
             ("vendor", "part_number"), Product.name, _product_columns,
             lambda row: {**plain(row, forms.ProductForm, but=("vendor",)), "vendor": row.vendor.key},
             search=(Product.name, Product.part_number), sorts=(Product.sort, Product.warranty_months),
             eager=(joinedload(Product.vendor),)),
        Kind("asset", "assets", Asset, forms.AssetForm, forms.AssetShown, Asset.serial, ("vendor", "serial"),
             Asset.serial, _asset_columns, _show_asset, search=(Asset.search_text,),
             sorts=(Asset.name, Asset.status, Asset.software_version, Asset.shipped_on, Asset.installed_on),
             eager=(joinedload(Asset.vendor), joinedload(Asset.product), joinedload(Asset.site),
                    joinedload(Asset.carrier).joinedload(Asset.vendor),
                    selectinload(Asset.stays).joinedload(AssetStay.site))),
        Kind("contract", "contracts", Contract, forms.ContractForm, forms.ContractShown, Contract.number,
             ("vendor", "number"), Contract.ends_on, _contract_columns, _show_contract,
             search=(Contract.number, Contract.title),
             sorts=(Contract.title, Contract.starts_on, Contract.notice_on, Contract.cost_minor, Contract.grace_days),
             secrets={"passcode": PASSCODE}, eager=(joinedload(Contract.vendor), selectinload(Contract.former_terms))),
        Kind("entitlement", "entitlements", Entitlement, forms.EntitlementForm, forms.EntitlementShown,
             Entitlement.reference, ("vendor", "contract", "reference", "starts_on"), Entitlement.ends_on,
             _entitlement_columns, _show_entitlement, _entitlement_links,
             search=(Entitlement.reference, Entitlement.level),
             sorts=(Entitlement.level, Entitlement.starts_on, Entitlement.hours),
             eager=(joinedload(Entitlement.contract).joinedload(Contract.vendor),
                    selectinload(Entitlement.listed).joinedload(EntitlementAsset.asset).load_only(Asset.serial),
                    selectinload(Entitlement.products), selectinload(Entitlement.sites))),
        Kind("login", "logins", VendorLogin, forms.LoginForm, forms.LoginShown, VendorLogin.name, ("vendor", "name"),
             VendorLogin.name, _login_columns, _show_login, _login_links, search=(VendorLogin.name,),
             secrets={"secret": LOGIN_SECRET},
             eager=(joinedload(VendorLogin.vendor), joinedload(VendorLogin.person),
                    selectinload(VendorLogin.ties).joinedload(LoginTie.contract))),
        *AGREED,
    )
}  # fmt: skip
