"""Receivers of events: addresses to which the worker posts what happens, and the events that they refused."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import BigInteger, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from sealpacket.store.models.base import Base, now


class Webhook(Base):
    """A receiver of events. `after` is the number of the last event that is dealt with.

    `tried` and `refusals` count for the event after it: all failures in a row, and those that were refusals.
    """

    __tablename__ = "webhook"
    name: Mapped[str] = mapped_column(primary_key=True)
    address: Mapped[str]
    secret_sealed: Mapped[bytes]
    packets_only: Mapped[bool] = mapped_column(default=True)
    by: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)
    after: Mapped[int] = mapped_column(BigInteger)
    tried: Mapped[int] = mapped_column(default=0)
    refusals: Mapped[int] = mapped_column(default=0)
    next_try_at: Mapped[datetime | None]
    trouble: Mapped[str] = mapped_column(default="")


class RefusedEvent(Base):
    """An event that a receiver refused; it is sent again when somebody asks for it."""

    __tablename__ = "refused_event"
    webhook: Mapped[str] = mapped_column(
        ForeignKey("webhook.name", ondelete="CASCADE"), primary_key=True
    )
    seq: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    at: Mapped[datetime] = mapped_column(default=now)
    reason: Mapped[str]
    again: Mapped[bool] = mapped_column(default=False)
