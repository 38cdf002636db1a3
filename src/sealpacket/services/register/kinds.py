"""The kinds of record: how each is found by what people call it, filled from its form, and shown."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.services.house import House
from sealpacket.services.register import forms
from sealpacket.store.models import (
    Asset,
    Contract,
    Entitlement,
    LoginTie,
    Person,
    Product,
    Site,
    Vendor,
    VendorLogin,
)

Row = Any
T = TypeVar("T")


@dataclass(frozen=True)
class Kind:
    """One kind of record. `called` is the column by which people call it, `order` the one lists are sorted by."""

    name: str
    plural: str
    model: type[Any]
    form: type[forms.Form]
    shown: type[forms.Shown]
    called: InstrumentedAttribute[str]
    order: InstrumentedAttribute[Any]
    fill: Callable[[House, Session, Row, Any], None]
    show: Callable[[Row], dict[str, Any]]
    search: tuple[InstrumentedAttribute[Any], ...] = ()

    def find(self, session: Session, handle: str) -> Row:
        """The record with this id, or that people call so. Raises NotFound, or Conflict if it is not the only one."""
        found = session.scalars(
            select(self.model).where((self.model.id == handle) | (self.called == handle)).limit(2)
        ).all()
        if not found:
            raise NotFound(f"There is no {self.name} {handle}.", f"Look it up: sealpacket {self.name} list")
        if len(found) > 1:
            raise Conflict(f"More than one {self.name} is called {handle}.", "Name it by its id.", code="ambiguous")
        return found[0]


def one(session: Session, what: str, name: str, query: ColumnElement[bool], model: type[T], field: str) -> T:
    """The record that a form refers to. Raises Invalid that names the field."""
    row = session.scalars(select(model).where(query)).one_or_none()
    if row is None:
        raise Invalid(
            f"There is no {what} {name} in the register.", f"Add the {what} first.", code="no-such", field=field
        )
    return row


def vendor_of(session: Session, key: str) -> Vendor:
    """The vendor that a form names."""
    return one(session, "vendor", key, Vendor.key == key, Vendor, "vendor")


def person_id(session: Session, key: str | None, field: str) -> str | None:
    """The id of the person that a form names, if it names one."""
    return one(session, "person", key, Person.key == key, Person, field).id if key else None


def _plain(row: Row, form: type[forms.Form], *, but: tuple[str, ...] = ()) -> dict[str, Any]:
    fields = {name: getattr(row, name) for name in form.model_fields if name not in but}
    return {**fields, "id": row.id, "version": row.version, "updated_at": row.updated_at}


def _copy(row: Row, form: forms.Form, *, but: tuple[str, ...] = ()) -> None:
    for name in type(form).model_fields:
        if name not in but:
            setattr(row, name, getattr(form, name))


def _fill_plain(_house: House, _session: Session, row: Row, form: Any) -> None:
    _copy(row, form)


def _fill_site(_house: House, session: Session, row: Site, form: forms.SiteForm) -> None:
    _copy(row, form, but=("contact",))
    row.contact_id = person_id(session, form.contact, "contact")


def _fill_product(_house: House, session: Session, row: Product, form: forms.ProductForm) -> None:
    _copy(row, form, but=("vendor",))
    row.vendor_id = vendor_of(session, form.vendor).id


def product_of(session: Session, vendor_id: str, part: str, field: str = "product") -> Product:
    """The product of a vendor by part number."""
    return one(
        session, "product", part, (Product.vendor_id == vendor_id) & (Product.part_number == part), Product, field
    )


def _fill_asset(_house: House, session: Session, row: Asset, form: forms.AssetForm) -> None:
    _copy(row, form, but=("vendor", "product", "site"))
    row.vendor_id = vendor_of(session, form.vendor).id
    row.product_id = product_of(session, row.vendor_id, form.product).id
    row.site_id = one(session, "site", form.site, Site.key == form.site, Site, "site").id if form.site else None


def _fill_contract(house: House, session: Session, row: Contract, form: forms.ContractForm) -> None:
    _copy(row, form, but=("vendor", "passcode"))
    row.vendor_id = vendor_of(session, form.vendor).id
    if form.passcode is not None:
        row.passcode_sealed = house.seal_value(form.passcode, "contract passcode") if form.passcode else None


def contract_of(session: Session, vendor_id: str, number: str, field: str) -> Contract:
    """The contract of a vendor by number."""
    return one(
        session, "contract", number, (Contract.vendor_id == vendor_id) & (Contract.number == number), Contract, field
    )


def _fill_entitlement(_house: House, session: Session, row: Entitlement, form: forms.EntitlementForm) -> None:
    _copy(row, form, but=("vendor", "contract", "serials", "products", "sites"))
    vendor = vendor_of(session, form.vendor)
    row.contract_id = contract_of(session, vendor.id, form.contract, "contract").id
    row.assets = [
        one(session, "asset", serial, (Asset.vendor_id == vendor.id) & (Asset.serial == serial), Asset, "serials")
        for serial in form.serials
    ]
    row.products = [product_of(session, vendor.id, part, "products") for part in form.products]
    row.sites = [one(session, "site", key, Site.key == key, Site, "sites") for key in form.sites]


def _fill_login(house: House, session: Session, row: VendorLogin, form: forms.LoginForm) -> None:
    _copy(row, form, but=("vendor", "person", "contracts", "secret"))
    row.vendor_id = vendor_of(session, form.vendor).id
    row.person_id = person_id(session, form.person, "person")
    if form.secret is not None:
        row.secret_sealed = house.seal_value(form.secret, "login secret") if form.secret else None
    wanted = {contract_of(session, row.vendor_id, number, "contracts").id for number in form.contracts}
    kept = [tie for tie in row.ties if tie.contract_id in wanted]
    new = wanted - {tie.contract_id for tie in kept}
    row.ties = kept + [LoginTie(vendor_id=row.vendor_id, contract_id=contract) for contract in sorted(new)]


def _show_asset(row: Asset) -> dict[str, Any]:
    return {
        **_plain(row, forms.AssetForm, but=("vendor", "product", "site")),
        "vendor": row.vendor.key,
        "vendor_name": row.vendor.name,
        "product": row.product.part_number,
        "product_name": row.product.name,
        "site": row.site.key if row.site else None,
        "site_name": row.site.name if row.site else None,
    }


def _show_contract(row: Contract) -> dict[str, Any]:
    shown = _plain(row, forms.ContractForm, but=("vendor", "passcode"))
    return {**shown, "vendor": row.vendor.key, "has_passcode": row.passcode_sealed is not None}


def _show_entitlement(row: Entitlement) -> dict[str, Any]:
    return {
        **_plain(row, forms.EntitlementForm, but=("vendor", "contract", "serials", "products", "sites")),
        "vendor": row.contract.vendor.key,
        "contract": row.contract.number,
        "serials": sorted(asset.serial for asset in row.assets),
        "products": sorted(product.part_number for product in row.products),
        "sites": sorted(site.key for site in row.sites),
    }


def _show_login(row: VendorLogin) -> dict[str, Any]:
    return {
        **_plain(row, forms.LoginForm, but=("vendor", "person", "contracts", "secret")),
        "vendor": row.vendor.key,
        "person": row.person.key if row.person else None,
        "contracts": sorted(tie.contract.number for tie in row.ties),
        "has_secret": row.secret_sealed is not None,
    }


KINDS: dict[str, Kind] = {
    kind.name: kind
    for kind in (
        Kind("vendor", "vendors", Vendor, forms.VendorForm, forms.VendorShown, Vendor.key, Vendor.name, _fill_plain,
             lambda row: _plain(row, forms.VendorForm), (Vendor.name, Vendor.key)),
        Kind("person", "people", Person, forms.PersonForm, forms.PersonShown, Person.key, Person.name, _fill_plain,
             lambda row: _plain(row, forms.PersonForm), (Person.name, Person.mail)),
        Kind("site", "sites", Site, forms.SiteForm, forms.SiteShown, Site.key, Site.name, _fill_site,
             lambda row: {**_plain(row, forms.SiteForm, but=("contact",)),
                          "contact": row.contact.key if row.contact else None}, (Site.name, Site.address)),
        Kind("product", "products", Product, forms.ProductForm, forms.ProductShown, Product.part_number, Product.name,
             _fill_product, lambda row: {**_plain(row, forms.ProductForm, but=("vendor",)), "vendor": row.vendor.key},
             (Product.name, Product.part_number)),
        Kind("asset", "assets", Asset, forms.AssetForm, forms.AssetShown, Asset.serial, Asset.serial, _fill_asset,
             _show_asset, (Asset.search_text,)),
        Kind("contract", "contracts", Contract, forms.ContractForm, forms.ContractShown, Contract.number,
             Contract.ends_on, _fill_contract, _show_contract, (Contract.number, Contract.title)),
        Kind("entitlement", "entitlements", Entitlement, forms.EntitlementForm, forms.EntitlementShown,
             Entitlement.reference, Entitlement.ends_on, _fill_entitlement, _show_entitlement,
             (Entitlement.reference, Entitlement.level)),
        Kind("login", "logins", VendorLogin, forms.LoginForm, forms.LoginShown, VendorLogin.name, VendorLogin.name,
             _fill_login, _show_login, (VendorLogin.name,)),
    )
}  # fmt: skip
