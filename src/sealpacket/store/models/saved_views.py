"""Views: a list of the register as someone narrowed, sorted and laid it out, kept under a name."""

from __future__ import annotations

from datetime import datetime
from uuid import uuid4

from sqlalchemy import ForeignKey, UniqueConstraint
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
