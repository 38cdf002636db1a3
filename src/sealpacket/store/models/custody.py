"""The custody log."""

from __future__ import annotations

from typing import Any

from sqlalchemy import Index
from sqlalchemy.orm import Mapped, mapped_column

from sealpacket.store.models.base import Base


class CustodyEntry(Base):
    """One link of the custody log. The database refuses to change or remove it."""

    __tablename__ = "custody_entry"
    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    entry: Mapped[dict[str, Any]]
    previous: Mapped[str]
    hash: Mapped[str] = mapped_column(unique=True)
    __table_args__ = (Index("ix_custody_entry_subject", "entry", postgresql_using="gin"),)
