"""Parts of one packet that change separately: delivery, following, ticket and legend, a row each."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Identity, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from sealpacket.core.life import ConsequenceState, DeliveryState, FollowingState, Turn
from sealpacket.store.models.base import Base, now, one_of


class PacketDelivery(Base):
    """How a packet gets to its desk. `tried` counts the tries of whatever waits, the case or a message of ours.

    While the desk is away they are counted from `since`, the next one is due at `next_at`, and `reason` says what
    went wrong. `tried` also names the current try: an older one in the queue is ignored.
    """

    __tablename__ = "packet_delivery"
    packet_id: Mapped[str] = mapped_column(
        ForeignKey("packet.id", ondelete="CASCADE"), primary_key=True
    )
    state: Mapped[DeliveryState | None]
    status_text: Mapped[str] = mapped_column(default="", server_default="")
    tried: Mapped[int] = mapped_column(default=0, server_default="0")
    since: Mapped[datetime | None]
    next_at: Mapped[datetime | None]
    reason: Mapped[str] = mapped_column(default="", server_default="")
    __table_args__ = (one_of("state", DeliveryState),)

    def start_trying(self) -> None:
        """Count tries from the beginning."""
        self.tried, self.since, self.next_at, self.reason = 0, None, None, ""

    def stop_trying(self) -> None:
        """Wait for nothing; a try that is still in the queue is not the current one any more."""
        self.tried += 1
        self.since, self.next_at, self.reason = None, None, ""


class PacketFollowing(Base):
    """Looks at the desk: `followed_at` is when it was read last, `status_text` says why the last look failed."""

    __tablename__ = "packet_following"
    packet_id: Mapped[str] = mapped_column(
        ForeignKey("packet.id", ondelete="CASCADE"), primary_key=True
    )
    state: Mapped[FollowingState | None]
    status_text: Mapped[str] = mapped_column(default="", server_default="")
    followed_at: Mapped[datetime | None] = mapped_column(index=True)
    __table_args__ = (one_of("state", FollowingState),)


class LaterBag(Base):
    """A bag with what came after a packet was sealed: `follows` is the digest of the tag manifest before it.

    `held` are the ids of the entries of the thread and of the files that it has.
    """

    __tablename__ = "later_bag"
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), primary_key=True)
    place: Mapped[int] = mapped_column(primary_key=True)
    form: Mapped[str]
    blob: Mapped[str]
    sha256: Mapped[str]
    tag_manifest: Mapped[str]
    follows: Mapped[str]
    files: Mapped[int]
    octets: Mapped[int] = mapped_column(BigInteger)
    at: Mapped[datetime]
    by: Mapped[str]
    held: Mapped[list[str]]
    __table_args__ = (CheckConstraint("form IN ('sent','clear')", name="form"),)


class PacketConsequence(Base):
    """A change of the register that follows from a desk's answer: offered, taken, dismissed or undone.

    `place` is the rule in the sheet. Once it was taken, `record_id` is the record with the value, `was` what it had.
    """

    __tablename__ = "packet_consequence"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), index=True)
    case_label: Mapped[str]
    place: Mapped[int]
    what: Mapped[str]
    record: Mapped[str]
    field: Mapped[str]
    value: Mapped[str]
    from_on: Mapped[date | None]
    state: Mapped[ConsequenceState] = mapped_column(default=ConsequenceState.OFFERED)
    offered_at: Mapped[datetime] = mapped_column(default=now)
    record_id: Mapped[str | None]
    was: Mapped[str | None]
    decided_at: Mapped[datetime | None]
    decided_by: Mapped[str] = mapped_column(default="", server_default="")
    __table_args__ = (
        UniqueConstraint("packet_id", "case_label", "place", "value"),
        one_of("state", ConsequenceState),
    )


class PacketTurn(Base):
    """A change of whose turn it is on a packet: clocks of the desk stop while it is ours."""

    __tablename__ = "packet_turn"
    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id", ondelete="CASCADE"), index=True)
    turn: Mapped[Turn]
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (one_of("turn", Turn),)


class PacketRefusal(Base):
    """A reason for which a desk has refused a packet, kept when the packet is lodged again."""

    __tablename__ = "packet_refusal"
    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id", ondelete="CASCADE"), index=True)
    code: Mapped[str]
    text: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now, index=True)


class PacketTicket(Base):
    """The ticket at our own service desk: its number, and the `mail` that brought it.

    `reported` is what the service desk was told last, `tried_at` when that was tried, `trouble` why it failed.
    """

    __tablename__ = "packet_ticket"
    packet_id: Mapped[str] = mapped_column(
        ForeignKey("packet.id", ondelete="CASCADE"), primary_key=True
    )
    number: Mapped[str] = mapped_column(default="", server_default="", index=True)
    mail: Mapped[dict[str, Any] | None]
    reported: Mapped[str] = mapped_column(default="", server_default="")
    tried_at: Mapped[datetime | None]
    trouble: Mapped[str] = mapped_column(default="", server_default="")


class PacketLegend(Base):
    """The keys of a packet's placeholders and of its legend, encrypted; gone once the legend is destroyed."""

    __tablename__ = "packet_legend"
    packet_id: Mapped[str] = mapped_column(
        ForeignKey("packet.id", ondelete="CASCADE"), primary_key=True
    )
    placeholder_key_sealed: Mapped[bytes]
    key_sealed: Mapped[bytes | None]
    destroyed_at: Mapped[datetime | None]


class PacketLook(Base):
    """When an account looked last at the thread of a packet."""

    __tablename__ = "packet_look"
    packet_id: Mapped[str] = mapped_column(
        ForeignKey("packet.id", ondelete="CASCADE"), primary_key=True
    )
    account_id: Mapped[str] = mapped_column(
        ForeignKey("account.id", ondelete="CASCADE"), primary_key=True
    )
    at: Mapped[datetime] = mapped_column(default=now)
