"""Packets, their cases at the desk, their exhibits, and what was said between us and the desk."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import (
    JSON,
    CheckConstraint,
    ForeignKey,
    Identity,
    Index,
    Sequence,
    UniqueConstraint,
    func,
)
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, Recorded, now
from sealpacket.store.models.desks import DeskSheet
from sealpacket.store.models.redaction import DrawnBox
from sealpacket.store.models.register import Asset, VendorLogin

packet_number = Sequence("packet_number", metadata=Base.metadata)


class Packet(Recorded, Base):
    """One submission, from the first note to the settled end.

    `cases` are what was sealed of it, one or (where the desk wants that) several. `reference` and `desk_status` sum
    them up for lists and for finding; `follow.sum_up` keeps them true.
    """

    __tablename__ = "packet"
    number: Mapped[str] = mapped_column(unique=True)
    title: Mapped[str]
    note: Mapped[str] = mapped_column(default="")
    need: Mapped[str] = mapped_column(default="fault")
    life: Mapped[str] = mapped_column(default="drafting")
    turn: Mapped[str] = mapped_column(default="ours")
    noted_by: Mapped[str]
    asset_id: Mapped[str | None] = mapped_column(ForeignKey("asset.id"), index=True)
    login_id: Mapped[str | None] = mapped_column(ForeignKey("vendor_login.id"))
    sheet_id: Mapped[str | None] = mapped_column(ForeignKey("desk_sheet.id"))
    answers: Mapped[dict[str, Any]] = mapped_column(default=dict)
    answers_aside: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    ruling: Mapped[dict[str, Any] | None]
    ruling_basis: Mapped[dict[str, Any] | None]
    placeholder_key_sealed: Mapped[bytes]
    legend_key_sealed: Mapped[bytes | None]
    legend_destroyed_at: Mapped[datetime | None]
    settled_at: Mapped[datetime | None]
    sealed_at: Mapped[datetime | None]
    sealed_by: Mapped[str | None]
    sealed_answers: Mapped[list[Any] | None]
    file_names: Mapped[dict[str, Any] | None]
    bag_blob: Mapped[str | None]
    bag_sha256: Mapped[str | None]
    seal: Mapped[dict[str, Any] | None]
    lodge_state: Mapped[str | None]
    lodge_status_text: Mapped[str] = mapped_column(default="")
    lodged_at: Mapped[datetime | None]
    reference: Mapped[str | None]
    desk_status: Mapped[str] = mapped_column(default="")
    followed_at: Mapped[datetime | None]
    follow_state: Mapped[str | None]
    follow_status_text: Mapped[str] = mapped_column(default="", server_default="")
    refusals: Mapped[list[Any] | None]
    asset: Mapped[Asset | None] = relationship()
    login: Mapped[VendorLogin | None] = relationship()
    sheet: Mapped[DeskSheet | None] = relationship()
    cases: Mapped[list[PacketCase]] = relationship(
        order_by="PacketCase.place", back_populates="packet", cascade="all, delete-orphan"
    )
    exhibits: Mapped[list[Exhibit]] = relationship(
        order_by="Exhibit.created_at", back_populates="packet"
    )
    messages: Mapped[list[Message]] = relationship(
        order_by="Message.at, Message.id", back_populates="packet"
    )

    __table_args__ = (
        CheckConstraint(
            "life IN ('drafting','sealed','lodged','answered','settled','refused','withdrawn')",
            name="life",
        ),
        CheckConstraint("turn IN ('ours','vendor')", name="turn"),
        CheckConstraint("follow_state IN ('asking','failed')", name="follow_state"),
        CheckConstraint(
            "(life IN ('drafting','withdrawn','refused')) OR bag_blob IS NOT NULL",
            name="sealed_has_bag",
        ),
        Index("ix_packet_list", "created_at", "id"),
    )


class PacketCase(Base):
    """One case of a sealed packet at its desk; a desk that splits packets has several.

    `written` is the case as it was sealed, `label` what it is called among several (empty for the only one). `sent`:
    the desk has it. `life` and `turn` are empty until then. `desk_facts` is what else the desk told, such as an RMA
    number, by label.
    """

    __tablename__ = "packet_case"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"))
    place: Mapped[int]
    label: Mapped[str] = mapped_column(default="")
    written: Mapped[dict[str, Any]] = mapped_column(JSON())
    sent: Mapped[bool] = mapped_column(default=False)
    reference: Mapped[str | None] = mapped_column(index=True)
    desk_status: Mapped[str] = mapped_column(default="")
    life: Mapped[str | None]
    turn: Mapped[str | None]
    desk_facts: Mapped[dict[str, Any]] = mapped_column(default=dict)
    packet: Mapped[Packet] = relationship(back_populates="cases")
    __table_args__ = (
        UniqueConstraint("packet_id", "place", deferrable=True, initially="DEFERRED"),
        CheckConstraint("life IN ('lodged','answered','settled')", name="life"),
        CheckConstraint("turn IN ('ours','vendor')", name="turn"),
    )


class Exhibit(Base):
    """One piece of evidence. Sizes are bytes; `done` is how much of the original is redacted, `packed` its ZIP size."""

    __tablename__ = "exhibit"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"))
    name: Mapped[str]
    state: Mapped[str] = mapped_column(default="receiving")
    size: Mapped[int]
    sha256: Mapped[str | None] = mapped_column(index=True)
    original_blob: Mapped[str | None]
    outgoing_blob: Mapped[str | None]
    outgoing_size: Mapped[int | None]
    outgoing_sha256: Mapped[str | None]
    findings_blob: Mapped[str | None]
    values_blob: Mapped[str | None]
    legend_blob: Mapped[str | None]
    marks: Mapped[list[Any] | None]
    pages: Mapped[list[Any] | None]
    report: Mapped[dict[str, Any] | None]
    leaks: Mapped[int] = mapped_column(default=0)
    done: Mapped[int] = mapped_column(default=0)
    blank: Mapped[bool] = mapped_column(default=False, server_default="false")
    packed: Mapped[int | None]
    reason: Mapped[str] = mapped_column(default="")
    released_by: Mapped[str | None]
    upload: Mapped[str | None]
    created_at: Mapped[datetime] = mapped_column(default=now)
    packet: Mapped[Packet] = relationship(back_populates="exhibits")
    boxes: Mapped[list[DrawnBox]] = relationship(
        cascade="all, delete-orphan", order_by="DrawnBox.at, DrawnBox.id"
    )
    __table_args__ = (
        UniqueConstraint("packet_id", "name"),
        CheckConstraint(
            "state IN ('receiving','waiting','redacting','ready','held','failed')", name="state"
        ),
        CheckConstraint("state <> 'ready' OR outgoing_blob IS NOT NULL", name="ready_has_copy"),
    )

    @property
    def goes_as(self) -> str:
        """What it is called outside: its name with everything sensitive in it masked."""
        return str((self.report or {}).get("goes_as") or self.name)


class TypedRecord(Base):
    """What was found in all that was typed into a packet, encrypted under its legend's key; `stamp` tells of what."""

    __tablename__ = "typed_record"
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), primary_key=True)
    stamp: Mapped[str]
    found_sealed: Mapped[bytes]


class MailCount(Base):
    """A mail that came for a packet in the last day, so that nobody can fill the house with them."""

    __tablename__ = "mail_count"
    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), index=True)
    octets: Mapped[int]
    at: Mapped[datetime] = mapped_column(default=now)


class Message(Base):
    """Something said between us and the desk, about one case of the packet.

    `desk_id` is the desk's own name for it, so that none comes twice. `case` is unknown for what a stranger wrote.

    Of ours `text` is what was typed and `outgoing` what is sent; `found_sealed` has what was masked, encrypted;
    `failure` says why it could not be sent. Of a mail `sender` is who it says it is from, and `stranger` that this is
    not the desk.
    """

    __tablename__ = "message"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"))
    case_id: Mapped[str | None] = mapped_column(
        ForeignKey("packet_case.id", ondelete="SET NULL"), index=True
    )
    desk_id: Mapped[str | None]
    direction: Mapped[str]
    text: Mapped[str]
    asks: Mapped[bool] = mapped_column(default=False)
    by: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)
    answered_at: Mapped[datetime | None]
    sent_at: Mapped[datetime | None]
    original_blob: Mapped[str | None]
    outgoing: Mapped[str | None]
    found_sealed: Mapped[bytes | None]
    failure: Mapped[str] = mapped_column(default="", server_default="")
    sender: Mapped[str] = mapped_column(default="", server_default="")
    stranger: Mapped[bool] = mapped_column(default=False, server_default="false")
    packet: Mapped[Packet] = relationship(back_populates="messages")
    case: Mapped[PacketCase | None] = relationship()
    __table_args__ = (CheckConstraint("direction IN ('in','out')", name="direction"),)


Index(
    "uq_message_desk_id",
    Message.packet_id,
    func.coalesce(Message.case_id, ""),
    Message.desk_id,
    unique=True,
)
