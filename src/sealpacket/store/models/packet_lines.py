"""Packets as lists show them: a row for each packet, with all that lists show, sort and find it by."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Index, text
from sqlalchemy.dialects.postgresql import TSVECTOR
from sqlalchemy.orm import Mapped, mapped_column

from sealpacket.core.attention import Attention
from sealpacket.core.life import Life, Turn
from sealpacket.store.models.base import Base, one_of

WAITING = "turn <> 'none'"
"""The condition that a packet waits for somebody, written as in the index of those that do."""
SORTED_BY = (
    "number",
    "title",
    "vendor_name",
    "site_name",
    "product",
    "need",
    "severity",
    "owner",
    "turn_since",
    "life",
    "due_at",
    "reference",
    "created_at",
    "updated_at",
)
"""The columns by which lists can be sorted; each has an index."""


def _sorted_by() -> tuple[Index, ...]:
    return tuple(Index(f"ix_packet_line_{one}", one, "packet_id") for one in SORTED_BY)


class PacketLine(Base):
    """A packet in lists: written by `services.packets.lines` in the transaction that changes what it shows.

    `vendor` and `site` are keys. `stops` is empty for what is no draft. `numbers` are all its numbers in lower case,
    ours and others'; `said` is what parts of words are looked for in, `words` what whole ones are. It is worked out
    again at `renew_at`, if that is not empty: it depends on the clock, or could not be worked out before.

    `causes` are the kinds of notices that hold, `heard` is how many messages came from the desk. Of two promises it is
    kept when each is or was due and when it was kept: the first answer, and the repair.
    """

    __tablename__ = "packet_line"
    packet_id: Mapped[str] = mapped_column(
        ForeignKey("packet.id", ondelete="CASCADE"), primary_key=True
    )
    number: Mapped[str]
    title: Mapped[str]
    need: Mapped[str]
    life: Mapped[Life]
    turn: Mapped[Turn]
    turn_since: Mapped[datetime]
    owner: Mapped[str]
    asset_id: Mapped[str | None] = mapped_column(ForeignKey("asset.id"))
    vendor: Mapped[str | None]
    vendor_name: Mapped[str | None]
    serial: Mapped[str | None]
    asset_name: Mapped[str | None]
    product: Mapped[str | None]
    product_id: Mapped[str | None]
    retired: Mapped[bool] = mapped_column(default=False)
    site: Mapped[str | None]
    site_name: Mapped[str | None]
    login_id: Mapped[str | None] = mapped_column(ForeignKey("vendor_login.id"))
    contract: Mapped[str | None]
    severity: Mapped[str | None]
    reference: Mapped[str | None]
    our_reference: Mapped[str | None]
    ticket: Mapped[str | None]
    status_text: Mapped[str]
    stops: Mapped[int | None]
    attention: Mapped[Attention]
    due_at: Mapped[datetime | None]
    due_what: Mapped[str] = mapped_column(default="", server_default="")
    due_zone: Mapped[str] = mapped_column(default="", server_default="")
    escalate_at: Mapped[datetime | None]
    exhibits: Mapped[int] = mapped_column(default=0)
    messages: Mapped[int] = mapped_column(default=0)
    questions: Mapped[int] = mapped_column(default=0)
    last_word: Mapped[str] = mapped_column(default="")
    last_word_from: Mapped[str] = mapped_column(default="")
    last_word_at: Mapped[datetime | None]
    numbers: Mapped[list[str]]
    said: Mapped[str] = mapped_column(deferred=True)
    words: Mapped[Any] = mapped_column(TSVECTOR, deferred=True)
    created_at: Mapped[datetime]
    updated_at: Mapped[datetime]
    renew_at: Mapped[datetime | None]
    causes: Mapped[list[str]] = mapped_column(default=list, server_default=text("'{}'"))
    category: Mapped[str] = mapped_column(default="", server_default="")
    heard: Mapped[int] = mapped_column(default=0, server_default="0")
    asked: Mapped[int] = mapped_column(default=0, server_default="0")
    contested: Mapped[int] = mapped_column(default=0, server_default="0")
    unwished: Mapped[int] = mapped_column(default=0, server_default="0")
    rating: Mapped[int | None]
    lodged_at: Mapped[datetime | None]
    settled_at: Mapped[datetime | None]
    answer_due_at: Mapped[datetime | None]
    answered_at: Mapped[datetime | None]
    repair_due_at: Mapped[datetime | None]
    repaired_at: Mapped[datetime | None]
    __table_args__ = (
        *_sorted_by(),
        one_of("life", Life),
        one_of("turn", Turn),
        one_of("attention", Attention),
        Index("ix_packet_line_numbers", "numbers", postgresql_using="gin"),
        Index("ix_packet_line_words", "words", postgresql_using="gin"),
        Index(
            "ix_packet_line_said",
            "said",
            postgresql_using="gin",
            postgresql_ops={"said": "gin_trgm_ops"},
        ),
        Index("ix_packet_line_waiting", "turn", "turn_since", postgresql_where=text(WAITING)),
        Index("ix_packet_line_asset_id", "asset_id"),
        Index("ix_packet_line_vendor", "vendor"),
        Index("ix_packet_line_site", "site"),
        Index("ix_packet_line_login_id", "login_id"),
        Index("ix_packet_line_contract", "contract"),
        Index("ix_packet_line_renew_at", "renew_at"),
        Index("ix_packet_line_lodged_at", "lodged_at"),
        Index("ix_packet_line_settled_at", "settled_at"),
    )
