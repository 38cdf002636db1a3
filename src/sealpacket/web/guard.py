"""Who may do what: every endpoint states the role that it needs, and is refused before its body is even read."""

from __future__ import annotations

import hmac
from collections.abc import Callable
from dataclasses import replace
from typing import Any, TypeVar

import flask
from flask import Flask, g, request

from sealpacket.app.context import RIGHTS, Actor, AppContext, ReadVersion, Right
from sealpacket.core.errors import NotAllowed, NotSignedIn
from sealpacket.services import sign_in
from sealpacket.web.preconditions import seen_version

COOKIE = "sealpacket_session"
CSRF_HEADER = "X-CSRF-Token"
ANYONE = "anyone"
ANY_ROLE = "any role"
LARGEST_OF_ANYONE = 64_000
"""Bytes of a body that may come from anyone."""
_SAFE = ("GET", "HEAD", "OPTIONS")

F = TypeVar("F", bound=Callable[..., Any])


def requires_role(*roles: str) -> Callable[[F], F]:
    """State who may call an endpoint: one of these roles, ANY_ROLE for all who are signed in, or ANYONE."""

    def mark(function: F) -> F:
        function.requires_role = roles  # type: ignore[attr-defined]
        return function

    return mark


def current_app() -> AppContext:
    """The context of the copy that serves this request."""
    context: AppContext = flask.current_app.config["APP_CONTEXT"]
    return context


def actor() -> Actor:
    """Who is calling, with the version that they have read."""
    who: Actor = g.actor
    if "seen" not in g:
        version = seen_version()
        g.seen = None if version is None else ReadVersion(version)
    return replace(who, seen=g.seen)


def add_guard(app: Flask) -> None:
    """Check sign-in, CSRF token and role before every request to the API."""

    @app.before_request
    def _check() -> None:
        view = app.view_functions.get(request.endpoint or "")
        roles = required_roles(view)
        if view is None or roles == (ANYONE,) or request.method == "OPTIONS":
            request.max_content_length = LARGEST_OF_ANYONE
            return
        g.actor = _who()
        needed = needed_right(view)
        if needed not in g.actor.rights:
            raise NotAllowed(
                f"This token may {_and(g.actor.rights)}; this needs the right to {needed}.",
                "Use another token, or make one that may.",
                code="token-rights",
            )
        if roles != (ANY_ROLE,) and not g.actor.roles & set(roles):
            raise NotAllowed(
                f"This needs the role {' or '.join(roles)}; you have {', '.join(sorted(g.actor.roles)) or 'none'}.",
                "Ask a colleague who has it, or have the role added to your account.",
            )


def required_roles(view: Any) -> tuple[str, ...]:
    """The roles stated for a view. One that states none is nobody's."""
    if view is None:
        return (ANYONE,)
    stated: tuple[str, ...] | None = getattr(view, "requires_role", None)
    while stated is None and hasattr(view, "__wrapped__"):
        view = view.__wrapped__
        stated = getattr(view, "requires_role", None)
    return stated if stated is not None else ("nobody",)


def needed_right(view: Any) -> Right:
    """The right that a token needs for a view; reading for those that are no operation of the API."""
    found: Right = getattr(view, "right", "read")
    return found


def _and(rights: frozenset[Right]) -> str:
    return " and ".join(one for one in RIGHTS if one in rights) or "nothing"


def _same(given: str, known: str) -> bool:
    return hmac.compare_digest(given.encode(), known.encode())


def _who() -> Actor:
    header = request.headers.get("Authorization", "")
    if header[:7].lower() == "bearer ":
        found = sign_in.token_actor(current_app(), header[7:].strip())
        if found is None:
            raise NotSignedIn(
                "The token is unknown or has ended.", "Sign in again for another token."
            )
        return found
    session = sign_in.session_of(current_app(), request.cookies.get(COOKIE, ""))
    if session is None:
        raise NotSignedIn("Nobody is signed in here, or the session has ended.", "Sign in.")
    who, csrf = session
    if request.method not in _SAFE and not _same(request.headers.get(CSRF_HEADER, ""), csrf):
        raise NotAllowed(
            "The request lacks the session's CSRF token.", "Load the page again.", code="csrf"
        )
    g.csrf = csrf
    return who
