"""Signing in and out."""

from datetime import datetime
from typing import Any, Literal

from flask import Response, g, jsonify, request
from pydantic import BaseModel, Field, SecretStr

from sealpacket.services import accounts
from sealpacket.web.api.common import Done, Strict, part
from sealpacket.web.guard import ANY_ROLE, ANYONE, COOKIE, actor, needs, the_house

api = part("accounts", "Who you are here.")


class SignIn(Strict):
    """Name and password."""

    name: str = Field(max_length=100)
    password: SecretStr = Field(max_length=1000)


class TokenWish(SignIn):
    """Name and password, and what the token is for."""

    purpose: str = Field("command line", max_length=100)


class Me(BaseModel):
    """Who is signed in. `csrf` goes into X-CSRF-Token with every change, where a session is used."""

    name: str
    person: str
    roles: list[Literal["keeper", "preparer", "releaser", "reader"]]
    csrf: str | None


class Token(BaseModel):
    """A token; shown this once."""

    token: str
    expires_at: datetime
    name: str
    roles: list[str]


def _me(csrf: str | None) -> dict[str, Any]:
    who = actor()
    return {
        "name": who.name,
        "person": accounts.person_name(the_house(), who),
        "roles": sorted(who.roles),
        "csrf": csrf,
    }


@api.post("/sign-in", summary="Start a console session", responses={200: Me})
@needs(ANYONE)
def sign_in(body: SignIn) -> Response:
    found = accounts.sign_in(the_house(), body.name, body.password.get_secret_value())
    g.actor = found.actor
    response: Response = jsonify(_me(found.csrf))
    secure = the_house().settings.address.startswith("https:")
    response.set_cookie(COOKIE, found.cookie, httponly=True, samesite="Strict", secure=secure, path="/")
    return response


@api.post("/sign-out", summary="End the session or token that calls", responses={200: Done})
@needs(ANY_ROLE)
def sign_out() -> Response:
    header = request.headers.get("Authorization", "")
    if header[:7].lower() == "bearer ":
        accounts.revoke_token(the_house(), header[7:].strip())
    else:
        accounts.sign_out(the_house(), request.cookies.get(COOKIE, ""))
    response: Response = jsonify({"done": True})
    response.delete_cookie(COOKIE, path="/")
    return response


@api.post("/tokens", summary="Make a token for client or command line", responses={201: Token})
@needs(ANYONE)
def make_token(body: TokenWish) -> tuple[dict[str, Any], int]:
    return accounts.create_token(the_house(), body.name, body.password.get_secret_value(), body.purpose), 201


@api.get("/me", summary="Who is signed in", responses={200: Me})
@needs(ANY_ROLE)
def me() -> dict[str, Any]:
    return _me(getattr(g, "csrf", None))
