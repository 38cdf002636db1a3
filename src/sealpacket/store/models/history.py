"""What each record of the register was, version after version."""

from __future__ import annotations

from datetime import datetime

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
    body: Mapped[dict]
    __table_args__ = (Index("ix_record_version_record", "record_id", "id"),)
