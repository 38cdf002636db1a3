"""The versions of each record of the register."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import Identity, Index
from sqlalchemy.orm import Mapped, mapped_column

from sealpacket.store.models.base import Base, now


class RecordVersion(Base):
    """A record as it was after an act, in the words of its form. Never changed; secrets are not in it."""

    __tablename__ = "record_version"
    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    kind: Mapped[str]
    record_id: Mapped[str]
    version: Mapped[int]
    at: Mapped[datetime] = mapped_column(default=now)
    by: Mapped[str]
    act: Mapped[str]
    body: Mapped[dict[str, Any]]
    __table_args__ = (Index("ix_record_version_record", "record_id", "id"),)


class MergedRecord(Base):
    """A record that was found to be another one's duplicate: what it was called, and into which it went."""

    __tablename__ = "merged_record"
    old_id: Mapped[str] = mapped_column(primary_key=True)
    kind: Mapped[str]
    called: Mapped[str]
    into_id: Mapped[str]
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (
        Index("ix_merged_record_called", "kind", "called"),
        Index("ix_merged_record_into", "into_id"),
    )
