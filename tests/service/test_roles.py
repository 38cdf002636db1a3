"""Every endpoint states the role that it needs, and keeps to it: all endpoints × all roles."""

from __future__ import annotations

import re
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
from flask_openapi3 import OpenAPI

from sealpacket.app.context import AppContext
from sealpacket.demo.house import RunningHouse
from sealpacket.settings import Settings
from sealpacket.web.app import make_app
from sealpacket.web.guard import ANY_ROLE, ANYONE, required_roles
from tests import plain_http
from tests.conftest import ROOT, reference_of

ROLES = ("keeper", "preparer", "releaser", "reader", "admin")
PASSWORD = "one-role-is-enough-here"


def application() -> OpenAPI:
    """The real application, of a house that nobody opens."""
    with tempfile.TemporaryDirectory() as folder:
        key = Path(folder, "key")
        key.write_text("A" * 43 + "=")
        settings = Settings(
            database_url="postgresql+psycopg://x@127.0.0.1:1/x", key_file=key, seal_key_file=key, blobs=folder,
            console=ROOT / "console/dist",
        )  # fmt: skip
        return make_app(AppContext(settings, lambda *_args, **_more: None))


def endpoints() -> list[tuple[str, str, tuple[str, ...]]]:
    """(method, path, roles) of every endpoint of the real application, as Flask knows them."""
    app = application()
    found = []
    for rule in app.url_map.iter_rules():
        for method in sorted((rule.methods or set()) - {"HEAD", "OPTIONS"}):
            found.append((method, rule.rule, required_roles(app.view_functions[rule.endpoint])))
    return sorted(found)


ENDPOINTS = endpoints()


def test_every_endpoint_states_its_roles() -> None:
    for method, path, roles in ENDPOINTS:
        assert roles, (method, path)
        assert set(roles) <= {*ROLES, ANY_ROLE, ANYONE}, (method, path, roles)


def test_the_reference_says_the_roles_too(house: RunningHouse) -> None:
    document = reference_of(house)
    stated = {
        (method, re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", path)): roles
        for method, path, roles in ENDPOINTS
    }
    for path, operations in document["paths"].items():
        for method, operation in operations.items():
            assert (method.upper(), path) in stated
            assert tuple(operation["x-needs"]) == stated[(method.upper(), path)]
            assert operation["security"] == (
                [] if operation["x-needs"] == [ANYONE] else [{"token": []}]
            )


def test_only_the_front_door_is_open_to_anyone() -> None:
    assert {(method, path) for method, path, roles in ENDPOINTS if roles == (ANYONE,)} == {
        ("GET", "/"),
        ("GET", "/<page:path>"),
        ("GET", "/calendar/<token>.ics"),
        ("GET", "/feed/<token>.atom"),
        ("POST", "/hooks/<key>"),
        ("GET", "/healthz"),
        ("GET", "/readyz"),
        ("GET", "/version"),
        ("GET", "/metrics"),
        ("GET", "/sign-in/provider"),
        ("GET", "/sign-in/provider/back"),
        ("POST", "/sign-in/provider/left"),
        ("GET", "/api/v1/health"),
        ("GET", "/api/v1/sign-in"),
        ("POST", "/api/v1/sign-in"),
        ("POST", "/api/v1/sign-in/passkey"),
        ("POST", "/api/v1/sign-in/passkey/begin"),
        ("POST", "/api/v1/tokens"),
    }


@pytest.fixture(scope="module")
def tokens(house: RunningHouse) -> Iterator[dict[str, str]]:
    """One token for an account with each single role."""
    rows = [{"name": f"only-{role}", "password": PASSWORD, "roles": [role]} for role in ROLES]
    import json

    house._service("accounts", stdin=json.dumps(rows))
    yield {role: _token(house, f"only-{role}") for role in ROLES}


def _token(house: RunningHouse, name: str) -> str:
    body = {"name": name, "password": PASSWORD, "purpose": "roles"}
    answer = plain_http.post(f"{house.address}/api/v1/tokens", json=body)
    return str(answer.json()["token"])


def knock(house: RunningHouse, method: str, path: str, token: str | None) -> httpx.Response:
    """Call an endpoint with nothing in particular."""
    concrete = re.sub(r"<(?:\w+:)?number>", "P-9999", path)
    concrete = re.sub(r"<[^>]*>", "nothing-there", concrete)
    headers: dict[str, str] = {"Authorization": f"Bearer {token}"} if token else {}
    arguments: dict[str, Any] = {} if method in ("GET", "DELETE") else {"json": {}}
    with (
        plain_http.client() as client,
        client.stream(method, house.address + concrete, headers=headers, **arguments) as answer,
    ):
        if not answer.headers["content-type"].startswith("text/event-stream"):  # which has no end
            answer.read()
        return answer


@pytest.mark.parametrize(
    ("method", "path", "roles"), [e for e in ENDPOINTS if e[2] != (ANYONE,)], ids=str
)
def test_roles(
    house: RunningHouse, tokens: dict[str, str], method: str, path: str, roles: tuple[str, ...]
) -> None:
    if path.endswith("/sign-out"):
        pytest.skip("would end the tokens of the other cases; tried in test_accounts")
    assert knock(house, method, path, None).status_code == 401
    assert knock(house, method, path, "spk_nonsense").json()["code"] == "not-signed-in"
    for role in ROLES:
        answer = knock(house, method, path, tokens[role])
        allowed = roles == (ANY_ROLE,) or role in roles
        if allowed:
            assert answer.status_code not in (401, 403), (role, answer.text)
        else:
            assert (answer.status_code, answer.json()["code"]) == (403, "not-allowed"), (
                role,
                answer.text,
            )
            assert answer.json()["remedy"]
