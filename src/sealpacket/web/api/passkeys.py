"""Passkeys: one's own, and signing in with one."""

from __future__ import annotations

from typing import Any

from flask import Response, g, jsonify
from pydantic import BaseModel, Field

from sealpacket.services import passkeys
from sealpacket.services.passkeys import PasskeyShown
from sealpacket.web.api.accounts import Me, me_of
from sealpacket.web.api.common import Done, OneLine, Strict
from sealpacket.web.guard import ANY_ROLE, ANYONE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api
from sealpacket.web.sessions import origin_of, with_session

api = Api("passkeys", "Signing in without a password (WebAuthn).")


class PasskeyOptions(BaseModel):
    """Options for a browser, as `navigator.credentials` takes them in JSON."""

    options: dict[str, Any] = Field(description="Options of WebAuthn, in its JSON form.")


class Credential(Strict):
    """The credential that a browser has made or used, in WebAuthn's JSON form."""

    credential: dict[str, Any] = Field(description="The credential, in WebAuthn's JSON form.")


class NewPasskey(Credential):
    """A passkey to add, and a name to know it by."""

    name: OneLine = Field(min_length=1, max_length=100)


class Passkeys(BaseModel):
    """One's own passkeys, the newest first."""

    items: list[PasskeyShown]


class PasskeyPath(BaseModel):
    """A passkey by its id."""

    ident: str = Field(max_length=40)


@api.get(
    "/me/passkeys",
    summary="List your own passkeys",
    responses={200: Passkeys},
    does=passkeys.passkeys,
)
@requires_role(ANY_ROLE)
def list_passkeys() -> dict[str, Any]:
    return {"items": passkeys.passkeys(current_app(), actor())}


@api.post(
    "/me/passkeys/begin",
    summary="Begin to add a passkey",
    responses={200: PasskeyOptions},
    does=passkeys.begin_passkey,
    needs="keep",
    problems=(409,),
)
@requires_role(ANY_ROLE)
def begin_passkey() -> PasskeyOptions:
    return PasskeyOptions(options=passkeys.begin_passkey(current_app(), actor()))


@api.post(
    "/me/passkeys",
    summary="Add the passkey that the browser has made",
    responses={201: PasskeyShown},
    does=passkeys.add_passkey,
    needs="keep",
)
@requires_role(ANY_ROLE)
@idempotent
def add_passkey(body: NewPasskey) -> PasskeyShown:
    return passkeys.add_passkey(current_app(), actor(), body.name, body.credential)


@api.delete(
    "/me/passkeys/<ident>",
    summary="Remove a passkey",
    responses={200: Done},
    does=passkeys.remove_passkey,
    needs="keep",
)
@requires_role(ANY_ROLE)
def remove_passkey(path: PasskeyPath) -> dict[str, Any]:
    passkeys.remove_passkey(current_app(), actor(), path.ident)
    return {"done": True}


@api.post(
    "/sign-in/passkey/begin",
    summary="Begin to sign in with a passkey",
    responses={200: PasskeyOptions},
    does=passkeys.begin_sign_in,
)
@requires_role(ANYONE)
def begin_passkey_sign_in() -> PasskeyOptions:
    return PasskeyOptions(options=passkeys.begin_sign_in(current_app()))


@api.post(
    "/sign-in/passkey",
    summary="Start a console session with a passkey",
    responses={200: Me},
    does=passkeys.sign_in_by_passkey,
    problems=(401, 429),
)
@requires_role(ANYONE)
def start_session_by_passkey(body: Credential) -> Response:
    found = passkeys.sign_in_by_passkey(current_app(), body.credential, origin_of())
    g.actor = found.actor
    return with_session(jsonify(me_of(found.csrf)), found)
