"""Notices, and how each account wants to be notified."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    ForeignKey,
    Identity,
    Index,
    UniqueConstraint,
    func,
    text,
)
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.core.notices import DigestBy, NoticeKind
from sealpacket.core.vendor_health import ReportSort
from sealpacket.store.models.base import Base, now, one_of
from sealpacket.store.models.register import Person, Vendor


class Notice(Base):
    """A notice for an account, or by mail for a person without one.

    `subject` is what it is about: a packet's number, an item of the tray, an entry of a vendor's news. `ways` are those
    that the account had chosen; `sent_by` those that are done with it.
    """

    __tablename__ = "notice"
    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    account_id: Mapped[str | None] = mapped_column(ForeignKey("account.id", ondelete="CASCADE"))
    person_id: Mapped[str | None] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"))
    kind: Mapped[NoticeKind]
    subject: Mapped[str]
    packet_id: Mapped[str | None] = mapped_column(ForeignKey("packet.id", ondelete="CASCADE"))
    at: Mapped[datetime] = mapped_column(default=now, server_default=func.now())
    read_at: Mapped[datetime | None]
    ways: Mapped[list[str]] = mapped_column(default=list, server_default=text("'{}'"))
    sent_by: Mapped[list[str]] = mapped_column(default=list, server_default=text("'{}'"))
    __table_args__ = (
        one_of("kind", NoticeKind),
        CheckConstraint("num_nonnulls(account_id, person_id) = 1", name="one_recipient"),
        Index(
            "uq_notice_once",
            func.coalesce(text("account_id"), text("person_id")),
            "kind",
            "subject",
            unique=True,
        ),
        Index("ix_notice_account_id", "account_id", "id"),
        Index("ix_notice_packet_id", "packet_id"),
        Index("ix_notice_subject", "subject"),
        Index("ix_notice_unread", "account_id", postgresql_where=text("read_at IS NULL")),
        Index("ix_notice_unsent", "id", postgresql_where=text("NOT ways <@ sent_by")),
    )


class NoticeSettings(Base):
    """How an account wants to be notified: its `choices` by kind, each a scope and ways.

    Of its feed's address only a hash is kept. `tried` and `next_try_at` are of its webhook.
    """

    __tablename__ = "notice_settings"
    account_id: Mapped[str] = mapped_column(
        ForeignKey("account.id", ondelete="CASCADE"), primary_key=True
    )
    choices: Mapped[dict[str, Any]] = mapped_column(default=dict)
    sites: Mapped[list[str]] = mapped_column(default=list)
    vendors: Mapped[list[str]] = mapped_column(default=list)
    digest_by: Mapped[DigestBy] = mapped_column(default=DigestBy.DAY)
    digest_hour: Mapped[int] = mapped_column(default=7)
    digest_on: Mapped[date | None]
    feed_hash: Mapped[str | None] = mapped_column(unique=True)
    webhook: Mapped[str] = mapped_column(default="", server_default="")
    secret_sealed: Mapped[bytes | None]
    tried: Mapped[int] = mapped_column(default=0, server_default="0")
    next_try_at: Mapped[datetime | None]
    trouble: Mapped[str] = mapped_column(default="", server_default="")
    mail_trouble: Mapped[str] = mapped_column(default="", server_default="")
    __table_args__ = (
        one_of("digest_by", DigestBy),
        CheckConstraint("digest_hour BETWEEN 0 AND 23", name="digest_hour"),
    )


class PacketInformed(Base):
    """A person of our own house who is kept informed of a packet."""

    __tablename__ = "packet_informed"
    packet_id: Mapped[str] = mapped_column(
        ForeignKey("packet.id", ondelete="CASCADE"), primary_key=True
    )
    person_id: Mapped[str] = mapped_column(
        ForeignKey("person.id", ondelete="CASCADE"), primary_key=True
    )
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    person: Mapped[Person] = relationship()


class ProductNews(Base):
    """An entry of a vendor's news that names products of ours, by their ids."""

    __tablename__ = "product_news"
    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    vendor: Mapped[str]
    vendor_name: Mapped[str]
    ident: Mapped[str]
    title: Mapped[str]
    summary: Mapped[str] = mapped_column(default="")
    link: Mapped[str] = mapped_column(default="")
    products: Mapped[list[str]] = mapped_column(default=list)
    published_at: Mapped[datetime | None]
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (Index("uq_product_news_ident", "vendor", "ident", unique=True),)


class VendorFeed(Base):
    """How a feed of a vendor (key) was read last: of its news, or of its health. `mark` is its entity tag."""

    __tablename__ = "vendor_feed"
    vendor: Mapped[str] = mapped_column(primary_key=True)
    about: Mapped[str] = mapped_column(primary_key=True)
    mark: Mapped[str] = mapped_column(default="", server_default="")
    read_at: Mapped[datetime | None]
    trouble: Mapped[str] = mapped_column(default="", server_default="")
    __table_args__ = (CheckConstraint("about IN ('news','health')", name="about"),)


class VendorReport(Base):
    """A vendor's report of trouble or maintenance, and what of ours it names, by ids and regions.

    `over` as the vendor says it; without it `ends_at` and the clock decide.
    """

    __tablename__ = "vendor_report"
    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    vendor_id: Mapped[str] = mapped_column(ForeignKey("vendor.id", ondelete="CASCADE"))
    ident: Mapped[str]
    sort: Mapped[ReportSort]
    title: Mapped[str]
    summary: Mapped[str] = mapped_column(default="", server_default="")
    link: Mapped[str] = mapped_column(default="", server_default="")
    products: Mapped[list[str]] = mapped_column(default=list, server_default=text("'{}'"))
    regions: Mapped[list[str]] = mapped_column(default=list, server_default=text("'{}'"))
    sites: Mapped[list[str]] = mapped_column(default=list, server_default=text("'{}'"))
    begins_at: Mapped[datetime | None]
    ends_at: Mapped[datetime | None]
    updated_at: Mapped[datetime | None]
    over: Mapped[bool] = mapped_column(default=False, server_default=text("false"))
    at: Mapped[datetime] = mapped_column(default=now)
    vendor: Mapped[Vendor] = relationship()
    __table_args__ = (
        UniqueConstraint("vendor_id", "ident"),
        one_of("sort", ReportSort),
        Index("ix_vendor_report_over", "vendor_id", postgresql_where=text("NOT over")),
    )

    @property
    def names_ours(self) -> bool:
        """Whether it names a product, a region or a site of ours."""
        return bool(self.products or self.regions or self.sites)
