"""Views of lists that people keep, and records that they use often."""

from typing import Any

from pydantic import BaseModel, Field

from sealpacket.services import often_used as used
from sealpacket.services import saved_views
from sealpacket.services.often_used import UsedItem, UsedKind
from sealpacket.services.saved_views import ViewShown
from sealpacket.web.api.common import Done, Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api

api = Api("views", "Lists as someone keeps them under a name, and records that they use often.")


class ViewForm(Strict):
    """A view: a list, and the query of its address as the console writes it."""

    plural: str = Field(max_length=20, description="Which list: assets, contracts, …")
    name: str = Field(min_length=1, max_length=80)
    query: str = Field("", max_length=2000)
    shared: bool = False


class ViewQuery(Strict):
    """The list to which views belong."""

    plural: str = Field("", max_length=20)


class ViewPath(BaseModel):
    """A view by its id."""

    ident: str = Field(max_length=60)


class Views(BaseModel):
    """Views by name."""

    items: list[ViewShown]


@api.get(
    "/views",
    summary="List your views and shared ones",
    responses={200: Views},
    does=saved_views.listed,
)
@requires_role(ANY_ROLE)
def list_views(query: ViewQuery) -> dict[str, Any]:
    return {"items": saved_views.listed(current_app(), actor(), query.plural)}


@api.post("/views", summary="Save a view", responses={201: ViewShown}, does=saved_views.keep)
@requires_role(ANY_ROLE)
@idempotent
def keep_view(body: ViewForm) -> ViewShown:
    return saved_views.keep(current_app(), actor(), **body.model_dump())


@api.delete(
    "/views/<ident>",
    summary="Delete one of your views",
    responses={200: Done},
    does=saved_views.drop,
)
@requires_role(ANY_ROLE)
def drop_view(path: ViewPath) -> dict[str, Any]:
    saved_views.drop(current_app(), actor(), path.ident)
    return {"done": True}


class UsedList(BaseModel):
    """Records that you use often, by kind; pinned ones first."""

    items: list[UsedItem]


class PinPath(BaseModel):
    """A record that can be pinned."""

    kind: UsedKind
    handle: str = Field(max_length=300, description="An id, a serial, or a key.")


@api.get(
    "/often-used",
    summary="List assets, contacts and desks that you use often",
    responses={200: UsedList},
    does=used.often_used,
)
@requires_role(ANY_ROLE)
def often_used() -> dict[str, Any]:
    return {"items": used.often_used(current_app(), actor())}


@api.put(
    "/pins/<kind>/<path:handle>",
    summary="Pin a record, so that it is offered first",
    responses={200: UsedList},
    does=used.pin,
)
@requires_role(ANY_ROLE)
def pin(path: PinPath) -> dict[str, Any]:
    return {"items": used.pin(current_app(), actor(), path.kind, path.handle)}


@api.delete(
    "/pins/<kind>/<path:handle>",
    summary="Unpin a record",
    responses={200: UsedList},
    does=used.unpin,
)
@requires_role(ANY_ROLE)
def unpin(path: PinPath) -> dict[str, Any]:
    return {"items": used.unpin(current_app(), actor(), path.kind, path.handle)}
