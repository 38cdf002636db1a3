"""Views of the register that people keep."""

from typing import Any

from pydantic import BaseModel, Field

from sealpacket.services import saved_views
from sealpacket.services.saved_views import ViewShown
from sealpacket.web.api.common import Done, Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api

api = Api("views", "Lists of the register as someone keeps them, under a name.")


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
