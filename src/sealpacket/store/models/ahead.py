"""The computed outlook, and each person's digest settings."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from sealpacket.store.models.base import Base, now


class Outlook(Base):
    """The time ahead as worked out for a day; `mark` is the last change of the register that it knows of."""

    __tablename__ = "outlook"
    day: Mapped[date] = mapped_column(primary_key=True)
    mark: Mapped[int]
    at: Mapped[datetime] = mapped_column(default=now)
    body: Mapped[dict[str, Any]]


class Digest(Base):
    """Digest settings of an account: how often, about which sites and vendors (none: all), and its calendar's
    address.

    Of the calendar's token only a hash is kept.
    """

    __tablename__ = "digest"
    account_id: Mapped[str] = mapped_column(ForeignKey("account.id"), primary_key=True)
    every: Mapped[str] = mapped_column(default="never")
    sites: Mapped[list[str]] = mapped_column(default=list)
    vendors: Mapped[list[str]] = mapped_column(default=list)
    calendar_hash: Mapped[str | None] = mapped_column(unique=True)
    sent_on: Mapped[date | None]
    __table_args__ = (
        CheckConstraint("every IN ('never','daily','weekly','monthly')", name="every"),
    )
