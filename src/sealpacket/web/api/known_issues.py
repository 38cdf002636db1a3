"""Known issues that logs are searched for."""

from typing import Any

from pydantic import BaseModel, Field

from sealpacket.core.evidence.summary.known import make_known
from sealpacket.services import known_issues
from sealpacket.services.known_issues import KnownIssueShown
from sealpacket.web.api.common import Done, Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.operations import Api

api = Api("known-issues", "Known issues: what a line of a log means, and what to do.")


class KnownIssues(BaseModel):
    """All of them, by key."""

    items: list[KnownIssueShown]


class KnownIssuePath(Strict):
    """A known issue by its key."""

    key: str = Field(max_length=63)


class KnownIssueBody(Strict):
    """A known issue; `packet` is the settled packet that taught it."""

    title: str = Field(min_length=1, max_length=400)
    pattern: str = Field(
        min_length=1, max_length=400, description="A regular expression (RE2) that its lines have."
    )
    meaning: str = Field("", max_length=4000)
    advice: str = Field("", max_length=4000)
    fixed_in: str = Field("", max_length=200)
    link: str = Field("", max_length=400, pattern=r"^$|^https://[^\s]+$")
    vendor: str = Field("", max_length=40, description="Only for this vendor's things, by its key.")
    models: list[str] = Field([], max_length=100, description="Only for these models.")
    packet: str = Field("", max_length=20)


@api.get(
    "/known-issues",
    summary="List known issues",
    responses={200: KnownIssues},
    does=known_issues.listed,
)
@requires_role(ANY_ROLE)
def list_known_issues() -> dict[str, Any]:
    return {"items": known_issues.listed(current_app())}


@api.put(
    "/known-issues/<key>",
    summary="Save a known issue",
    responses={200: KnownIssueShown},
    does=known_issues.put,
    problems=(409,),
)
@requires_role("preparer")
def put_known_issue(path: KnownIssuePath, body: KnownIssueBody) -> KnownIssueShown:
    issue = make_known({"key": path.key, **body.model_dump(exclude={"packet"})})
    return known_issues.put(current_app(), actor(), issue, body.packet)


@api.delete(
    "/known-issues/<key>",
    summary="Delete a known issue",
    responses={200: Done},
    does=known_issues.remove,
)
@requires_role("preparer")
def remove_known_issue(path: KnownIssuePath) -> dict[str, Any]:
    known_issues.remove(current_app(), actor(), path.key)
    return {"done": True}
