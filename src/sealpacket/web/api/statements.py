"""Vendor statements beside the register."""

from datetime import UTC, datetime
from typing import Any, Literal

from flask import request
from pydantic import BaseModel, Field

from sealpacket.services import statements
from sealpacket.services.register.forms import Day
from sealpacket.services.statements import keeping
from sealpacket.services.statements.deciding import Verdict
from sealpacket.services.statements.schemas import Differences, DifferenceSort, StatementShown
from sealpacket.web.api.common import ListQuery, Strict, blocks_sent, json_texts
from sealpacket.web.guard import actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import FILE, Api

api = Api("statements", "What vendors think is covered, compared with the register.")


class StatementQuery(Strict):
    """The vendor of a statement, its day (today by default), and how to read it."""

    vendor: str = Field(max_length=60, description="The vendor's key.")
    name: str = Field(min_length=1, max_length=200, description="The file's name.")
    as_of: Day | None = None
    mapping: str = Field("", max_length=20_000, description='Field to heading: {"serial": "Unit"}')


class StatementPath(BaseModel):
    """A statement by its id."""

    ident: str = Field(max_length=60)


class StatementsQuery(ListQuery):
    """Which statements."""

    vendor: str = Field("", max_length=60, description="A vendor's key.")


class DifferencesQuery(Strict):
    """Which differences."""

    sort: DifferenceSort | Literal[""] = ""
    undecided: bool = False
    above: int = Field(0, ge=0, description="Only those numbered above this.")
    limit: int = Field(100, ge=1, le=500)


class StatementPage(BaseModel):
    """List statements, newest first."""

    items: list[StatementShown]
    next: str | None


class DecisionForm(Strict):
    """Which differences, which side is right, and why."""

    numbers: list[int] = Field(min_length=1, max_length=1000)
    verdict: Verdict
    reason: str = Field("", max_length=1000)


class AskForm(Strict):
    """Which differences to ask the vendor about."""

    numbers: list[int] = Field(min_length=1, max_length=1000)


class AskedPacket(BaseModel):
    """The packet that asks."""

    packet: str


@api.post(
    "/statements",
    summary="Upload a vendor's statement to compare with the register",
    responses={201: StatementShown},
    does=statements.receive,
    takes=FILE,
    location="/statements/{id}",
    problems=(404,),
)
@requires_role("keeper")
@idempotent
def send_statement(query: StatementQuery) -> StatementShown:
    request.max_content_length = keeping.LARGEST
    return statements.receive(
        current_app(),
        actor(),
        vendor=query.vendor,
        name=query.name,
        as_of=query.as_of or datetime.now(UTC).date(),
        mapping=json_texts(query.mapping, "mapping"),
        blocks=blocks_sent(query.name),
    )


@api.get(
    "/statements",
    summary="List statements, newest first",
    responses={200: StatementPage},
    does=statements.listed,
    problems=(404,),
)
@requires_role("keeper")
def list_statements(query: StatementsQuery) -> dict[str, Any]:
    page = statements.listed(
        current_app(), vendor=query.vendor, limit=query.limit, cursor=query.cursor
    )
    return {"items": page.items, "next": page.next}


@api.get(
    "/statements/<ident>",
    summary="Get a statement",
    responses={200: StatementShown},
    does=statements.get,
)
@requires_role("keeper")
def get_statement(path: StatementPath) -> StatementShown:
    return statements.get(current_app(), path.ident)


@api.get(
    "/statements/<ident>/differences",
    summary="Compare a statement with the register",
    responses={200: Differences},
    does=statements.differences,
)
@requires_role("keeper")
def statement_differences(path: StatementPath, query: DifferencesQuery) -> Differences:
    return statements.differences(current_app(), path.ident, **query.model_dump())


@api.post(
    "/statements/<ident>/decide",
    summary="Accept differences either way",
    responses={200: StatementShown},
    does=statements.decide,
    problems=(412,),
)
@requires_role("keeper")
@idempotent
def decide_differences(path: StatementPath, body: DecisionForm) -> StatementShown:
    return statements.decide(
        current_app(), actor(), path.ident, body.numbers, body.verdict, body.reason
    )


@api.post(
    "/statements/<ident>/ask",
    summary="Turn differences into a packet to the vendor",
    responses={201: AskedPacket},
    does=statements.ask,
    problems=(412,),
    location="/packets/{packet}",
    sends=True,
)
@requires_role("keeper")
@idempotent
def ask_vendor(path: StatementPath, body: AskForm) -> dict[str, Any]:
    return {"packet": statements.ask(current_app(), actor(), path.ident, body.numbers)}


@api.delete(
    "/statements/<ident>",
    summary="Delete a statement",
    responses={200: StatementShown},
    does=statements.drop,
    problems=(409,),
)
@requires_role("keeper")
def drop_statement(path: StatementPath) -> StatementShown:
    return statements.drop(current_app(), actor(), path.ident)
