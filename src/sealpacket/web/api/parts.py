"""A vendor's access to our systems, parts on their way, and the serial that changes when one has come."""

from datetime import date
from typing import Literal

from pydantic import AwareDatetime, BaseModel, Field

from sealpacket.services.packets.follow import access, shipments
from sealpacket.services.packets.follow.schemas import AccessShown
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.web.api.common import Number, OneLine, Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api

api = Api("parts", "Access of vendors, shipments, and serials that are swapped.")


class Granted(Strict):
    """Who at the vendor may come into which system of ours, until when, and how it was asked for."""

    who: OneLine = Field(min_length=2, max_length=200)
    what: OneLine = Field(min_length=2, max_length=300)
    until: AwareDatetime
    asked: str = Field("", max_length=2000)


class HowEnded(Strict):
    """How it ended."""

    how: str = Field("", max_length=1000)


class AccessPath(BaseModel):
    """A vendor's access."""

    access: str = Field(max_length=60)


class AccessQuery(BaseModel):
    """Of one asset or of all; what has ended as well."""

    asset: str = Field("", max_length=300)
    ended: bool = False


class AccessList(BaseModel):
    """Who may come into our systems."""

    items: list[AccessShown]


@api.post(
    "/packets/<number>/access",
    summary="Note that a vendor was granted access to one of our systems",
    responses={201: PacketShown},
    does=access.grant_access,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def grant_access(path: Number, body: Granted) -> PacketShown:
    return access.grant_access(
        current_app(), actor(), path.number.upper(), body.who, body.what, body.until,
        asked=body.asked,
    )  # fmt: skip


@api.get(
    "/access",
    summary="List vendors' access to our systems",
    responses={200: AccessList},
    does=access.list_access,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def list_access(query: AccessQuery) -> AccessList:
    return AccessList(items=access.list_access(current_app(), query.asset, ended=query.ended))


@api.post(
    "/access/<access>/end",
    summary="Note that a vendor's access has ended",
    responses={200: PacketShown},
    does=access.end_access,
    etag=True,
    sends=True,
)
@requires_role("preparer")
@idempotent
def end_access(path: AccessPath, body: HowEnded) -> PacketShown:
    return access.end_access(current_app(), actor(), path.access, body.how)


class Sent(Strict):
    """Something on its way, or that has to go back until a day."""

    way: Literal["to_us", "to_vendor"]
    what: OneLine = Field(min_length=2, max_length=300)
    carrier: OneLine = Field("", max_length=100)
    tracking: OneLine = Field("", max_length=100)
    sent_on: date | None = None
    due_on: date | None = None
    late_cost_minor: int | None = Field(None, ge=0, lt=10**12)
    currency: str | None = Field(None, pattern="^[A-Z]{3}$")


class Unit(Strict):
    """A replacement that has arrived: the code on its label, and when; today, if not given."""

    label: OneLine = Field(
        min_length=1,
        max_length=2000,
        description="The text of a code on the unit, as a scanner gives it, or its serial.",
    )
    on: date | None = None


class Arrived(Strict):
    """When it arrived; today, if not given."""

    on: date | None = None


class ShipmentPath(BaseModel):
    """A shipment."""

    shipment: str = Field(max_length=60)


class Swap(Strict):
    """The serial of the replacement, and since when it is in its place."""

    serial: OneLine = Field(min_length=1, max_length=100)
    from_on: date | None = None


@api.post(
    "/packets/<number>/shipments",
    summary="Note a shipment of a packet",
    responses={201: PacketShown},
    does=shipments.note_shipment,
    etag=True,
    location="/packets/{number}",
)
@requires_role("preparer")
@idempotent
def note_shipment(path: Number, body: Sent) -> PacketShown:
    wish = body.model_dump(exclude={"way", "what"})
    number = path.number.upper()
    return shipments.note_shipment(current_app(), actor(), number, body.way, body.what, **wish)


@api.post(
    "/shipments/<shipment>/arrived",
    summary="Note that a shipment has arrived",
    responses={200: PacketShown},
    does=shipments.receive_shipment,
    etag=True,
)
@requires_role("preparer")
@idempotent
def receive_shipment(path: ShipmentPath, body: Arrived) -> PacketShown:
    return shipments.receive_shipment(current_app(), actor(), path.shipment, body.on)


@api.post(
    "/shipments/<shipment>/unit",
    summary="Check a replacement by its label and swap it for the packet's asset",
    responses={200: PacketShown},
    does=shipments.receive_unit,
    etag=True,
)
@requires_role("keeper")
@idempotent
def receive_unit(path: ShipmentPath, body: Unit) -> PacketShown:
    return shipments.receive_unit(current_app(), actor(), path.shipment, body.label, body.on)


@api.post(
    "/packets/<number>/swap",
    summary="Replace the packet's asset in the register by another serial",
    responses={200: PacketShown},
    does=shipments.swap_serial,
    etag=True,
)
@requires_role("keeper")
@idempotent
def swap_serial(path: Number, body: Swap) -> PacketShown:
    number = path.number.upper()
    return shipments.swap_serial(current_app(), actor(), number, body.serial, body.from_on)
