"""Internal records of the service: answers for idempotency, lasting keys, and changes of the register."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import BigInteger, ForeignKey, Identity, Index
from sqlalchemy.orm import Mapped, mapped_column

from sealpacket.store.models.base import Base, now


class SettledRequest(Base):
    """The answer to a request with an Idempotency-Key, encrypted, so that its repetition gets the same one."""

    __tablename__ = "settled_request"
    __table_args__ = (Index("ix_settled_request_at", "at"),)
    account_id: Mapped[str] = mapped_column(ForeignKey("account.id"), primary_key=True)
    key: Mapped[str] = mapped_column(primary_key=True)
    fingerprint: Mapped[str]
    status: Mapped[int]
    body_sealed: Mapped[bytes]
    etag: Mapped[str | None]
    at: Mapped[datetime] = mapped_column(default=now)


class RegisterChange(Base):
    """A transaction that has written to the register; a trigger notes each once.

    The ids are not those of transactions, which begin again when a backup becomes another cluster.
    """

    __tablename__ = "register_change"
    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)


class LastingKey(Base):
    """A key that stays when the master key is changed, encrypted with that."""

    __tablename__ = "lasting_key"
    name: Mapped[str] = mapped_column(primary_key=True)
    key_sealed: Mapped[bytes]
