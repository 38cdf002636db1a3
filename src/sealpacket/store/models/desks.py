"""Desks and the versions of their sheets."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import JSON, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, now
from sealpacket.store.models.register import Vendor


class Desk(Base):
    """One place where a vendor takes packets. Its address is configuration, not data."""

    __tablename__ = "desk"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    vendor_id: Mapped[str] = mapped_column(ForeignKey("vendor.id"))
    key: Mapped[str] = mapped_column(unique=True)
    name: Mapped[str]
    vendor: Mapped[Vendor] = relationship()
    sheets: Mapped[list[DeskSheet]] = relationship(
        order_by="DeskSheet.number", back_populates="desk"
    )


class DeskSheet(Base):
    """One version of a desk's sheet. Versions are never changed; a packet keeps the one that it was made with.

    `text` is the sheet as it was written, with its comments; `body` is JSON and not JSONB, because the order of what is
    written matters to desks. Both are read when they are needed: what `body` says is kept in each process.
    """

    __tablename__ = "desk_sheet"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    desk_id: Mapped[str] = mapped_column(ForeignKey("desk.id"))
    number: Mapped[int]
    body: Mapped[dict[str, Any]] = mapped_column(JSON, deferred=True)
    text: Mapped[str] = mapped_column(default="", server_default="", deferred=True)
    created_at: Mapped[datetime] = mapped_column(default=now)
    desk: Mapped[Desk] = relationship(back_populates="sheets")
    __table_args__ = (UniqueConstraint("desk_id", "number"),)


class Trial(Base):
    """A trial of a desk sheet: the request, and the result once the worker has run it."""

    __tablename__ = "trial"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    account_id: Mapped[str] = mapped_column(ForeignKey("account.id"))
    wish: Mapped[dict[str, Any]]
    result: Mapped[dict[str, Any] | None]
    at: Mapped[datetime] = mapped_column(default=now)


class PickedUp(Base):
    """A paper of the desk's that was picked up from its folder, so that it is read once; and what it was about."""

    __tablename__ = "picked_up"
    desk: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(primary_key=True)
    sha256: Mapped[str] = mapped_column(primary_key=True)
    packet_id: Mapped[str | None] = mapped_column(ForeignKey("packet.id"))
    at: Mapped[datetime] = mapped_column(default=now)
