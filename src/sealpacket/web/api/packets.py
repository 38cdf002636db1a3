"""Packets: from the note to the settled end."""

from datetime import datetime
from typing import Any

from flask import Response, request
from flask_openapi3 import OpenAPI
from pydantic import AwareDatetime, BaseModel, Field

from sealpacket.core.attention import Attention
from sealpacket.core.context import ProgramContext
from sealpacket.core.coverage import Need
from sealpacket.core.life import Life, Turn
from sealpacket.core.tables import Format
from sealpacket.services.packets import asset_context, listing, tried
from sealpacket.services.packets.asset_context import ThingContext, TriedShown
from sealpacket.services.packets.draft import (
    drafts,
    foreseeing,
    from_outside,
    sheet_updates,
    unlisted,
)
from sealpacket.services.packets.follow import cases, webhooks
from sealpacket.services.packets.listing import CountedBy, Course, PacketCount, Which
from sealpacket.services.packets.lodge import deliveries, waiting
from sealpacket.services.packets.schemas import Letter, PacketBrief, PacketShown, SheetChanges
from sealpacket.services.packets.seal import later_bags, seals
from sealpacket.web.api.common import (
    Done,
    Handle,
    ListQuery,
    Number,
    OneLine,
    Strict,
    as_file,
)
from sealpacket.web.bodies import read_small
from sealpacket.web.guard import ANY_ROLE, ANYONE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import FILE, Api, Content

api = Api("packets", "One submission to a vendor: noted, answered, sealed, lodged, followed.")


class Note(Strict):
    """A note: what happened, in plain words. `asset` by id or serial, if it is known already."""

    title: OneLine = Field(min_length=3, max_length=200)
    note: str = Field("", max_length=20_000)
    need: Need = "fault"
    asset: str | None = Field(None, max_length=300)
    began_at: datetime | None = Field(None, description="When it began (RFC 3339).")
    ticket: OneLine = Field(
        "",
        max_length=60,
        description="Its number at our own service desk, to which its status is reported.",
    )
    our_reference: OneLine = Field(
        "",
        max_length=120,
        description="Its name in a system of ours, such as an alert. No other packet ever gets the same one.",
    )


class PacketChange(Strict):
    """Changes of a draft; `login` by name."""

    title: OneLine | None = Field(None, min_length=3, max_length=200)
    note: str | None = Field(None, max_length=20_000)
    need: Need | None = None
    asset: str | None = Field(None, max_length=300)
    login: str | None = Field(None, max_length=300)
    desk: str | None = Field(
        None, max_length=60, description="The key of one of the vendor's desks, as in `desks`."
    )
    ticket: OneLine | None = Field(None, max_length=60)
    began_at: datetime | None = Field(
        None, description="When it began (RFC 3339); null: not known."
    )


class AnswersGiven(Strict):
    """Answers by question; null goes back to what the register says."""

    answers: dict[str, str | None] = Field(max_length=400)


class ForeseenBody(Strict):
    """An answer to a question that the desk is likely to ask."""

    id: str = Field(
        pattern=r"^[0-9a-f]{12}$", description="The id of the question.", examples=["5f0c9a31be27"]
    )
    answer: str = Field(
        "", max_length=4000, description="The answer; empty: the question does not matter here."
    )


class Reason(Strict):
    """Why."""

    reason: str = Field(min_length=3, max_length=1000)


class PacketQuery(ListQuery):
    """Narrow the list of packets."""

    life: Life | None = Field(None, description="The state of the packet.")
    turn: Turn | None = Field(None, description="Whose turn it is.")
    need: Need | None = Field(None, description="The kind of need.")
    attention: Attention | None = Field(None, description="Why it needs us, at this moment.")
    severity: str = Field("", max_length=200, description="A severity, as the desk calls it.")
    asset: str = Field("", max_length=300, description="An asset's id or serial.")
    product: str = Field("", max_length=300, description="A product's id or part number.")
    vendor: str = Field("", max_length=300, description="A vendor's key.")
    site: str = Field("", max_length=300, description="A site's key.")
    contract: str = Field("", max_length=300, description="A contract's id or number.")
    login: str = Field("", max_length=300, description="A vendor login's id or name.")
    open: bool = Field(False, description="Only those that wait for somebody.")
    unowned: bool = Field(False, description="Only those that nobody looks after.")
    owner: str = Field("", max_length=60, description="The account that looks after it.")
    ticket: str = Field("", max_length=60, description="Its number at our own service desk.")
    our_reference: str = Field("", max_length=120, description="Its name in a system of ours.")
    updated_since: AwareDatetime | None = Field(
        None, description="Changed at this moment or later (RFC 3339, with an offset)."
    )
    created_since: AwareDatetime | None = Field(
        None, description="Noted at this moment or later (RFC 3339, with an offset)."
    )
    created_before: AwareDatetime | None = Field(None, description="Noted before this moment.")
    due_before: AwareDatetime | None = Field(
        None, description="Due before this moment (RFC 3339, with an offset)."
    )
    lodged_since: AwareDatetime | None = Field(None, description="Lodged then or later.")
    lodged_before: AwareDatetime | None = Field(None, description="Lodged before this moment.")
    settled_since: AwareDatetime | None = Field(None, description="Settled then or later.")
    settled_before: AwareDatetime | None = Field(None, description="Settled before this moment.")
    refused_since: AwareDatetime | None = Field(None, description="Refused then or later.")
    refused_before: AwareDatetime | None = Field(None, description="Refused before this moment.")
    refused_as: str = Field("", max_length=200, description="Refused with this code of the desk's.")
    course: Course | None = Field(None, description="How it went.")
    rating: int | None = Field(None, ge=1, le=5, description="How its help was rated.")
    q: str = Field(
        "",
        max_length=2000,
        description="Words, or parts of any number of it: ours, theirs, of a return, a parcel, an asset, a contract.",
    )
    sort: str = Field(
        "",
        max_length=40,
        description="A column, downwards with - before it; empty: the newest first. Columns: "
        f"{', '.join(listing.SORTED_BY)}.",
    )


class PacketPage(BaseModel):
    """Packets of a list, and the cursor of the next page."""

    items: list[PacketBrief]
    next: str | None = None


@api.get(
    "/packets",
    summary="List packets",
    responses={200: PacketPage},
    does=listing.listed,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def list_packets(query: PacketQuery) -> dict[str, Any]:
    given = query.model_dump(exclude={"limit", "cursor", "q", "sort"})
    page = listing.listed(
        current_app(),
        which=Which(**given, query=query.q),
        sort=query.sort,
        limit=query.limit,
        cursor=query.cursor,
    )
    return {"items": page.items, "next": page.next}


class PacketExportQuery(PacketQuery):
    """Narrow the list of packets as for reading it; `limit` and `cursor` do not count."""

    form: Format = Field("csv", description="The form of the file.")


@api.get(
    "/packets/export",
    summary="Export a list of packets",
    responses={200: Content(FILE)},
    does=listing.exported,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def export_packets(query: PacketExportQuery) -> Response:
    given = query.model_dump(exclude={"limit", "cursor", "q", "sort", "form"})
    which = Which(**given, query=query.q)
    found = listing.exported(current_app(), actor(), which=which, sort=query.sort, form=query.form)
    return as_file(*found)


class CountQuery(Strict):
    """By what packets are counted."""

    by: CountedBy = Field(description="The record, or the owner, they are counted by.")


class CountList(BaseModel):
    """Counts of packets."""

    items: list[PacketCount]


@api.get(
    "/packets/counts",
    summary="Count open packets",
    responses={200: CountList},
    does=listing.counted,
)
@requires_role(ANY_ROLE)
def count_packets(query: CountQuery) -> CountList:
    return CountList(items=listing.counted(current_app(), query.by))


@api.post(
    "/packets/<number>/foreseen",
    summary="Answer a question before the desk asks it",
    responses={200: PacketShown},
    does=foreseeing.answer_foreseen,
    etag=True,
)
@requires_role("preparer")
@idempotent
def answer_foreseen(path: Number, body: ForeseenBody) -> PacketShown:
    number = path.number.upper()
    return foreseeing.answer_foreseen(current_app(), actor(), number, body.id, body.answer)


@api.post(
    "/packets",
    summary="Note a packet",
    responses={201: PacketShown},
    does=drafts.note,
    etag=True,
    location="/packets/{number}",
)
@requires_role("preparer")
@idempotent
def note_packet(body: Note) -> PacketShown:
    return drafts.note(
        current_app(),
        actor(),
        title=body.title,
        text=body.note,
        need=body.need,
        asset=body.asset,
        began_at=body.began_at,
        ticket=body.ticket,
        our_reference=body.our_reference,
    )


@api.post(
    "/packets/from-context",
    summary="Note a packet from a program's context",
    responses={201: PacketShown},
    does=from_outside.note_context,
    problems=(404, 413),
    etag=True,
    location="/packets/{number}",
)
@requires_role("preparer")
@idempotent
def note_context(body: ProgramContext) -> PacketShown:
    return from_outside.note_context(current_app(), actor(), body)


class TriedBody(Strict):
    """Something that was tried, what it showed, and the exhibit that shows it."""

    step: str = Field(min_length=2, max_length=2000)
    result: str = Field("", max_length=4000)
    at: datetime | None = Field(None, description="When (RFC 3339); now, if not given.")
    exhibit: str = Field("", max_length=300)


class TriedPath(Strict):
    """A step that was tried, by its id."""

    ident: str = Field(max_length=40)


@api.post(
    "/packets/<number>/tried",
    summary="Note a step that was tried on the packet's asset",
    responses={201: TriedShown},
    does=tried.tried,
)
@requires_role("preparer")
@idempotent
def note_tried(path: Number, body: TriedBody) -> TriedShown:
    return tried.tried(current_app(), actor(), path.number.upper(), **body.model_dump())


@api.delete(
    "/tried/<ident>",
    summary="Remove a step that was noted as tried",
    responses={200: Done},
    does=tried.untry,
)
@requires_role("preparer")
def remove_tried(path: TriedPath) -> dict[str, Any]:
    tried.untry(current_app(), actor(), path.ident)
    return {"done": True}


@api.get(
    "/assets/<handle>/context",
    summary="Get an asset's context: versions, neighbours, changes, packets, steps tried",
    responses={200: ThingContext},
    does=asset_context.context,
)
@requires_role(ANY_ROLE)
def get_context(path: Handle) -> ThingContext:
    return asset_context.context(current_app(), path.handle)


@api.get(
    "/packets/<number>",
    summary="Get a packet with its answers, exhibits and checks",
    responses={200: PacketShown},
    does=drafts.get,
    etag=True,
)
@requires_role(ANY_ROLE)
def get_packet(path: Number) -> PacketShown:
    return drafts.get(current_app(), path.number.upper())


@api.patch(
    "/packets/<number>",
    summary="Change a draft",
    responses={200: PacketShown},
    does=drafts.change,
    problems=(409,),
    etag=True,
    version_needed=True,
)
@requires_role("preparer")
def change_packet(path: Number, body: PacketChange) -> PacketShown:
    changes = body.model_dump(exclude_unset=True)
    return drafts.change(current_app(), actor(), path.number.upper(), changes)


class Unlisted(Strict):
    """An asset that is not in the register yet; `vendor` and `model` by name or key."""

    vendor: OneLine = Field(min_length=2, max_length=200)
    model: OneLine = Field("", max_length=60)
    serial: OneLine = Field("", max_length=100)
    name: OneLine = Field("", max_length=200)
    site: str = Field("", max_length=40, description="A site's key.")


@api.post(
    "/packets/<number>/unlisted",
    summary="Name a draft's asset that is not in the register, and add it there",
    responses={200: PacketShown},
    does=unlisted.name_unlisted,
    etag=True,
)
@requires_role("preparer")
@idempotent
def name_unlisted(path: Number, body: Unlisted) -> PacketShown:
    number = path.number.upper()
    return unlisted.name_unlisted(current_app(), actor(), number, **body.model_dump())


@api.put(
    "/packets/<number>/answers",
    summary="Answer the desk's questions",
    responses={200: PacketShown},
    does=drafts.answer,
    problems=(409,),
    etag=True,
)
@requires_role("preparer")
def answer_questions(path: Number, body: AnswersGiven) -> PacketShown:
    return drafts.answer(current_app(), actor(), path.number.upper(), body.answers)


@api.get(
    "/packets/<number>/letter",
    summary="Get the cases as the desk will read them",
    responses={200: Letter},
    does=seals.letter,
    problems=(409,),
)
@requires_role(ANY_ROLE)
def get_letter(path: Number) -> Letter:
    return seals.letter(current_app(), path.number.upper())


@api.post(
    "/packets/<number>/seal",
    summary="Seal a draft",
    responses={200: PacketShown},
    does=seals.seal,
    etag=True,
)
@requires_role("releaser")
@idempotent
def seal_packet(path: Number) -> PacketShown:
    return seals.seal(current_app(), actor(), path.number.upper())


@api.get(
    "/packets/<number>/bag",
    summary="Get the sealed bag, a zip",
    responses={200: Content("application/zip")},
    does=seals.bag,
    etag=True,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def get_bag(path: Number) -> Response:
    number = path.number.upper()
    digest, blocks = seals.bag(current_app(), actor(), number)
    headers = {"Content-Disposition": f'attachment; filename="{number}.zip"', "ETag": f'"{digest}"'}
    return Response(blocks, mimetype="application/zip", headers=headers)


class LaterBagPath(Number):
    """A later bag of a packet."""

    place: int = Field(ge=1, le=10_000, description="Its place after the first bag, from 1.")


@api.post(
    "/packets/<number>/later-bags",
    summary="Seal what came after the last bag",
    responses={200: PacketShown},
    does=later_bags.seal_later,
    etag=True,
)
@requires_role("releaser")
@idempotent
def seal_later(path: Number) -> PacketShown:
    return later_bags.seal_later(current_app(), actor(), path.number.upper())


@api.get(
    "/packets/<number>/later-bags/<place>",
    summary="Get a later bag, a zip",
    responses={200: Content("application/zip")},
    does=later_bags.later_bag,
    etag=True,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def get_later_bag(path: LaterBagPath) -> Response:
    number = path.number.upper()
    digest, blocks = later_bags.later_bag(current_app(), actor(), number, path.place)
    name = f"{number}-later-{path.place}.zip"
    headers = {"Content-Disposition": f'attachment; filename="{name}"', "ETag": f'"{digest}"'}
    return Response(blocks, mimetype="application/zip", headers=headers)


class WhyInClear(Strict):
    """Why a bag is fetched that holds originals."""

    reason: str = Field(
        min_length=1, max_length=500, description="The reason; the custody log keeps it."
    )


@api.post(
    "/packets/<number>/later-bags/<place>/in-clear",
    summary="Get a later bag that holds originals, a zip",
    responses={200: Content("application/zip")},
    does=later_bags.later_bag_in_clear,
    etag=True,
)
@requires_role("preparer", "releaser")
def get_later_bag_in_clear(path: LaterBagPath, body: WhyInClear) -> Response:
    number = path.number.upper()
    digest, blocks = later_bags.later_bag_in_clear(
        current_app(), actor(), number, path.place, body.reason
    )
    headers = {
        "Content-Disposition": f'attachment; filename="{number}-later-{path.place}-in-clear.zip"',
        "ETag": f'"{digest}"',
    }
    return Response(blocks, mimetype="application/zip", headers=headers)


@api.post(
    "/packets/<number>/lodge",
    summary="Deliver a sealed packet to its desk",
    responses={202: PacketShown},
    does=deliveries.lodge,
    etag=True,
)
@requires_role("releaser")
@idempotent
def lodge_packet(path: Number) -> PacketShown:
    return deliveries.lodge(current_app(), actor(), path.number.upper())


@api.post(
    "/packets/<number>/try-now",
    summary="Retry delivery now",
    responses={202: PacketShown},
    does=waiting.try_now,
    etag=True,
    sends=True,
)
@requires_role("preparer", "releaser")
@idempotent
def try_now(path: Number) -> PacketShown:
    return waiting.try_now(current_app(), actor(), path.number.upper())


@api.post(
    "/packets/<number>/cancel",
    summary="Cancel lodging while nothing can have reached the desk",
    responses={200: PacketShown},
    does=waiting.cancel,
    etag=True,
)
@requires_role("releaser")
@idempotent
def cancel(path: Number) -> PacketShown:
    return waiting.cancel(current_app(), actor(), path.number.upper())


@api.post(
    "/packets/<number>/follow",
    summary="Ask the desk for news",
    responses={202: PacketShown},
    does=cases.follow,
    etag=True,
)
@requires_role("preparer", "releaser")
@idempotent
def follow_packet(path: Number) -> PacketShown:
    return cases.follow(current_app(), actor(), path.number.upper())


@api.get(
    "/packets/<number>/sheet",
    summary="Preview what the desk's newer sheet would change",
    responses={200: SheetChanges},
    does=sheet_updates.what_changes,
    problems=(409,),
)
@requires_role(ANY_ROLE)
def sheet_changes(path: Number) -> SheetChanges:
    return sheet_updates.what_changes(current_app(), path.number.upper())


@api.post(
    "/packets/<number>/sheet",
    summary="Move a draft to the newer sheet",
    responses={200: PacketShown},
    does=sheet_updates.bring_along,
    etag=True,
)
@requires_role("preparer")
@idempotent
def bring_along(path: Number) -> PacketShown:
    return sheet_updates.bring_along(current_app(), actor(), path.number.upper())


@api.post(
    "/packets/<number>/reopen",
    summary="Return a packet to drafting, after a refusal or before lodging",
    responses={200: PacketShown},
    does=seals.reopen,
    etag=True,
)
@requires_role("releaser", "preparer")
@idempotent
def reopen_packet(path: Number) -> PacketShown:
    return seals.reopen(current_app(), actor(), path.number.upper())


@api.post(
    "/packets/<number>/release/ask",
    summary="Ask for a second person to seal a draft",
    responses={200: PacketShown},
    does=seals.ask_release,
    etag=True,
)
@requires_role("preparer")
@idempotent
def ask_release(path: Number) -> PacketShown:
    return seals.ask_release(current_app(), actor(), path.number.upper())


@api.post(
    "/packets/<number>/withdraw",
    summary="Withdraw a packet before the desk has it",
    responses={200: PacketShown},
    does=seals.withdraw,
    etag=True,
)
@requires_role("preparer")
@idempotent
def withdraw_packet(path: Number, body: Reason) -> PacketShown:
    return seals.withdraw(current_app(), actor(), path.number.upper(), body.reason)


class HookPath(BaseModel):
    """A desk that calls."""

    key: str = Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")


def add_hooks(app: OpenAPI) -> None:
    """Where desks call back: a call has to be signed, and only makes us look."""

    @app.post("/hooks/<key>", doc_ui=False)
    @requires_role(ANYONE)
    def hook(path: HookPath) -> Response:
        headers = {name.lower(): value for name, value in request.headers.items()}
        webhooks.called(current_app(), path.key, headers, read_small(webhooks.LARGEST_CALL))
        return Response(status=204)
