"""Operations of the API as their views declare them.

The service keeps to what is declared, the reference (openapi.json) is made from it, and the tests compare every answer
with it.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta
from email.utils import format_datetime
from functools import wraps
from typing import Any, TypeVar, get_type_hints
from urllib.parse import quote

import flask
from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from sealpacket.app.context import Right
from sealpacket.web.guard import ANY_ROLE, ANYONE, required_roles
from sealpacket.web.idempotency import is_idempotent, once
from sealpacket.web.preconditions import need_if_match, with_version

PREFIX = "/api/v1"
NOTICE = timedelta(days=365)
"""The time between an operation's deprecation and its end."""
FILE = "application/octet-stream"
"""The type of an uploaded file whose kind is anything."""

F = TypeVar("F", bound=Callable[..., Any])
Functions = Callable[..., Any] | tuple[Callable[..., Any], ...]


@dataclass(frozen=True)
class Content:
    """A good answer that is a file: its media types."""

    types: tuple[str, ...]

    def __init__(self, *types: str) -> None:
        object.__setattr__(self, "types", types)


@dataclass(frozen=True)
class Operation:
    """An operation of the API."""

    method: str
    rule: str
    """Below /api/v1, with Flask's placeholders."""
    tag: str
    view: Callable[..., Any]
    summary: str
    status: int
    """Of its good answer."""
    gives: type[BaseModel] | Content
    does: tuple[Callable[..., Any], ...]
    """The functions of the services that it calls."""
    problems: frozenset[int]
    """Statuses of problems that follow from nothing else that it declares."""
    etag: bool
    version_needed: bool
    takes: str
    """The media type of an uploaded file; empty for JSON or no body."""
    deprecated_on: date | None
    """The day since which it is deprecated; it goes a year later at the earliest."""
    location: str
    """The address of what was made, with fields of the answer in braces; empty if nothing was."""
    right: Right
    """The right that a token needs for it."""
    inputs: dict[str, type[BaseModel]] = field(default_factory=dict)
    """Its models by `path`, `query` and `body`."""

    @property
    def name(self) -> str:
        """The operation's id."""
        return self.view.__name__

    @property
    def path(self) -> str:
        """The whole address, with Flask's placeholders."""
        return PREFIX + self.rule

    @property
    def roles(self) -> tuple[str, ...]:
        """Who may call it."""
        return required_roles(self.view)

    @property
    def is_once(self) -> bool:
        """Whether it takes an Idempotency-Key."""
        return is_idempotent(self.view)

    @property
    def takes_version(self) -> bool:
        """Whether it takes If-Match: acts on packets do, and whatever needs it."""
        on_packet = self.method != "GET" and "/packets/<number>" in self.rule
        return self.version_needed or on_packet

    @property
    def statuses(self) -> frozenset[int]:
        """Statuses of the problems that it answers with, but for those that every operation may meet."""
        found = set(self.problems)
        if self.roles != (ANYONE,):
            found.add(401)
            if self.roles != (ANY_ROLE,) or self.method != "GET":
                found.add(
                    403
                )  # a token may be for reading only, and a session sends its CSRF token
        if "path" in self.inputs:
            found.add(404)
        if self.inputs or self.takes or self.takes_version:
            found.add(422)
        if "body" in self.inputs:
            found |= {413, 415}
        if self.takes:
            found |= {408, 411, 413, 507}
        if self.is_once or "handle>" in self.rule:
            found.add(409)  # a key that is in use; a name that several records have
        if self.takes_version:
            found.add(412)
        if self.version_needed:
            found.add(428)
        return frozenset(found)


def right_of(method: str, roles: tuple[str, ...], *, sends: bool) -> Right:
    """The right that a token needs, from an operation's method and roles, and whether something reaches a vendor."""
    if method == "GET":
        return "read"
    if sends or roles == ("releaser",):
        return "send"
    return "keep" if set(roles) <= {"admin", "keeper"} else "prepare"


class Api(APIBlueprint):
    """A part of the API, whose operations are declared at their views.

    `get`, `post`, `put`, `patch` and `delete` take the good answer (`responses`: its status with its model or
    Content), the services' functions (`does`), statuses of problems that follow from nothing else (`problems`), whether
    the answer has an ETag, whether the request needs If-Match (`version_needed`), the type of an upload (`takes`), and
    the address of what was made (`location`, with fields of the answer in braces), whether something reaches a vendor
    (`sends`), and the right that a token `needs` if it does not follow from method and roles. `deprecated_on` is the
    day since which it is deprecated. A view returns its model; status and headers come from here.
    """

    def __init__(self, name: str, words: str) -> None:
        super().__init__(
            name,
            __name__,
            url_prefix=PREFIX,
            doc_ui=False,
        )
        self.words = words
        self.operations: list[Operation] = []

    def get(self, rule: str, **declared: Any) -> Callable[[F], F]:
        """An operation by GET."""
        return self._operation("GET", rule, **declared)

    def post(self, rule: str, **declared: Any) -> Callable[[F], F]:
        """An operation by POST."""
        return self._operation("POST", rule, **declared)

    def put(self, rule: str, **declared: Any) -> Callable[[F], F]:
        """An operation by PUT."""
        return self._operation("PUT", rule, **declared)

    def patch(self, rule: str, **declared: Any) -> Callable[[F], F]:
        """An operation by PATCH."""
        return self._operation("PATCH", rule, **declared)

    def delete(self, rule: str, **declared: Any) -> Callable[[F], F]:
        """An operation by DELETE."""
        return self._operation("DELETE", rule, **declared)

    def _operation(
        self,
        method: str,
        rule: str,
        *,
        summary: str,
        responses: dict[int, type[BaseModel] | Content],
        does: Functions = (),
        problems: tuple[int, ...] = (),
        etag: bool = False,
        version_needed: bool = False,
        takes: str = "",
        location: str = "",
        sends: bool = False,
        needs: Right | None = None,
        deprecated_on: date | None = None,
    ) -> Callable[[F], F]:
        ((status, gives),) = responses.items()
        route = getattr(super(), method.lower())(rule)

        def declare(view: F) -> F:
            hints = get_type_hints(view)
            operation = Operation(
                method=method,
                rule=rule,
                tag=self.name,
                view=view,
                summary=summary,
                status=status,
                gives=gives,
                does=does if isinstance(does, tuple) else (does,),
                problems=frozenset(problems),
                etag=etag,
                version_needed=version_needed,
                takes=takes,
                location=location,
                right=needs or right_of(method, required_roles(view), sends=sends),
                deprecated_on=deprecated_on,
                inputs={one: hints[one] for one in ("path", "query", "body") if one in hints},
            )
            self.operations.append(operation)
            view.right = operation.right  # type: ignore[attr-defined]
            route(_served(operation))
            return view

        return declare


def _served(operation: Operation) -> Callable[..., Any]:
    """The view as it answers requests: with its declared status and headers, and once for a key."""
    view = operation.view

    @wraps(view)
    def answered(*args: Any, **kwargs: Any) -> Response:
        if operation.version_needed:
            need_if_match()
        given = view(*args, **kwargs)
        if isinstance(given, Response):
            if operation.etag:
                given.make_conditional(flask.request)
            return given
        response: Response = flask.jsonify(given)
        response.status_code = operation.status
        if operation.etag:
            with_version(response, given["version"] if isinstance(given, dict) else given.version)
        return response

    at_most_once = once(answered) if operation.is_once else answered
    located = _with_location(operation, at_most_once) if operation.location else at_most_once
    return _with_end(operation.deprecated_on, located) if operation.deprecated_on else located


def _with_end(since: date, answered: Callable[..., Response]) -> Callable[..., Response]:
    """The view, saying that it is deprecated (RFC 9745), and when it may go (RFC 8594)."""
    begun = datetime.combine(since, time(), UTC)

    @wraps(answered)
    def ending(*args: Any, **kwargs: Any) -> Response:
        response = answered(*args, **kwargs)
        response.headers["Deprecation"] = f"@{int(begun.timestamp())}"
        response.headers["Sunset"] = format_datetime(begun + NOTICE, usegmt=True)
        return response

    return ending


def _with_location(
    operation: Operation, answered: Callable[..., Response]
) -> Callable[..., Response]:
    @wraps(answered)
    def located(*args: Any, **kwargs: Any) -> Response:
        response = answered(*args, **kwargs)
        body = json.loads(response.get_data())
        made = {name: quote(str(value), safe="") for name, value in body.items()}
        response.headers["Location"] = PREFIX + operation.location.format_map(made)
        return response

    return located
