"""The organisation's redaction plan, and what was decided about one packet's values."""

from __future__ import annotations

from datetime import datetime
from uuid import uuid4

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from sealpacket.store.models.base import Base, now


class RedactionPlan(Base):
    """One version of the organisation's plan, encrypted: it names values that must not leave."""

    __tablename__ = "redaction_plan"
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    body_sealed: Mapped[bytes]
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)


class RedactionDecision(Base):
    """That a value, or a kind of value, is kept or masked (or a kind's lines or files left out) in one packet, and why.

    The value is encrypted; `label` is its placeholder, by which the custody log speaks of it.
    """

    __tablename__ = "redaction_decision"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), index=True)
    action: Mapped[str]
    kind: Mapped[str]
    value_sealed: Mapped[bytes | None]
    label: Mapped[str] = mapped_column(default="")
    reason: Mapped[str]
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (
        CheckConstraint("action IN ('keep','mask','drop-line','drop-file')", name="action"),
    )


class DrawnBox(Base):
    """A box that a person drew on a page of an exhibit, in parts of its width and height, and why."""

    __tablename__ = "drawn_box"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    exhibit_id: Mapped[str] = mapped_column(ForeignKey("exhibit.id"), index=True)
    page: Mapped[int]
    left: Mapped[float]
    top: Mapped[float]
    right: Mapped[float]
    bottom: Mapped[float]
    reason: Mapped[str]
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (
        CheckConstraint('page >= 1 AND "left" < "right" AND top < bottom', name="has_room"),
        CheckConstraint(
            '"left" >= 0 AND "right" <= 1 AND top >= 0 AND bottom <= 1', name="on_its_page"
        ),
    )
