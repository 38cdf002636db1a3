"""The register: vendors, contracts, entitlements, products, assets, sites, people and vendor logins."""

from __future__ import annotations

from datetime import date
from typing import Any, ClassVar

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    Column,
    Computed,
    ForeignKey,
    ForeignKeyConstraint,
    Index,
    Table,
    Text,
    UniqueConstraint,
    func,
    select,
)
from sqlalchemy.dialects.postgresql import ARRAY, ExcludeConstraint
from sqlalchemy.ext.hybrid import hybrid_property
from sqlalchemy.orm import Mapped, column_property, mapped_column, relationship

from sealpacket.store.models.base import Base, Recorded


class Vendor(Recorded, Base):
    """Someone who sells us things and support. `customer_number` is what they know us by."""

    __tablename__ = "vendor"
    key: Mapped[str] = mapped_column(unique=True)
    name: Mapped[str]
    sells_paid_help: Mapped[bool] = mapped_column(default=False)
    customer_number: Mapped[str] = mapped_column(default="", server_default="")
    notes: Mapped[str] = mapped_column(default="")
    __table_args__ = (CheckConstraint("key ~ '^[a-z][a-z0-9-]*$'", name="key_form"),)


class Person(Recorded, Base):
    """Someone who can be named in a packet. `hours` as people write them: Mo–Fr 08:30–17:00.

    `reach_by` is how they want to be reached, `access_needs` what helps them (a relay service, large print),
    `instructions` what callers should know; away from and until a day, both included.
    """

    __tablename__ = "person"
    key: Mapped[str] = mapped_column(unique=True)
    name: Mapped[str]
    mail: Mapped[str]
    phone: Mapped[str | None]
    second_phone: Mapped[str | None]
    language: Mapped[str] = mapped_column(default="en")
    time_zone: Mapped[str] = mapped_column(default="Europe/London")
    hours: Mapped[str] = mapped_column(default="")
    on_call: Mapped[bool] = mapped_column(default=False)
    reach_by: Mapped[str] = mapped_column(default="either", server_default="either")
    access_needs: Mapped[str] = mapped_column(default="", server_default="")
    instructions: Mapped[str] = mapped_column(default="", server_default="")
    away_from_on: Mapped[date | None]
    away_until_on: Mapped[date | None]
    __table_args__ = (
        CheckConstraint(r"phone ~ '^\+[1-9][0-9]{6,14}$'", name="phone_e164"),
        CheckConstraint(r"second_phone ~ '^\+[1-9][0-9]{6,14}$'", name="second_phone_e164"),
        CheckConstraint("reach_by IN ('mail','phone','either')", name="reach_by"),
        CheckConstraint("away_until_on >= away_from_on", name="away_in_order"),
    )


class Site(Recorded, Base):
    """A place where assets are. Goods go to the second address (`ship_…`), or to the first if there is none."""

    __tablename__ = "site"
    key: Mapped[str] = mapped_column(unique=True)
    name: Mapped[str]
    address: Mapped[str] = mapped_column(default="")
    postcode: Mapped[str] = mapped_column(default="")
    town: Mapped[str] = mapped_column(default="", server_default="")
    state: Mapped[str] = mapped_column(default="", server_default="")
    country: Mapped[str]
    time_zone: Mapped[str]
    ship_address: Mapped[str] = mapped_column(default="", server_default="")
    ship_postcode: Mapped[str] = mapped_column(default="", server_default="")
    ship_town: Mapped[str] = mapped_column(default="", server_default="")
    hours: Mapped[str] = mapped_column(default="", server_default="")
    instructions: Mapped[str] = mapped_column(default="", server_default="")
    contact_id: Mapped[str | None] = mapped_column(ForeignKey("person.id"))
    contact: Mapped[Person | None] = relationship()
    __table_args__ = (CheckConstraint("country ~ '^[A-Z]{2}$'", name="country_iso"),)


NO_SERIAL, NO_MODEL = "UNLISTED-", "Model not known"
"""The beginning of the serial of what has none yet, and the name of a model that is not known."""


class Product(Recorded, Base):
    """A model. `warranty_needs` are the kinds of need that its maker's warranty takes."""

    __tablename__ = "product"
    vendor_id: Mapped[str] = mapped_column(ForeignKey("vendor.id"))
    part_number: Mapped[str]
    name: Mapped[str]
    sort: Mapped[str] = mapped_column(default="hardware", server_default="hardware")
    needs_registration: Mapped[bool] = mapped_column(default=False, server_default="false")
    warranty_months: Mapped[int | None]
    warranty_needs: Mapped[list[str]] = mapped_column(default=list)
    vendor: Mapped[Vendor] = relationship()
    __table_args__ = (
        UniqueConstraint("vendor_id", "part_number"),
        UniqueConstraint("vendor_id", "id"),
        CheckConstraint("warranty_months BETWEEN 1 AND 600", name="warranty_months"),
        CheckConstraint("sort IN ('hardware','software')", name="sort"),
    )

    @hybrid_property
    def made_up(self) -> bool:
        """Whether this is a model that is not known, which is in no list of the register."""
        return self.name == NO_MODEL


class Asset(Recorded, Base):
    """One thing with a serial number. `search_text` is kept by the database (see the migration).

    `carrier` is what it sits in or, if it is software, what it runs on. It stands at its site and is in its status
    since `placed_on` (None: ever since); where it was before is in its stays.
    """

    __tablename__ = "asset"
    vendor_id: Mapped[str] = mapped_column(ForeignKey("vendor.id"))
    product_id: Mapped[str]
    site_id: Mapped[str | None] = mapped_column(ForeignKey("site.id"), index=True)
    carrier_id: Mapped[str | None] = mapped_column(ForeignKey("asset.id"), index=True)
    serial: Mapped[str]
    name: Mapped[str] = mapped_column(default="")
    status: Mapped[str] = mapped_column(default="in_use")
    software_version: Mapped[str] = mapped_column(default="")
    host_names: Mapped[list[str]] = mapped_column(default=list)
    addresses: Mapped[list[str]] = mapped_column(default=list)
    shipped_on: Mapped[date | None]
    installed_on: Mapped[date | None]
    registered_on: Mapped[date | None]
    placed_on: Mapped[date | None]
    notes: Mapped[str] = mapped_column(default="")
    search_text: Mapped[str] = mapped_column(server_default="", insert_default=None)
    names: Mapped[list[str]] = mapped_column(
        ARRAY(Text()),
        Computed("asset_names(serial, host_names, addresses)", persisted=True),
        deferred=True,
    )
    vendor: Mapped[Vendor] = relationship(overlaps="product")
    product: Mapped[Product] = relationship(overlaps="vendor")
    site: Mapped[Site | None] = relationship()
    carrier: Mapped[Asset | None] = relationship(remote_side="Asset.id")
    stays: Mapped[list[AssetStay]] = relationship(
        order_by="AssetStay.until_on", cascade="all, delete-orphan", back_populates="asset"
    )
    __table_args__ = (
        UniqueConstraint("vendor_id", "serial"),
        CheckConstraint("carrier_id <> id", name="not_its_own_carrier"),
        ForeignKeyConstraint(["vendor_id", "product_id"], ["product.vendor_id", "product.id"]),
        CheckConstraint("serial <> '' AND serial = btrim(serial)", name="serial_form"),
        CheckConstraint("status IN ('ordered','in_use','spare','repair','retired')", name="status"),
        CheckConstraint("installed_on >= shipped_on", name="dates_in_order"),
    )

    @hybrid_property
    def made_up(self) -> bool:
        """Whether its serial is not known; then it is in no list of the register."""
        return self.serial.startswith(NO_SERIAL)


Index(
    "ix_asset_search",
    Asset.search_text,
    postgresql_using="gin",
    postgresql_ops={"search_text": "gin_trgm_ops"},
)
Index("ix_asset_names", Asset.names, postgresql_using="gin")
Index("ix_asset_list", Asset.serial, Asset.id)
Index("ix_asset_product", Asset.product_id, Asset.serial, Asset.id)


class AssetStay(Base):
    """Where an asset was before, and in what status; both days included, no first day: ever since."""

    __tablename__ = "asset_stay"
    asset_id: Mapped[str] = mapped_column(
        ForeignKey("asset.id", ondelete="CASCADE"), primary_key=True
    )
    until_on: Mapped[date] = mapped_column(primary_key=True)
    from_on: Mapped[date | None]
    site_id: Mapped[str | None] = mapped_column(ForeignKey("site.id"))
    status: Mapped[str]
    asset: Mapped[Asset] = relationship(back_populates="stays")
    site: Mapped[Site | None] = relationship()
    __table_args__ = (
        CheckConstraint("from_on <= until_on", name="dates_in_order"),
        ExcludeConstraint(
            ("asset_id", "="),
            (func.daterange(Column("from_on"), Column("until_on"), "[]"), "&&"),
            name="ex_asset_stay_one_at_a_time",
        ),
    )


class Contract(Recorded, Base):
    """A contract with a vendor in its present term; former terms are kept beside it.

    Money in minor units of an ISO 4217 currency; the passcode is encrypted.
    """

    __tablename__ = "contract"
    vendor_id: Mapped[str] = mapped_column(ForeignKey("vendor.id"))
    number: Mapped[str]
    title: Mapped[str] = mapped_column(default="")
    starts_on: Mapped[date]
    ends_on: Mapped[date]
    notice_on: Mapped[date | None]
    grace_days: Mapped[int] = mapped_column(default=0)
    cost_minor: Mapped[int | None] = mapped_column(BigInteger)
    currency: Mapped[str | None]
    passcode_sealed: Mapped[bytes | None]
    vendor: Mapped[Vendor] = relationship()
    entitlements: Mapped[list[Entitlement]] = relationship(back_populates="contract")
    former_terms: Mapped[list[ContractTerm]] = relationship(
        order_by="ContractTerm.starts_on", cascade="all, delete-orphan"
    )
    __table_args__ = (
        UniqueConstraint("vendor_id", "number"),
        UniqueConstraint("vendor_id", "id"),
        CheckConstraint("starts_on <= ends_on", name="dates_in_order"),
        CheckConstraint("notice_on <= ends_on", name="notice_in_order"),
        CheckConstraint("grace_days BETWEEN 0 AND 365", name="grace_days"),
        CheckConstraint("(cost_minor IS NULL) = (currency IS NULL)", name="cost_with_currency"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency_iso"),
    )


class ContractTerm(Base):
    """A former term of a contract, as it was."""

    __tablename__ = "contract_term"
    contract_id: Mapped[str] = mapped_column(
        ForeignKey("contract.id", ondelete="CASCADE"), primary_key=True
    )
    starts_on: Mapped[date] = mapped_column(primary_key=True)
    ends_on: Mapped[date]
    notice_on: Mapped[date | None]
    grace_days: Mapped[int] = mapped_column(default=0)
    cost_minor: Mapped[int | None] = mapped_column(BigInteger)
    currency: Mapped[str | None]
    __table_args__ = (
        CheckConstraint("starts_on <= ends_on", name="dates_in_order"),
        ExcludeConstraint(
            ("contract_id", "="),
            (func.daterange(Column("starts_on"), Column("ends_on"), "[]"), "&&"),
            name="ex_contract_term_one_at_a_time",
        ),
    )


class EntitlementAsset(Base):
    """An asset that an entitlement lists, for all of its term or for a part of it (both days included)."""

    __tablename__ = "entitlement_asset"
    entitlement_id: Mapped[str] = mapped_column(
        ForeignKey("entitlement.id", ondelete="CASCADE"), primary_key=True
    )
    asset_id: Mapped[str] = mapped_column(ForeignKey("asset.id"), primary_key=True, index=True)
    from_on: Mapped[date | None]
    until_on: Mapped[date | None]
    asset: Mapped[Asset] = relationship()
    __table_args__ = (CheckConstraint("from_on <= until_on", name="dates_in_order"),)


entitlement_product = Table(
    "entitlement_product",
    Base.metadata,
    Column("entitlement_id", ForeignKey("entitlement.id", ondelete="CASCADE"), primary_key=True),
    Column("product_id", ForeignKey("product.id"), primary_key=True, index=True),
)
entitlement_site = Table(
    "entitlement_site",
    Base.metadata,
    Column("entitlement_id", ForeignKey("entitlement.id", ondelete="CASCADE"), primary_key=True),
    Column("site_id", ForeignKey("site.id"), primary_key=True),
)


class Entitlement(Recorded, Base):
    """One dated version of what a contract grants: for listed assets, products, or `everything` of the vendor's.

    The versions of one entitlement share contract and reference; each counts until the next begins (`replaced_on`),
    and keeps its own end, so that what was said of a day is said of it for ever. `co_term`: it ends with its contract,
    and is renewed with it. `reach`: whether it also covers parts and software of what it lists.
    """

    __tablename__ = "entitlement"
    contract_id: Mapped[str] = mapped_column(ForeignKey("contract.id"), index=True)
    reference: Mapped[str]
    level: Mapped[str]
    rank: Mapped[int] = mapped_column(default=0)
    route: Mapped[str] = mapped_column(default="support")
    needs: Mapped[list[str]]
    hours: Mapped[str] = mapped_column(default="")
    starts_on: Mapped[date]
    ends_on: Mapped[date]
    countries: Mapped[list[str]] = mapped_column(default=list)
    everything: Mapped[bool] = mapped_column(default=False, server_default="false")
    co_term: Mapped[bool] = mapped_column(default=True, server_default="true")
    reach: Mapped[list[str]] = mapped_column(default=lambda: ["parts"], server_default="{parts}")
    replaced_on: ClassVar[Mapped[date | None]]
    contract: Mapped[Contract] = relationship(back_populates="entitlements")
    listed: Mapped[list[EntitlementAsset]] = relationship(viewonly=True)
    products: Mapped[list[Product]] = relationship(secondary=entitlement_product, viewonly=True)
    sites: Mapped[list[Site]] = relationship(secondary=entitlement_site, viewonly=True)
    __table_args__ = (
        UniqueConstraint("contract_id", "reference", "starts_on"),
        CheckConstraint("starts_on <= ends_on", name="dates_in_order"),
        Index("ix_entitlement_everything", "contract_id", postgresql_where="everything"),
        CheckConstraint("reach <@ ARRAY['parts','software']", name="reach"),
        CheckConstraint("route IN ('support','units')", name="route"),
        CheckConstraint("cardinality(needs) > 0", name="some_need"),
    )


def _next_version() -> Any:
    later = Entitlement.__table__.alias("later")
    mine = (later.c.contract_id == Entitlement.contract_id) & (
        later.c.reference == Entitlement.reference
    )
    query = select(func.min(later.c.starts_on)).where(
        mine, later.c.starts_on > Entitlement.starts_on
    )
    return query.correlate(Entitlement.__table__).scalar_subquery()


Entitlement.replaced_on = column_property(_next_version())


class VendorLogin(Recorded, Base):
    """An identity of ours at a vendor. Its secret for the desk is encrypted and never read back."""

    __tablename__ = "vendor_login"
    vendor_id: Mapped[str] = mapped_column(ForeignKey("vendor.id"))
    person_id: Mapped[str | None] = mapped_column(ForeignKey("person.id"))
    name: Mapped[str]
    mailbox_read: Mapped[bool] = mapped_column(default=True)
    needs: Mapped[list[str]] = mapped_column(default=list, server_default="{}")
    for_others: Mapped[bool] = mapped_column(default=True, server_default="true")
    secret_sealed: Mapped[bytes | None]
    vendor: Mapped[Vendor] = relationship()
    person: Mapped[Person | None] = relationship()
    ties: Mapped[list[LoginTie]] = relationship(viewonly=True, back_populates="login")
    __table_args__ = (UniqueConstraint("vendor_id", "name"), UniqueConstraint("vendor_id", "id"))


class LoginTie(Base):
    """A contract tied to a login. Both keys hold the vendor, so that no tie can cross vendors."""

    __tablename__ = "login_tie"
    vendor_id: Mapped[str]
    login_id: Mapped[str] = mapped_column(primary_key=True)
    contract_id: Mapped[str] = mapped_column(primary_key=True)
    login: Mapped[VendorLogin] = relationship(viewonly=True, back_populates="ties")
    contract: Mapped[Contract] = relationship(viewonly=True)
    __table_args__ = (
        ForeignKeyConstraint(
            ["vendor_id", "login_id"], ["vendor_login.vendor_id", "vendor_login.id"]
        ),
        ForeignKeyConstraint(["vendor_id", "contract_id"], ["contract.vendor_id", "contract.id"]),
    )
