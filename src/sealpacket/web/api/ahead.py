"""Looking ahead: what ends, what is not covered, what is paid twice; calendars and digests."""

from datetime import date, datetime
from typing import Any, Literal

from flask import Response
from flask_openapi3 import OpenAPI
from pydantic import BaseModel, Field

from sealpacket.core.tables import Format
from sealpacket.services import ahead, digests
from sealpacket.services.digests import CalendarAddress, DigestShown
from sealpacket.services.register.forms import Day
from sealpacket.services.table_files import table_file
from sealpacket.web.api.common import Strict, as_file
from sealpacket.web.guard import ANY_ROLE, ANYONE, actor, current_app, requires_role
from sealpacket.web.operations import FILE, Api, Content

api = Api("ahead", "What ends, what is not covered, what is paid for twice or for nothing.")


class AheadQuery(Strict):
    """Filters: vendor or site (keys), and the days within which contracts end."""

    vendor: str = Field("", max_length=60)
    site: str = Field("", max_length=60)
    days: int = Field(90, ge=1, le=365)


class ContractAhead(BaseModel):
    """A contract, and what it costs in minor units."""

    contract: str
    contract_id: str
    title: str
    vendor: str
    vendor_name: str
    ends_on: date
    cost_minor: int | None
    currency: str | None


class EndingAhead(ContractAhead):
    """A contract that ends: days left, assets covered, and the last day for notice if it is still to come."""

    days: int
    assets: int
    notice_on: date | None
    notice_missed: bool


class LapsedLately(ContractAhead):
    """A contract that has ended, with the days since."""

    days: int


class CostAhead(ContractAhead):
    """The cost of a contract for each asset that it covers today."""

    assets: int
    each_minor: int | None


class AssetAhead(BaseModel):
    """An asset that something is to be done about."""

    serial: str
    asset_id: str
    name: str
    product: str
    vendor: str
    vendor_name: str
    site: str | None
    site_name: str | None


class Uncovered(AssetAhead):
    """Nothing covers it today."""

    reason: str


class GapAhead(AssetAhead):
    """Nothing will cover it on these days, both included."""

    starts_on: date
    ends_on: date
    days: int


class PaidTwice(AssetAhead):
    """Several contracts cover it."""

    contracts: list[str]


class PaidForNothing(AssetAhead):
    """It is retired, and still listed."""

    contracts: list[str]
    entitlement: str


class AheadCounts(BaseModel):
    """How many there are of each."""

    ending: int
    lapsed: int
    uncovered: int
    gaps: int
    twice: int
    retired: int
    costs: int


class Ahead(BaseModel):
    """The time ahead. Not `fresh`: the register has changed since, and a new one is being worked out."""

    day: date
    as_of: datetime | None
    fresh: bool
    counts: AheadCounts
    ending: list[EndingAhead]
    lapsed: list[LapsedLately]
    uncovered: list[Uncovered]
    gaps: list[GapAhead]
    twice: list[PaidTwice]
    retired: list[PaidForNothing]
    costs: list[CostAhead]


class AlignedQuery(Strict):
    """Which contracts are to end on one day, and on which; the last end among them, if not given."""

    vendor: str = Field("", max_length=60)
    contracts: list[str] = Field([], max_length=200)
    on: Day | None = None


class Extended(ContractAhead):
    """The extension of a contract: days, and the cost in minor units, pro rata of its present term."""

    days: int
    extension_minor: int | None


class Total(BaseModel):
    """A sum in one currency."""

    currency: str
    minor: int


class Aligned(BaseModel):
    """The cost of one common end; `later` end later, of `unknown` the cost is not known."""

    on: date
    items: list[Extended]
    later: list[str]
    totals: list[Total]
    unknown: list[str]


class DigestForm(Strict):
    """Digest settings: how often, and about which sites and vendors (none named: all)."""

    every: Literal["never", "daily", "weekly", "monthly"]
    sites: list[str] = Field([], max_length=500)
    vendors: list[str] = Field([], max_length=500)


@api.get(
    "/ahead",
    summary="List what ends, lapses, overlaps or is not covered",
    responses={200: Ahead},
    does=ahead.ahead,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def get_ahead(query: AheadQuery) -> dict[str, Any]:
    return ahead.ahead(current_app(), vendor=query.vendor, site=query.site, days=query.days)


class AheadExportQuery(AheadQuery):
    """Filters, and the form of the file."""

    form: Format = Field("csv", description="The form of the file.")


_TABLES: dict[str, type[BaseModel]] = {
    "ending": EndingAhead,
    "lapsed": LapsedLately,
    "uncovered": Uncovered,
    "gaps": GapAhead,
    "twice": PaidTwice,
    "retired": PaidForNothing,
    "costs": CostAhead,
}


@api.get(
    "/ahead/export",
    summary="Export what ends, lapses, overlaps or is not covered",
    responses={200: Content(FILE)},
    does=(ahead.ahead, table_file),
    problems=(404,),
)
@requires_role(ANY_ROLE)
def export_ahead(query: AheadExportQuery) -> Response:
    found = ahead.ahead(current_app(), vendor=query.vendor, site=query.site, days=query.days)
    tables = [
        (name, model, [model.model_validate(row) for row in found[name]])
        for name, model in _TABLES.items()
    ]
    return as_file(*table_file(current_app(), actor(), "ahead", tables, query.form))


@api.get(
    "/ahead/aligned",
    summary="Get the cost of aligning contracts on one end date",
    responses={200: Aligned},
    does=ahead.aligned,
)
@requires_role(ANY_ROLE)
def get_aligned(query: AlignedQuery) -> dict[str, Any]:
    return ahead.aligned(current_app(), vendor=query.vendor, contracts=query.contracts, on=query.on)


@api.get(
    "/digest",
    summary="Get your digest settings",
    responses={200: DigestShown},
    does=digests.settings,
)
@requires_role(ANY_ROLE)
def get_digest() -> DigestShown:
    return digests.settings(current_app(), actor())


@api.put(
    "/digest",
    summary="Choose how often you get a digest",
    responses={200: DigestShown},
    does=digests.change,
)
@requires_role(ANY_ROLE)
def put_digest(body: DigestForm) -> DigestShown:
    return digests.change(
        current_app(), actor(), every=body.every, sites=body.sites, vendors=body.vendors
    )


@api.post(
    "/digest/calendar",
    summary="Create a new private calendar address",
    responses={200: CalendarAddress},
    does=digests.new_calendar,
)
@requires_role(ANY_ROLE)
def new_calendar() -> CalendarAddress:
    return digests.new_calendar(current_app(), actor())


@api.delete(
    "/digest/calendar",
    summary="Revoke the private calendar address",
    responses={200: DigestShown},
    does=digests.end_calendar,
)
@requires_role(ANY_ROLE)
def end_calendar() -> DigestShown:
    return digests.end_calendar(current_app(), actor())


class CalendarPath(BaseModel):
    """The secret part of a private address."""

    token: str = Field(max_length=100)


def add_calendar(app: OpenAPI) -> None:
    """The calendars themselves, for calendar programs: whoever has the address may read."""

    @app.get("/calendar/<token>.ics", doc_ui=False)
    @requires_role(ANYONE)
    def calendar(path: CalendarPath) -> Response:
        feed = digests.calendar(current_app(), path.token)
        return Response(
            feed, content_type="text/calendar; charset=utf-8", headers={"Cache-Control": "private"}
        )
