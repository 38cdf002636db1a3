"""Batches: many packets that were noted from one table or selection."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Sequence
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, now
from sealpacket.store.models.packets import Packet

batch_number = Sequence("batch_number", metadata=Base.metadata)


class Batch(Base):
    """Packets that were noted together, called by its id such as B-0007; each row becomes one, or says why not."""

    __tablename__ = "batch"
    id: Mapped[str] = mapped_column(primary_key=True)
    title: Mapped[str]
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    rows: Mapped[list[BatchRow]] = relationship(
        order_by="BatchRow.place", cascade="all, delete-orphan", back_populates="batch"
    )


class BatchRow(Base):
    """A row of a batch: what is to be noted, and the packet that it became, or the problem."""

    __tablename__ = "batch_row"
    batch_id: Mapped[str] = mapped_column(
        ForeignKey("batch.id", ondelete="CASCADE"), primary_key=True
    )
    place: Mapped[int] = mapped_column(primary_key=True)
    body: Mapped[dict[str, Any]]
    state: Mapped[str] = mapped_column(default="waiting", server_default="waiting")
    problem: Mapped[str] = mapped_column(default="", server_default="")
    packet_id: Mapped[str | None] = mapped_column(ForeignKey("packet.id"), index=True)
    batch: Mapped[Batch] = relationship(back_populates="rows")
    packet: Mapped[Packet | None] = relationship()
    __table_args__ = (CheckConstraint("state IN ('waiting','noted','failed')", name="state"),)
