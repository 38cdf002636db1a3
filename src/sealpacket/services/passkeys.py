"""Passkeys of local accounts (WebAuthn): added in a session, and signed in with instead of a password.

A passkey proves that its holder was there and unlocked it (user verification), so it is enough by itself. Challenges
are not stored: each says itself, under a tag of ours, when and for what it was made, and counts once.
"""

from __future__ import annotations

import hmac
import json
import secrets
import struct
import time
from datetime import UTC, datetime, timedelta
from ipaddress import ip_address
from typing import Any
from urllib.parse import urlsplit

import webauthn
from pydantic import BaseModel
from sqlalchemy import select
from webauthn.helpers import base64url_to_bytes, bytes_to_base64url
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from sealpacket.app.context import Actor, AppContext
from sealpacket.app.key_file import derived
from sealpacket.core.errors import Conflict, Invalid, NotFound, NotSignedIn
from sealpacket.services.sign_in import From, SignedIn, begin_session, once, tried_by
from sealpacket.store.models import Account, Passkey

CHALLENGE_SECONDS = 300
MOST = 10
"""Passkeys of one account."""
_TAG, _RANDOM = 16, 16
_FAULTS = (WebAuthnException, ValueError, KeyError, TypeError, RecursionError)


class PasskeyShown(BaseModel):
    """A passkey of one's own: the name that was given to it, and when it was used last."""

    id: str
    name: str
    created_at: datetime
    seen_at: datetime | None


def possible(app: AppContext) -> bool:
    """Whether browsers offer passkeys at our address: they need a name, and https for all but localhost."""
    url = urlsplit(app.settings.address)
    host = url.hostname or ""
    try:
        ip_address(host)
    except ValueError:
        return url.scheme == "https" or host == "localhost"
    return False


def begin_passkey(app: AppContext, actor: Actor) -> dict[str, Any]:
    """Options for a browser that makes a passkey. Raises Conflict for tokens and accounts without a password."""
    account = _local(app, actor)
    options = webauthn.generate_registration_options(
        rp_id=_host(app),
        rp_name="Seal Packet",
        user_name=account.name,
        user_id=account.id.encode(),
        challenge=_challenge(app, f"add {account.id}"),
        authenticator_selection=AuthenticatorSelectionCriteria(
            resident_key=ResidentKeyRequirement.REQUIRED,
            user_verification=UserVerificationRequirement.REQUIRED,
        ),
        exclude_credentials=[
            PublicKeyCredentialDescriptor(id=base64url_to_bytes(one)) for one in _known(app, actor)
        ],
    )
    found: dict[str, Any] = json.loads(webauthn.options_to_json(options))
    return found


def add_passkey(
    app: AppContext, actor: Actor, name: str, credential: dict[str, Any]
) -> PasskeyShown:
    """Keep a passkey that a browser has made. Raises Invalid for one that proves nothing, Conflict for too many."""
    account = _local(app, actor)
    try:
        made = webauthn.verify_registration_response(
            credential=credential,
            expected_challenge=_redeemed(app, credential, f"add {account.id}"),
            expected_rp_id=_host(app),
            expected_origin=_origin(app),
            require_user_verification=True,
        )
    except _FAULTS as error:
        raise Invalid(
            "The passkey cannot be taken as it is.", "Begin again.", code="no-passkey"
        ) from error
    with app.transaction(actor, "passkey added", f"account {actor.name}", name=name) as tx:
        tx.session.get_one(Account, account.id, with_for_update=True)
        query = select(Passkey).where(Passkey.account_id == account.id)
        if len(tx.session.scalars(query).all()) >= MOST:
            raise Conflict(f"An account has {MOST} passkeys at most.", "Remove one first.")
        one = Passkey(
            account_id=account.id,
            name=name,
            credential=bytes_to_base64url(made.credential_id),
            public_key=made.credential_public_key,
            uses=made.sign_count,
        )
        tx.session.add(one)
        tx.session.flush()
        return _shown(one)


def passkeys(app: AppContext, actor: Actor) -> list[PasskeyShown]:
    """One's own passkeys, the newest first."""
    query = select(Passkey).where(Passkey.account_id == actor.account_id)
    with app.database.transaction() as session:
        return [_shown(one) for one in session.scalars(query.order_by(Passkey.created_at.desc()))]


def remove_passkey(app: AppContext, actor: Actor, ident: str) -> None:
    """Remove a passkey of one's own; it signs in no more. Raises NotFound."""
    with app.transaction(actor, "passkey removed", f"account {actor.name}") as tx:
        one = tx.session.get(Passkey, ident)
        if one is None or one.account_id != actor.account_id:
            raise NotFound("You have no such passkey.", "List them, then name one.")
        tx.detail["name"] = one.name
        tx.session.delete(one)


def begin_sign_in(app: AppContext) -> dict[str, Any]:
    """Options for a browser that signs in with a passkey; they name no account."""
    options = webauthn.generate_authentication_options(
        rp_id=_host(app),
        challenge=_challenge(app, "sign in"),
        user_verification=UserVerificationRequirement.REQUIRED,
    )
    found: dict[str, Any] = json.loads(webauthn.options_to_json(options))
    return found


def sign_in_by_passkey(app: AppContext, credential: dict[str, Any], origin: From) -> SignedIn:
    """Start a console session of whoever holds a passkey. Raises NotSignedIn for what proves nothing."""
    with tried_by(app, "passkey", origin):
        return begin_session(app, _holder(app, credential), "passkey")


def _holder(app: AppContext, credential: dict[str, Any]) -> Account:
    query = select(Passkey).where(Passkey.credential == str(credential.get("id")))
    with app.database.transaction() as session:
        one = session.scalars(query.with_for_update()).one_or_none()
        try:
            challenge = _redeemed(app, credential, "sign in")
            if one is None:
                raise KeyError("credential")
            proved = webauthn.verify_authentication_response(
                credential=credential,
                expected_challenge=challenge,
                expected_rp_id=_host(app),
                expected_origin=_origin(app),
                credential_public_key=one.public_key,
                credential_current_sign_count=one.uses,
                require_user_verification=True,
            )
        except _FAULTS as error:
            raise _unproved() from error
        if not one.account.active:
            raise _unproved()
        one.uses, one.seen_at = proved.new_sign_count, datetime.now(UTC)
        return one.account


def _unproved() -> NotSignedIn:
    return NotSignedIn(
        "This passkey opens nothing here.",
        "Sign in with name and password; then look at your passkeys.",
        code="wrong-passkey",
    )


def _local(app: AppContext, actor: Actor) -> Account:
    """The account of somebody who may add a passkey."""
    with app.database.transaction() as session:
        account = session.get_one(Account, actor.account_id)
    if actor.by_token or account.password_hash is None:
        raise Conflict(
            "Passkeys are added in a session of the console, to accounts with a password.",
            "Sign in to the console. People of a provider sign in there.",
            code="needs-a-session",
        )
    return account


def _known(app: AppContext, actor: Actor) -> list[str]:
    query = select(Passkey.credential).where(Passkey.account_id == actor.account_id)
    with app.database.transaction() as session:
        return [*session.scalars(query)]


def _challenge(app: AppContext, purpose: str) -> bytes:
    body = struct.pack(">Q", int(time.time())) + secrets.token_bytes(_RANDOM)
    return body + _tag(app.ring.current, purpose, body)


def _redeemed(app: AppContext, credential: dict[str, Any], purpose: str) -> bytes:
    """The challenge that a browser has answered, if it is ours, for this, young, and was not answered before.

    Raises ValueError, KeyError or TypeError otherwise.
    """
    said = json.loads(base64url_to_bytes(credential["response"]["clientDataJSON"]))
    challenge = base64url_to_bytes(said["challenge"])
    body, tag = challenge[:-_TAG], challenge[-_TAG:]
    ours = any(hmac.compare_digest(tag, _tag(key, purpose, body)) for key in app.ring.keys)
    if not ours or time.time() - struct.unpack(">Q", body[:8])[0] > CHALLENGE_SECONDS:
        raise ValueError("the challenge is not ours, or too old")
    kept = timedelta(seconds=2 * CHALLENGE_SECONDS)
    once(app, f"challenge {challenge.hex()}", kept, ValueError("the challenge was answered before"))
    return challenge


def _tag(master: bytes, purpose: str, body: bytes) -> bytes:
    return hmac.new(
        derived(master, "passkeys"), purpose.encode() + b"\0" + body, "sha256"
    ).digest()[:_TAG]


def _host(app: AppContext) -> str:
    return urlsplit(app.settings.address).hostname or ""


def _origin(app: AppContext) -> str:
    url = urlsplit(app.settings.address)
    return f"{url.scheme}://{url.netloc}"


def _shown(one: Passkey) -> PasskeyShown:
    return PasskeyShown(id=one.id, name=one.name, created_at=one.created_at, seen_at=one.seen_at)
