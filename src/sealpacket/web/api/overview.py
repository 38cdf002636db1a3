"""Today, finding, and whether the service can work."""

from pydantic import Field

from sealpacket.services import liveness
from sealpacket.services import today as today_service
from sealpacket.services.liveness import Health
from sealpacket.services.today import Found, Today
from sealpacket.web.api.common import Strict
from sealpacket.web.guard import ANY_ROLE, ANYONE, actor, current_app, requires_role
from sealpacket.web.operations import Api

api = Api("overview", "What needs us now, finding, and health.")


class TodayQuery(Strict):
    """Whose packets."""

    mine: bool = Field(False, description="Without packets that others look after.")


class FindQuery(Strict):
    """Words to find."""

    q: str = Field(min_length=1, max_length=200)


@api.get(
    "/today", summary="List what needs us now", responses={200: Today}, does=today_service.today
)
@requires_role(ANY_ROLE)
def today(query: TodayQuery) -> Today:
    return today_service.today(current_app(), actor(), mine=query.mine)


@api.get(
    "/find", summary="Find assets and packets", responses={200: Found}, does=today_service.find
)
@requires_role(ANY_ROLE)
def find(query: FindQuery) -> Found:
    return today_service.find(current_app(), query.q)


@api.get(
    "/health",
    summary="Get the health of the service",
    responses={200: Health},
    does=liveness.health,
)
@requires_role(ANYONE)
def health() -> Health:
    return liveness.health(current_app())
