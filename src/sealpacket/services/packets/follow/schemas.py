"""Response models of messages, questions, files, access and shipments."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal

from pydantic import BaseModel, Field

from sealpacket.core.life import ConsequenceState


class AskedShown(BaseModel):
    """One thing that a message of the desk's wants; `doubtful` where it is only supposed to be a question."""

    id: str
    text: str
    doubtful: bool
    open: bool
    by: str = Field(description="Who answered or dismissed it.")


class VendorFileShown(BaseModel):
    """A file that a vendor sent. `kind` is what it is by its content, `warning` what to mind before it is opened."""

    id: str
    packet: str
    name: str
    size: int
    state: Literal["waiting", "kept", "failed"]
    failure: str
    kind: str
    warning: str
    asset: str | None = Field(description="The id of the asset with which it is stored.")
    created_at: datetime


class MessageShown(BaseModel):
    """Something said between us and the desk."""

    id: str
    direction: str
    text: str
    asks: bool
    by: str
    case: str = Field(
        description="The label of the case that it is about; empty where there is only one."
    )
    at: datetime
    answered: bool
    sent: bool
    mail: bool
    sender: str = Field(description="Of a mail: from whom it says that it is.")
    stranger: bool = Field(
        description="It is not proven to be the desk's answer to us, so that it changed nothing."
    )
    failure: str = Field(
        description="Why one of ours could not be sent; empty while it is on its way."
    )
    how: Literal["desk", "call", "hand"] = Field(
        description="Through the desk's channel, in a telephone call, or entered by hand."
    )
    act: str = Field(description="The act of a message of ours.")
    about: str = Field(
        "", description="The value of the act: a person, a severity, a rule, a rating."
    )
    taken_back: bool
    can_take_back: bool
    questions: list[AskedShown]
    outside_hours: bool = Field(
        description="Of a call: whether it came outside the hours of our contact."
    )
    mail_asked: bool = Field(description="Of a call: whether our contact wants to be written to.")
    unwished: bool = Field(
        description="Of a call: whether you noted that they called although mail was asked for."
    )
    files: list[str] = Field(description="Names of exhibits that go with one of ours.")
    received: list[VendorFileShown] = Field(description="Files that came with one of the vendor's.")
    outgoing: str | None = Field(
        None, description="Of ours: what is sent; sensitive values are masked in it."
    )


class ConsequenceShown(BaseModel):
    """A change of the register that follows from an answer of the desk."""

    id: str
    what: str = Field(description="The change in words, such as the new level of service.")
    case: str = Field(description="The label of the case; empty where there is only one.")
    record: Literal["entitlement", "contract", "asset", "limit", "licence"] = Field(
        description="The kind of record."
    )
    handle: str = Field(description="The id of the record; empty: it is not in the register.")
    name: str = Field(description="The reference, number or serial of the record.")
    field: str = Field(description="The field that changes.")
    now: str = Field(description="Its value in the register now.")
    value: str = Field(description="The value that follows from the answer.")
    from_on: date | None = Field(
        description="From when it would count; null: the value itself is replaced."
    )
    state: ConsequenceState = Field(description="How far it is.")
    offered_at: datetime = Field(description="When the answer came.")
    decided_by: str = Field(description="Who decided on it last; empty: nobody yet.")
    decided_at: datetime | None = Field(description="When that was.")


class ConsequenceOffered(BaseModel):
    """A change of the register that waits for a keeper, and its packet."""

    packet: str = Field(description="The number of the packet.")
    title: str = Field(description="Its title.")
    consequence: ConsequenceShown = Field(description="The change.")


class AccessShown(BaseModel):
    """A vendor's access to our systems; `overdue` once its time is over and nobody has ended it."""

    id: str
    packet: str
    who: str
    what: str
    asked: str
    from_at: datetime
    until_at: datetime
    granted_by: str
    ended_at: datetime | None
    ended_by: str
    ended_how: str
    overdue: bool


class ToldOfShipment(BaseModel):
    """Facts about a shipment that the desk has given; empty if none."""

    carrier: str
    tracking: str
    serial: str = Field(description="The serial of a replacement.")
    return_by: date | None = Field(description="The last day on which the old part may be back.")


class ShipmentShown(BaseModel):
    """Something on its way because of a packet; `due_on` is when it has to be there, `late` once that is over."""

    id: str
    packet: str
    way: Literal["to_us", "to_vendor"]
    what: str
    carrier: str
    tracking: str
    sent_on: date | None
    due_on: date | None
    arrived_on: date | None
    late: bool
    late_cost_minor: int | None = Field(
        description="Charged by the vendor after its day, in minor units; null: nothing, or not known."
    )
    currency: str | None


class TrayItemShown(BaseModel):
    """Something that came and has no packet yet: a mail, or a paper from a desk's folder."""

    id: str
    sort: Literal["mail", "paper"]
    sender: str
    subject: str
    words: str
    at: datetime


class ActShown(BaseModel):
    """An act on a case, whether it is possible now and if not, why; `own`: the desk has a way of its own for it."""

    act: str
    possible: bool
    because: str
    own: bool
