"""Order papers: what they propose, and what is entered from them."""

from datetime import datetime
from typing import Any, Literal

from flask import Response, request
from pydantic import BaseModel, Field

from sealpacket.core.papers import Item, Proposal
from sealpacket.services import papers
from sealpacket.services.papers import keeping
from sealpacket.web.api.common import ListQuery, Strict, as_file, blocks_sent, make_blueprint
from sealpacket.web.guard import actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent

api = make_blueprint("papers", "Order confirmations, and what is entered from them.")

PaperState = Literal["reading", "read", "entered", "aside", "failed"]


class PaperName(Strict):
    """The file's name."""

    name: str = Field(min_length=1, max_length=200)


class PaperPath(BaseModel):
    """A paper by its id."""

    ident: str = Field(max_length=60)


class PagePath(PaperPath):
    """One page of a paper, from 0."""

    number: int = Field(ge=0, le=1000)


class PaperQuery(ListQuery):
    """Which papers."""

    state: PaperState | Literal[""] = ""


class PaperBrief(BaseModel):
    """A paper in a list; `vendor` and `contract` are what it proposes first, `items` how many things it names."""

    id: str
    name: str
    kind: Literal["", "pdf", "mail"]
    size: int
    state: PaperState
    status_text: str
    by: str
    at: datetime
    entered_by: str | None
    entered_at: datetime | None
    vendor: str | None
    contract: str | None
    contract_id: str | None
    items: int


class PaperPageShown(BaseModel):
    """A page: a picture, or text of fixed columns with its lines. Passcodes are covered."""

    kind: Literal["picture", "text"]
    width: float
    height: float
    source: str
    lines: list[str]


class EnteredRecord(BaseModel):
    """What entering did to a record."""

    kind: str
    called: str
    outcome: str
    record_id: str


class PaperShown(PaperBrief):
    """A paper with all that it proposes, each with its place on a page."""

    pages: list[PaperPageShown]
    proposals: list[Proposal]
    bought: list[Item]
    entered: list[EnteredRecord]


class PaperPage(BaseModel):
    """Papers, the newest first."""

    items: list[PaperBrief]
    next: str | None


class EntryChange(BaseModel):
    """A field that entering would change."""

    field: str
    old: Any
    new: Any


class EntryEffect(EnteredRecord):
    """What entering would do to a record, field by field."""

    changes: list[EntryChange]


class EntryPreview(BaseModel):
    """What entering would do."""

    items: list[EntryEffect]


class Passcodes(BaseModel):
    """Passcodes in clear. That they were shown is in the custody log."""

    passcodes: list[str]


@api.post(
    "/papers",
    summary="Send a PDF or mail with an order confirmation; it is read",
    responses={201: PaperShown},
    openapi_extensions={"requestBody": {"content": {"application/octet-stream": {}}}},
)
@requires_role("keeper")
@idempotent
def send_paper(query: PaperName) -> tuple[dict[str, Any], int]:
    request.max_content_length = keeping.LARGEST
    return papers.receive(current_app(), actor(), query.name, blocks_sent(query.name)), 201


@api.get("/papers", summary="Papers, the newest first", responses={200: PaperPage})
@requires_role("keeper")
def list_papers(query: PaperQuery) -> dict[str, Any]:
    page = papers.listed(current_app(), state=query.state, limit=query.limit, cursor=query.cursor)
    return {"items": page.items, "next": page.next}


@api.get("/papers/<ident>", summary="A paper and what it proposes", responses={200: PaperShown})
@requires_role("keeper")
def get_paper(path: PaperPath) -> dict[str, Any]:
    return papers.get(current_app(), path.ident)


@api.get(
    "/papers/<ident>/pages/<number>",
    summary="A page as a picture, its passcodes covered",
    responses={200: {"content": {"image/png": {"schema": {"type": "string", "format": "binary"}}}}},
)
@requires_role("keeper")
def paper_page(path: PagePath) -> Response:
    picture = papers.page_picture(current_app(), path.ident, path.number)
    return Response(picture, mimetype="image/png", headers={"Cache-Control": "private, max-age=3600"})


@api.get(
    "/papers/<ident>/file",
    summary="The paper as it came; the custody log keeps who asked",
    responses={200: {"content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}},
)
@requires_role("keeper")
def paper_file(path: PaperPath) -> Response:
    return as_file(*papers.content(current_app(), actor(), path.ident))


@api.post("/papers/<ident>/passcode", summary="Show the passcodes of a paper", responses={200: Passcodes})
@requires_role("keeper")
def show_paper_passcode(path: PaperPath) -> dict[str, Any]:
    return {"passcodes": papers.reveal(current_app(), actor(), path.ident)}


@api.post("/papers/<ident>/preview", summary="What entering would do", responses={200: EntryPreview})
@requires_role("keeper")
def preview_entry(path: PaperPath, body: papers.PaperEntry) -> dict[str, Any]:
    return {"items": papers.preview(current_app(), actor(), path.ident, body)}


@api.post("/papers/<ident>/enter", summary="Enter what was read and said yes to", responses={200: PaperShown})
@requires_role("keeper")
@idempotent
def enter_paper(path: PaperPath, body: papers.PaperEntry) -> dict[str, Any]:
    return papers.enter(current_app(), actor(), path.ident, body)


@api.post("/papers/<ident>/aside", summary="Set a paper aside", responses={200: PaperShown})
@requires_role("keeper")
@idempotent
def set_paper_aside(path: PaperPath) -> dict[str, Any]:
    return papers.set_aside(current_app(), actor(), path.ident)
