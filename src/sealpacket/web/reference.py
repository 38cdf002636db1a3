"""The OpenAPI document: made by `make generate`, shipped as a file, and served as it is.

Working out the schemas of 150 operations takes seconds, which no start of the service should wait for. So blueprints
collect nothing unless `collect` is set before the API's modules are loaded.
"""

from __future__ import annotations

import inspect
import re
from collections.abc import Callable
from copy import deepcopy
from importlib import resources
from types import ModuleType
from typing import Any

from flask_openapi3 import OpenAPI

from sealpacket.app.idempotency import LONGEST_KEY
from sealpacket.web.guard import ANY_ROLE, ANYONE, required_roles
from sealpacket.web.idempotency import HEADER, is_idempotent
from sealpacket.web.problems import Problem

collect = False
"""Whether blueprints work out the schemas of what they take and give."""

_SERVICE_CALL = re.compile(r"\b(\w+)\.(\w+)\(\s*current_app\(\)")
_NAMING = {"account", "asset", "assets", "contracts", "vendor"}
"""Parameters that name a record, which may not exist."""
_ERRORS = {
    "400": "The request cannot be read.",
    "401": "Not signed in, the sign-in has ended, or name and password do not match.",
    "403": "The account's roles do not include this.",
    "404": "There is no such record.",
    "408": "The body did not arrive in time.",
    "409": "It does not fit the present state; `remedy` says what to do.",
    "412": "The record has changed since the version in If-Match.",
    "413": "The body is larger than allowed here.",
    "414": "The address is too long.",
    "422": "A path, query or body value is invalid; `field` names it.",
    "428": "If-Match is missing.",
    "429": "Too many tries; Retry-After says when to come back.",
    "431": "A header is too long.",
    "503": "The database or another part is away; nothing was lost.",
}


def served() -> str:
    """The document as shipped."""
    return (resources.files("sealpacket.web") / "openapi.json").read_text("utf-8")


def reference(app: OpenAPI) -> dict[str, Any]:
    """The document of an application whose blueprints collected; each operation with its roles (`x-needs`)."""
    document: dict[str, Any] = deepcopy(app.api_doc)
    schemas = document["components"].setdefault("schemas", {})
    problem_schema = dict(Problem.model_json_schema(ref_template="#/components/schemas/{model}"))
    schemas.update(problem_schema.pop("$defs"))
    schemas["Problem"] = problem_schema
    document["components"]["parameters"] = {
        "IdempotencyKey": {
            "name": HEADER,
            "in": "header",
            "required": False,
            "schema": {"type": "string", "maxLength": LONGEST_KEY},
            "description": "A repeated request with the same key is not done again; it gets the same answer for a day.",
        },
        "IfMatch": _if_match(
            "The change is refused with 412 if the packet has changed since.", False
        ),
        "IfMatchNeeded": _if_match(
            "The change is refused with 412 if the record has changed since.", True
        ),
    }
    document["components"]["headers"] = {
        "ETag": {
            "description": "Version of the record and a hash of the answer; send it back as If-Match or If-None-Match.",
            "schema": {"type": "string"},
        }
    }
    document["components"]["responses"] = {
        f"Problem{status}": _problem(text) for status, text in _ERRORS.items()
    }
    for rule in app.url_map.iter_rules():
        operations = document["paths"].get(re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", rule.rule), {})
        for method in rule.methods or ():
            if method.lower() in operations:
                operations[method.lower()]["operationId"] = rule.endpoint.rpartition(".")[2]
                _complete(
                    operations[method.lower()], method, rule.rule, app.view_functions[rule.endpoint]
                )
    return document


def _if_match(effect: str, required: bool) -> dict[str, Any]:
    return {
        "name": "If-Match",
        "in": "header",
        "required": required,
        "schema": {"type": "string"},
        "description": f"The ETag that the caller has read. {effect}",
    }


def _problem(description: str) -> dict[str, Any]:
    schema = {"$ref": "#/components/schemas/Problem"}
    return {"description": description, "content": {"application/problem+json": {"schema": schema}}}


def _complete(operation: dict[str, Any], method: str, path: str, view: Callable[..., Any]) -> None:
    """Add to an operation its description, roles and the problems that it may answer with."""
    inner = inspect.unwrap(getattr(view, "__wrapped__", view))
    roles = required_roles(view)
    operation["description"] = _description(inner, roles)
    operation["x-needs"] = list(roles)
    if is_idempotent(view):
        operation.setdefault("parameters", []).append(
            {"$ref": "#/components/parameters/IdempotencyKey"}
        )
    source = inspect.getsource(inner)
    condition = _condition(method, path, source)
    if condition:
        operation.setdefault("parameters", []).append(
            {"$ref": f"#/components/parameters/{condition}"}
        )
    good = {code: said for code, said in operation["responses"].items() if code[0] in "23"}
    if "with_etag(" in source:
        for answer in good.values():
            answer["headers"] = {"ETag": {"$ref": "#/components/headers/ETag"}}
        if method == "GET":
            good["304"] = {"description": "The caller has this version already (If-None-Match)."}
    problems = {
        status: {"$ref": f"#/components/responses/Problem{status}"}
        for status in sorted(_statuses(operation, method, path, inner, roles))
    }
    operation["responses"] = {**good, **problems}
    operation["security"] = [] if roles == (ANYONE,) else [{"token": []}]


def _description(view: Callable[..., Any], roles: tuple[str, ...]) -> str:
    """The description of an operation: the docstring of its service function, and who may call it."""
    said = [inspect.getdoc(function) for function in _service_functions(view)] or [
        inspect.getdoc(view)
    ]
    if roles == (ANYONE,):
        who = "Anyone may call this."
    elif roles == (ANY_ROLE,):
        who = "Needs a sign-in with any role."
    else:
        who = f"Needs the role {' or '.join(roles)}."
    return "\n\n".join([*filter(None, said), who])


def _service_functions(view: Callable[..., Any]) -> list[Callable[..., Any]]:
    found: list[Callable[..., Any]] = []
    for module, name in _SERVICE_CALL.findall(inspect.getsource(view)):
        place = view.__globals__.get(module)
        function = getattr(place, name, None) if isinstance(place, ModuleType) else None
        if callable(function) and function not in found:
            found.append(function)
    return found


def _condition(method: str, path: str, source: str) -> str:
    """The name of the If-Match parameter of an operation; empty if it takes none."""
    if "read_version()" in source or "need_if_match()" in source:
        return "IfMatchNeeded"
    acts_on_a_packet = method not in ("GET", "HEAD") and "/packets/<number>" in path
    return "IfMatch" if acts_on_a_packet else ""


def _refusals(method: str, roles: tuple[str, ...]) -> set[str]:
    """The answers for callers who are not signed in, or not allowed to do this."""
    if roles == (ANYONE,):
        return set()
    if roles == (ANY_ROLE,) and method in ("GET", "HEAD"):
        return {"401"}
    return {"401", "403"}


def _statuses(
    operation: dict[str, Any],
    method: str,
    path: str,
    view: Callable[..., Any],
    roles: tuple[str, ...],
) -> set[str]:
    """The problems that an operation can answer with, from what it takes."""
    source = inspect.getsource(view)
    found = {"503"} | _refusals(method, roles)
    parameters = {
        one["name"] for one in operation.get("parameters", ()) if one.get("in") == "query"
    }
    named = "requestBody" in operation and roles != (ANYONE,)  # a body may name other records
    if "<" in path or parameters & _NAMING or named:
        found.add("404")
    if parameters:
        found |= {"414", "431"}
    if operation.get("parameters") or "requestBody" in operation:
        found.add("422")
    if method in ("POST", "PUT", "PATCH", "DELETE") or path.partition(">")[2]:
        found.add("409")  # a part of a record may not be there in its present state
    if "requestBody" in operation:
        found |= {"400", "408", "413"}
    condition = _condition(method, path, source)
    if condition or "body.number" in source:
        found.add("412")
    if condition == "IfMatchNeeded":
        found.add("428")
    if "sign_in." in source and method == "POST":
        found |= {"401", "429"}
    return found
