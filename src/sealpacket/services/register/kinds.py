"""The kinds of record: how each is found by what people call it, written from its form, and shown."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import delete, func, insert, select
from sqlalchemy.orm import InstrumentedAttribute, Session, joinedload, selectinload
from sqlalchemy.orm.interfaces import ORMOption

from sealpacket.app.context import AppContext
from sealpacket.core.coverage import Listing
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.services.register import forms
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import (
    Asset,
    AssetStay,
    Contract,
    Entitlement,
    EntitlementAsset,
    LoginTie,
    MergedRecord,
    Person,
    Product,
    Site,
    Vendor,
    VendorLogin,
)
from sealpacket.store.models.register import entitlement_product, entitlement_site

Row = Any
Columns = dict[str, Any]


@dataclass(frozen=True)
class Link:
    """A table whose rows belong to a record; `owner` is the column with the record's id."""

    table: Any
    owner: str


@dataclass(frozen=True)
class Secret:
    """A field that is kept encrypted: in which column, and for what purpose."""

    column: str
    purpose: str


PASSCODE = Secret("passcode_sealed", "contract passcode")
LOGIN_SECRET = Secret("secret_sealed", "login secret")


def _sealed(app: AppContext, secret: Secret, value: str | None) -> Columns:
    """The column of a secret that was given; nothing if it was not, empty if it was taken away."""
    if value is None:
        return {}
    return {secret.column: app.seal_value(value, secret.purpose) if value else None}


@dataclass(frozen=True)
class Kind:
    """One kind of record.

    `called` is the column by which people call it, `natural` those that tell it apart, `order` the one lists are
    sorted by. `columns` gives what a form puts into the record's own row, `links` what it puts into the tables beside.
    """

    name: str
    plural: str
    model: type[Any]
    form: type[forms.Form]
    shown: type[forms.Shown]
    called: InstrumentedAttribute[str]
    natural: tuple[str, ...]
    order: InstrumentedAttribute[Any]
    columns: Callable[[AppContext, Referred, Any], Columns]
    show: Callable[[Row], dict[str, Any]]
    links: Callable[[Referred, Any, Columns], dict[Link, list[Columns]]] = (
        lambda _refs, _form, _columns: {}
    )
    search: tuple[InstrumentedAttribute[Any], ...] = ()
    eager: tuple[ORMOption, ...] = ()
    secrets: Mapping[str, Secret] = field(default_factory=dict)
    sorts: tuple[InstrumentedAttribute[Any], ...] = ()
    """Columns, besides the usual one, by which a list may be sorted."""

    def sorted_by(self, name: str) -> tuple[InstrumentedAttribute[Any], bool]:
        """The column to sort a list by, and whether downwards (`-name`). Raises Invalid for another one."""
        columns = {
            column.key: column
            for column in (self.order, self.called, self.model.updated_at, *self.sorts)
        }
        column = columns.get(name.removeprefix("-")) if name else self.order
        if column is None:
            raise Invalid(
                f"{self.plural} cannot be sorted by {name}.",
                f"Sort by {', '.join(columns)}.",
                field="sort",
            )
        return column, name.startswith("-")

    def find(
        self, session: Session, handle: str, options: tuple[ORMOption, ...] | None = None
    ) -> Row:
        """The record with this id, or that people call so. Raises NotFound, or Conflict if it is not the only one.

        Of several versions of one entitlement it is the one that counts today, or else the last.
        """
        query = select(self.model).where((self.model.id == handle) | (self.called == handle))
        found = session.scalars(
            query.options(*(self.eager if options is None else options)).limit(50)
        ).all()
        if self.model is Entitlement and len({row.contract_id for row in found}) == 1:
            today = session.scalar(select(func.current_date()))
            begun = [row for row in found if row.starts_on <= today] or found
            exact = [row for row in found if row.id == handle]
            found = exact or [max(begun, key=lambda row: row.starts_on)]
        found = found or self._merged(session, handle)
        if not found:
            raise NotFound(
                f"There is no {self.name} {handle}.", f"List them: sealpacket {self.name} list"
            )
        if len(found) > 1:
            raise Conflict(
                f"More than one {self.name} is called {handle}.",
                "Name it by its id.",
                code="ambiguous",
            )
        return found[0]

    def _merged(self, session: Session, handle: str) -> list[Row]:
        """The record into which the one of this id, or that was called so, was merged."""
        gone = (MergedRecord.old_id == handle) | (MergedRecord.called == handle)
        into = select(MergedRecord.into_id).where(MergedRecord.kind == self.name, gone)
        return list(session.scalars(select(self.model).where(self.model.id.in_(into))))

    def body(self, row: Row) -> dict[str, Any]:
        """The record in the words of its form, as JSON; what is secret is not in it."""
        shown = self.show(row)
        form = self.shown.model_validate(shown)
        return form.model_dump(mode="json", include=set(self.form.model_fields) - set(self.secrets))


def write_links(session: Session, ident: str, links: dict[Link, list[Columns]]) -> bool:
    """Make the rows beside a record what they should be. Returns whether anything was different."""
    different = False
    for link, rows in links.items():
        table = link.table
        columns = [column for column in table.c if column.key != link.owner]
        kept = {
            tuple(found)
            for found in session.execute(select(*columns).where(table.c[link.owner] == ident))
        }
        wanted = {tuple(row.get(column.key) for column in columns) for row in rows}
        if kept == wanted:
            continue
        different = True
        session.execute(delete(table).where(table.c[link.owner] == ident))
        if rows:
            session.execute(insert(table), [{link.owner: ident, **row} for row in rows])
    return different


def _plain(row: Row, form: type[forms.Form], *, but: tuple[str, ...] = ()) -> dict[str, Any]:
    fields = {name: getattr(row, name) for name in form.model_fields if name not in but}
    return {**fields, "id": row.id, "version": row.version, "updated_at": row.updated_at}


def _given(form: forms.Form, *, but: tuple[str, ...] = ()) -> Columns:
    return {name: getattr(form, name) for name in type(form).model_fields if name not in but}


def _site_columns(_house: AppContext, refs: Referred, form: forms.SiteForm) -> Columns:
    contact = refs.person(form.contact, "contact") if form.contact else None
    return {**_given(form, but=("contact",)), "contact_id": contact}


def _product_columns(_house: AppContext, refs: Referred, form: forms.ProductForm) -> Columns:
    return {**_given(form, but=("vendor",)), "vendor_id": refs.vendor(form.vendor)}


def _asset_columns(_house: AppContext, refs: Referred, form: forms.AssetForm) -> Columns:
    vendor = refs.vendor(form.vendor)
    return {
        **_given(form, but=("vendor", "product", "site", "carrier")),
        "vendor_id": vendor,
        "product_id": refs.product(vendor, form.product),
        "site_id": refs.site(form.site) if form.site else None,
        "carrier_id": refs.carrier(vendor, form.carrier) if form.carrier else None,
    }


def _contract_columns(app: AppContext, refs: Referred, form: forms.ContractForm) -> Columns:
    own = {**_given(form, but=("vendor", "passcode")), "vendor_id": refs.vendor(form.vendor)}
    return {**own, **_sealed(app, PASSCODE, form.passcode)}


def _entitlement_columns(
    _house: AppContext, refs: Referred, form: forms.EntitlementForm
) -> Columns:
    contract = refs.contract(refs.vendor(form.vendor), form.contract, "contract")
    own = _given(form, but=("vendor", "contract", "serials", "listings", "products", "sites"))
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
    columns = _given(form, but=("vendor", "person", "contracts", "secret"))
    columns["vendor_id"] = refs.vendor(form.vendor)
    columns["person_id"] = refs.person(form.person, "person") if form.person else None
    return {**columns, **_sealed(app, LOGIN_SECRET, form.secret)}


def _login_links(
    refs: Referred, form: forms.LoginForm, columns: Columns
) -> dict[Link, list[Columns]]:
    vendor = columns["vendor_id"]
    ids = [refs.contract(vendor, number, "contracts") for number in dict.fromkeys(form.contracts)]
    return {TIES: [{"vendor_id": vendor, "contract_id": ident} for ident in ids]}


def _show_site(row: Site) -> dict[str, Any]:
    shown = _plain(row, forms.SiteForm, but=("contact",))
    return {**shown, "contact": row.contact.key if row.contact else None}


def _show_asset(row: Asset) -> dict[str, Any]:
    carrier = row.carrier
    own = carrier is not None and carrier.vendor_id == row.vendor_id
    return {
        **_plain(row, forms.AssetForm, but=("vendor", "product", "site", "carrier")),
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
        **_plain(row, forms.ContractForm, but=("vendor", "passcode")),
        "vendor": row.vendor.key,
        "has_passcode": row.passcode_sealed is not None,
        "former_terms": [
            {name: getattr(term, name) for name in fields} for term in row.former_terms
        ],
    }


def _show_entitlement(row: Entitlement) -> dict[str, Any]:
    listed = sorted(row.listed, key=lambda item: item.asset.serial)
    return {
        **_plain(
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
        **_plain(row, forms.LoginForm, but=("vendor", "person", "contracts", "secret")),
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
        lambda _house, _refs, given: _given(given),
        lambda row: _plain(row, form),
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
             lambda row: {**_plain(row, forms.ProductForm, but=("vendor",)), "vendor": row.vendor.key},
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
    )
}  # fmt: skip
