"""Views, which are lists as someone narrowed, sorted and laid them out, kept under a name; and pins."""

from __future__ import annotations

from datetime import datetime
from uuid import uuid4

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint, func
from sqlalchemy.orm import Mapped, mapped_column

from sealpacket.store.models.base import Base, now


class View(Base):
    """A kept view: `query` is the query string of its address; shared with everyone or its keeper's own."""

    __tablename__ = "view"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    account_id: Mapped[str] = mapped_column(ForeignKey("account.id", ondelete="CASCADE"))
    plural: Mapped[str]
    name: Mapped[str]
    query: Mapped[str]
    shared: Mapped[bool] = mapped_column(default=False)
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (UniqueConstraint("account_id", "plural", "name"),)


class Pin(Base):
    """A record that someone has pinned: the id of an asset, the key of a person or desk."""

    __tablename__ = "pin"
    account_id: Mapped[str] = mapped_column(
        ForeignKey("account.id", ondelete="CASCADE"), primary_key=True
    )
    kind: Mapped[str] = mapped_column(primary_key=True)
    handle: Mapped[str] = mapped_column(primary_key=True)
    at: Mapped[datetime] = mapped_column(default=now, server_default=func.now())
    __table_args__ = (CheckConstraint("kind IN ('asset','person','desk')", name="kind"),)
