"""Order documents: what they propose, and what is entered from them."""

from typing import Any, Literal

from flask import Response, request
from pydantic import BaseModel, Field

from sealpacket.services import order_documents
from sealpacket.services.order_documents import keeping
from sealpacket.services.order_documents.schemas import (
    EntryEffect,
    OrderDocumentBrief,
    OrderDocumentShown,
    OrderDocumentState,
)
from sealpacket.web.api.common import ListQuery, Strict, as_file, blocks_sent
from sealpacket.web.guard import actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import FILE, Api, Content

api = Api("order documents", "Order confirmations, and what is entered from them.")


class OrderDocumentName(Strict):
    """The file's name."""

    name: str = Field(min_length=1, max_length=200)


class OrderDocumentPath(BaseModel):
    """An order document by its id."""

    ident: str = Field(max_length=60)


class OrderDocumentPagePath(OrderDocumentPath):
    """One page of an order document, from 0."""

    number: int = Field(ge=0, le=1000)


class OrderDocumentQuery(ListQuery):
    """Which order documents."""

    state: OrderDocumentState | Literal[""] = ""


class OrderDocumentPage(BaseModel):
    """List order documents, newest first."""

    items: list[OrderDocumentBrief]
    next: str | None


class EntryPreview(BaseModel):
    """The effect that entering would have."""

    items: list[EntryEffect]


class PasscodeList(BaseModel):
    """Passcodes in clear. That they were shown is in the custody log."""

    passcodes: list[str]


@api.post(
    "/order-documents",
    summary="Upload an order confirmation, a PDF or mail",
    responses={201: OrderDocumentShown},
    does=order_documents.receive,
    takes=FILE,
    location="/order-documents/{id}",
)
@requires_role("keeper")
@idempotent
def send_order_document(query: OrderDocumentName) -> OrderDocumentShown:
    request.max_content_length = keeping.LARGEST
    return order_documents.receive(current_app(), actor(), query.name, blocks_sent(query.name))


@api.get(
    "/order-documents",
    summary="List order documents, newest first",
    responses={200: OrderDocumentPage},
    does=order_documents.listed,
)
@requires_role("keeper")
def list_order_documents(query: OrderDocumentQuery) -> dict[str, Any]:
    page = order_documents.listed(
        current_app(), state=query.state, limit=query.limit, cursor=query.cursor
    )
    return {"items": page.items, "next": page.next}


@api.get(
    "/order-documents/<ident>",
    summary="Get an order document",
    responses={200: OrderDocumentShown},
    does=order_documents.get,
)
@requires_role("keeper")
def get_order_document(path: OrderDocumentPath) -> OrderDocumentShown:
    return order_documents.get(current_app(), path.ident)


@api.get(
    "/order-documents/<ident>/pages/<number>",
    summary="Get a page as a picture, with passcodes covered",
    responses={200: Content("image/png")},
    does=order_documents.page_picture,
)
@requires_role("keeper")
def order_document_page(path: OrderDocumentPagePath) -> Response:
    picture = order_documents.page_picture(current_app(), path.ident, path.number)
    return Response(
        picture, mimetype="image/png", headers={"Cache-Control": "private, max-age=3600"}
    )


@api.get(
    "/order-documents/<ident>/file",
    summary="Get the original order document; recorded in the custody log",
    responses={200: Content(FILE)},
    does=order_documents.content,
)
@requires_role("keeper")
def order_document_file(path: OrderDocumentPath) -> Response:
    return as_file(*order_documents.content(current_app(), actor(), path.ident))


@api.post(
    "/order-documents/<ident>/passcode",
    summary="Show an order document's passcodes; recorded in the custody log",
    responses={200: PasscodeList},
    does=order_documents.reveal,
    problems=(409,),
)
@requires_role("keeper")
def show_order_document_passcode(path: OrderDocumentPath) -> dict[str, Any]:
    return {"passcodes": order_documents.reveal(current_app(), actor(), path.ident)}


@api.post(
    "/order-documents/<ident>/preview",
    summary="Preview the effects of entering an order document",
    responses={200: EntryPreview},
    does=order_documents.preview,
    problems=(409,),
)
@requires_role("keeper")
def preview_entry(
    path: OrderDocumentPath, body: order_documents.OrderDocumentEntry
) -> dict[str, Any]:
    return {"items": order_documents.preview(current_app(), actor(), path.ident, body)}


@api.post(
    "/order-documents/<ident>/enter",
    summary="Enter a confirmed proposal",
    responses={200: OrderDocumentShown},
    does=order_documents.enter,
)
@requires_role("keeper")
@idempotent
def enter_order_document(
    path: OrderDocumentPath, body: order_documents.OrderDocumentEntry
) -> OrderDocumentShown:
    return order_documents.enter(current_app(), actor(), path.ident, body)


@api.post(
    "/order-documents/<ident>/aside",
    summary="Set an order document aside",
    responses={200: OrderDocumentShown},
    does=order_documents.set_aside,
)
@requires_role("keeper")
@idempotent
def set_order_document_aside(path: OrderDocumentPath) -> OrderDocumentShown:
    return order_documents.set_aside(current_app(), actor(), path.ident)
