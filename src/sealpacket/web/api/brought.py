"""Replies that people enter: calls, mails, references by hand, vendors' files, and the tray."""

import base64
import binascii
from typing import Literal

from flask import Response
from pydantic import AwareDatetime, BaseModel, Field

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets import HandWay
from sealpacket.services.packets.follow import entered, ownership, tray, vendor_files
from sealpacket.services.packets.follow.schemas import TrayItemShown, VendorFileShown
from sealpacket.services.packets.lodge import by_hand
from sealpacket.services.packets.lodge.schemas import HandGuide
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.web.api.common import (
    LONGEST_TEXT,
    Case,
    Number,
    OneLine,
    Strict,
    Words,
)
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import FILE, Api, Content

api = Api(
    "brought", "What people bring in: calls, replies, references, files, and what lies in the tray."
)


class Call(Strict):
    """A telephone call: what was said, when, with whom, and whether they wait for an answer."""

    text: str = Field(min_length=1, max_length=LONGEST_TEXT)
    case: str = Case
    at: AwareDatetime | None = None
    spoke_to: OneLine = Field("", max_length=200)
    asks: bool = False


class Brought(Strict):
    """A reply of a desk: `text` that was pasted or typed, or a mail or document as it arrived, in base64.

    Without `asks` it is read from the words whether it waits for an answer.
    """

    text: str = Words
    data: str = Field("", max_length=8_000_000, description="A file, in base64.")
    by: OneLine = Field("", max_length=200)
    at: AwareDatetime | None = None
    asks: bool | None = None
    case: str = Case


class Reference(Strict):
    """The reference that the desk gave, when, and by whom."""

    reference: OneLine = Field(min_length=1, max_length=200)
    case: str = Case
    at: AwareDatetime | None = None
    spoke_to: OneLine = Field("", max_length=200)


Way = Literal["", HandWay]


class Tick(Strict):
    """A field that was entered, by its label."""

    field: str = Field(min_length=1, max_length=300)
    done: bool = True
    case: str = Case
    by: Way = Field("", description="The way whose guide is shown then; empty: the first.")


@api.post(
    "/packets/<number>/calls",
    summary="Record a telephone call",
    responses={201: PacketShown},
    does=ownership.record_call,
    etag=True,
    location="/packets/{number}",
)
@requires_role("preparer")
@idempotent
def record_call(path: Number, body: Call) -> PacketShown:
    return ownership.record_call(
        current_app(), actor(), path.number.upper(), body.text,
        at=body.at, spoke_to=body.spoke_to, asks=body.asks, case=body.case,
    )  # fmt: skip


@api.post(
    "/packets/<number>/replies",
    summary="Record a reply that reached you directly",
    responses={201: PacketShown},
    does=entered.take_reply,
    etag=True,
    location="/packets/{number}",
)
@requires_role("preparer")
@idempotent
def take_reply(path: Number, body: Brought) -> PacketShown:
    try:
        data = base64.b64decode(body.data, validate=True)
    except binascii.Error as error:
        raise Invalid(
            "The file is not written in base64.", "Send it as base64.", field="data"
        ) from error
    return entered.take_reply(
        current_app(), actor(), path.number.upper(),
        text=body.text, data=data, by=body.by, at=body.at, asks=body.asks, case=body.case,
    )  # fmt: skip


class OnWay(BaseModel):
    """On which way a person enters a packet."""

    by: Way = Field("", description="Empty: the first way that the desk has.")


@api.get(
    "/packets/<number>/hand",
    summary="List the fields to enter at a desk by hand",
    responses={200: HandGuide},
    does=by_hand.hand_guide,
    problems=(409,),
)
@requires_role(ANY_ROLE)
def hand_guide(path: Number, query: OnWay) -> HandGuide:
    return by_hand.hand_guide(current_app(), path.number.upper(), query.by)


@api.put(
    "/packets/<number>/hand/fields",
    summary="Mark a field as entered",
    responses={200: HandGuide},
    does=by_hand.tick_field,
    problems=(409,),
)
@requires_role("preparer")
def tick_field(path: Number, body: Tick) -> HandGuide:
    return by_hand.tick_field(
        current_app(), actor(), path.number.upper(), body.field,
        done=body.done, case=body.case, by=body.by,
    )  # fmt: skip


@api.post(
    "/packets/<number>/reference",
    summary="Enter the reference that the desk gave",
    responses={200: PacketShown},
    does=by_hand.enter_reference,
    etag=True,
)
@requires_role("preparer")
@idempotent
def enter_reference(path: Number, body: Reference) -> PacketShown:
    return by_hand.enter_reference(
        current_app(), actor(), path.number.upper(), body.reference,
        case=body.case, at=body.at, spoke_to=body.spoke_to,
    )  # fmt: skip


class FilePath(Number):
    """A file that a vendor sent, by id or name."""

    file: str = Field(max_length=200)


class WithAsset(Strict):
    """With which asset; the packet's own where it is empty."""

    asset: str = Field("", max_length=300)


@api.get(
    "/packets/<number>/files/<file>",
    summary="Get a file that the vendor sent, unchanged",
    responses={200: Content(FILE)},
    does=vendor_files.fetch_file,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def fetch_file(path: FilePath) -> Response:
    name, size, blocks = vendor_files.fetch_file(
        current_app(), actor(), path.number.upper(), path.file
    )
    response = Response(blocks, mimetype="application/octet-stream")
    response.headers.set("Content-Disposition", "attachment", filename=name)
    response.content_length = size
    return response


@api.post(
    "/packets/<number>/files/<file>/asset",
    summary="Store a vendor's file with an asset",
    responses={200: PacketShown},
    does=vendor_files.store_with_asset,
    etag=True,
)
@requires_role("preparer", "keeper")
@idempotent
def store_with_asset(path: FilePath, body: WithAsset) -> PacketShown:
    number = path.number.upper()
    return vendor_files.store_with_asset(current_app(), actor(), number, path.file, body.asset)


class AssetPath(BaseModel):
    """An asset, by id or serial."""

    ident: str = Field(max_length=300)


class AssetFiles(BaseModel):
    """Files stored with an asset."""

    items: list[VendorFileShown]


@api.get(
    "/assets/<ident>/files",
    summary="List vendors' files that are stored with an asset",
    responses={200: AssetFiles},
    does=vendor_files.files_of_asset,
)
@requires_role(ANY_ROLE)
def files_of_asset(path: AssetPath) -> AssetFiles:
    return AssetFiles(items=vendor_files.files_of_asset(current_app(), path.ident))


class Tray(BaseModel):
    """Items of the tray."""

    items: list[TrayItemShown]


class TrayPath(BaseModel):
    """Something in the tray."""

    item: str = Field(max_length=60)


class Belongs(Strict):
    """The packet that it is about."""

    number: str = Field(pattern=r"^[Pp]-\d{4,12}$")


class Why(Strict):
    """Why."""

    reason: str = Field(min_length=3, max_length=1000)


class Gone(BaseModel):
    """It is out of the tray."""

    done: bool = True


@api.get(
    "/tray",
    summary="List the tray: incoming mail and documents that match no packet",
    responses={200: Tray},
    does=tray.list_tray,
)
@requires_role(ANY_ROLE)
def list_tray() -> Tray:
    return Tray(items=tray.list_tray(current_app()))


@api.get(
    "/tray/<item>",
    summary="Get an item of the tray, unchanged",
    responses={200: Content(FILE)},
    does=tray.content,
)
@requires_role("preparer", "releaser")
def fetch_from_tray(path: TrayPath) -> Response:
    blocks = tray.content(current_app(), actor(), path.item)
    headers = {"Content-Disposition": 'attachment; filename="tray.eml"'}
    return Response(blocks, mimetype="application/octet-stream", headers=headers)


@api.post(
    "/tray/<item>/attach",
    summary="Attach an item of the tray to a packet",
    responses={200: PacketShown},
    does=tray.attach,
    problems=(412,),
    etag=True,
)
@requires_role("preparer")
@idempotent
def attach_from_tray(path: TrayPath, body: Belongs) -> PacketShown:
    return tray.attach(current_app(), actor(), path.item, body.number.upper())


@api.post(
    "/tray/<item>/discard",
    summary="Discard an item of the tray",
    responses={200: Gone},
    does=tray.discard,
)
@requires_role("preparer")
@idempotent
def discard_from_tray(path: TrayPath, body: Why) -> Gone:
    tray.discard(current_app(), actor(), path.item, body.reason)
    return Gone()
