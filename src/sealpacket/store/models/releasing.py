"""Two people: when whoever releases a packet must not have prepared it."""

from __future__ import annotations

from datetime import datetime
from uuid import uuid4

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, now
from sealpacket.store.models.register import Vendor


class ReleaseRule(Base):
    """Packets that need a second person: those to which all that is set applies; with nothing set, every packet.

    `severity` is as the desk calls it; `kind` is a kind of sensitive value that was found in an exhibit, or is kept.
    """

    __tablename__ = "release_rule"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    vendor_id: Mapped[str | None] = mapped_column(ForeignKey("vendor.id"))
    severity: Mapped[str | None]
    kind: Mapped[str | None]
    reason: Mapped[str]
    created_at: Mapped[datetime] = mapped_column(default=now)
    vendor: Mapped[Vendor | None] = relationship()


class PacketRelease(Base):
    """A draft whose release somebody has asked for; gone once it is sealed."""

    __tablename__ = "packet_release"
    packet_id: Mapped[str] = mapped_column(
        ForeignKey("packet.id", ondelete="CASCADE"), primary_key=True
    )
    asked_by: Mapped[str]
    asked_at: Mapped[datetime] = mapped_column(default=now)
