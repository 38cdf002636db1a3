"""The way to the OpenID provider and back, for browsers; and its word that somebody has left."""

from __future__ import annotations

from urllib.parse import urlencode

from flask import Flask, Response, redirect, request

from sealpacket.core.errors import ProblemError
from sealpacket.services import provided
from sealpacket.web.guard import ANYONE, current_app, requires_role
from sealpacket.web.problems import answer
from sealpacket.web.sessions import is_secure, origin_of, with_session

FLOW = "sealpacket_flow"
"""The cookie of a sign-in on its way. Lax: it comes back with the browser from another site."""
PLACE = "/sign-in/provider"


def add_provider(app: Flask) -> None:
    """Add the addresses to which browsers and the provider come."""

    @app.get(PLACE)
    @requires_role(ANYONE)
    def to_provider() -> Response:
        try:
            begun = provided.begin(current_app())
        except ProblemError as problem:
            return _to_console(problem.code)
        response: Response = redirect(begun.address, 302)  # type: ignore[assignment]
        response.set_cookie(
            FLOW,
            begun.cookie,
            httponly=True,
            samesite="Lax",
            secure=is_secure(),
            path=PLACE,
            max_age=provided.FLOW_SECONDS,
        )
        return response

    @app.get(provided.BACK)
    @requires_role(ANYONE)
    def from_provider() -> Response:
        try:
            found = provided.come_back(
                current_app(), request.cookies.get(FLOW, "")[:4000], request.args, origin_of()
            )
        except ProblemError as problem:
            return _to_console(problem.code)
        return with_session(_to_console(), found)

    @app.post(f"{PLACE}/left")
    @requires_role(ANYONE)
    def left() -> Response:
        try:
            provided.ended(current_app(), request.form.get("logout_token", ""))
        except ProblemError as problem:
            response = answer(problem)
            response.status_code = 400  # as OpenID Connect Back-Channel Logout 1.0 has it, 2.8
            return response
        return Response(status=200, headers={"Cache-Control": "no-store"})


def _to_console(code: str = "") -> Response:
    """Back to the console, which says what a code means."""
    response: Response = redirect("/?" + urlencode({"refused": code}) if code else "/", 303)  # type: ignore[assignment]
    response.delete_cookie(FLOW, path=PLACE)
    response.headers["Cache-Control"] = "no-store"
    return response
