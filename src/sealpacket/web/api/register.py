"""The register: the same five addresses for each kind of record."""

from typing import Any

from flask import Response
from pydantic import Field, create_model

from sealpacket.services import register
from sealpacket.services.register import KINDS, Kind
from sealpacket.services.register.forms import Form
from sealpacket.web.api.common import Handle, ListQuery, part, read_version, with_etag
from sealpacket.web.guard import ANY_ROLE, actor, needs, the_house
from sealpacket.web.repetition import once

api = part("register", "Vendors, contracts, entitlements, products, assets, sites, people and vendor logins.")


class RegisterQuery(ListQuery):
    """Narrow a list of records."""

    q: str = Field("", max_length=200, description="Words that all have to be found.")
    vendor: str = Field("", max_length=60, description="A vendor's key.")


def change_form(kind: Kind) -> type[Form]:
    """The form of a change: every field of the record, none required."""
    fields: dict[str, Any] = {
        name: (field.annotation | None if field.annotation else Any, None)
        for name, field in kind.form.model_fields.items()
    }
    words = f"Fields of a {kind.name} to change; what is not given stays."
    return create_model(f"{kind.name.capitalize()}Change", __base__=Form, __doc__=words, **fields)


def _add(kind: Kind) -> None:
    form, shown = kind.form, kind.shown
    change = change_form(kind)
    items: Any = list[shown]  # type: ignore[valid-type]
    page = create_model(f"{kind.name.capitalize()}Page", items=(items, ...), next=(str | None, None))

    @needs(ANY_ROLE)
    def list_records(query: RegisterQuery) -> dict[str, Any]:
        found = register.listed(
            the_house(), kind, query=query.q, vendor=query.vendor, limit=query.limit, cursor=query.cursor
        )
        return {"items": found.items, "next": found.next}

    @needs("keeper")
    def add_record(body: form) -> Any:  # type: ignore[valid-type]
        result, status = once(lambda: register.create(the_house(), actor(), kind, body), 201)
        return with_etag(result, status)

    @needs(ANY_ROLE)
    def get_record(path: Handle) -> Response:
        return with_etag(register.get(the_house(), kind, path.handle))

    @needs("keeper")
    def change_record(path: Handle, body: change) -> Response:  # type: ignore[valid-type]
        changes = body.model_dump(exclude_unset=True)  # type: ignore[attr-defined]
        return with_etag(register.change(the_house(), actor(), kind, path.handle, changes, read_version()))

    base = f"/{kind.plural}"
    for function, verb in ((list_records, "list"), (add_record, "add"), (get_record, "get"), (change_record, "change")):
        function.__name__ = f"{verb}_{kind.name}"
    api.get(base, summary=f"List {kind.plural}", responses={200: page})(list_records)
    api.post(base, summary=f"Add a {kind.name}", responses={201: shown})(add_record)
    api.get(f"{base}/<handle>", summary=f"Get a {kind.name}", responses={200: shown})(get_record)
    api.patch(f"{base}/<handle>", summary=f"Change a {kind.name}", responses={200: shown})(change_record)


for _kind in KINDS.values():
    _add(_kind)
