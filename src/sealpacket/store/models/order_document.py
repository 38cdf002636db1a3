"""Order documents: order confirmations that came in, what they propose, and what a person entered from them."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import CheckConstraint, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, now
from sealpacket.store.models.register import Contract


class OrderDocument(Base):
    """One order document. Its passcodes are in `passcodes_sealed` only; `reading` and `pages` do not have them."""

    __tablename__ = "order_document"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    name: Mapped[str]
    kind: Mapped[str] = mapped_column(default="")
    blob: Mapped[str]
    size: Mapped[int]
    sha256: Mapped[str] = mapped_column(unique=True)
    state: Mapped[str] = mapped_column(default="reading")
    status_text: Mapped[str] = mapped_column(default="")
    pages: Mapped[list[Any]] = mapped_column(default=list)
    reading: Mapped[dict[str, Any] | None]
    passcodes_sealed: Mapped[bytes | None]
    contract_id: Mapped[str | None] = mapped_column(ForeignKey("contract.id"), index=True)
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    entered_by: Mapped[str | None]
    entered_at: Mapped[datetime | None]
    entered: Mapped[list[Any] | None]
    contract: Mapped[Contract | None] = relationship()
    __table_args__ = (
        CheckConstraint("state IN ('reading','read','entered','aside','failed')", name="state"),
        Index("ix_order_document_at", "at", "id"),
    )
