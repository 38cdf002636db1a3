"""Cover: of one asset, of many, of everything on a day, and over time."""

import json
from collections.abc import Iterator
from dataclasses import asdict
from datetime import UTC, date, datetime
from typing import Any, Literal

from flask import Response, stream_with_context
from pydantic import BaseModel, Field

from sealpacket.core.coverage import Basis, CoverSpan, Need, Route, Ruling
from sealpacket.core.tables import Format
from sealpacket.services import coverage, survey
from sealpacket.services.packets.draft.drafts import replayed
from sealpacket.services.register.forms import AssetStatus, Day
from sealpacket.services.table_files import table_file
from sealpacket.web.api.common import Number, Strict, as_file
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.operations import FILE, Api, Content

api = Api("coverage", "What covers what, on which day, and why.")

MOST = 1000


class CoverageQuery(Strict):
    """Cover of what, for what, when, through whom."""

    asset: str = Field(max_length=300, description="An asset's id or serial.")
    need: Need = "fault"
    day: Day | None = Field(None, description="Today, if not given.")
    login: str | None = Field(None, max_length=300)


class TimelineQuery(Strict):
    """Cover of an asset between two days, both included."""

    asset: str = Field(max_length=300, description="An asset's id or serial.")
    need: Need = "fault"
    since: Day
    until: Day


class BarShown(BaseModel):
    """An entitlement's own days."""

    contract: str
    entitlement: str
    level: str
    starts_on: date
    ends_on: date


class Timeline(BaseModel):
    """Spans that follow one another without a gap, each with its ruling; and the entitlements behind them."""

    spans: list[CoverSpan]
    bars: list[BarShown]


class SurveyQuery(Strict):
    """Which assets, for what, when. Retired ones only if asked for."""

    need: Need = "fault"
    day: Day | None = Field(None, description="Today, if not given.")
    vendor: str = Field("", max_length=60, description="A vendor's key.")
    site: str = Field("", max_length=60, description="A site's key.")
    status: AssetStatus | Literal[""] = ""
    route: Route | Literal[""] = ""


class SurveyList(Strict):
    """Some assets by id or serial, for what, when."""

    assets: list[str] = Field(min_length=1, max_length=MOST)
    need: Need = "fault"
    day: Day | None = None


class Covered(BaseModel):
    """An asset, and in short what covers it; `also` would serve as well."""

    serial: str
    name: str
    vendor: str
    product: str
    product_name: str
    site: str | None
    status: AssetStatus
    route: Route
    holds: bool
    contract: str | None
    entitlement: str | None
    level: str | None
    ends_on: date | None
    reason: str
    also: list[str]


class CoveredList(BaseModel):
    """Cover of the named assets; `unknown` are names that the register does not have."""

    items: list[Covered]
    unknown: list[str]


class Replay(BaseModel):
    """A sealed packet's ruling, made again from its stored inputs; `same` if it came out as it was sealed."""

    ruling: Ruling
    basis: Basis
    same: bool


def _today(day: date | None) -> date:
    return day or datetime.now(UTC).date()


def _brief(found: survey.Surveyed) -> dict[str, Any]:
    thing, ruling = found.thing, found.ruling
    return {
        "serial": thing.serial,
        "name": found.name,
        "vendor": thing.vendor,
        "product": thing.product,
        "product_name": thing.product_name,
        "site": thing.site,
        "status": thing.status,
        "route": ruling.route,
        "holds": ruling.holds,
        "contract": ruling.contract,
        "entitlement": ruling.entitlement,
        "level": ruling.level,
        "ends_on": ruling.ends_on.isoformat() if ruling.ends_on else None,
        "reason": ruling.reasons[0],
        "also": found.also,
    }


@api.get(
    "/coverage",
    summary="Get the ruling for an asset",
    responses={200: Ruling},
    does=coverage.coverage,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def get_coverage(query: CoverageQuery) -> dict[str, Any]:
    found = coverage.coverage(
        current_app(), query.asset, query.need, _today(query.day), query.login
    )
    return found.model_dump(mode="json")


@api.get(
    "/coverage/timeline",
    summary="Get the cover of an asset over time",
    responses={200: Timeline},
    does=coverage.timeline_of,
)
@requires_role(ANY_ROLE)
def get_timeline(query: TimelineQuery) -> dict[str, Any]:
    spans, bars = coverage.timeline_of(
        current_app(), query.asset, query.need, query.since, query.until
    )
    return {
        "spans": [span.model_dump(mode="json") for span in spans],
        "bars": [asdict(bar) for bar in bars],
    }


@api.post(
    "/coverage/list",
    summary="Get the rulings for several assets",
    responses={200: CoveredList},
    does=survey.survey,
    problems=(404,),
    needs="read",
)
@requires_role(ANY_ROLE)
def list_coverage(body: SurveyList) -> dict[str, Any]:
    which = survey.Which(handles=tuple(body.assets), every_status=True)
    items = list(survey.survey(current_app(), body.need, _today(body.day), which))
    known = {item.asset_id for item in items} | {item.thing.serial for item in items}
    return {
        "items": [_brief(item) for item in items],
        "unknown": [x for x in body.assets if x not in known],
    }


@api.get(
    "/coverage/everything",
    summary="Get the rulings for all assets on a day, as JSON Lines",
    responses={200: Content("application/x-ndjson")},
    does=survey.survey,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def cover_everything(query: SurveyQuery) -> Response:
    which = survey.Which(query.vendor, query.site, query.status, query.route)
    rows = survey.survey(current_app(), query.need, _today(query.day), which)
    first = next(rows, None)

    def lines() -> Iterator[str]:
        if first is not None:
            yield json.dumps(_brief(first), ensure_ascii=False) + "\n"
        for row in rows:
            yield json.dumps(_brief(row), ensure_ascii=False) + "\n"

    return Response(stream_with_context(lines()), mimetype="application/x-ndjson")


class SurveyExportQuery(SurveyQuery):
    """Which assets, and the form of the file."""

    form: Format = Field("csv", description="The form of the file.")


@api.get(
    "/coverage/export",
    summary="Export the rulings for all assets on a day",
    responses={200: Content(FILE)},
    does=(survey.survey, table_file),
    problems=(404,),
)
@requires_role(ANY_ROLE)
def export_coverage(query: SurveyExportQuery) -> Response:
    which = survey.Which(query.vendor, query.site, query.status, query.route)
    found = survey.survey(current_app(), query.need, _today(query.day), which)
    table = ("coverage", Covered, (Covered.model_validate(_brief(one)) for one in found))
    return as_file(*table_file(current_app(), actor(), "coverage", [table], query.form))


@api.get(
    "/packets/<number>/ruling",
    summary="Recompute the ruling of a sealed packet",
    responses={200: Replay},
    problems=(409,),
)
@requires_role(ANY_ROLE)
def replay_ruling(path: Number) -> dict[str, Any]:
    """Work a sealed packet's ruling out again from what it was based on, and compare the two."""
    return replayed(current_app(), path.number.upper())
