"""The overview: how packets go, in numbers."""

from __future__ import annotations

from datetime import date

from flask import Response
from pydantic import Field

from sealpacket.core.tables import Format
from sealpacket.services import overview
from sealpacket.services.overview import Overview, OverviewPart, OverviewRecord
from sealpacket.services.table_files import table_file
from sealpacket.web.api.common import Strict, as_file
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.operations import FILE, Api, Content

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
    return overview.overview(current_app(), **query.model_dump())


class OverviewExportQuery(OverviewQuery):
    """Of which period, vendor and site, and the form of the file."""

    form: Format = Field("csv", description="The form of the file.")


@api.get(
    "/overview/export",
    summary="Export how packets went in a period",
    responses={200: Content(FILE)},
    does=(overview.overview, table_file),
    problems=(404,),
)
@requires_role(ANY_ROLE)
def export_overview(query: OverviewExportQuery) -> Response:
    found = overview.overview(current_app(), **query.model_dump(exclude={"form"}))
    table = ("overview", OverviewRecord, overview.records(found))
    return as_file(*table_file(current_app(), actor(), "overview", [table], query.form))
