"""The cookies of a console session."""

from __future__ import annotations

from flask import Response, g, request

from sealpacket.services import sign_in
from sealpacket.services.sign_in import From, SignedIn
from sealpacket.web.guard import COOKIE, current_app

DEVICE = "sealpacket_device"


def is_secure() -> bool:
    """Whether cookies are for https only."""
    return current_app().settings.address.startswith("https:")


def origin_of() -> From:
    """Where a sign-in comes from."""
    return From(request.remote_addr or "", request.cookies.get(DEVICE, "")[:300])


def with_session(response: Response, found: SignedIn) -> Response:
    """An answer with the cookies of a new session, and of the browser that it was begun in."""
    g.actor = found.actor
    response.set_cookie(
        COOKIE, found.cookie, httponly=True, samesite="Strict", secure=is_secure(), path="/"
    )
    response.set_cookie(
        DEVICE,
        found.device,
        httponly=True,
        samesite="Strict",
        secure=is_secure(),
        path="/api/v1/",
        max_age=sign_in.DEVICE_DAYS * 86_400,
    )
    return response
