"""The overview: how packets go, in numbers."""

from __future__ import annotations

from datetime import date

from pydantic import Field

from sealpacket.services import overview
from sealpacket.services.overview import Overview, OverviewPart
from sealpacket.web.api.common import Strict
from sealpacket.web.guard import ANY_ROLE, current_app, requires_role
from sealpacket.web.operations import Api

api = Api("overview", "How packets go, in numbers.")


class OverviewQuery(Strict):
    """Of which period, vendor and site."""

    since: date | None = Field(None, description="First day; default: a year before the last day.")
    until: date | None = Field(None, description="Last day; default: today.")
    vendor: str = Field("", max_length=60, description="Only of this vendor, by its key.")
    site: str = Field("", max_length=60, description="Only of this site, by its key.")
    part: OverviewPart | None = Field(None, description="Only this part.")


@api.get(
    "/overview",
    summary="Get how packets went in a period",
    responses={200: Overview},
    does=overview.overview,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def get_overview(query: OverviewQuery) -> Overview:
    return overview.overview(
        current_app(),
        since=query.since,
        until=query.until,
        vendor=query.vendor,
        site=query.site,
        part=query.part,
    )
