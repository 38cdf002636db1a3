"""An OpenID provider (OpenID Connect Core 1.0): the authorization code flow with PKCE, and leaving from both sides.

What a provider says is believed only if a key of its own has signed it, for us, at this time and for this request.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from secrets import token_urlsafe
from typing import Any

import httpx
from authlib.common.errors import AuthlibBaseError
from authlib.common.urls import add_params_to_uri
from authlib.oauth2.rfc7636 import create_s256_code_challenge
from authlib.oidc.core import CodeIDToken
from authlib.oidc.discovery import get_well_known_url
from joserfc import jws, jwt
from joserfc.errors import JoseError
from joserfc.jwk import KeySet

from sealpacket.channels.wire import Wire, open_wire
from sealpacket.core.errors import NotSignedIn, Unavailable

SECONDS = 5.0
"""For which the provider may be silent; a call ends after three times as many."""
KEPT = 600.0
"""Seconds for which its metadata and keys are kept. Keys that are not known are asked for at once."""
ASKED_AGAIN = 15.0
"""Seconds between two questions for unknown keys."""
LEEWAY = 60
"""Seconds by which its clock may differ from ours."""
ALGORITHMS = ["RS256", "PS256", "ES256", "ES384", "EdDSA", "Ed25519"]
LEFT_EVENT = "http://schemas.openid.net/event/backchannel-logout"


@dataclass(frozen=True)
class Begun:
    """A sign-in on its way: where the browser goes, and what has to come back with it."""

    address: str
    state: str
    nonce: str
    verifier: str


@dataclass(frozen=True)
class Left:
    """A provider's word that somebody has left: one of their sessions, or all of them. It counts once."""

    ident: str
    subject: str
    session: str


@dataclass
class Provider:
    """One provider, by its issuer. May be used by several threads."""

    issuer: str
    client_id: str
    secret: str
    scopes: str
    _known: dict[str, tuple[Any, float]] = field(default_factory=dict)
    """Its answers by what was asked, each with when it came."""
    _asked_again: float = field(default_factory=lambda: time.monotonic() - ASKED_AGAIN)

    def begin(self, back: str) -> Begun:
        """Begin a sign-in that comes back to the address `back`. Raises Unavailable if the provider is away."""
        state, nonce, verifier = token_urlsafe(24), token_urlsafe(24), token_urlsafe(48)
        asked = {
            "response_type": "code",
            "client_id": self.client_id,
            "redirect_uri": back,
            "scope": self.scopes,
            "state": state,
            "nonce": nonce,
            "code_challenge": create_s256_code_challenge(verifier),
            "code_challenge_method": "S256",
        }
        address = add_params_to_uri(self._endpoint("authorization_endpoint"), asked.items())
        return Begun(address, state, nonce, verifier)

    def finish(self, code: str, back: str, nonce: str, verifier: str) -> dict[str, Any]:
        """The claims about who has signed in. Raises NotSignedIn for what cannot be believed, Unavailable."""
        answer = self._ask(
            "POST",
            self._endpoint("token_endpoint"),
            data={
                "grant_type": "authorization_code",
                "code": code,
                "redirect_uri": back,
                "client_id": self.client_id,
                "code_verifier": verifier,
                **({"client_secret": self.secret} if self._signs_in_by_body else {}),
            },
        )
        if not isinstance(answer.get("id_token"), str):
            raise _unbelieved("it sent no ID token")
        claims = self._read(
            answer["id_token"], nonce=nonce, access_token=answer.get("access_token")
        )
        if claims.get("nonce") != nonce or not claims["sub"]:
            raise _unbelieved("it is not about this sign-in")
        return claims

    def left(self, token: str) -> Left:
        """Read a logout token (OpenID Connect Back-Channel Logout 1.0). Raises NotSignedIn for what is none."""
        claims = self._read(token)
        events, ident = claims.get("events"), claims.get("jti")
        about = claims.get("sub") or claims.get("sid")
        if "nonce" in claims or not isinstance(events, dict) or LEFT_EVENT not in events:
            raise _unbelieved("it is no logout token")
        if not isinstance(ident, str) or not ident or not isinstance(about, str):
            raise _unbelieved("it is incomplete")
        return Left(ident, str(claims.get("sub") or ""), str(claims.get("sid") or ""))

    def leave(self, back: str) -> str:
        """Where a browser goes to leave the provider too; empty if it has no such place, or is away."""
        try:
            place = self._endpoint("end_session_endpoint")
        except (Unavailable, NotSignedIn):
            return ""
        asked = {"client_id": self.client_id, "post_logout_redirect_uri": back}
        address: str = add_params_to_uri(place, asked.items())
        return address

    def _read(self, token: str, **expected: Any) -> dict[str, Any]:
        """The claims of a token that is signed for us now. `sub` may be missing in a logout token only."""
        try:
            read = self._verified(token)
            if "nonce" not in expected and "sub" not in read.claims:
                read.claims["sub"] = ""
            options = {
                "iss": {"essential": True, "value": self.issuer},
                "aud": {"essential": True, "value": self.client_id},
            }
            params = {"client_id": self.client_id, **expected}
            claims = CodeIDToken(read.claims, read.header, options, params)
            if not all(isinstance(claims.get(name), int | float) for name in ("exp", "iat")):
                raise _unbelieved("its times are missing")
            now = time.time()
            if claims["iat"] > now + LEEWAY or claims["exp"] < now - LEEWAY:
                raise _unbelieved("its times are not now; compare its clock with ours")
            claims.validate(now=int(now), leeway=LEEWAY)
        except (JoseError, AuthlibBaseError, ValueError, TypeError, KeyError) as error:
            raise _unbelieved(type(error).__name__) from error
        return dict(claims)

    def _verified(self, token: str) -> jwt.Token:
        named = jws.extract_compact(token.encode()).protected.get("kid")
        is_known = not named or named in {key.kid for key in self._keys().keys}
        if not is_known and time.monotonic() - self._asked_again > ASKED_AGAIN:
            # Its keys have changed since they were asked for, or somebody tries what we do.
            self._asked_again = time.monotonic()
            self._known.pop("keys", None)
        return jwt.decode(token, self._keys(), algorithms=ALGORITHMS)

    def _keys(self) -> KeySet:
        def read() -> KeySet:
            return KeySet.import_key_set(self._ask("GET", self._endpoint("jwks_uri")))  # type: ignore[arg-type]

        try:
            found: KeySet = self._kept("keys", read)
        except (JoseError, ValueError, KeyError) as error:
            raise _unbelieved("its keys cannot be read") from error
        return found

    def _metadata(self) -> dict[str, Any]:
        def read() -> dict[str, Any]:
            found = self._ask("GET", get_well_known_url(self.issuer, external=True))
            if found.get("issuer") != self.issuer:
                raise _unbelieved("its issuer is another")
            return found

        metadata: dict[str, Any] = self._kept("metadata", read)
        return metadata

    def _endpoint(self, name: str) -> str:
        address = self._metadata().get(name)
        if not isinstance(address, str) or not _is_safe(address):
            raise _unbelieved(f"its {name} is missing or not https")
        return address

    @property
    def _signs_in_by_body(self) -> bool:
        return bool(self.secret) and not self._signs_in_by_header

    @cached_property
    def _signs_in_by_header(self) -> bool:
        ways = self._metadata().get("token_endpoint_auth_methods_supported")
        return bool(self.secret) and (not ways or "client_secret_basic" in ways)

    def _kept(self, name: str, read: Callable[[], Any]) -> Any:
        if (known := self._known.get(name)) and time.monotonic() - known[1] < KEPT:
            return known[0]
        value = read()
        self._known[name] = value, time.monotonic()
        return value

    def _ask(self, method: str, address: str, **arguments: Any) -> dict[str, Any]:
        """One answer of the provider, an object. Raises Unavailable, or NotSignedIn for a refusal."""
        basic = (
            (self.client_id, self.secret) if method == "POST" and self._signs_in_by_header else None
        )
        wire: Wire = open_wire(address, SECONDS, basic=basic)
        try:
            answer = wire.request(method, address, **arguments)
            body = answer.json()
        except (httpx.HTTPError, httpx.InvalidURL, ValueError) as error:
            raise _away("cannot be reached") from error
        finally:
            wire.close()
        if answer.status_code in (400, 401, 403):
            raise _unbelieved(f"it answered {answer.status_code}")
        if answer.status_code != 200 or not isinstance(body, dict):
            raise _away(f"answered {answer.status_code}")
        return body


def _is_safe(address: str) -> bool:
    return address.startswith(("https://", "http://127.0.0.1:", "http://localhost:"))


def _away(why: str) -> Unavailable:
    return Unavailable(
        f"The provider of the sign-in {why}.",
        "Try again in a minute; a local administrator can sign in with a password meanwhile.",
        code="provider-away",
    )


def _unbelieved(why: str) -> NotSignedIn:
    """The reason is for whoever runs the service: it names what was wrong, and no value."""
    return NotSignedIn(
        f"What the provider of the sign-in says cannot be believed ({why}).",
        "Try once more. If it stays so, ask whoever runs the service.",
        code="provider-unbelieved",
    )
