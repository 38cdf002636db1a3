"""Today, finding, and whether the service can work."""

from pydantic import AwareDatetime, Field

from sealpacket.services import finding, liveness
from sealpacket.services import today as today_service
from sealpacket.services.finding import Asked, Found, FoundKind
from sealpacket.services.liveness import Health
from sealpacket.services.today import Today
from sealpacket.web.api.common import Strict
from sealpacket.web.guard import ANY_ROLE, ANYONE, actor, current_app, requires_role
from sealpacket.web.operations import Api

api = Api("today", "What needs us now, finding, and health.")


class TodayQuery(Strict):
    """Whose packets."""

    mine: bool = Field(False, description="Without packets that others look after.")


class FindQuery(Strict):
    """Words or a number to find, and where."""

    q: str = Field(
        min_length=1, max_length=2000, description="Words, or a number or a part of one."
    )
    kind: FoundKind | None = Field(None, description="Only this kind of record.")
    vendor: str = Field("", max_length=300, description="Only of this vendor: its key.")
    product: str = Field("", max_length=300, description="Only of this product: its part number.")
    since: AwareDatetime | None = Field(
        None, description="Only what is not older (RFC 3339, with an offset)."
    )
    limit: int = Field(
        finding.FEW, ge=1, le=finding.MOST, description="Maximum number of records of each kind."
    )


@api.get(
    "/today", summary="List what needs us now", responses={200: Today}, does=today_service.today
)
@requires_role(ANY_ROLE)
def today(query: TodayQuery) -> Today:
    return today_service.today(current_app(), actor(), mine=query.mine)


@api.get(
    "/find",
    summary="Find records of every kind",
    responses={200: Found},
    does=finding.find,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def find(query: FindQuery) -> Found:
    asked = Asked(query.q, query.vendor, query.product, query.since, query.limit)
    return finding.find(current_app(), asked, (query.kind,) if query.kind else ())


@api.get(
    "/health",
    summary="Get the health of the service",
    responses={200: Health},
    does=liveness.health,
)
@requires_role(ANYONE)
def health() -> Health:
    return liveness.health(current_app())
