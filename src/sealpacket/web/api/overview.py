"""Today, finding, and whether the service can work."""

from datetime import date, datetime
from typing import Any

from pydantic import BaseModel, Field

from sealpacket.services import liveness
from sealpacket.services import today as today_service
from sealpacket.services.packets.schemas import PacketBrief
from sealpacket.services.register.forms import AssetShown
from sealpacket.web.api.common import Strict, make_blueprint
from sealpacket.web.guard import ANY_ROLE, ANYONE, current_app, requires_role

api = make_blueprint("overview", "What needs us now, finding, and health.")


class Ending(BaseModel):
    """A contract that ends within 90 days; `days` from today."""

    contract: str
    vendor: str
    title: str
    ends_on: date
    notice_on: date | None
    days: int
    assets: int


class Today(BaseModel):
    """Whose turn it is."""

    day: date
    worker: bool = Field(description="Whether a worker is there; without one nothing is redacted, sent or followed.")
    worker_seen_at: datetime | None
    ours: list[PacketBrief]
    theirs: list[PacketBrief]
    ending: list[Ending]


class Found(BaseModel):
    """What was found."""

    packets: list[PacketBrief]
    assets: list[AssetShown]


class FindQuery(Strict):
    """Words to find."""

    q: str = Field(min_length=1, max_length=200)


class Health(BaseModel):
    """The service answers, and so does its database; whether a worker is there, and when one was seen last."""

    database: bool
    worker: bool
    worker_seen_at: datetime | None


@api.get("/today", summary="What needs us now, before all else", responses={200: Today})
@requires_role(ANY_ROLE)
def today() -> dict[str, Any]:
    return today_service.today(current_app())


@api.get("/find", summary="Find assets and packets by whatever is known", responses={200: Found})
@requires_role(ANY_ROLE)
def find(query: FindQuery) -> dict[str, Any]:
    return today_service.find(current_app(), query.q)


@api.get("/health", summary="Whether the service can work", responses={200: Health})
@requires_role(ANYONE)
def health() -> dict[str, Any]:
    return liveness.health(current_app())
