"""Capacity, levels of service, prepaid units, licence keys, and assets behind the current version."""

from typing import Any

from pydantic import BaseModel, Field

from sealpacket.core.units import MOST
from sealpacket.services.agreed import balance, capacity, keys, levels, renewals
from sealpacket.services.agreed.schemas import LimitRequestShown
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.register.agreed_forms import LotShown
from sealpacket.services.register.forms import Day, Form, Short
from sealpacket.web.api.common import Handle, Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api

api = Api("agreed", "Capacity, levels of service, prepaid units, licence keys and versions.")


class PlanForm(Form):
    """A plan, or a message of a failed start, to be compared with the limits of a vendor."""

    vendor: str = Field(max_length=60, description="The vendor's key.")
    text: str = Field(
        min_length=1,
        max_length=900_000,
        description="A table with the headings count, size, resource, region and when; or a message.",
    )
    headroom: int = Field(
        0, ge=0, le=500, description="Percent to ask for on top of what is needed."
    )
    regions: list[Short] = Field(
        [], max_length=200, description="Only these regions, for what may be in any; none: all."
    )


@api.post(
    "/capacity/plan",
    summary="Compare a plan with the limits of a vendor",
    responses={200: capacity.CapacityPlan},
    does=capacity.plan_capacity,
    needs="read",
)
@requires_role(ANY_ROLE)
def plan_capacity(body: PlanForm) -> capacity.CapacityPlan:
    return capacity.plan_capacity(
        current_app(), body.vendor, body.text, headroom=body.headroom, regions=body.regions
    )


class CapacityForm(Form):
    """Limits to ask for in one packet."""

    asset: Short = Field(description="The serial or id of the account for which they are.")
    wanted: list[capacity.WantedLimit] = Field(
        min_length=1, max_length=200, description="The limits that are wanted."
    )
    purpose: str = Field(
        min_length=1, max_length=4000, description="The purpose, as the desk will read it."
    )
    title: str = Field("", max_length=200, description="The title; empty: it is made up.")
    by: Day | None = Field(None, description="The day by which they are needed.")


@api.post(
    "/capacity/ask",
    summary="Note a packet that asks for limits",
    responses={201: PacketShown},
    does=capacity.ask_capacity,
    etag=True,
    location="/packets/{number}",
    problems=(409,),
)
@requires_role("preparer")
@idempotent
def ask_capacity(body: CapacityForm) -> PacketShown:
    return capacity.ask_capacity(
        current_app(), actor(), body.asset, body.wanted, purpose=body.purpose, title=body.title, by=body.by
    )  # fmt: skip


class LimitRequests(BaseModel):
    """Requests for a limit, the newest first."""

    items: list[LimitRequestShown]


@api.get(
    "/limits/<path:handle>/requests",
    summary="List requests for a limit",
    responses={200: LimitRequests},
    does=capacity.limit_requests,
)
@requires_role(ANY_ROLE)
def limit_requests(path: Handle) -> dict[str, Any]:
    return {"items": capacity.limit_requests(current_app(), path.handle)}


class LevelsQuery(Strict):
    """From which day another level would count."""

    from_on: Day | None = Field(None, description="The day; today at the earliest.")


@api.get(
    "/contracts/<path:handle>/levels",
    summary="Compare the levels of service of a contract",
    responses={200: levels.LevelsCompared},
    does=levels.compare_levels,
)
@requires_role(ANY_ROLE)
def compare_levels(path: Handle, query: LevelsQuery) -> levels.LevelsCompared:
    return levels.compare_levels(current_app(), path.handle, from_on=query.from_on)


@api.get(
    "/contracts/<path:handle>/renewal",
    summary="Compare the present term of a contract with the one before and with its use",
    responses={200: renewals.RenewalCompared},
    does=renewals.compare_renewal,
)
@requires_role(ANY_ROLE)
def compare_renewal(path: Handle) -> renewals.RenewalCompared:
    return renewals.compare_renewal(current_app(), path.handle)


class RenewalDecisionForm(Form):
    """The decision about the end of a contract's present term, and the quote for the next one."""

    decision: renewals.RenewalChoice
    quote_minor: int | None = Field(
        None, ge=0, lt=10**12, description="The quoted cost, in minor units; null: none."
    )
    currency: str | None = Field(None, pattern="^[A-Z]{3}$")
    reason: str = Field("", max_length=1000)


@api.post(
    "/contracts/<path:handle>/renewal/decide",
    summary="Decide about the end of a contract's term",
    responses={200: renewals.RenewalCompared},
    does=renewals.decide_renewal,
)
@requires_role("keeper")
@idempotent
def decide_renewal(path: Handle, body: RenewalDecisionForm) -> renewals.RenewalCompared:
    return renewals.decide_renewal(
        current_app(), actor(), path.handle, body.decision, quote_minor=body.quote_minor,
        currency=body.currency, reason=body.reason,
    )  # fmt: skip


class RenewalAskForm(Form):
    """A quote, or the cancellation."""

    wanted: renewals.RenewalWanted


@api.post(
    "/contracts/<path:handle>/renewal/ask",
    summary="Note a packet that asks for a quote, or cancels a contract",
    responses={201: PacketShown},
    does=renewals.ask_renewal,
    etag=True,
    location="/packets/{number}",
)
@requires_role("preparer")
@idempotent
def ask_renewal(path: Handle, body: RenewalAskForm) -> PacketShown:
    return renewals.ask_renewal(current_app(), actor(), path.handle, body.wanted)


class BalanceQuery(Strict):
    """Of which lots."""

    vendor: str = Field("", max_length=60, description="A vendor's key; empty: all.")
    contract: str = Field("", max_length=300, description="A contract; empty: all.")


@api.get(
    "/units/balance",
    summary="Get the balance of prepaid units",
    responses={200: balance.UnitBalance},
    does=balance.unit_balance,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def unit_balance(query: BalanceQuery) -> balance.UnitBalance:
    return balance.unit_balance(current_app(), vendor=query.vendor, contract=query.contract)


class CostQuery(Strict):
    """An item of a price list, how many, and when."""

    vendor: str = Field(max_length=60, description="The vendor's key.")
    item: str = Field(max_length=200, description="The item.")
    quantity: int = Field(1, ge=1, le=MOST, description="How many.")
    on: Day | None = Field(None, description="The wished day; today, if not given.")
    contract: str = Field("", max_length=300, description="Only lots of this contract.")
    country: str = Field("", max_length=2, description="The country where it is wanted.")


@api.get(
    "/units/cost",
    summary="Get the cost of a service in prepaid units",
    responses={200: balance.UnitCost},
    does=balance.unit_cost,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def unit_cost(query: CostQuery) -> balance.UnitCost:
    return balance.unit_cost(
        current_app(), vendor=query.vendor, item=query.item, quantity=query.quantity, on=query.on,
        contract=query.contract, country=query.country.upper(),
    )  # fmt: skip


class UnitEntries(BaseModel):
    """Entries of a lot, the newest first."""

    items: list[balance.UnitEntryShown]


@api.get(
    "/lots/<path:handle>/entries",
    summary="List units of a lot that were held, used and freed",
    responses={200: UnitEntries},
    does=balance.lot_entries,
)
@requires_role(ANY_ROLE)
def lot_entries(path: Handle) -> dict[str, Any]:
    return {"items": balance.lot_entries(current_app(), path.handle)}


class UseForm(Form):
    """Units that were used without a packet."""

    units: int = Field(ge=1, le=10**9, description="How many units.")
    text: Short = Field(description="The reason.")


@api.post(
    "/lots/<path:handle>/use",
    summary="Enter units that were used without a packet",
    responses={200: LotShown},
    does=balance.use_units,
)
@requires_role("keeper")
@idempotent
def use_units(path: Handle, body: UseForm) -> dict[str, Any]:
    return balance.use_units(current_app(), actor(), path.handle, body.units, body.text)


class UnitStatement(Form):
    """A vendor's statement of used units."""

    vendor: str = Field(max_length=60, description="The vendor's key.")
    lines: list[balance.StatementLine] = Field(max_length=2000, description="Its lines.")


class StatementDifferences(BaseModel):
    """The lots on which a statement and we differ; none: they agree."""

    items: list[balance.StatementDifference]


@api.post(
    "/units/statement",
    summary="Compare a vendor's statement of used units with ours",
    responses={200: StatementDifferences},
    does=balance.compare_statement,
    needs="read",
)
@requires_role(ANY_ROLE)
def compare_statement(body: UnitStatement) -> dict[str, Any]:
    return {"items": balance.compare_statement(current_app(), body.vendor, body.lines)}


class LicenceKey(BaseModel):
    """The key of a licence, in clear."""

    key: str = Field(description="The key.")


@api.post(
    "/licences/<path:handle>/key",
    summary="Show the key of a licence",
    responses={200: LicenceKey},
    does=keys.licence_key,
    problems=(409,),
)
@requires_role("keeper", "preparer")
def licence_key(path: Handle) -> dict[str, Any]:
    return {"key": keys.licence_key(current_app(), actor(), path.handle)}


class BehindQuery(Strict):
    """Of which products."""

    vendor: str = Field("", max_length=60, description="A vendor's key; empty: all.")
    product: str = Field("", max_length=200, description="A part number; empty: all.")


class AssetsBehind(BaseModel):
    """Assets that do not run the current version, those on withdrawn versions first."""

    items: list[keys.AssetBehind]


@api.get(
    "/versions/behind",
    summary="List assets that do not run the current version",
    responses={200: AssetsBehind},
    does=keys.assets_behind,
)
@requires_role(ANY_ROLE)
def assets_behind(query: BehindQuery) -> dict[str, Any]:
    return {"items": keys.assets_behind(current_app(), vendor=query.vendor, product=query.product)}


class ExpiringQuery(Strict):
    """Whose, and within how many days."""

    vendor: str = Field("", max_length=60, description="A vendor's key; empty: all.")
    days: int = Field(90, ge=1, le=3650, description="Within how many days.")


class Expiring(BaseModel):
    """Licences that end and units that would lapse, the earliest first."""

    items: list[keys.ExpiringSoon]


@api.get(
    "/expiring",
    summary="List licences that end and units that would lapse",
    responses={200: Expiring},
    does=keys.expiring,
)
@requires_role(ANY_ROLE)
def expiring(query: ExpiringQuery) -> dict[str, Any]:
    return {"items": keys.expiring(current_app(), vendor=query.vendor, days=query.days)}
