"""Packets, their cases at the desk, their exhibits, and what was said between us and the desk."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import (
    JSON,
    BigInteger,
    CheckConstraint,
    Computed,
    ForeignKey,
    Identity,
    Index,
    Sequence,
    Text,
    UniqueConstraint,
    event,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import ARRAY, TSVECTOR
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.core.life import (
    AT_DESK,
    DELIVERY_WORDS,
    SAME,
    Effect,
    Event,
    Life,
    State,
    Turn,
    after,
    possible,
)
from sealpacket.store.models.base import Base, Recorded, now, one_of
from sealpacket.store.models.desks import DeskSheet
from sealpacket.store.models.notices import PacketInformed
from sealpacket.store.models.packet_parts import (
    LaterBag,
    PacketConsequence,
    PacketDelivery,
    PacketFollowing,
    PacketLegend,
    PacketRefusal,
    PacketTicket,
    PacketTurn,
)
from sealpacket.store.models.redaction import DrawnBox, RedactionDecision
from sealpacket.store.models.register import Asset, Contract, VendorLogin

packet_number = Sequence("packet_number", metadata=Base.metadata)


class Packet(Recorded, Base):
    """One submission, from the first note to the settled end.

    `cases` are what was sealed of it, one or (where the desk wants that) several. `reference` and `desk_status` sum
    them up for lists and for finding; `follow.sum_up` keeps them true.

    `began_at` is when what it is about began, `context` what a program reported of it. `owner` is the account that
    looks after it, `handed` who gave it to them, when, and with which words, `follows` the packet that it takes up
    again; `cause` and `cure` are what was found in the end. `for_packet` waits for what it asks for (`for_cure`);
    of `for_contract` it asks for a quote or cancels it.

    Its life and the state of its delivery change by `advance` alone. `turn_since` is when `turn` changed last.
    `our_reference` names it in a system of ours. `foreseen` are questions of the desk's that were answered or dismissed
    before it asked them, each by its id.
    """

    __tablename__ = "packet"
    number: Mapped[str] = mapped_column(unique=True)
    title: Mapped[str]
    note: Mapped[str] = mapped_column(default="")
    need: Mapped[str] = mapped_column(default="fault")
    life: Mapped[Life] = mapped_column(default=Life.DRAFTING)
    turn: Mapped[Turn] = mapped_column(default=Turn.OURS)
    turn_since: Mapped[datetime] = mapped_column(default=now, server_default=func.now())
    our_reference: Mapped[str | None] = mapped_column(unique=True)
    noted_by: Mapped[str]
    asset_id: Mapped[str | None] = mapped_column(ForeignKey("asset.id"), index=True)
    login_id: Mapped[str | None] = mapped_column(ForeignKey("vendor_login.id"))
    sheet_id: Mapped[str | None] = mapped_column(ForeignKey("desk_sheet.id"))
    answers: Mapped[dict[str, Any]] = mapped_column(default=dict)
    handed: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    answers_aside: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    foreseen: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")
    ruling: Mapped[dict[str, Any] | None]
    ruling_basis: Mapped[dict[str, Any] | None]
    began_at: Mapped[datetime | None]
    context: Mapped[dict[str, Any] | None]
    words: Mapped[Any] = mapped_column(
        TSVECTOR,
        Computed(
            "to_tsvector('english'::regconfig, title || ' ' || note || ' ' || cause || ' ' || cure)",
            persisted=True,
        ),
        deferred=True,
    )
    codes: Mapped[Any] = mapped_column(
        ARRAY(Text()),
        Computed("error_codes(title || ' ' || note || ' ' || cause, answers)", persisted=True),
        deferred=True,
    )
    settled_at: Mapped[datetime | None]
    sealed_at: Mapped[datetime | None]
    sealed_by: Mapped[str | None]
    sealed_answers: Mapped[list[Any] | None]
    file_names: Mapped[dict[str, Any] | None]
    bag_blob: Mapped[str | None]
    bag_sha256: Mapped[str | None]
    seal: Mapped[dict[str, Any] | None]
    lodged_at: Mapped[datetime | None]
    reference: Mapped[str | None]
    desk_status: Mapped[str] = mapped_column(default="")
    refusals: Mapped[list[Any] | None]
    owner: Mapped[str] = mapped_column(default="", server_default="")
    follows_id: Mapped[str | None] = mapped_column(ForeignKey("packet.id"), index=True)
    for_packet_id: Mapped[str | None] = mapped_column(ForeignKey("packet.id"), index=True)
    for_contract_id: Mapped[str | None] = mapped_column(ForeignKey("contract.id"), index=True)
    for_cure: Mapped[str] = mapped_column(default="", server_default="")
    cause: Mapped[str] = mapped_column(default="", server_default="")
    cure: Mapped[str] = mapped_column(default="", server_default="")
    delivery: Mapped[PacketDelivery] = relationship(
        cascade="all, delete-orphan", lazy="joined", innerjoin=True
    )
    following: Mapped[PacketFollowing] = relationship(
        cascade="all, delete-orphan", lazy="joined", innerjoin=True
    )
    ticket: Mapped[PacketTicket | None] = relationship(
        cascade="all, delete-orphan", lazy="selectin"
    )
    legend: Mapped[PacketLegend] = relationship(cascade="all, delete-orphan")
    turns: Mapped[list[PacketTurn]] = relationship(
        order_by="PacketTurn.id", cascade="all, delete-orphan"
    )
    refused: Mapped[list[PacketRefusal]] = relationship(
        order_by="PacketRefusal.id", cascade="all, delete-orphan"
    )
    informed: Mapped[list[PacketInformed]] = relationship(
        order_by="PacketInformed.at, PacketInformed.person_id", cascade="all, delete-orphan"
    )
    typed_record: Mapped[TypedRecord | None] = relationship(cascade="all, delete-orphan")
    follows: Mapped[Packet | None] = relationship(
        remote_side="Packet.id", foreign_keys="Packet.follows_id"
    )
    for_contract: Mapped[Contract | None] = relationship()
    for_packet: Mapped[Packet | None] = relationship(
        remote_side="Packet.id", foreign_keys="Packet.for_packet_id"
    )
    asset: Mapped[Asset | None] = relationship()
    login: Mapped[VendorLogin | None] = relationship()
    sheet: Mapped[DeskSheet | None] = relationship()
    cases: Mapped[list[PacketCase]] = relationship(
        order_by="PacketCase.place", back_populates="packet", cascade="all, delete-orphan"
    )
    exhibits: Mapped[list[Exhibit]] = relationship(
        order_by="Exhibit.created_at", back_populates="packet"
    )
    consequences: Mapped[list[PacketConsequence]] = relationship(
        order_by="PacketConsequence.offered_at, PacketConsequence.id", cascade="all, delete-orphan"
    )
    later_bags: Mapped[list[LaterBag]] = relationship(
        order_by="LaterBag.place", cascade="all, delete-orphan"
    )
    messages: Mapped[list[Message]] = relationship(
        order_by="Message.at, Message.id", back_populates="packet"
    )
    decisions: Mapped[list[RedactionDecision]] = relationship(
        order_by=lambda: (RedactionDecision.at.desc(), RedactionDecision.id),
        cascade="all, delete-orphan",
    )
    access_grants: Mapped[list[AccessGrant]] = relationship(
        order_by="AccessGrant.until_at", back_populates="packet"
    )
    shipments: Mapped[list[Shipment]] = relationship(
        order_by="Shipment.at", back_populates="packet"
    )

    __table_args__ = (
        one_of("life", Life),
        one_of("turn", Turn),
        CheckConstraint(
            "(life IN ('drafting','withdrawn','refused')) OR bag_blob IS NOT NULL",
            name="sealed_has_bag",
        ),
        Index("ix_packet_list", "created_at", "id"),
        Index("ix_packet_updated_at", "updated_at"),
        Index("ix_packet_words", "words", postgresql_using="gin"),
        Index("ix_packet_codes", "codes", postgresql_using="gin"),
    )

    @property
    def vendor_name(self) -> str:
        """The name of the vendor of its asset; empty while no asset is named."""
        return self.asset.vendor.name if self.asset else ""

    @property
    def state(self) -> State:
        """How far it is, and how its delivery goes."""
        return State(self.life, self.delivery.state)

    def can(self, event: Event) -> bool:
        """Whether an event is possible in the packet's current state."""
        return possible(self.state, event) is not None

    def advance(self, event: Event, at: datetime | None = None) -> None:
        """Take the packet to where an event leads, `at` a moment (now, if none is given).

        Raises Conflict, with nothing changed, for an event that is impossible as the packet stands.
        """
        change = after(self.state, event, self.number)
        target = change.target(self.state)
        self.life, self.turn = target.life, change.turn or self.turn
        if change.delivery != SAME:
            self.delivery.state = target.delivery
            self.delivery.status_text = DELIVERY_WORDS.get(target.delivery, "")
        for effect in change.effects:
            self._undergo(effect, at or now())

    def update_turn(self) -> None:
        """Make it our turn while a case or a question waits for us, or something of ours could not be sent.

        What the desk asked about a settled packet is past; what could not be sent is not.
        """
        ours = any(message.waits_for_a_person for message in self.messages)
        if self.life == Life.SETTLED:
            self.turn = Turn.OURS if ours else Turn.NONE
            return
        asked = any(message.open_questions for message in self.messages)
        case = any(one.turn == Turn.OURS or one.is_due_to_settle for one in self.cases)
        self.turn = Turn.OURS if ours or asked or case else Turn.VENDOR

    def _undergo(self, effect: Effect, at: datetime) -> None:
        match effect:
            case Effect.NOTE_LODGED:
                self.lodged_at = self.lodged_at or at
            case Effect.NOTE_SETTLED:
                self.settled_at = self.settled_at or at
            case Effect.CLEAR_SETTLED:
                self.settled_at = None
            case Effect.CLEAR_CAUSE:
                self.cause = self.cure = ""
            case Effect.CLEAR_REFUSALS:
                self.refusals = None
            case Effect.DROP_SEAL:
                self.bag_blob = self.bag_sha256 = self.seal = None
                self.sealed_at = self.sealed_by = self.sealed_answers = self.file_names = None
            case Effect.START_TRYING:
                self.delivery.start_trying()
            case Effect.STOP_TRYING:
                self.delivery.stop_trying()


@event.listens_for(Packet.turn, "set", active_history=True)
def _note_turn(packet: Packet, turn: Turn, before: Any, _initiator: Any) -> None:
    if turn != before and isinstance(before, Turn):
        packet.turn_since = now()
        packet.turns.append(PacketTurn(turn=turn, at=packet.turn_since))


@event.listens_for(Packet.refusals, "set")
def _note_refusals(packet: Packet, reasons: list[Any] | None, *_: Any) -> None:
    for one in reasons or ():
        packet.refused.append(PacketRefusal(code=one["code"], text=one["text"]))


class PacketCase(Base):
    """One case of a sealed packet at its desk; a desk that splits packets has several.

    `written` is the case as it was sealed, `label` what it is called among several (empty for the only one). `sent`:
    the desk has it; `begun`: it may have it, since sending it broke off; `entered` are the labels of the fields that a
    person has entered by hand. `life` and `turn` are empty until then. `desk_facts` is what else the desk told, such as
    an RMA number, by label. `desk_said_at`: when the mail was written that told last how it stands.
    `settle_on`: the day from which it is for us to settle it, where the desk never does.
    `desk_mark`: the version of the sheet and the desk's entity tag of what was read last.
    """

    __tablename__ = "packet_case"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"))
    place: Mapped[int]
    label: Mapped[str] = mapped_column(default="")
    written: Mapped[dict[str, Any]] = mapped_column(JSON())
    sent: Mapped[bool] = mapped_column(default=False)
    begun: Mapped[bool] = mapped_column(default=False, server_default="false")
    entered: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")
    reference: Mapped[str | None] = mapped_column(index=True)
    desk_status: Mapped[str] = mapped_column(default="")
    life: Mapped[Life | None]
    turn: Mapped[Turn | None]
    desk_facts: Mapped[dict[str, Any]] = mapped_column(default=dict)
    desk_said_at: Mapped[datetime | None]
    settle_on: Mapped[date | None]
    desk_mark: Mapped[str] = mapped_column(default="", server_default="")
    packet: Mapped[Packet] = relationship(back_populates="cases")

    @property
    def called(self) -> str:
        """Its name for people: its label, else its reference; empty if it has neither."""
        return self.label or self.reference or ""

    @property
    def is_due_to_settle(self) -> bool:
        """Whether the desk never closes it, and the days after which we settle it are over."""
        return self.settle_on is not None and self.settle_on <= now().date()

    __table_args__ = (
        UniqueConstraint("packet_id", "place", deferrable=True, initially="DEFERRED"),
        one_of("life", AT_DESK),
        one_of("turn", (Turn.OURS, Turn.VENDOR)),
    )


class Exhibit(Base):
    """One piece of evidence. Sizes are bytes; `done` is how much of the original is redacted, `packed` its ZIP size.

    `look` is what it holds (core.evidence.inspection), `summary_blob` the summary of a log, `collected` the kit's
    step that brought it. Several exhibits with the same content have one `original_blob`.
    `upload` is where a try has put it at the desk, `arrived` that all of it is there. `later` is one that came after
    the seal; it goes with the message of `message_id`.
    """

    __tablename__ = "exhibit"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"))
    name: Mapped[str]
    state: Mapped[str] = mapped_column(default="receiving")
    size: Mapped[int]
    sha256: Mapped[str | None] = mapped_column(index=True)
    original_blob: Mapped[str | None] = mapped_column(index=True)
    original_deleted_at: Mapped[datetime | None]
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
    look: Mapped[dict[str, Any] | None]
    summary_blob: Mapped[str | None]
    collected: Mapped[dict[str, Any] | None]
    packed: Mapped[int | None]
    reason: Mapped[str] = mapped_column(default="")
    released_by: Mapped[str | None]
    upload: Mapped[str | None]
    arrived: Mapped[bool] = mapped_column(default=False, server_default="false")
    later: Mapped[bool] = mapped_column(default=False, server_default="false")
    message_id: Mapped[str | None] = mapped_column(ForeignKey("message.id"), index=True)
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
        """Its outgoing name: the name with everything sensitive masked."""
        return str((self.report or {}).get("goes_as") or self.name)


class TypedRecord(Base):
    """The findings of a packet's typed texts, encrypted under its legend's key; `stamp` is a hash of their input."""

    __tablename__ = "typed_record"
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), primary_key=True)
    stamp: Mapped[str]
    found_sealed: Mapped[bytes]


class MailCount(Base):
    """A mail that came in the last day for a packet, or to make a draft: nobody can fill the house with them."""

    __tablename__ = "mail_count"
    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    packet_id: Mapped[str | None] = mapped_column(ForeignKey("packet.id"), index=True)
    octets: Mapped[int]
    at: Mapped[datetime] = mapped_column(default=now)


class Message(Base):
    """Something said between us and the desk, about one case of the packet.

    `desk_id` is the desk's own name for it, so that none comes twice. `case` is unknown for what a stranger wrote.

    Of ours `text` is what was typed and `outgoing` what is sent; `found_sealed` has what was masked, encrypted;
    `failure` says why it could not be sent; `act` is what it does at the desk and `act_values` what belongs to that;
    one that was `taken_back_at` is not sent, one that is `begun` may be
    with the desk. Of a mail `sender` is who it says it is from, and `stranger` that this is
    not the desk. `how` it came or went: through the desk's channel, in a telephone call, entered by hand.
    """

    __tablename__ = "message"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), index=True)
    case_id: Mapped[str | None] = mapped_column(
        ForeignKey("packet_case.id", ondelete="SET NULL"), index=True
    )
    desk_id: Mapped[str | None]
    direction: Mapped[str]
    text: Mapped[str]
    asks: Mapped[bool] = mapped_column(default=False)
    by: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)
    how: Mapped[str] = mapped_column(default="desk", server_default="desk")
    act: Mapped[str] = mapped_column(default="comment", server_default="comment")
    act_values: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    taken_back_at: Mapped[datetime | None]
    begun: Mapped[bool] = mapped_column(default=False, server_default="false")
    sent_at: Mapped[datetime | None]
    original_blob: Mapped[str | None]
    outgoing: Mapped[str | None]
    found_sealed: Mapped[bytes | None]
    failure: Mapped[str] = mapped_column(default="", server_default="")
    sender: Mapped[str] = mapped_column(default="", server_default="")
    stranger: Mapped[bool] = mapped_column(default=False, server_default="false")
    unwished: Mapped[bool] = mapped_column(default=False, server_default="false")
    packet: Mapped[Packet] = relationship(back_populates="messages")
    case: Mapped[PacketCase | None] = relationship()
    questions: Mapped[list[Asked]] = relationship(
        order_by="Asked.place",
        back_populates="message",
        foreign_keys="Asked.message_id",
        cascade="all, delete-orphan",
        lazy="selectin",
    )
    files: Mapped[list[Exhibit]] = relationship(
        order_by="Exhibit.created_at", foreign_keys="Exhibit.message_id", lazy="selectin"
    )
    received: Mapped[list[VendorFile]] = relationship(
        order_by="VendorFile.created_at, VendorFile.id", back_populates="message", lazy="selectin"
    )
    __table_args__ = (
        CheckConstraint("direction IN ('in','out')", name="direction"),
        CheckConstraint("how IN ('desk','call','hand')", name="how"),
    )

    @property
    def is_unsent(self) -> bool:
        """Whether it is one of ours that is still to go."""
        return self._has_not_gone and not self.failure

    @property
    def waits_for_a_person(self) -> bool:
        """Whether it is one of ours that could not be sent, or that has to be passed on by hand."""
        return self._has_not_gone and (bool(self.failure) or self.how == "hand")

    @property
    def _has_not_gone(self) -> bool:
        ours = self.direction == "out" and self.taken_back_at is None
        return ours and self.sent_at is None

    @property
    def open_questions(self) -> list[Asked]:
        """Its questions that nobody has answered or dismissed."""
        return [one for one in self.questions if one.open]


class Asked(Base):
    """One thing that a message of the desk's wants from us; `doubtful` where we only suppose so.

    It is over once it is answered (`answer_id` is the message of ours) or dismissed as no question.
    """

    __tablename__ = "asked"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    message_id: Mapped[str] = mapped_column(ForeignKey("message.id"), index=True)
    place: Mapped[int]
    text: Mapped[str]
    doubtful: Mapped[bool] = mapped_column(default=False)
    answer_id: Mapped[str | None] = mapped_column(ForeignKey("message.id"))
    done_at: Mapped[datetime | None]
    done_by: Mapped[str] = mapped_column(default="")
    message: Mapped[Message] = relationship(back_populates="questions", foreign_keys=[message_id])
    __table_args__ = (UniqueConstraint("message_id", "place"),)

    @property
    def open(self) -> bool:
        """Whether it still waits for us."""
        return self.done_at is None


class VendorFile(Base):
    """A file that a vendor sent, kept encrypted as it came; `address` is where it is at the desk, until it is fetched.

    `kind` and `warning` say what it is by its content; with `asset_id` it is stored with that asset, too.
    """

    __tablename__ = "vendor_file"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), index=True)
    message_id: Mapped[str] = mapped_column(ForeignKey("message.id"), index=True)
    name: Mapped[str]
    address: Mapped[str] = mapped_column(default="")
    state: Mapped[str] = mapped_column(default="waiting")
    failure: Mapped[str] = mapped_column(default="")
    size: Mapped[int] = mapped_column(BigInteger, default=0)
    sha256: Mapped[str | None]
    blob: Mapped[str | None]
    kind: Mapped[str] = mapped_column(default="")
    warning: Mapped[str] = mapped_column(default="")
    asset_id: Mapped[str | None] = mapped_column(
        ForeignKey("asset.id", ondelete="SET NULL"), index=True
    )
    created_at: Mapped[datetime] = mapped_column(default=now)
    message: Mapped[Message] = relationship(back_populates="received")
    packet: Mapped[Packet] = relationship()
    __table_args__ = (
        CheckConstraint("state IN ('waiting','kept','failed')", name="state"),
        CheckConstraint("state <> 'kept' OR blob IS NOT NULL", name="kept_has_content"),
    )


class AccessGrant(Base):
    """A vendor's access to our systems: who, to what, until when, how it was asked for, and how it ended."""

    __tablename__ = "access_grant"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), index=True)
    asset_id: Mapped[str | None] = mapped_column(
        ForeignKey("asset.id", ondelete="SET NULL"), index=True
    )
    who: Mapped[str]
    what: Mapped[str]
    asked: Mapped[str] = mapped_column(default="")
    from_at: Mapped[datetime] = mapped_column(default=now)
    until_at: Mapped[datetime]
    granted_by: Mapped[str]
    ended_at: Mapped[datetime | None]
    ended_by: Mapped[str] = mapped_column(default="")
    ended_how: Mapped[str] = mapped_column(default="")
    packet: Mapped[Packet] = relationship(back_populates="access_grants")


class Shipment(Base):
    """Something that is on its way because of a packet, to us or to the vendor; what has to go back, until when."""

    __tablename__ = "shipment"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), index=True)
    way: Mapped[str]
    what: Mapped[str]
    carrier: Mapped[str] = mapped_column(default="")
    tracking: Mapped[str] = mapped_column(default="", index=True)
    sent_on: Mapped[date | None]
    due_on: Mapped[date | None]
    arrived_on: Mapped[date | None]
    late_cost_minor: Mapped[int | None] = mapped_column(BigInteger)
    currency: Mapped[str | None]
    by: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)
    packet: Mapped[Packet] = relationship(back_populates="shipments")
    __table_args__ = (
        CheckConstraint("way IN ('to_us','to_vendor')", name="way"),
        CheckConstraint(
            "(late_cost_minor IS NULL) = (currency IS NULL)", name="cost_with_currency"
        ),
    )


class TrayItem(Base):
    """An incoming mail or document that matches no packet; it waits until a person attaches it.

    `ident` tells it from others, `blob` holds it as it came until somebody has dealt with it.
    """

    __tablename__ = "tray_item"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    ident: Mapped[str] = mapped_column(unique=True)
    sort: Mapped[str]
    sender: Mapped[str] = mapped_column(default="")
    subject: Mapped[str] = mapped_column(default="")
    words: Mapped[str] = mapped_column(default="")
    blob: Mapped[str | None]
    at: Mapped[datetime] = mapped_column(default=now)
    done_at: Mapped[datetime | None]
    done_by: Mapped[str] = mapped_column(default="")
    packet_id: Mapped[str | None] = mapped_column(ForeignKey("packet.id"))
    __table_args__ = (CheckConstraint("sort IN ('mail','paper')", name="sort"),)


class MailboxMark(Base):
    """How far a mailbox was read; `trouble` is why it could not be read last."""

    __tablename__ = "mailbox_mark"
    mailbox: Mapped[str] = mapped_column(primary_key=True)
    validity: Mapped[int] = mapped_column(BigInteger, default=0)
    uid: Mapped[int] = mapped_column(BigInteger, default=0)
    read_at: Mapped[datetime | None]
    trouble: Mapped[str] = mapped_column(default="")


class DeskHealth(Base):
    """How a desk was reached lately: one breaker for all that goes to it.

    After several `failures` in a row nothing is sent before `closed_until`, but for one try at a time. `free_at` is
    when the next call may be made, where its sheet limits how many there are in a minute.
    """

    __tablename__ = "desk_health"
    desk: Mapped[str] = mapped_column(primary_key=True)
    failures: Mapped[int] = mapped_column(default=0)
    words: Mapped[str] = mapped_column(default="")
    since: Mapped[datetime | None]
    closed_until: Mapped[datetime | None]
    free_at: Mapped[datetime | None]


Index(
    "ix_message_words",
    func.to_tsvector(text("'english'::regconfig"), Message.text),
    postgresql_using="gin",
)
Index("ix_message_at", Message.at)
Index(
    "uq_message_desk_id",
    Message.packet_id,
    func.coalesce(Message.case_id, ""),
    Message.desk_id,
    unique=True,
)
