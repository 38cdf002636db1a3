"""Agreements with vendors besides cover: limits, levels, prepaid units, licences; and versions of products."""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    Computed,
    ForeignKey,
    ForeignKeyConstraint,
    Text,
    UniqueConstraint,
)
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, Recorded, now
from sealpacket.store.models.register import Asset, Contract, Product, Vendor


def _cost() -> tuple[CheckConstraint, ...]:
    return (
        CheckConstraint("(cost_minor IS NULL) = (currency IS NULL)", name="cost_with_currency"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency_iso"),
    )


def _of_contract() -> ForeignKeyConstraint:
    return ForeignKeyConstraint(["vendor_id", "contract_id"], ["contract.vendor_id", "contract.id"])


class Limit(Recorded, Base):
    """How much of something a vendor grants us in a region, and how much of it we use.

    `provider` is the account or subscription in which it counts; empty if the vendor counts everything together.
    Former values are in the versions of the record.
    """

    __tablename__ = "vendor_limit"
    vendor_id: Mapped[str] = mapped_column(ForeignKey("vendor.id"))
    provider: Mapped[str] = mapped_column(default="", server_default="")
    region: Mapped[str]
    resource: Mapped[str]
    unit: Mapped[str] = mapped_column(default="", server_default="")
    granted: Mapped[int] = mapped_column(BigInteger)
    used: Mapped[int] = mapped_column(BigInteger, default=0, server_default="0")
    as_of_on: Mapped[date | None]
    notes: Mapped[str] = mapped_column(default="", server_default="")
    called: Mapped[str] = mapped_column(
        Text(),
        Computed(
            "CASE WHEN provider = '' THEN '' ELSE provider || '/' END || region || '/' || resource",
            persisted=True,
        ),
    )
    vendor: Mapped[Vendor] = relationship()
    __table_args__ = (
        UniqueConstraint("vendor_id", "provider", "region", "resource"),
        CheckConstraint("granted >= 0 AND used >= 0", name="not_negative"),
    )


class Level(Recorded, Base):
    """A level of service that a contract offers: what it takes, when, how soon, and its cost for a month.

    `rank` tells which of two is higher, as with entitlements. Promises in minutes of the hours of service.
    """

    __tablename__ = "level"
    vendor_id: Mapped[str]
    contract_id: Mapped[str]
    name: Mapped[str]
    rank: Mapped[int] = mapped_column(default=0, server_default="0")
    needs: Mapped[list[str]] = mapped_column(server_default="{}")
    hours: Mapped[str] = mapped_column(default="", server_default="")
    answer_minutes: Mapped[int | None]
    repair_minutes: Mapped[int | None]
    cost_minor: Mapped[int | None] = mapped_column(BigInteger)
    currency: Mapped[str | None]
    notes: Mapped[str] = mapped_column(default="", server_default="")
    vendor: Mapped[Vendor] = relationship(
        primaryjoin="Level.vendor_id == Vendor.id", foreign_keys="Level.vendor_id"
    )
    contract: Mapped[Contract] = relationship(overlaps="vendor")
    __table_args__ = (
        UniqueConstraint("contract_id", "name"),
        _of_contract(),
        CheckConstraint("answer_minutes > 0 AND repair_minutes > 0", name="promises"),
        *_cost(),
    )


class Lot(Recorded, Base):
    """Prepaid units bought together: they lapse together after their last day (`lapses_on`)."""

    __tablename__ = "lot"
    vendor_id: Mapped[str]
    contract_id: Mapped[str]
    reference: Mapped[str]
    units: Mapped[int]
    bought_on: Mapped[date]
    lapses_on: Mapped[date]
    cost_minor: Mapped[int | None] = mapped_column(BigInteger)
    currency: Mapped[str | None]
    notes: Mapped[str] = mapped_column(default="", server_default="")
    vendor: Mapped[Vendor] = relationship(
        primaryjoin="Lot.vendor_id == Vendor.id", foreign_keys="Lot.vendor_id"
    )
    contract: Mapped[Contract] = relationship(overlaps="vendor")
    entries: Mapped[list[UnitEntry]] = relationship(viewonly=True, order_by="UnitEntry.at")
    __table_args__ = (
        UniqueConstraint("vendor_id", "reference"),
        _of_contract(),
        CheckConstraint("units > 0", name="units"),
        CheckConstraint("bought_on <= lapses_on", name="dates_in_order"),
        *_cost(),
    )


class UnitEntry(Base):
    """Units of a lot that a packet holds, that were used, or that were freed again.

    `packet_id` is None for what was entered by hand. The database lets no lot give more than it has.
    """

    __tablename__ = "unit_entry"
    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    lot_id: Mapped[str] = mapped_column(ForeignKey("lot.id"), index=True)
    packet_id: Mapped[str | None] = mapped_column(ForeignKey("packet.id"), index=True)
    units: Mapped[int]
    state: Mapped[str]
    text: Mapped[str] = mapped_column(default="", server_default="")
    at: Mapped[datetime] = mapped_column(default=now)
    by: Mapped[str]
    lot: Mapped[Lot] = relationship(viewonly=True)
    __table_args__ = (
        CheckConstraint("units > 0", name="units"),
        CheckConstraint("state IN ('held','used','freed')", name="state"),
    )


class LimitRequest(Base):
    """A limit that a packet asks for, in the case at a place; what its desk granted, and the reason it gave."""

    __tablename__ = "limit_request"
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), primary_key=True)
    place: Mapped[int] = mapped_column(primary_key=True)
    limit_id: Mapped[str | None] = mapped_column(ForeignKey("vendor_limit.id"), index=True)
    region: Mapped[str]
    resource: Mapped[str]
    was: Mapped[int | None] = mapped_column(BigInteger)
    wanted: Mapped[int] = mapped_column(BigInteger)
    granted: Mapped[int | None] = mapped_column(BigInteger)
    state: Mapped[str] = mapped_column(default="asked", server_default="asked")
    reason: Mapped[str] = mapped_column(default="", server_default="")
    asked_at: Mapped[datetime] = mapped_column(default=now)
    decided_at: Mapped[datetime | None]
    __table_args__ = (
        CheckConstraint("state IN ('asked','granted','partly','declined')", name="state"),
    )


class RenewalDecision(Base):
    """The decision about the end of a term of a contract, and the quote for the next one."""

    __tablename__ = "renewal_decision"
    contract_id: Mapped[str] = mapped_column(
        ForeignKey("contract.id", ondelete="CASCADE"), primary_key=True
    )
    ends_on: Mapped[date] = mapped_column(primary_key=True)
    decision: Mapped[str]
    quote_minor: Mapped[int | None] = mapped_column(BigInteger)
    currency: Mapped[str | None]
    reason: Mapped[str] = mapped_column(default="", server_default="")
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (
        CheckConstraint("decision IN ('renew','cancel','let_end')", name="decision"),
        CheckConstraint("(quote_minor IS NULL) = (currency IS NULL)", name="quote_with_currency"),
    )


class Price(Recorded, Base):
    """The price of one piece of a service in units, and where and at what times it can be had."""

    __tablename__ = "price"
    vendor_id: Mapped[str] = mapped_column(ForeignKey("vendor.id"))
    item: Mapped[str]
    name: Mapped[str]
    units: Mapped[int]
    countries: Mapped[list[str]] = mapped_column(default=list, server_default="{}")
    during: Mapped[str] = mapped_column(default="any", server_default="any")
    hours: Mapped[str] = mapped_column(default="", server_default="")
    notice_days: Mapped[int] = mapped_column(default=0, server_default="0")
    most: Mapped[int | None]
    notes: Mapped[str] = mapped_column(default="", server_default="")
    vendor: Mapped[Vendor] = relationship()
    __table_args__ = (
        UniqueConstraint("vendor_id", "item"),
        CheckConstraint("units > 0 AND most > 0", name="units"),
        CheckConstraint("during IN ('any','in_hours','out_of_hours')", name="during"),
        CheckConstraint("notice_days BETWEEN 0 AND 365", name="notice_days"),
    )


class Licence(Recorded, Base):
    """A licence, feature key or certificate of an asset. The key itself is encrypted."""

    __tablename__ = "licence"
    vendor_id: Mapped[str]
    asset_id: Mapped[str] = mapped_column(ForeignKey("asset.id"), index=True)
    name: Mapped[str]
    sort: Mapped[str] = mapped_column(default="licence", server_default="licence")
    activation_code: Mapped[str] = mapped_column(default="", server_default="")
    key_sealed: Mapped[bytes | None]
    starts_on: Mapped[date | None]
    ends_on: Mapped[date | None]
    notes: Mapped[str] = mapped_column(default="", server_default="")
    vendor: Mapped[Vendor] = relationship(
        primaryjoin="Licence.vendor_id == Vendor.id", foreign_keys="Licence.vendor_id"
    )
    asset: Mapped[Asset] = relationship()
    __table_args__ = (
        UniqueConstraint("asset_id", "name"),
        CheckConstraint("sort IN ('licence','feature_key','certificate')", name="sort"),
        CheckConstraint("starts_on <= ends_on", name="dates_in_order"),
    )


class Release(Recorded, Base):
    """A version of a product: its state, what it mends (identifiers of known issues), and its file."""

    __tablename__ = "release"
    vendor_id: Mapped[str]
    product_id: Mapped[str]
    number: Mapped[str]
    released_on: Mapped[date | None]
    status: Mapped[str] = mapped_column(default="previous", server_default="previous")
    mends: Mapped[list[str]] = mapped_column(default=list, server_default="{}")
    file_name: Mapped[str] = mapped_column(default="", server_default="")
    sha256: Mapped[str] = mapped_column(default="", server_default="")
    notes: Mapped[str] = mapped_column(default="", server_default="")
    vendor: Mapped[Vendor] = relationship(
        primaryjoin="Release.vendor_id == Vendor.id", foreign_keys="Release.vendor_id"
    )
    product: Mapped[Product] = relationship(overlaps="vendor")
    __table_args__ = (
        UniqueConstraint("product_id", "number"),
        ForeignKeyConstraint(["vendor_id", "product_id"], ["product.vendor_id", "product.id"]),
        CheckConstraint("status IN ('coming','current','previous','withdrawn')", name="status"),
    )
