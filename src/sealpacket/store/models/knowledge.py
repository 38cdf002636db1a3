"""The house's knowledge: known issues, articles, and solutions that made drafts needless.

The database itself keeps, for packets and articles, their words and error codes to be searched (the initial migration).
"""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, Computed, ForeignKey, Index, Text
from sqlalchemy.dialects.postgresql import ARRAY, TSVECTOR
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, now
from sealpacket.store.models.packets import Packet


class KnownIssueRecord(Base):
    """A known issue that logs are searched for; `packet_id` is the packet that taught it."""

    __tablename__ = "known_issue"
    key: Mapped[str] = mapped_column(primary_key=True)
    title: Mapped[str]
    pattern: Mapped[str]
    meaning: Mapped[str] = mapped_column(default="")
    advice: Mapped[str] = mapped_column(default="")
    fixed_in: Mapped[str] = mapped_column(default="")
    link: Mapped[str] = mapped_column(default="")
    vendor: Mapped[str] = mapped_column(default="")
    models: Mapped[list[Any]] = mapped_column(default=list)
    packet_id: Mapped[str | None] = mapped_column(
        ForeignKey("packet.id", ondelete="SET NULL"), index=True
    )
    by: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)
    packet: Mapped[Packet | None] = relationship()


class Article(Base):
    """Something that we have written down, in Markdown: a note, a how-to, what a vendor said."""

    __tablename__ = "article"
    key: Mapped[str] = mapped_column(primary_key=True)
    title: Mapped[str]
    text: Mapped[str]
    sort: Mapped[str] = mapped_column(default="note")
    vendor: Mapped[str] = mapped_column(default="")
    models: Mapped[list[Any]] = mapped_column(default=list)
    written_on: Mapped[date]
    by: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)
    words: Mapped[Any] = mapped_column(
        TSVECTOR,
        Computed("to_tsvector('english'::regconfig, title || ' ' || text)", persisted=True),
        deferred=True,
    )
    codes: Mapped[Any] = mapped_column(
        ARRAY(Text()),
        Computed("error_codes(title || ' ' || text, '{}'::jsonb)", persisted=True),
        deferred=True,
    )
    __table_args__ = (Index("ix_article_words", "words", postgresql_using="gin"),)


class Solution(Base):
    """A solution that made a draft needless: another packet, or an article."""

    __tablename__ = "solution"
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), primary_key=True)
    by_packet_id: Mapped[str | None] = mapped_column(ForeignKey("packet.id"), index=True)
    article: Mapped[str | None] = mapped_column(ForeignKey("article.key"), index=True)
    by: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (
        CheckConstraint("(by_packet_id IS NULL) <> (article IS NULL)", name="one_solution"),
    )
