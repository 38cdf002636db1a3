"""Events, for programs that follow along."""

from flask import Response, jsonify
from pydantic import Field

from sealpacket.services import events
from sealpacket.services.events import EventPage
from sealpacket.web.api.common import Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.operations import Api
from sealpacket.web.serving.application import ASK_AGAIN

api = Api("events", "Everything that happens, in order.")

LONGEST_WAIT = 25
"""Seconds that a request may wait for the next event: less than proxies wait for an answer."""


class EventQuery(Strict):
    """Which events."""

    after: int | None = Field(
        None,
        ge=0,
        description="Number of the last event that you have; without it you learn where to begin.",
    )
    packet: str = Field("", pattern=r"^(P-\d{4,12})?$", description="Only events of this packet.")
    limit: int = Field(100, ge=1, le=events.MOST, description="Maximum number of events.")
    wait: int = Field(
        0, ge=0, le=LONGEST_WAIT, description="Seconds to wait for an event if there is none yet."
    )


@api.get(
    "/events", summary="List events, oldest first", responses={200: EventPage}, does=events.events
)
@requires_role(ANY_ROLE)
def get_events(query: EventQuery) -> Response:
    page = events.events(
        current_app(), actor(), after=query.after, packet=query.packet, limit=query.limit
    )
    response = jsonify(page)
    if query.wait and query.after is not None and not page.items:
        response.headers[ASK_AGAIN] = f"{query.wait} {page.next}"
    return response
