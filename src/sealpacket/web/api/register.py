"""The register: the same five addresses for each kind of record."""

from collections.abc import Callable
from copy import copy
from datetime import date, datetime
from typing import Any, Literal, TypeVar

from pydantic import BaseModel, Field, create_model

from sealpacket.core.words import a
from sealpacket.services import contracts, register
from sealpacket.services.order_documents.schemas import OrderDocumentBrief
from sealpacket.services.packets.schemas import PacketBrief
from sealpacket.services.register import KINDS, Kind, hours, merging
from sealpacket.services.register.forms import (
    AssetShown,
    AssetStatus,
    ContractShown,
    Day,
    EntitlementShown,
    Form,
    Key,
    LoginShown,
    Short,
)
from sealpacket.web.api.common import (
    Handle,
    ListQuery,
    Strict,
)
from sealpacket.web.api.order_documents import PasscodeList
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api
from sealpacket.web.preconditions import read_version

api = Api(
    "register",
    "Vendors, contracts, entitlements, products, assets, sites, people and vendor logins.",
)

F = TypeVar("F", bound=Callable[..., Any])


class RegisterNarrow(Strict):
    """Narrow a list of records."""

    q: str = Field("", max_length=200, description="Words that all have to be found.")
    vendor: str = Field("", max_length=60, description="A vendor's key.")
    site: str = Field("", max_length=60, description="A site's key (assets).")
    status: AssetStatus | Literal[""] = Field("", description="Assets in this status.")

    def narrow(self) -> register.Narrow:
        """Which records are meant."""
        return register.Narrow(self.q, self.vendor, self.site, self.status)


class RegisterQuery(ListQuery, RegisterNarrow):
    """Narrow and sort a list of records."""

    sort: str = Field("", max_length=40, description="A column to sort by, -column for downwards.")


def change_form(kind: Kind) -> type[Form]:
    """The form of a change: every field of the record, none required; only what may be empty may be null."""
    fields: dict[str, Any] = {}
    for name, field in kind.form.model_fields.items():
        optional = copy(field)
        optional.default, optional.default_factory = None, None
        fields[name] = (field.annotation, optional)
    words = f"Fields of {a(kind.name)} to change; what is not given stays."
    return create_model(f"{kind.name.capitalize()}Change", __base__=Form, __doc__=words, **fields)


class Difference(BaseModel):
    """A field that a version changed."""

    field: str
    old: Any
    new: Any


class VersionShown(BaseModel):
    """One version of a record, or of one merged into it (`record_id`): who made it, when, by which act."""

    record_id: str
    version: int
    at: datetime
    by: str
    act: str
    changes: list[Difference]


class History(BaseModel):
    """Versions, the newest first."""

    items: list[VersionShown]


class Move(Form):
    """Where an asset goes, or into what status, from a day on (included)."""

    from_on: Day
    site: Key | None = None
    status: AssetStatus | None = None


class Transfer(Form):
    """From which entitlement an asset goes to which, from a day on (included); by reference or id."""

    from_on: Day
    out_of: Short
    into: Short


_CHANGES = {kind.name: change_form(kind) for kind in KINDS.values()}
EntitlementChange: Any = _CHANGES["entitlement"]


class Amendment(Form):
    """Changes of an entitlement from a day on (included); omitted fields stay."""

    from_on: Day
    changes: EntitlementChange


def _add(kind: Kind) -> None:
    form, shown = kind.form, kind.shown
    change = _CHANGES[kind.name]
    items: Any = list[shown]  # type: ignore[valid-type]
    page = create_model(
        f"{kind.name.capitalize()}Page", items=(items, ...), next=(str | None, None)
    )

    @requires_role(ANY_ROLE)
    def list_records(query: RegisterQuery) -> dict[str, Any]:
        found = register.listed(
            current_app(),
            kind,
            query.narrow(),
            sort=query.sort,
            limit=query.limit,
            cursor=query.cursor,
        )
        return {"items": found.items, "next": found.next}

    @requires_role("keeper")
    @idempotent
    def add_record(body: form) -> dict[str, Any]:  # type: ignore[valid-type]
        return register.create(current_app(), actor(), kind, body)

    @requires_role(ANY_ROLE)
    def get_record(path: Handle) -> dict[str, Any]:
        return register.get(current_app(), kind, path.handle)

    @requires_role("keeper")
    def change_record(path: Handle, body: change) -> dict[str, Any]:  # type: ignore[valid-type]
        changes = body.model_dump(exclude_unset=True)  # type: ignore[attr-defined]
        return register.change(current_app(), actor(), kind, path.handle, changes, read_version())

    @requires_role(ANY_ROLE)
    def record_history(path: Handle) -> dict[str, Any]:
        return {"items": register.history(current_app(), kind, path.handle)}

    base = f"/{kind.plural}"
    for function, verb in (
        (list_records, "list"),
        (add_record, "add"),
        (get_record, "get"),
        (change_record, "change"),
        (record_history, "history_of"),
    ):
        function.__name__ = f"{verb}_{kind.plural if verb == 'list' else kind.name}"
    whole, shown_here = f"{base}/<path:handle>", {200: shown}
    api.get(base, summary=f"List {kind.plural}", responses={200: page}, does=register.listed)(
        list_records
    )
    api.post(
        base,
        summary=f"Add {a(kind.name)}",
        responses={201: shown},
        does=register.create,
        etag=True,
        location=f"{base}/{{id}}",
    )(add_record)
    api.get(
        whole, summary=f"Get {a(kind.name)}", responses=shown_here, does=register.get, etag=True
    )(get_record)
    api.patch(
        whole,
        summary=f"Change {a(kind.name)}",
        responses=shown_here,
        does=register.change,
        etag=True,
        version_needed=True,
    )(change_record)
    api.get(
        f"{whole}/history",
        summary=f"List all versions of {a(kind.name)}",
        responses={200: History},
        does=register.history,
    )(record_history)


for _kind in KINDS.values():
    _add(_kind)


def _dated(path: str, kind: str, does: Callable[..., Any], summary: str) -> Callable[[F], F]:
    return api.post(
        f"/{KINDS[kind].plural}/<path:handle>/{path}",
        summary=summary,
        responses={200: KINDS[kind].shown},
        does=does,
        etag=True,
        version_needed=True,
    )


class TermGap(BaseModel):
    """It did not run between these two days."""

    after: date
    before: date


class WholeContract(BaseModel):
    """A contract with everything that belongs to it; of its assets the first 200. `gaps` lie between its terms."""

    contract: ContractShown
    vendor_name: str
    entitlements: list[EntitlementShown]
    assets: list[AssetShown]
    asset_count: int
    logins: list[LoginShown]
    packets: list[PacketBrief]
    order_documents: list[OrderDocumentBrief]
    gaps: list[TermGap]


@api.get(
    "/contracts/<path:handle>/whole",
    summary="Get a contract with its entitlements, assets and passcode state",
    responses={200: WholeContract},
    does=contracts.whole_contract,
)
@requires_role(ANY_ROLE)
def whole_contract(path: Handle) -> dict[str, Any]:
    return contracts.whole_contract(current_app(), path.handle)


@api.post(
    "/contracts/<path:handle>/passcode",
    summary="Show a contract's passcode",
    responses={200: PasscodeList},
    does=contracts.show_passcode,
    problems=(409,),
)
@requires_role("keeper", "preparer")
def show_contract_passcode(path: Handle) -> dict[str, Any]:
    return {"passcodes": [contracts.show_passcode(current_app(), actor(), path.handle)]}


class UnreadHoursList(BaseModel):
    """Hours of entitlements that do not say when."""

    items: list[hours.UnreadHours]


class ConvertHours(Form):
    """Hours that take the place of others."""

    text: str = Field(max_length=300, description="The hours as the entitlements have them.")
    hours: Short = Field(description="The hours as clocks can read them: Mo–Fr 08:30–17:00.")


@api.get(
    "/hours",
    summary="List hours of entitlements that clocks cannot read",
    responses={200: UnreadHoursList},
    does=hours.unread_hours,
)
@requires_role(ANY_ROLE)
def unread_hours() -> dict[str, Any]:
    return {"items": hours.unread_hours(current_app())}


@api.post(
    "/hours",
    summary="Convert hours of all entitlements that have them",
    responses={200: hours.ConvertedHours},
    does=hours.convert_hours,
    problems=(404,),
)
@requires_role("keeper")
@idempotent
def convert_hours(body: ConvertHours) -> hours.ConvertedHours:
    return hours.convert_hours(current_app(), actor(), body.text, body.hours)


class MergeQuery(Strict):
    """Which other record would go."""

    other: str = Field(max_length=300)


class MergeForm(Form):
    """The record that goes; all that belongs to it goes over to the one that stays."""

    other: Short


class Groups(BaseModel):
    """Assets that are likely the same, in groups."""

    items: list[list[AssetShown]]


def _add_merge(kind: Kind) -> None:
    preview = create_model(
        f"{kind.name.capitalize()}Merge",
        __doc__="What merging would do: fields taken over, and how many rows of what would move.",
        stays=(kind.shown, ...),
        goes=(kind.shown, ...),
        takes=(dict[str, Any], ...),
        moving=(dict[str, int], ...),
    )

    @requires_role("keeper")
    def preview_merge(path: Handle, query: MergeQuery) -> dict[str, Any]:
        return merging.preview(current_app(), kind, path.handle, query.other)

    @requires_role("keeper")
    @idempotent
    def merge_records(path: Handle, body: MergeForm) -> dict[str, Any]:
        return merging.merge(current_app(), actor(), kind, path.handle, body.other, read_version())

    preview_merge.__name__, merge_records.__name__ = (
        f"preview_merge_of_{kind.name}",
        f"merge_{kind.name}",
    )
    base = f"/{kind.plural}/<path:handle>/merge"
    api.get(
        base,
        summary=f"Preview the merge of two {kind.plural}",
        responses={200: preview},
        does=merging.preview,
        problems=(409,),
    )(preview_merge)
    api.post(
        base,
        summary=f"Merge another {kind.name} into this one",
        responses={200: kind.shown},
        does=merging.merge,
        etag=True,
        version_needed=True,
    )(merge_records)


for _name in merging.MERGED_KINDS:
    _add_merge(KINDS[_name])


@api.get(
    "/duplicates",
    summary="List assets that are probably duplicates",
    responses={200: Groups},
    does=merging.duplicates,
)
@requires_role("keeper")
def list_duplicates() -> dict[str, Any]:
    return {"items": merging.duplicates(current_app())}


@_dated("move", "asset", register.move, "Move an asset to another site or status from a day on")
@requires_role("keeper")
@idempotent
def move_asset(path: Handle, body: Move) -> dict[str, Any]:
    changes = body.model_dump(exclude_unset=True, exclude={"from_on"})
    return register.move(
        current_app(), actor(), path.handle, read_version(), from_on=body.from_on, changes=changes
    )


@_dated(
    "transfer",
    "asset",
    register.transfer,
    "Take an asset off one entitlement and list it on another, from a day on",
)
@requires_role("keeper")
@idempotent
def transfer_asset(path: Handle, body: Transfer) -> dict[str, Any]:
    return register.transfer(
        current_app(), actor(), path.handle, read_version(), **body.model_dump()
    )


@_dated("amend", "entitlement", register.amend, "Change what an entitlement grants from a day on")
@requires_role("keeper")
@idempotent
def amend_entitlement(path: Handle, body: Amendment) -> dict[str, Any]:
    changes = body.changes.model_dump(exclude_unset=True)
    return register.amend(
        current_app(), actor(), path.handle, read_version(), from_on=body.from_on, changes=changes
    )


@_dated("renew", "contract", register.renew, "Renew a contract, and what ends with it")
@requires_role("keeper")
@idempotent
def renew_contract(path: Handle, body: register.RenewForm) -> dict[str, Any]:
    return register.renew(current_app(), actor(), path.handle, read_version(), body)
