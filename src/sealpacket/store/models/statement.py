"""Vendor statements: what a vendor thinks is covered, and how that differs from the register."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import CheckConstraint, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, now
from sealpacket.store.models.register import Asset, Vendor


class Statement(Base):
    """One statement of a vendor's, as of a day. `mapping`: field to heading; `counts` by sort of difference."""

    __tablename__ = "statement"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    vendor_id: Mapped[str] = mapped_column(ForeignKey("vendor.id"))
    as_of: Mapped[date]
    name: Mapped[str]
    blob: Mapped[str]
    size: Mapped[int]
    state: Mapped[str] = mapped_column(default="reading")
    status_text: Mapped[str] = mapped_column(default="")
    headings: Mapped[list[str]] = mapped_column(default=list)
    mapping: Mapped[dict[str, Any]] = mapped_column(default=dict)
    counts: Mapped[dict[str, Any]] = mapped_column(default=dict)
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    vendor: Mapped[Vendor] = relationship()
    __table_args__ = (
        CheckConstraint("state IN ('reading','ready','failed','dropped')", name="state"),
        Index("ix_statement_at", "at", "id"),
    )


class StatementDifference(Base):
    """One difference: `ours` and `theirs` are lines of cover, `fields` differ, `slips` point to a mistyped serial."""

    __tablename__ = "statement_difference"
    statement_id: Mapped[str] = mapped_column(
        ForeignKey("statement.id", ondelete="CASCADE"), primary_key=True
    )
    number: Mapped[int] = mapped_column(primary_key=True)
    sort: Mapped[str]
    serial: Mapped[str]
    asset_id: Mapped[str | None] = mapped_column(
        ForeignKey("asset.id", ondelete="SET NULL"), index=True
    )
    ours: Mapped[dict[str, Any] | None]
    theirs: Mapped[dict[str, Any] | None]
    fields: Mapped[list[str]] = mapped_column(default=list)
    slips: Mapped[list[Any] | None]
    decision: Mapped[str | None]
    reason: Mapped[str] = mapped_column(default="")
    decided_by: Mapped[str | None]
    decided_at: Mapped[datetime | None]
    packet: Mapped[str | None]
    asset: Mapped[Asset | None] = relationship()
    __table_args__ = (
        CheckConstraint("sort IN ('only_ours','only_theirs','differs','mistyped')", name="sort"),
        CheckConstraint("decision IN ('ours','theirs','packet')", name="decision"),
        Index("ix_statement_difference_serial", "serial"),
    )
