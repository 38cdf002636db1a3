"""Rules by which two people release a packet."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from sealpacket.services import release_rules
from sealpacket.services.release_rules import ReleaseRuleShown
from sealpacket.web.api.common import Done, OneLine, Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api

api = Api("release rules", "When whoever seals a packet must not have prepared it.")


class ReleaseRules(BaseModel):
    """All rules, the oldest first."""

    items: list[ReleaseRuleShown]


class NewReleaseRule(Strict):
    """A rule to add. Packets to which all that is set applies need a second person; with nothing set, all do."""

    vendor: str | None = Field(None, max_length=100, description="Vendor key; null: any.")
    severity: OneLine | None = Field(
        None, max_length=40, description="The severity as its desk calls it; null: any."
    )
    kind: str | None = Field(
        None, max_length=40, description="A kind of sensitive value in it; null: any or none."
    )
    reason: OneLine = Field(
        min_length=1, max_length=200, description="The reason, shown to whoever seals."
    )


class ReleaseRulePath(BaseModel):
    """A rule by its id."""

    ident: str = Field(max_length=40)


@api.get(
    "/release-rules",
    summary="List release rules",
    responses={200: ReleaseRules},
    does=release_rules.listed,
)
@requires_role(ANY_ROLE)
def list_release_rules() -> dict[str, Any]:
    return {"items": release_rules.listed(current_app())}


@api.post(
    "/release-rules",
    summary="Add a release rule",
    responses={201: ReleaseRuleShown},
    does=release_rules.add,
)
@requires_role("admin")
@idempotent
def add_release_rule(body: NewReleaseRule) -> ReleaseRuleShown:
    return release_rules.add(current_app(), actor(), **body.model_dump())


@api.delete(
    "/release-rules/<ident>",
    summary="Remove a release rule",
    responses={200: Done},
    does=release_rules.remove,
)
@requires_role("admin")
def remove_release_rule(path: ReleaseRulePath) -> dict[str, Any]:
    release_rules.remove(current_app(), actor(), path.ident)
    return {"done": True}
