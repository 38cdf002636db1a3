"""An OpenID provider, simulated: the authorization code flow with PKCE, and leaving from both sides.

Whoever stands at its door chooses a person from a list; there are no passwords. Run it with

    python -m sealpacket.standins.provider --port 8510 --client http://127.0.0.1:8400 --secret-file secret

Its `/control` is no part of the provider: with it a person, or a test, makes it lie, change its keys, have another
clock, or say that somebody has left.
"""

from __future__ import annotations

import argparse
import base64
import hashlib
import hmac
import html
import json
import threading
import time
from pathlib import Path
from secrets import token_urlsafe
from typing import Any
from urllib.parse import urlencode

import httpx
from flask import Flask, Response, abort, jsonify, redirect, request
from joserfc import jwt
from joserfc.jwk import KeySet, RSAKey
from werkzeug.serving import make_server

CLIENT = "seal-packet"
LEFT = "http://schemas.openid.net/event/backchannel-logout"
PEOPLE = {
    "sanna": {"name": "Sanna Weir", "email": "sanna.weir@quillmere.example", "groups": ["library-it"]},
    "odd": {"name": "Odd Fenwick", "email": "odd.fenwick@quillmere.example", "groups": ["library-it", "library-leads"]},
    "guest": {"name": "A guest", "email": "guest@quillmere.example", "groups": []},
}  # fmt: skip


class StandInProvider:
    """Keys, codes that were given out, sessions, and its mood."""

    def __init__(self, issuer: str, client: str, secret: str) -> None:
        self.issuer, self.client, self.secret = issuer, client.rstrip("/"), secret
        self.lock = threading.Lock()
        self.keys = [_key()]
        self.codes: dict[str, dict[str, Any]] = {}
        self.sessions: dict[str, str] = {}
        self.mood: dict[str, Any] = {"down": False, "clock": 0, "claims": {}, "unsigned": False}

    def signed(self, claims: dict[str, Any]) -> str:
        """A token of ours, with what its mood adds to the claims."""
        now = int(time.time()) + int(self.mood["clock"])
        whole = {"iss": self.issuer, "aud": CLIENT, "iat": now, "exp": now + 300, **claims}
        whole |= self.mood["claims"]
        if self.mood["unsigned"]:
            head = _octets(json.dumps({"alg": "none"}).encode())
            return f"{head}.{_octets(json.dumps(whole).encode())}."
        key = self.keys[-1]
        return jwt.encode({"alg": "RS256", "kid": key.kid}, whole, key)


def make_provider(provider: StandInProvider) -> Flask:
    """The provider as an application."""
    app = Flask("provider")

    @app.before_request
    def _down() -> None:
        if provider.mood["down"] and request.path != "/control":
            abort(503)

    @app.get("/.well-known/openid-configuration")
    def metadata() -> Response:
        at = provider.issuer
        return jsonify(
            {
                "issuer": at,
                "authorization_endpoint": f"{at}/authorize",
                "token_endpoint": f"{at}/token",
                "jwks_uri": f"{at}/keys",
                "end_session_endpoint": f"{at}/leave",
                "response_types_supported": ["code"],
                "subject_types_supported": ["public"],
                "id_token_signing_alg_values_supported": ["RS256"],
                "code_challenge_methods_supported": ["S256"],
                "token_endpoint_auth_methods_supported": ["client_secret_basic"],
                "backchannel_logout_supported": True,
                "backchannel_logout_session_supported": True,
            }
        )

    @app.get("/keys")
    def keys() -> Response:
        return jsonify(KeySet([*provider.keys[-1:]]).as_dict(private=False))

    _add_coming(app, provider)
    _add_leaving(app, provider)
    return app


def _add_coming(app: Flask, provider: StandInProvider) -> None:
    @app.get("/authorize")
    def authorize() -> Response:
        wanted = {"response_type": "code", "client_id": CLIENT, "code_challenge_method": "S256"}
        given = request.args
        if any(given.get(name) != value for name, value in wanted.items()):
            abort(400)
        if not given.get("redirect_uri", "").startswith(f"{provider.client}/"):
            abort(400)
        if "as" not in given:
            return _door(given.to_dict())
        who = given["as"]
        if who not in PEOPLE:
            return _back(given["redirect_uri"], error="access_denied", state=given["state"])
        code, session = token_urlsafe(24), token_urlsafe(12)
        with provider.lock:
            provider.sessions[session] = who
            provider.codes[code] = {
                "who": who,
                "sid": session,
                "nonce": given.get("nonce"),
                "challenge": given["code_challenge"],
                "back": given["redirect_uri"],
            }
        return _back(given["redirect_uri"], code=code, state=given["state"], iss=provider.issuer)

    @app.post("/token")
    def token() -> tuple[Response, int] | Response:
        given, basic = request.form, request.authorization
        if basic is None or (basic.username, basic.password) != (CLIENT, provider.secret):
            return jsonify({"error": "invalid_client"}), 401
        with provider.lock:
            code = provider.codes.pop(given.get("code", ""), None)
        verifier = _octets(hashlib.sha256(given.get("code_verifier", "").encode()).digest())
        if (
            code is None
            or code["back"] != given.get("redirect_uri")
            or not hmac.compare_digest(code["challenge"], verifier)
        ):
            return jsonify({"error": "invalid_grant"}), 400
        person = PEOPLE[code["who"]]
        claims = {
            "sub": f"quillmere|{code['who']}",
            "sid": code["sid"],
            "nonce": code["nonce"],
            "preferred_username": str(person["email"]).split("@")[0],
            "email_verified": True,
            **person,
        }
        return jsonify(
            {
                "access_token": token_urlsafe(24),
                "token_type": "Bearer",
                "expires_in": 300,
                "id_token": provider.signed(claims),
            }
        )


def _add_leaving(app: Flask, provider: StandInProvider) -> None:
    @app.get("/leave")
    def leave() -> Response:
        return _page(
            "<p>You have left.</p>"
            f'<p><a href="{html.escape(request.args.get("post_logout_redirect_uri", "/"))}">Back</a></p>'
        )

    @app.post("/control")
    def steer() -> Response:
        wish = request.get_json()
        with provider.lock:
            provider.mood.update({k: v for k, v in wish.items() if k in provider.mood})
            if wish.get("new_key"):
                provider.keys.append(_key())
        answered: dict[str, Any] = {}
        if who := wish.get("left"):
            about = {"events": {LEFT: {}}, "jti": token_urlsafe(12), "sub": f"quillmere|{who}"}
            said = {"logout_token": provider.signed({**about, **wish.get("said", {})})}
            answer = httpx.post(f"{provider.client}/sign-in/provider/left", data=said, timeout=20)
            answered = {"status": answer.status_code, "token": said["logout_token"]}
        return jsonify({**provider.mood, **answered})


def _door(given: dict[str, str]) -> Response:
    """A list of people to come in as."""
    links = ""
    for name, one in PEOPLE.items():
        there = html.escape(urlencode({**given, "as": name}))
        links += f'<li><a href="/authorize?{there}">{html.escape(str(one["name"]))}</a></li>'
    return _page(f"<h1>Quillmere sign-in</h1><p>Come in as</p><ul>{links}</ul>")


def _page(body: str) -> Response:
    style = "body{font:18px/1.6 Georgia,serif;max-width:32rem;margin:4rem auto;color:#22201c;background:#f7f4ec}"
    return Response(
        '<!doctype html><html lang="en"><meta charset="utf-8"><title>Quillmere sign-in</title>'
        f"<style>{style}</style>{body}",
        mimetype="text/html",
    )


def _back(address: str, **given: str) -> Response:
    response: Response = redirect(f"{address}?{urlencode(given)}", 302)  # type: ignore[assignment]
    return response


def _key() -> RSAKey:
    return RSAKey.generate_key(2048, {"kid": token_urlsafe(6), "use": "sig", "alg": "RS256"})


def _octets(value: bytes) -> str:
    return base64.urlsafe_b64encode(value).rstrip(b"=").decode()


def main() -> None:
    """Serve the provider on loopback until the process is ended."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--client", required=True)
    parser.add_argument("--secret-file", type=Path, required=True)
    given = parser.parse_args()
    issuer = f"http://127.0.0.1:{given.port}"
    provider = StandInProvider(issuer, given.client, given.secret_file.read_text().strip())
    make_server("127.0.0.1", given.port, make_provider(provider), threaded=True).serve_forever()


if __name__ == "__main__":
    main()
