"""SCIM 2.0 (RFC 7644) at /scim/v2: the organisation's directory keeps accounts here.

It comes in by the token of a program whose account is an administrator's.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar

from flask import Flask, Response, request

from sealpacket.core.errors import Conflict, Invalid, NotFound, ProblemError
from sealpacket.services import provisioning
from sealpacket.services.provisioning import ProvidedAccount
from sealpacket.web.guard import actor, current_app, requires_role

PLACE = "/scim/v2"
_USER = "urn:ietf:params:scim:schemas:core:2.0:User"
_LIST = "urn:ietf:params:scim:api:messages:2.0:ListResponse"
_PATCH = "urn:ietf:params:scim:api:messages:2.0:PatchOp"
_ERROR = "urn:ietf:params:scim:api:messages:2.0:Error"
_CONFIG = "urn:ietf:params:scim:schemas:core:2.0:ServiceProviderConfig"
_TYPE = "urn:ietf:params:scim:schemas:core:2.0:ResourceType"
_STATUS: tuple[tuple[type[ProblemError], int, str], ...] = (
    (NotFound, 404, ""),
    (Conflict, 409, "uniqueness"),
    (Invalid, 400, "invalidValue"),
)

F = TypeVar("F", bound=Callable[..., Response])


def add_scim(app: Flask) -> None:
    """Add the addresses to which a directory comes."""

    def at(path: str, method: str, view: Callable[..., Response]) -> None:
        guarded = requires_role("admin")(_said(view))
        guarded.right = "read" if method == "GET" else "keep"  # type: ignore[attr-defined]
        name = f"scim {method} {path}"
        app.add_url_rule(PLACE + path, name, guarded, methods=[method])

    at("/ServiceProviderConfig", "GET", _config)
    at("/ResourceTypes", "GET", _types)
    at("/Schemas", "GET", _schemas)
    at("/Users", "GET", _users)
    at("/Users", "POST", _add)
    at("/Users/<ident>", "GET", _user)
    at("/Users/<ident>", "PUT", _replace)
    at("/Users/<ident>", "PATCH", _change)
    at("/Users/<ident>", "DELETE", _remove)


def _said(view: F) -> F:
    """Problems as SCIM has them (RFC 7644, 3.12)."""

    @wraps(view)
    def answered(**arguments: Any) -> Response:
        try:
            return view(**arguments)
        except ProblemError as problem:
            for kind, status, sort in _STATUS:
                if isinstance(problem, kind):
                    said = {"schemas": [_ERROR], "status": str(status), "detail": problem.detail}
                    return _answer({**said, **({"scimType": sort} if sort else {})}, status)
            raise

    return answered  # type: ignore[return-value]


def _answer(body: dict[str, Any], status: int = 200) -> Response:
    return Response(json.dumps(body), status, mimetype="application/scim+json")


def _body() -> dict[str, Any]:
    body = request.get_json(force=True)
    if not isinstance(body, dict):
        raise Invalid("The body is no object.", "Send one.")
    return body


def _shown(account: ProvidedAccount) -> dict[str, Any]:
    external = {"externalId": account.external_id} if account.external_id else {}
    return {
        "schemas": [_USER],
        "id": account.id,
        **external,
        "userName": account.name,
        "active": account.active,
        "roles": [{"value": role} for role in account.roles],
        "meta": {
            "resourceType": "User",
            "location": f"{current_app().settings.address.rstrip('/')}{PLACE}/Users/{account.id}",
        },
    }


def _number(name: str, default: int) -> int:
    value = request.args.get(name, "")
    if value and not value.lstrip("-").isdecimal():
        raise Invalid(f"{name} is no number.", "Send one.")
    return int(value[:9]) if value else default


def _users() -> Response:
    page = provisioning.listed(
        current_app(),
        request.args.get("filter", "")[:500],
        _number("startIndex", 1),
        _number("count", 100),
    )
    return _answer(_page([_shown(one) for one in page.items], page.total, page.start))


def _page(items: list[dict[str, Any]], total: int, start: int = 1) -> dict[str, Any]:
    return {
        "schemas": [_LIST],
        "totalResults": total,
        "startIndex": start,
        "itemsPerPage": len(items),
        "Resources": items,
    }


def _user(ident: str) -> Response:
    return _answer(_shown(provisioning.shown(current_app(), ident)))


def _add() -> Response:
    made = _shown(provisioning.add(current_app(), actor(), _body()))
    response = _answer(made, 201)
    response.headers["Location"] = made["meta"]["location"]
    return response


def _replace(ident: str) -> Response:
    return _answer(_shown(provisioning.replace(current_app(), actor(), ident, _body())))


def _change(ident: str) -> Response:
    body = _body()
    operations = body.get("Operations")
    if _PATCH not in (body.get("schemas") or ()) or not isinstance(operations, list):
        raise Invalid("The body is no PatchOp with Operations.", "Send one.")
    return _answer(_shown(provisioning.change(current_app(), actor(), ident, operations)))


def _remove(ident: str) -> Response:
    provisioning.remove(current_app(), actor(), ident)
    return Response(status=204)


def _config() -> Response:
    no = {"supported": False}
    return _answer(
        {
            "schemas": [_CONFIG],
            "patch": {"supported": True},
            "bulk": {**no, "maxOperations": 0, "maxPayloadSize": 0},
            "filter": {"supported": True, "maxResults": provisioning.MOST},
            "changePassword": no,
            "sort": no,
            "etag": no,
            "authenticationSchemes": [
                {
                    "type": "oauthbearertoken",
                    "name": "Token",
                    "description": "The token of a program whose account is an administrator's.",
                }
            ],
        }
    )


def _types() -> Response:
    user = {"schemas": [_TYPE], "id": "User", "name": "User", "endpoint": "/Users", "schema": _USER}
    return _answer(_page([user], 1))


def _schemas() -> Response:
    def attribute(name: str, kind: str, words: str, **more: Any) -> dict[str, Any]:
        return {"name": name, "type": kind, "description": words, "multiValued": False, **more}

    value = attribute("value", "string", "Mapped to a role here by SEALPACKET_OIDC_ROLES.")
    user = {
        "id": _USER,
        "name": "User",
        "description": "An account",
        "attributes": [
            attribute("userName", "string", "Its name.", required=True, uniqueness="server"),
            attribute("active", "boolean", "Whether it may come in."),
            attribute(
                "roles", "complex", "What it may do.", multiValued=True, subAttributes=[value]
            ),
        ],
    }
    return _answer(_page([user], 1))
